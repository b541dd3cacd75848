"""Outlines of core prints drawn up into solids whose sides lean."""

from itertools import pairwise

import numpy as np
import shapely
from shapely.geometry import Polygon

from pounce.base.errors import UserFault
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.mesh import Floats
from pounce.solid.polygons import triangulated

# What a side is cut away by reaches this far beyond it, mm.
HAIR = 0.02
# A side looks away from the middle of its outline when it is this share of the mean half width off it; corners that
# look inward by more than this lean as fans of so wide steps, radians.
SEEN, REFLEX, FAN = 0.3, 1e-6, 0.3
# Fans lap over the sides beside them by so much, radians, so that no film stays between.
LAP = 0.01
# Faces of one plane to within this become one, mm.
MERGED = 1e-4
# Corners nearer than this are one, mm; those whose sides turn back by more than this allows (1 + cosine) are needles.
WELD, NEEDLE = 1e-6, 0.05
# What stays of an outline without its necks, of its area, or they are left on.
NECKS = 0.7


def loft(outline: Polygon, sections: list[tuple[float, float]]) -> Solid:
    """The outline drawn through sections (height, share of its size about its middle), closed at both ends."""
    points = np.array(outline.exterior.coords)[:-1]
    middle = np.array(outline.centroid.coords[0])
    count = len(points)
    rows = [np.column_stack([middle + share * (points - middle), np.full(count, z)]) for z, share in sections]
    cap = triangulated([points], 1e-9)
    a = np.arange(count)
    b = np.roll(a, -1)
    faces = [cap[:, ::-1], cap + count * (len(rows) - 1)]
    for k in range(len(rows) - 1):
        low, high = k * count, (k + 1) * count
        faces += [np.stack([a + low, b + low, b + high], 1), np.stack([a + low, b + high, a + high], 1)]
    return boolean.tool_solid(np.concatenate(rows), np.concatenate(faces))


def prism(outline: Polygon, start: float, stop: float) -> Solid:
    """The outline drawn up as it is between two heights."""
    return loft(outline, [(start, 1.0), (stop, 1.0)])


def less(outline: Polygon, by: float) -> Polygon:
    """The outline moved in by so much (mm). UserFault where less than half of it is left."""
    left = outline.buffer(-by, join_style="mitre")
    # thin necks are lost to the clearance: what holds the core is left
    inner = max(getattr(left, "geoms", [left]), key=lambda part: part.area)
    if inner.area < 0.5 * outline.area:
        raise UserFault(
            "The clearance leaves nothing of this print.", "Give it less clearance, or close the opening flush."
        )
    return shapely.geometry.polygon.orient(Polygon(inner.exterior))


def without_necks(outline: Polygon, by: float) -> Polygon:
    """The outline less what would come off it or vanish when its sides move in by so much (mm): there the core ends
    level with the rim. The outline itself where that is more than a little of it.
    """
    left = outline.buffer(-by, join_style="mitre")
    inner = max(getattr(left, "geoms", [left]), key=lambda part: part.area)
    wide = inner.buffer(by, join_style="mitre").intersection(outline).simplify(WELD)
    main = max(getattr(wide, "geoms", [wide]), key=lambda part: part.area)
    if main.geom_type != "Polygon" or main.area < NECKS * outline.area:
        return outline
    return shapely.geometry.polygon.orient(Polygon(main.exterior))


def share(outline: Polygon, tall: float, taper_deg: float) -> float:
    """By how much the far end is smaller so that walls lean by the taper in the mean."""
    less = tall * float(np.tan(np.radians(taper_deg))) / float(2.0 * outline.area / outline.length)
    return max(0.2, 1.0 - less)


def seen_whole(outline: Polygon) -> bool:
    """Whether all sides look squarely enough away from the middle that the outline made smaller about it leans them
    all inward. Beside a notch they would lean outward, and lock.
    """
    points = np.array(outline.exterior.coords)
    along = np.diff(points, axis=0)
    normal = np.column_stack([along[:, 1], -along[:, 0]]) / np.maximum(np.linalg.norm(along, axis=1), 1e-12)[:, None]
    off = np.einsum("ij,ij->i", points[:-1] - np.array(outline.centroid.coords[0]), normal)
    return bool(off.min() > SEEN * 2.0 * outline.area / outline.length)


def leaned(outline: Polygon, start: float, insets: list[tuple[float, float]]) -> Solid:
    """The outline drawn up from ``start``, every side moved in at each of these heights by so much (height, mm)."""
    points = np.array(outline.exterior.coords)[:-1]
    drawn = drawn_in(points, [(start, 0.0), *insets])
    return _hewn(outline, points, start, insets) if drawn is None else drawn


