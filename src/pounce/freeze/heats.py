"""What fills the cells, from the tables: heat conducted, held and given off."""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy import ndimage

from pounce.base.errors import UserFault
from pounce.field.heat import Asked, Cooled, Substance, cooled
from pounce.freeze.values import Frozen, Laid, Stuff
from pounce.metals.heat import heat
from pounce.metals.pouring import liquid_density
from pounce.metals.tables import metal as metal_of
from pounce.metals.tables import mould as mould_of

# Sand is laid for castings so much thicker than theirs, holds so much more than the heat they give off, and is never
# less, mm.
WITHIN, HOLDS, LEAST_SAND_MM = 1.5, 1.3, 12.0
# A run ends after so many times what a slab of the thickest place takes, and not before, s: what is not solid then
# never will be.
LONGEST, LEAST_S = 20.0, 60.0


@dataclass(frozen=True)
class Poured:
    """Metal and sand by their ids, the temperature that it is poured with (C), and the sand's and the metal's own
    figures where the bench has measured them (W/(m K), J/(kg K), W/(m K), kJ/kg).
    """

    metal_id: str
    sand_id: str
    pour_c: float
    sand_conducts: float | None = None
    sand_heat: float | None = None
    metal_conducts: float | None = None
    latent_kj_kg: float | None = None


def substances(poured: Poured) -> tuple[Substance, ...]:
    """By the numbers of :class:`Stuff`. UserFault where metal is poured colder than it sets."""
    metal, sand = metal_of(poured.metal_id), mould_of(poured.sand_id)
    own, its, c = heat().metal[poured.metal_id], heat().sand[poured.sand_id], heat().common
    liquidus, solidus = metal.liquidus.value, metal.solidus.value
    if poured.pour_c <= liquidus:
        raise UserFault(
            f"At {poured.pour_c:.0f} C {metal.name.lower()} is no longer liquid: it begins to set at {liquidus:.0f} C.",
            "Pour it hotter.",
        )
    density, liquid = metal.density.value, liquid_density(poured.metal_id).value
    start = c.sand_start.value
    conducts = its.conducts.value if poured.sand_conducts is None else poured.sand_conducts
    held = (its.heat.value if poured.sand_heat is None else poured.sand_heat) * sand.density.value
    core = c.core_heat.value * 1600.0
    chill = c.chill_heat.value * c.chill_density.value
    sleeve = c.sleeve_heat.value * c.sleeve_density.value
    k = c.chill_conducts.value

    def still(conducts: float, held: float) -> Substance:
        return Substance(conducts, held, held, 0.0, 0.0, 0.0, start)

    return (
        Substance(
            own.conducts.value if poured.metal_conducts is None else poured.metal_conducts,
            density * own.solid_heat.value,
            liquid * own.liquid_heat.value,
            (density + liquid) / 2.0 * (own.latent.value if poured.latent_kj_kg is None else poured.latent_kj_kg) * 1e3,
            solidus,
            liquidus,
            poured.pour_c,
            melts=True,
        ),
        still(conducts, held),
        still(c.core_conducts.value, core),
        Substance(k, chill, chill, 0.0, 0.0, 0.0, start, melts=True, film=c.chill_film.value),
        still(c.sleeve_conducts.value, sleeve),
        Substance(1.0, 1.0, 1.0, 0.0, 0.0, 0.0, start, film=c.air_film.value, stays=True),
    )


def chvorinov(poured: Poured) -> float:
    """B of t = B M^2 (s/mm2) for a thick slab: pi/4 (rho H/(T - T0))^2/(k rho c) of the sand (Chvorinov 1940)."""
    one, sand = substances(poured)[:2]
    gives = one.latent + (poured.pour_c - one.liquidus_c) * one.liquid_heat
    gives += (one.liquidus_c - one.solidus_c) * one.solid_heat
    middle = (one.liquidus_c + one.solidus_c) / 2.0
    return math.pi / 4.0 * (gives / (middle - sand.start_c)) ** 2 / (sand.conducts * sand.solid_heat) * 1e-6


def pad_mm(poured: Poured, modulus_mm: float) -> float:
    """How far heat goes into sand while a body of this modulus sets: some two lengths of sqrt(a t)."""
    sand = substances(poured)[Stuff.SAND]
    return 2.2 * math.sqrt(sand.conducts / sand.solid_heat * chvorinov(poured) * modulus_mm**2) * 1e3


def sand_mm(poured: Poured, modulus_mm: float, at_most: float) -> float:
    """How much sand is laid about castings of this modulus: as far as heat goes into it, at most ``at_most``, but never
    less than takes all the heat that has to leave before they are solid. Nothing passes the grid's border: in less
    sand a thick casting would never set.
    """
    metal, sand = (substances(poured)[one] for one in (Stuff.METAL, Stuff.SAND))
    holds = sand.solid_heat * max(metal.solidus_c - sand.start_c, 1.0)
    needs = HOLDS * modulus_mm * metal.enthalpy(poured.pour_c) / holds
    return max(min(max(pad_mm(poured, WITHIN * modulus_mm), LEAST_SAND_MM), at_most), needs)


def frozen(laid: Laid, poured: Poured, tick: Callable[[float, float], None], until_s: float = math.inf) -> Frozen:
    """The mould's heat until all of it is solid, or ``until_s``. UserFault for a casting that no cell of the grid
    holds, and for one whose flask is warmed through before it is solid.
    """
    metal = np.asarray(laid.kinds == Stuff.METAL)
    if not metal.any() or not (laid.casting > 0).any():
        raise UserFault(
            f"The casting is thinner all over than a cell of the heat's grid, {laid.cells.step:.2g} mm.",
            "Check the unit of the part: metal so thin does not run.",
        )
    # a slab as thick as the thickest place, many times over
    thick = float(ndimage.distance_transform_edt(metal).max()) * laid.cells.step
    longest = max(LONGEST * chvorinov(poured) * thick**2, LEAST_S)
    made: Cooled = cooled(
        Asked(
            laid.cells,
            laid.kinds,
            substances(poured),
            laid.shares,
            heat().common.near_solid.value,
            until_s=min(until_s, longest),
            watched=metal,
        ),
        tick,
    )
    if until_s > longest and not np.isfinite(made.solid_s[metal]).all():
        raise UserFault(
            "The sand in this flask is warmed through before the casting is solid, so nothing can be told of what sets "
            "last.",
            "Take a larger flask with more sand about it.",
        )
    return Frozen(laid, made.near_s, made.solid_s, made.ran_s, made.steps, made.energy_error, made.work)
