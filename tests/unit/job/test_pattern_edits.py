"""How the pattern is made, by card and by word."""

import pytest

from pounce.base.errors import UserFault
from pounce.job import edits, rig_edits
from pounce.job.job import Job
from pounce.job.pattern_edits import WAYS, WORDS, set_making, set_way, with_word
from pounce.rig.setting import CARRIERS


@pytest.mark.parametrize("way", list(WAYS))
def test_a_way_stands_for_its_usual_kind(way: str) -> None:
    job = set_way(Job(), way).job
    assert job.method.pattern == WAYS[way]
    assert set_way(job, way).job == job


def test_a_kind_of_that_way_already_chosen_stays() -> None:
    job = edits.set_pattern_kind(Job(), "foam-dug-out").job
    assert set_way(job, "foam").job.method.pattern == "foam-dug-out"
    with pytest.raises(UserFault, match="no way of making"):
        set_way(Job(), "clay")


@pytest.mark.parametrize("changes", [{"timber": "balsa"}, {"screw": "M99"}, {"copies": "two"}, {"dowels": "nails"}])
def test_values_that_cannot_be(changes: dict[str, object]) -> None:
    with pytest.raises(UserFault):
        set_making(Job(), **changes)


def test_boards_carry_the_moulds_layout() -> None:
    mount = next(iter(CARRIERS))
    job = rig_edits.set_count(set_making(Job(), mount=mount).job, 3).job
    assert set_making(job, copies=2).job.rig.count == 2
    bare = set_making(Job(), copies=2).job
    assert bare.pattern.copies == 2 and bare.rig.count == Job().rig.count


def test_words_say_the_same_as_the_card() -> None:
    assert with_word(Job(), "bed=220x210x250").pattern.bed_mm == (220.0, 210.0, 250.0)
    part = with_word(Job(), "bed=300x300").pattern.bed_mm
    assert part[:2] == (300.0, 300.0) and part[2] == Job().pattern.bed_mm[2]  # a side left out stays
    assert with_word(Job(), "timber=pine").pattern.timber == "pine"


@pytest.mark.parametrize("word", ["glitter=1", "timber", "timber=balsa", "layer=nan", "=3", ""])
def test_words_that_say_nothing(word: str) -> None:
    with pytest.raises(UserFault):
        with_word(Job(), word)
    assert len(WORDS) > 10
