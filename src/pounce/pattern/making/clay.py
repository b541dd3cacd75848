"""Pressed into fine clay: how deep, where the keys, the funnel and the breathers go, worked in the plan across the
draw.

The plan is turned so that the funnel looks along +y: the mould is poured standing, funnel up, and whatever lies away
from it must breathe upward past it.
"""

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from pounce.base.finding import Finding, Severity
from pounce.metals.tables import limits
from pounce.pattern.making.values import Clay
from pounce.solid import boolean
from pounce.solid.evenodd import outline_of
from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Floats, Mesh

# Ends are told from one another when they lie this share of the piece's size apart; an own top must rise this far over
# what is beside it, mm.
APART, PROMINENT_MM = 0.2, limits()["clay_top_rises"].value
# How much of an end's length is weighed when the heavier end is looked for.
END = 0.2
LEAST_THROAT_MM = limits()["clay_throat_least"].value
# A piece that lies so little into one half lies flat on the joint.
FLAT, FLAT_MM = 0.02, 0.05
MOST_BREATHERS = 6


def clay_plan(
    whole: Mesh, direction: Floats, height_mm: float, funnel_deg: float | None
) -> tuple[Clay, list[Finding]] | None:
    """The plan for pressing a pattern of pattern size into clay; None for one that is not closed.

    ``funnel_deg`` which way the funnel looks in the plan, from its first axis; None: at the heavier end of its
    longest way, which freezes last and is fed from there.
    """
    turned = whole.moved(turn_to_z(direction), np.array([0.0, 0.0, -height_mm]))
    solid = boolean.closed_solid(turned)
    if solid is None:
        return None
    way = _heavier_end(turned) if funnel_deg is None else funnel_deg
    lean = np.radians(90.0 - way)
    c, s = float(np.cos(lean)), float(np.sin(lean))
    stood = turned.moved(np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]]), np.zeros(3))
    shape = _silhouette(stood)
    x0, y0, x1, y1 = shape.bounds
    middle = np.array([(x0 + x1) / 2.0, (y0 + y1) / 2.0, 0.0])
    stood = stood.moved(np.eye(3), -middle)
    shape = shapely.affinity.translate(shape, -float(middle[0]), -float(middle[1]))
    around = limits()["clay_round"].value
    points = _ring(shape)
    # in the middle of a flat end
    ends = points[points[:, 1] > float(points[:, 1].max()) - FLAT_MM]
    top = ends[int(np.argmin(np.abs(ends[:, 0] - ends[:, 0].mean())))]
    thick = _thickness_at(stood, top)
    throat = max(LEAST_THROAT_MM, limits()["clay_gate"].value * thick)
    mouth = max(limits()["clay_funnel"].value, 2.0 * throat)
    wide, deep = float(x1 - x0), float(y1 - y0)
    # keys stand outside the lanes of the breathers
    block = (wide + 2.0 * (around + limits()["clay_key"].value), deep + 3.0 * around)
    low = -deep / 2.0 - around
    breathers = _breathers(points, top, block, low, around)
    keys = _keys(block, low)
    under, over = max(-float(stood.bounds[0, 2]), 0.0), max(float(stood.bounds[1, 2]), 0.0)
    plan = Clay(
        way, points, block, low, (float(top[0]), float(top[1])), throat, mouth, tuple(breathers), keys, under, over
    )
    return plan, [_pressed(plan)]


def _pressed(plan: Clay) -> Finding:
    """How it is pressed into the clay."""
    under, over, throat, breathers = plan.under_mm, plan.over_mm, plan.throat_mm, plan.breathers
    if min(under, over) < FLAT * (under + over):
        return Finding(
            "pressed-into-clay",
            Severity.NOTE,
            "It lies flat on the joint: press it into the first half to its full depth of {deep_mm}, and "
            "ram the second half flat on it. Cut the funnel to a "
            "throat of {throat_mm}.",
            noun="full depth",
            figures={"deep_mm": max(under, over), "throat_mm": throat},
            main="throat_mm",
            source=limits()["clay_key"].source,
        )
    return Finding(
        "pressed-into-clay",
        Severity.NOTE,
        "Press it to half its depth, {under_mm} under the joint and {over_mm} over it, cut the keys, dust, "
        "then ram the second half. Cut the funnel to a throat "
        "of {throat_mm} and lead {count} of {breather_mm} up past it.".replace(
            "{count}", f"{len(breathers)} {'breather' if len(breathers) == 1 else 'breathers'}"
        ),
        noun="half its depth",
        figures={
            "under_mm": under,
            "over_mm": over,
            "throat_mm": throat,
            "breather_mm": limits()["clay_breather"].value,
        },
        main="throat_mm",
        source=limits()["clay_key"].source,
    )


