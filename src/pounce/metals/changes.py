"""What remedies change of metal, mould and way of making."""

from dataclasses import dataclass

from pounce.base.finding import Change


@dataclass(frozen=True)
class SetMould(Change):
    """Another mould medium."""

    mould: str


@dataclass(frozen=True)
class SetPatternKind(Change):
    """Another way of making."""

    pattern: str


@dataclass(frozen=True)
class SetDraft(Change):
    """An own draft for every wall, degrees."""

    degrees: float
