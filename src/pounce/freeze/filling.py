"""How metal fills a mould: order of arrival, what its front has cooled to, where fronts meet. An indicator: the metal
takes the shortest ways and seeks its level; nothing of its swirl is computed.
"""

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from pounce.field.arrays import Field, Numbers
from pounce.field.fronts import SHELL_CELLS, Ways, ways_of
from pounce.field.heat import Substance
from pounce.freeze.heats import Poured, substances
from pounce.freeze.values import End, Laid
from pounce.metals.heat import heat

# Pouring temperatures are tried up to so far over the liquidus, C; found to this step.
MOST_C, STEP_C = 400.0, 5.0


@dataclass(frozen=True)
class Filling:
    """``seconds`` to fill; ``ends`` the coldest first; ``meets`` where fronts come together; ``short_mm3`` of metal
    that is not reached; ``fills_c`` the least pouring temperature at which all of it is (inf: none does); ``arrival_s``
    (nz, ny, nx) when each cell fills (inf: not metal of a casting).
    """

    seconds: float
    ends: tuple[End, ...]
    meets: tuple[End, ...]
    short_mm3: float
    fills_c: float
    arrival_s: Field

    @property
    def coldest(self) -> End | None:
        """The end that the metal reaches coldest."""
        return self.ends[0] if self.ends else None

    @property
    def short(self) -> bool:
        """Whether some of it is not reached."""
        return self.short_mm3 > 0.0


@dataclass(frozen=True, eq=False)
class Fronts:
    """The ways of the metal through castings, and what a front loses on them for each temperature that is poured."""

    laid: Laid
    ways: Ways
    poured: Poured
    flow_mm3_s: float

    @cached_property
    def lies(self) -> tuple[Substance, Substance]:
        """Metal and sand."""
        metal, sand = substances(self.poured)[:2]
        return metal, sand

    @cached_property
    def shells(self) -> Field:
        """(stretches,) speed of the front in each, mm/s: all that is filled at once shares the flow."""
        long = SHELL_CELLS * self.laid.cells.step
        number = np.array([round(one.far_mm / long - 0.5) for one in self.ways.stretches])
        number = np.maximum(number, 0)
        held = np.bincount(number, [one.mm3 for one in self.ways.stretches])
        return np.asarray(self.flow_mm3_s / np.maximum(held[number] / long, 1e-6))

    def heats(self, pour_c: float) -> Field:
        """(stretches,) enthalpy (J/m3 over just solid) of the front at the end of each; what has stopped goes on at the
        share where it stands still, less what the rest loses.
        """
        metal, sand = self.lies
        c = heat().common
        effusive = math.sqrt(sand.conducts * sand.solid_heat)
        long = SHELL_CELLS * self.laid.cells.step
        out = np.zeros(len(self.ways.stretches))
        start = metal.enthalpy(pour_c)
        for k, one in enumerate(self.ways.stretches):
            own = max((out[b] for b in one.before), default=start)
            if one.mm2 > 0.0:
                speed = max(float(self.shells[k]), 1e-3)
                thick = one.mm3 / one.mm2 * 1e-3
                resists = 1.0 / c.front_film.value + math.sqrt(math.pi * max(one.far_mm, long) / speed) / effusive
                flux = max(temperature(metal, own) - sand.start_c, 0.0) / resists
                own -= c.front_loss.value * flux * (long / speed) / thick
            out[k] = own
        return out

    @property
    def stands_still(self) -> float:
        """Enthalpy at which a front stops, J/m3."""
        return (1.0 - heat().common.choke_solid.value) * self.lies[0].freezing

    def fills_c(self) -> float:
        """The least pouring temperature (C) at which every end is reached; inf where none up to :data:`MOST_C` over
        the liquidus is.
        """
        low, high = self.lies[0].liquidus_c, self.lies[0].liquidus_c + MOST_C
        if not len(self.ways.stretches):
            return low
        if self.heats(high).min() < self.stands_still:
            return math.inf
        while high - low > STEP_C:
            middle = (low + high) / 2.0
            low, high = (low, middle) if self.heats(middle).min() >= self.stands_still else (middle, high)
        return high


def temperature(metal: Substance, enthalpy: float) -> float:
    """C at an enthalpy (J/m3 over just solid)."""
    if enthalpy <= 0.0:
        return metal.solidus_c + enthalpy / metal.solid_heat
    if enthalpy >= metal.freezing:
        return metal.liquidus_c + (enthalpy - metal.freezing) / metal.liquid_heat
    return metal.solidus_c + (metal.liquidus_c - metal.solidus_c) * enthalpy / metal.freezing


def filling(laid: Laid, gates: Numbers, poured: Poured, flow_cm3_s: float) -> Filling:
    """The castings filled from ``gates`` (nz, ny, nx; -1: none) at a flow for all of them."""
    ways = ways_of(np.asarray(laid.casting > 0), laid.shares, gates, laid.cells)
    fronts = Fronts(laid, ways, poured, flow_cm3_s * 1e3)
    heats = fronts.heats(poured.pour_c)
    metal = fronts.lies[0]
    arrival = ways.before_mm3 / fronts.flow_mm3_s

    def end(k: int) -> End:
        one = ways.stretches[k]
        x, y, z = laid.cells.middles(np.array([one.cell]))[0].tolist()
        return End(
            (x, y, z),
            one.far_mm,
            float(arrival.ravel()[one.cell]),
            temperature(metal, float(heats[k])),
            float(min(max(1.0 - heats[k] / metal.freezing, 0.0), 1.0)),
        )

    ends = sorted((end(k) for k, one in enumerate(ways.stretches) if one.ends), key=lambda one: one.front_c)
    meets = [end(k) for k, one in enumerate(ways.stretches) if len(one.before) > 1]
    stopped = sum(one.mm3 for k, one in enumerate(ways.stretches) if heats[k] < fronts.stands_still)
    reached = np.isfinite(ways.before_mm3)
    return Filling(
        float(arrival[reached].max()) if reached.any() else 0.0,
        tuple(ends),
        tuple(sorted(meets, key=lambda one: one.front_c)),
        float(stopped),
        fronts.fills_c(),
        arrival,
    )
