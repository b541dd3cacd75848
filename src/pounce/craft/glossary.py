"""The words of the trade, a plain sentence each, and where they stand in a text."""

import re
import tomllib
from dataclasses import dataclass
from functools import cache
from importlib import resources


@dataclass(frozen=True)
class Word:
    """A word of the trade: ``forms`` the other ways it stands in a text, ``says`` its sentence. One that has another
    sense too is meant ``only`` in these phrases.
    """

    word: str
    says: str
    forms: tuple[str, ...] = ()
    only: tuple[str, ...] = ()

    @property
    def ways(self) -> tuple[str, ...]:
        """All the ways it stands in a text."""
        return self.only or (self.word, *self.forms)


@dataclass(frozen=True)
class Stands:
    """A word of the trade in a text, from ``start`` to ``end``."""

    start: int
    end: int
    word: Word


@cache
def words() -> tuple[Word, ...]:
    """All of them by the alphabet. Kept in ``glossary.toml``."""
    text = resources.files("pounce.craft").joinpath("glossary.toml").read_text(encoding="utf-8")
    found = [
        Word(one["word"], one["says"], tuple(one.get("forms", ())), tuple(one.get("only", ())))
        for one in tomllib.loads(text)["word"]
    ]
    return tuple(sorted(found, key=lambda one: one.word))


@cache
def by_way() -> dict[str, Word]:
    """Each word by every way it stands in a text, in small letters."""
    return {way.lower(): word for word in words() for way in word.ways}


def named(name: str) -> Word | None:
    """The word of this name."""
    return next((one for one in words() if one.word == name), None)


@cache
def _any_word() -> re.Pattern[str]:
    ways = sorted(by_way(), key=len, reverse=True)  # "core print" before "core"
    return re.compile(r"(?<![\w-])(?:" + "|".join(re.escape(way) for way in ways) + r")(?![\w-])", re.IGNORECASE)


def stands_in(text: str, without: frozenset[str] = frozenset()) -> list[Stands]:
    """Where words of the trade stand in the text, each the first time only; ``without`` are left out."""
    seen, out = set(without), []
    for match in _any_word().finditer(text):
        word = by_way()[match.group().lower()]
        if word.word not in seen:
            seen.add(word.word)
            out.append(Stands(match.start(), match.end(), word))
    return out


def explained(text: str) -> str:
    """Every word of the trade in the text with its sentence, one a line; "" where there is none."""
    return "\n".join(f"{one.word.word[:1].upper()}{one.word.word[1:]}: {one.word.says}" for one in stands_in(text))
