"""Round faces: is this patch of triangles a cylinder (or nearly), and which one."""

from dataclasses import dataclass

import numpy as np

from pounce.solid.mesh import Floats, Ints, Mesh


@dataclass(frozen=True, eq=False)
class Round:
    """A cylinder fitted to a patch: ``axis`` unit (3,), ``centre`` a point on it, ``radius_mm``, ``hollow`` when its

    normals look toward the axis, ``turned_deg`` how far round the patch goes, ``misfit`` rms error over radius.
    """

    axis: Floats
    centre: Floats
    radius_mm: float
    hollow: bool
    turned_deg: float
    misfit: float


def fit(mesh: Mesh, faces: Ints) -> Round | None:
    """The cylinder through the corners of these faces, or None when they are not round.

    Axis: least spread of the normals; centre and radius: algebraic circle fit (Kasa 1976) of the corners.
    """
    normals, areas = mesh.normals[faces], mesh.areas[faces]
    total = float(areas.sum())
    if len(areas) < 5 or total <= 0.0:
        return None
    spread = np.einsum("i,ij,ik->jk", areas, normals, normals) / total
    values, vectors = np.linalg.eigh(spread)
    if values[1] < 0.05 or values[0] > 0.02:
        return None
    axis = vectors[:, 0]
    u, v = vectors[:, 1], vectors[:, 2]
    points = mesh.corners[faces].reshape(-1, 3)
    x, y = points @ u, points @ v
    system = np.stack([x, y, np.ones_like(x)], axis=1)
    solution, *_ = np.linalg.lstsq(system, x * x + y * y, rcond=None)
    cx, cy = solution[0] / 2.0, solution[1] / 2.0
    squared = float(solution[2] + cx * cx + cy * cy)
    if squared <= 0.0:
        return None
    radius = float(np.sqrt(squared))
    off = np.hypot(x - cx, y - cy) - radius
    misfit = float(np.sqrt(np.mean(off * off)) / radius)
    middles = mesh.corners[faces].mean(axis=1)
    outward = np.stack([middles @ u - cx, middles @ v - cy], axis=1)
    facing = np.einsum("ij,ij->i", outward, np.stack([normals @ u, normals @ v], axis=1))
    hollow = bool((areas * facing).sum() < 0.0)
    angles = np.sort(np.arctan2(outward[:, 1], outward[:, 0]))
    gaps = np.diff(np.r_[angles, angles[0] + 2.0 * np.pi])
    along = points @ axis
    centre = cx * u + cy * v + axis * float((along.min() + along.max()) / 2.0)
    return Round(axis, centre, radius, hollow, float(np.degrees(2.0 * np.pi - gaps.max())), misfit)
