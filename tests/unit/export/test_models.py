"""Model files: what is written reads back closed and right, by another library too, or is not written at all."""

from pathlib import Path

import manifold3d as m3
import numpy as np
import pytest
import trimesh

from pounce.base.errors import UserFault
from pounce.export.models import NotProven, proven, write_model
from pounce.solid.mesh import Mesh
from tests.conftest import box, mesh_of
from tests.shapes import SHAPES

M = m3.Manifold


@pytest.mark.parametrize("suffix", [".3mf", ".stl"])
@pytest.mark.parametrize("name", list(SHAPES))
def test_files_measure_what_was_meant(suffix: str, name: str, tmp_path: Path) -> None:
    mesh = mesh_of(SHAPES[name]())
    path = tmp_path / f"{name}{suffix}"
    written = write_model(path, name, mesh)
    assert written.closed and written.file == path.name and written.format == suffix[1:]
    assert written.size_mm == pytest.approx(mesh.size, abs=2e-4)
    assert written.volume_mm3 == pytest.approx(mesh.volume, rel=1e-5)
    with path.open("rb") as stream:
        other = trimesh.load(stream, file_type=suffix[1:], force="mesh")
    assert isinstance(other, trimesh.Trimesh)
    other.merge_vertices()
    assert other.is_watertight and other.volume == pytest.approx(mesh.volume, rel=1e-5)
    assert other.extents == pytest.approx(mesh.size, abs=2e-4)


@pytest.mark.parametrize("suffix", [".3mf", ".stl"])
def test_an_open_shell_is_not_written(suffix: str, tmp_path: Path) -> None:
    cube = mesh_of(box(10, 10, 10))
    with pytest.raises(UserFault, match=r"^Lid: "):
        write_model(tmp_path / f"lid{suffix}", "Lid", Mesh.of(cube.vertices, cube.faces[1:]))


def test_bodies_are_counted(tmp_path: Path) -> None:
    two = mesh_of(M.compose([box(10, 10, 10), box(10, 10, 10).translate([20, 0, 0])]))
    assert write_model(tmp_path / "a.3mf", "Two", two, 2).volume_mm3 == pytest.approx(2000.0)
    with pytest.raises(UserFault):
        write_model(tmp_path / "b.3mf", "One", two, 1)


def test_a_folder_that_is_not_there_is_one_sentence(tmp_path: Path) -> None:
    with pytest.raises(UserFault, match="could not be written"):
        write_model(tmp_path / "nowhere" / "a.3mf", "Cube", mesh_of(box(10, 10, 10)))


@pytest.mark.parametrize("wrong", ["size", "hole"])
def test_a_file_that_holds_something_else_is_not_proven(wrong: str, tmp_path: Path) -> None:
    cube = mesh_of(box(10, 10, 10))
    path = tmp_path / "a.stl"
    write_model(path, "Cube", cube)
    if wrong == "size":
        meant = cube.scaled(np.array([1.001, 1.0, 1.0]))
    else:
        data = bytearray(path.read_bytes())
        data[80:84] = (11).to_bytes(4, "little")
        path.write_bytes(bytes(data[:-50]))
        meant = cube
    with pytest.raises(NotProven, match="does not read back"):
        proven(path, meant)


def test_slivers_do_not_come_out_of_a_file(tmp_path: Path) -> None:
    """A solid with a face a millionth of a millimetre wide is written without it."""
    solid = box(10, 10, 10) + box(10, 10, 10).translate([1e-6, 0, 5])
    written = write_model(tmp_path / "a.3mf", "Sliver", mesh_of(solid))
    with (tmp_path / "a.3mf").open("rb") as stream:
        other = trimesh.load(stream, file_type="3mf", force="mesh")
    assert isinstance(other, trimesh.Trimesh)
    assert written.closed and (other.area_faces > 0.0).all()
