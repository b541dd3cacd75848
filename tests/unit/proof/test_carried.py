"""Places carried from a part to a later body."""

import manifold3d
import numpy as np

from pounce.parting.values import Judged
from pounce.proof.carried import Pieces, Witnesses, carried_to, inside, witnesses
from pounce.solid.mesh import Mesh
from pounce.solid.tree import tree_of
from tests.conftest import box, mesh_of

M = manifold3d.Manifold
HOLE = M.cylinder(60, 5, 5, 64, True).translate([20, 20, 10])
PART = mesh_of(box(40, 40, 20) - HOLE)


def judged(mesh: Mesh) -> Judged:
    count = len(mesh.faces)
    zeros = np.zeros(count, np.int64)
    rows = np.arange(count)
    smooth = np.repeat(mesh.normals[:, None], 3, 1)
    return Judged(mesh.corners, smooth, rows, zeros, zeros, zeros.astype(float), zeros > 0)


def of(chosen: np.ndarray) -> Witnesses:
    return witnesses(PART, judged(PART), np.flatnonzero(chosen))


def test_a_hole_that_was_filled_is_told_from_a_wall_that_was_moved() -> None:
    middles, normals = PART.corners.mean(axis=1), PART.normals
    hole = of((np.linalg.norm(middles[:, :2] - 20.0, axis=1) < 6.0) & (np.abs(normals[:, 2]) < 0.5))
    assert len(hole) == 48 and np.allclose(hole.gap_mm, 10.0, atol=0.3)  # across the hole
    assert carried_to(mesh_of(box(40, 40, 20)), hole).filled.all()
    narrower = carried_to(mesh_of(box(40, 40, 20) - M.cylinder(60, 3, 3, 64, True).translate([20, 20, 10])), hole)
    assert not narrower.filled.any() and np.allclose(np.linalg.norm(narrower.at[:, :2] - 20.0, axis=1), 3.0, atol=0.05)
    side = of(middles[:, 0] > 39.9)
    assert np.isinf(side.gap_mm).all()
    moved = carried_to(mesh_of(box(43, 40, 20)), side)
    assert not moved.filled.any() and np.allclose(moved.at[:, 0], 43.0)
    cut = carried_to(mesh_of(box(36, 40, 20)), side)  # a wall that was taken back lies behind
    assert np.allclose(cut.at[:, 0], 36.0)


def test_inside_agrees_with_the_distance_to_the_surface_of_a_ball() -> None:
    ball = mesh_of(M.sphere(10, 96))
    points = np.random.default_rng(3).uniform(-12, 12, (400, 3))
    away = np.linalg.norm(points, axis=1)
    firm = np.abs(away - 10.0) > 0.05
    assert (inside(ball, tree_of(ball), points)[firm] == (away < 10.0)[firm]).all()


def test_the_piece_nearest_to_the_point_is_taken() -> None:
    mesh = mesh_of(box(2, 2, 2))
    found = Pieces.of(judged(mesh), len(mesh.faces)).at(np.array([3, -1]), np.zeros((2, 3)))
    assert found.tolist() == [3, -1]
    twice = judged(mesh)
    corners = np.concatenate([twice.corners, twice.corners[3:4] + 5.0])
    none = np.zeros(13, int)
    more = Judged(corners, corners, np.append(twice.face, 3), none, none, none.astype(float), none > 0)
    assert Pieces.of(more, 12).at(np.array([3]), corners[-1:].mean(axis=1)).tolist() == [12]
