"""A piece as a stack of boards or sheets: where the joints lie, and the outline of each layer's faces.

Joints lie on the piece's own level faces where it has any, so that no board ends a sliver above one, and otherwise
evenly, no layer thicker than the material. A layer is sawn outside the widest outline between its faces and then
carved, filed or cut to both.
"""

import itertools
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from pounce.base.errors import UserFault
from pounce.pattern.making.values import Layer
from pounce.solid import boolean
from pounce.solid.evenodd import exclusive, outline_of
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.section import cut
from pounce.solid.sets import distinct

U, V = np.array([1.0, 0.0, 0.0]), np.array([0.0, 1.0, 0.0])
# A hole from the joint of a laid piece: x, y, radius and depth, mm.
Bored = tuple[float, float, float, float]
# What a filled hole laps into the material round it, or its rim would stay as a line, mm.
FILM_MM = 0.02
# A level face this large over the piece's plan makes a joint; levels nearer than the least thickness are one.
LEVEL_SHARE, LEAST_MM = 0.02, 3.0
# Outlines are taken this far inside a layer's faces, mm, and looked at in so many places between them.
INSIDE_MM, BETWEEN = 0.01, 5
# Crumbs of outline smaller than this are left out, mm2.
CRUMB_MM2 = 0.25
# A layer narrower than this share of its length keeps its grain along it, whatever the one below has.
SLENDER = 0.35


def outline_at(mesh: Mesh, level_mm: float) -> BaseGeometry:
    """The piece's outline at a height of its laid frame, holes left out."""
    loops = [loop for loop in cut(mesh, U, V, level_mm).loops if len(loop) >= 4]
    shape: BaseGeometry = shapely.Polygon()
    # even-odd: a loop inside another is a hole, whichever way it runs
    for loop in sorted(loops, key=lambda one: -abs(_area(one))):
        ring = shapely.Polygon(loop).buffer(0)
        if ring.area > CRUMB_MM2:
            shape = exclusive(shape, ring)
    return shape


def upright_cut(mesh: Mesh, u: Floats, offset_mm: float, bored: Sequence[Bored] = ()) -> BaseGeometry:
    """The cut of a laid piece by the upright plane through ``u`` (3,), level, at ``offset_mm`` along u x z: u to the
    right, z up.

    ``bored`` holes are filled: they are bored when the piece is done.
    """
    v = np.array([0.0, 0.0, 1.0])
    normal = np.cross(u, v)
    shape = outline_of(cut(mesh, u, v, offset_mm).loops)
    for x, y, radius, depth in bored:
        at = np.array([x, y, 0.0])
        off = float(at @ normal) - offset_mm
        if abs(off) < radius:
            half, along = float(np.sqrt(radius**2 - off**2)) + FILM_MM, float(at @ u)
            low = float(mesh.bounds[0, 2])
            shape = shape.union(shapely.box(along - half, low, along + half, low + depth + FILM_MM))
    return shape


def levels_of(
    mesh: Mesh, thickest_mm: float, least_mm: float = LEAST_MM, near: Sequence[tuple[Floats, float]] = ()
) -> Floats:
    """(k + 1,) heights between which k layers lie, no layer thicker than ``thickest_mm``; none under ``least_mm`` for a
    level's sake.

    ``near`` places (3,) and radii that joints keep away from where they can be moved.
    """
    low, high = float(mesh.bounds[0, 2]), float(mesh.bounds[1, 2])
    flat = np.abs(mesh.normals[:, 2]) > 0.9998
    heights = mesh.corners[flat].mean(axis=1)[:, 2]
    areas = mesh.areas[flat]
    plan = float((mesh.areas * np.abs(mesh.normals[:, 2])).sum()) / 2.0
    found: list[float] = [low]
    if len(heights):
        bins = np.round(heights, 2)
        for level in distinct(bins):
            large = float(areas[bins == level].sum()) > LEVEL_SHARE * plan
            if large and level - found[-1] >= least_mm and high - level >= least_mm:
                found.append(float(level))
    found.append(high)
    out = [low]
    for one, two in itertools.pairwise(found):
        count = max(int(np.ceil((two - one) / thickest_mm - 1e-9)), 1)
        out += [_moved_off(one + (two - one) * k / count, out[-1], two, thickest_mm, near) for k in range(1, count)] + [
            two
        ]
    return np.array(out)


def _moved_off(
    level: float, below: float, end: float, thickest_mm: float, near: Sequence[tuple[Floats, float]]
) -> float:
    """The level, or the nearest one to it that lies clear of every place and still leaves no layer thicker than the
    material.
    """
    rest = int(np.ceil((end - level) / thickest_mm - 1e-9))
    steps = np.linspace(0.0, 0.45 * thickest_mm, 19)
    for shift in np.stack([steps, -steps], axis=1).ravel().tolist():
        moved = level + shift
        clear = all(abs(float(at[2]) - moved) >= radius for at, radius in near)
        if (
            clear
            and below + LEAST_MM <= moved <= below + thickest_mm + 1e-9
            and LEAST_MM <= end - moved <= rest * thickest_mm + 1e-9
        ):
            return moved
    return level