def _heavier_end(mesh: Mesh) -> float:
    """The way in the plan, degrees, to the heavier end of the longest way."""
    flat = mesh.vertices[:, :2]
    corners = np.array(shapely.minimum_rotated_rectangle(shapely.MultiPoint(flat).convex_hull).exterior.coords)
    sides = np.diff(corners[:3], axis=0)
    along = sides[int(np.argmax(np.linalg.norm(sides, axis=1)))]
    along = along / np.linalg.norm(along)
    reach = flat @ along
    low, high = float(reach.min()), float(reach.max())
    solid = boolean.closed_solid(mesh)
    normal = np.array([*along, 0.0])
    ends = [0.0, 0.0]
    if solid is not None:
        above, _ = boolean.split(solid, normal, high - END * (high - low))
        _, below = boolean.split(solid, normal, low + END * (high - low))
        ends = [float(above.volume()), float(below.volume())]
    way = along if ends[0] >= ends[1] * (1.0 - 1e-6) else -along
    return float(np.degrees(np.arctan2(way[1], way[0])))


def _silhouette(mesh: Mesh) -> BaseGeometry:
    solid = boolean.closed_solid(mesh)
    loops = [] if solid is None else [np.asarray(loop) for loop in solid.project().to_polygons()]
    return outline_of(loops, 3)


def _ring(shape: BaseGeometry) -> Floats:
    parts = getattr(shape, "geoms", [shape])
    largest = max(parts, key=lambda one: one.area)
    return np.array(largest.simplify(0.05).segmentize(1.0).exterior.coords)[:-1]


def _thickness_at(mesh: Mesh, top: Floats) -> float:
    """How thick the piece is a little below the funnel, mm."""
    near = np.linalg.norm(mesh.corners[:, :, :2].mean(axis=1) - top, axis=1)
    reach = max(float(near.min()), 0.1 * float(np.ptp(mesh.vertices[:, 1])))
    heights = mesh.corners[near <= reach + 1e-9][:, :, 2]
    return float(np.ptp(heights)) if len(heights) else float(mesh.size[2])


def _breathers(points: Floats, top: Floats, block: tuple[float, float], low: float, around: float) -> list[Floats]:
    """Ways (k, 2) from the far ends and from tops of their own up to the funnel's edge of the clay, past the piece."""
    size = float(np.ptp(points, axis=0).max())
    hull = np.array(shapely.MultiPoint(points).convex_hull.exterior.coords)[:-1]
    gap = np.linalg.norm(hull - top, axis=1)
    ends: list[Floats] = []
    for k in np.argsort(-gap).tolist():
        beside = (gap[k - 1], gap[(k + 1) % len(hull)])
        if gap[k] >= max(beside) - 1e-9 and all(np.linalg.norm(hull[k] - other) > APART * size for other in ends):
            ends.append(hull[k])
    heights = points[:, 1]
    for k in np.flatnonzero((heights >= np.roll(heights, 1)) & (heights > np.roll(heights, -1))).tolist():
        apart = [np.linalg.norm(points[k] - other) > APART * size for other in (top, *ends)]
        if all(apart) and _rises(points, k) > PROMINENT_MM:
            ends.append(points[k])
    edge = low + block[1]
    out = []
    for end in ends[:MOST_BREATHERS]:
        side = 1.0 if end[0] >= top[0] else -1.0
        lane = side * (float(np.abs(points[:, 0]).max()) + 0.5 * around)
        # a top of its own breathes straight up; an end goes out to the side first
        straight = end[1] >= float(points[np.abs(points[:, 0] - end[0]) < 1.0][:, 1].max()) - 0.5 and end[1] > 0.0
        middle = [] if straight else [[lane, float(end[1])]]
        out.append(np.array([end.tolist(), *middle, [float(end[0]) if straight else lane, edge]]))
    return out


def _rises(points: Floats, k: int) -> float:
    """How far a top of the outline stands over the deeper of the dips beside it... the higher of them counts, mm."""
    heights = np.roll(points[:, 1], -k)
    left, right = heights[0], heights[0]
    for value in heights[1:]:
        if value > heights[0]:
            break
        right = min(right, value)
    for value in heights[:0:-1]:
        if value > heights[0]:
            break
        left = min(left, value)
    return float(heights[0] - max(left, right))


def _keys(block: tuple[float, float], low: float) -> tuple[tuple[float, float], ...]:
    """Three keys in the corners: the fourth is left out so that the halves go together one way only."""
    inset = limits()["clay_key"].value
    x = block[0] / 2.0 - inset
    return ((-x, low + inset), (x, low + inset), (-x, low + block[1] - inset))
