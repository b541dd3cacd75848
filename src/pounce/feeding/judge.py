"""What of the heat counts: which last places want a cure, which are even section, and how much may be hollow."""

from dataclasses import dataclass

import numpy as np

from pounce.freeze.spots import Spot, spots_of
from pounce.freeze.values import Frozen
from pounce.metals.heat import heat
from pounce.metals.method import Method


@dataclass(frozen=True)
class Law:
    """The metal's: share that it shrinks on freezing, shares of that seen as a hole, why it wants no feeder ("")."""

    shrinks: float
    gathers: tuple[float, float]
    reason: str


def law_of(method: Method) -> Law:
    """By the tables."""
    h = heat()
    figure = h.gathers[h.metal[method.metal_id].mode]
    shrinks = method.metal.freezing_shrinkage.value / 100.0
    return Law(shrinks, (figure.low, figure.high), h.none.get(method.metal_id, ""))


def void_of(spot: Spot, law: Law) -> tuple[float, float]:
    """The hole that may be left, least and most, mm3."""
    low, high = (share * law.shrinks * spot.liquid_mm3 for share in law.gathers)
    return low, high


def middle_s(made: Frozen) -> float:
    """When half of the castings' metal no longer feeds."""
    return float(np.median(made.near_s[made.laid.casting > 0]))


def counts(spot: Spot, middle: float, law: Law) -> bool:
    """Whether a last place is more than even section, and what it leaves is worth a word."""
    c = heat().common
    return spot.seconds >= c.even.value * middle and void_of(spot, law)[1] >= 1e3 * c.least_void.value


def counted(made: Frozen, law: Law) -> tuple[tuple[Spot, ...], float]:
    """Last places that count, the largest hole first, and the middle time."""
    middle = middle_s(made)
    return tuple(spot for spot in spots_of(made) if counts(spot, middle, law)), middle
