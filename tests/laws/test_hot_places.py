"""Places that a founder knows to be hot are hot: bosses, corners, hubs, crosses of ribs, ring feet: common practice."""

import manifold3d
import numpy as np
import pytest

from pounce.feeding.cures import cured
from pounce.feeding.judge import Law, counted
from pounce.freeze.heats import Poured, chvorinov, frozen, pad_mm
from pounce.freeze.lay import laid, spacing
from pounce.freeze.spots import Spot, spots_of
from pounce.freeze.values import Frozen, Mould
from tests.conftest import box, mesh_of

ALLOY = Poured("aluminium-silicon", "green-sand", 720.0)
LAW = Law(0.05, (0.2, 0.6), "", chvorinov(ALLOY))
Solid = manifold3d.Manifold


def alone(solid: Solid) -> Mould:
    """A casting in plenty of sand."""
    return Mould((mesh_of(solid),), None, (), (), (), 200.0, (400.0, 400.0), 200.0)


def cooled(solid: Solid, most: int = 150_000) -> Frozen:
    mould = alone(solid)
    pad = max(pad_mm(ALLOY, 1.5 * mould.castings[0].volume / mould.castings[0].area), 12.0)
    return frozen(laid(mould, spacing(mould, pad, most), pad), ALLOY, lambda _share, _at: None)


def hottest(made: Frozen) -> Spot:
    return max(spots_of(made), key=lambda one: one.seconds)


def boss_on_plate() -> Solid:
    """A boss of 22 on a plate of 8."""
    plate = box(110, 70, 8).translate([-55.0, -35.0, 0.0])
    return plate + Solid.cylinder(24.0, 11.0, 11.0, 48)


def test_a_boss_on_a_plate_is_hot_and_a_feeder_is_found_that_outlasts_it() -> None:
    made = cooled(boss_on_plate())
    spot = hottest(made)
    assert np.hypot(spot.at_mm[0], spot.at_mm[1]) < 5.0
    assert counted(made, LAW)[0][0] == spot
    found = cured(alone(boss_on_plate()), ALLOY, LAW, lambda _share: None)
    assert found.proved and found.uncured == 0 and len(found.rounds) == 1 and not found.chills and found.runs < 10
    one = found.rounds[0]
    # it stands on the boss, rounded up to whole formers, and does not dwarf it
    assert np.hypot(one.foot_mm[0], one.foot_mm[1]) < 6.0 and 20.0 <= one.foot_mm[2] <= 27.0
    assert one.wide_mm % 2.0 == 0.0 and 24.0 <= one.wide_mm <= 44.0 and one.neck_mm <= one.wide_mm


def test_the_inside_corner_of_a_right_angle_step_sets_after_its_legs() -> None:
    """Sand in the corner is heated from two sides."""
    made = cooled(box(80, 40, 10) + box(10, 40, 80))
    spot = hottest(made)
    assert spot.at_mm[0] < 14.0 and spot.at_mm[2] < 14.0
    grid = made.laid
    leg = made.near_s.ravel()[grid.cells.at(np.array([[60.0, 20.0, 5.0]]))[0]]
    assert spot.seconds > 1.1 * float(leg)


def test_a_cross_of_ribs_is_hot_where_they_cross() -> None:
    made = cooled(box(100, 8, 40).translate([-50.0, -4.0, 0.0]) + box(8, 100, 40).translate([-4.0, -50.0, 0.0]))
    spot = hottest(made)
    assert abs(spot.at_mm[0]) < 4.0 and abs(spot.at_mm[1]) < 4.0


def test_a_ring_foot_under_a_thin_bowl_is_hot() -> None:
    out = Solid.sphere(50.0, 64) - Solid.sphere(46.0, 64)
    bowl = out.trim_by_plane([0.0, 0.0, -1.0], 0.0)
    foot = Solid.cylinder(14.0, 22.0, 22.0, 64) - Solid.cylinder(14.0, 13.0, 13.0, 64)
    made = cooled(bowl + foot.translate([0.0, 0.0, -54.0]), 400_000)
    assert hottest(made).at_mm[2] < -38.0
    assert 10.0 < np.hypot(*hottest(made).at_mm[:2]) < 24.0


def test_the_hub_of_a_wheel_sets_last() -> None:
    rim = Solid.cylinder(14.0, 60.0, 60.0, 96) - Solid.cylinder(14.0, 50.0, 50.0, 96)
    spokes = box(110, 8, 8).translate([-55.0, -4.0, 3.0]) + box(8, 110, 8).translate([-4.0, -55.0, 3.0])
    made = cooled(rim + spokes + Solid.cylinder(24.0, 15.0, 15.0, 64))
    assert np.hypot(*hottest(made).at_mm[:2]) < 8.0


def test_an_even_plate_wants_nothing() -> None:
    assert counted(cooled(box(200, 150, 10)), LAW)[0] == ()


@pytest.mark.parametrize("metal", ["grey-iron", "yellow-brass", "silicon-bronze"])
def test_the_search_for_feeders_ends_whatever_the_metal(metal: str) -> None:
    poured = Poured(metal, "green-sand", 1340.0 if metal == "grey-iron" else 1140.0)
    found = cured(alone(boss_on_plate()), poured, LAW, lambda _share: None)
    assert found.runs <= 10 and found.proved


def test_where_nothing_can_stand_on_top_a_chill_is_laid() -> None:
    """A heavy lump hung under a thin wide sheet that is too thin to feed through."""
    sheet = box(160, 160, 4).translate([-80.0, -80.0, 0.0])
    lump = box(26, 26, 26).translate([-13.0, -13.0, -26.0])
    found = cured(alone(sheet + lump), ALLOY, LAW, lambda _share: None)
    assert found.rounds or found.chills
    assert found.proved
