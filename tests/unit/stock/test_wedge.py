"""Wedges of metal laid against walls whose corners cannot be moved."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.draw.reachability import reach_along
from pounce.parting.joint import flat_joint
from pounce.solid.boolean import closed_solid
from pounce.solid.features.patches import bends_of
from pounce.solid.mesh import Mesh
from pounce.stock import wedge
from pounce.stock.body import body_of
from pounce.stock.guard import phantom
from pounce.stock.walls import at_joint, sides_of, walls_of
from pounce.stock.wedge import Guard, _going_together, _most_of, wedges
from tests.conftest import box, mesh_of
from tests.unit.stock.helpers import lost, section_area, tan

UP = np.array([0.0, 0.0, 1.0])
BLOCK = mesh_of(box(1, 1, 1))


def nobody(_made: Mesh) -> str | None:
    return None


def wedged(
    solid: m3.Manifold, degrees: float, takes: float = 0.0, guard: Guard = nobody
) -> tuple[Mesh | None, int, int]:
    mesh = mesh_of(solid)
    joint = flat_joint(UP, 0.0)
    body, level = at_joint(body_of(mesh), joint)
    side = sides_of(body, level, UP)
    count = len(body.faces)
    walls = walls_of(body, level, UP, np.full(count, degrees), np.full(count, takes), bends_of(body), side)
    return wedges(body, level, walls, np.flatnonzero(walls.of >= 0), joint, 4, guard)[:3]


@pytest.mark.parametrize("degrees", [1.0, 3.0])
def test_a_block_in_wedges_is_a_frustum_with_mitred_corners(degrees: float) -> None:
    block = box(40, 30, 20)
    made, done, left = wedged(block, degrees)
    assert made is not None and (done, left) == (4, 0)
    wide = 2 * 20 * tan(degrees)
    assert section_area(made, 1e-3) == pytest.approx((40 + wide) * (30 + wide), rel=1e-3)
    assert section_area(made, 19.999) == pytest.approx(40 * 30, rel=1e-3)
    assert section_area(made, 10.0) == pytest.approx((40 + wide / 2) * (30 + wide / 2), rel=1e-3)
    assert lost(block, made) < 1e-3
    assert set(np.unique(made.tags.line)) == {-1, 4}


def test_facing_walls_of_a_narrow_slot_meet() -> None:
    slotted = box(60, 30, 40) - box(70, 1.0, 40).translate([-5, 14.5, 10])
    made, _, _ = wedged(slotted, 3.0)
    assert made is not None and closed_solid(made) is not None
    assert lost(slotted, made) < 1e-3
    # by 3 degrees either wall closes half a millimetre within 9.5: the slot has no floor of its own any more
    assert section_area(made, 15.0) > section_area(mesh_of(slotted), 15.0) + 50.0


def test_walls_that_take_metal_are_left_as_they_are() -> None:
    made, done, left = wedged(box(40, 30, 20), 2.0, takes=1.0)
    assert made is None and done == 0 and left == 4


def test_of_too_many_panels_the_walls_of_most_area_a_panel_are_leaned(monkeypatch: pytest.MonkeyPatch) -> None:
    """None was, and a wheel of eight spokes, 1,645 panels of its rim and bosses among them, was left upright whole."""
    turn = np.linspace(0.0, 2.0 * np.pi, 60, endpoint=False)
    round_end = np.column_stack([12.0 * np.cos(turn), 12.0 * np.sin(turn)])
    bar = m3.CrossSection([round_end]).translate((40.0, 0.0)) + m3.CrossSection.square((40.0, 12.0)).translate((0, -6))
    made, done, left = wedged(bar.extrude(20), 2.0)
    assert made is not None and left == 0
    monkeypatch.setattr(wedge, "MOST", 20)
    fewer, some, left = wedged(bar.extrude(20), 2.0)
    assert fewer is not None and some > 0 and some + left == done
    flats = abs(np.abs(fewer.normals[:, 1]) - np.cos(np.radians(2.0))) < 1e-4
    assert float(fewer.areas[flats].sum()) > 2 * 28.0 * 20.0 * 0.98  # both long sides are leaned


def test_a_wedge_over_nothing_but_sand_ends_with_its_wall() -> None:
    """A head 20 high whose wall stands 30 over the joint: nothing is laid under it, and its wedges are a frustum's."""
    solid = m3.Manifold.cube([60, 60, 20]).translate([0, 0, 30]) + m3.Manifold.cube([20, 20, 31]).translate([20, 20, 0])
    made, done, _ = wedged(solid, 2.0)
    assert made is not None and done >= 4
    stem = section_area(made, 29.9)
    assert stem < (20 + 2 * 50 * tan(2.0)) ** 2, "nothing hangs under the head"
    assert section_area(made, 49.99) == pytest.approx(60 * 60, rel=1e-3)


