"""Bores with a keyway in their wall, cast solid."""

import manifold3d as m3
import pytest

from pounce.export.drillplan import drill_csv
from pounce.job.job import Job
from pounce.plan.values import LineKind
from pounce.route.opening import with_model
from pounce.route.planner import Planner
from pounce.route.stops import STOCK
from pounce.stock.values import Fill
from tests.conftest import model_of
from tests.unit.stock.helpers import is_closed, stocked

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


def test_a_hole_that_is_open_along_its_side_says_so_and_not_what_is_said_of_cores() -> None:
    """It breaks through the edge of the plate: its rims run out of it there."""
    plate = M.cube([140, 100, 6]).translate([-70, -50, 0]) - M.cylinder(30, 4, 4, 64, True).translate([66.05, 0, 0])
    (line,) = stocked(plate, Fill(under_mm=12.0), height=0.0).need(STOCK).lines
    assert line.trouble.startswith("That hole is open along its side") and "core" not in line.trouble


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
