"""Sand round a pattern by the metal and the mass of the casting."""

from dataclasses import dataclass
from functools import cache
from typing import Any

import msgspec

from pounce.metals.tables import Figure, checked, read


class Margin(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Sand beside, between, over and under castings of about 1 kg, mm."""

    beside: Figure
    between: Figure
    over: Figure
    under: Figure


class Growth(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """How margins grow with mass: power, and the least and most share."""

    share: Figure
    least: Figure
    most: Figure


class Margins(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The table: which metals belong to which group, and each group's margins."""

    group: dict[str, tuple[str, ...]]
    light: Margin
    copper: Margin
    iron: Margin
    growth: Growth


@dataclass(frozen=True)
class SandRound:
    """Sand beside, between, over (cope) and under (drag) a casting, mm."""

    beside_mm: float
    between_mm: float
    over_mm: float
    under_mm: float
    source: str


@cache
def margins() -> Margins:
    """The table."""
    content: Any = read("margins")
    checked("margins", content)
    return msgspec.convert(content, Margins)


def group_of(metal_id: str) -> str:
    """light, copper or iron. KeyError for a metal that the table does not hold (a test holds that it holds all)."""
    return next(name for name, ids in margins().group.items() if metal_id in ids)


def sand_round(metal_id: str, mass_kg: float) -> SandRound:
    """Sand round a casting of this metal and mass, to whole mm. The smallest casting has no less than the table's
    least share.
    """
    table = margins()
    own: Margin = getattr(table, group_of(metal_id))
    growth = table.growth
    share = min(max(max(mass_kg, 1e-6) ** growth.share.value, growth.least.value), growth.most.value)
    beside, between, over, under = (
        float(round(one.value * share)) for one in (own.beside, own.between, own.over, own.under)
    )
    return SandRound(beside, between, over, under, own.beside.source)
