"""What remedies change of the pour."""

from dataclasses import dataclass

from pounce.base.finding import Change


@dataclass(frozen=True)
class TakeCrucible(Change):
    """This crucible of the bench's own."""

    crucible: str


@dataclass(frozen=True)
class UnderLid(Change):
    """The crucible is carried under a lid."""


@dataclass(frozen=True)
class FewerMoulds(Change):
    """So many moulds from one melt."""

    moulds: int


@dataclass(frozen=True)
class ChargeOf(Change):
    """Melted from this."""

    charge: str
