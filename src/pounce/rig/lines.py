"""The middle lines of the runner from the sprue to every casting, and its gates, in the flask."""

from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from pounce.metals.pouring import pouring
from pounce.rig.fit import Fit
from pounce.rig.flasks import Flask
from pounce.rig.item import Item, placed, turned_point
from pounce.rig.layout import Laid
from pounce.rig.solids import Cutting
from pounce.rig.trunk import trunk
from pounce.rig.values import Margins, Spot
from pounce.solid.mesh import Floats

# The runner comes down from a shaped joint at this slope beyond so much, mm.
FALLS_DEG, LEVEL_NEAR_MM = 35.0, 5.0
# Points of a runner stand at most so far apart where the joint is shaped, and it is drawn this coarsely, mm.
SHAPED_STEP_MM, RUNNER_MM = 8.0, 0.3
# Beyond the walls nothing goes, so far out.
FAR_MM = 50.0


@dataclass(frozen=True, eq=False)
class Lines:
    """Gates before they are cut, (k, 3) middle lines of the runner, one a casting, and whether each found a way
    inside the walls and past the other castings.
    """

    cuttings: tuple[Cutting, ...]
    lines: tuple[Floats, ...]
    led: bool


def wall_of(flask: Flask) -> BaseGeometry:
    """The inside of a flask seen from above."""
    if flask.shape == "box":
        return shapely.box(-flask.long_mm / 2.0, -flask.wide_mm / 2.0, flask.long_mm / 2.0, flask.wide_mm / 2.0)
    return shapely.Point(0.0, 0.0).buffer(flask.long_mm / 2.0, 64)


def lines_of(items: tuple[Item, ...], fits: tuple[Fit, ...], laid: Laid, flask: Flask, margins: Margins) -> Lines:
    """Gates and runner of all castings, in the flask; item and fit of each casting."""
    s = fits[0].sections
    keep = s.runner_wide / 2.0 + pouring().common.passes.value
    inside = wall_of(flask)
    walls = inside.buffer(2.0 * FAR_MM).difference(inside.buffer(-s.runner_wide / 2.0 - margins.runner_wall))
    castings = shapely.unary_union(
        [placed(item.plan, *one).buffer(keep) for item, one in zip(items, laid.castings, strict=True)]
    )
    sprue = np.array(laid.sprue)
    cuttings, lines, led = [], [], True
    for k, (item, fit, (at, turn)) in enumerate(zip(items, fits, laid.castings, strict=True)):
        own, way = fit.sections, fit.way
        assert way is not None, "a mould on end has its lines"
        arcs: list[tuple[bool, float, Floats]] = []
        for forward in (True, False):
            arc = np.array([turned_point(point, at, turn) for point in way.arc(forward)])
            # inside the walls' sand where there is a way, else near a wall rather than through a casting
            found = trunk(sprue, arc[0], castings.union(walls))
            fine = found is not None
            if found is None:
                found = trunk(sprue, arc[0], castings)
            line = np.vstack([np.array([sprue]) if found is None else found[:-1], arc])
            line = np.asarray(shapely.get_coordinates(shapely.LineString(line).simplify(RUNNER_MM)))
            arcs.append((not fine, float(np.linalg.norm(np.diff(line, axis=0), axis=1).sum()), line))
        astray, _, line = min(arcs, key=lambda one: one[:2])
        led &= not astray
        lines.append(_on_joint(item, line, at, turn))
        for place in fit.gates:
            start, end = (turned_point(np.array(p[:2]), at, turn) for p in (place.at, way.out(place)))
            half = place.half_for(own.gate_thick, own.gate_half) or own.gate_half
            z = _joint_in(item, np.array([start, end]), at, turn)
            out = (end - start) / max(float(np.linalg.norm(end - start)), 1e-9)
            cuttings.append(Cutting(np.array([*start, place.at[2]]), np.array([*end, z[1]]), out, k, half))
    return Lines(tuple(cuttings), tuple(lines), led)


def _joint_in(item: Item, points: Floats, at: Spot, turn_deg: float) -> Floats:
    """(k,) heights of the sand's joint at places in the flask: along the casting's, down to its level beyond it."""
    if item.joint is None:
        return np.zeros(len(points))
    back = np.array([turned_point(point - np.array(at), (0.0, 0.0), -turn_deg) for point in points])
    heights = item.joint_at(back)
    away = shapely.distance(item.plan, shapely.points(back))
    fall = np.tan(np.radians(FALLS_DEG)) * np.maximum(away - LEVEL_NEAR_MM, 0.0)
    return np.asarray(np.sign(heights) * np.maximum(np.abs(heights) - fall, 0.0))


def _on_joint(item: Item, line: Floats, at: Spot, turn_deg: float) -> Floats:
    if item.joint is not None:
        line = np.asarray(shapely.get_coordinates(shapely.segmentize(shapely.LineString(line), SHAPED_STEP_MM)))
    return np.column_stack([line, _joint_in(item, line, at, turn_deg)])
