"""A grid of cubes."""

from dataclasses import dataclass

import numpy as np

from pounce.field.arrays import Field, Numbers


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
