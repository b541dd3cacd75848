"""The part seen along the draw: heights of its top and bottom over a grid of columns.

Everything here is in the draw's own frame: x and y across, z along the draw.
"""

from dataclasses import dataclass

import numpy as np

from pounce.solid.kernels import njit
from pounce.solid.mesh import Bools, Floats


@dataclass(frozen=True, eq=False)
class Plan:
    """Columns of a part. Arrays are (ny, nx); the middle of column [j, i] is at ``low + step * (i, j)``.

    ``top`` and ``bottom`` are the heights of the highest and lowest surface, ``under`` the top of the lowest stretch of
    material; all three are nan where no material is. ``covered`` says where there is.
    """

    low: Floats
    step: float
    top: Floats
    bottom: Floats
    under: Floats
    covered: Bools

    @property
    def shape(self) -> tuple[int, int]:
        """(ny, nx)."""
        return self.covered.shape[0], self.covered.shape[1]

    def cells(self, points: Floats) -> Floats:
        """(k, 2) grid places (x, y, in cells, not rounded) of points (k, 2) or (k, 3)."""
        return np.asarray((points[:, :2] - self.low) / self.step)


def plan_of(corners: Floats, across_cells: int, border_cells: int) -> Plan:
    """Columns over triangles (m, 3, 3), ``across_cells`` along the longer side, with a border all round."""
    own = np.ascontiguousarray(corners)
    start, step, top, bottom = heights_of(own, across_cells, border_cells)
    under = np.full(top.shape, np.inf)
    covered = np.isfinite(top)
    _fill_under(own, start, step, bottom, under)
    under = np.where(np.isfinite(under), under, top)
    return Plan(
        start,
        step,
        np.where(covered, top, np.nan),
        np.where(covered, bottom, np.nan),
        np.where(covered, under, np.nan),
        covered,
    )


def heights_of(corners: Floats, across_cells: int, border_cells: int) -> tuple[Floats, float, Floats, Floats]:
    """The first column's middle (2,), how far they stand apart, mm, and the highest and lowest surface over each (ny,
    nx): -inf and inf where there is none.
    """
    flat = corners.reshape(-1, 3)
    low = np.array([flat[:, k].min() for k in range(3)])
    high = np.array([flat[:, k].max() for k in range(3)])
    step = float(max(high[0] - low[0], high[1] - low[1], 1e-9)) / across_cells
    counts = np.maximum(np.ceil((high - low)[:2] / step).astype(int), 1) + 2 * border_cells
    # the grid stands in the middle of the part, a hair off so that no corner lies on a column's middle
    start = (low + high)[:2] / 2.0 - step * (counts - 1) / 2.0 + step * np.array([1.3e-4, 2.1e-4])
    shape = (int(counts[1]), int(counts[0]))
    top, bottom = np.full(shape, -np.inf), np.full(shape, np.inf)
    _heights(np.ascontiguousarray(corners), start, step, top, bottom)
    return start, step, top, bottom


@njit(cache=True)
def _within(
    ax: float, ay: float, bx: float, by: float, cx: float, cy: float, det: float, j: int, i0: int, i1: int
) -> tuple[int, int]:
    """The first and last of a row's columns that may lie in a triangle, by its three sides and a cell more: of the box
    about a long thin one nearly all lies outside.
    """
    first, last = i0 - 1.0, i1 + 1.0
    on_u, by_u = (-ax * (cy - ay) - (j - ay) * (cx - ax)) / det, (cy - ay) / det
    on_v, by_v = ((bx - ax) * (j - ay) + (by - ay) * ax) / det, -(by - ay) / det
    for at, more in ((on_u, by_u), (on_v, by_v), (1.0 - on_u - on_v, -by_u - by_v)):
        if more > 1e-9:
            first = max(first, -at / more - 1.0)
        elif more < -1e-9:
            last = min(last, -at / more + 1.0)
    return max(int(np.ceil(min(first, i1 + 1.0))), i0), min(int(np.floor(max(last, i0 - 1.0))), i1)


