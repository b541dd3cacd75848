"""3MF as it is written, and files in which the library gave two things one number."""

import re
import zipfile
from pathlib import Path

import manifold3d
import pytest

from pounce.part.formats import read_3mf
from pounce.solid.threemf import write_3mf
from tests.conftest import mesh_of

CUBE = mesh_of(manifold3d.Manifold.cube([10, 8, 6]))


def numbers(path: Path) -> list[bytes]:
    with zipfile.ZipFile(path) as archive:
        return re.findall(rb'UUID="([^"]*)"', archive.read("3D/3dmodel.model"))


def test_each_thing_has_a_number_of_its_own_and_the_same_each_time(tmp_path: Path) -> None:
    for name in ("a.3mf", "b.3mf"):
        write_3mf(tmp_path / name, [(f"Body {k}", CUBE) for k in range(5)])
    found = numbers(tmp_path / "a.3mf")
    assert len(found) == len(set(found)) == 11
    assert found == numbers(tmp_path / "b.3mf")


def test_a_file_with_one_number_twice_is_read(tmp_path: Path) -> None:
    path, twice = tmp_path / "a.3mf", tmp_path / "twice.3mf"
    write_3mf(path, [("One", CUBE), ("Two", CUBE)])
    first = numbers(path)[0]
    with zipfile.ZipFile(path) as old, zipfile.ZipFile(twice, "w") as new:
        for name in old.namelist():
            content = old.read(name)
            new.writestr(name, re.sub(rb'UUID="[^"]*"', b'UUID="%s"' % first, content))
    assert len(set(numbers(twice))) == 1
    read = read_3mf(twice)
    assert [one.name for one in read.bodies] == ["One", "Two"]
    assert read.bodies[1].vertices.max(axis=0).tolist() == pytest.approx([10.0, 8.0, 6.0])
