"""What is left liquid: pools that shrink to a last place, and when the way from a feeder to each is cut off.

Cells are taken from the last to set to the first. A cell beside none that is liquid longer begins a pool; where pools
meet, the way between them was open until then. A pool that meets metal which feeds was cut off at that time: what
was liquid in it then has to shrink out of itself.
"""

from dataclasses import dataclass

import numpy as np

from pounce.field.arrays import Field, Numbers
from pounce.solid.kernels import njit

# A pool whose last place outlasts the way to its neighbour by less than this share is one with it.
NOISE = 0.04
# What sets before this share of a pool's last time is held to have fed itself.
LATE = 0.5


@dataclass(frozen=True)
class Pool:
    """``cell`` the flat number of the last place, ``peak_s`` when it sets, ``cut_s`` when it was cut off from all that
    feeds (0: nothing ever fed it), ``cells`` the metal (in cells) still liquid in it then, ``fed_by`` the number of the
    feeding metal it met (0: none), ``meets`` the flat cell where the way closed (-1: none).
    """

    cell: int
    peak_s: float
    cut_s: float
    cells: float
    fed_by: int
    meets: int


def pools_of(
    times: Field, feeds: Numbers, weights: Field, noise: float = NOISE, late: float = LATE
) -> tuple[Pool, ...]:
    """Pools that are cut off, the largest first. ``times`` (nz, ny, nx) when each cell sets, NaN where nothing does;
    ``feeds`` int8 numbers of metal that feeds (0: a casting); ``weights`` how much each cell holds; of a pool that
    is never fed only what sets later than the share ``late`` of its last place counts, for the rest was solid by then.
    """
    flat = times.ravel()
    cells = np.flatnonzero(np.isfinite(flat))
    order = cells[np.argsort(-flat[cells], kind="stable")].astype(np.int64)
    size = np.array(times.shape)
    rows = _flooded(order, flat.astype(np.float64), feeds.ravel().astype(np.int64), weights.ravel(), size, noise, late)
    out = [
        Pool(int(row[0]), float(flat[int(row[0])]), float(row[1]), float(row[2]), int(row[3]), int(row[4]))
        for row in rows
    ]
    return tuple(sorted(out, key=lambda one: (-one.cells, one.cell)))


@njit(cache=True)
def _root(parent: Numbers, k: int) -> int:
    while parent[k] != k:
        parent[k] = parent[parent[k]]
        k = parent[k]
    return k


@njit(cache=True)
def _flooded(
    order: Numbers, times: Field, feeds: Numbers, weights: Field, shape: Numbers, noise: float, late: float
) -> Field:
    most = 1024
    leaf = np.full(times.shape[0], -1, np.int64)
    # whole numbers of a pool: the pool it is joined to, the one that took it up, its first cell, what fed it, where
    # the way closed, and what the joined pool is fed by
    whole = np.zeros((most, 6), np.int64)
    whole[:, 0], whole[:, 1], whole[:, 4] = np.arange(most), np.arange(most), -1
    # figures: when it sets, when it was cut off, what it held, the last time in the joined pool
    figures = np.zeros((most, 4))
    figures[:, 1] = -1.0
    count = 0
    near = np.zeros(26, np.int64)
    for cell in order:
        t = times[cell]
        many, best = _neighbours(cell, times, leaf, whole, shape, near)
        if many == 0 and count < most:
            leaf[cell] = count
            figures[count, 0], figures[count, 2], figures[count, 3] = t, weights[cell], t
            whole[count, 2], whole[count, 5] = cell, feeds[cell]
            count += 1
            continue
        if many == 0:  # so many tiny ones are noise of the grid: the rest joins the last
            leaf[cell] = most - 1
            continue
        leaf[cell] = _root(whole[:, 1], leaf[best])
        first = near[0]
        for m in range(1, many):
            first = _joined(first, near[m], cell, t, whole, figures, count, noise, late)
        root = _root(whole[:, 0], first)
        if feeds[cell] != 0 and whole[root, 5] == 0:
            # the casting's pool reaches metal that feeds without a last place of its own
            _cut(root, cell, t, feeds[cell], whole, figures, count, noise)
            whole[root, 5] = feeds[cell]
        mine = _root(whole[:, 1], leaf[cell])
        if whole[root, 5] == 0 and t >= late * figures[mine, 0]:
            figures[mine, 2] += weights[cell]
    left: Field = _left(whole, figures, count)
    return left


