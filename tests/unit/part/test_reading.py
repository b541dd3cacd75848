"""Reading models: every format, and every kind of bad input in one sentence."""

import struct
import zipfile
from collections.abc import Callable
from pathlib import Path

import manifold3d
import numpy as np
import pytest
import trimesh

from pounce.base.errors import UserFault
from pounce.base.finding import Severity
from pounce.base.progress import silent
from pounce.part import step as step_reader
from pounce.part.model import PartChoices, PartResult
from pounce.part.reading import read_model
from pounce.part.stop import part_stop
from pounce.part.words import guess_unit
from tests.conftest import box, mesh_of, model_of, write_stl

DATA = Path(__file__).parents[2] / "data"
CUBE = mesh_of(box(30, 20, 10))


def _with_trimesh(path: Path) -> Path:
    trimesh.Trimesh(CUBE.vertices, CUBE.faces, process=False).export(path)
    return path


@pytest.mark.parametrize("name", ["a.stl", "a.obj", "a.ply", "a.off", "a.3mf", "ascii.stl"])
def test_every_mesh_format_written_by_another_library_reads_closed(tmp_path: Path, name: str) -> None:
    path = tmp_path / name
    if name == "ascii.stl":
        path.write_text(trimesh.exchange.stl.export_stl_ascii(trimesh.Trimesh(CUBE.vertices, CUBE.faces)))
    else:
        _with_trimesh(path)
    model = read_model(path)
    part = part_stop(PartChoices(unit="mm"), model, silent)
    assert part.closed
    assert part.volume_mm3 == pytest.approx(6000.0, rel=1e-6)
    assert part.area_mm2 == pytest.approx(2200.0, rel=1e-6)
    assert part.least_wall_mm == pytest.approx(10.0, rel=1e-4)


def test_step_reads_in_mm_with_the_ids_of_its_faces() -> None:
    """A 60 x 30 x 20 plate with a 12 mm bore along z (made by a CAD kernel): volume 60*30*20 - pi 36 20."""
    model = read_model(DATA / "plate-with-bore.step")
    mesh = model.bodies[0].mesh
    assert model.unit == "mm"
    assert model.bodies[0].closed
    assert mesh.volume == pytest.approx(60 * 30 * 20 - np.pi * 36 * 20, rel=2e-4)
    assert len(np.unique(mesh.tags.imported)) == 7


def test_a_step_reader_that_hangs_is_ended() -> None:
    with pytest.raises(UserFault, match="took longer than"):
        step_reader.read_step(DATA / "plate-with-bore.step", silent, limit_s=1e-3)


def _solid_zip(path: Path, text: str) -> Path:
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("3D/3dmodel.model", text)
    return path


def _cut(whole: bytes) -> bytes:
    return whole[:-70]


def _not_finite(whole: bytes) -> bytes:
    return whole[:96] + struct.pack("<f", float("nan")) + whole[100:]


# Files that are broken, by what they are called and what stands in them; a function changes a whole STL.
BROKEN: dict[str, tuple[str, bytes | Callable[[bytes], bytes]]] = {
    "empty": ("part.stl", b""),
    "truncated": ("part.stl", _cut),
    "text": ("part.stl", b"This is a letter to the foundry.\n" * 20),
    "no triangles": ("part.stl", b"x" * 80 + struct.pack("<I", 0)),
    "not finite": ("part.stl", _not_finite),
    "broken zip": ("part.3mf", b"PK\x03\x04" + b"\0" * 60),
    "broken ply": ("part.ply", b"ply\nformat ascii 1.0\nelement vertex 9\n"),
    "broken step": ("part.step", b"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\nENDSEC;\nEND-ISO-10303-21;\n"),
    "bad corners": ("part.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n"),
    "no area": ("part.obj", b"v 0 0 0\nv 1 0 0\nv 2 0 0\nf 1 2 3\n"),
    "one point": ("part.obj", b"v 1 1 1\nv 1 1 1\nv 1 1 1\nf 1 2 3\n"),
}
PACKED = {
    "bomb": " " * (8 << 20),
    "entities": '<?xml version="1.0"?><!DOCTYPE a [<!ENTITY b "c">]><model/>',
    "not a 3mf": "<model/>",
}


