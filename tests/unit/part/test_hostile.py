"""Files made to hurt, and files that are none: one sentence each, soon, and nothing is left behind."""

import os
import time
import zipfile
from collections.abc import Callable
from pathlib import Path

import manifold3d
import numpy as np
import pytest

from pounce.base.errors import MOST_SAID, Cancelled, UserFault, shown
from pounce.base.progress import silent
from pounce.job import file
from pounce.job.job import Job
from pounce.part import apart
from pounce.part.apart import read_apart
from pounce.part.formats import RawBody, RawModel
from pounce.part.mending import Notes, mend
from pounce.part.reading import read_model
from pounce.route.opening import open_any, with_model
from pounce.solid import boolean
from pounce.solid.mesh import Mesh
from tests.conftest import mesh_of, model_of

CORE = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02"
TYPES = (
    '<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">'
    '<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>'
    '<Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>'
)
RELATED = (
    '<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">'
    '<Relationship Target="/3D/3dmodel.model" Id="r" '
    'Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>'
)
TETRAHEDRON = (
    '<mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="9" y="0" z="0"/><vertex x="0" y="9" z="0"/>'
    '<vertex x="0" y="0" z="9"/></vertices><triangles><triangle v1="0" v2="2" v3="1"/><triangle v1="0" v2="1" v3="3"/>'
    '<triangle v1="1" v2="2" v3="3"/><triangle v1="0" v2="3" v3="2"/></triangles></mesh>'
)


def archive_3mf(path: Path, resources: str, build: str, **how: int) -> Path:
    text = f'<model unit="millimeter" xmlns="{CORE}"><resources>{resources}</resources><build>{build}</build></model>'
    with zipfile.ZipFile(path, "w", **how) as archive:  # type: ignore[arg-type]
        for name, content in (("[Content_Types].xml", TYPES), ("_rels/.rels", RELATED), ("3D/3dmodel.model", text)):
            archive.writestr(name, content)
    return path


def nested(path: Path) -> Path:
    """Two components of two components, thirty deep: a thousand million tetrahedra in 4 kB."""
    rows = [f'<object id="1" type="model">{TETRAHEDRON}</object>']
    for k in range(2, 32):
        twice = f'<component objectid="{k - 1}"/>' * 2
        rows.append(f'<object id="{k}" type="model"><components>{twice}</components></object>')
    return archive_3mf(path, "".join(rows), '<item objectid="31"/>')


def many_items(path: Path) -> Path:
    rows = f'<object id="1" type="model">{TETRAHEDRON}</object>'
    return archive_3mf(path, rows, '<item objectid="1"/>' * 100_000, compression=zipfile.ZIP_DEFLATED)


def greedy_ply(path: Path) -> Path:
    """A head that promises two thousand million corners."""
    head = "ply\nformat binary_little_endian 1.0\nelement vertex 2000000000\n"
    rows = "".join(f"property double {one}\n" for one in "xyz")
    path.write_bytes((head + rows + "element face 1\nproperty list uchar int vertex_indices\nend_header\n").encode())
    return path


def long_polygon(path: Path) -> Path:
    corners = "".join(f"v {np.cos(k):.4f} {np.sin(k):.4f} 0\n" for k in range(200_000))
    path.write_text(corners + "f " + " ".join(str(k + 1) for k in range(200_000)) + "\n")
    return path


def sparse(path: Path) -> Path:
    with path.open("wb") as stream:
        stream.truncate(5_000_000_000)
    return path


def pipe(path: Path) -> Path:
    os.mkfifo(path)
    return path


def endless(path: Path) -> Path:
    path.symlink_to("/dev/zero")
    return path


def secret(path: Path) -> Path:
    """An archive whose members say that they are encrypted."""
    data = bytearray(archive_3mf(path, f'<object id="1">{TETRAHEDRON}</object>', '<item objectid="1"/>').read_bytes())
    for mark, at in ((b"PK\x01\x02", 8), (b"PK\x03\x04", 6)):
        found = data.find(mark)
        while found >= 0:
            data[found + at] |= 1
            found = data.find(mark, found + 4)
    path.write_bytes(data)
    return path


@pytest.mark.parametrize(
    ("name", "make"),
    [
        ("nested.3mf", nested),
        ("items.3mf", many_items),
        ("greedy.ply", greedy_ply),
        ("polygon.obj", long_polygon),
        ("sparse.stl", sparse),
        ("pipe.stl", pipe),
        ("zero.stl", endless),
        ("secret.3mf", secret),
    ],
)
def test_it_is_refused_in_one_sentence_and_soon(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, name: str, make: Callable[[Path], Path]
) -> None:
    monkeypatch.setattr(apart, "LEAST_S", 4.0)
    path, began = make(tmp_path / name), time.monotonic()
    try:
        read_model(path)
    except UserFault as fault:
        assert name in fault.what and shown(fault.what) and len(fault.what) <= MOST_SAID
    else:
        assert make is long_polygon, "only a flat polygon is a shell that can be shown"
    assert time.monotonic() - began < 30.0


def test_a_name_that_is_no_text_is_quoted_so_that_it_can_be_shown(tmp_path: Path) -> None:
    path = Path(os.fsdecode(os.fsencode(tmp_path) + b"/caf\xe9\x1b[2J.stl"))
    path.write_bytes(b"nothing")
    with pytest.raises(UserFault) as raised:
        read_model(path)
    assert "caf" in raised.value.what and shown(raised.value.what)


