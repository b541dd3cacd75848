"""Places that lock or are tight, each with its cures, and what was asked of them."""

import manifold3d as m3
import pytest

from pounce.base.finding import Severity
from pounce.job import core_edits, edits
from pounce.job.changes import take_remedy
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.route.pipeline import Pipeline
from pounce.route.places import Wish, place_findings, wishes_of
from pounce.route.results import Results
from pounce.route.stops import CORES, PARTING
from pounce.stock.values import Draft, Fill
from tests.conftest import box, model_of

M = m3.Manifold
UP = (0.0, 0.0, 1.0)
BORED = box(60, 40, 30) - M.cylinder(80, 5, 5, 48).rotate([0, 90, 0]).translate([-5, 20, 15])


def worked(solid: m3.Manifold, job: Job | None = None) -> Results:
    return Pipeline().run(edits.set_draw(job or Job(), UP).job, model_of(solid), until=CORES)


def test_a_cross_bore_locks_and_may_be_filled_or_cored() -> None:
    results = worked(BORED)
    found = place_findings(results)
    locked = [one for one in found if "holds sand" in one.words()]
    assert len(locked) == 1 and locked[0].severity is not Severity.NOTE
    assert {"fill"} <= {remedy.id for remedy in locked[0].remedies}
    assert locked[0].place_mm is not None and abs(locked[0].place_mm[2] - 15.0) <= 5.0 + 1e-6
    assert locked[0].figures


def test_each_cure_is_one_that_the_job_takes() -> None:
    results = worked(BORED)
    for one in place_findings(results):
        for remedy in one.remedies:
            if remedy.change is not None:
                assert take_remedy(results.job, remedy).job != results.job


def test_a_clean_block_has_nothing_that_locks() -> None:
    tapered = M.extrude(m3.CrossSection.square((60, 40), True), 30, 0, 0, (0.9, 0.9))
    assert not [one for one in place_findings(worked(tapered)) if "holds sand" in one.words()]


def test_wishes_are_what_lines_and_hollows_ask_at_a_place() -> None:
    at = (0.0, 20.0, 20.0)
    job = add_line(add_line(Job(), Fill(at)).job, Draft(2.0, only=((1.0, 2.0, 3.0),))).job
    job = core_edits.set_hollow(job, (5.0, 5.0, 5.0), "core").job
    job = core_edits.set_hollow(job, (6.0, 6.0, 6.0), "sand").job
    assert set(wishes_of(job)) == {Wish("fill", at), Wish("taper", (1.0, 2.0, 3.0)), Wish("core", (5.0, 5.0, 5.0))}
    assert wishes_of(add_line(Job(), Fill(at, on=False)).job) == ()
    assert wishes_of(add_line(Job(), Fill(under_mm=8.0)).job) == ()


@pytest.mark.parametrize("kind", ["fill", "core"])
def test_what_was_asked_of_a_place_is_said_there(kind: str) -> None:
    at = (30.0, 20.0, 20.0)
    job = add_line(Job(), Fill(at)).job if kind == "fill" else core_edits.set_hollow(Job(), at, "core").job
    before, after = place_findings(worked(BORED)), place_findings(worked(BORED, job))
    assert [one.words() for one in before] != [one.words() for one in after]


def test_without_a_joint_there_is_no_place() -> None:
    assert place_findings(Results(Job())) == ()
    partly = Pipeline().run(Job(), model_of(BORED), until=PARTING)
    assert place_findings(partly)
