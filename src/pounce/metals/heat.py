"""Heat: what metals, sands, chills and sleeves conduct, hold and give off, and how feeders are sized and judged."""

from functools import cache
from typing import Literal

import msgspec

from pounce.metals.tables import Figure, checked, read

Mode = Literal["skin", "middle", "long"]


class MetalHeat(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A metal near its freezing: W/(m K), J/(kg K), kJ/kg. ``mode``: it freezes from a skin, as a mush (``long``), or
    between.
    """

    conducts: Figure
    solid_heat: Figure
    liquid_heat: Figure
    latent: Figure
    mode: Mode


class SandHeat(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A mould medium: W/(m K), J/(kg K)."""

    conducts: Figure
    heat: Figure


class HeatCommon(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What goes for every metal; units and conditions stand in the table."""

    core_conducts: Figure
    core_heat: Figure
    sand_start: Figure
    chill_conducts: Figure
    chill_heat: Figure
    chill_density: Figure
    chill_film: Figure
    sleeve_conducts: Figure
    sleeve_heat: Figure
    sleeve_density: Figure
    sleeve_wall: Figure
    air_film: Figure
    near_solid: Figure
    even: Figure
    lump: Figure
    least_void: Figure
    outlasts: Figure
    feeder_modulus: Figure
    feeder_high: Figure
    gives: Figure
    sleeve_gives: Figure
    neck: Figure
    neck_long: Figure
    neck_side: Figure
    feeder_runner: Figure
    chill_wide: Figure
    chill_thick: Figure
    feeder_heavy: Figure
    blind_from: Figure
    sleeve_lasts: Figure
    feeder_spare: Figure
    former_wider: Figure
    feeder_about: Figure
    feeder_margin: Figure
    pad_least: Figure
    pad_most: Figure
    pad_over: Figure
    pad_share: Figure
    vent_nearer: Figure
    way_open: Figure
    welds: Figure
    vent_reach: Figure
    vent_late: Figure
    hotter: Figure
    gate_from_feeder: Figure
    choke_solid: Figure
    front_loss: Figure
    front_film: Figure
    seconds: Figure


class Unfed(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Why a metal wants no feeder; of iron the carbon equivalent from which that holds, and what it shrinks by (% of
    volume) with less of it (``lean``) or in a mould that gives way.
    """

    reason: str
    carbon: Figure | None = None
    lean: Figure | None = None
    gives_way: Figure | None = None


class Heat(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The table. ``gathers`` the share of a pool's shrinkage that is seen as a hole, by the way a metal freezes;
    ``none`` why a metal wants no feeder, where it does not.
    """

    metal: dict[str, MetalHeat]
    sand: dict[str, SandHeat]
    common: HeatCommon
    gathers: dict[Mode, Figure]
    none: dict[str, Unfed]


@cache
def heat() -> Heat:
    """The table. ValueError that names the figure which cannot stand."""
    content = read("heat")
    checked("heat", content)
    return msgspec.convert(content, Heat)