@pytest.mark.parametrize(
    "content",
    [b"[" * 100_000, b'{"format": 9, "job": ' + b'{"more":' * 50_000, b"\xff\xfe", b'{"format": 1e400}', b"{}"],
    ids=["deep", "deeper", "no text", "beyond figures", "empty"],
)
def test_a_job_file_with_such_a_job_in_it_is_refused(tmp_path: Path, content: bytes) -> None:
    path = tmp_path / "a.pounce"
    with zipfile.ZipFile(path, "w") as archive:
        archive.writestr("job.json", content)
    with pytest.raises(UserFault) as raised:
        open_any(path)
    assert len(raised.value.what) <= MOST_SAID


def test_a_job_file_whose_part_unpacks_to_gigabytes_is_refused(tmp_path: Path) -> None:
    model = model_of(manifold3d.Manifold.cube([10, 10, 10]))
    whole, path = tmp_path / "whole.pounce", tmp_path / "bomb.pounce"
    file.save(whole, with_model(Job(), model), model)
    with zipfile.ZipFile(whole) as old, zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as new:
        new.writestr("job.json", old.read("job.json"))
        with new.open("part.3mf", "w", force_zip64=True) as stream:
            for _ in range(300):
                stream.write(b"\0" * 1_000_000)
    with pytest.raises(UserFault, match="whole job file"):
        open_any(path)


def test_a_reader_that_crashes_hangs_or_wants_all_memory_is_a_sentence_and_leaves_no_child(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "a.ply"
    path.write_bytes(b"ply")
    children = Path(f"/proc/self/task/{os.getpid()}/children")
    before = children.read_text()

    def crashes(_: Path) -> RawModel:
        os.abort()

    def hangs(_: Path) -> RawModel:
        time.sleep(60.0)
        raise AssertionError

    def hoards(_: Path) -> RawModel:
        return RawModel("ply", None, (RawBody("a", np.ones((10**9, 3)), np.zeros((1, 3), np.int64), None),))

    monkeypatch.setattr(apart, "LEAST_S", 0.2)
    for read, says in ((crashes, "gave up"), (hangs, "took longer"), (hoards, "too large")):
        with pytest.raises(UserFault, match=says):
            read_apart(read, path, silent)

    def cancel(_share: float, _text: str) -> None:
        raise Cancelled

    with pytest.raises(Cancelled):
        read_apart(hangs, path, cancel)
    assert children.read_text() == before


def test_what_is_read_apart_is_what_is_read(tmp_path: Path) -> None:
    body = RawBody("Ä 1", np.arange(12.0).reshape(4, 3), np.array([[0, 1, 2], [1, 2, 3]]), np.array([4, 5]))
    plain = RawBody("b", np.ones((3, 3)), np.array([[0, 1, 2]]), None)
    path = tmp_path / "a"
    path.write_bytes(b"x")
    made = read_apart(lambda _: RawModel("3mf", "in", (body, plain)), path, silent)
    assert (made.format, made.unit, [one.name for one in made.bodies]) == ("3mf", "in", ["Ä 1", "b"])
    for one, other in zip(made.bodies, (body, plain), strict=True):
        assert (one.vertices == other.vertices).all() and (one.faces == other.faces).all()
    assert made.bodies[0].imported is not None and made.bodies[0].imported.tolist() == [4, 5]
    assert made.bodies[1].imported is None


def test_an_open_shell_never_reaches_the_solid_library() -> None:
    """Some open shells end its process: seven triangles that hang together are enough."""
    dice = np.random.default_rng(5)
    for _ in range(300):
        faces = dice.integers(0, 9, (int(dice.integers(1, 12)), 3))
        assert boolean.closed_solid(Mesh.of(dice.random((9, 3)), faces)) is None or len(faces) % 2 == 0


def test_shells_of_one_triangle_and_turned_ones_are_mended_side_by_side() -> None:
    cube = mesh_of(manifold3d.Manifold.cube([10, 10, 10]))
    faces = cube.faces.copy()
    faces[::3] = faces[::3][:, ::-1]
    lone = np.array([[0.0, 0.0, 50.0], [1.0, 0.0, 50.0], [0.0, 1.0, 50.0]])
    vertices = np.concatenate([cube.vertices, lone, lone + np.array([0.0, 0.0, 9.0])])
    count = len(cube.vertices)
    both = np.concatenate([faces, [[count, count + 1, count + 2], [count + 3, count + 4, count + 5]]])
    notes = Notes()
    bodies = mend(RawBody("a", vertices, both, None), notes)
    assert sorted(one.closed for one in bodies) == [False, False, True]
    assert notes.turned == min(len(faces[::3]), len(faces) - len(faces[::3]))
    assert max(one.mesh.volume for one in bodies) == pytest.approx(1000.0)


def test_a_shell_that_holds_nothing_is_never_closed() -> None:
    flat = np.array([[0.0, 0, 0], [10, 0, 0], [0, 10, 0]])
    two = RawBody("a", flat, np.array([[0, 1, 2], [0, 2, 1]]), None)
    assert not any(one.closed for one in mend(two, Notes()))
