"""Findings: what a stop has to say about the part, with its figures and its cures."""

from dataclasses import dataclass, field
from enum import StrEnum

from pounce.base.units import quantity


def filled(text: str, figures: dict[str, float], shown: str = "mm") -> str:
    """The text with every ``{key}`` replaced by that figure in words."""
    for key, value in figures.items():
        text = text.replace("{" + key + "}", quantity(key, value, shown))
    return text


class Severity(StrEnum):
    """How much a finding matters: ``stop`` it cannot be made, ``warn`` decide, ``note`` know."""

    STOP = "stop"
    WARN = "warn"
    NOTE = "note"


@dataclass(frozen=True)
class Change:
    """What would change of a job. Each kind is a frozen value of the stop whose choices it changes;
    ``job/changes.py`` carries it out.
    """


@dataclass(frozen=True)
class Remedy:
    """Something the user can do about a finding.

    ``id`` is stable; ``change`` what it would change of the job, so that the bench can offer it as a button. Without
    one the remedy is advice.
    """

    id: str
    text: str
    change: Change | None = None


@dataclass(frozen=True)
class Finding:
    """One thing found.

    ``text`` is one or two plain sentences about this job in which ``noun`` stands (shown bold); ``{key}`` in it
    stands for a figure, put into words by :meth:`words` in the units the reader wants; ``figures`` are the measured
    numbers, keys with unit suffixes; ``main`` is the key of the one to show. ``place_mm`` is a point on the part (x,
    y, z) or None; ``region`` the index of the region of faces it speaks of, or None. ``mark`` is "tight" or "locked"
    where the finding is about the draw. ``cured_by`` what has cured it, in words: nothing is left to decide then.
    ``hollow``, ``core`` and ``feature`` the index of the hollow, the core or the part's feature that it is about.
    """

    code: str
    severity: Severity
    text: str
    noun: str = ""
    place_mm: tuple[float, float, float] | None = None
    figures: dict[str, float] = field(default_factory=dict)
    main: str | None = None
    remedies: tuple[Remedy, ...] = ()
    source: str | None = None
    region: int | None = None
    mark: str | None = None
    cured_by: str | None = None
    hollow: int | None = None
    core: int | None = None
    feature: int | None = None

    def words(self, shown: str = "mm") -> str:
        """The text with its figures, lengths in ``shown`` ("mm" or "in")."""
        return filled(self.text, self.figures, shown)

    def noun_words(self, shown: str = "mm") -> str:
        """The noun as it stands in :meth:`words`."""
        return filled(self.noun, self.figures, shown)

    def main_words(self, shown: str = "mm") -> str:
        """The main figure with its unit, or nothing."""
        return "" if self.main is None else quantity(self.main, self.figures[self.main], shown)

    @property
    def informational(self) -> bool:
        """True when nothing is left to decide."""
        return self.severity is Severity.NOTE or self.cured_by is not None
