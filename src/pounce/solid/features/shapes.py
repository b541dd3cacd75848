"""Least-squares shapes through corners: cylinder, cone, ball and ring.

Circle: algebraic fit (Kasa 1976), then Gauss-Newton on true distances for cylinders and cones.
"""

from dataclasses import dataclass

import numpy as np

from pounce.solid.features.compiled import (
    BALL,
    CONE,
    RING,
    ball_through,
    circle_through,
    cylinder_through,
    fitted,
    sloped_through,
)
from pounce.solid.mesh import Floats


@dataclass(frozen=True, eq=False)
class Shape:
    """A shape of revolution: ``kind`` cylinder, cone, ball or ring; ``axis`` unit (3,), ``centre`` (3,) on it,
    ``radius`` at the centre, ``slope`` d radius / d height of a cone, ``ring`` the radius of the arc of a ring,
    ``sign`` whether the arc bulges away from the axis (1) or toward it (-1).
    """

    kind: str
    axis: Floats
    centre: Floats
    radius: float
    slope: float = 0.0
    ring: float = 0.0

    @property
    def number(self) -> int:
        """The number of its kind in the compiled part."""
        return {"ball": BALL, "ring": RING}.get(self.kind, CONE)

    @property
    def figures(self) -> Floats:
        """(8,) axis, centre, radius, and slope or radius of the arc, for the compiled part."""
        last = self.ring if self.kind == "ring" else self.slope
        return np.array([*self.axis.tolist(), *self.centre.tolist(), self.radius, last])

    def off(self, points: Floats) -> Floats:
        """(n,) signed distance of points (n, 3) from the shape, mm; positive away from the axis (or the ring's
        core).
        """
        rel = points - self.centre
        if self.kind == "ball":
            return np.asarray(np.linalg.norm(rel, axis=1) - self.radius)
        height = rel @ self.axis
        out = np.sqrt(np.maximum(np.einsum("ij,ij->i", rel, rel) - height**2, 0.0))
        if self.kind == "ring":
            return np.asarray(np.hypot(out - self.radius, height) - self.ring)
        return np.asarray((out - self.radius - self.slope * height) / np.hypot(1.0, self.slope))

    def outward(self, points: Floats) -> Floats:
        """(n, 3) unit normals of the shape at points, away from its axis (or core)."""
        rel = points - self.centre
        if self.kind == "ball":
            way = rel
        else:
            height = rel @ self.axis
            way = rel - height[:, None] * self.axis
            way = way / np.maximum(np.linalg.norm(way, axis=1), 1e-300)[:, None]
            if self.kind == "ring":
                way = rel - way * self.radius
            else:
                way = way - self.slope * self.axis
        return np.asarray(way / np.maximum(np.linalg.norm(way, axis=1), 1e-300)[:, None])


def circle(x: Floats, y: Floats) -> tuple[float, float, float] | None:
    """Centre and radius of the circle through points, or None where they lie on a line."""
    found = circle_through(np.ascontiguousarray(x), np.ascontiguousarray(y))
    return (float(found[0]), float(found[1]), float(found[2])) if np.isfinite(found[2]) else None


def shape_of(kind: str, figures: Floats) -> Shape | None:
    """The cylinder, cone or ball with these figures of the compiled part; None where they are none."""
    if not np.isfinite(figures).all():
        return None
    return Shape(kind, figures[:3], figures[3:6], float(figures[6]), float(figures[7]))


def cylinder(points: Floats, axis: Floats) -> Shape | None:
    """The cylinder with this axis through points (n, 3)."""
    return shape_of("cylinder", cylinder_through(np.ascontiguousarray(points), np.ascontiguousarray(axis)))


def cone(points: Floats, axis: Floats, slope: float) -> Shape | None:
    """The cone with this axis and slope through points (n, 3)."""
    return shape_of("cone", sloped_through(np.ascontiguousarray(points), np.ascontiguousarray(axis), slope))


def ball(points: Floats) -> Shape | None:
    """The ball through points (n, 3)."""
    return shape_of("ball", ball_through(np.ascontiguousarray(points)))


def ring(points: Floats, axis: Floats, centre: Floats) -> Shape | None:
    """The ring (part of a torus) about a known axis through points."""
    rel = points - centre
    height = rel @ axis
    out = np.sqrt(np.maximum(np.einsum("ij,ij->i", rel, rel) - height**2, 0.0))
    found = circle(out, height)
    if found is None or found[0] <= 0.0:
        return None
    return Shape("ring", axis, centre + axis * found[1], found[0], 0.0, found[2])


def refined(shape: Shape, points: Floats, rounds: int = 6) -> Shape:
    """Cylinder or cone moved until the squared distances of the points are least (Gauss-Newton over axis, centre,
    radius, slope).
    """
    if shape.kind not in ("cylinder", "cone"):
        return shape
    points = points if len(points) <= 6000 else points[:: len(points) // 6000 + 1]
    found = fitted(shape.figures, shape.kind == "cone", np.ascontiguousarray(points), rounds)
    return Shape(shape.kind, found[:3], found[3:6], float(found[6]), float(found[7]))
