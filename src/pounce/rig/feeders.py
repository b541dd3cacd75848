"""Feeders that stand on a casting, and chills laid against it: where they stand in the item's frame, and as solids."""

import math
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from pounce.metals.heat import heat
from pounce.metals.pouring import pouring
from pounce.rig.item import Item
from pounce.rig.places import WALL_SHARE, Place, places_of
from pounce.rig.values import ChillChoice, FeederChoice
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.mesh import Floats
from pounce.solid.tree import tree_of

# A feeder's former is drawn upward, so it is wider there by so much a side (degrees); its neck roots so deep, mm.
LEAN_DEG, ROOT_MM, LAP_MM = 2.0, 1.5, 0.5
# The metal under a feeder may have moved so far from where it was set on it, as a share of the casting's size, mm.
MOVED_MM, MOVED_SHARE = 8.0, 0.08
# A neck that lies is rooted in so much of the metal behind it; lower ones feed nothing, mm.
ROOT_SHARE, LEAST_NECK_MM = 0.6, 4.0
# Faces so near to a chill's place count as the metal that it lies against, mm.
NEAR_MM = 25.0


@dataclass(frozen=True)
class Standing:
    """A feeder in the item's frame: its number among the choices, its foot (3,), diameter, height over the neck, that
    of the neck and how long it is (mm), whether it is open, and the wall of its sleeve (0: none). ``gate``: the place
    of the gate that it stands on; its foot is then its base, and its neck lies, ``neck_high_mm`` high.
    """

    number: int
    foot: tuple[float, float, float]
    wide_mm: float
    high_mm: float
    neck_mm: float
    neck_long_mm: float
    open: bool
    sleeve_mm: float
    gate: Place | None = None
    neck_high_mm: float = 0.0

    @property
    def plan(self) -> BaseGeometry:
        """Seen from above, with its sleeve, and the neck of one on a gate."""
        disc = shapely.Point(self.foot[:2]).buffer(self.wide_mm / 2.0 + self.sleeve_mm, 24)
        if self.gate is None:
            return disc
        neck = shapely.LineString([self.gate.at[:2], self.foot[:2]]).buffer(self.neck_mm / 2.0, cap_style="flat")
        return disc.union(neck)

    @property
    def base_mm(self) -> float:
        """Where its body begins, over the joint."""
        return self.foot[2] + (self.neck_long_mm if self.gate is None else 0.0)

    @property
    def up_mm(self) -> float:
        """How high it must reach over the joint."""
        return self.base_mm + self.high_mm

    @property
    def reach_mm(self) -> float:
        """How far it reaches out from the casting, with its sleeve; 0 of one that stands on it."""
        return 0.0 if self.gate is None else self.neck_long_mm + self.wide_mm + 2.0 * self.sleeve_mm


@dataclass(frozen=True)
class Laid:
    """A chill in the item's frame: where it touches the metal, the way away from it, side and thickness, mm."""

    number: int
    at: tuple[float, float, float]
    out: tuple[float, float, float]
    side_mm: float
    thick_mm: float


def standing(item: Item, choices: tuple[FeederChoice, ...]) -> tuple[Standing, ...]:
    """Those that still stand on metal; a part that was turned or changed may have none under them any more."""
    if not choices:
        return ()
    c = heat().common
    strip = max((c.neck_side.value + one.wide_mm + c.feeder_runner.value for one in choices if one.gate), default=0.0)
    gates = places_of(item, "snap-off", strip) if strip > 0.0 else ()
    at = np.array([one.at_mm for one in choices]) @ item.turn.T + item.shift
    high = float(item.metal_mesh.bounds[1, 2]) + 1.0
    start = np.column_stack([at[:, :2], np.full(len(at), high)])
    far, face = tree_of(item.metal_mesh).nearest(start, np.tile([0.0, 0.0, -1.0], (len(at), 1)))
    slack = max(MOVED_MM, MOVED_SHARE * float(item.metal_mesh.diagonal))
    out = []
    for k, one in enumerate(choices):
        if one.gate:
            beside = _beside(k, one, at[k], gates, slack)
            out += [] if beside is None else [beside]
            continue
        top = high - float(far[k])
        if face[k] < 0 or abs(top - at[k, 2]) > slack:
            continue
        neck = one.neck_mm or one.wide_mm
        out.append(
            Standing(
                k,
                (float(at[k, 0]), float(at[k, 1]), top),
                one.wide_mm,
                one.high_mm,
                neck,
                c.neck_long.value if neck < one.wide_mm else 0.0,
                one.open,
                c.sleeve_wall.value if one.sleeve else 0.0,
            )
        )
    return tuple(out)


def _beside(number: int, one: FeederChoice, at: Floats, gates: tuple[Place, ...], slack: float) -> Standing | None:
    """A feeder on the gate at the place that is nearest to where it was set; None where none is near any more."""
    c = heat().common
    roomy = [place for place in gates if max(place.up_mm, place.down_mm) * WALL_SHARE >= LEAST_NECK_MM]
    if not roomy:
        return None
    place = min(roomy, key=lambda place: math.dist(place.at, at))
    if math.dist(place.at[:2], at[:2]) > slack:
        return None
    neck = one.neck_mm or one.wide_mm
    sleeve = c.sleeve_wall.value if one.sleeve else 0.0
    high = min(neck, WALL_SHARE * max(place.up_mm, place.down_mm))
    # it lies in the half where the wall is, and the feeder goes as deep
    base = place.at[2] - (high if place.down_mm > place.up_mm else 0.0)
    off = c.neck_side.value + sleeve + one.wide_mm / 2.0
    x, y = place.at[0] + off * place.out[0], place.at[1] + off * place.out[1]
    return Standing(
        number, (x, y, base), one.wide_mm, one.high_mm, neck, c.neck_side.value, one.open, sleeve, place, high
    )


