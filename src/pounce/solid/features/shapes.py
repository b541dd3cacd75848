"""Least-squares shapes through corners: cylinder, cone, ball and ring.

Circle: algebraic fit (Kasa 1976), then Gauss-Newton on true distances for cylinders and cones.
"""

from dataclasses import dataclass

import numpy as np

from pounce.solid.frame import across
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
    mx, my = float(x.mean()), float(y.mean())
    u, v = x - mx, y - my
    system = np.stack([u, v, np.ones_like(u)], axis=1)
    gram = system.T @ system
    size = float(gram[0, 0] + gram[1, 1])
    if size <= 0.0 or np.linalg.det(gram[:2, :2]) < 1e-10 * size * size:
        return None
    solution = np.linalg.solve(gram, system.T @ (u * u + v * v))
    squared = float(solution[2] + 0.25 * (solution[0] ** 2 + solution[1] ** 2))
    if squared <= 0.0:
        return None
    return mx + float(solution[0]) / 2.0, my + float(solution[1]) / 2.0, float(np.sqrt(squared))


def cylinder(points: Floats, axis: Floats) -> Shape | None:
    """The cylinder with this axis through points (n, 3)."""
    u, v = across(axis)
    found = circle(points @ u, points @ v)
    if found is None:
        return None
    height = points @ axis
    return Shape(
        "cylinder", axis, found[0] * u + found[1] * v + axis * float(height.min() + height.max()) / 2.0, found[2]
    )


def cone(points: Floats, axis: Floats, slope: float) -> Shape | None:
    """The cone with this axis and slope through points (n, 3).

    One algebraic step: x2 + y2 = 2 a x + 2 b y + 2 r s h + (s h)2 + rest.
    """
    u, v = across(axis)
    middle = points.mean(axis=0)
    rel = points - middle
    x, y, h = rel @ u, rel @ v, rel @ axis
    system = np.stack([2.0 * x, 2.0 * y, 2.0 * slope * h, np.ones_like(x)], axis=1)
    solution, _, rank, _ = np.linalg.lstsq(system, x * x + y * y - (slope * h) ** 2, rcond=1e-12)
    if rank < 4 or solution[2] <= 0.0:
        return None
    return Shape("cone", axis, middle + solution[0] * u + solution[1] * v, float(solution[2]), float(slope))


def ball(points: Floats) -> Shape | None:
    """The ball through points (n, 3)."""
    middle = points.mean(axis=0)
    rel = points - middle
    system = np.concatenate([2.0 * rel, np.ones((len(rel), 1))], axis=1)
    solution, _, rank, _ = np.linalg.lstsq(system, np.einsum("ij,ij->i", rel, rel), rcond=1e-10)
    squared = float(solution[3] + solution[:3] @ solution[:3])
    if rank < 4 or squared <= 0.0:
        return None
    return Shape("ball", np.array([0.0, 0.0, 1.0]), middle + solution[:3], float(np.sqrt(squared)))


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
    for _ in range(rounds):
        u, v = across(shape.axis)
        rel = points - shape.centre
        height = rel @ shape.axis
        x, y = rel @ u, rel @ v
        out = np.maximum(np.hypot(x, y), 1e-300)
        tall = max(float(np.abs(height).max()), 1e-9)
        k = np.hypot(1.0, shape.slope)
        residual = (out - shape.radius - shape.slope * height) / k
        # turning the axis by (p, q): a point at height h seems moved by -h p along u, and its height changes by x p + y
        # q
        columns = [
            -(x / out) / k,
            -(y / out) / k,
            -np.ones_like(out) / k,
            -(x / out * height + shape.slope * x) / tall / k,
            -(y / out * height + shape.slope * y) / tall / k,
        ]
        if shape.kind == "cone":
            columns.append(-height / tall / k)
        system = np.stack(columns, axis=1)
        gram = system.T @ system
        gram[np.diag_indices_from(gram)] *= 1.0 + 1e-12
        try:
            step = np.linalg.solve(gram, -system.T @ residual)
        except np.linalg.LinAlgError:  # too little of it to tell
            return shape
        axis = shape.axis + (step[3] * u + step[4] * v) / tall
        axis = axis / np.linalg.norm(axis)
        slope = shape.slope + (float(step[5]) / tall if shape.kind == "cone" else 0.0)
        moved = Shape(shape.kind, axis, shape.centre + step[0] * u + step[1] * v, shape.radius + float(step[2]), slope)
        if moved.radius <= 0.0 or not np.isfinite(moved.radius):
            return shape
        if float(np.square(moved.off(points)).sum()) > float(np.square(residual).sum()) * (1.0 + 1e-9):
            return shape
        shape = moved
        if float(np.abs(step[:3]).max()) < 1e-9 * tall:
            break
    return shape