def layers_of(
    mesh: Mesh,
    piece: int,
    thickest_mm: float,
    least_mm: float = LEAST_MM,
    near: Sequence[tuple[Floats, float]] = (),
    bored: Sequence[Bored] = (),
) -> tuple[Layer, ...]:
    """The layers of a laid piece from its joint up, each with its outlines; ``near`` as in :func:`levels_of`.

    ``bored`` holes are bored and not sawn: they are no outlines.
    """
    levels = levels_of(mesh, thickest_mm, least_mm, near)
    out: list[Layer] = []
    for low, high in zip(levels[:-1].tolist(), levels[1:].tolist(), strict=True):
        inside = min(INSIDE_MM, 0.2 * (high - low))
        heights = np.linspace(low + inside, high - inside, BETWEEN)
        shapes = [_unbored(outline_at(mesh, float(height)), bored) for height in heights]
        saw = shapely.unary_union(shapes)
        if saw.area <= CRUMB_MM2:
            continue
        lower, upper = shapes[0], shapes[-1]
        # the mean way the outline goes in over the layer's height
        round_mm = max(lower.length, 1e-9)
        lean = float(np.degrees(np.arctan2((lower.area - upper.area) / round_mm, high - low)))
        out.append(Layer(piece, len(out) + 1, low, high, lower, upper, saw, lean))
    return tuple(_grained(out))


def _unbored(shape: BaseGeometry, bored: Sequence[Bored]) -> BaseGeometry:
    """The shape with the openings of bored holes filled."""
    for x, y, radius, _ in bored:
        shape = shape.union(shapely.Point(x, y).buffer(radius + 0.05, 16)) if _is_hole(shape, x, y, radius) else shape
    return shape


def _is_hole(shape: BaseGeometry, x: float, y: float, radius: float) -> bool:
    spot = shapely.Point(x, y)
    return not shape.is_empty and 0.0 < float(shape.distance(spot)) <= 2.0 * radius


def with_meshes(layers: tuple[Layer, ...], laid: list[Mesh]) -> tuple[Layer, ...]:
    """The same layers with the solid of each, cut from its piece (of ``laid``) from the joint up. UserFault for an
    open piece.
    """
    out: list[Layer] = []
    for number, mesh in enumerate(laid):
        own = [layer for layer in layers if layer.piece == number]
        rest = boolean.closed_solid(mesh)
        if rest is None:
            raise UserFault(
                "A piece of the pattern came out open, so it cannot be cut in layers.", "Part it elsewhere."
            )
        for one in own[:-1]:
            rest, below = boolean.split(rest, np.array([0.0, 0.0, 1.0]), one.high_mm)
            out.append(replace(one, mesh=boolean.bare_mesh(below)))
        out += [replace(one, mesh=boolean.bare_mesh(rest)) for one in own[-1:]]
    return tuple(out)


def _grained(layers: list[Layer]) -> list[Layer]:
    """Grain along the first layer's length and crossed in each next one, so that the stack stays flat; slender ones
    keep it along.
    """
    out: list[Layer] = []
    crossed = False
    for layer in layers:
        way, long, wide = longest_way(layer.saw)
        along = wide < SLENDER * long
        grain = way if along or not crossed else way + 90.0
        crossed = crossed if along else not crossed
        out.append(replace(layer, grain_deg=grain % 180.0))
    return out


def longest_way(shape: BaseGeometry) -> tuple[float, float, float]:
    """The direction (degrees from x) and the two sizes of the smallest rectangle round a shape, mm: length first."""
    corners = np.array(shapely.minimum_rotated_rectangle(shape).exterior.coords)
    one, two = corners[1] - corners[0], corners[2] - corners[1]
    a, b = float(np.linalg.norm(one)), float(np.linalg.norm(two))
    along = one if a >= b else two
    return float(np.degrees(np.arctan2(along[1], along[0]))) % 180.0, max(a, b), min(a, b)


def sizes_along(shape: BaseGeometry, turn_deg: float) -> tuple[float, float]:
    """How far a shape reaches along a direction and across it, mm."""
    turned = shapely.affinity.rotate(shape, -turn_deg, origin=(0.0, 0.0))
    x0, y0, x1, y1 = turned.bounds
    return float(x1 - x0), float(y1 - y0)


def _area(points: Floats) -> float:
    x, y = points[:, 0], points[:, 1]
    return 0.5 * float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y))
