"""Places are named as a person would, and findings carry figures and cures that work."""

from pathlib import Path
from typing import Any

import manifold3d
import numpy as np
import pytest

from pounce.base.finding import Severity
from pounce.draw.changes import SetDraw
from pounce.job import edits
from pounce.job.changes import take_remedy
from pounce.job.job import Job
from pounce.parting.regions import _least_draft
from pounce.parting.values import State
from pounce.route.check import check, says_stop
from pounce.route.opening import open_any, with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results, Stop
from pounce.route.stops import DRAW, METAL, PART, PARTING, PATTERN
from tests.conftest import box, model_of
from tests.worked import UNPOURED

PLATE = box(80, 50, 20)


def run(solid: manifold3d.Manifold, job: Job | None = None, last: Stop[Any] = PARTING) -> Results:
    model = model_of(solid)
    return Pipeline().run(with_model(job or Job(), model), model, until=last)


def names(results: Results) -> list[tuple[str, str]]:
    assert results.parting is not None
    return [(region.state.name, region.words()) for region in results.parting.regions]


def test_holes_across_the_draw_are_named_with_their_diameter_and_counted() -> None:
    hole = manifold3d.Manifold.cylinder(100, 4, 4, 64, True).rotate([90, 0, 0])
    results = run(
        PLATE - hole.translate([20, 0, 10]) - hole.translate([60, 0, 10]), edits.set_draw(Job(), (0, 0, 1)).job
    )
    assert ("LOCKED", "two holes Ø 8\u00a0mm") in names(results)
    finding = next(f for f in DRAW.findings(results) if f.mark == "locked")
    assert finding.words() == "The two holes Ø 8\u00a0mm lie across the draw and hold sand."
    assert finding.figures["area_mm2"] == pytest.approx(2 * 2 * np.pi * 4 * 50, rel=0.01)
    assert finding.remedies[0].change == SetDraw((0.0, 1.0, 0.0))
    cured = run(
        PLATE - hole.translate([20, 0, 10]) - hole.translate([60, 0, 10]),
        take_remedy(results.job, finding.remedies[0]).job,
    )
    assert cured.parting is not None and cured.parting.locked_mm2 < 1.0


def test_an_upright_bore_is_tight_and_named() -> None:
    results = run(PLATE - manifold3d.Manifold.cylinder(60, 6, 6, 96, True).translate([40, 25, 0]))
    assert ("TIGHT", "bore Ø 12\u00a0mm") in names(results)
    said = next(f.words() for f in DRAW.findings(results) if "bore" in f.text)
    assert said == "The bore Ø 12\u00a0mm stands upright in the sand. It wants 4°, or a core."


def test_faces_are_named_by_the_side_they_look_to() -> None:
    results = run(box(30, 30, 30))
    assert names(results) == [("TIGHT", "four flat faces")]
    leaning = manifold3d.Manifold.hull_points(
        [
            [x * (30 - (z > 0) * i), y * (30 - (z > 0) * 3), z]
            for z in (0, 40)
            for x, i in ((1, 0.5), (-1, 3))
            for y in (1, -1)
        ]
    )
    assert ("TIGHT", "face at the right") in names(run(leaning))


def test_walls_that_half_a_grain_covers_are_only_a_note() -> None:
    results = run(manifold3d.Manifold.cylinder(20, 30, 28, 96) + box(8, 8, 1.0).translate([-4, -4, 20]))
    found = [f for f in DRAW.findings(results) if f.code == "tight-but-short"]
    assert len(found) == 1
    assert found[0].severity is Severity.NOTE
    assert not [f for f in DRAW.findings(results) if f.code == "tight"]


def test_a_wall_is_as_deep_as_each_half_leaves_of_it() -> None:
    """A cylinder split along its axis: the facets beside the joint stand upright, one to each side of it."""
    turned = manifold3d.Manifold.cylinder(60, 30, 30, 48, True).rotate([0, 90, 0])
    p = run(turned, edits.set_draw(Job(), (0, 0, 1)).job).parting
    assert p is not None and p.height_mm == pytest.approx(0.0, abs=1e-6)
    facet = 2.0 * 30.0 * np.sin(np.pi / 48)
    walls = [r for r in p.regions if r.state is State.TIGHT and r.note != "flat"]
    assert all(r.depth_mm < 1.01 * facet for r in walls)
    ends = [r for r in p.regions if r.state is State.TIGHT and r.note == "flat"]
    assert ends and max(r.depth_mm for r in ends) == pytest.approx(30.0, rel=1e-3)


@pytest.mark.parametrize(("leans", "drags"), [(1.2, True), (1.8, False)])
def test_a_wall_that_leans_nearly_as_asked_is_only_a_note(leans: float, drags: bool) -> None:
    """2 degrees are asked of a wall of 40 mm; three quarters of it let go with a light rap (common practice)."""
    wide = 40.0 * np.tan(np.radians(leans))
    results = run(
        manifold3d.Manifold.hull_points(
            [
                [x * (40 - (z > 0) * wide), y * (40 - (z > 0) * wide), z]
                for z in (0, 40)
                for x in (1, -1)
                for y in (1, -1)
            ]
        )
    )
    codes = {finding.code: finding for finding in DRAW.findings(results)}
    assert ("tight" in codes) is drags and ("tight-but-near" in codes) is not drags
    if not drags:
        near = codes["tight-but-near"]
        assert near.severity is Severity.NOTE and near.figures["least_draft_deg"] == pytest.approx(leans, abs=0.05)


