"""The words of the trade: each has a plain sentence, is used by the program, and is found where it stands."""

import re
from pathlib import Path

import pounce
from pounce.craft.glossary import by_way, explained, named, stands_in, words

ROOM = Path(pounce.__file__).parent


def test_there_are_some_120_and_each_has_one_plain_sentence() -> None:
    assert 110 <= len(words()) <= 140
    for one in words():
        assert re.fullmatch(r"[A-Z].{12,170}\.", one.says), one.word
    assert len(by_way()) == sum(len(one.ways) for one in words()), "two words stand the same way in a text"


def test_each_word_is_used_where_the_program_speaks() -> None:
    """In a craft page, a table or the words of a finding: a glossary of what nobody meets is no help."""
    said = [path.read_text(encoding="utf-8") for path in ROOM.rglob("*.md")]
    said += [path.read_text(encoding="utf-8") for path in ROOM.rglob("*.py") if "bench" not in path.parts]
    said += [path.read_text(encoding="utf-8") for path in ROOM.rglob("*.toml") if path.name != "glossary.toml"]
    used = {one.word.word for text in said for one in stands_in(text)}
    assert {one.word for one in words()} - used == set()


def test_the_longer_word_goes_before_the_shorter_and_each_is_told_once() -> None:
    text = "A core print seats the core; another core print does not."
    found = stands_in(text)
    assert [(text[one.start : one.end], one.word.word) for one in found] == [
        ("core print", "core print"),
        ("core", "core"),
    ]
    assert stands_in(text, frozenset({"core"}))[-1].word.word == "core print"


def test_words_with_another_sense_are_meant_only_in_their_phrases() -> None:
    assert [one.word.word for one in stands_in("Drag the arrow across the grain of the wood.")] == []
    assert [one.word.word for one in stands_in("Sand of the drag")] == ["drag"]
    assert "coreless" not in by_way() and stands_in("A coreless motor, a lock-gate") == []


def test_a_sentence_is_explained_word_by_word() -> None:
    assert explained("Nothing of the trade in here.") == ""
    lines = explained("The undercut wants a loose piece.").split("\n")
    assert [line.split(":")[0] for line in lines] == ["Undercut", "Loose piece"]
    assert named("undercut") is not None and named("no such") is None
