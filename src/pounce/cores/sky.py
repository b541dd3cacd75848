"""How much sky a face sees: the share of the half-space before it that is open, weighted by the cosine.

Looked up along 16 axes both ways, each with a raster of the highest and lowest surface, as a depth buffer does.
"""

import numpy as np

from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.plan import plan_of

AXES = 16
CELLS = 320
# Points are lifted off their face by this many cells: more than the raster may miss a sloping face by.
LIFT = 1.2


def axes() -> Floats:
    """(16, 3) unit vectors spread evenly over a half-sphere (golden spiral)."""
    k = np.arange(AXES) + 0.5
    z = 1.0 - k / AXES
    turn = np.pi * (1.0 + 5.0**0.5) * k
    r = np.sqrt(1.0 - z * z)
    return np.stack([r * np.cos(turn), r * np.sin(turn), z], axis=1)


def openness(mesh: Mesh) -> Floats:
    """(m,) share of the sky that each face sees, 0 to 1, from its middle."""
    middles, normals = mesh.corners.mean(axis=1), mesh.normals
    seen, whole = np.zeros(len(middles)), np.zeros(len(middles))
    for axis in axes():
        turn = turn_to_z(axis)
        plan = plan_of(mesh.corners @ turn.T, CELLS, 2)
        top = np.where(plan.covered, plan.top, -np.inf)
        bottom = np.where(plan.covered, plan.bottom, np.inf)
        slope = normals @ axis
        place = (middles + normals * LIFT * plan.step) @ turn.T
        cell = np.round(plan.cells(place)).astype(np.int64)
        ny, nx = plan.shape
        inside = (cell >= 0).all(axis=1) & (cell[:, 0] < nx) & (cell[:, 1] < ny)
        i, j = np.clip(cell[:, 0], 0, nx - 1), np.clip(cell[:, 1], 0, ny - 1)
        for sign, free in ((1.0, place[:, 2] >= top[j, i]), (-1.0, place[:, 2] <= bottom[j, i])):
            weight = np.maximum(sign * slope, 0.0)
            seen += np.where(free | ~inside, weight, 0.0)
            whole += weight
    return np.asarray(seen / np.maximum(whole, 1e-12))
