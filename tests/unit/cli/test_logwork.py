"""`pounce log`: what is kept, listed and carried over, and what is refused in a sentence."""

import json
from pathlib import Path

import pytest

from pounce.job import file
from pounce.logbook.keeping import NAMED
from tests.journeys.test_command import pounce
from tests.unit.pour.made import block


@pytest.fixture(autouse=True)
def book(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    path = tmp_path / "book" / "logbook.sqlite"
    monkeypatch.setenv(NAMED, str(path))
    return path


@pytest.fixture
def kept(tmp_path: Path) -> Path:
    job, model = block()
    path = tmp_path / "block.pounce"
    file.save(path, job, model, None)
    return path


def lines(*words: str) -> list[dict[str, object]]:
    found = json.loads(pounce("log", "list", *words, "--json").stdout)["pours"]
    assert isinstance(found, list)
    return found


def test_an_empty_book_says_so_and_has_no_lines() -> None:
    assert lines() == [] and pounce("log", "list").stdout.strip()


def test_a_pour_is_kept_shown_changed_and_carried_over(kept: Path, tmp_path: Path) -> None:
    pounce("log", "add", kept, "--at", "2026-11-28T14:00", "--casting", "1:sound", "--casting", "2:scrap")
    (one,) = lines()
    assert one["castings"] == 2 and one["sound"] == 1 and one["scrap"] == 1
    which = str(one["id"])
    shown = json.loads(pounce("log", "show", which, "--json").stdout)
    assert which in json.dumps(shown)
    assert lines("no-such-word") == []
    out = tmp_path / "all.json"
    assert "1 pour" in pounce("log", "export", out).stdout
    assert "1 pour" in pounce("log", "import", out).stdout
    assert len(lines()) == 1  # the same entry, not another


def test_recipes_are_kept_and_listed() -> None:
    pounce("log", "recipe", "Bench mix", "--part", "sand=100", "--part", "clay=8", "--note", "for iron")
    text = pounce("log", "recipe").stdout
    assert "Bench mix" in text and "clay" in text


@pytest.mark.parametrize(
    "words",
    [
        ("show", "nothing"),
        ("add", "missing.pounce"),
        ("add", "part.stl"),
        ("learn", "--metal", "cheese"),
        ("compare", "one", "two"),
        ("report", "nothing"),
    ],
)
def test_what_is_not_there_is_one_sentence(words: tuple[str, ...]) -> None:
    told = pounce("log", *words, code=2).stderr.strip()
    assert told and len(told) <= 300 and "\n" not in told.rstrip()
