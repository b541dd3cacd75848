"""Figures given for a core."""

import pytest

from pounce.base.choice import FigureChoice
from pounce.base.errors import UserFault
from pounce.cores import choices
from pounce.cores.parse import with_words
from pounce.cores.values import HOWS, STEEPEST_DEG, WIDEST, CoreChoices
from pounce.job import core_edits, edits
from pounce.job.job import Job
from pounce.metals.tables import limits, mixes
from pounce.route.pipeline import Pipeline
from pounce.route.results import stop_keys
from pounce.route.stops import CORES
from tests.conftest import model_of
from tests.unit.cores.helpers import block


def test_figures_given_for_a_core_are_kept_and_bad_ones_said() -> None:
    job = edits.set_height(edits.set_draw(Job(), (0.0, 0.0, 1.0)).job, 0.0).job
    words = with_words(with_words(CoreChoices(), "0,0,10:side=31:clearance=0.5:box=half"), "mix=core-oil")
    given = core_edits.set_cores(job, hollows=words.hollows, mix=words.mix).job
    results = Pipeline().run(given, model_of(block()), until=CORES)
    core = results.need(CORES).cores[0]
    assert {one.length_mm for one in core.prints} == {31.0}
    assert {one.clearance_mm for one in core.prints} == {0.5}
    assert core.boxes[0].style == "half"
    assert len(core.boxes[0].parts) == 1
    keys = stop_keys(CORES, results)
    assert keys["schema"] == "pounce.cores/1"
    assert keys["cores"][0]["prints"][0]["length_mm"] == 31.0
    wild = core_edits.change_at(given, (0.0, 0.0, 10.0), side_mm=9999.0).job
    found = Pipeline().run(wild, model_of(block()), until=CORES).need(CORES)
    assert any("cannot be used" in f.words() for f in found.findings)
    off = core_edits.set_hollow(job, (40.0, 20.0, 20.0), "core").job
    assert any(
        f.code.startswith("no-hollow") for f in Pipeline().run(off, model_of(block()), until=CORES).need(CORES).findings
    )


def test_usual_values_are_those_of_a_new_job() -> None:
    new = CoreChoices()
    assert (choices.MIX.usual, choices.LONGEST.usual) == (new.mix, new.longest_mm)
    assert set(choices.MIX.options()) == set(mixes()) and set(choices.MAKE.options()) == set(HOWS)


@pytest.mark.parametrize("row", [one for one in choices.EACH if isinstance(one, FigureChoice)], ids=lambda one: one.key)
def test_each_cores_figures_hold_the_tables_and_refuse_what_is_outside(row: FigureChoice) -> None:
    assert row.checked(row.low) == row.low and row.checked(row.high) == row.high
    for value in (row.low - 0.01, row.high + 0.01, float("nan")):
        with pytest.raises(UserFault):
            row.checked(value)


def test_what_the_table_takes_the_print_takes() -> None:
    """No figure that the card offers is refused later."""
    assert choices.WIDE.high == WIDEST and choices.COPE_TAPER.high == choices.DRAG_TAPER.high == STEEPEST_DEG
    for kind in ("cope", "drag"):
        assert limits()[f"print_{kind}_taper"].high <= STEEPEST_DEG


def test_every_word_that_the_help_shows_is_understood() -> None:
    assert with_words(CoreChoices(), "all").every
    assert with_words(CoreChoices(), "on-end").on_end
    assert with_words(CoreChoices(), "longest=90").longest_mm == 90.0
    given = with_words(CoreChoices(), "1,2,3:side=20:box=half").hollows[0]
    assert given.at_mm == (1.0, 2.0, 3.0) and given.side_mm == 20.0 and given.box == "half"
