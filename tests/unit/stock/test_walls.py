"""Which walls want draft, which side they leave by, and how far they must lean."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.parting.joint import Joint, flat_joint
from pounce.solid.features.patches import bends_of
from pounce.solid.mesh import Mesh
from pounce.stock.body import body_of
from pounce.stock.walls import Walls, at_joint, sides_of, walls_of, whole_planes
from tests.conftest import box, mesh_of

M = m3.Manifold
UP = np.array([0.0, 0.0, 1.0])


def flat(height: float) -> Joint:
    return flat_joint(UP, height)


def told(mesh: Mesh, height: float, degrees: float) -> tuple[Mesh, Walls]:
    body, level = at_joint(body_of(mesh), flat(height))
    side = sides_of(body, level, UP)
    every = np.full(len(body.faces), degrees)
    return body, walls_of(body, level, UP, every, np.zeros(len(body.faces)), bends_of(body), side)


def test_the_joint_cuts_what_crosses_it_and_nothing_else() -> None:
    mesh = mesh_of(box(20, 20, 20))
    body, level = at_joint(body_of(mesh), flat(7.0))
    assert body.volume == pytest.approx(8000.0)
    high = level[body.faces]
    assert not ((high.max(axis=1) > 1e-9) & (high.min(axis=1) < -1e-9)).any()
    assert level.min() == pytest.approx(-7.0) and level.max() == pytest.approx(13.0)
    untouched, _ = at_joint(body_of(mesh), flat(0.0))
    assert len(untouched.faces) == 12


@pytest.mark.parametrize("height", [0.0, 8.0, 20.0])
def test_walls_of_a_block_leave_on_their_own_side_of_the_joint(height: float) -> None:
    body, walls = told(mesh_of(box(30, 30, 20)), height, 2.0)
    upright = np.abs(body.normals[:, 2]) < 0.5
    assert (walls.of[upright] >= 0).all() and (walls.of[~upright] == -1).all()
    middle = body.corners.mean(axis=1)[:, 2]
    assert (walls.side[upright & (middle > height)] == 1).all()
    assert (walls.side[upright & (middle < height)] == -1).all()
    # walls that meet at the joint share their displacement there: the deeper side's
    deepest = max(height, 20.0 - height)
    assert walls.foot == pytest.approx(np.full(len(walls.foot), np.tan(np.radians(2.0)) * deepest))


def test_a_wall_that_has_its_draft_is_left() -> None:
    tapered = mesh_of(M.extrude(m3.CrossSection.square((30, 30), True), 20, 0, 0, (0.85, 0.85)))
    has = np.degrees(np.arctan(15 * 0.15 / 20))
    _, short = told(tapered, 0.0, has + 1.0)
    _, enough = told(tapered, 0.0, has - 0.5)
    assert len(short.foot) == 4 and len(enough.foot) == 0
    wanted = np.tan(np.radians(has + 1.0)) - np.tan(np.radians(has))
    assert short.foot == pytest.approx(np.full(4, wanted * 20.0))


def test_a_bore_is_one_wall_and_a_block_round_it_four() -> None:
    body, walls = told(mesh_of(box(40, 40, 20) - M.cylinder(30, 8, 8, 48).translate([20, 20, -5])), 0.0, 1.5)
    middle = body.corners.mean(axis=1)
    bore = (np.hypot(middle[:, 0] - 20, middle[:, 1] - 20) < 9) & (np.abs(body.normals[:, 2]) < 0.5)
    assert len(np.unique(walls.of[bore])) == 1
    assert len(walls.foot) == 5


def test_how_far_a_wall_moves_at_a_height() -> None:
    one = np.ones(1)
    walls = Walls(np.zeros(1, int), np.ones(1, int), np.zeros(1), 0 * one, 10 * one, 2 * one, 0.2 * one, 0 * one)
    number, side = np.zeros(3, int), np.ones(3, int)
    level = np.array([0.0, 5.0, 10.0])
    assert walls.moves(number, level, side) == pytest.approx([2.0, 1.0, 0.0])
    taken = Walls(walls.of, walls.side, walls.level, walls.near, walls.far, walls.foot, walls.slope, one)
    assert taken.moves(number, level, side) == pytest.approx([0.0, -1.0, -2.0])
    half = Walls(walls.of, walls.side, walls.level, walls.near, walls.far, walls.foot, walls.slope, 0.5 * one)
    assert half.moves(number, level, side) == pytest.approx([1.0, 0.0, -1.0])


def test_a_locked_face_leaves_by_neither_side() -> None:
    """A cross bore through the wall of a cup: its sand can go neither up nor down."""
    solid = box(40, 40, 30) - M.cylinder(60, 5, 5, 32).rotate([0, 90, 0]).translate([-5, 20, 15])
    body, level = at_joint(body_of(mesh_of(solid)), flat(0.0))
    side = sides_of(body, level, UP)
    middle = body.corners.mean(axis=1)
    bore = np.hypot(middle[:, 1] - 20, middle[:, 2] - 15) < 5.2
    bore &= np.abs(body.normals[:, 0]) < 0.5
    assert (side[bore] == 0).all()
    outer = (np.abs(body.normals[:, 2]) < 0.5) & ~bore
    assert (side[outer] == 1).mean() > 0.9


def left_wall(body: Mesh) -> np.ndarray:
    return np.asarray((body.normals[:, 0] < -0.99) & (np.abs(body.corners[:, :, 0]).max(axis=1) < 1e-9))


@pytest.mark.parametrize("below", [False, True])
def test_the_less_of_a_plane_that_holds_sand_goes_by_the_rest_of_it(below: bool) -> None:
    """A block whose left wall has feet far from the joint, on one side of it or on both: the sand between them is held,
    or could leave by the wrong half.
    """
    foot = M.cube([10, 12, 6])
    solid = M.cube([60, 40, 40]) + foot.translate([-4, 14, 34])
    solid += foot.translate([-4, 14, 0]) if below else M()
    body, level = at_joint(body_of(mesh_of(solid)), flat(20.0))
    side, bends = sides_of(body, level, UP), bends_of(body)
    wall, above = left_wall(body), level[body.faces].mean(axis=1) > 0.0
    assert ((side == (0 if below else -1)) & wall & above).any()
    whole = whole_planes(body, level, UP, side, bends)
    assert (whole[wall & above] == 1).all() and (whole[wall & ~above] == -1).all()
    assert (whole[~wall] == side[~wall]).all()


def test_a_plane_of_which_most_holds_sand_is_left() -> None:
    """Draft frees nothing there."""
    lip = M.cube([10, 40, 6])
    solid = M.cube([60, 40, 40]) + lip.translate([-4, 0, 34]) + lip.translate([-4, 0, 0])
    body, level = at_joint(body_of(mesh_of(solid)), flat(20.0))
    side = sides_of(body, level, UP)
    assert (side[left_wall(body)] == 0).all()
    assert (whole_planes(body, level, UP, side, bends_of(body)) == side).all()
