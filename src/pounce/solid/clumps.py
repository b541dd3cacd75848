"""What hangs together: points that are reached from one of them by steps from point to point."""

import numpy as np

from pounce.solid.kernels import njit
from pounce.solid.mesh import Bools, Floats, Ints


def within_reach(points: Floats, start: int, reach: float) -> Bools:
    """(k,) which of the points (k, 3) are reached from one of them by steps under ``reach`` from point to point."""
    low = points.min(axis=0)
    cells = np.floor((points - low) / reach).astype(np.int64)
    own = np.ascontiguousarray(points, np.float64)
    return np.asarray(_reached(own, cells, cells.max(axis=0) + 1, start, reach * reach))


@njit(cache=True)
def _reached(points: Floats, cells: Ints, shape: Ints, start: int, most: float) -> Bools:
    """Each cell as wide as a step holds a chain of the points that are left in it: a point that is reached leaves its
    chain and is never looked at again.
    """
    count = points.shape[0]
    head, after = np.full(shape[0] * shape[1] * shape[2], -1), np.full(count, -1)
    for k in range(count):
        cell = (cells[k, 0] * shape[1] + cells[k, 1]) * shape[2] + cells[k, 2]
        if k != start:
            after[k], head[cell] = head[cell], k
    out, front = np.zeros(count, np.bool_), np.empty(count, np.int64)
    out[start], front[0], size = True, start, 1
    while size:
        size -= 1
        k = front[size]
        x, y, z = points[k, 0], points[k, 1], points[k, 2]
        for i in range(max(cells[k, 0] - 1, 0), min(cells[k, 0] + 2, shape[0])):
            for j in range(max(cells[k, 1] - 1, 0), min(cells[k, 1] + 2, shape[1])):
                for m in range(max(cells[k, 2] - 1, 0), min(cells[k, 2] + 2, shape[2])):
                    cell = (i * shape[1] + j) * shape[2] + m
                    before, other = -1, head[cell]
                    while other >= 0:
                        follows = after[other]
                        far = (points[other, 0] - x) ** 2 + (points[other, 1] - y) ** 2 + (points[other, 2] - z) ** 2
                        if far < most:
                            out[other], front[size] = True, other
                            size += 1
                            if before < 0:
                                head[cell] = follows
                            else:
                                after[before] = follows
                        else:
                            before = other
                        other = follows
    return out