@njit(cache=True)
def _heights(corners: Floats, low: Floats, step: float, top: Floats, bottom: Floats) -> None:
    ny, nx = top.shape
    for f in range(corners.shape[0]):
        ax, ay, az = (corners[f, 0, 0] - low[0]) / step, (corners[f, 0, 1] - low[1]) / step, corners[f, 0, 2]
        bx, by, bz = (corners[f, 1, 0] - low[0]) / step, (corners[f, 1, 1] - low[1]) / step, corners[f, 1, 2]
        cx, cy, cz = (corners[f, 2, 0] - low[0]) / step, (corners[f, 2, 1] - low[1]) / step, corners[f, 2, 2]
        det = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
        if abs(det) < 1e-12:
            continue
        i0, i1 = max(int(np.ceil(min(ax, bx, cx))), 0), min(int(np.floor(max(ax, bx, cx))), nx - 1)
        j0, j1 = max(int(np.ceil(min(ay, by, cy))), 0), min(int(np.floor(max(ay, by, cy))), ny - 1)
        for j in range(j0, j1 + 1):
            first, last = _within(ax, ay, bx, by, cx, cy, det, j, i0, i1)
            for i in range(first, last + 1):
                u = ((i - ax) * (cy - ay) - (j - ay) * (cx - ax)) / det
                v = ((bx - ax) * (j - ay) - (by - ay) * (i - ax)) / det
                if u < -1e-9 or v < -1e-9 or u + v > 1.0 + 1e-9:
                    continue
                z = az + u * (bz - az) + v * (cz - az)
                top[j, i] = max(top[j, i], z)
                bottom[j, i] = min(bottom[j, i], z)


@njit(cache=True)
def _fill_under(corners: Floats, low: Floats, step: float, bottom: Floats, under: Floats) -> None:
    """The lowest upward-looking surface over each column."""
    ny, nx = under.shape
    for f in range(corners.shape[0]):
        ax, ay, az = (corners[f, 0, 0] - low[0]) / step, (corners[f, 0, 1] - low[1]) / step, corners[f, 0, 2]
        bx, by, bz = (corners[f, 1, 0] - low[0]) / step, (corners[f, 1, 1] - low[1]) / step, corners[f, 1, 2]
        cx, cy, cz = (corners[f, 2, 0] - low[0]) / step, (corners[f, 2, 1] - low[1]) / step, corners[f, 2, 2]
        det = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
        if det < 1e-12:
            continue
        i0, i1 = max(int(np.ceil(min(ax, bx, cx))), 0), min(int(np.floor(max(ax, bx, cx))), nx - 1)
        j0, j1 = max(int(np.ceil(min(ay, by, cy))), 0), min(int(np.floor(max(ay, by, cy))), ny - 1)
        for j in range(j0, j1 + 1):
            first, last = _within(ax, ay, bx, by, cx, cy, det, j, i0, i1)
            for i in range(first, last + 1):
                u = ((i - ax) * (cy - ay) - (j - ay) * (cx - ax)) / det
                v = ((bx - ax) * (j - ay) - (by - ay) * (i - ax)) / det
                if u < -1e-9 or v < -1e-9 or u + v > 1.0 + 1e-9:
                    continue
                z = az + u * (bz - az) + v * (cz - az)
                if z > bottom[j, i]:
                    under[j, i] = min(under[j, i], z)


@njit(cache=True)
def mark_segments(segments: Floats, low: Floats, step: float, least: Floats, most: Floats) -> None:
    """Lowers ``least`` and raises ``most`` (ny, nx) to the heights of segments (k, 2, 3) over each column they
    cross.
    """
    ny, nx = least.shape
    for s in range(segments.shape[0]):
        x0, y0, z0 = (segments[s, 0, 0] - low[0]) / step, (segments[s, 0, 1] - low[1]) / step, segments[s, 0, 2]
        x1, y1, z1 = (segments[s, 1, 0] - low[0]) / step, (segments[s, 1, 1] - low[1]) / step, segments[s, 1, 2]
        count = int(np.ceil(2.0 * max(abs(x1 - x0), abs(y1 - y0)))) + 1
        for k in range(count + 1):
            t = k / count
            i, j = int(np.rint(x0 + t * (x1 - x0))), int(np.rint(y0 + t * (y1 - y0)))
            if 0 <= i < nx and 0 <= j < ny:
                z = z0 + t * (z1 - z0)
                least[j, i] = min(least[j, i], z)
                most[j, i] = max(most[j, i], z)
