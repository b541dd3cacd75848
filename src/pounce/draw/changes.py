"""What remedies change of the draw."""

from dataclasses import dataclass

from pounce.base.finding import Change


@dataclass(frozen=True)
class SetDraw(Change):
    """Another draw (3,)."""

    direction: tuple[float, float, float]
