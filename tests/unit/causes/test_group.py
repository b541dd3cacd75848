"""Causes of whole parts: what a master would say first, and every open finding in exactly one."""

import manifold3d
import pytest

from pounce.causes.claims import Claims
from pounce.causes.values import CausesResult, Claim, Harm, Rule
from pounce.causes.words import About, cause_of
from pounce.job import edits
from pounce.job.changes import made
from pounce.job.job import Job
from pounce.route.causes import causes_keys
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import CAUSES, stops
from tests.conftest import box, model_of
from tests.shapes import SHAPES
from tests.worked import UNPOURED


def worked(name: str) -> tuple[Results, CausesResult]:
    model = model_of(SHAPES[name](), name=name)
    results = Pipeline().run(with_model(Job(), model), model, skip=UNPOURED)
    return results, results.need(CAUSES)


# What a moulder would name first on each (common practice, from the trade).
FIRST = {
    "mug": (Rule.HOLLOW, "The inside locks."),
    "bush": (Rule.HOLLOW, "too deep for green sand"),
    "bracket": (Rule.HOLES, "Four holes of Ø 8\u00a0mm hold sand"),
}


@pytest.mark.parametrize("name", FIRST)
def test_a_master_says_the_heaviest_first_and_nothing_is_lost(name: str) -> None:
    results, found = worked(name)
    rule, words = FIRST[name]
    assert found.open[0].rule is rule and words in found.open[0].words() and len(found.open) <= 6
    assert [one.rank for one in found.open] == list(range(1, len(found.open) + 1))
    assert sorted((one.harm for one in found.open), reverse=True) == [one.harm for one in found.open]
    said = [(stop.id, f.code, f.place_mm) for stop in stops() for f in stop.findings(results) if not f.informational]
    covered = [(stop, f.code, f.place_mm) for one in found.open for stop, f in one.members]
    assert sorted(map(repr, covered)) == sorted(map(repr, said))
    keys = causes_keys(results)
    assert [one["rank"] for one in keys] == [one.rank for one in found.open]
    # a vessel is never to be filled
    assert name != "mug" or all(one.id != "fill" for one in found.open[0].remedies)


def test_what_follows_from_a_lock_folds_under_it() -> None:
    _, found = worked("bracket")
    holes = found.open[0]
    assert {f.code for _, f in holes.follows} >= {"sand-tears", "no-joint-frees-all"} and holes.harm is Harm.LOSES_MOULD
    assert holes.remedies[0].id == "fill-holes" and holes.count == 4


def test_a_corner_in_which_the_sand_ends_sharp_is_cured_by_the_press_offered_for_it() -> None:
    """A V of 40 degrees in a block: the usual fillets, once; where they lie already, nothing is left to press."""
    corners = [(x, y, z) for x in (-1, 81) for y, z in ((25, 12), (18, 31), (32, 31))]
    model = model_of(box(80, 50, 30) - manifold3d.Manifold.hull_points(corners))
    job = edits.set_draw(with_model(Job(), model), (0.0, 0.0, 1.0)).job
    before = Pipeline().run(job, model, skip=UNPOURED)
    (sharp,) = (one for one in before.need(CAUSES).open if one.rule is Rule.FINE)
    assert [remedy.id for remedy in sharp.remedies] == ["fillet"] and sharp.remedies[0].change is not None
    rounded = made(sharp.remedies[0].change, job).job
    after = Pipeline().run(rounded, model, skip=UNPOURED).need(CAUSES)
    assert not any(one.rule is Rule.FINE for one in after.open)
    assert "fillets, line 1 of Stock" in {one.cured_by for one in after.cured if one.rule is Rule.FINE}
    laid = About(1.0, 1.0, 2.0, has_draft=False, has_fill=False, has_fillets=True, order=("parting", "stock"))
    left = cause_of(Claim(Rule.FINE), list(sharp.members), laid, Claims(None, None, None))
    assert [(one.id, one.change) for one in left.remedies] == [("fillet", None)]
