"""Holes filled, marked and drilled after casting."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.metals.tables import limits
from pounce.route.stops import STOCK
from pounce.solid.sound import soundness
from pounce.stock.values import Fill, Fillets, Machining
from tests.unit.stock.helpers import change, is_closed, polygon_area, stocked

M = m3.Manifold
BLOCK = M.cube([60, 40, 30])


def test_a_countersunk_hole_is_filled_flush_and_marked() -> None:
    holed = BLOCK - M.cylinder(40, 3, 3, 48).translate([20, 20, -5]) - M.cylinder(3, 3, 6, 48).translate([20, 20, 27])
    results = stocked(holed, Fill(), height=15.0)
    stock = results.need(STOCK)
    r = limits()["centre_mark"].value / 2.0
    mark = np.pi / 3 * r * r * r  # a cone of 90 degrees
    assert is_closed(stock.mesh)
    assert stock.mesh.volume == pytest.approx(60 * 40 * 30 - 2 * mark, abs=0.12 * mark)
    point = stock.drill[0]
    assert point.through and point.diameter_mm == pytest.approx(6.0, abs=1e-3)
    assert np.abs(np.array(point.at_mm)[:2] - 20).max() < 1e-3


@pytest.mark.parametrize("deep", [-1.0, 14.0])
def test_a_hole_in_a_tapered_boss_is_filled_and_the_boss_stays(deep: float) -> None:
    """The cone of its outside stands about the hole's axis as a countersink does, and is none of the hole."""
    boss = BLOCK + M.cylinder(24, 7.5, 6, 96).translate([30, 20, 29.9])
    stock = stocked(boss - M.cylinder(80, 3, 3, 48).translate([30, 20, deep]), Fill(), height=15.0).need(STOCK)
    assert not stock.lines[0].trouble and is_closed(stock.mesh)
    (point,) = stock.drill
    assert point.through is (deep < 0.0) and point.diameter_mm == pytest.approx(6.0, abs=1e-3)
    r = limits()["centre_mark"].value / 2.0
    mark = np.pi / 3 * r * r * r
    assert stock.mesh.volume == pytest.approx(boss.volume() - (1 + (deep < 0.0)) * mark, abs=0.2 * mark)


def test_a_hollow_inside_the_part_stays_hollow() -> None:
    """A void of the part's own is no crumb of a union."""
    hollow = BLOCK - M.sphere(8, 48).translate([30, 20, 15])
    assert change(stocked(hollow, Machining((30.0, 20.0, 30.0), own_mm=1.0))) == pytest.approx(60 * 40, rel=1e-3)
    both = stocked(hollow, Machining((30.0, 20.0, 30.0), own_mm=1.0), Fillets(radius_mm=0.0, ease_mm=1.0), height=0.0)
    assert both.need(STOCK).mesh.volume == pytest.approx(hollow.volume() + 60 * 40, rel=5e-3)


def test_a_hole_in_a_wall_gets_no_mark_that_would_lock() -> None:
    holed = BLOCK - M.cylinder(80, 3, 3, 48).rotate([0, 90, 0]).translate([-5, 20, 15])
    stock = stocked(holed, Fill(proud_mm=1.0), height=15.0).need(STOCK)
    assert not stock.drill[0].marked
    assert stock.mesh.size[0] == pytest.approx(62.0, abs=1e-4)
    assert stock.mesh.volume == pytest.approx(60 * 40 * 30 + 2 * polygon_area(3, 48), rel=1e-5)


def test_a_hole_whose_rim_runs_over_a_ridge_is_closed_along_it() -> None:
    """A bar that is drafted both ways from the middle, bored through its ends: filled it is the bar again."""
    half = m3.CrossSection([np.array([[-40, 0], [40, 0], [39, 15], [-39, 15]], float)]).extrude(30)
    bar = (half + half.mirror([0, 1, 0])).rotate([90, 0, 0]).translate([0, 15, 0])
    bored = bar - M.cylinder(100, 4, 4, 48, True).rotate([0, 90, 0])
    stock = stocked(bored, Fill(), height=0.0).need(STOCK)
    assert is_closed(stock.mesh)
    assert stock.mesh.volume == pytest.approx(bar.volume(), rel=1e-9), "no mark: along the draw it would lock"
    ends = np.abs(stock.mesh.normals[:, 0]) > 0.99
    lean = np.degrees(np.arcsin(np.abs(stock.mesh.normals[ends, 2])))
    assert lean == pytest.approx(np.degrees(np.arctan(1.0 / 15.0)), abs=0.01)


def broken_out() -> m3.Manifold:
    """A block with a hole along x that a groove in the side breaks into over a part of its length."""
    holed = BLOCK - M.cylinder(80, 3, 3, 48).rotate([0, 90, 0]).translate([-5, 5, 15])
    return holed - M.cube([10, 3, 14]).translate([25, 0, 8])


def test_a_hole_that_breaks_out_beside_is_closed_there_as_its_wall_runs() -> None:
    """Filled up to something between the chord over the groove's floor and the hole's own round."""
    stock = stocked(broken_out(), Fill(), height=15.0).need(STOCK)
    assert is_closed(stock.mesh) and soundness(stock.mesh).bodies == 1 and not stock.lines[0].trouble
    flush = 60 * 40 * 30 - 10 * 3 * 14
    segment = float((M.cylinder(10, 3, 3, 48).rotate([0, 90, 0]) ^ M.cube([20, 1, 8]).translate([-5, -3, -4])).volume())
    assert segment > 10.0
    assert flush - 1e-3 <= stock.mesh.volume <= flush + segment + 1e-3
    (hole,) = stock.drill
    assert hole.through and hole.depth_mm == pytest.approx(60.0) and abs(hole.way[0]) == pytest.approx(1.0)
