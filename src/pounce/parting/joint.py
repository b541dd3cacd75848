"""The joint between cope and drag: a plane across the draw, or a height over the plan."""

from dataclasses import dataclass, replace

import numpy as np

from pounce.solid.frame import across
from pounce.solid.mesh import Bools, Floats


@dataclass(frozen=True, eq=False)
class Joint:
    """Where cope and drag meet.

    ``direction``, ``u``, ``v`` (3,) the draw and two directions across it; ``height_mm`` the height of a flat joint,
    or the one that a shaped joint keeps to. ``grid`` (ny, nx) heights of a shaped joint over nodes at ``low`` +
    ``step`` * (i, j), None for a flat one; ``free`` the same before it is led through the part; ``air`` the columns
    beside the part. ``turned``: what lies above it along the draw is the drag. So a flat back is rammed, upside down
    on its board, and its sand stands.
    """

    direction: Floats
    u: Floats
    v: Floats
    height_mm: float
    low: Floats
    step: float
    grid: Floats | None
    free: Floats | None
    air: Bools | None
    turned: bool = False

    @property
    def level(self) -> bool:
        """Whether it is a plane."""
        return self.grid is None

    @property
    def up(self) -> Floats:
        """(3,) the way up while metal is poured: along the draw, or against it where the pattern lies in the drag
        over its joint.
        """
        return -self.direction if self.turned else self.direction

    def half(self, above: bool) -> str:
        """Which half of the mould lies above the joint along the draw, or below it."""
        return "cope" if above != self.turned else "drag"

    def flat_points(self, points: Floats) -> Floats:
        """(..., 3): u, v and height of points (..., 3)."""
        return np.asarray(points @ np.stack([self.u, self.v, self.direction]).T)

    def above(self, points: Floats, free: bool = False) -> Floats:
        """(...,): how far points (..., 3) lie above the joint, mm; of its course through the part, or heedless of
        it.
        """
        turned = self.flat_points(points)
        return np.asarray(turned[..., 2] - self.at(turned[..., :2], free))

    def at(self, places: Floats, free: bool = False) -> Floats:
        """(...,): height of the joint at places (..., 2) in u, v; beyond its border that of the border.

        Between nodes it is the plane of the triangle that its solid has there.
        """
        field = self.free if free else self.grid
        if field is None:
            return np.full(places.shape[:-1], self.height_mm)
        ny, nx = field.shape
        x = np.clip((places[..., 0] - self.low[0]) / self.step, 0.0, nx - 1 - 1e-9)
        y = np.clip((places[..., 1] - self.low[1]) / self.step, 0.0, ny - 1 - 1e-9)
        i, j = x.astype(np.int64), y.astype(np.int64)
        fx, fy = x - i, y - j
        a, b, c, d = field[j, i], field[j, i + 1], field[j + 1, i + 1], field[j + 1, i]
        lower = a + fx * (b - a) + fy * (c - b)  # below the diagonal a-c: fy <= fx
        upper = a + fx * (c - d) + fy * (d - a)
        return np.asarray(np.where(fy <= fx, lower, upper))

    def about(self, places: Floats) -> tuple[Floats, Floats]:
        """(...,), (...,): lowest and highest of the four nodes about places (..., 2) in u, v. ValueError for a flat
        joint.
        """
        if self.grid is None:
            raise ValueError("a flat joint has no nodes")
        ny, nx = self.grid.shape
        i = np.clip(np.floor((places[..., 0] - self.low[0]) / self.step), 0, nx - 2).astype(np.int64)
        j = np.clip(np.floor((places[..., 1] - self.low[1]) / self.step), 0, ny - 2).astype(np.int64)
        nodes = np.stack([self.grid[j, i], self.grid[j, i + 1], self.grid[j + 1, i], self.grid[j + 1, i + 1]])
        return np.asarray(nodes.min(axis=0)), np.asarray(nodes.max(axis=0))

    def scaled(self, factor: float) -> "Joint":
        """The joint of the part scaled about the origin."""
        grid, free = (None if field is None else field * factor for field in (self.grid, self.free))
        return replace(
            self,
            height_mm=self.height_mm * factor,
            low=self.low * factor,
            step=self.step * factor,
            grid=grid,
            free=free,
        )

    def range_mm(self) -> tuple[float, float]:
        """Least and greatest height."""
        if self.grid is None:
            return self.height_mm, self.height_mm
        return float(self.grid.min()), float(self.grid.max())


def flat_joint(direction: Floats, height_mm: float) -> Joint:
    """A plane across the draw."""
    u, v = across(direction)
    return Joint(direction, u, v, height_mm, np.zeros(2), 1.0, None, None, None)
