"""What Stock guesses of upright walls, and what the proof leaves of it."""

import manifold3d as m3

from pounce.job import edits
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.route.pipeline import Pipeline
from pounce.route.proof import GUESSED_OF_WALLS
from pounce.route.results import Results
from pounce.route.stops import PROOF, STOCK
from pounce.stock.values import Draft
from tests.conftest import box, model_of

M = m3.Manifold


def proved(solid: m3.Manifold, height: float, *lines: Draft) -> Results:
    job = edits.set_height(edits.set_draw(Job(), (0.0, 0.0, 1.0)).job, height).job
    for line in lines:
        job = add_line(job, line).job
    return Pipeline().run(job, model_of(solid), until=PROOF)


def guesses(results: Results) -> set[str]:
    return {one.code for one in STOCK.findings(results)} & set(GUESSED_OF_WALLS)


def test_a_ring_split_in_its_middle_wants_no_draft_for_the_strip_that_half_a_grain_covers() -> None:
    ring = M.revolve(m3.CrossSection.circle(9, 48).translate([40, 0]), 96)
    results = proved(ring, 0.0)
    assert "draft-wanted" in {one.code for one in results.need(STOCK).findings}  # as far as Stock can tell
    assert not guesses(results)


def test_a_block_whose_walls_drag_is_still_told_to_lean_them() -> None:
    results = proved(box(60, 40, 30), 0.0)
    assert guesses(results) == {"draft-wanted"}
    assert not guesses(proved(box(60, 40, 30), 0.0, Draft()))


def test_a_box_with_walls_of_many_drafts_holds_each_against_its_own() -> None:
    """Outside walls want half of what those of a small pocket do: leaned by their own, none is left tight."""
    part = box(120, 60, 60) - box(112, 52, 56).translate([4, 4, 6]) + box(20, 52, 30).translate([50, 4, 0])
    part += M.cylinder(35, 12, 12, 64).translate([20, 30, 0])
    results = proved(part, 0.0, Draft())
    stock = results.need(STOCK)
    assert stock.tight_mm2 < 0.02 * stock.mesh.area
    assert not guesses(results)
