"""What came of lines of a plan, on small parts."""

from dataclasses import replace

import manifold3d as m3
import pytest

from pounce.base.errors import UserFault
from pounce.base.progress import silent
from pounce.draw.changes import SetDraw
from pounce.hollows import find
from pounce.job.job import Job
from pounce.parting.changes import AskFor, SetGroove, SetHeight
from pounce.plan.values import Line, LineKind
from pounce.route.opening import with_model
from pounce.route.planner import Planner
from pounce.route.tried import failure_of, is_hopeless, much_filled
from tests.conftest import model_of
from tests.shapes import SHAPES


def test_what_holds_far_more_sand_than_a_draw_that_was_freed_is_not_mended() -> None:
    model = model_of(SHAPES["bracket"](), name="bracket")
    plans = Planner(with_model(Job(), model), model)
    line = Line(LineKind.DRAW, "Draw", "", (SetDraw((0.0, 0.0, 1.0)),))
    tried = plans._tried((line,), silent)
    assert tried is not None
    little, much, most = (replace(tried, plan=replace(tried.plan, held_mm2=mm2)) for mm2 in (40.0, 150.0, 900.0))
    assert not is_hopeless(much, little) and is_hopeless(most, little)


@pytest.mark.parametrize(("apart", "much"), [(4.0, False), (30.0, True)])
def test_a_fill_of_more_than_a_quarter_of_the_metal_is_another_part(apart: float, much: bool) -> None:
    """A pump lay flat for 314 cm3 of filling in a part of 202: what a plan fills is milled from the solid again."""
    spool = m3.Manifold.cylinder(apart + 20.0, 10, 10, 64)
    for z in (0.0, apart + 10.0):
        spool += m3.Manifold.cylinder(10, 20, 20, 64).translate([0, 0, z])
    model = model_of(spool, name="spool")
    plans = Planner(with_model(Job(), model), model)
    fill = Line(LineKind.UNDERCUT, "Fill", "", (AskFor("fill", (10.0, 0.0, 10.0 + apart / 2.0)),))
    draw = Line(LineKind.DRAW, "Draw", "", (SetDraw((0.0, 0.0, 1.0)), SetHeight(0.0)))
    tried = plans._tried((draw, fill), silent)
    assert tried is not None and much_filled(fill, tried) is much and not much_filled(draw, tried)


def test_a_pulley_whose_ring_core_cannot_be_made_is_not_planned_with_it(monkeypatch: pytest.MonkeyPatch) -> None:
    """The line that failed goes out of the plan, with the reason, and the next cure is tried."""

    def never(*_: object) -> None:
        raise UserFault("No ring closes it.", "Fill it.")

    monkeypatch.setattr(find, "ring_hollow", never)
    profile = [(0, 0), (40, 0), (40, 10), (30, 14), (30, 20), (40, 24), (40, 34), (0, 34)]
    model = model_of(m3.CrossSection([profile]).revolve(64), name="pulley")
    plans = Planner(with_model(Job(), model), model)
    draw = Line(LineKind.DRAW, "Draw", "", (SetDraw((0.0, 0.0, 1.0)),))
    ring = Line(LineKind.UNDERCUT, "A ring core", "", (SetGroove("ring-core"),))
    tried = plans._tried((draw, ring), silent)
    assert tried is not None and "No ring closes it." in failure_of(ring, tried)
    assert failure_of(draw, tried) == ""


@pytest.mark.parametrize("locks", [False, True])
def test_what_could_not_be_made_is_told_where_sand_is_held_for_want_of_it(locks: bool) -> None:
    """A hinge leaf leaves the sand without the core that failed: nobody needs to hear of it."""
    block = m3.Manifold.cube([60, 40, 30])
    if locks:
        block -= m3.Manifold.cylinder(100, 9, 9, 64, True).rotate([90, 0, 0]).translate([30, 20, 18])
    model = model_of(block, name="block")
    plans = Planner(with_model(Job(), model), model)
    draw = Line(LineKind.DRAW, "Draw", "", (SetDraw((0.0, 0.0, 1.0)), SetHeight(0.0)))
    tried = plans._tried((draw,), silent, ("The core could not be made.",))
    assert tried is not None and tried.plan.leaves is not locks
    assert ("The core could not be made." in tried.plan.left) is locks
