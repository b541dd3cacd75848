"""Mass, middle of mass, moment of inertia, and where the part is thick: inscribed spheres from a distance field."""

import itertools

import numpy as np
from scipy import ndimage
from scipy.spatial import cKDTree

from pounce.solid.clumps import within_reach
from pounce.solid.columns import columns_grid
from pounce.solid.frame import half_sphere
from pounce.solid.mesh import Bools, Floats, Mesh
from pounce.solid.tree import tree_of
from pounce.stock.values import Bulk, Weight

# Voxels along the longest side, and the most spheres listed.
FINE = 96
# Ridge of this share of the thickest sphere counts as the same place.
SAME_THICK = 0.8
# Rays over a half sphere by which a ball is measured: a flat wall comes out within a per cent.
BALL_RAYS = 60
MOST_BULKS = 6
# A ridge stands so many cells within the metal, so that a wall of two cells has one. Its ball is then moved by halves
# of a cell so often, to where it is largest.
LEAST_CELLS, HALVINGS = 0.9, 3


def inertia(mesh: Mesh, about: Floats) -> Floats:
    """(3, 3) second moments of volume, integral of (r.r I - r r^T) dV about a point, mm5.

    Exact for a closed mesh: tetrahedra to the point (Blow and Binstock 2004).
    """
    corners = mesh.corners - about
    six = np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2]))
    total = corners.sum(axis=1)
    second = np.einsum("i,ij,ik->jk", six, total, total)
    for k in range(3):
        second += np.einsum("i,ij,ik->jk", six, corners[:, k], corners[:, k])
    second /= 120.0
    return np.asarray(np.trace(second) * np.eye(3) - second)


def weight_of(mesh: Mesh, density_kgm3: float, axis: int, at: tuple[float, float, float] | None) -> Weight:
    """Mass and moment of inertia about the own axis through ``at`` (None: the middle of mass)."""
    middle = mesh.centre_of_mass
    about = middle if at is None else np.array(at)
    moment = float(inertia(mesh, about)[axis, axis])
    x, y, z = middle.tolist()
    return Weight(mesh.volume, mesh.volume * 1e-9 * density_kgm3, (x, y, z), moment * 1e-15 * density_kgm3)


def bulks_of(mesh: Mesh) -> tuple[Bulk, ...]:
    """The thickest places, each with the thickest section next to it, largest ratio first.

    Found on a grid of about a hundredth of the length, measured by rays. A place is all of the ridge that hangs
    together at nearly its thickness: the whole foot ring of a bowl, the whole rim of a wheel. A section counts as
    next when its sphere's middle lies one and a half to three and a half radii away from that.
    """
    grid = columns_grid(mesh, float(mesh.size.max()) / FINE)
    held, step, low = grid.held, grid.step, grid.low
    distance = ndimage.distance_transform_edt(held, sampling=step)
    ridge = (distance == ndimage.maximum_filter(distance, size=3)) & (distance > LEAST_CELLS * step)
    places = np.argwhere(ridge)
    if not len(places):
        return ()
    radii = distance[ridge]
    order = np.argsort(-radii, kind="stable")
    points, radii = np.asarray(places[order] * step, np.float64), radii[order]
    out: list[Bulk] = []
    taken = np.zeros(len(points), bool)
    for index in range(len(points)):
        if taken[index] or len(out) >= MOST_BULKS:
            continue
        mine = _alike(points, radii, index)
        taken |= mine
        gap = cKDTree(points[mine]).query(points)[0]
        taken |= gap < 1.2 * radii[index]
        ring = ~mine & (gap > 1.5 * radii[index]) & (gap < 3.5 * radii[index])
        if not ring.any():
            continue
        thickest = np.flatnonzero(ring)[int(np.argmax(radii[ring]))]
        (wide, at), (beside, _) = (_ball(mesh, low + points[k][::-1], step) for k in (index, thickest))
        out.append(Bulk((float(at[0]), float(at[1]), float(at[2])), wide, beside))
    return tuple(sorted(out, key=lambda bulk: -bulk.ratio))


def _ball(mesh: Mesh, at: Floats, step: float) -> tuple[float, Floats]:
    """Diameter (mm) and middle of the largest ball that stands in the metal within a cell of a ridge cell, by rays
    all round it.
    """
    ways = half_sphere(BALL_RAYS)
    ways = np.concatenate([ways, -ways])
    wide = 0.0
    for halving in range(1, HALVINGS + 1):
        wide, at = _larger(mesh, at, step * 0.5**halving, ways)
    return max(wide, 0.5 * step), at


def _larger(mesh: Mesh, at: Floats, shift: float, ways: Floats) -> tuple[float, Floats]:
    """The largest ball about a place or one of the 26 round it."""
    shifts = shift * np.array(list(itertools.product((-1.0, 0.0, 1.0), repeat=3)))
    distance, hit, way = tree_of(mesh).nearest_round(at + shifts, ways)
    # from within the metal the nearest face is met from behind
    inside = (hit >= 0) & ((ways[way] * mesh.normals[hit]).sum(axis=1) > 0.0)
    radius = np.where(inside, distance, 0.0)
    best = int(np.argmax(radius))
    return 2.0 * float(radius[best]), np.asarray(at + shifts[best])


def _alike(points: Floats, radii: Floats, start: int) -> Bools:
    """(k,) the ridge points that hang together with one by spheres of nearly its size that overlap."""
    wanted = np.flatnonzero(radii > SAME_THICK * radii[start])
    mine = np.zeros(len(points), bool)
    # on a grid distances are often just the radius
    mine[wanted] = within_reach(points[wanted], int(np.searchsorted(wanted, start)), radii[start] * (1.0 + 1e-9))
    return mine
