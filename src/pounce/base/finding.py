"""Findings: what a stop has to say about the part, with its figures and its cures."""

from dataclasses import dataclass, field
from enum import StrEnum


class Severity(StrEnum):
    """How much a finding matters: ``stop`` it cannot be made, ``warn`` decide, ``note`` know."""

    STOP = "stop"
    WARN = "warn"
    NOTE = "note"


@dataclass(frozen=True)
class Remedy:
    """Something the user can do about a finding.

    ``id`` is stable; ``edit`` names a choice of the job and ``value`` what it would become, so the bench
    can offer it as a button. Without an ``edit`` the remedy is advice.
    """

    id: str
    text: str
    edit: str | None = None
    value: str | float | tuple[int, ...] | None = None


@dataclass(frozen=True)
class Finding:
    """One thing found.

    ``text`` is one or two plain sentences about this job in which ``noun`` stands (shown bold);
    ``figures`` are the measured numbers, keys with unit suffixes; ``main`` is the key of the one
    to show. ``place_mm`` is a point on the part (x, y, z) or None; ``region`` the index of the region of
    faces it speaks of, or None. ``mark`` is "tight" or "locked" where the finding is about the draw.
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

    @property
    def settled(self) -> bool:
        """True when nothing is left to decide."""
        return self.severity is Severity.NOTE
