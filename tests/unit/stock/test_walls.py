"""Which walls want draft, which side they leave by, and how far they must lean."""

from dataclasses import replace

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
    number, side = np.zeros(3, int), np.ones(3, int)
    level = np.array([0.0, 5.0, 10.0])
    figures = (0 * one, 10 * one, 2 * one, 0.2 * one, 0 * one)
    walls = Walls(np.zeros(1, int), np.ones(1, int), level, *figures, level + 7.0, np.nan * one)
    assert walls.moves(number, level) == pytest.approx([2.0, 1.0, 0.0])
    assert replace(walls, takes=one).moves(number, level) == pytest.approx([0.0, -1.0, -2.0])
    assert replace(walls, takes=0.5 * one).moves(number, level) == pytest.approx([1.0, 0.0, -1.0])
    # over the joint where it meets that, else straight along the draw
    corners = np.arange(3)
    assert walls.up(number, corners, side) == pytest.approx([0.0, 5.0, 10.0])
    assert replace(walls, base=3.0 * one).up(number, corners, side) == pytest.approx([4.0, 9.0, 14.0])


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


def test_off_a_joint_that_rises_a_wall_leans_straight_along_the_draw() -> None:
    """Measured over the joint it came out skew: ribs in a cone whose joint steps up beside them leaned 3.3 of 4 degrees
    at one end and stood too thick at the other.
    """
    body = body_of(mesh_of(box(40, 20, 16)))
    side = np.ones(len(body.faces), int)
    count = len(body.faces)
    x, _, z = body.vertices.T
    for lifted, ends in ((10.0, [0.0, 0.0]), (0.0, [0.0, 0.2 * 40])):
        level = z + lifted + 0.2 * x
        walls = walls_of(body, level, UP, np.full(count, 3.0), np.zeros(count), bends_of(body), side)
        long = walls.of[np.abs(body.normals[:, 1]) > 0.9]
        corner = body.faces[np.abs(body.normals[:, 1]) > 0.9].ravel()
        of = np.repeat(long, 3)
        moves = walls.moves(of, walls.up(of, corner, np.ones(len(of), int)))
        low = np.abs(z[corner]) < 1e-9
        at = [moves[low & (np.abs(x[corner] - end) < 1e-9)] for end in (0.0, 40.0)]
        if lifted:  # it stands off the joint: as far out at one end as at the other
            assert np.concatenate(at) == pytest.approx(16 * np.tan(np.radians(3.0)))
        else:  # it meets the joint: as far out wherever that is
            assert at[0].mean() - at[1].mean() == pytest.approx(walls.slope[0] * (ends[1] - ends[0]))
