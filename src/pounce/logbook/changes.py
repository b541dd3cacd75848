"""What the logbook changes of a job: only what is asked for, one edit each."""

from dataclasses import dataclass
from typing import Literal

from pounce.base.finding import Change

Used = Literal["ram_min_l", "melt_percent", "loss_percent", "falls_c_min", "growth_percent"]


@dataclass(frozen=True)
class UseContraction(Change):
    """The next pattern is made for this contraction, %, stated on the pattern."""

    percent: float


@dataclass(frozen=True)
class UseFigure(Change):
    """An earlier stop plans with a figure of this bench."""

    figure: Used
    value: float
    beside: float = 0.0


@dataclass(frozen=True)
class LessStock(Change):
    """Lines of Stock by their number, each with the stock (mm) that it gets."""

    stocks: tuple[tuple[int, float], ...]


@dataclass(frozen=True)
class TryNext(Change):
    """One change that is tried on the next pour, and what it is in words."""

    change: Change
    words: str


@dataclass(frozen=True)
class TryByHand(Change):
    """One change at the bench, which no choice stands for: it is only noted."""

    words: str
