"""Bores with a keyway in their wall, cast solid."""

import manifold3d as m3
import pytest

from pounce.export.drillplan import drill_csv
from pounce.job.job import Job
from pounce.plan.values import LineKind
from pounce.route.opening import with_model
from pounce.route.planner import Planner
from pounce.route.stops import STOCK
from pounce.solid.boolean import closed_solid
from pounce.stock.values import Fill
from tests.conftest import model_of
from tests.unit.stock.helpers import is_closed, lost, polygon_area, stocked

M = m3.Manifold
SIDES = 96
HUB = M.cylinder(30, 30, 30, SIDES)
BORE = M.cylinder(60, 10, 10, SIDES, True)
KEY = M.cube([6, 12.8, 80], True).translate([0, 6.4, 0])


@pytest.mark.parametrize("keys", [1, 2])
def test_it_is_filled_with_its_keyway_which_is_cut_after(keys: int) -> None:
    """Nothing of the bore is left: what is filled is the plain hub, to the corner."""
    keyed = HUB - BORE - KEY if keys == 1 else HUB - BORE - KEY - KEY.rotate([0, 0, 180])
    stock = stocked(keyed, Fill((10.0, 0.0, 15.0), mark=False), height=0.0).need(STOCK)
    (line,) = stock.lines
    assert line.trouble == "" and is_closed(stock.mesh) and line.about.endswith("its keyway to be cut after it")
    assert stock.mesh.volume == pytest.approx(HUB.volume(), rel=1e-6)
    (point,) = stock.drill
    assert point.keyed and point.through and point.diameter_mm == pytest.approx(20.0, abs=0.02)
    assert point.at_mm[:2] == pytest.approx((0.0, 0.0), abs=0.02), "it is bored about its own axis"
    assert point.deep_words("30 mm deep") == "through, then its keyway"
    assert drill_csv((point,)).decode().splitlines()[1].endswith("yes,no,yes")


def test_a_plain_bore_has_no_keyway() -> None:
    stock = stocked(HUB - BORE, Fill((0.0, -10.0, 15.0), mark=False), height=0.0).need(STOCK)
    assert not stock.drill[0].keyed and "keyway" not in stock.lines[0].about


def test_a_bore_whose_wall_opens_into_more_than_a_keyway_is_not_filled() -> None:
    """A chamber beside it holds far more than the bore: filling it would cast a hollow solid."""
    wide = M.cube([60, 60, 40]).translate([-30, -30, 0]) - BORE.translate([0, 0, 10])
    stock = stocked(wide - M.cube([16, 26, 60], True).translate([0, 14, 20]), Fill((0.0, -10.0, 15.0))).need(STOCK)
    assert stock.lines[0].trouble and not stock.drill


def test_a_hole_that_opens_into_a_slot_is_filled_and_the_slot_is_left() -> None:
    """Its side lacks where the slot is, and the slot's far wall stands before it."""
    slotted = M.cube([140, 100, 12]).translate([-70, -50, 0]) - M.cube([6, 60, 20]).translate([1.5, -30, -5])
    stock = stocked(slotted - M.cylinder(40, 4, 4, 64, True), Fill((-4.0, 0.0, 8.0), mark=False), height=0.0)
    assert not stock.need(STOCK).lines[0].trouble and is_closed(stock.need(STOCK).mesh)
    assert stock.need(STOCK).mesh.volume == pytest.approx(slotted.volume(), rel=1e-9)


@pytest.mark.parametrize("reach", [0.8, 2.0, 3.9])
def test_a_hole_that_breaks_through_an_edge_is_filled_flush_with_it(reach: float) -> None:
    """From rim to rim: what is cast is the plate before it was drilled, to the corner."""
    whole = M.cube([140, 100, 6]).translate([-70, -50, 0])
    plate = whole - M.cylinder(30, 4, 4, 64, True).translate([70.0 - reach, 0, 0])
    stock = stocked(plate, Fill(under_mm=12.0, mark=False), height=0.0).need(STOCK)
    assert not stock.lines[0].trouble and is_closed(stock.mesh)
    assert stock.mesh.volume == pytest.approx(whole.volume(), rel=1e-9)
    proud = stocked(plate, Fill(under_mm=12.0, mark=False, proud_mm=2.0), height=0.0).need(STOCK).mesh
    section = whole.volume() / 6.0 - plate.volume() / 6.0
    assert is_closed(proud) and proud.volume == pytest.approx(whole.volume() + 4.0 * section, rel=1e-8)
    (point,) = stock.drill
    assert point.through and point.at_mm[:2] == pytest.approx((70.0 - reach, 0.0), abs=0.02)


