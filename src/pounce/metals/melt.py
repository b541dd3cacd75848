"""Melting: what is lost, how crucibles cool, how long the steps of a pour take; and the heat that a melt wants."""

from functools import cache
from typing import Literal

import msgspec

from pounce.metals.heat import heat
from pounce.metals.tables import Figure, Metal, checked, read

Charge = Literal["ingot", "scrap", "turnings"]


class MeltGroup(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Metals that melt alike: losses (%) by what is charged, how far over its hottest pouring it may be lifted (K),
    emissivity, how long it may wait and is treated (min), the hottest a casting leaves the sand (C), the way to the
    first mould (s); ``treats`` what is done to it, with
    its ``cautions``.
    """

    metals: tuple[str, ...]
    loss_ingot: Figure
    loss_scrap: Figure
    loss_turnings: Figure
    lift_over: Figure
    shines: Figure
    hold: Figure
    treat: Figure
    open: Figure
    carry: Figure
    treats: str
    cautions: tuple[str, ...] = ()

    def loss(self, charge: Charge) -> Figure:
        """Loss of a charge, %."""
        return {"ingot": self.loss_ingot, "scrap": self.loss_scrap, "turnings": self.loss_turnings}[charge]


class CrucibleStuff(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What a crucible is made of: J/(kg K), emissivity, the share of heat its wall lets through, kg/m3."""

    name: str
    heat: Figure
    shines: Figure
    through: Figure
    density: Figure


class MeltCommon(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What goes for every melt; units and conditions stand in the table."""

    room: Figure
    air_film: Figure
    lid: Figure
    brim: Figure
    slender: Figure
    wall: Figure
    wall_steel: Figure
    heel: Figure
    spare: Figure
    foam_hotter: Figure
    thin: Figure
    thick: Figure
    cool_share: Figure
    hot_share: Figure
    window: Figure
    between: Figure
    efficiency: Figure
    efficiency_burner: Figure
    warm: Figure
    melt_least: Figure
    two_men: Figure
    open_least: Figure


class Work(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """How long each step takes one pair of hands, min (of ramming also min/l)."""

    temper: Figure
    mix: Figure
    ram_litre: Figure
    ram_half: Figure
    draw: Figure
    gates: Figure
    close: Figure
    weight: Figure
    set_core: Figure
    core_ram: Figure
    gas: Figure
    core_cool: Figure
    core_coat: Figure
    coat_dry: Figure
    foam_coat: Figure
    foam_dry: Figure
    loose_fill: Figure
    clay_dry: Figure
    charge: Figure
    refill: Figure
    shake: Figure
    knock: Figure
    green_keeps: Figure
    weighings: Figure
    weighing_lost: Figure
    core_keeps: Figure


class Melt(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The table."""

    group: dict[str, MeltGroup]
    crucible: dict[str, CrucibleStuff]
    common: MeltCommon
    work: Work


@cache
def melt() -> Melt:
    """The table. ValueError that names the figure which cannot stand."""
    content = read("melt")
    checked("melt", content)
    return msgspec.convert(content, Melt)


def melt_group(metal_id: str) -> MeltGroup:
    """How this metal melts. KeyError for one that the table does not hold (a test holds that it holds all)."""
    for group in melt().group.values():
        if metal_id in group.metals:
            return group
    raise KeyError(metal_id)


def heat_to(metal: Metal, metal_id: str, at_c: float) -> float:
    """Heat (J/kg) that takes cold metal to ``at_c``: its solid to the solidus, its latent heat, its liquid from the
    liquidus on; ``at_c`` over the liquidus (textbook sum of sensible and latent heat).
    """
    own = heat().metal[metal_id]
    room = melt().common.room.value
    solid = own.solid_heat.value * (metal.solidus.value - room)
    liquid = own.liquid_heat.value * max(at_c - metal.liquidus.value, 0.0)
    # what it takes up between solidus and liquidus beside the latent heat
    between = 0.5 * (own.solid_heat.value + own.liquid_heat.value) * (metal.liquidus.value - metal.solidus.value)
    return solid + between + 1000.0 * own.latent.value + liquid