def _bad(tmp_path: Path, kind: str) -> Path:
    if kind == "missing":
        return tmp_path / "nowhere.stl"
    if kind == "folder":
        (tmp_path / "part.stl").mkdir()
        return tmp_path / "part.stl"
    if kind in PACKED:
        return _solid_zip(tmp_path / "part.3mf", PACKED[kind])
    name, content = BROKEN[kind]
    path = tmp_path / name
    path.write_bytes(content if isinstance(content, bytes) else content(write_stl(path, CUBE).read_bytes()))
    return path


@pytest.mark.parametrize(
    ("kind", "says"),
    [
        ("missing", "There is no file"),
        ("folder", "is a folder"),
        ("empty", "is empty"),
        ("truncated", "cut short"),
        ("text", "not a model"),
        ("no triangles", "no triangles"),
        ("not finite", "not numbers"),
        ("bomb", "could hurt"),
        ("entities", "could hurt"),
        ("not a 3mf", "cannot be read"),
        ("broken zip", "cannot be read"),
        ("broken ply", "part.ply"),
        ("broken step", "part.step"),
        ("bad corners", "part.obj"),
        ("one point", "one point"),
        ("no area", "no area"),
    ],
)
def test_bad_input_gets_one_sentence(tmp_path: Path, kind: str, says: str) -> None:
    with pytest.raises(UserFault) as caught:
        read_model(_bad(tmp_path, kind))
    assert says in caught.value.what
    assert caught.value.what.endswith(".")
    assert "\n" not in str(caught.value)
    assert caught.value.try_this


def test_a_wrong_extension_is_read_and_said(tmp_path: Path) -> None:
    path = _with_trimesh(tmp_path / "a.stl").rename(tmp_path / "a.obj")
    assert "read as STL" in read_model(path).mended[0]


def test_cracks_turned_faces_and_doubles_are_mended_and_said(tmp_path: Path) -> None:
    mesh = mesh_of(manifold3d.Manifold.sphere(20, 32))
    faces = np.array(mesh.faces)
    faces[40:52] = faces[40:52][:, ::-1]
    faces = np.concatenate([np.delete(faces, [5, 200, 201], axis=0), faces[:2]])
    trimesh.Trimesh(mesh.vertices, faces, process=False).export(tmp_path / "torn.ply")
    model = read_model(tmp_path / "torn.ply")
    assert model.bodies[0].closed
    assert model.bodies[0].mesh.volume == pytest.approx(mesh.volume, rel=0.01)
    said = ", ".join(model.mended)
    assert "closed 2 cracks" in said
    assert "turned 12 faces" in said
    assert "dropped 2 doubled" in said


def test_a_shell_that_stays_open_is_kept_open_and_said(tmp_path: Path) -> None:
    mesh = mesh_of(manifold3d.Manifold.cylinder(30, 20, 20, 128))
    kept = np.abs(mesh.normals[:, 2] - 1.0) > 1e-6
    model = read_model(write_stl(tmp_path / "cup.stl", mesh.part(np.flatnonzero(kept))))
    part = part_stop(PartChoices(unit="mm"), model, silent)
    assert not part.closed
    assert len(part.open_edges) == 128
    (said,) = part.findings
    assert said.code == "shell-open" and said.words().startswith("The shell is open along 128 edges round one hole.")
    assert said.place_mm is not None and said.place_mm[2] == pytest.approx(30.0), "on the rim itself"
    assert np.hypot(*said.place_mm[:2]) == pytest.approx(20.0, rel=1e-3)


def test_every_hole_of_an_open_shell_is_counted(tmp_path: Path) -> None:
    mesh = mesh_of(manifold3d.Manifold.cylinder(30, 20, 20, 128))
    flat = np.abs(mesh.normals[:, 2]) > 1.0 - 1e-6
    part = part_stop(PartChoices(unit="mm"), read_model(write_stl(tmp_path / "a.stl", mesh.part(~flat))), silent)
    said = next(one for one in part.findings if one.code == "shell-open")
    assert said.figures == {"open_edges": 256.0, "holes": 2.0} and "round two holes" in said.words()
    assert said.place_mm is not None and min(abs(said.place_mm[2] - z) for z in (0.0, 30.0)) < 1e-6


