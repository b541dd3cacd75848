"""What stands in a file, whatever it is called."""

import io
import zipfile
from pathlib import Path

import numpy as np
import pytest
import trimesh

from pounce.base.errors import UserFault
from pounce.part.formats import guard_archive, read_3mf, read_binary_stl, renumbered, sniff
from pounce.route.demo_jobs import DEMOS, part_file
from tests.conftest import box, mesh_of, write_stl
from tests.shapes import SHAPES
from tests.worked import ARM, STEMS


def head(data: bytes) -> str | None:
    return sniff(data[:4096], len(data))


@pytest.mark.parametrize("kind", ["stl", "obj", "ply", "off", "3mf"])
def test_each_format_is_told_by_what_another_library_wrote(kind: str) -> None:
    mesh = mesh_of(SHAPES["bush"]())
    data = trimesh.Trimesh(mesh.vertices, mesh.faces).export(file_type=kind)
    assert head(data.encode() if isinstance(data, str) else data) == kind


@pytest.mark.parametrize(
    ("data", "kind"),
    [
        (b"solid thing\n facet normal 0 0 1\n outer loop\n", "ascii-stl"),
        (b"\xef\xbb\xbf\n# made by hand\nv 0 0 0\n", "obj"),
        (b"ply\nformat ascii 1.0\n", "ply"),
        (b"OFF\n8 12 0\n", "off"),
        (b"ISO-10303-21;\nHEADER;\n", "step"),
        (b"hello there", None),
        (b"", None),
        (b"\x00" * 60, None),
    ],
)
def test_by_its_first_words(data: bytes, kind: str | None) -> None:
    assert head(data) == kind


def test_a_binary_stl_that_calls_itself_solid_is_one_all_the_same(tmp_path: Path) -> None:
    path = write_stl(tmp_path / "a.stl", mesh_of(box(10, 20, 30)))
    data = bytearray(path.read_bytes())
    data[:5] = b"solid"
    path.write_bytes(bytes(data))
    assert head(bytes(data)) == "stl"
    (body,) = read_binary_stl(path).bodies
    assert len(body.faces) == 12 and np.ptp(body.vertices, axis=0) == pytest.approx([10, 20, 30])


def test_a_3mf_states_its_unit_and_names() -> None:
    raw = read_3mf(part_file(DEMOS[STEMS.index(ARM)]))
    assert raw.unit == "mm" and raw.format == "3mf" and raw.bodies[0].name
    assert len(raw.bodies[0].faces) > 100


def test_numbers_that_stand_twice_are_given_anew() -> None:
    path = part_file(DEMOS[STEMS.index(ARM)])
    with zipfile.ZipFile(io.BytesIO(renumbered(path))) as new, zipfile.ZipFile(path) as old:
        assert new.namelist() == old.namelist()
        model = next(name for name in new.namelist() if name.endswith(".model"))
        assert len(new.read(model)) >= len(old.read(model)) - 64


def test_archives_that_could_hurt_are_not_opened(tmp_path: Path) -> None:
    bomb = tmp_path / "bomb.3mf"
    with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as packed:
        for k in range(40):
            packed.writestr(f"3D/{k}.model", b"\0" * (64 << 20))
    with pytest.raises(UserFault, match="could hurt"):
        guard_archive(bomb)
    entity = tmp_path / "entity.3mf"
    with zipfile.ZipFile(entity, "w") as packed:
        packed.writestr("3D/3dmodel.model", '<!DOCTYPE a [<!ENTITY x "y">]><model>&x;</model>')
    with pytest.raises(UserFault):
        guard_archive(entity)
    guard_archive(part_file(DEMOS[STEMS.index(ARM)]))
