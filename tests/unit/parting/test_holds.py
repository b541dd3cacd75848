"""What really holds sand: a hole does; a film and what rapping frees do not."""

import manifold3d
import pytest

from pounce.job import edits
from pounce.job.job import Job
from pounce.parting.values import FREE, State, held_mm2
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.stops import DRAW, PARTING
from tests.conftest import box, model_of

M = manifold3d.Manifold


def held(solid: manifold3d.Manifold) -> tuple[float, list[float], list[str]]:
    """Surface that holds sand, the shares of what locks, and what Draw says; drawn straight up."""
    model = model_of(solid)
    results = Pipeline().run(edits.set_draw(with_model(Job(), model), (0.0, 0.0, 1.0)).job, model, until=PARTING)
    parting = results.need(PARTING)
    shares = [region.held for region in parting.regions if region.state is State.LOCKED]
    return held_mm2(parting), shares, [finding.code for finding in DRAW.findings(results) if not finding.informational]


def test_a_hole_across_the_draw_holds_all_round() -> None:
    hole = M.cylinder(100, 5, 5, 64, True).rotate([90, 0, 0]).translate([30, 20, 15])
    surface, shares, codes = held(box(60, 40, 30) - hole)
    # half its wall lies in each half, and most of that looks the wrong way: the rest is freed by nothing
    assert shares and min(shares) > 0.6 and "locked" in codes
    assert surface > 0.5 * 3.14159 * 10 * 40 * 0.5


@pytest.mark.parametrize("slit", [0.2, 0.5])
def test_sand_thinner_than_it_can_form_locks_nothing(slit: float) -> None:
    """A saw cut into the side, thinner than five grains of green sand (0.75 mm)."""
    surface, shares, codes = held(box(60, 40, 30) - box(4, 50, slit).translate([-1, -5, 20]))
    assert surface == 0.0 and all(share < 0.2 for share in shares) and "locked" not in codes


def test_what_rapping_frees_is_a_crumb() -> None:
    """A side that leans back by 0.3 mm over its height: rapped 0.4 each way, its sand is free."""
    leaning = M.hull_points(
        [[x + 0.3 * (z == 30) * (x == 60), y, z] for x in (0, 60) for y in (0, 40) for z in (0, 30)]
    )
    surface, _, codes = held(leaning)
    assert surface == 0.0 and "locked" not in codes
    steep = M.hull_points([[x + 4.0 * (z == 30) * (x == 60), y, z] for x in (0, 60) for y in (0, 40) for z in (0, 30)])
    back = edits.set_height(edits.set_draw(with_model(Job(), model_of(steep)), (0.0, 0.0, 1.0)).job, 30.0).job
    parting = Pipeline().run(back, model_of(steep), until=PARTING).need(PARTING)
    assert parting.locked_mm2 < FREE * parting.area_mm2 or held_mm2(parting) > 0.0
