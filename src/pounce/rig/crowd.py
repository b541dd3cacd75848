"""Whether so many castings of one pattern fill at once: more of them share the metal's stream, and each fills more
slowly, until thin ones stop short. Judged on each casting alone; the mould itself is judged at Freeze.
"""

import math
from dataclasses import dataclass

import numpy as np

from pounce.field.fronts import ways_of
from pounce.freeze.filling import Fronts
from pounce.freeze.heats import Poured
from pounce.freeze.lay import gates_on
from pounce.metals.tables import metal as metal_of
from pounce.rig.flasking import Asked, Rigged
from pounce.rig.values import Flow


@dataclass(frozen=True)
class Crowd:
    """Castings that do not fill at once: how many there are, how much of each the metal does not reach (mm3) at
    ``pour_c``, and how many would fill.
    """

    count: int
    short_mm3: float
    pour_c: float
    fill: int


def crowded(asked: Asked, rig: Rigged, flow: Flow, metal_id: str, sand_id: str) -> Crowd | None:
    """The job's own castings where fewer of them would fill; None where all do, or where not even one does.

    The time to fill goes as the root of the mass (:func:`pounce.rig.flow.fill_seconds`), so the stream that is left
    to each goes as one over it.
    """
    lot, fit = asked.lots[0], rig.lots[0]
    if lot.count < 2 or lot.warmth is None or rig.stand is not None:
        return None
    grid = lot.warmth.laid
    poured = Poured(metal_id, sand_id, metal_of(metal_id).pouring.value)
    gates = gates_on(grid, np.array([one.at for one in fit.gates]))
    ways = ways_of(np.asarray(grid.casting > 0), grid.shares, gates, grid.cells)
    if not ways.stretches:
        return None

    def short_mm3(count: int) -> float:
        kept = asked.castings_kg - (lot.count - count) * lot.casting_kg
        # of a tree the lowest tier has the whole stream
        at_once = kept if asked.tiers == 1 else min(count, asked.tier_count) * lot.casting_kg
        own = flow.flow_cm3_s * 1e3 * lot.casting_kg / at_once * math.sqrt(kept / asked.castings_kg)
        fronts = Fronts(grid, ways, poured, own)
        stands = fronts.heats(poured.pour_c) < fronts.stands_still
        return float(sum(one.mm3 for one, still in zip(ways.stretches, stands, strict=True) if still))

    short = short_mm3(lot.count)
    if short <= 0.0:
        return None
    for count in range(lot.count - 1, 0, -1):
        if short_mm3(count) <= 0.0:
            return Crowd(lot.count, short, poured.pour_c, count)
    return None
