"""What a place of the casting is called: by the boss or bore that it lies at, else by its end of the casting."""

import numpy as np

from pounce.base.units import length
from pounce.solid.features.values import Feature
from pounce.solid.mesh import Floats

# A place is at a round that is no further from it than this share of the round's radius, and so many mm.
SHARE, NEAR_MM, MIDDLE = 1.6, 8.0, 0.3
_SAID = {"boss": "the boss", "bore": "the wall round the bore", "ball": "the ball", "cone": "the cone"}


def name_at(point: Floats, features: tuple[Feature, ...], box: Floats) -> str:
    """Of a point (3,) of the part; ``box`` (2, 3) its bounds."""
    best, least = None, np.inf
    for one in features:
        if one.kind not in ("boss", "bore") or not one.full:
            continue
        off = point - one.centre
        along = float(off @ one.axis)
        beside = float(np.linalg.norm(off - along * one.axis))
        over = max(one.low_mm - along, along - one.high_mm, 0.0)
        reach = SHARE * one.radius_mm + NEAR_MM if one.kind == "bore" else 1.1 * one.radius_mm
        if beside > reach or over > NEAR_MM:
            continue
        # a boss that holds it goes before a bore that it lies beside; of several the smallest
        rank = (0.0 if one.kind == "boss" else 1.0) * 1e4 + one.radius_mm + over
        if rank < least:
            best, least = one, rank
    if best is not None:
        return f"{_SAID[best.kind]} Ø {length(2.0 * best.radius_mm)}"
    where = (point - box.mean(axis=0)) / np.maximum(box[1] - box[0], 1e-9) * 2.0
    axis = int(np.argmax(np.abs(where)))
    if abs(where[axis]) < MIDDLE:
        return "the middle"
    ends = (("the left end", "the right end"), ("the near end", "the far end"), ("the bottom", "the top"))
    return ends[axis][int(where[axis] > 0.0)]
