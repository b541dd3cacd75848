"""What of the heat counts: which last places want a cure, which are even section, and how much may be hollow."""

import math
from dataclasses import dataclass

import numpy as np

from pounce.freeze.heats import Poured, chvorinov
from pounce.freeze.spots import Spot, spots_of
from pounce.freeze.values import Frozen
from pounce.metals.heat import heat
from pounce.metals.method import Method

# A lump sets in so much of the time of a slab of its modulus: heat leaves it to all sides.
COMPACT = 0.8


@dataclass(frozen=True)
class Law:
    """The metal's: share that it shrinks on freezing, shares of that seen as a hole, why it wants no feeder (""), and
    the B of t = B M^2 in this sand (s/mm2).
    """

    shrinks: float
    gathers: tuple[float, float]
    reason: str
    slab_s_mm2: float


def law_of(method: Method, poured: Poured, carbon_pct: float | None = None, rigid: bool = True) -> Law:
    """By the tables. Iron feeds itself only with ``carbon_pct`` enough (its carbon equivalent; None: held to be) in a
    mould that is ``rigid``; else it shrinks by so much as its carbon does not make good.
    """
    h = heat()
    figure = h.gathers[h.metal[method.metal_id].mode]
    shrinks = method.metal.freezing_shrinkage.value / 100.0
    unfed = h.none.get(method.metal_id)
    reason = "" if unfed is None else unfed.reason
    if unfed is not None and unfed.carbon is not None and unfed.gives_way is not None and unfed.lean is not None:
        lean = carbon_pct is not None and carbon_pct < unfed.carbon.value
        if lean or not rigid:
            reason = ""
            worst = [*([unfed.lean.value] if lean else []), *([] if rigid else [unfed.gives_way.value])]
            shrinks = max(shrinks, *(one / 100.0 for one in worst))
    return Law(shrinks, (figure.low, figure.high), reason, chvorinov(poured))


def void_of(spot: Spot, law: Law) -> tuple[float, float]:
    """The hole that may be left, least and most, mm3."""
    low, high = (share * law.shrinks * spot.liquid_mm3 for share in law.gathers)
    return low, high


def middle_s(made: Frozen) -> float:
    """When half of the castings' metal no longer feeds."""
    return float(np.median(made.near_s[made.laid.casting > 0]))


def modulus_mm(seconds: float, law: Law) -> float:
    """The modulus of a body that sets in so many seconds: a compact one takes four fifths of a slab's time."""
    return math.sqrt(seconds / (COMPACT * law.slab_s_mm2))


def lump(spot: Spot, law: Law) -> bool:
    """Whether what is liquid in a last place is a lump and not a run of wall: its volume over its modulus cubed (a ball
    113, a cube 216, a bar ten widths long 640, a square plate ten thicknesses wide 800), and what feeds it
    closes well before it sets.
    """
    c = heat().common
    compact = spot.liquid_mm3 < c.lump.value * modulus_mm(spot.seconds, law) ** 3
    return compact and spot.seconds >= c.even.value * spot.cut_s


def counts(spot: Spot, middle: float, law: Law) -> bool:
    """Whether a last place is more than even section, and what it leaves is worth a word. Most of a chunky casting sets
    with its middle, so a lump counts whatever the rest of its casting does.
    """
    c = heat().common
    late = spot.seconds >= c.even.value * middle or lump(spot, law)
    return late and void_of(spot, law)[1] >= 1e3 * c.least_void.value


def counted(made: Frozen, law: Law) -> tuple[tuple[Spot, ...], float]:
    """Last places that count, the largest hole first, and the middle time."""
    middle = middle_s(made)
    return tuple(spot for spot in spots_of(made) if counts(spot, middle, law)), middle
