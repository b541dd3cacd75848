"""What remedies change of the feeding."""

from dataclasses import dataclass

from pounce.base.finding import Change
from pounce.rig.values import ChillChoice, FeederChoice


@dataclass(frozen=True)
class SetFeeding(Change):
    """These feeders and chills, and no others."""

    feeders: tuple[FeederChoice, ...]
    chills: tuple[ChillChoice, ...]


@dataclass(frozen=True)
class PadWall(Change):
    """A flat face of the part at a point made thicker by so much stock (mm), with these feeders and chills."""

    at_mm: tuple[float, float, float]
    stock_mm: float
    feeders: tuple[FeederChoice, ...]
    chills: tuple[ChillChoice, ...]


@dataclass(frozen=True)
class PourAt(Change):
    """Poured at this temperature, C."""

    pour_c: float


@dataclass(frozen=True)
class MoreGates(Change):
    """So many gates to a casting."""

    gates: int


@dataclass(frozen=True)
class PourCool(Change):
    """The school without feeders: what may be hollow is taken for it."""
