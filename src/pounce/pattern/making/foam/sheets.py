"""Foam: sheets glued to a stack, hot-wire cuts as pairs of profiles in step, stiffeners, weight, and the gas it
burns to.
"""

import itertools
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import shapely
import shapely.ops
from shapely.geometry.base import BaseGeometry

from pounce.metals.tables import limits
from pounce.pattern.making.values import HotCut, Layer
from pounce.solid.mesh import Floats

Near = Sequence[list[tuple[Floats, float]]]
# Places tried for a joint within a sheet, and how far it stays from one of the sheet below, mm.
LOOKS, APART_MM = 97, limits()["foam_joint_apart"].value
# A part more is worth this much glue, mm; a part narrower than this is a crumb.
FRAGMENT, CRUMB_MM = limits()["foam_fragment"].value, limits()["foam_joint_apart"].value
# A wire follows no finer line than this, mm.
PLAIN_MM = 0.02
# Marks along a profile at which both ends of the wire are to be at once.
MARKS = 24
# Outlines that lean less than this let one wire path through the whole sheet do, mm between the two faces.
STRAIGHT_MM = 0.3
# A sheet that is larger between its faces than on either by this share is carved, not ruled.
BULGE = 0.03
STYRENE_KG_PER_MOL, GAS, PRESSURE = 0.10415, 8.314, 101_325.0


def hot_cuts(layers: tuple[Layer, ...], kerf_mm: float) -> tuple[HotCut, ...]:
    """For each outline of each layer the wire's way over both faces of the sheet, in step. The kerf melts away
    beside the piece.
    """
    out: list[HotCut] = []
    for layer in layers:
        ends = (layer.saw, layer.saw) if bulges(layer) else (layer.lower, layer.upper)
        lower, upper = _rings(ends[0], kerf_mm), _rings(ends[1], kerf_mm)
        for (inside, low), (_, high) in _matched(lower, upper):
            out.append(HotCut(layer.piece, layer.number, inside, *in_step(low, high)))
    # straight cuts first: they leave the faces that the others are marked on
    return tuple(sorted(out, key=lambda cut: (cut.piece, cut.layer, not is_straight(cut), not cut.inside)))


def bulges(layer: Layer) -> bool:
    """Whether a sheet is wider between its faces than the straight wire between their outlines would leave it: saw
    it, then carve.
    """
    ruled = layer.lower.union(layer.upper)
    return bool(layer.saw.area > (1.0 + BULGE) * ruled.area)


def is_straight(cut: HotCut) -> bool:
    """Whether one straight path through the sheet does: both profiles are alike."""
    return float(np.linalg.norm(cut.lower - cut.upper, axis=1).max()) < STRAIGHT_MM


def fitted(layers: tuple[Layer, ...], room: tuple[float, float], spare_mm: float, near: Near) -> tuple[Layer, ...]:
    """The layers with straight joints where they are larger than a sheet of ``room`` (long, wide) takes.

    A joint runs where it is short, clear of the places ``near`` (one list a piece) and not over one of the layer below.
    """
    out: list[Layer] = []
    for layer in layers:
        below = [one for one in out if one.piece == layer.piece]
        used = [joint for one in below[-1:] for joint in one.joints]
        joints: list[tuple[float, float, float, float]] = []
        parts: list[BaseGeometry] = []
        for one in getattr(layer.saw, "geoms", [layer.saw]):
            _cut(one, room, spare_mm, near[layer.piece], used, joints, parts)
        out.append(replace(layer, joints=tuple(joints), parts=tuple(parts)))
    return tuple(out)