def drawn_in(points: Floats, insets: list[tuple[float, float]]) -> Solid | None:
    """A closed outline (k, 2) drawn through heights, every side moved in at each by so much (height, mm): corners run
    along what parts their sides, and sides that vanish on the way leave one corner (as straight skeletons are made,
    Aichholzer and Aurenhammer 1996). None where the outline would come apart, or a corner is too sharp for it.
    """
    points = points[np.linalg.norm(np.roll(points, -1, axis=0) - points, axis=1) > WELD]
    rows, faces, count = [np.column_stack([points, np.full(len(points), insets[0][0])])], [], 0
    for (low, first), (high, last) in pairwise(insets):
        by = first
        while True:
            ways = _corners_run(points)
            if ways is None:
                return None
            sides = np.roll(points, -1, axis=0) - points
            long = np.linalg.norm(sides, axis=1)
            shrinks = -((np.roll(ways, -1, axis=0) - ways) * sides).sum(axis=1) / long
            left = np.where(shrinks > 1e-9, long / np.maximum(shrinks, 1e-9), np.inf)
            step = min(float(left.min()), last - by)
            points, by = points + step * ways, by + step
            kept = np.linalg.norm(np.roll(points, -1, axis=0) - points, axis=1) > WELD
            own = np.cumsum(np.r_[0, kept[:-1]])  # a side that vanished ends in its first corner
            own[own == int(kept.sum())] = 0
            size, begin = len(points), count
            points = points[np.r_[True, kept[:-1]]][: int(kept.sum())]
            if len(points) < 3 or not Polygon(points).is_valid:
                return None
            count += size
            at = high if by >= last - 1e-12 else low + (high - low) * (by - first) / (last - first)
            rows.append(np.column_stack([points, np.full(len(points), at)]))
            a = np.arange(size)
            b = np.roll(a, -1)
            quads = [np.stack([a + begin, b + begin, own[b] + count], 1)]
            quads.append(np.stack([a + begin, own[b] + count, own[a] + count], 1)[own[a] != own[b]])
            faces += quads
            if by >= last - 1e-12:
                break
    faces += [triangulated([rows[0][:, :2]], 1e-9)[:, ::-1], triangulated([points], 1e-9) + count]
    drawn = boolean.tool_solid(np.concatenate(rows), np.concatenate(faces))
    return boolean.simplified(boolean.unmarked(drawn), MERGED)


def _corners_run(points: Floats) -> Floats | None:
    """(k, 2) how far each corner of an outline moves for every mm that its sides move in; None where one is needle
    sharp.
    """
    along = np.roll(points, -1, axis=0) - points
    inward = np.column_stack([-along[:, 1], along[:, 0]]) / np.linalg.norm(along, axis=1)[:, None]
    before = np.roll(inward, 1, axis=0)
    opens = 1.0 + (before * inward).sum(axis=1)
    return None if opens.min() < NEEDLE else (before + inward) / opens[:, None]


def _hewn(outline: Polygon, points: Floats, start: float, insets: list[tuple[float, float]]) -> Solid:
    """What :func:`leaned` makes, where the outline comes apart on the way: all that each side sweeps is cut away."""
    solid = prism(outline, start, insets[-1][0])
    after = np.roll(points, -1, axis=0)
    along = after - points
    long = np.linalg.norm(along, axis=1)
    inward = np.column_stack([-along[:, 1], along[:, 0]]) / np.maximum(long, 1e-12)[:, None]
    before = np.roll(inward, 1, axis=0)
    turn = np.arctan2(before[:, 0] * inward[:, 1] - before[:, 1] * inward[:, 0], (before * inward).sum(axis=1))
    # round a corner that looks into the outline the sides beside it part as they move in
    fans = [
        (at, at - HAIR * way, _fan(float(np.arctan2(way[1], way[0])) + LAP, float(by) - 2.0 * LAP))
        for at, way, by in zip(points, before, turn, strict=True)
        if by < -REFLEX
    ]
    less = []
    for (low, first), (high, last) in pairwise(insets):
        for a, b, way in zip(points[long > 1e-9], after[long > 1e-9], inward[long > 1e-9], strict=True):
            section = ((-HAIR, low), (first, low), (last, high), (last, high + HAIR), (-HAIR, high + HAIR))
            less.append(boolean.hull_tool(np.array([[*(at + way * by), z] for at in (a, b) for by, z in section])))
        for at, behind, fan in fans:
            rows = ((first, low), (last, high), (last, high + HAIR))
            found = [[*one, z] for one in (at, behind) for z in (low, high + HAIR)]
            found += [[*(at + by * one), z] for by, z in rows for one in fan]
            less.append(boolean.hull_tool(np.array(found)))
    return solid - boolean.united(less)


def _fan(start: float, turn: float) -> Floats:
    """(k, 2) ways from one to another, out to the sides of what they are inscribed in."""
    count = max(int(np.ceil(abs(turn) / FAN)), 1)
    way = start + turn * np.linspace(0.0, 1.0, count + 1)
    between = start + turn * (np.arange(count) + 0.5) / count
    out = 1.0 / np.cos(turn / count / 2.0)
    return np.concatenate(
        [np.column_stack([np.cos(way), np.sin(way)]), out * np.column_stack([np.cos(between), np.sin(between)])]
    )
