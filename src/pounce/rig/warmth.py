"""Where a casting sets late and where it fills late, on a coarse grid of the casting alone: gates keep off the hottest
of it and off thin ends, and what fills last wants a vent. The mould itself is judged at Freeze, on the fine grid.
"""

import atexit
import weakref
from dataclasses import dataclass

import numpy as np
import shapely
from scipy import ndimage
from shapely.ops import nearest_points

from pounce.field.arrays import Field
from pounce.field.fronts import ways_of
from pounce.freeze.heats import Poured, frozen, sand_mm
from pounce.freeze.lay import gates_on, laid, spacing
from pounce.freeze.values import Laid, Mould
from pounce.metals.heat import heat
from pounce.metals.tables import metal as metal_of
from pounce.rig.item import Item
from pounce.solid import boolean
from pounce.solid.mesh import Floats
from pounce.solid.tree import tree_of

# Cells of the grid at most, and sand about it, mm.
CELLS, MOST_SAND_MM = 60_000, 40.0
WIDE_MM = 1e4
INSIDE_MM = 1.0


@dataclass(frozen=True, eq=False)
class Warmth:
    """The grid in the item's frame, and (nz, ny, nx) when each cell of metal sets over when the last one does: the
    nearest metal's beside it.
    """

    laid: Laid
    late: Field

    def at(self, points: Floats) -> Floats:
        """(k,) at points (k, 3): 1 where the casting sets last."""
        return np.asarray(self.late.ravel()[self.laid.cells.at(points)], float)

    def fills_late(self, gates: Floats) -> Floats:
        """(k, 3) ends of the metal that fill late from gates at (n, 3), the last first."""
        ways = ways_of(self.laid.casting > 0, self.laid.shares, gates_on(self.laid, gates), self.laid.cells)
        before = ways.before_mm3.ravel()
        held = np.isfinite(before)
        if not held.any():
            return np.zeros((0, 3))
        last = float(before[held].max())
        late = heat().common.vent_late.value
        ends = [one.cell for one in ways.stretches if one.ends and before[one.cell] > late * last]
        ends.sort(key=lambda cell: -float(before[cell]))
        return np.asarray(self.laid.cells.middles(np.array(ends, int)) if ends else np.zeros((0, 3)), float)


_KNOWN: "weakref.WeakKeyDictionary[Item, tuple[tuple[str, str], Warmth]]" = weakref.WeakKeyDictionary()
atexit.register(_KNOWN.clear)


def warmth_of(item: Item, metal_id: str, sand_id: str) -> Warmth:
    """Worked once for as long as the item lives and metal and sand are the same."""
    kept = _KNOWN.get(item)
    if kept is None or kept[0] != (metal_id, sand_id):
        kept = ((metal_id, sand_id), _worked(item, metal_id, sand_id))
        _KNOWN[item] = kept
    return kept[1]


def _worked(item: Item, metal_id: str, sand_id: str) -> Warmth:
    poured = Poured(metal_id, sand_id, metal_of(metal_id).pouring.value)
    mesh = item.metal_mesh
    cores = tuple(boolean.bare_mesh(one) for one in item.cores)
    mould = Mould((mesh,), None, cores, (), (), WIDE_MM, (WIDE_MM, WIDE_MM), WIDE_MM, tight=True)
    pad = sand_mm(poured, mesh.volume / mesh.area, MOST_SAND_MM)
    grid = laid(mould, spacing(mould, pad, CELLS), pad)
    made = frozen(grid, poured, lambda _share, _at: None)
    casting = grid.casting > 0
    nearest = ndimage.distance_transform_edt(~casting, return_distances=False, return_indices=True)
    late = np.where(casting, made.near_s / float(np.nanmax(made.near_s)), 0.0)
    return Warmth(grid, late[tuple(nearest)].astype(np.float32))


def late_ends(item: Item, warmth: Warmth, gates: Floats, held: Floats) -> Floats:
    """(k, 3) tops of the metal over ends that fill late from gates (n, 3), none within a vent's reach of those at
    ``held`` (m, 3) or of each other.
    """
    reach = heat().common.vent_nearer.value * heat().common.vent_reach.value
    mesh, out = item.metal_mesh, [np.asarray(one) for one in held]
    high = float(mesh.bounds[1, 2]) + 1.0
    plan = item.metal_plan.buffer(-INSIDE_MM)
    for end in warmth.fills_late(gates):
        if not plan.is_empty:  # the middle of a cell at the rim may lie off the metal
            end[:2] = shapely.get_coordinates(nearest_points(plan, shapely.Point(end[:2]))[0])[0]
        if any(float(np.hypot(*(one[:2] - end[:2]))) < reach for one in out):
            continue
        far, face = tree_of(mesh).nearest(np.array([[*end[:2], high]]), np.array([[0.0, 0.0, -1.0]]))
        if face[0] >= 0:
            out.append(np.array([*end[:2], high - float(far[0])]))
    return np.array(out[len(held) :]).reshape(-1, 3)