def chills_on(item: Item, choices: tuple[ChillChoice, ...]) -> tuple[Laid, ...]:
    """Chills against the nearest metal; one that no metal is near any more is left out."""
    if not choices:
        return ()
    mesh = item.metal_mesh
    at = np.array([one.at_mm for one in choices]) @ item.turn.T + item.shift
    middles = mesh.corners.mean(axis=1)
    out = []
    for k, one in enumerate(choices):
        # the face that it was set against: of the near ones the one that looks its way best
        off = np.linalg.norm(middles - at[k], axis=1) - np.sqrt(mesh.areas)
        face = int(np.argmin(off))
        if off[face] > NEAR_MM:
            continue
        normal = mesh.normals[face]
        (x, y, z), (a, b, c) = at[k].tolist(), normal.tolist()
        out.append(Laid(k, (x, y, z), (a, b, c), one.side_mm, one.thick_mm))
    return tuple(out)


def feeder_solid(one: Standing, top_mm: float) -> Solid:
    """A feeder from inside the casting to the cope's top, or as high as it is where it is blind."""
    x, y, z = one.foot
    up = np.array([0.0, 0.0, 1.0])
    base = one.base_mm
    high = (max(top_mm, base + 1.0) if one.open else base + one.high_mm) - base
    lean = high * math.tan(math.radians(LEAN_DEG))
    if one.gate is not None:
        return boolean.united([*_gate_body(one, one.gate.at[2], base + high), _lying_neck(one, one.gate)])
    body = boolean.rod(np.array([x, y, base]), up, high, one.wide_mm / 2.0, one.wide_mm / 2.0 + lean)
    neck = boolean.rod(np.array([x, y, z - ROOT_MM]), up, ROOT_MM + one.neck_long_mm + LAP_MM, one.neck_mm / 2.0)
    return boolean.united([body, neck])


def _gate_body(one: Standing, joint: float, top: float) -> list[Solid]:
    """A feeder on a gate, to leave its halves: an open one is drawn up through the cope, a blind one down from it, and
    what lies in the drag up from that.
    """
    x, y, base = one.foot
    up, r = np.array([0.0, 0.0, 1.0]), one.wide_mm / 2.0

    def lean(high: float) -> float:
        return min(high * math.tan(math.radians(LEAN_DEG)), r / 2.0)

    over = top - joint
    out = [boolean.rod(np.array([x, y, joint]), up, over, r, r + (lean(over) if one.open else -lean(over)))]
    under = joint - base
    if under > 1e-6:  # a little into the cope, so that the two are one
        out.append(boolean.rod(np.array([x, y, base]), up, under + LAP_MM, r - lean(under), r))
    return out


def _lying_neck(one: Standing, place: Place) -> Solid:
    """From inside the casting to the middle of a feeder on its gate, leaning so that it leaves its half."""
    lean = one.neck_high_mm * math.tan(math.radians(LEAN_DEG))
    root = min(ROOT_SHARE * place.depth_mm, max(one.neck_mm / 2.0, 2.0 * ROOT_MM))
    out, side = np.array([*place.out, 0.0]), np.array([-place.out[1], place.out[0], 0.0])
    joint, drag = place.at[2], one.foot[2] < place.at[2] - 1e-6
    way = -1.0 if drag else 1.0
    inner, outer = np.array(place.at) - root * out, np.array([one.foot[0], one.foot[1], joint])
    corners = [
        end + sign * side * (one.neck_mm / 2.0 - lift * lean) + [0.0, 0.0, way * lift * one.neck_high_mm]
        for end in (inner, outer)
        for sign in (-1.0, 1.0)
        for lift in (0.0, 1.0)
    ]
    return boolean.hull_tool(np.array(corners))


def feeder_formers(one: Standing, top_mm: float, pattern: Solid) -> tuple[tuple[str, Solid], ...]:
    """What is printed or turned for it: one that stands on the pattern whole, one on the gate by half, cut to the
    pattern that it stands against.
    """
    solid = feeder_solid(one, top_mm)
    if one.gate is None:
        return (("", solid),)
    alone = boolean.without(solid, [pattern])
    if one.foot[2] > one.gate.at[2] - 1e-6:
        return (("", alone),)
    above, below = alone.split_by_plane([0.0, 0.0, 1.0], one.gate.at[2])
    return ((", cope side", above), (", drag side", below))


def kept_off(feeders: tuple[Standing, ...], chills: tuple[Laid, ...], sand_mm: float) -> BaseGeometry:
    """Where no gate is cut: so much sand between a gate and a feeder, and what gates want to a chill."""
    passes = pouring().common.gates_between.value
    shapes = [one.plan.buffer(sand_mm) for one in feeders]
    shapes += [shapely.Point(one.at[:2]).buffer(one.side_mm / 2.0 + passes) for one in chills]
    return shapely.unary_union(shapes)
