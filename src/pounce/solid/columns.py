"""The part as columns of material: every stretch between an entering and a leaving surface, over a grid of columns.

Everything here is in the draw's own frame: z along the draw.
"""

from dataclasses import dataclass

import numpy as np

from pounce.solid.kernels import njit
from pounce.solid.mesh import Bools, Floats, Ints, Mesh
from pounce.solid.plan import Plan, plan_of


@dataclass(frozen=True, eq=False)
class Columns:
    """Stretches of material. Column c (row-major over the plan) holds ``low`` and ``high`` from ``start[c]`` to
    ``start[c+1]``.
    """

    start: Ints
    low: Floats
    high: Floats

    def filled(self, shape: tuple[int, int], base: float, step: float, count: int) -> Bools:
        """(count, ny, nx) whether the cell with its middle at ``base`` + k ``step`` over each column lies in the
        material.
        """
        column = np.repeat(np.arange(len(self.start) - 1), np.diff(self.start))
        first = np.clip(np.ceil((self.low - base) / step), 0, count).astype(np.int64)
        last = np.clip(np.floor((self.high - base) / step) + 1, 0, count).astype(np.int64)
        change = np.zeros((count + 1, shape[0] * shape[1]), np.int32)
        np.add.at(change, (first, column), 1)
        np.add.at(change, (last, column), -1)
        return np.asarray(np.cumsum(change[:-1], axis=0) > 0).reshape(count, *shape)


@dataclass(frozen=True, eq=False)
class Grid:
    """Cells of material: ``held`` (nz, ny, nx), the middle of cell [k, j, i] at ``low`` + ``step`` (i, j, k), mm."""

    held: Bools
    low: Floats
    step: float


def columns_grid(mesh: Mesh, step: float) -> Grid:
    """The cells of a closed mesh in its own frame, with a border of empty ones all round."""
    across = float(mesh.size[:2].max())
    plan = plan_of(mesh.corners, max(int(np.ceil(across / step)), 4), 2)
    base, count = float(mesh.bounds[0, 2]) - 1.7 * plan.step, int(np.ceil(float(mesh.size[2]) / plan.step)) + 4
    held = columns_of(mesh.corners, plan).filled(plan.shape, base, plan.step, count)
    return Grid(held, np.array([plan.low[0], plan.low[1], base]), plan.step)


def columns_of(corners: Floats, plan: Plan) -> Columns:
    """The stretches of a closed surface (m, 3, 3) over the columns of its plan; overlaps are joined."""
    return columns_at(corners, plan.low, plan.step, plan.shape)


def columns_at(corners: Floats, low_at: Floats, step: float, shape: tuple[int, int]) -> Columns:
    """:func:`columns_of` over (ny, nx) columns ``step`` apart, the middle of the first at ``low_at`` (2,)."""
    ny, nx = shape
    own = np.ascontiguousarray(corners)
    counts = np.zeros(ny * nx, np.int64)
    nothing = np.zeros(0)
    _crossings(own, low_at, step, ny, nx, counts, np.zeros(0, np.int64), nothing, nothing, True)
    start = np.concatenate([[0], np.cumsum(counts)])
    height, way = np.empty(int(start[-1])), np.empty(int(start[-1]))
    _crossings(own, low_at, step, ny, nx, np.zeros(ny * nx, np.int64), start, height, way, False)
    first = np.zeros(ny * nx + 1, np.int64)
    low, high = np.empty(len(height)), np.empty(len(height))
    used = _stretches(start, height, way, first, low, high)
    return Columns(first, low[:used].copy(), high[:used].copy())


@njit(cache=True)
def _crossings(
    corners: Floats,
    origin: Floats,
    step: float,
    ny: int,
    nx: int,
    counts: Ints,
    start: Ints,
    height: Floats,
    way: Floats,
    counting: bool,
) -> None:
    for f in range(corners.shape[0]):
        ax, ay, az = (corners[f, 0, 0] - origin[0]) / step, (corners[f, 0, 1] - origin[1]) / step, corners[f, 0, 2]
        bx, by, bz = (corners[f, 1, 0] - origin[0]) / step, (corners[f, 1, 1] - origin[1]) / step, corners[f, 1, 2]
        cx, cy, cz = (corners[f, 2, 0] - origin[0]) / step, (corners[f, 2, 1] - origin[1]) / step, corners[f, 2, 2]
        det = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
        if abs(det) < 1e-12:
            continue
        i0, i1 = max(int(np.ceil(min(ax, bx, cx))), 0), min(int(np.floor(max(ax, bx, cx))), nx - 1)
        j0, j1 = max(int(np.ceil(min(ay, by, cy))), 0), min(int(np.floor(max(ay, by, cy))), ny - 1)
        for j in range(j0, j1 + 1):
            for i in range(i0, i1 + 1):
                u = ((i - ax) * (cy - ay) - (j - ay) * (cx - ax)) / det
                v = ((bx - ax) * (j - ay) - (by - ay) * (i - ax)) / det
                if u < 0.0 or v < 0.0 or u + v > 1.0:
                    continue
                column = j * nx + i
                if not counting:
                    slot = start[column] + counts[column]
                    height[slot] = az + u * (bz - az) + v * (cz - az)
                    way[slot] = 1.0 if det > 0.0 else -1.0
                counts[column] += 1


@njit(cache=True)
def _stretches(start: Ints, height: Floats, way: Floats, first: Ints, low: Floats, high: Floats) -> int:
    """Sorts each column and pairs entering (looking down) with leaving surfaces; what does not pair is dropped."""
    used = 0
    for column in range(start.shape[0] - 1):
        first[column] = used
        begin, end = start[column], start[column + 1]
        order = np.argsort(height[begin:end])
        depth = 0
        entered = 0.0
        for k in order:
            if way[begin + k] < 0.0:
                if depth == 0:
                    entered = height[begin + k]
                depth += 1
            else:
                depth -= 1
                if depth == 0:
                    low[used], high[used] = entered, height[begin + k]
                    used += 1
                depth = max(depth, 0)
    first[start.shape[0] - 1] = used
    return used
