"""High points of the metal, where air is shut in: each gets a vent."""

import atexit
import weakref

import numpy as np

from pounce.rig.item import Item
from pounce.solid.mesh import Bools, Floats
from pounce.solid.tree import tree_of

CELLS, MOST = 48, 8
# A top is one of its own when the highest pass from it to a higher one lies so much under it, mm.
STAND_OUT_MM, LEVEL_MM = 1.0, 0.15


_KNOWN: "weakref.WeakKeyDictionary[Item, Floats]" = weakref.WeakKeyDictionary()
atexit.register(_KNOWN.clear)


def high_points(item: Item) -> Floats:
    """:func:`_high_points`, looked for once for as long as the item lives."""
    if item not in _KNOWN:
        _KNOWN[item] = _high_points(item)
    return _KNOWN[item]


def _high_points(item: Item) -> Floats:
    """(k, 3) the tops of the metal in the item's frame, the highest first, each in the middle of its level."""
    mesh = item.metal_mesh
    low, high = mesh.bounds
    step = float((high - low)[:2].max()) / CELLS
    xs = np.arange(low[0] + step / 2.0, high[0], step)
    ys = np.arange(low[1] + step / 2.0, high[1], step)
    gx, gy = np.meshgrid(xs, ys)
    start = np.column_stack([gx.ravel(), gy.ravel(), np.full(gx.size, float(high[2]) + 1.0)])
    far, _ = tree_of(mesh).nearest(start, np.tile([0.0, 0.0, -1.0], (len(start), 1)))
    tops = np.where(np.isfinite(far), start[:, 2] - far, -np.inf).reshape(gx.shape)
    found = []
    for peak in peaks_of(tops):
        cells = np.argwhere(peak)
        middle = cells.mean(axis=0)
        j, i = cells[int(np.argmin(((cells - middle) ** 2).sum(axis=1)))]
        found.append((float(gx[j, i]), float(gy[j, i]), float(tops[j, i])))
    found.sort(key=lambda one: -one[2])
    return np.array(found[:MOST]).reshape(-1, 3)


def peaks_of(tops: Floats) -> list[Bools]:
    """Masks of the tops of a height field (ny, nx; -inf: nothing) that stand out by :data:`STAND_OUT_MM`: cells are
    flooded from the highest down, and where two tops meet the lower one counts if it stands that much over the pass.
    """
    ny, nx = tops.shape
    owner = np.full(tops.size, -1, np.int64)
    peak: list[float] = []
    ended: list[bool] = []
    parent: list[int] = []

    def root(k: int) -> int:
        while parent[k] != k:
            parent[k] = parent[parent[k]]
            k = parent[k]
        return k

    flat = tops.ravel()
    for cell in np.argsort(-flat, kind="stable"):
        height = float(flat[cell])
        if not np.isfinite(height):
            break
        j, i = divmod(int(cell), nx)
        near = {
            root(int(owner[b * nx + a]))
            for b in range(max(j - 1, 0), min(j + 2, ny))
            for a in range(max(i - 1, 0), min(i + 2, nx))
            if owner[b * nx + a] >= 0
        }
        if not near:
            owner[cell] = len(parent)
            parent.append(len(parent))
            peak.append(height)
            ended.append(False)
            continue
        best = max(near, key=lambda k: (peak[k], -k))
        owner[cell] = best
        for other in near - {best}:
            ended[other] = peak[other] - height >= STAND_OUT_MM
            parent[other] = best
    out = []
    for k in range(len(parent)):
        if parent[k] == k or ended[k]:
            own = np.array([root_until(int(o), k, parent, ended) for o in owner]).reshape(tops.shape)
            out.append(own & (tops >= peak[k] - LEVEL_MM))
    return out


def root_until(owner: int, k: int, parent: list[int], ended: list[bool]) -> bool:
    """Whether a cell's first owner leads to top ``k`` before it leads to another that stands out."""
    while owner >= 0:
        if owner == k:
            return True
        if ended[owner] or parent[owner] == owner:
            return False
        owner = parent[owner]
    return False
