"""Metal that runs through a mould: how far each cell is from the gates, in what order they fill, and what the metal
has cooled to at its front. An indicator, not a computed flow: the metal takes the shortest ways and seeks its level.
"""

import heapq
from dataclasses import dataclass

import numpy as np

from pounce.field.arrays import Field, Flags, Numbers
from pounce.field.cells import Cells
from pounce.solid.kernels import njit
from pounce.solid.sets import distinct

# Cells lie in shells so wide along their way from the gates; height counts so much more than the way.
SHELL_CELLS, WAY_SHARE = 3.0, 0.15


@dataclass(frozen=True)
class Stretch:
    """A stretch of the way between two shells: ``far_mm`` from the gates to its end, what fills it (``mm3``), the area
    that it touches sand with (``mm2``), the stretches that it is reached from, its last cell, and the gates that
    fill it, where it ends.
    """

    far_mm: float
    mm3: float
    mm2: float
    before: tuple[int, ...]
    cell: int
    gates: tuple[int, ...]
    ends: bool


@dataclass(frozen=True, eq=False)
class Ways:
    """``far_mm`` (nz, ny, nx) from the gates (inf: not reached), ``gate`` int32 the gate each cell is nearest to (-1:
    none), ``before_mm3`` how much metal is in the castings when it fills, ``stretches`` from the gates outward, and
    ``of`` int32 which stretch each cell lies in (-1: none).
    """

    far_mm: Field
    gate: Numbers
    before_mm3: Field
    stretches: tuple[Stretch, ...]
    of: Numbers


def ways_of(metal: Flags, shares: Field, gates: Numbers, cells: Cells) -> Ways:
    """The ways through ``metal`` (nz, ny, nx) from cells whose ``gates`` number (int32, -1: none) is not negative;
    ``shares`` how much each cell holds.
    """
    starts = np.flatnonzero((gates.ravel() >= 0) & metal.ravel())
    shape = np.array(metal.shape)
    far, gate = _far(metal.ravel(), starts, gates.ravel().astype(np.int32), shape)
    before = _filled(metal.ravel(), starts, far, shares.ravel().astype(np.float64), shape)
    shell = np.where(np.isfinite(far), far / SHELL_CELLS, -1.0).astype(np.int32)
    of = _labelled(shell, shape)
    touching = _touching(metal)
    stretches = _stretches(of, shell, far, gate, shares.ravel(), touching.ravel(), shape, cells)
    return Ways(
        (far * cells.step).reshape(metal.shape),
        gate.reshape(metal.shape),
        (before * cells.cell_mm3).reshape(metal.shape),
        stretches,
        of.reshape(metal.shape),
    )


def _touching(metal: Flags) -> Field:
    """Faces of each cell of metal that look at something else."""
    padded = np.pad(metal, 1)
    out = np.zeros(metal.shape)
    inner = (slice(1, -1),) * 3
    for axis in range(3):
        for way in (-1, 1):
            out += metal & ~np.roll(padded, way, axis)[inner]
    return out


def _stretches(
    of: Numbers, shell: Numbers, far: Field, gate: Numbers, shares: Field, touching: Field, shape: Numbers, cells: Cells
) -> tuple[Stretch, ...]:
    count = int(of.max()) + 1
    if count == 0:
        return ()
    mine = np.flatnonzero(of >= 0)
    labels = of[mine]
    mm3 = np.bincount(labels, shares[mine], count) * cells.cell_mm3
    # a face of cubes stands for 2/3 of itself on a slanted wall, all of it on a straight one
    mm2 = np.bincount(labels, touching[mine], count) * cells.step**2
    order = np.lexsort((far[mine], labels))
    last = np.searchsorted(labels[order], np.arange(count), side="right") - 1
    ends = mine[order][last]
    pairs = _joined(of, shell, shape)
    before: list[list[int]] = [[] for _ in range(count)]
    goes_on = np.zeros(count, np.bool_)
    for low, high in pairs:
        before[high].append(int(low))
        goes_on[low] = True
    out = []
    for k in range(count):
        fed = tuple(sorted({int(g) for g in distinct(gate[mine[labels == k]])})) if not goes_on[k] else ()
        far_mm = float(far[ends[k]]) * cells.step
        out.append(Stretch(far_mm, float(mm3[k]), float(mm2[k]), tuple(before[k]), int(ends[k]), fed, not goes_on[k]))
    return tuple(out)


