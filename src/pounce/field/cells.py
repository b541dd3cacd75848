"""Solids as cubes: how much of each cell of a grid a body fills."""

from dataclasses import dataclass

import numpy as np

from pounce.field.arrays import Field, Numbers
from pounce.solid.columns import columns_at
from pounce.solid.kernels import njit
from pounce.solid.mesh import Mesh

# Columns are taken so many a cell along each side; up them a body is met exactly.
FINE = 2


@dataclass(frozen=True, eq=False)
class Cells:
    """A grid of cubes: the outer corner (3,) of its first cell, the side of a cell (mm), and (nz, ny, nx)."""

    low: Field
    step: float
    shape: tuple[int, int, int]

    @property
    def count(self) -> int:
        """All cells."""
        return int(np.prod(self.shape))

    @property
    def cell_mm3(self) -> float:
        """Volume of a cell."""
        return self.step**3

    def middles(self, flat: Numbers) -> Field:
        """(k, 3) middles of cells by their flat numbers, mm."""
        k, j, i = np.unravel_index(flat, self.shape)
        return np.asarray(self.low + (np.stack([i, j, k], axis=1) + 0.5) * self.step)

    def at(self, points: Field) -> Numbers:
        """(k,) flat numbers of the cells that hold points (k, 3); points outside count to the nearest."""
        index = np.floor((points - self.low) / self.step).astype(np.int64)
        nz, ny, nx = self.shape
        i, j, k = (np.clip(index[:, a], 0, n - 1) for a, n in zip(range(3), (nx, ny, nz), strict=True))
        return np.asarray((k * ny + j) * nx + i)


def cells_round(low: Field, high: Field, step: float) -> Cells:
    """Cells of this side that hold a box, which lies in their middle."""
    many = np.maximum(np.ceil((high - low) / step - 1e-9).astype(int), 1)
    start = (low + high) / 2.0 - many * step / 2.0
    return Cells(start, step, (int(many[2]), int(many[1]), int(many[0])))


def filled(mesh: Mesh, cells: Cells) -> Field:
    """(nz, ny, nx) float32: the share of each cell that a closed mesh fills."""
    nz, ny, nx = cells.shape
    step = cells.step / FINE
    # a hair off the grid, or a wall that stands on it is met by columns or missed by them as rounding has it
    low = cells.low[:2] + step / 2.0 + 1e-5 * cells.step
    columns = columns_at(mesh.corners, np.asarray(low), step, (ny * FINE, nx * FINE))
    out = np.zeros((nz, ny, nx), np.float32)
    _shares(columns.start, columns.low, columns.high, float(cells.low[2]), cells.step, out)
    return out


@njit(cache=True)
def _shares(start: Numbers, low: Field, high: Field, base: float, step: float, out: Field) -> None:
    nz, _, nx = out.shape
    across = nx * FINE
    share = 1.0 / (FINE * FINE)
    for column in range(start.shape[0] - 1):
        j, i = (column // across) // FINE, (column % across) // FINE
        for s in range(start[column], start[column + 1]):
            a, b = (low[s] - base) / step, (high[s] - base) / step
            first, last = max(int(np.floor(a)), 0), min(int(np.floor(b)), nz - 1)
            for k in range(first, last + 1):
                out[k, j, i] += share * max(min(b, k + 1.0) - max(a, float(k)), 0.0)
