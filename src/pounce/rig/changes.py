"""What remedies change of the mould."""

from dataclasses import dataclass

from pounce.base.finding import Change
from pounce.rig.values import ChillChoice, FeederChoice, KeptFlask, PlacedChoice, Spot


@dataclass(frozen=True)
class FlaskThatFits(Change):
    """The smallest flask that fits, whatever was said before."""


@dataclass(frozen=True)
class MoveSprue(Change):
    """The sprue to another place, the castings where they are."""

    to_mm: Spot
    placed: tuple[PlacedChoice, ...]
    kept: KeptFlask


@dataclass(frozen=True)
class ArrangeAnew(Change):
    """What was put by hand is set out by the program again."""


@dataclass(frozen=True)
class GatesAsWanted(Change):
    """As many gates as the metal asks for."""


@dataclass(frozen=True)
class HeadOfCope(Change):
    """As much metal over the joint as the cope and its cup give."""


@dataclass(frozen=True)
class FewerCastings(Change):
    """So many castings in the mould."""

    count: int


@dataclass(frozen=True)
class OneTier(Change):
    """All castings at one height."""


@dataclass(frozen=True)
class KeepFeeding(Change):
    """Only these feeders and chills: the others find no metal."""

    feeders: tuple[FeederChoice, ...]
    chills: tuple[ChillChoice, ...]