def test_it_is_filled_in_each_fin_that_it_breaks_through_and_as_a_hole_where_it_is_whole() -> None:
    """A stud's hole down the fins of a cylinder: nothing is laid between them."""
    foot = M.cube([80, 80, 8]).translate([-40, -40, 0])
    fins = [M.cylinder(3, 30, 30, SIDES).translate([0, 0, 20 + 10 * k]) for k in range(3)]
    whole = M.batch_boolean([foot, M.cylinder(50, 20, 20, SIDES), *fins], m3.OpType.Add)
    stock = stocked(whole - M.cylinder(200, 3, 3, 48, True).translate([28, 0, 0]), Fill(under_mm=8.0, mark=False))
    assert not stock.need(STOCK).lines[0].trouble and is_closed(stock.need(STOCK).mesh)
    assert stock.need(STOCK).mesh.volume == pytest.approx(whole.volume(), rel=3e-4)
    drilled = whole - M.cylinder(200, 3, 3, 48, True).translate([28, 0, 0])
    proud = stocked(drilled, Fill(under_mm=8.0, mark=False, proud_mm=1.0)).need(STOCK).mesh
    full, cut = polygon_area(3.0, 48), (stock.need(STOCK).mesh.volume - drilled.volume() - 8 * polygon_area(3, 48)) / 9
    assert is_closed(proud)
    assert proud.volume - stock.need(STOCK).mesh.volume == pytest.approx(2 * full + 6 * cut, rel=1e-3)
    assert lost(whole, stock.need(STOCK).mesh) < 40.0, "the rim of a fin runs straight between the hole's own rims"


@pytest.mark.parametrize("aside", [0.0, 9.0])
def test_a_hole_into_a_round_face_is_filled_as_the_face_runs(aside: float) -> None:
    """Its wall is longer on one side too; a solid from rim to rim would stand out of the boss."""
    boss = M.cylinder(40, 20, 20, SIDES) - M.cylinder(60, 5, 5, SIDES, True)
    hole = M.cylinder(40, 2.5, 2.5, 32).rotate([0, 90, 0]).translate([6 if aside else 0, aside, 20])
    stock = stocked(boss - hole, Fill(under_mm=8.0, mark=False), height=0.0).need(STOCK)
    filled = closed_solid(stock.mesh)
    assert not stock.lines[0].trouble and filled is not None
    assert float((filled - boss).volume()) < 1.0 and lost(boss, stock.mesh) < 3.0


def test_a_hole_with_a_counterbore_at_an_edge_is_filled_as_both_are_wide() -> None:
    whole = M.cube([80, 60, 12]).translate([-40, -30, 0])
    tool = M.cylinder(40, 3, 3, 48, True) + M.cylinder(20, 6, 6, 48).translate([0, 0, 8])
    stock = stocked(whole - tool.translate([38, 0, 0]), Fill(under_mm=8.0, mark=False), height=0.0).need(STOCK)
    assert not stock.lines[0].trouble and stock.mesh.volume == pytest.approx(whole.volume(), rel=1e-9)


@pytest.mark.parametrize(("reach", "marks"), [(0.8, 0), (3.9, 1)])
def test_a_centre_mark_beside_an_edge_is_left_out(reach: float, marks: int) -> None:
    """It would break out of the edge, and its dent would hold the sand that the pattern is lifted off."""
    plate = M.cube([140, 100, 6]).translate([-70, -50, 0]) - M.cylinder(30, 4, 4, 64, True).translate(
        [70 - reach, 0, 0]
    )
    stock = stocked(plate, Fill(under_mm=12.0), height=0.0).need(STOCK)
    assert stock.drill[0].marked == bool(marks) and stock.lines[0].figures["marked"] == marks


def test_a_pulley_is_planned_with_its_set_screw_drilled_and_its_bore_bored() -> None:
    """It was laid on its side with a core of three mouths: ten hours for what takes five."""
    body = M.cylinder(20, 45, 45, SIDES) + M.cylinder(35, 18, 18, SIDES).translate([0, 0, 20])
    body -= M.cylinder(200, 9, 9, SIDES, True)
    body -= M.cube([5, 24, 200], True).translate([0, 0, 0])
    body -= M.cylinder(30, 3, 3, 24).rotate([0, 90, 0]).translate([0, 0, 46])
    model = model_of(body, name="pulley")
    best = Planner(with_model(Job(), model), model).plans()[0]
    assert best.leaves and best.cores == 0 and abs(best.direction[2]) > 0.99
    said = {line.kind: line.words() for line in best.lines}
    assert said[LineKind.HOLES] == "Fill the small hole" and said[LineKind.BORE] == "Cast the 18\u00a0mm bore solid"
