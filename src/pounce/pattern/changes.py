"""What remedies change of the pattern."""

from dataclasses import dataclass

from pounce.base.finding import Change


@dataclass(frozen=True)
class SetDowels(Change):
    """loose, pins or none."""

    kind: str


@dataclass(frozen=True)
class NoDrawScrew(Change):
    """No hole for a draw screw."""


@dataclass(frozen=True)
class SetFlask(Change):
    """Inside of the flask, mm; None: as large as needed."""

    flask_mm: tuple[float, float] | None


@dataclass(frozen=True)
class SetLayer(Change):
    """Layers of the print, mm."""

    layer_mm: float


@dataclass(frozen=True)
class SetTimber(Change):
    """Another timber."""

    timber: str


@dataclass(frozen=True)
class SetMount(Change):
    """What it is mounted on."""

    mount: str


@dataclass(frozen=True)
class MakeAs(Change):
    """Printed, wood, foam, metal or original."""

    way: str
