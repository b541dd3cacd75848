"""Solids as cubes: how much of each cell of a grid a body fills."""

import numpy as np

from pounce.field.arrays import Field, Numbers
from pounce.field.cells import Cells
from pounce.solid.columns import columns_at
from pounce.solid.kernels import njit
from pounce.solid.mesh import Mesh

# Columns are taken so many a cell along each side; up them a body is met exactly.
FINE = 2


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
