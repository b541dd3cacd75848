"""Feeders and chills by word and by card."""

import pytest

from pounce.base.errors import UserFault
from pounce.job import freeze_edits as edits
from pounce.job.job import Job
from pounce.metals.heat import heat
from pounce.rig.values import ChillChoice, FeederChoice
from pounce.stock.values import Machining


def test_a_feeder_by_its_diameter_alone() -> None:
    (one,) = edits.feeder_word(Job(), "1,2,3:40").job.rig.feeders
    assert one == FeederChoice(
        (1.0, 2.0, 3.0), 40.0, 48.0, pytest.approx(heat().common.neck.value * 40.0), True, False, False
    )


@pytest.mark.parametrize(
    ("word", "open_", "sleeve", "gate"),
    [("blind", False, False, False), ("sleeve", True, True, False), ("gate", True, False, True)],
)
def test_and_with_words_behind_it(word: str, open_: bool, sleeve: bool, gate: bool) -> None:
    (one,) = edits.feeder_word(Job(), f"1,2,3:40:20:60:{word}").job.rig.feeders
    assert (one.wide_mm, one.neck_mm, one.high_mm) == (40.0, 20.0, 60.0)
    assert (one.open, one.sleeve, one.gate) == (open_, sleeve, gate)


@pytest.mark.parametrize("word", ["", "1,2:40", "1,2,3", "1,2,3:0.5", "1,2,3:nan", "a,b,c:40", "1,2,3:40:50:60:70"])
def test_words_that_are_no_feeder(word: str) -> None:
    with pytest.raises(UserFault, match="feeder"):
        edits.feeder_word(Job(), word)


@pytest.mark.parametrize("word", ["", "1,2,3:40", "1,2,3:0:10", "1,2,3:10:20:30", "1,2,3:inf:20"])
def test_words_that_are_no_chill(word: str) -> None:
    with pytest.raises(UserFault, match="chill"):
        edits.chill_word(Job(), word)


def test_they_are_taken_away_together_or_one_by_one() -> None:
    job = edits.chill_word(
        edits.feeder_word(edits.feeder_word(Job(), "1,2,3:40").job, "4,5,6:30").job, "7,8,9:30:20"
    ).job
    assert len(edits.drop_feeder(job, 0).job.rig.feeders) == 1
    assert edits.drop_feeder(job, 0).job.rig.feeders[0].at_mm == (4.0, 5.0, 6.0)
    assert edits.drop_chill(job, 0).job.rig.chills == ()
    assert edits.feeder_word(job, "none").job.rig.feeders == () and edits.chill_word(job, "none").job.rig.chills == ()
    assert edits.feeder_word(job, "found").job == job
    assert edits.change_feeder(job, 1, wide_mm=33.0).job.rig.feeders[1].wide_mm == 33.0


def test_set_in_one_press_with_a_word_of_how_many() -> None:
    feeder = FeederChoice((0.0, 0.0, 0.0), 40.0, 48.0, 20.0)
    chill = ChillChoice((0.0, 0.0, 0.0), 30.0, 20.0)
    assert edits.set_feeding(Job(), (feeder,), ()).label == "Feeder set"
    assert edits.set_feeding(Job(), (feeder,), (chill,)).label == "Feeders and chills set"
    assert edits.set_feeding(Job(), (), ()).label == "Feeders taken away"
    padded = edits.pad_wall(Job(), (0.0, 0.0, 1.0), 3.0, (feeder,), ())
    assert padded.job.stock.lines == (Machining((0.0, 0.0, 1.0), own_mm=3.0),) and padded.job.rig.feeders == (feeder,)


def test_formers_that_the_bench_has() -> None:
    assert edits.formers_word(Job(), "40, 30 40,50").job.freeze.formers == (30.0, 40.0, 50.0)
    assert edits.formers_word(Job(), "none").job.freeze.formers == ()
    for word in ("4", "400", "thick", "nan"):
        with pytest.raises(UserFault, match="no formers"):
            edits.formers_word(Job(), word)
