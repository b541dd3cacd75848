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
