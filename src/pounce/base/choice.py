"""A choice as a row of a table: card row, command option, job file's schema and docs are made from it.

A room's ``choices.py`` holds the rows of its stop; ``job/choose.py`` reads them from a job and sets them.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from pounce.base.errors import UserFault
from pounce.base.figures import figure

# With more options than this a list is not spelled out in help.
MOST_SPELLED = 6


@dataclass(frozen=True, kw_only=True)
class Choice:
    """``key`` the word on the command line, ``title`` on the card, ``help`` one sentence of what it does, ``field``
    where it stands in the stop's choices (empty: nowhere, it is worked by an edit of its own), ``source`` of the
    usual figure. ``option``: it is an option of the command; ``word_of`` the option whose word it is, such as
    ``make``.
    """

    key: str
    title: str
    help: str
    field: str = ""
    source: str = ""
    option: bool = False
    word_of: str = ""

    @property
    def form(self) -> str:
        """How it is written as a word."""
        return self.key

    @property
    def said(self) -> str:
        """Its help on the command line: what may be given, and what it does."""
        return self.help

    def read(self, text: str) -> Any:
        """The value a word stands for. UserFault for one that makes no sense."""
        raise NotImplementedError

    def checked(self, value: Any) -> Any:
        """The value, if it can be. UserFault otherwise."""
        return value


@dataclass(frozen=True, kw_only=True)
class FigureChoice(Choice):
    """A figure from ``low`` to ``high`` with its ``unit``; ``usual`` when nobody says (None: it goes by the table or
    the part); ``digits`` and ``step`` on the card; ``whole`` for a count.
    """

    unit: str
    low: float
    high: float
    usual: float | None = None
    digits: int = 1
    step: float = 1.0
    whole: bool = False

    @property
    def form(self) -> str:
        """``layer=MM``."""
        shown = {"°": "DEG", "%": "PERCENT", "": "N"}.get(self.unit, self.unit.upper())
        return f"{self.key}={shown}"

    @property
    def said(self) -> str:
        """What it does, its range and its usual figure."""
        unit = f" {self.unit}" if self.unit else ""
        usual = "" if self.usual is None else f", usually {self.usual:g}"
        return f"{self.help}; {self.low:g} to {self.high:g}{unit}{usual}."

    def read(self, text: str) -> float | int:
        """The figure. UserFault for a word that is none; whether it lies in its range, :meth:`checked` says."""
        try:
            value = figure(text)
        except ValueError:
            raise self._no(text) from None
        if self.whole and value != int(value):
            raise self._no(text)
        return int(value) if self.whole else value

    def checked(self, value: float) -> float | int:
        """The figure, if it lies in its range. UserFault otherwise."""
        if not self.low <= value <= self.high:
            raise self._no(f"{value:g}")
        return int(value) if self.whole else value

    def _no(self, given: str) -> UserFault:
        unit = f" {self.unit}" if self.unit else ""
        return UserFault(f"{self.title}: {given}{unit} cannot be used.", f"Give {self.low:g} to {self.high:g}{unit}.")


@dataclass(frozen=True, kw_only=True)
class OneOf(Choice):
    """One of several: ``options`` gives ids and what the card calls them; the first is ``usual`` unless said.
    ``none`` stands for nothing chosen, where that may be.
    """

    options: Callable[[], Mapping[str, str]]
    usual: str = ""
    none: str | None = None
    see: str = ""

    @property
    def form(self) -> str:
        """``mount=none|boards``, or ``timber=NAME`` where there are many."""
        return f"{self.key}={self._spelled('|') or 'NAME'}"

    @property
    def said(self) -> str:
        """What may be given, and what it does."""
        head, _, last = self._spelled(", ").rpartition(", ")
        names = f" One of {head} or {last}." if head else ""
        see = f"; see `{self.see}`" if self.see else ""
        return f"{self.help}{see}.{names}"

    def _spelled(self, between: str) -> str:
        names = [self.none if not key and self.none is not None else key for key in self.options()]
        return between.join(names) if len(names) <= MOST_SPELLED else ""

    def read(self, text: str) -> str:
        """The id, which :meth:`checked` knows or not."""
        word = text.strip()
        return "" if self.none is not None and word == self.none else word

    def checked(self, value: str) -> str:
        """The id, if it is one of them. UserFault otherwise."""
        if value not in self.options():
            raise UserFault(
                f"{self.title}: there is no '{value}'.", f"Choose one of {', '.join(filter(None, self.options()))}."
            )
        return value


@dataclass(frozen=True, kw_only=True)
class Flag(Choice):
    """Yes or no; as a word it says ``sets``."""

    usual: bool = False
    sets: bool = True

    @property
    def said(self) -> str:
        """What it does, or what is left out."""
        title = self.title.removeprefix("A ")
        return f"{self.title}. {self.help}." if self.sets else f"No {title[:1].lower()}{title[1:]}."

    def read(self, text: str) -> bool:
        """The word itself. UserFault for anything behind it."""
        if text not in ("", "yes", "no"):
            raise UserFault(f"{self.title}: '{text}' is neither yes nor no.", f"Give {self.key} alone.")
        return self.sets if text != "no" else not self.sets


@dataclass(frozen=True, kw_only=True)
class Sides(Choice):
    """Lengths that go together, mm each: ``names`` of the sides, of which the last ``may_lack`` may be left out and
    stay as they are. ``fields`` where they stand apart; else they stand together in ``field``.
    """

    names: tuple[str, ...]
    low: float
    high: float
    may_lack: int = 0
    fields: tuple[str, ...] = ()

    @property
    def form(self) -> str:
        """``flask=LONGxWIDE``."""
        return f"{self.key}={'x'.join(name.upper() for name in self.names)}"

    @property
    def said(self) -> str:
        """What it does, and how long each side may be."""
        return f"{self.help}; {self.low:g} to {self.high:g} mm each."

    def read(self, text: str) -> tuple[float, ...]:
        """The sides that were given. UserFault for a word that is no size."""
        try:
            sides = tuple(figure(side) for side in text.split("x"))
        except ValueError:
            sides = ()
        if not len(self.names) - self.may_lack <= len(sides) <= len(self.names):
            raise UserFault(f"{self.title}: '{text}' is no size.", f"Give {self.form}, in mm.")
        return sides

    def checked(self, value: tuple[float, ...]) -> tuple[float, ...]:
        """The sides, if each lies in the range. UserFault otherwise."""
        for side in value:
            if not self.low <= side <= self.high:
                raise UserFault(f"{self.title}: {side:g} mm cannot be used.", f"Give {self.low:g} to {self.high:g} mm.")
        return value


@dataclass(frozen=True, kw_only=True)
class Words(Choice):
    """Said in words that an edit of its own reads: ``forms`` what may be given; ``many`` whether more than once."""

    forms: str
    many: bool = False

    @property
    def said(self) -> str:
        """What may be given, and what it does."""
        often = ", may be given more than once" if self.many else ""
        return f"{self.help}{often}: {self.forms}."

    def read(self, text: str) -> str:
        """As it stands."""
        return text


def all_checked(table: tuple[Choice, ...], choices: object) -> None:
    """UserFault for the first value of a stop's choices that lies outside its row of the table."""
    for one in table:
        places = one.fields if isinstance(one, Sides) and one.fields else (one.field,) if one.field else ()
        for place in places:
            value = getattr(choices, place)
            if value is None or isinstance(one, (Flag, Words)):
                continue
            one.checked((value,) if isinstance(one, Sides) and one.fields else value)
