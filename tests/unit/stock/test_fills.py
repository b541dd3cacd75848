"""Which holes a line of filling speaks of, and what it leaves to be drilled."""

import manifold3d as m3
import pytest

from pounce.job import edits
from pounce.job.job import Job
from pounce.job.stock_edits import add_line, set_axis
from pounce.metals.tables import limits
from pounce.route.pipeline import Pipeline
from pounce.route.stops import STOCK
from pounce.stock.values import Fill
from tests.conftest import model_of
from tests.unit.stock.helpers import stocked

M = m3.Manifold
BLOCK = M.cube([60, 40, 30])


def test_a_counterbore_goes_with_its_hole_out_of_the_table() -> None:
    holed = BLOCK - M.cylinder(40, 3, 3, 48).translate([20, 20, -5]) - M.cylinder(8, 5, 5, 48).translate([20, 20, 24])
    holed -= M.cylinder(40, 9, 9, 48).translate([42, 20, -5])
    assert {d.name for d in stocked(holed).need(STOCK).dimensions if d.kind == "bore"} == {"Bore"}
    assert sum(d.kind == "bore" for d in stocked(holed).need(STOCK).dimensions) == 3
    stock = stocked(holed, Fill()).need(STOCK)
    assert [d.wanted_mm for d in stock.dimensions if d.kind == "bore"] == pytest.approx([18.0], abs=1e-3)
    assert len(stock.drill) == 1


@pytest.mark.parametrize("cup", [8.0, 12.0])
def test_a_cup_over_an_oil_way_is_no_trouble(cup: float) -> None:
    """A cup of 12 over a way of 4 is a hole of its own, one of 8 the counterbore of its way; both are filled."""
    block = BLOCK - M.cylinder(40, 2, 2, 32).translate([20, 20, -5])
    block -= M.cylinder(9, cup / 2, cup / 2, 48).translate([20, 20, 22])
    stock = stocked(block, Fill(mark=False), height=0.0).need(STOCK)
    assert stock.lines[0].trouble == "" and stock.mesh.volume == pytest.approx(BLOCK.volume(), rel=1e-6)
    assert sorted(round(point.diameter_mm) for point in stock.drill) == ([4, 12] if cup == 12.0 else [4])


def test_more_than_an_alphabet_of_holes_have_names_of_their_own() -> None:
    plate = M.cube([130, 110, 6])
    for k in range(30):
        plate -= M.cylinder(20, 2, 2, 16).translate([12 + 20 * (k % 6), 12 + 20 * (k // 6), -5])
    names = [point.name for point in stocked(plate, Fill(mark=False)).need(STOCK).drill]
    assert len(set(names)) == 30 and names[0] == "A" and names[26] == "A2"


def test_drilling_places_follow_an_own_contraction() -> None:
    """Made for 1.2 %, but along x the metal contracts by 0.8 %: the hole comes out that much farther from the
    origin.
    """
    holed = BLOCK - M.cylinder(40, 3, 3, 48).translate([50, 20, -5])
    job = add_line(edits.set_draw(Job(), (0.0, 0.0, 1.0)).job, Fill()).job
    job = set_axis(job, "x", hindered="core").job
    stock = Pipeline().run(job, model_of(holed), until=STOCK).need(STOCK)
    assert stock.factors == pytest.approx((100 / 99.2, 100 / 98.8, 100 / 98.8))
    assert stock.drill[0].at_mm[0] == pytest.approx(
        50.0, abs=1e-3
    )  # pattern and casting agree: what was wanted comes out


def test_a_bore_of_just_the_limit_is_filled_and_one_a_hair_wider_is_not() -> None:
    """12 mm by the table, though its facets measure a little more than they were drawn."""
    under = limits()["bore_solid"].value
    for wide, filled in ((under, 1), (under + 0.05, 0)):
        holed = BLOCK - M.cylinder(40, wide / 2.0, wide / 2.0, 64).translate([30, 20, -5])
        assert len(stocked(holed, Fill(), height=15.0).need(STOCK).drill) == filled
