"""What remedies change of the cores."""

from dataclasses import dataclass
from typing import Literal

from pounce.base.finding import Change


@dataclass(frozen=True)
class MakeHollow(Change):
    """How the hollow at a place is made; empty: asked again."""

    at_mm: tuple[float, float, float]
    how: Literal["core", "sand", "loose", "drill", ""]


@dataclass(frozen=True)
class SetPrint(Change):
    """The length of a core's prints of a kind, mm."""

    at_mm: tuple[float, float, float]
    prints: Literal["side", "drag", "cope"]
    length_mm: float


@dataclass(frozen=True)
class WidenPrint(Change):
    """A print so many times as wide as its opening."""

    at_mm: tuple[float, float, float]
    times: float


@dataclass(frozen=True)
class SetBox(Change):
    """The style of a core's box."""

    at_mm: tuple[float, float, float]
    style: Literal["split", "half", "tube"]


@dataclass(frozen=True)
class SetBoxDraft(Change):
    """Draft of a core's walls in its box, degrees."""

    at_mm: tuple[float, float, float]
    degrees: float


@dataclass(frozen=True)
class StandOnEnd(Change):
    """The mould stood on end before pouring."""
