"""What a plan is."""

from dataclasses import dataclass, field
from enum import StrEnum

from pounce.base.finding import Change, filled
from pounce.base.units import quantity
from pounce.causes.values import Rule
from pounce.job.job import Job
from pounce.metals.tables import limits
from pounce.proof.values import ProofResult, Verdict


class LineKind(StrEnum):
    """What a line of a plan does, in the order in which they are done."""

    DRAW = "draw"
    OVER = "over"
    HOLES = "holes"
    CORE = "core"
    BORE = "bore"
    GAP = "gap"
    UNDERCUT = "undercut"
    DRAFT = "draft"
    FILLETS = "fillets"


@dataclass(frozen=True)
class Line:
    """One line of a plan: what ``kind`` it is and ``of`` what (a place, a cure), what it does and why, with {figures};
    ``changes`` the edits it stands for; ``cures`` which rules of causes it answers.
    """

    kind: LineKind
    text: str
    reason: str
    changes: tuple[Change, ...]
    figures: dict[str, float] = field(default_factory=dict)
    main: str | None = None
    cures: tuple[Rule, ...] = ()
    of: str = ""

    @property
    def id(self) -> str:
        """What tells it from the other lines of its plan."""
        return f"{self.kind}@{self.of}" if self.of else str(self.kind)

    def words(self, shown: str = "mm") -> str:
        """What it does, in the reader's units."""
        return filled(self.text, self.figures, shown)

    def reason_words(self, shown: str = "mm") -> str:
        """Why."""
        return filled(self.reason, self.figures, shown)

    def main_words(self, shown: str = "mm") -> str:
        """Its figure with the unit, or nothing."""
        return "" if self.main is None else quantity(self.main, self.figures[self.main], shown)


@dataclass(frozen=True)
class Cost:
    """Hours for ``castings``: ``pattern`` at the bench once, ``each`` for every casting, ``risk`` of losing a mould (0
    to 1), and all of it together in ``hours``.
    """

    pattern: float
    each: float
    risk: float
    hours: float
    castings: int


@dataclass(frozen=True)
class Plan:
    """A way to make the whole, tried to the end.

    ``title`` how it lies and parts, ``why`` in a sentence; ``lines``; ``job`` with all of them done and
    its ``proof``; areas (mm2) of the pattern, ``held_mm2`` where sand is still held; ``cores``, ``metal_mm3`` added;
    ``depth_mm`` of the deeper half; ``left`` what stays open, in words; ``feeders`` and ``chills`` that a casting
    wants as it lies; ``unsure`` whether what stays open may lose a mould.
    """

    title: str
    why: str
    lines: tuple[Line, ...]
    job: Job
    direction: tuple[float, float, float]
    parting: str
    proof: ProofResult
    clean_mm2: float
    tight_mm2: float
    held_mm2: float
    cores: int
    metal_mm3: float
    depth_mm: float
    cost: Cost
    left: tuple[str, ...]
    feeders: int = 0
    chills: int = 0
    unsure: bool = False

    @property
    def order(self) -> tuple[bool, float, float]:
        """Plans in order: those that leave the sand first, the cheapest of them; then those that hold the least sand.

        What cannot be cast as drawn wants the smallest change. Hours are rough: one that leaves sand which may break
        off, or walls that drag, is taken for so much dearer, and does not come before one that leaves none for a few
        minutes.
        """
        drags = self.proof.verdict is Verdict.DRAGS
        dearer = 1.0 + limits()["plan_unsure"].value if self.unsure else 1.0
        dearer += limits()["plan_drags"].value if drags else 0.0
        return not self.leaves, round(self.held_mm2, -1), dearer * self.cost.hours

    @property
    def leaves(self) -> bool:
        """Whether all of the sand is left standing, as the proof has it: none is held, none tears."""
        return self.held_mm2 <= 0.0 and self.proof.closed and self.proof.verdict is not Verdict.LOCKS
