"""The demo's records: each part is there, each word is one that the command takes."""

from pathlib import Path

import pytest

from pounce.cores.parse import with_words
from pounce.cores.values import CoreChoices
from pounce.metals import tables
from pounce.route.demo_jobs import part_file
from pounce.route.demos import BOOK, DEMOS, SEASON, Demo, demo_book, demo_folder
from pounce.route.stops import POUR
from pounce.stock.parse import parse_addition
from tests.worked import STEMS, demo


@pytest.mark.parametrize("one", DEMOS, ids=STEMS)
def test_a_record_is_made_of_what_is_there(one: Demo) -> None:
    assert part_file(one).is_file()
    assert one.metal in tables.metals() and one.pattern in tables.pattern_kinds()
    for word in one.add:
        assert parse_addition(word) is not None
    for word in one.core:
        assert with_words(CoreChoices(), word) != CoreChoices()
    keys = {choice.key for choice in POUR.choices}
    assert {word.partition("=")[0] for word in one.pour} <= keys
    assert (one.castings >= 1 and one.about[0] != one.about[0].upper()) or one.about[0].isdigit()


def test_they_are_told_apart() -> None:
    assert len({one.log_id for one in DEMOS}) == len({one.name for one in DEMOS}) == len(DEMOS) == len(STEMS)
    # each shows another way of making or another mould
    assert len({(one.pattern, one.metal, one.core != (), one.castings, one.draw) for one in DEMOS}) == len(DEMOS)


@pytest.mark.parametrize("stem", STEMS)
def test_every_one_is_worked_to_its_end(stem: str) -> None:
    results, _ = demo(stem)
    assert not results.faults
    assert results.proof is not None and results.pattern is not None
    assert results.job.log.id == f"demo-{stem}"


def test_the_season_ships_beside_them() -> None:
    assert SEASON.is_file() and BOOK.is_file()
    assert demo_book().parent == demo_folder() and isinstance(demo_folder(), Path)
