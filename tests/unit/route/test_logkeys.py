"""The logbook as plain values and in words."""

import json

import pytest

from pounce.base.errors import UserFault
from pounce.logbook.values import Line, Outcome
from pounce.route.logkeys import came_out, kept_as, line_words, log_keys, log_rows, log_summary
from pounce.route.results import Results
from tests.worked import BEARING, demo


def line(castings: int, sound: int, scrap: int) -> Line:
    fields = {name: None for name in Line.__struct_fields__}
    usual = {"castings": castings, "sound": sound, "scrap": scrap}
    return Line(**(fields | usual))  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("castings", "sound", "scrap", "words"),
    [
        (2, 2, 0, "Two sound"),
        (3, 2, 0, "Two sound, one flawed"),
        (3, 1, 1, "One sound, one flawed, one scrap"),
        (1, 0, 1, "One scrap"),
        (0, 0, 0, "Nothing noted"),
    ],
)
def test_how_a_pour_came_out(castings: int, sound: int, scrap: int, words: str) -> None:
    assert line_words(line(castings, sound, scrap)) == words


def test_how_castings_came_out() -> None:
    assert came_out(()) == "nothing noted"
    many = came_out((Outcome.SOUND, Outcome.SOUND, Outcome.SCRAP))
    assert many.startswith("two ") and "one " in many


def test_keys_are_plain_and_the_summary_agrees() -> None:
    results, _ = demo(BEARING)
    keys, summary = log_keys(results), log_summary(results)
    assert keys["schema"] == "pounce.log/1" and keys["job"] == results.job.name
    assert json.loads(json.dumps(keys)) == keys
    assert summary is not None and summary["pours"] == len(keys["pours"])  # type: ignore[arg-type]


def test_what_the_next_pour_will_be_kept_as() -> None:
    results, _ = demo(BEARING)
    assert kept_as(results) == f"job {results.job.log.id[:6]}, pour {log_summary(results)['pours'] + 1}"  # type: ignore[index, operator]
    assert log_rows(results, "mm")[0] == ("Kept in the logbook as", kept_as(results))


def test_without_a_logbook_there_is_nothing() -> None:
    empty = Results(demo(BEARING)[0].job)
    assert log_summary(empty) is None and log_rows(empty, "mm") == () and kept_as(empty) == ""
    with pytest.raises(UserFault, match="not read yet"):
        log_keys(empty)