def test_quads_and_polygons_are_cut_into_triangles(tmp_path: Path) -> None:
    corners = [(x, y, z) for x in (0, 2) for y in (0, 3) for z in (0, 5)]
    quads = [(1, 2, 4, 3), (5, 7, 8, 6), (1, 5, 6, 2), (3, 4, 8, 7), (1, 3, 7, 5), (2, 6, 8, 4)]
    lines = [f"v {x} {y} {z}" for x, y, z in corners]
    lines += [f"usemtl m{k}\nf {' '.join(map(str, quad))}" for k, quad in enumerate(quads)]
    (tmp_path / "a.obj").write_text("\n".join(lines) + "\n")
    model = read_model(tmp_path / "a.obj")
    assert len(model.bodies) == 1
    assert model.bodies[0].closed
    assert abs(model.bodies[0].mesh.volume) == pytest.approx(30.0)


def test_a_lone_triangle_is_no_crack(tmp_path: Path) -> None:
    (tmp_path / "a.obj").write_text("v 0 0 0\nv 9 0 0\nv 0 9 0\nf 1 2 3\n")
    model = read_model(tmp_path / "a.obj")
    assert model.triangles == 1
    assert not model.bodies[0].closed


def test_an_inside_out_body_is_turned(tmp_path: Path) -> None:
    mesh = mesh_of(box(10, 10, 10))
    trimesh.Trimesh(mesh.vertices, mesh.faces[:, ::-1], process=False).export(tmp_path / "a.ply")
    model = read_model(tmp_path / "a.ply")
    assert model.bodies[0].mesh.volume == pytest.approx(1000.0)
    assert model.mended == ("turned 1 body outside out",)


def test_bodies_are_listed_and_chosen_and_a_hollow_stays_with_its_shell(tmp_path: Path) -> None:
    hollow = box(20, 20, 20) - box(10, 10, 10).translate([5, 5, 5])
    pair = manifold3d.Manifold.compose([hollow, box(5, 5, 5).translate([40, 0, 0])])
    model = read_model(write_stl(tmp_path / "two.stl", mesh_of(pair)))
    volumes = sorted(body.mesh.volume for body in model.bodies)
    assert volumes == pytest.approx([125.0, 7000.0], rel=1e-5)
    small = int(np.argmin([body.mesh.volume for body in model.bodies]))
    one = part_stop(PartChoices(unit="mm", bodies=(small,)), model, silent)
    assert one.volume_mm3 == pytest.approx(125.0)
    assert [line.taken for line in one.bodies].count(True) == 1
    with pytest.raises(UserFault, match="No body"):
        part_stop(PartChoices(unit="mm", bodies=()), model, silent)


def test_overlapping_bodies_are_joined_not_added() -> None:
    part = part_stop(PartChoices(), model_of(box(10, 10, 10), box(10, 10, 10).translate([5, 0, 0])), silent)
    assert part.volume_mm3 == pytest.approx(1500.0)
    assert "joined 2 bodies" in part.mended[0]


@pytest.mark.parametrize(("largest", "unit"), [(120.0, "mm"), (4.7, "in"), (0.12, "m"), (900.0, "mm")])
def test_the_unit_is_guessed_from_the_size(largest: float, unit: str) -> None:
    assert guess_unit(largest) == unit


def test_the_files_own_unit_wins_and_an_inch_is_an_inch(tmp_path: Path, arm: Path) -> None:
    assert read_model(arm).unit == "mm"
    model = read_model(_with_trimesh(tmp_path / "a.stl"))
    part = part_stop(PartChoices(unit="in"), model, silent)
    assert part.mesh.size == pytest.approx([762.0, 508.0, 254.0])
    assert part.unit_from == "user"
    asked = part_stop(PartChoices(), model, silent)
    assert asked.unit_from == "guess"
    # 30 mm is a size such parts are: it is only said; 0.3 may be anything: it wants an answer
    assert _unit_said(asked) is Severity.NOTE
    small = trimesh.Trimesh(CUBE.vertices * 0.01, CUBE.faces, process=False)
    small.export(tmp_path / "small.stl")
    assert _unit_said(part_stop(PartChoices(), read_model(tmp_path / "small.stl"), silent)) is Severity.WARN


def _unit_said(part: PartResult) -> Severity:
    return next(finding.severity for finding in part.findings if finding.code == "unit-not-stated")


def test_the_least_wall_is_found_in_a_wedge_of_known_thickness() -> None:
    slab = box(40, 40, 20) - box(30, 40, 20).translate([5, 0, 2.5])
    part = part_stop(PartChoices(), model_of(slab), silent)
    assert part.least_wall_mm == pytest.approx(2.5, abs=1e-6)
