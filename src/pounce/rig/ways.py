"""The way of the metal in plan, in a casting's own frame: gates straight out to a runner that goes round it at a
distance, beyond its last gate.
"""

from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry
from shapely.ops import substring

from pounce.rig.item import Item
from pounce.rig.places import Place
from pounce.solid.mesh import Floats


@dataclass(frozen=True, eq=False)
class Way:
    """The ring round a casting; where each gate meets it (mm along it); from where to where the runner goes along it
    without what it is led in by and what it overruns; and the shape that gates and runner take in plan.
    """

    ring: BaseGeometry
    meets: tuple[float, ...]
    start: float
    end: float
    lead_mm: float
    overrun_mm: float
    foot: BaseGeometry

    def arc(self, forward: bool) -> Floats:
        """(k, 2) the runner along the ring from its lead to its overrun; backward: the other way round."""
        low, high = (self.lead_mm, self.overrun_mm) if forward else (self.overrun_mm, self.lead_mm)
        line = _between(self.ring, self.start - low, self.end + high)
        return line if forward else np.asarray(line[::-1])

    def out(self, place: Place) -> Floats:
        """(2,) where the gate at this place meets the runner."""
        met = _met(self.ring, place)
        assert met is not None, "a way holds only gates that meet it"
        return met[1]


def trap_at(line: Floats, plan: BaseGeometry, trap_mm: float, runner_mm: float) -> Floats:
    """(2,) the middle of a whirl trap at the end of a runner's line (k, 2): the runner enters along its side, which
    lies away from the casting.
    """
    end = line[-1, :2]
    way = end - line[max(len(line) - 3, 0), :2]
    way = way / max(float(np.linalg.norm(way)), 1e-9)
    off = (trap_mm - runner_mm) / 2.0
    sides = [end + off * sign * np.array([-way[1], way[0]]) for sign in (1.0, -1.0)]
    return np.asarray(max(sides, key=lambda one: round(float(plan.distance(shapely.Point(one))), 6)))


def way_of(
    item: Item,
    places: tuple[Place, ...],
    wide_mm: float,
    runner_mm: float,
    long_mm: float,
    lead_mm: float,
    over: float,
    trap_mm: float = 0.0,
) -> Way | None:
    """The way for gates ``wide_mm`` wide and ``long_mm`` long at these places, a runner ``runner_mm`` wide. None where
    the ring is cut short.
    """
    ring = ring_of(item, runner_mm, long_mm)
    meets, points = [], []
    for place in places:
        met = _met(ring, place)
        if met is None:
            return None
        meets.append(met[0])
        points.append(met)
    order = np.sort(np.array(meets))
    gaps = np.diff(np.concatenate([order, order[:1] + ring.length]))
    widest = int(np.argmax(gaps))
    start = float(order[(widest + 1) % len(order)])
    end = start + ring.length - float(gaps[widest])
    room = float(gaps[widest])
    if room < lead_mm + over:
        lead_mm, over = room * 0.4, room * 0.4
    both = max(lead_mm, over)
    line = shapely.LineString(_between(ring, start - min(both, room * 0.45), end + min(both, room * 0.45)))
    strips = [
        shapely.LineString([place.at[:2], met[1]]).buffer(wide_mm / 2.0, cap_style="flat")
        for place, met in zip(places, points, strict=True)
    ]
    ends = np.asarray(line.coords)
    traps = [
        shapely.Point(trap_at(one, item.plan, trap_mm, runner_mm)).buffer(trap_mm / 2.0, 12)
        for one in (ends, ends[::-1])
        if trap_mm > 0.0
    ]
    foot = shapely.unary_union([line.buffer(runner_mm / 2.0), *strips, *traps])
    return Way(ring, tuple(meets), start, end, lead_mm, over, foot)


def ring_of(item: Item, runner_mm: float, long_mm: float) -> BaseGeometry:
    """The middle line of a runner round a casting, gates ``long_mm`` long between them."""
    grown = item.plan.buffer(long_mm + runner_mm / 2.0).simplify(0.2)
    part = max(getattr(grown, "geoms", [grown]), key=lambda one: one.area)
    return shapely.LinearRing(part.exterior.coords)


def reached(item: Item, ring: BaseGeometry, places: tuple[Place, ...], reach_mm: float) -> tuple[Place, ...]:
    """The places from which a gate goes straight out to the ring within ``reach_mm``, past nothing of the casting."""
    if not places:
        return ()
    at = np.array([place.at[:2] for place in places])
    out = np.array([place.out for place in places])
    rays = shapely.linestrings(np.stack([at, at + reach_mm * out], axis=1))
    met = shapely.intersection(rays, ring)
    body = item.plan.buffer(-0.3)
    kept = []
    for k, place in enumerate(places):
        points = shapely.get_coordinates(met[k])
        if not len(points):
            continue
        end = points[int(np.argmin(np.linalg.norm(points - at[k], axis=1)))]
        if not shapely.LineString([at[k] + 0.8 * out[k], end]).intersects(body):
            kept.append(place)
    return tuple(kept)


def _met(ring: BaseGeometry, place: Place) -> "tuple[float, Floats] | None":
    x, y, _ = place.at
    far = 4.0 * np.sqrt(max(shapely.Polygon(ring).area, 1.0))
    ray = shapely.LineString([(x, y), (x + far * place.out[0], y + far * place.out[1])])
    met = ray.intersection(ring)
    points = shapely.get_coordinates(met)
    if not len(points):
        return None
    nearest = points[int(np.argmin(np.linalg.norm(points - np.array([x, y]), axis=1)))]
    return float(ring.project(shapely.Point(nearest))), np.asarray(nearest)


def _between(ring: BaseGeometry, start: float, end: float) -> Floats:
    """(k, 2) along a ring from ``start`` to ``end`` (mm), which may lie before 0 or beyond its length."""
    length = float(ring.length)
    shift = np.floor(start / length) * length
    start, end = start - shift, end - shift
    line = shapely.LineString(ring.coords)
    if end <= length:
        return np.asarray(substring(line, start, end).coords)
    first = np.asarray(substring(line, start, length).coords)
    rest = np.asarray(substring(line, 0.0, end - length).coords)
    return np.concatenate([first, rest[1:]])
