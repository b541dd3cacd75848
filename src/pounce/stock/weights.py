"""Mass, middle of mass, moment of inertia, and where the part is thick: inscribed spheres from a distance field."""

import numpy as np
from scipy import ndimage

from pounce.solid.columns import columns_of
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.plan import plan_of
from pounce.stock.values import Bulk, Weight

# Voxels along the longest side, and the most spheres listed.
FINE = 96
MOST_BULKS = 6


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
    """The thickest places, each with the thicker of the sections next to it, largest ratio first.

    Distances on a grid of about a hundredth of the length: good to that. A place counts as next when its sphere's middle lies
    one and a half to three radii away.
    """
    longest, across = float(mesh.size.max()), float(mesh.size[:2].max())
    plan = plan_of(mesh.corners, max(int(np.ceil(FINE * across / longest)), 4), 2)
    step = plan.step
    base, count = float(mesh.bounds[0, 2]) - 1.7 * step, int(np.ceil(float(mesh.size[2]) / step)) + 4
    held = columns_of(mesh.corners, plan).filled(plan.shape, base, step, count)
    distance = ndimage.distance_transform_edt(held, sampling=step)
    ridge = (distance == ndimage.maximum_filter(distance, size=3)) & (distance > 1.2 * step)
    places = np.argwhere(ridge)
    if not len(places):
        return ()
    radii = distance[ridge]
    order = np.argsort(-radii, kind="stable")
    points, radii = places[order] * step, radii[order]
    out: list[Bulk] = []
    taken = np.zeros(len(points), bool)
    low = np.array([plan.low[0], plan.low[1], base])
    for index in range(len(points)):
        if taken[index] or len(out) >= 4 * MOST_BULKS:
            continue
        gap = np.linalg.norm(points - points[index], axis=1)
        taken |= gap < 1.2 * radii[index]
        ring = (gap > 1.5 * radii[index]) & (gap < 3.0 * radii[index])
        if not ring.any():
            continue
        beside = 2.0 * float(radii[ring].max())
        z, y, x = points[index]
        at = low + np.array([x, y, z])
        out.append(Bulk((float(at[0]), float(at[1]), float(at[2])), 2.0 * float(radii[index]), beside))
    return tuple(sorted(out, key=lambda bulk: -bulk.ratio)[:MOST_BULKS])
