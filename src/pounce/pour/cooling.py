"""How metal cools in a crucible (Newton), and in the sand after it has set."""

import math
from dataclasses import dataclass

from pounce.metals.heat import heat
from pounce.metals.melt import melt, melt_group
from pounce.metals.tables import Metal
from pounce.pour.things import Crucible

STEFAN = 5.670374e-8  # W/(m2 K4), CODATA
KELVIN = 273.15


@dataclass(frozen=True)
class Fall:
    """Newton's law: heat given off (W/K) over room heat, and what the crucible itself holds (J/K)."""

    gives_w_k: float
    pot_j_k: float

    def rate(self, kg: float, metal_id: str) -> float:
        """1/s for so much metal in it."""
        return self.gives_w_k / (kg * heat().metal[metal_id].liquid_heat.value + self.pot_j_k)


def cooled(from_c: float, seconds: float, rate: float) -> float:
    """Temperature after ``seconds``: T = T0 + (T1 - T0) exp(-k t) (Newton)."""
    room = melt().common.room.value
    return room + (from_c - room) * math.exp(-rate * seconds)


def before(to_c: float, seconds: float, rate: float) -> float:
    """Temperature from which it falls to ``to_c`` in ``seconds``."""
    room = melt().common.room.value
    return room + (to_c - room) * math.exp(rate * seconds)


def rate_of(from_c: float, to_c: float, seconds: float) -> float:
    """Newton's k (1/s) by two readings."""
    room = melt().common.room.value
    return math.log((from_c - room) / (to_c - room)) / seconds


def fall_of(pot: Crucible, metal_id: str, at_c: float, lid: bool) -> Fall:
    """By the crucible's size, its stuff, the metal's own shine, and whether a lid is on it: radiation made linear at
    ``at_c``, and still air (handbooks of heat transfer); the wall lets through a share of what a bare one would.
    """
    table = melt()
    c, stuff = table.common, table.crucible[pot.material]
    hot, cold = at_c + KELVIN, c.room.value + KELVIN
    radiant = STEFAN * (hot * hot + cold * cold) * (hot + cold)
    wide, high = pot.inside_mm
    outer = wide + 2.0 * pot.wall_mm
    top = math.pi / 4.0 * wide**2 * 1e-6
    side = (math.pi * outer * high + math.pi / 4.0 * outer**2) * 1e-6
    open_top = (radiant * melt_group(metal_id).shines.value + c.air_film.value) * top * (c.lid.value if lid else 1.0)
    walls = (radiant * stuff.shines.value + c.air_film.value) * side * stuff.through.value
    return Fall(open_top + walls, pot.empty_kg * stuff.heat.value)


def measured_fall(from_c: float, to_c: float, seconds: float, kg: float, pot: Crucible, metal_id: str) -> Fall:
    """The same by two readings of the user's own, with so much metal in it."""
    pot_j = pot.empty_kg * melt().crucible[pot.material].heat.value
    whole = kg * heat().metal[metal_id].liquid_heat.value + pot_j
    return Fall(rate_of(from_c, to_c, seconds) * whole, pot_j)


def open_after_s(metal: Metal, metal_id: str, poured_c: float, solid_s: float) -> float:
    """When a casting that is solid after ``solid_s`` has fallen to where it may leave the sand, s.

    A mould takes up heat with the root of time (conduction into a half space, Carslaw and Jaeger), in proportion to
    how much hotter the casting's face is than the sand. All heat down to the opening temperature is taken to pass
    at the drive that is left then, so the figure lies on the safe side.
    """
    own, c, group = heat().metal[metal_id], melt().common, melt_group(metal_id)
    room, end = c.room.value, group.open.value
    freezing = 1000.0 * own.latent.value + own.liquid_heat.value * max(poured_c - metal.liquidus.value, 0.0)
    further = own.solid_heat.value * (metal.solidus.value - end)
    drive = (metal.solidus.value - room) / (end - room)
    root = math.sqrt(solid_s) * (1.0 + further / freezing * drive)
    return max(root * root, 60.0 * c.open_least.value)