def test_a_wedge_goes_on_through_the_fillet_at_its_foot() -> None:
    """A boss 20 high on a plate, with a fillet of 3 about its foot: by 3 degrees its foot lies 23 tan 3 farther out."""
    round_foot = m3.CrossSection(
        [[(0, 0), *[(13 - 3 * np.sin(a), 3 - 3 * np.cos(a)) for a in np.linspace(0, np.pi / 2, 13)], (10, 23), (0, 23)]]
    )
    solid = m3.Manifold.cube([60, 60, 10], True).translate([0, 0, 5]) + round_foot.revolve(64).translate([0, 0, 9.999])
    made, done, left = wedged(solid, 3.0)
    assert made is not None and done >= 5 and not left
    width = 10 + 10 * tan(3.0)
    assert section_area(made, 23.0) == pytest.approx(np.pi * width**2, rel=5e-3)
    assert lost(solid, made) < 1e-3


def test_a_wall_whose_wedge_would_close_a_tunnel_leaves_the_others_theirs() -> None:
    """A plate with a slit 1 wide through it along the draw: its walls would meet, so they stay; the outside leans."""
    slit = box(60, 30, 40) - box(30, 1.0, 60).translate([15, 14.5, -10])
    body = mesh_of(slit)

    def guard(made: Mesh) -> str | None:
        return phantom(body, made, 40 * tan(3.0), True)

    made, done, left = wedged(slit, 3.0, guard=guard)
    assert made is not None and done >= 4 and left >= 1
    solid = closed_solid(made)
    assert solid is not None and solid.genus() == 1
    wide = 2 * 40 * tan(3.0)
    outside = (60 + wide) * (30 + wide)
    assert outside - 30 * 1.0 - 1.0 < section_area(made, 1e-3) < outside
    refused, none, _ = wedged(slit, 3.0, guard=lambda _made: "it is not wanted")
    assert refused is None and none == 0


def test_a_boss_that_runs_into_a_wall_at_a_shallow_angle_does_not_twist_the_walls_wedge() -> None:
    """A low boss half sunk in a high wall: moved out along both, the corner went three times as far along the wall as
    out of it, and the wall over the boss leaned 1.4 degrees in the place of two, or back.
    """
    made, done, left = wedged(box(100, 40, 40) + m3.Manifold.cylinder(6, 10, 10, 96).translate([50, 48.6, 0]), 2.0)
    assert made is not None and left == 0 and done >= 5
    draft = np.degrees(np.arcsin(np.clip(made.normals @ UP, -1.0, 1.0)))
    steep = (np.abs(draft) < 60.0) & (made.areas > 0.2)
    assert float(draft[steep].min()) > 1.95 and float(draft[steep].max()) < 2.2
    assert section_area(made, 20.0) == pytest.approx((100 + 40 * tan(2.0)) * (40 + 40 * tan(2.0)), rel=1e-3)


