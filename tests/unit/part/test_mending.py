"""Mending: shells torn in ways that are known come back whole, and sound ones are left alone."""

import manifold3d
import numpy as np
import pytest

from pounce.part.formats import RawBody
from pounce.part.mending import Notes, as_body, mend
from pounce.solid.mesh import Mesh, joined
from tests.conftest import box, law, mesh_of
from tests.shapes import SHAPES

M = manifold3d.Manifold


def mended(vertices: np.ndarray, faces: np.ndarray) -> tuple[list[Mesh], list[bool], Notes]:
    notes = Notes()
    bodies = mend(RawBody("Body", np.asarray(vertices, float), np.asarray(faces, np.int64), None), notes)
    return [body.mesh for body in bodies], [body.closed for body in bodies], notes


@pytest.mark.parametrize("name", list(SHAPES))
def test_a_sound_shell_is_left_as_it_is(name: str) -> None:
    mesh = mesh_of(SHAPES[name]())
    (made,), (closed,), notes = mended(mesh.vertices, mesh.faces)
    assert closed and notes.words() == () and made.volume == pytest.approx(mesh.volume)


@law(6, 100)
def test_torn_in_every_way_at_once_it_comes_back(seed: int) -> None:
    """Corners loose by a hair, faces turned, doubled and dropped: the same volume, and each told."""
    noise = np.random.default_rng(seed)
    mesh = mesh_of(M.sphere(20, 32) + box(25, 10, 10))
    soup = mesh.corners.reshape(-1, 3) + noise.normal(scale=2e-6, size=(3 * len(mesh.faces), 3))
    faces = np.arange(len(soup)).reshape(-1, 3)
    turned = noise.choice(len(faces), 6, replace=False)
    faces[turned] = faces[turned][:, ::-1]
    faces = np.concatenate([faces, faces[noise.choice(len(faces), 4, replace=False)]])
    lost = int(noise.integers(len(mesh.faces)))
    while lost in turned:
        lost = int(noise.integers(len(mesh.faces)))
    faces = np.delete(faces, lost, axis=0)
    faces = faces[~(np.sort(faces, axis=1) == np.sort([3 * lost, 3 * lost + 1, 3 * lost + 2])).all(axis=1)]
    (made,), (closed,), notes = mended(soup, faces)
    assert closed and made.volume == pytest.approx(mesh.volume, rel=1e-6)
    assert notes.cracks == 1 and notes.turned >= 1
    assert all(word[0].islower() and word.split()[1].isdigit() for word in notes.words())


@pytest.mark.parametrize("noise_mm", [1e-7, 2e-6, 2e-5, 1e-4])
def test_a_file_whose_corners_are_noisy_is_closed(noise_mm: float) -> None:
    """Each corner of each face off by a hair: all of them found, on whichever side of a grid's line they lie."""
    mesh = mesh_of(box(60, 40, 25) + M.sphere(20, 40).translate([60, 20, 12]))
    soup = mesh.corners.reshape(-1, 3) + np.random.default_rng(5).normal(scale=noise_mm, size=(3 * len(mesh.faces), 3))
    (made,), (closed,), notes = mended(soup, np.arange(len(soup)).reshape(-1, 3))
    assert closed and len(made.faces) == len(mesh.faces) and notes.cracks == 0
    assert made.volume == pytest.approx(mesh.volume, rel=1e-5)


def test_an_inside_out_shell_is_turned_and_a_hollow_stays_with_its_host() -> None:
    cube = mesh_of(box(30, 30, 30))
    (made,), (closed,), notes = mended(cube.vertices, cube.faces[:, ::-1])
    assert closed and made.volume == pytest.approx(27000.0) and notes.inside_out == 1
    hollow = mesh_of(box(30, 30, 30) - box(10, 10, 10).translate([10, 10, 10]))
    (made,), (closed,), notes = mended(hollow.vertices, hollow.faces)
    assert closed and made.volume == pytest.approx(26000.0) and notes.inside_out == 0


def test_bodies_are_parted_and_numbered() -> None:
    two = joined([mesh_of(box(10, 10, 10)), mesh_of(box(5, 5, 5).translate([30, 0, 0]))])
    bodies = mend(RawBody("Hinge", np.array(two.vertices), np.array(two.faces), None), Notes())
    assert [body.name for body in bodies] == ["Hinge 1", "Hinge 2"]
    assert sorted(body.mesh.volume for body in bodies) == pytest.approx([125.0, 1000.0])


