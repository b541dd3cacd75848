"""Feeders that stand on a casting, and chills laid against it: where they stand in the item's frame, and as solids."""

import math
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from pounce.metals.heat import heat
from pounce.metals.pouring import pouring
from pounce.rig.item import Item
from pounce.rig.values import ChillChoice, FeederChoice
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.tree import tree_of

# A feeder's former is drawn upward, so it is wider there by so much a side (degrees); its neck roots so deep, mm.
LEAN_DEG, ROOT_MM, LAP_MM = 2.0, 1.5, 0.5
# The metal under a feeder may have moved so far from where it was set on it, as a share of the casting's size, mm.
MOVED_MM, MOVED_SHARE = 8.0, 0.08
# Faces so near to a chill's place count as the metal that it lies against, mm.
NEAR_MM = 25.0


@dataclass(frozen=True)
class Standing:
    """A feeder in the item's frame: its number among the choices, its foot (3,), diameter, height over the neck, that
    of the neck and how long it is (mm), whether it is open, and the wall of its sleeve (0: none).
    """

    number: int
    foot: tuple[float, float, float]
    wide_mm: float
    high_mm: float
    neck_mm: float
    neck_long_mm: float
    open: bool
    sleeve_mm: float

    @property
    def plan(self) -> BaseGeometry:
        """Seen from above, with its sleeve."""
        return shapely.Point(self.foot[:2]).buffer(self.wide_mm / 2.0 + self.sleeve_mm, 24)

    @property
    def up_mm(self) -> float:
        """How high it must reach over the joint."""
        return self.foot[2] + self.neck_long_mm + self.high_mm


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
    at = np.array([one.at_mm for one in choices]) @ item.turn.T + item.shift
    high = float(item.metal_mesh.bounds[1, 2]) + 1.0
    start = np.column_stack([at[:, :2], np.full(len(at), high)])
    far, face = tree_of(item.metal_mesh).nearest(start, np.tile([0.0, 0.0, -1.0], (len(at), 1)))
    slack = max(MOVED_MM, MOVED_SHARE * float(item.metal_mesh.diagonal))
    out = []
    for k, one in enumerate(choices):
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
    base = z + one.neck_long_mm
    high = (max(top_mm, base + 1.0) if one.open else base + one.high_mm) - base
    lean = high * math.tan(math.radians(LEAN_DEG))
    body = boolean.rod(np.array([x, y, base]), up, high, one.wide_mm / 2.0, one.wide_mm / 2.0 + lean)
    neck = boolean.rod(np.array([x, y, z - ROOT_MM]), up, ROOT_MM + one.neck_long_mm + LAP_MM, one.neck_mm / 2.0)
    return boolean.united([body, neck])


def kept_off(feeders: tuple[Standing, ...], chills: tuple[Laid, ...]) -> BaseGeometry:
    """Where no gate is cut: sand between a gate and a feeder or a chill."""
    sand, passes = heat().common.gate_from_feeder.value, pouring().common.gates_between.value
    shapes = [one.plan.buffer(sand) for one in feeders]
    shapes += [shapely.Point(one.at[:2]).buffer(one.side_mm / 2.0 + passes) for one in chills]
    return shapely.unary_union(shapes)
