"""What a bench is held to be like before it has measured anything, and what no metal can do."""

from dataclasses import dataclass
from functools import cache

import msgspec

from pounce.metals.melt import melt
from pounce.metals.tables import Figure, Metal, checked, read


class LearnCommon(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What goes for every bench; units and conditions stand in the table."""

    held: Figure
    pour_scatter: Figure
    surface: Figure
    rapping: Figure
    swell: Figure
    joint_gap: Figure
    hindered: Figure
    outlier: Figure
    possible: Figure
    tie: Figure
    likely: Figure
    unlikely: Figure
    unclear: Figure
    caliper: Figure
    growth: Figure
    left: Figure
    wrong_share: Figure
    wrong: Figure
    worth: Figure


class Learn(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The table."""

    common: LearnCommon
    expansion: dict[str, Figure]


@cache
def learn() -> Learn:
    """The table. ValueError that names the figure which cannot stand."""
    content = read("learn")
    checked("learn", content)
    return msgspec.convert(content, Learn)


def cooling_percent(metal: Metal, metal_id: str) -> float:
    """What the solid loses in length from its solidus to the room, %: its mean expansion times the way down. Nothing
    that happens while it is liquid, or half so, shows in a size: that volume is made up by feeders, or is a hole.
    """
    return 1e-4 * learn().expansion[metal_id].value * (metal.solidus.value - melt().common.room.value)


def most_percent(metal: Metal, metal_id: str) -> float:
    """The most that this metal can contract in a mould, %."""
    return learn().common.possible.value * max(metal.contraction.high, cooling_percent(metal, metal_id))


@dataclass(frozen=True)
class Claimed:
    """How a claimed contraction stands: ``possible`` at all, ``inside`` the table's range, and why in one sentence."""

    possible: bool
    inside: bool
    why: str


def claimed(metal: Metal, metal_id: str, percent: float) -> Claimed:
    """Judges a contraction (%) that somebody claims of this metal."""
    low, high = metal.contraction.low, metal.contraction.high
    cools, most = cooling_percent(metal, metal_id), most_percent(metal, metal_id)
    name = metal.name
    if percent > most:
        freezing = metal.freezing_shrinkage
        volume = (
            f" {freezing.value:g} % is what its volume loses as it freezes: feeders make that up, no size shows it."
            if percent > 0.6 * freezing.value
            else ""
        )
        return Claimed(
            False,
            False,
            f"{percent:g} % is impossible for {name.lower()}: cooling from {metal.solidus.value:.0f} °C, where it is "
            f"solid, takes {cools:.1f} % of its length.{volume}",
        )
    if percent < 0.0:
        return Claimed(False, False, f"{name} does not grow: measure pattern and casting again.")
    if low <= percent <= high:
        return Claimed(True, True, f"{percent:g} % lies within the {low:g} to {high:g} % of the table.")
    return Claimed(
        True, False, f"{percent:g} % lies outside the {low:g} to {high:g} % of the table: measure once more."
    )
