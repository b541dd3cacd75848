"""What remedies change of the additions."""

from dataclasses import dataclass

from pounce.base.finding import Change


@dataclass(frozen=True)
class AddUsual(Change):
    """The usual line of a kind: draft, fill, fillets, legs, rap."""

    kind: str


@dataclass(frozen=True)
class AddCamber(Change):
    """A camber toward a way such as ``+z``."""

    toward: str


@dataclass(frozen=True)
class SetOwnStock(Change):
    """A machining line of so much stock, mm."""

    line: int
    stock_mm: float


@dataclass(frozen=True)
class CastSolid(Change):
    """A machining line's bore cast solid instead."""

    line: int
