"""What Cores says of hollows and cores."""

import manifold3d as m3
import pytest

from pounce.base.finding import Finding, Severity
from pounce.job import core_edits, edits
from pounce.job.changes import take_remedy
from pounce.job.job import Job
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import CORES, STOCK
from tests.conftest import box, model_of
from tests.unit.cores.helpers import SIDES, M, block, cored


def test_a_hollow_is_refused_asked_again_and_filled_instead() -> None:
    job = edits.set_height(edits.set_draw(Job(), (0.0, 0.0, 1.0)).job, 0.0).job
    model = model_of(block())
    offered = Pipeline().run(job, model, until=CORES).need(CORES)
    assert not offered.cores
    said = next(f for f in offered.findings if f.code == "hollow-0")
    assert {r.id for r in said.remedies} == {"core-it", "drill-it", "sand-it"}
    by = {r.id: r for r in said.remedies}
    sand = take_remedy(job, by["sand-it"]).job
    left = Pipeline().run(sand, model, until=CORES).need(CORES)
    assert not left.cores
    assert left.offers[0].make == "sand"
    again = take_remedy(sand, next(r for f in left.findings for r in f.remedies if r.id == "hollow-undo")).job
    assert again.cores.hollows == ()
    filled = Pipeline().run(take_remedy(job, by["drill-it"]).job, model, until=CORES)
    assert filled.need(STOCK).drill
    assert not filled.need(CORES).offers
    made = Pipeline().run(take_remedy(job, by["core-it"]).job, model, until=CORES).need(CORES)
    assert len(made.cores) == 1


def test_a_burned_out_pattern_needs_no_core() -> None:
    job = edits.set_pattern_kind(Job(), "foam-burned-out").job
    found = Pipeline().run(job, model_of(block()), until=CORES).need(CORES)
    assert [f.code for f in found.findings] == ["no-core"]


def test_a_plain_block_has_no_hollow() -> None:
    found = (
        Pipeline().run(edits.set_draw(Job(), (0.0, 0.0, 1.0)).job, model_of(box(40, 30, 20)), until=CORES).need(CORES)
    )
    assert not found.offers
    assert not found.findings


def said(results: Results) -> dict[str, Finding]:
    return {one.code.rstrip("0123456789-"): one for one in results.need(CORES).findings}


@pytest.mark.parametrize(
    ("mouth", "said"),
    [
        (M.cube([100, 10, 40], True), "slot, 10\u00a0mm wide"),
        (M.cube([100, 24, 24], True).rotate([30, 0, 0]), "opening, 24\u00a0mm wide"),
        (M.cylinder(100, 12, 12, SIDES, True).rotate([0, 90, 0]), "bore, 24\u00a0mm through"),
    ],
)
def test_what_goes_straight_through_is_called_by_its_mouth(mouth: m3.Manifold, said: str) -> None:
    """A slot of 10 by 40 was a bore of 23 mm, as a circle of its area has it."""
    offers = cored(M.cube([80, 60, 60], True) - mouth).need(CORES).offers
    assert [offer.words() for offer in offers] == [said]


def test_a_bore_too_thin_for_a_core_is_drilled() -> None:
    """Eight millimetres through 300: a core of that breaks."""
    long = M.cube([300, 40, 40], True) - M.cylinder(320, 4, 4, SIDES, True).rotate([0, 90, 0])
    results = cored(long, height=0.0)
    found = results.need(CORES)
    assert not found.cores and "drill it" in said(results)["hollow"].words()
    job = take_remedy(results.job, said(results)["hollow"].remedies[0]).job
    after = Pipeline().run(job, model_of(long), until=CORES)
    assert not after.need(CORES).offers and after.need(STOCK).drill


def test_what_is_said_of_a_place_without_a_hollow_names_it() -> None:
    job = edits.set_height(edits.set_draw(Job(), (0.0, 0.0, 1.0)).job, 0.0).job
    off = core_edits.set_hollow(job, (40.0, 20.0, 20.0), "core").job
    found = Pipeline().run(off, model_of(block()), until=CORES).need(CORES)
    one = next(f for f in found.findings if f.code.startswith("no-hollow"))
    assert one.severity is not Severity.NOTE and not found.cores


def test_small_holes_that_run_into_a_hollow_are_told_to_be_drilled_and_are_gone_with_it() -> None:
    """An arm of 5 mm on a core of 28 breaks: a set screw is drilled, and the core is plain."""
    collar = M.cylinder(60, 25, 25, SIDES, True) - M.cylinder(80, 14, 14, SIDES, True)
    for z in (-15.0, 15.0):
        collar -= M.cylinder(60, 2.5, 2.5, 48).rotate([-90, 0, 0]).translate([0.0, 0.0, z])
    model = model_of(collar.rotate([0, 90, 0]))
    job = edits.set_height(edits.set_draw(Job(), (0.0, 0.0, 1.0)).job, 0.0).job
    before = Pipeline().run(job, model, until=CORES).need(CORES)
    said = next(f for f in before.findings if f.code == "holes-into-hollows")
    assert not said.informational and said.words().startswith("Two small holes run into a hollow")
    assert before.offers[0].openings == 4 and before.offers[0].holes == 2
    filled = take_remedy(job, said.remedies[0]).job
    after = Pipeline().run(core_edits.set_cores(filled, every=True).job, model, until=CORES).need(CORES)
    assert not any(f.code == "holes-into-hollows" for f in after.findings)
    assert [len(core.prints) for core in after.cores] == [2] and after.offers[0].name.startswith("bore")
