"""What causes are."""

from dataclasses import dataclass, field
from enum import IntEnum, StrEnum

from pounce.base.finding import Finding, Remedy, filled
from pounce.base.units import quantity


class Harm(IntEnum):
    """What a cause does to the work, the worst first."""

    CANNOT_CAST = 5
    LOSES_MOULD = 4
    SCARS = 3
    COSTS_WORK = 2
    GOOD_TO_KNOW = 1

    @property
    def id(self) -> str:
        """Its word under the stable keys of a check."""
        return self.name.lower().replace("_", "-")


class Rule(StrEnum):
    """The rule that claims a finding."""

    SHELL = "shell"
    STOPS = "stops"
    HOLES = "holes"
    HOLLOW = "hollow"
    UNDERCUT = "undercut"
    DRAFT = "draft"
    THIN = "thin"
    SLENDER = "slender"
    JOINT = "joint"
    FINE = "fine"
    CORE = "core"
    STOCK = "stock"
    ORIGINAL = "original"
    FITTINGS = "fittings"
    HOT = "hot"
    COLD = "cold"
    GATE = "gate"
    OTHER = "other"
    NOTES = "notes"


@dataclass(frozen=True)
class Claim:
    """A rule, and which of its things: the hollow or core, or a finding's own code."""

    rule: Rule
    which: str = ""


@dataclass(frozen=True)
class Cause:
    """One cause with all that follows from it.

    ``text`` with ``noun`` and {figures} as a finding's; ``share`` of the surface or of the volume that it speaks of;
    ``members`` the findings it covers with their stops, the one it speaks with first; ``stop`` where it is told;
    ``cured_by`` in words, where it is cured. ``count`` places. ``brief`` the same in four words, to go on after "but".
    """

    rank: int
    rule: Rule
    harm: Harm
    text: str
    noun: str
    stop: str
    figures: dict[str, float] = field(default_factory=dict)
    main: str | None = None
    place_mm: tuple[float, float, float] | None = None
    share: float = 0.0
    count: int = 1
    mark: str | None = None
    remedies: tuple[Remedy, ...] = ()
    members: tuple[tuple[str, Finding], ...] = ()
    cured_by: str | None = None
    source: str | None = None
    brief: str = ""

    @property
    def regions(self) -> frozenset[int]:
        """The places of the joint's judgement that it speaks of."""
        return frozenset(finding.region for _, finding in self.members if finding.region is not None)

    def words(self, shown: str = "mm") -> str:
        """The text with its figures, lengths in ``shown``."""
        return filled(self.text, self.figures, shown)

    def noun_words(self, shown: str = "mm") -> str:
        """The noun as it stands in :meth:`words`."""
        return filled(self.noun, self.figures, shown)

    def brief_words(self, shown: str = "mm") -> str:
        """The few words that it goes by in a headline."""
        return filled(self.brief, self.figures, shown)

    def main_words(self, shown: str = "mm") -> str:
        """The main figure with its unit, or nothing."""
        return "" if self.main is None else quantity(self.main, self.figures[self.main], shown)

    def remedy_words(self, remedy: Remedy, shown: str = "mm") -> str:
        """A remedy's text, with the figures of the finding that offered it."""
        offered = [finding for _, finding in self.members if any(one.id == remedy.id for one in finding.remedies)]
        return filled(remedy.text, self.figures | (offered[0].figures if offered else {}), shown)

    @property
    def follows(self) -> tuple[tuple[str, Finding], ...]:
        """What follows from it: every finding but the one it speaks with."""
        return self.members[1:]


@dataclass(frozen=True)
class CausesResult:
    """``open`` causes ranked, the one a master would say first first; ``cured`` ones; ``notes`` what is good to know,
    by stop.
    """

    open: tuple[Cause, ...]
    cured: tuple[Cause, ...]
    notes: tuple[tuple[str, Finding], ...]
