"""What the metal pushes up with, and what holds it down. N, mm, kg."""

import numpy as np

from pounce.rig.flow import G
from pounce.rig.item import Item
from pounce.solid.boolean import Solid
from pounce.solid.mesh import Bools, Floats, Mesh
from pounce.solid.tree import tree_of

# Faces so little under the joint still press against the cope, mm; hollows are told this far off a face, mm.
UNDER_MM, OFF_MM = 0.05, 0.05


def lift_n(corners: Floats, head_mm: float, density: float) -> float:
    """rho g sum (head - z) n_z A over the upward faces (m, 3, 3): what liquid of this density (kg/m3), standing
    ``head_mm`` over z = 0, pushes up with.
    """
    crosses = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]) / 2.0
    heights = np.maximum(head_mm - corners[:, :, 2].mean(axis=1), 0.0)
    up = np.maximum(crosses[:, 2], 0.0)
    return float((heights * up).sum()) * density * G * 1e-9


def casting_lift(item: Item, whole: Mesh, head_mm: float, density: float) -> float:
    """Of one casting against the cope; walls of hollows push their cores and are left out."""
    return lift_n(item.metal_mesh.corners[_against_cope(item, whole)], head_mm, density)


def _against_cope(item: Item, whole: Mesh) -> Bools:
    mesh = item.metal_mesh
    up = mesh.normals[:, 2] > 1e-9
    middles = mesh.corners.mean(axis=1)
    over: Bools = middles[:, 2] >= item.joint_at(middles[:, :2]) - UNDER_MM
    chosen = up & over
    if not len(item.cores) or not chosen.any():
        return np.asarray(chosen)
    start = middles[chosen] + OFF_MM * mesh.normals[chosen]
    rises = np.tile([0.0, 0.0, 1.0], (len(start), 1))
    _, face = tree_of(whole).nearest(start, rises)
    hollow = (face >= 0) & (whole.normals[np.maximum(face, 0), 2] > 0.0)
    out = np.zeros(len(chosen), np.bool_)
    out[np.flatnonzero(chosen)[~hollow]] = True
    return out


def halves_mm3(solid: Solid) -> tuple[float, float]:
    """Volume over and under z = 0, mm3."""
    above, below = solid.split_by_plane([0.0, 0.0, 1.0], 0.0)
    return float(above.volume()), float(below.volume())
