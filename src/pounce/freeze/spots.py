"""Last places to set, and what is left of them when nothing feeds them any more."""

from dataclasses import dataclass

import numpy as np

from pounce.field.arrays import Field, Numbers
from pounce.field.cells import Cells
from pounce.field.pools import pools_of
from pounce.freeze.values import Frozen
from pounce.solid.kernels import njit

Point = tuple[float, float, float]


@dataclass(frozen=True)
class Spot:
    """A place that sets after all round it: where, when (s), when the way to what feeds was cut off (s; 0: it never
    was fed), the metal liquid in it then (mm3), the number of what fed it (0: nothing), where the way closed (None:
    nowhere), and which casting it is in (from 1).
    """

    at_mm: Point
    seconds: float
    cut_s: float
    liquid_mm3: float
    fed_by: int
    closes_mm: Point | None
    casting: int


def spots_of(made: Frozen) -> tuple[Spot, ...]:
    """Places in castings that are cut off, the most metal first."""
    laid = made.laid
    feeds = np.where(laid.casting > 0, 0, np.maximum(laid.feeds, 1)).astype(np.int8)
    out = []
    for pool in pools_of(made.near_s, feeds, np.where(laid.metal, laid.shares, 0.0)):
        own = int(laid.casting.ravel()[pool.cell])
        if own == 0:
            continue
        out.append(
            Spot(
                _point(laid.cells, pool.cell),
                pool.peak_s,
                pool.cut_s,
                pool.cells * laid.cells.cell_mm3,
                pool.fed_by,
                None if pool.meets < 0 else _point(laid.cells, pool.meets),
                own,
            )
        )
    return tuple(out)


def _point(cells: Cells, cell: int) -> Point:
    x, y, z = cells.middles(np.array([cell]))[0].tolist()
    return x, y, z


def widest_ways(times: Field, start: int) -> Field:
    """(nz, ny, nx): the latest time until which a liquid way leads from cell ``start`` to each cell: the largest least
    time over all ways between them.
    """
    flat = np.where(np.isfinite(times), times, -1.0).ravel().astype(np.float64)
    return np.asarray(_widest(flat, start, np.array(times.shape)).reshape(times.shape))


@njit(cache=True)
def _widest(times: Field, start: int, shape: Numbers) -> Field:
    nz, ny, nx = shape[0], shape[1], shape[2]
    out = np.full(times.shape[0], -1.0)
    order = np.zeros(times.shape[0], np.int64)
    # a bucket queue over the rank of times would be quicker; a heap is short and quick enough
    heap = np.zeros(times.shape[0] * 2 + 16, np.int64)
    keys = np.zeros(times.shape[0] * 2 + 16)
    many = 1
    heap[0], keys[0] = start, -times[start]
    out[start] = times[start]
    order[0] = start
    while many > 0:
        cell, at = heap[0], -keys[0]
        many -= 1
        _sift(heap, keys, many)
        if at < out[cell]:
            continue
        k, j, i = cell // (nx * ny), (cell // nx) % ny, cell % nx
        for way in range(6):
            a = k + (1 if way == 0 else -1 if way == 1 else 0)
            b = j + (1 if way == 2 else -1 if way == 3 else 0)
            c = i + (1 if way == 4 else -1 if way == 5 else 0)
            if a < 0 or b < 0 or c < 0 or a >= nz or b >= ny or c >= nx:
                continue
            other = (a * ny + b) * nx + c
            to = min(at, times[other])
            if to > out[other] and many < heap.shape[0] - 1:
                out[other] = to
                place = many
                many += 1
                while place > 0 and keys[(place - 1) // 2] > -to:
                    heap[place], keys[place] = heap[(place - 1) // 2], keys[(place - 1) // 2]
                    place = (place - 1) // 2
                heap[place], keys[place] = other, -to
    return out


@njit(cache=True)
def _sift(heap: Numbers, keys: Field, many: int) -> None:
    """The last takes the place of the first, and sinks."""
    cell, key = heap[many], keys[many]
    place = 0
    while 2 * place + 1 < many:
        child = 2 * place + 1
        if child + 1 < many and keys[child + 1] < keys[child]:
            child += 1
        if keys[child] >= key:
            break
        heap[place], keys[place] = heap[child], keys[child]
        place = child
    heap[place], keys[place] = cell, key