@njit(cache=True)
def _far(metal: Flags, starts: Numbers, gates: Numbers, shape: Numbers) -> tuple[Field, Numbers]:
    """Shortest ways (in cells) over 26 neighbours, and the gate that each begins at."""
    nz, ny, nx = shape[0], shape[1], shape[2]
    far = np.full(metal.shape[0], np.inf)
    gate = np.full(metal.shape[0], -1, np.int32)
    heap = [(0.0, np.int64(-1))]
    heapq.heappop(heap)
    for cell in starts:
        far[cell] = 0.0
        gate[cell] = gates[cell]
        heapq.heappush(heap, (0.0, np.int64(cell)))
    while len(heap) > 0:
        at, cell = heapq.heappop(heap)
        if at > far[cell]:
            continue
        k, j, i = cell // (nx * ny), (cell // nx) % ny, cell % nx
        for dk in range(-1, 2):
            for dj in range(-1, 2):
                for di in range(-1, 2):
                    a, b, c = k + dk, j + dj, i + di
                    if a < 0 or b < 0 or c < 0 or a >= nz or b >= ny or c >= nx:
                        continue
                    other = (a * ny + b) * nx + c
                    if not metal[other]:
                        continue
                    to = at + np.sqrt(float(dk * dk + dj * dj + di * di))
                    if to < far[other] - 1e-12:
                        far[other] = to
                        gate[other] = gate[cell]
                        heapq.heappush(heap, (to, np.int64(other)))
    return far, gate


@njit(cache=True)
def _filled(metal: Flags, starts: Numbers, far: Field, shares: Field, shape: Numbers) -> Field:
    """Metal (in cells) that is in when each cell fills: the lowest that can be reached first, and of those the nearest.
    A sill holds it back, and beyond one a pit fills from its floor.
    """
    nz, ny, nx = shape[0], shape[1], shape[2]
    before = np.full(metal.shape[0], np.inf)
    seen = np.zeros(metal.shape[0], np.bool_)
    heap = [(0.0, np.int64(-1))]
    heapq.heappop(heap)
    for cell in starts:
        seen[cell] = True
        heapq.heappush(heap, (float(cell // (nx * ny)), np.int64(cell)))
    held = 0.0
    while len(heap) > 0:
        _, cell = heapq.heappop(heap)
        before[cell] = held
        held += shares[cell]
        k, j, i = cell // (nx * ny), (cell // nx) % ny, cell % nx
        for way in range(6):
            a = k + (1 if way == 0 else -1 if way == 1 else 0)
            b = j + (1 if way == 2 else -1 if way == 3 else 0)
            c = i + (1 if way == 4 else -1 if way == 5 else 0)
            if a < 0 or b < 0 or c < 0 or a >= nz or b >= ny or c >= nx:
                continue
            other = (a * ny + b) * nx + c
            if metal[other] and not seen[other]:
                seen[other] = True
                heapq.heappush(heap, (a + WAY_SHARE * far[other], np.int64(other)))
    return before


@njit(cache=True)
def _labelled(shell: Numbers, shape: Numbers) -> Numbers:
    """Pieces of one shell that hang together over 26 neighbours, numbered from the gates outward."""
    nz, ny, nx = shape[0], shape[1], shape[2]
    of = np.full(shell.shape[0], -1, np.int32)
    count = 0
    stack = np.zeros(shell.shape[0], np.int64)
    order = np.argsort(shell, kind="mergesort")
    for start in order:
        if shell[start] < 0 or of[start] >= 0:
            continue
        of[start] = count
        stack[0] = start
        high = 1
        while high > 0:
            high -= 1
            cell = stack[high]
            k, j, i = cell // (nx * ny), (cell // nx) % ny, cell % nx
            for dk in range(-1, 2):
                for dj in range(-1, 2):
                    for di in range(-1, 2):
                        a, b, c = k + dk, j + dj, i + di
                        if a < 0 or b < 0 or c < 0 or a >= nz or b >= ny or c >= nx:
                            continue
                        other = (a * ny + b) * nx + c
                        if of[other] < 0 and shell[other] == shell[start]:
                            of[other] = count
                            stack[high] = other
                            high += 1
        count += 1
    return of


def _joined(of: Numbers, shell: Numbers, shape: Numbers) -> Numbers:
    """(k, 2) pieces that touch, of one shell and of the next."""
    grid, shells = of.reshape(shape), shell.reshape(shape)
    found = []
    for way in (
        (0, 0, 1),
        (0, 1, 0),
        (1, 0, 0),
        (0, 1, 1),
        (0, 1, -1),
        (1, 0, 1),
        (1, 0, -1),
        (1, 1, 0),
        (1, -1, 0),
        (1, 1, 1),
        (1, 1, -1),
        (1, -1, 1),
        (1, -1, -1),
    ):
        one = tuple(slice(max(-d, 0), n - max(d, 0)) for d, n in zip(way, shape, strict=True))
        two = tuple(slice(max(d, 0), n - max(-d, 0)) for d, n in zip(way, shape, strict=True))
        a, b, sa, sb = grid[one], grid[two], shells[one], shells[two]
        up = (a >= 0) & (b >= 0) & (sb == sa + 1)
        down = (a >= 0) & (b >= 0) & (sa == sb + 1)
        found += [np.stack([a[up], b[up]], axis=1), np.stack([b[down], a[down]], axis=1)]
    pairs = np.concatenate(found)
    return np.unique(pairs, axis=0) if len(pairs) else pairs
