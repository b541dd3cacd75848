"""Causes of whole parts: what a master would say first, and every open finding in exactly one."""

import pytest

from pounce.causes.values import CausesResult, Harm, Rule
from pounce.job.job import Job
from pounce.route.causes import causes_keys
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import CAUSES, stops
from tests.conftest import model_of
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