def _cut(
    shape: BaseGeometry,
    room: tuple[float, float],
    spare_mm: float,
    near: list[tuple[Floats, float]],
    used: list[tuple[float, float, float, float]],
    joints: list[tuple[float, float, float, float]],
    parts: list[BaseGeometry],
) -> None:
    """Cuts a shape until every part fits the sheet; joints and parts are added to the lists."""
    if shape.geom_type != "Polygon" or shape.area <= 1.0:
        return
    x0, y0, x1, y1 = shape.bounds
    size = (x1 - x0 + spare_mm, y1 - y0 + spare_mm)
    if min(size) <= room[1] and max(size) <= room[0]:
        parts.append(shape)
        return
    best: tuple[float, int, float] | None = None
    for axis, low, high in ((0, x0, x1), (1, y0, y1)):
        if size[axis] <= room[1]:
            continue
        for at in np.linspace(low, high, LOOKS)[LOOKS // 8 : -LOOKS // 8].tolist():
            line = _across(axis, at, (x0, y0, x1, y1))
            glue = float(shape.intersection(shapely.LineString([line[:2], line[2:]])).length)
            cost = glue + 400.0 * sum(abs(float(place[axis]) - at) < radius for place, radius in near)
            cost += 200.0 * sum(
                abs(joint[axis] - at) < APART_MM and abs(joint[axis] - joint[axis + 2]) < 1e-6 for joint in used
            )
            # parts alike in size pack better, and crumbs are lost
            halves = shapely.ops.split(shape, shapely.LineString([line[:2], line[2:]])).geoms
            cost += 0.1 * abs(at - (low + high) / 2.0) + FRAGMENT * max(len(halves) - 2, 0)
            cost += FRAGMENT * sum(
                min(part.bounds[2] - part.bounds[0], part.bounds[3] - part.bounds[1]) < CRUMB_MM for part in halves
            )
            if best is None or cost < best[0]:
                best = (cost, axis, at)
    if best is None:
        parts.append(shape)
        return
    line = _across(best[1], best[2], (x0, y0, x1, y1))
    joints.append(line)
    for half in shapely.ops.split(shape, shapely.LineString([line[:2], line[2:]])).geoms:
        _cut(half, room, spare_mm, near, used, joints, parts)


def _across(axis: int, at: float, box: tuple[float, float, float, float]) -> tuple[float, float, float, float]:
    """A straight line square to an axis through a box, a little beyond it."""
    x0, y0, x1, y1 = box
    return (at, y0 - 1.0, at, y1 + 1.0) if axis == 0 else (x0 - 1.0, at, x1 + 1.0, at)


def glued_mm2(layers: tuple[Layer, ...]) -> float:
    """Area of all glue joints, between sheets and within them."""
    total = sum(
        float(layer.saw.intersection(shapely.LineString([joint[:2], joint[2:]])).length) * layer.thick_mm
        for layer in layers
        for joint in layer.joints
    )
    for low, high in itertools.pairwise(layers):
        if low.piece == high.piece:
            total += float(low.upper.intersection(high.lower).area)
    return total


def _rings(shape: BaseGeometry, kerf_mm: float) -> list[tuple[bool, Floats]]:
    """Outlines of a shape with the wire half a kerf outside the material; whether each is an opening."""
    grown = shape.buffer(kerf_mm / 2.0, join_style="mitre", mitre_limit=3.0).simplify(PLAIN_MM)
    parts = [grown] if grown.geom_type == "Polygon" else list(grown.geoms)
    out: list[tuple[bool, Floats]] = []
    for part in parts:
        part = shapely.geometry.polygon.orient(part)
        if part.is_empty:
            continue
        out.append((False, np.array(part.exterior.coords)))
        out += [(True, np.array(ring.coords)) for ring in part.interiors]
    return out


def _matched(
    lower: list[tuple[bool, Floats]], upper: list[tuple[bool, Floats]]
) -> list[tuple[tuple[bool, Floats], tuple[bool, Floats]]]:
    """Each outline of the lower face with that of the upper it lies nearest to; one that ends inside the sheet goes
    straight through.
    """
    out = []
    left = list(upper)
    for one in lower:
        same = [other for other in left if other[0] == one[0]]
        if not same:
            out.append((one, one))
            continue
        middle = one[1].mean(axis=0)
        best = min(same, key=lambda other: float(np.linalg.norm(other[1].mean(axis=0) - middle)))
        left = [other for other in left if other is not best]
        out.append((one, best))
    return out + [(other, other) for other in left]


def in_step(lower: Floats, upper: Floats) -> tuple[Floats, Floats]:
    """Two closed outlines as (k, 2) points each, k alike, that belong together: the wire is at both at once.

    Corners of either stay corners: both are divided at every corner of the one and the other, by share of their
    length from the points that lie nearest to each other.
    """
    one, two = lower[:-1], upper[:-1]
    gap = np.linalg.norm(one[:, None] - two[None], axis=2)
    i, j = np.unravel_index(int(np.argmin(gap)), gap.shape)
    one, two = np.roll(one, -int(i), axis=0), np.roll(two, -int(j), axis=0)
    one, two = np.vstack([one, one[:1]]), np.vstack([two, two[:1]])
    shares = [_share(one), _share(two)]
    both = np.unique(np.concatenate(shares).round(9)).astype(np.float64)
    return _at(one, shares[0], both), _at(two, shares[1], both)


def _share(points: Floats) -> Floats:
    along = np.r_[0.0, np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))]
    return np.asarray(along / max(float(along[-1]), 1e-12))


def _at(points: Floats, share: Floats, where: Floats) -> Floats:
    return np.stack([np.interp(where, share, points[:, k]) for k in range(2)], axis=1)


def marks_of(cut: HotCut) -> tuple[Floats, Floats]:
    """(m, 2) points of both profiles at which the helpers call the same number at the same time, evenly along the
    lower.
    """
    share = _share(cut.lower)
    count = int(np.clip(round(len(cut.lower) / 2), 8, MARKS))
    where = np.arange(count) / count
    return _at(cut.lower, share, where), _at(cut.upper, share, where)


def hours(layers: tuple[Layer, ...], area_mm2: float) -> tuple[float, float]:
    """(all, by hand) hours: each sheet marked and glued, every outline cut by the wire, and the whole sanded and
    coated.
    """
    figures = limits()
    wire = sum(float(layer.lower.length) for layer in layers) / figures["foam_wire"].value
    minutes = figures["foam_hand_layer"].value * len(layers) + wire + figures["foam_finish"].value * area_mm2 * 1e-4
    return minutes / 60.0, minutes / 60.0


def gas_litres(mass_kg: float, pour_c: float) -> float:
    """Gas that burned-out foam makes at the pour, litres at air's pressure: the ideal gas law for the styrene it falls
    to first.

    It goes on to fall to smaller molecules, so this is the least.
    """
    return mass_kg / STYRENE_KG_PER_MOL * GAS * (pour_c + 273.15) / PRESSURE * 1e3


def stiffeners(size: Floats) -> tuple[int, float] | None:
    """How many bars hold a long thin piece straight while it is rammed, and its slenderness; None where it is stout
    enough.
    """
    long, thin = float(size.max()), float(size.min())
    slender = long / max(thin, 1e-9)
    if slender <= limits()["foam_slender"].value:
        return None
    return max(1, int(np.ceil(long / (limits()["foam_slender"].value * thin))) - 1), slender
