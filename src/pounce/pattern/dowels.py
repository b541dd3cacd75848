"""Where dowels and draw screws may go in the joint: inside the cut face, with material enough all round and behind."""

from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from pounce.metals.tables import limits, series
from pounce.solid.evenodd import outline_of
from pounce.solid.frame import across
from pounce.solid.mesh import Floats, Ints, Mesh
from pounce.solid.section import cut
from pounce.solid.tree import Tree

SIZES_MM = series()["dowels"].sizes
GRID = 60
# A dowel reaches this many diameters into each half where there is room, and no fewer than the least.
DEEP, SHALLOW = limits()["dowel_deep"].high, limits()["dowel_deep"].low
BEHIND_MM = limits()["dowel_behind"].value
# Beside the joint, mm.
HAIR_MM = 1e-3


@dataclass(frozen=True, eq=False)
class Face:
    """The cut face of the joint: its ``shape`` in the plane's u, v (mm), and room to work out points in space."""

    shape: BaseGeometry
    u: Floats
    v: Floats
    direction: Floats
    height_mm: float

    def space(self, flat: Floats) -> Floats:
        """(k, 3) points in space of (k, 2) points in the plane."""
        return np.asarray(flat[:, :1] * self.u + flat[:, 1:] * self.v + self.direction * self.height_mm)


def face_of(mesh: Mesh, direction: Floats, height_mm: float, inside_mm: float) -> Face:
    """The cut face at ``height_mm``, its outline taken ``inside_mm`` off that height; at 0 what both halves have there.

    A pattern may have corners in the joint itself, above or below it by rounding: just beside it the cut is sound.
    """
    u, v = across(direction)
    if inside_mm:
        return Face(_section(mesh, u, v, height_mm + inside_mm), u, v, direction, height_mm)
    upper, lower = (_section(mesh, u, v, height_mm + side) for side in (HAIR_MM, -HAIR_MM))
    return Face(upper.intersection(lower), u, v, direction, height_mm)


def _section(mesh: Mesh, u: Floats, v: Floats, height_mm: float) -> BaseGeometry:
    return outline_of(cut(mesh, u, v, height_mm).loops)


def nominal(shape: BaseGeometry) -> float:
    """A dowel diameter for a joint of this size: about a twentieth of its length, of the sizes sold."""
    low_x, low_y, high_x, high_y = shape.bounds
    wanted = max(high_x - low_x, high_y - low_y) * limits()["dowel_size_share"].value
    return min(SIZES_MM, key=lambda size: abs(size - wanted))


def smaller(size_mm: float) -> float:
    """The next size down, so that the pair fits one way only; the same step again below the smallest."""
    below = [size for size in SIZES_MM if size <= size_mm - 1.0]
    return below[-1] if below else max(round(2.0 * max(size_mm - 1.0, size_mm * 0.7)) / 2.0, 0.5)


# A pair whose middle lies off the middle of the joint counts as farther apart by this share of how far off, up to this
# share of the joint's size.
OFF_SHARE, OFF_MOST = 0.8, 0.12


def room(face: Face, radius_mm: float, edge_mm: float) -> Floats:
    """(k, 2) points of a grid where a hole of this radius leaves ``edge_mm`` of material to every outline."""
    inner = face.shape.buffer(-(radius_mm + edge_mm))
    if inner.is_empty:
        return np.zeros((0, 2))
    low_x, low_y, high_x, high_y = inner.bounds
    step = max(high_x - low_x, high_y - low_y, 1e-6) / GRID
    x = np.arange(low_x, high_x + step / 2, step)
    y = np.arange(low_y, high_y + step / 2, step)
    grid = np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)
    middle = inner.representative_point()
    points = np.vstack([grid, [[middle.x, middle.y]]])
    return np.asarray(points[shapely.contains_xy(inner, points[:, 0], points[:, 1])])


def thickness(face: Face, tree: Tree, flat: Floats, radius_mm: float, way: float) -> Floats:
    """(k,) material behind the joint at these points, mm, the least over the middle and the rim of the hole."""
    ring = np.linspace(0.0, 2.0 * np.pi, 9)[:-1]
    offsets = np.vstack([[0.0, 0.0], np.stack([np.cos(ring), np.sin(ring)], axis=1) * radius_mm])
    points = face.space((flat[:, None] + offsets).reshape(-1, 2)) + face.direction * (way * 1e-4)
    distance, _ = tree.nearest(points, np.broadcast_to(face.direction * way, points.shape))
    return np.asarray(distance.reshape(len(flat), len(offsets)).min(axis=1))


def pair(points: Floats, shape: BaseGeometry) -> Ints | None:
    """Indices of two points far apart whose middle lies off the middle of the joint, or None.

    Off the middle, because a half turned end for end must not seem to fit.
    """
    if len(points) < 2:
        return None
    middle = np.array(shape.centroid.coords[0])
    low_x, low_y, high_x, high_y = shape.bounds
    size = max(high_x - low_x, high_y - low_y)
    # what lies off the middle is worth no more than this: only pairs nearly the farthest apart can win, and the
    # farthest from a point is a corner of what spans them all
    most = OFF_SHARE * OFF_MOST * size * (1.0 + 1e-9)
    far = _gaps(points, shapely.get_coordinates(shapely.MultiPoint(points).convex_hull)).max(axis=1)
    may = np.flatnonzero(far >= float(far.max()) - most)
    gap = _gaps(points[may], points[may])
    rows, columns = np.nonzero(gap >= float(gap.max()) - most)
    off = np.linalg.norm((points[may[rows]] + points[may[columns]]) / 2.0 - middle, axis=1)
    best = int(np.argmax(gap[rows, columns] + OFF_SHARE * np.minimum(off, OFF_MOST * size)))
    return may[[rows[best], columns[best]]] if gap[rows[best], columns[best]] > 1e-9 else None


def _gaps(one: Floats, two: Floats) -> Floats:
    """(k, n) how far each point of one lies from each of the other, mm."""
    gap = np.square(one[:, None, 0] - two[:, 0])
    gap += np.square(one[:, None, 1] - two[:, 1])
    return np.asarray(np.sqrt(gap, out=gap))


def further(points: Floats, chosen: Ints, count: int, apart_mm: float) -> Ints:
    """The pair and as many points more as make ``count``, each as far as can be from those before it and no nearer
    than ``apart_mm``.
    """
    out = chosen.tolist()
    while len(out) < count:
        gap = np.linalg.norm(points[:, None] - points[out][None], axis=2).min(axis=1)
        best = int(np.argmax(gap))
        if float(gap[best]) < apart_mm:
            break
        out.append(best)
    return np.array(out)
