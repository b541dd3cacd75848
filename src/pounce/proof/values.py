"""What the proof found."""

from dataclasses import dataclass, replace
from enum import StrEnum

from pounce.base.finding import Finding


class Verdict(StrEnum):
    """How the pattern leaves the sand: clean, dragging along walls with too little draft, or locked in it.

    ``none`` where nothing has to draw, or where the part's shell is open and nothing can be proved.
    """

    CLEAN = "clean"
    DRAGS = "drags"
    LOCKS = "locks"
    NONE = "none"


class By(StrEnum):
    """What did it to a place: a line of Stock, a core, a loose piece, a cheek, or what the joint became."""

    LINE = "line"
    CORE = "core"
    LOOSE = "loose-piece"
    CHEEK = "cheek"
    JOINT = "joint"


@dataclass(frozen=True)
class Doer:
    """What did it, which one of its kind (from 0), and its name in
    words that go on after "cured by"."""

    kind: By
    index: int
    name: str


@dataclass(frozen=True)
class Judgement:
    """A finding with the stop it is of. ``was`` the same place's finding on the bare part, ``by`` what cured it or
    what made it new; None where nothing did.
    """

    stop: str
    finding: Finding
    was: Finding | None = None
    by: Doer | None = None

    @property
    def as_cured(self) -> Finding:
        """A cured finding as it is shown: nothing to decide, and by what; its place is none of the pattern's."""
        by = "what was added" if self.by is None else self.by.name
        return replace(self.finding, cured_by=by, remedies=(), region=None)


@dataclass(frozen=True, eq=False)
class ProofResult:
    """``verdict`` in a word; ``changed`` whether the pattern is another body than the part; areas (mm2) of the
    pattern's surface by state, ``held_mm2`` of them where sand is really held; ``torn_mm3`` of sand, ``askew_deg``
    how far hands may lift askew; ``closed`` whether every solid is; ``cured`` findings of the part that are no more,
    ``open`` those that are left and ``new`` those that what was added made, as the pattern has them; ``notes`` what
    else there is to know of it.
    """

    verdict: Verdict
    changed: bool
    clean_mm2: float
    tight_mm2: float
    locked_mm2: float
    held_mm2: float
    torn_mm3: float
    askew_deg: float
    closed: bool
    cured: tuple[Judgement, ...]
    open: tuple[Judgement, ...]
    new: tuple[Judgement, ...]
    notes: tuple[Judgement, ...]

    def findings(self, stop: str) -> tuple[Finding, ...]:
        """What is true of the pattern for this stop: what is open or new, and notes."""
        return tuple(one.finding for one in (*self.open, *self.new, *self.notes) if one.stop == stop)