@njit(cache=True)
def _neighbours(
    cell: int, times: Field, leaf: Numbers, whole: Numbers, shape: Numbers, near: Numbers
) -> tuple[int, int]:
    """Joined pools about a cell, put in ``near``: how many, and the neighbour that sets last."""
    nz, ny, nx = shape[0], shape[1], shape[2]
    k, j, i = cell // (nx * ny), (cell // nx) % ny, cell % nx
    many, best, best_t = 0, -1, -1.0
    for a in range(max(k - 1, 0), min(k + 2, nz)):
        for b in range(max(j - 1, 0), min(j + 2, ny)):
            for c in range(max(i - 1, 0), min(i + 2, nx)):
                other = (a * ny + b) * nx + c
                if leaf[other] < 0:
                    continue
                if times[other] > best_t:
                    best, best_t = other, times[other]
                root = _root(whole[:, 0], leaf[other])
                seen = False
                for m in range(many):
                    seen = seen or near[m] == root
                if not seen:
                    near[many] = root
                    many += 1
    return many, best


@njit(cache=True)
def _joined(
    one: int, other: int, cell: int, t: float, whole: Numbers, figures: Field, count: int, noise: float, late: float
) -> int:
    """Two pools that meet in a cell, as one: which of them stands for both."""
    dry_one, dry_other = whole[one, 5] == 0, whole[other, 5] == 0
    if dry_one != dry_other:
        dry, wet = (one, other) if dry_one else (other, one)
        _cut(dry, cell, t, whole[wet, 5], whole, figures, count, noise)
        whole[dry, 0] = wet
        return wet
    low, high = (one, other) if figures[one, 3] < figures[other, 3] else (other, one)
    # the lower one is taken up where it hardly stood out, else both stay pools of one liquid
    if dry_one and figures[low, 3] - t <= noise * figures[low, 3]:
        _taken(whole, figures, low, high, count, late)
    whole[low, 0] = high
    return high


@njit(cache=True)
def _cut(root: int, cell: int, t: float, by: int, whole: Numbers, figures: Field, count: int, noise: float) -> None:
    """All pools joined in this one were fed until now."""
    for one in range(count):
        mine = whole[one, 1] == one and figures[one, 1] < 0.0 and whole[one, 5] == 0
        if mine and _root(whole[:, 0], one) == root and figures[one, 0] - t > noise * figures[one, 0]:
            figures[one, 1] = t
            whole[one, 3], whole[one, 4] = by, cell


@njit(cache=True)
def _left(whole: Numbers, figures: Field, count: int) -> Field:
    """(k, 5) first cell, when it was cut off, what it held, what fed it, where the way closed."""
    out = np.zeros((count, 5))
    used = 0
    for one in range(count):
        never = figures[one, 1] < 0.0 and whole[_root(whole[:, 0], one), 5] == 0
        if whole[one, 1] == one and (figures[one, 1] >= 0.0 or never):
            out[used, 0], out[used, 1], out[used, 2] = whole[one, 2], max(figures[one, 1], 0.0), figures[one, 2]
            out[used, 3], out[used, 4] = whole[one, 3], whole[one, 4]
            used += 1
    return out[:used]


@njit(cache=True)
def _taken(whole: Numbers, figures: Field, low: int, high: int, count: int, late: float) -> None:
    """All pools joined in one that hardly stood out are taken up by the other."""
    for one in range(count):
        if whole[one, 1] == one and _root(whole[:, 0], one) == low:
            whole[one, 1] = high
            if figures[one, 0] >= late * figures[high, 0]:
                figures[high, 2] += figures[one, 2]
            figures[one, 2] = 0.0
