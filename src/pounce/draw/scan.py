"""Locked area as a function of the height of a flat joint, all heights in one pass.

Above the joint a piece locks unless its sand can leave upward; below it, unless downward. The area of a triangle
below a height is piecewise quadratic in that height, so the whole function is a sum of quadratics that change at
corner heights: one sort, one running sum.
"""

from dataclasses import dataclass

import numpy as np

from pounce.solid.mesh import Bools, Floats

# A triangle thinner than this share of the part's height counts as level.
LEVEL = 1e-7


@dataclass(frozen=True, eq=False)
class Pieces:
    """Pieces of surface: ``heights`` (k, 3) of their corners along the draw, or (k,) of points that stand for level
    ones; ``areas`` (k,), ``up`` and ``down`` (k,).
    """

    heights: Floats
    areas: Floats
    up: Bools
    down: Bools


def below(heights: Floats, areas: Floats, at_mm: float) -> Floats:
    """(k,) area of each triangle that lies below ``at_mm``, exactly; level ones count as below when under it."""
    if heights.ndim == 1:
        return np.asarray(np.where(heights < at_mm, areas, 0.0))
    a, b, c = np.sort(heights, axis=1).T
    level = c - a <= 0.0
    with np.errstate(divide="ignore", invalid="ignore"):
        lower = areas * (at_mm - a) ** 2 / ((b - a) * (c - a))
        upper = areas - areas * (c - at_mm) ** 2 / ((c - a) * (c - b))
    inside = np.where(at_mm < b, lower, upper)
    inside = np.where(at_mm <= a, 0.0, np.where(at_mm >= c, areas, inside))
    return np.asarray(np.where(level, np.where(a < at_mm, areas, 0.0), inside))


def locked_at(pieces: Pieces, at_mm: float, slack_mm: float) -> float:
    """Locked area (mm2) with the joint at this height; level faces within the slack of it take their free side."""
    under = below(pieces.heights, pieces.areas, at_mm)
    over = pieces.areas - under
    if pieces.heights.ndim == 1:
        low = high = pieces.heights
    else:
        a, b, c = pieces.heights.T
        low, high = np.minimum(np.minimum(a, b), c), np.maximum(np.maximum(a, b), c)
    at_joint = (low >= at_mm - slack_mm) & (high <= at_mm + slack_mm)
    locked = np.where(pieces.up, 0.0, over) + np.where(pieces.down, 0.0, under)
    free = at_joint & (pieces.up | pieces.down)
    return float(locked[~free].sum())


def _steps(heights: Floats, areas: Floats, down: Bools, constant: float) -> tuple[Floats, Floats]:
    """:func:`scan` of points, which are level: nothing but steps."""
    place = np.where(down, heights, np.nextafter(heights, 2.0))
    order = np.argsort(place, kind="stable")
    place = place[order]
    running = np.cumsum(np.where(down, -areas, areas)[order])
    last = np.r_[place[1:] != place[:-1], True]
    return place[last], np.maximum(constant + float(areas[down].sum()) + running[last], constant)


def scan(pieces: Pieces) -> tuple[Floats, Floats]:
    """Heights (j,) ascending and the locked area (j,) just at them: all corner heights and every least between them."""
    constant = float(pieces.areas[~pieces.up & ~pieces.down].sum())
    one_way = pieces.up ^ pieces.down
    if not one_way.any():
        return np.array([0.0]), np.array([constant])
    heights = pieces.heights[one_way]
    areas = pieces.areas[one_way]
    middle = (heights.min() + heights.max()) / 2.0
    half = max((heights.max() - heights.min()) / 2.0, 1e-12)
    if heights.ndim == 1:
        knots, value = _steps((heights - middle) / half, areas, pieces.down[one_way], constant)
        return knots * half + middle, value
    a, b, c = np.sort((heights - middle) / half, axis=1).T
    level = c - a < LEVEL
    sign = np.where(pieces.down[one_way], -1.0, 1.0)
    places, deltas = [], []
    slant = ~level
    a1, b1, c1, w1, s1 = a[slant], b[slant], c[slant], areas[slant], sign[slant]
    with np.errstate(divide="ignore", invalid="ignore"):
        k_low = np.where(b1 - a1 > LEVEL * 0.1, w1 / ((b1 - a1) * (c1 - a1)), 0.0)
        k_high = np.where(c1 - b1 > LEVEL * 0.1, w1 / ((c1 - a1) * (c1 - b1)), 0.0)
    rise = np.stack([k_low, -2 * k_low * a1, k_low * a1 * a1], axis=1)
    fall = np.stack([-k_high, 2 * k_high * c1, w1 - k_high * c1 * c1], axis=1)
    full = np.stack([np.zeros_like(w1), np.zeros_like(w1), w1], axis=1)
    for place, delta in ((a1, rise), (b1, fall - rise), (c1, full - fall)):
        places.append(place)
        deltas.append(delta * s1[:, None])
    step = np.zeros((int(level.sum()), 3))
    step[:, 2] = areas[level] * sign[level]
    # A level face is free with the joint on it or beyond its open side; it locks once the joint has passed it.
    places.append(np.where(sign[level] > 0, np.nextafter(a[level], 2.0), a[level]))
    deltas.append(step)
    place = np.concatenate(places)
    order = np.argsort(place, kind="stable")
    place = place[order]
    running = np.cumsum(np.concatenate(deltas)[order], axis=0)
    # pieces open downward only lock above the joint: their full area less what lies below
    start = constant + float(areas[sign < 0].sum())
    last = np.r_[place[1:] != place[:-1], True]
    knots, curves = place[last], running[last]
    value = start + curves[:, 0] * knots**2 + curves[:, 1] * knots + curves[:, 2]
    following = np.r_[knots[1:], knots[-1]]
    with np.errstate(divide="ignore", invalid="ignore"):
        dip = -curves[:, 1] / (2.0 * curves[:, 0])
    inside = (curves[:, 0] > 0.0) & (dip > knots) & (dip < following)
    dips = dip[inside]
    dip_value = start + curves[inside, 0] * dips**2 + curves[inside, 1] * dips + curves[inside, 2]
    all_places, all_values = np.r_[knots, dips], np.r_[value, dip_value]
    order = np.argsort(all_places)
    return all_places[order] * half + middle, np.maximum(all_values[order], constant)
