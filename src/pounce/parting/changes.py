"""What remedies change of the joint, and what is asked of later stops at Draw."""

from dataclasses import dataclass
from typing import Literal

from pounce.base.finding import Change


@dataclass(frozen=True)
class SetHeight(Change):
    """A flat joint at this height along the draw, mm; None: found."""

    height_mm: float | None


@dataclass(frozen=True)
class SetJoint(Change):
    """auto, flat, natural or stepped."""

    kind: str


@dataclass(frozen=True)
class SetMoulded(Change):
    """How a joint is moulded that is no plane."""

    how: str


@dataclass(frozen=True)
class SetRammed(Change):
    """The half a flat back is rammed in."""

    half: str


@dataclass(frozen=True)
class SetUpsideDown(Change):
    """Whether the mould is opened turned over."""

    turned: bool


@dataclass(frozen=True)
class SetGroove(Change):
    """What makes a groove round the outside; empty: nothing yet."""

    how: str


@dataclass(frozen=True)
class MakeLoose(Change):
    """A place that becomes a loose piece."""

    at_mm: tuple[float, float, float]


@dataclass(frozen=True)
class KeepWhole(Change):
    """A loose piece that stays whole."""

    at_mm: tuple[float, float, float]


@dataclass(frozen=True)
class AskFor(Change):
    """What a later stop is to do at a place: a fill or a taper at Stock, a core at Cores."""

    kind: Literal["fill", "core", "taper"]
    at_mm: tuple[float, float, float]


@dataclass(frozen=True)
class AskNoMore(Change):
    """What was asked at a place is taken back."""

    at_mm: tuple[float, float, float]
