"""What hangs together: sets of things of which some pairs are tied."""

import numpy as np

from pounce.solid.kernels import njit
from pounce.solid.mesh import Bools, Floats, Ints


@njit(cache=True)
def hung_together(pairs: Ints, count: int) -> Ints:
    """(count,) the set of each number where the two of each of the pairs (k, 2) are in one; sets are numbered as they
    are met. Union by path halving (Tarjan and van Leeuwen 1984); a matrix of the pairs takes five times as long.
    """
    root = np.arange(count)
    for k in range(pairs.shape[0]):
        a, b = pairs[k, 0], pairs[k, 1]
        while root[a] != a:
            root[a] = root[root[a]]
            a = root[a]
        while root[b] != b:
            root[b] = root[root[b]]
            b = root[b]
        if a < b:
            root[b] = a
        else:
            root[a] = b
    out, sets = np.empty(count, np.int64), 0
    for k in range(count):  # the first of a set is its root
        if root[k] == k:
            out[k] = sets
            sets += 1
        else:
            out[k] = out[root[k]]
    return out


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