def test_a_corner_goes_with_the_walls_that_it_has_an_outside_edge_with() -> None:
    """Walls 1 and 2 meet in an inside corner, 2 and 3 round an outside one: 1 goes by itself."""
    assert _going_together({1, 2, 3}, None) == [{1, 2, 3}]
    assert _going_together({1, 2, 3}, [(3, 2)]) == [{1}, {2, 3}]
    assert _going_together({1, 2}, []) == [{1}, {2}]
    assert _going_together({1, 2, 3}, [(1, 3), (3, 2)]) == [{1, 2, 3}]


def test_few_walls_that_disturb_each_other_do_not_take_all_with_them() -> None:
    tried: list[list[int]] = []

    def laid(own: list[int]) -> Mesh | None:
        tried.append(own)
        return None if {3, 7} <= set(own) or 5 in own else BLOCK

    made, kept = _most_of([[1, 2, 3, 4, 6, 7, 8], [5, 9]], laid, 16)
    assert made is BLOCK and sorted(kept) == [1, 2, 3, 4, 6, 8, 9]
    assert len(tried) <= 16 and len({tuple(own) for own in tried}) == len(tried)
    assert _most_of([[1, 2, 5, 6]], lambda _own: None, 3) == (None, [])
    assert _most_of([[3, 7, 5, 1, 2]], laid, 1) == (None, [])


def test_fins_beside_a_wall_that_gets_no_wedge_are_leaned_all_the_same() -> None:
    """A hole that cuts the side of the last of six fins: no wedge on that side leaves its tunnel as it is, and the
    sides of all the others stayed upright with it.
    """
    fins = box(90, 50, 12).translate([-45, -25, 0])
    slope = m3.CrossSection([np.array([[-25, 0], [25, 0], [25, 14], [-25, 28]], float)])
    for nth in range(6):
        fins += slope.extrude(5).rotate([90, 0, 90]).translate([-42.0 + 15 * nth, 0, 11])
    for x, y in ((38, 18), (-42, -18)):
        fins -= m3.Manifold.cylinder(60, 3, 3, 64, True).translate([x, y, 0])
    body = mesh_of(fins)
    made, done, left = wedged(fins, 2.0, guard=lambda made: phantom(body, made, 40 * tan(2.0), True))
    assert made is not None and done >= 15 and left <= 4
    assert lost(fins, made) < 1e-3


def _rib_on_a_cone() -> m3.Manifold:
    end = m3.Manifold.cylinder(6, 14, 14, 48).translate([70, 0, 0])
    rib = m3.Manifold.hull(end + box(8, 10, 50).translate([15, -5, 0]))
    return m3.Manifold.cylinder(80, 30, 22, 96) + rib


def _flange_on_a_pipe() -> m3.Manifold:
    disc = m3.Manifold.cylinder(8, 36, 36, 64) + m3.Manifold.cylinder(60, 20, 20, 96)
    return disc.rotate([0, 90, 0])


def _bracket() -> m3.Manifold:
    gusset = m3.CrossSection([np.array([[9, 9], [70, 9], [9, 70]], float)]).extrude(8).translate([0, 0, -4])
    ell = box(100, 10, 60) + box(10, 80, 60)
    return ell.translate([0, 0, -30]) + gusset


# The gusset's slope meets the bracket's wall at half a right angle: a crumb stays in that corner.
@pytest.mark.parametrize(
    ("solid", "crumb_mm2"),
    [(_rib_on_a_cone(), 0.02), (_flange_on_a_pipe(), 0.02), (_bracket(), 3.0)],
    ids=["rib", "flange", "bracket"],
)
def test_wedges_leave_no_slit_where_they_end_on_metal_or_on_each_other(solid: m3.Manifold, crumb_mm2: float) -> None:
    """All of these leave the sand by their own halves before, so they do after: what cannot is the inside of a slit
    between a wedge and the level face it stands on, the round that curves away beside it, or its neighbour.
    """
    made, done, _ = wedged(solid, 2.0)
    assert made is not None and done > 0
    reach = reach_along(made, UP)
    assert float(made.areas[~reach.up & ~reach.down].sum()) < crumb_mm2
    assert lost(solid, made) < 1e-3
