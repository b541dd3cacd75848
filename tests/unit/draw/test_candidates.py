"""Heights for a flat joint, of shapes whose best height is plain."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.draw.candidates import best_height, flat_share, opened
from pounce.draw.reachability import LEAN
from pounce.draw.scan import Pieces
from pounce.solid.mesh import Mesh
from pounce.solid.tree import tree_of
from tests.conftest import box, law, mesh_of

M = m3.Manifold
UP = np.array([0.0, 0.0, 1.0])


def open_both(mesh: Mesh) -> tuple[np.ndarray, np.ndarray]:
    """Whether the sand beside the middle of each face can leave up, and down."""
    tree, points, normals = tree_of(mesh), mesh.corners.mean(axis=1), mesh.normals
    up, down = (opened(tree, points, normals, normals @ way, way, mesh.diagonal) for way in (UP, -UP))
    return np.asarray(up), np.asarray(down)


def test_a_blocks_faces_leave_where_they_look() -> None:
    mesh = mesh_of(box(40.0, 30.0, 20.0))
    up, down = open_both(mesh)
    top, foot = mesh.normals[:, 2] > 0.9, mesh.normals[:, 2] < -0.9
    assert up[top].all() and not down[top].any() and down[foot].all() and not up[foot].any()
    assert up[~(top | foot)].all() and down[~(top | foot)].all(), "walls leave both ways"


def test_under_a_cap_nothing_leaves_upward() -> None:
    """And the cap's own lower side leaves downward only."""
    mesh = mesh_of(M.cylinder(20.0, 6.0, 6.0, 48) + M.cylinder(5.0, 25.0, 25.0, 48).translate([0.0, 0.0, 20.0]))
    up, down = open_both(mesh)
    middle = mesh.corners.mean(axis=1)
    stem = (np.hypot(middle[:, 0], middle[:, 1]) < 8.0) & (middle[:, 2] < 20.0) & (np.abs(mesh.normals[:, 2]) < 0.1)
    under = (mesh.normals[:, 2] < -0.9) & (middle[:, 2] > 19.0)
    assert stem.any() and not up[stem].any() and down[stem].all()
    assert under.any() and not up[under].any() and down[under].all()


def test_a_wall_that_grazes_its_neighbour_is_asked_leaning_out() -> None:
    """Upright walls of a slot one above another: rays along them graze; a hair outward they are free."""
    assert 0.0 < LEAN < 0.05
    mesh = mesh_of(box(60.0, 40.0, 20.0) - box(20.0, 40.0, 10.0).translate([20.0, 0.0, 10.0]))
    up, _ = open_both(mesh)
    middle = mesh.corners.mean(axis=1)
    slot = (np.abs(mesh.normals[:, 0]) > 0.9) & (np.abs(middle[:, 0] - 30.0) < 11.0)
    assert slot.any() and up[slot].all()


def best(solid: m3.Manifold) -> tuple[float, bool]:
    mesh = mesh_of(solid)
    pieces = Pieces(mesh.corners[:, :, 2], mesh.areas, *open_both(mesh))
    low, high = mesh.bounds[:, 2].tolist()
    return best_height(pieces, low, high, lambda at: flat_share(mesh, UP, at, 1e-4 * (high - low)))


@pytest.mark.parametrize(
    ("solid", "height", "flat_back"),
    [
        (M.cylinder(15.0, 20.0, 14.0, 48), 0.0, True),
        (M.cylinder(15.0, 14.0, 20.0, 48), 15.0, True),
        (box(40.0, 30.0, 20.0), 0.0, True),
        (M.cylinder(20.0, 6.0, 6.0, 48) + M.cylinder(5.0, 25.0, 25.0, 48).translate([0.0, 0.0, 20.0]), 25.0, True),
        (M.cylinder(12.0, 10.0, 20.0, 48) + M.cylinder(9.0, 20.0, 8.0, 48).translate([0.0, 0.0, 12.0]), 12.0, False),
    ],
)
def test_the_joint_lies_where_least_is_held(solid: m3.Manifold, height: float, flat_back: bool) -> None:
    """A cone stands on its wide end, a block on its back; a mushroom on its cap; a top parts at its belly."""
    at, whole = best(solid)
    assert at == pytest.approx(height, abs=0.02) and whole is flat_back


@law(8, 60)
def test_a_flat_share_is_its_area_over_the_plan(seed: int) -> None:
    """A plate with a boss: at its foot the whole plan is level, at its top all but the boss, between them nothing."""
    dice = np.random.default_rng(seed)
    x, y = dice.uniform(40.0, 120.0, 2)
    radius, high, tall = float(dice.uniform(5.0, 15.0)), float(dice.uniform(4.0, 15.0)), float(dice.uniform(5.0, 30.0))
    boss = M.cylinder(tall, radius, radius, 64).translate([x / 2.0, y / 2.0, high])
    mesh = mesh_of(box(float(x), float(y), high) + boss)
    disc = 32.0 * np.sin(2.0 * np.pi / 64.0) * radius**2
    for at, level in ((0.0, x * y), (high, x * y - disc), (high + tall, disc), (high / 2.0, 0.0)):
        assert flat_share(mesh, UP, at, 1e-4) == pytest.approx(level / (x * y), abs=1e-6)
    assert flat_share(mesh, -UP, 0.0, 1e-4) == pytest.approx(1.0)
