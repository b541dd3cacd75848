"""The metal of the mould cut open through what sets last, with the time at which each of its corners sets."""

import manifold3d
import numpy as np
from scipy import ndimage

from pounce.feeding.values import Cutaway, Picture
from pounce.field.arrays import Field
from pounce.freeze.values import Mould
from pounce.solid import boolean
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.shading import corner_normals

# Triangles are no longer than so many cells of the grid, nor than this share of the whole: bands are drawn between
# corners.
CELLS_LONG, SHARE_LONG, LEAST_MM = 2.0, 1.0 / 70.0, 2.0


def cutaway(mould: Mould, picture: Picture, y_mm: float) -> Cutaway:
    """All metal behind the plane across y at ``y_mm``, lying, as a soup of small triangles."""
    solids = [boolean.closed_solid(one) for one in (*mould.castings, *([] if mould.gating is None else [mould.gating]))]
    whole = manifold3d.Manifold.compose([boolean.unmarked(one) for one in solids if one is not None])
    behind = whole.trim_by_plane([0.0, 1.0, 0.0], y_mm)
    mesh = boolean.bare_mesh(behind if behind.num_tri() else whole)
    longest = max(CELLS_LONG * picture.cells.step, SHARE_LONG * mesh.diagonal, LEAST_MM)
    fine = boolean.bare_mesh((behind if behind.num_tri() else whole).refine_to_length(longest))
    sets = _at(picture, picture.sets_s, fine.vertices)[fine.faces]
    # what is cut for the metal is full before the casting is
    arrival = np.where(np.isfinite(picture.sets_s) & ~np.isfinite(picture.fills_s), 0.0, picture.fills_s)
    fills = _at(picture, arrival, fine.vertices)[fine.faces]
    drawn = [one.astype(np.float32) for one in (fine.corners, _flat(fine), sets, fills)]
    return Cutaway(drawn[0], drawn[1], drawn[2], drawn[3], mesh.bounds.copy(), y_mm)


def _flat(mesh: Mesh) -> Floats:
    return np.asarray(corner_normals(mesh))


def _at(picture: Picture, field: Field, points: Floats) -> Floats:
    """(k,) times between cells; beyond the metal's own cells those of the nearest."""
    empty = ~np.isfinite(field)
    nearest = ndimage.distance_transform_edt(empty, return_distances=False, return_indices=True)
    whole = field[tuple(nearest)]
    c = picture.cells
    at = (points - c.low) / c.step - 0.5
    return np.asarray(ndimage.map_coordinates(whole, at[:, ::-1].T, order=1, mode="nearest"))