def test_a_wide_hole_stays_open_and_its_rim_is_told() -> None:
    """A box without its lid, finely meshed: no crack of a file but a missing wall."""
    fine = mesh_of(box(30, 30, 30).refine(20))
    kept = fine.corners[..., 2].min(axis=1) < 30.0 - 1e-6
    bodies = mend(RawBody("Box", np.array(fine.vertices), np.array(fine.faces[kept]), None), Notes())
    assert len(bodies) == 1 and not bodies[0].closed
    rim = bodies[0].open_edges
    assert np.linalg.norm(rim[:, 1] - rim[:, 0], axis=1).sum() == pytest.approx(120.0)
    assert rim[..., 2] == pytest.approx(np.full(rim.shape[:2], 30.0))


def test_what_mending_would_not_better_is_not_touched() -> None:
    """A lone wall: its rim is as long as it is, and closing it would make a sheet of nothing."""
    wall = np.array([[0, 0, 0], [30, 0, 0], [30, 30, 0], [0, 30, 0]], float)
    notes = Notes()
    (body,) = mend(RawBody("Wall", wall, np.array([[0, 1, 2], [0, 2, 3]]), None), notes)
    assert not body.closed and len(body.mesh.faces) == 2 and notes.words() == ()


def test_a_sheet_that_holds_nothing_is_no_closed_body() -> None:
    sheet = np.array([[0, 0, 0], [10, 0, 0], [0, 10, 0]], float)
    meshes, closed, _ = mended(sheet, np.array([[0, 1, 2], [0, 2, 1]]))
    assert closed == [False] * len(meshes)


def test_what_was_mended_before_it_was_kept_is_taken_as_it_is() -> None:
    cube = mesh_of(box(30, 30, 30))
    body = as_body(RawBody("Box", np.array(cube.vertices), np.array(cube.faces), np.arange(12) // 2), "Named")
    assert body.name == "Named" and body.closed and body.mesh.tags.imported.tolist() == (np.arange(12) // 2).tolist()


@pytest.mark.parametrize("backs", [0, 1])
def test_faces_that_stand_twice_and_their_backs_leave_the_shell_whole(backs: int) -> None:
    """With as many backs as doubles the solid library closes it, though edges have four faces."""
    mesh = mesh_of(M.sphere(20, 32))
    more = [mesh.faces[40:42]] + backs * [mesh.faces[40:42, ::-1]]
    (made,), (closed,), notes = mended(mesh.vertices, np.concatenate([mesh.faces, *more]))
    assert closed and len(made.faces) == len(mesh.faces) and made.volume == pytest.approx(mesh.volume)
    assert notes.doubled == 2 + 2 * backs


@pytest.mark.parametrize("turned", [False, True])
def test_films_of_no_thickness_beside_a_body_are_dropped_and_do_not_open_it(turned: bool) -> None:
    """Solid libraries leave them: two of four triangles beside an elbow of 39,000 had it refused as an open shell."""
    whole = mesh_of(box(40, 30, 20) - box(10, 10, 10).translate([5, 5, 5]))
    film = np.array([[3.0, 10.0, 10.0], [3.0, 11.0, 11.0], [3.0, 12.0, 10.0], [3.0, 11.0, 10.5]])
    sides = np.array([[0, 1, 2], [0, 2, 3], [0, 3, 1], [1, 3, 2]])
    sides = sides[:, ::-1] if turned else sides
    notes = Notes()
    faces = np.concatenate([whole.faces, sides + len(whole.vertices)])
    bodies = mend(RawBody("Box", np.concatenate([whole.vertices, film]), faces, None), notes)
    assert [one.closed for one in bodies] == [True] and notes.words() == ("dropped 1 film of no thickness",)
    assert bodies[0].name == "Box" and bodies[0].mesh.volume == pytest.approx(40 * 30 * 20 - 1000)
    alone = mend(RawBody("Film", film, sides, None), Notes())
    assert [one.closed for one in alone] == [False]  # beside nothing it is what there is, and is said