def test_regions_add_up_to_the_areas() -> None:
    hole = manifold3d.Manifold.cylinder(100, 4, 4, 64, True).rotate([90, 0, 0]).translate([20, 0, 10])
    p = run(PLATE - hole).parting
    assert p is not None
    for state, total in ((State.LOCKED, p.locked_mm2), (State.TIGHT, p.tight_mm2)):
        assert sum(r.area_mm2 for r in p.regions if r.state is state) == pytest.approx(total, rel=0.02, abs=1.0)
    assert set(np.unique(p.judged.region)) == {-1, *range(len(p.regions))}


def test_an_own_height_that_locks_more_is_said_with_the_better_one() -> None:
    ball = manifold3d.Manifold.sphere(20, 96)
    job = edits.set_height(edits.set_draw(Job(), (0, 0, 1)).job, 12.0).job
    finding = next(f for f in PARTING.findings(run(ball, job)) if f.code == "parting-not-best")
    assert finding.figures["locked_mm2"] > finding.figures["best_locked_mm2"]
    cured = run(ball, take_remedy(job, finding.remedies[0]).job)
    assert cured.parting is not None
    assert cured.parting.height_mm == pytest.approx(0.0, abs=0.2)


def test_a_burned_out_pattern_need_not_draw_and_stays_whole() -> None:
    hole = manifold3d.Manifold.cylinder(100, 4, 4, 64, True).rotate([90, 0, 0]).translate([20, 0, 10])
    results = run(PLATE - hole, edits.set_pattern_kind(Job(), "foam-burned-out").job, PATTERN)
    assert [f.code for f in DRAW.findings(results)] == ["nothing-draws"]
    assert results.pattern is not None
    assert [piece.role for piece in results.pattern.pieces] == ["pattern"]


def test_an_original_part_keeps_its_size_and_says_what_comes_out() -> None:
    results = run(manifold3d.Manifold.sphere(20, 48), edits.set_pattern_kind(Job(), "original-part").job, PATTERN)
    assert results.pattern is not None
    assert results.pattern.factor == 1.0
    assert len(results.pattern.pieces) == 1
    assert "original-makes-smaller" in {f.code for f in METAL.findings(results)}
    assert "whole-on-a-follow-board" in {f.code for f in PATTERN.findings(results)}


def test_thin_walls_are_judged_by_the_metal() -> None:
    thin = PLATE + box(30, 2.5, 40).translate([10, 10, 0])
    iron = run(thin, edits.set_metal(Job(), "grey-iron").job)
    finding = next(f for f in PART.findings(iron) if f.code == "thin-wall")
    assert finding.figures == pytest.approx({"least_wall_mm": 2.5, "wanted_mm": 5.0}, rel=1e-4)
    pewter = run(thin, edits.set_metal(Job(), "pewter").job)
    assert not [f for f in PART.findings(pewter) if f.code == "thin-wall"]


def test_loose_sand_says_stop(arm: Path) -> None:
    job, model = open_any(arm)
    results = Pipeline().run(edits.set_mould(job, "loose-sand").job, model, skip=UNPOURED)
    assert says_stop(check(results, model))
    assert not says_stop(check(Pipeline().run(job, model, skip=UNPOURED), model))


def test_results_are_kept_and_made_anew_only_downstream(arm: Path) -> None:
    job, model = open_any(arm)
    line = Pipeline()
    first = line.run(job, model, skip=UNPOURED)
    other = line.run(edits.set_metal(job, "copper").job, model, skip=UNPOURED)
    assert other.parting is first.parting
    assert other.draw is first.draw
    assert other.pattern is not first.pattern
    assert line.run(job, model).pattern is first.pattern


def test_findings_speak_in_the_units_of_the_reader() -> None:
    ball = manifold3d.Manifold.sphere(25.4, 96)
    job = edits.set_height(edits.set_draw(Job(), (0, 0, 1)).job, 12.7).job
    finding = next(f for f in PARTING.findings(run(ball, job)) if f.code == "parting-not-best")
    assert "{" not in finding.words("mm") + finding.words("in")
    assert "mm" in finding.words("mm") and "sq in" in finding.words("in")
    assert "mm" not in finding.words("in")


def test_many_small_places_that_lock_leave_none_out_that_drags() -> None:
    """Thirty slots along the draw's side, each of another depth, and walls that stand upright beside them."""
    comb = box(400, 60, 20)
    for nth in range(30):
        comb -= box(4 + 0.1 * nth, 3 + 0.5 * nth, 6).translate([8 + 12.5 * nth, 0, 7])
    found = run(comb, edits.set_draw(Job(), (0, 0, 1)).job).parting
    assert found is not None
    for state, area in ((State.LOCKED, found.locked_mm2), (State.TIGHT, found.tight_mm2)):
        named = sum(region.area_mm2 for region in found.regions if region.state is state)
        assert named == pytest.approx(area, rel=0.05), state
    assert sum(region.count for region in found.regions if region.state is State.LOCKED) >= 30
    assert any(region.name.endswith("small hollows") for region in found.regions)


def test_slivers_of_a_place_tell_nothing_of_its_draft() -> None:
    """A wall leaned four degrees with a triangle of 0.03 mm2 upright stands upright to nobody; a strip of it does."""
    drafts, areas = np.array([-0.1, 3.95, 3.98]), np.array([0.03, 40.0, 29.0])
    assert _least_draft(drafts, areas) == 3.95
    assert _least_draft(drafts, np.array([2.0, 40.0, 29.0])) == -0.1
    assert _least_draft(drafts, np.array([6.0, 4000.0, 2900.0])) == -0.1, (
        "more than drags unfelt, however large the wall"
    )
    assert _least_draft(np.array([1.0]), np.array([0.5])) == 1.0
