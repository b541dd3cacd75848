"""How much sky a face sees: the share of the half-space before it that is open, weighted by the cosine.

Looked up along 16 axes both ways, each with a raster of the highest and lowest surface, as a depth buffer does.
"""

from collections import OrderedDict

import numpy as np

from pounce.base.digest import digest
from pounce.solid.frame import half_sphere, turn_to_z
from pounce.solid.kernels import njit
from pounce.solid.mesh import Bools, Floats, Mesh
from pounce.solid.plan import heights_of

# Parts of very many triangles are looked at along half as many: their faces are small, and there is no end of them.
AXES, LARGE = 16, 250_000
CELLS = 320
# Points are lifted off their face by this many cells: more than the raster may miss a sloping face by.
LIFT = 1.2
# Of parts of so many triangles at most all faces are looked from at once, and what so many parts saw is kept.
SMALL, KEPT = 20_000, 8
_KNOWN: OrderedDict[str, Floats] = OrderedDict()


def openness(mesh: Mesh, asked: Bools) -> Floats:
    """(m,) share of the sky that each face ``asked`` (m,) sees, 0 to 1, from its middle; 1 for the others."""
    if len(mesh.faces) > SMALL:
        return _looked(mesh, asked)
    # the same shape is asked by one stop after another, and along every draw: the rasters cost most of it
    key = digest(mesh.vertices, mesh.faces)
    if key not in _KNOWN:
        _KNOWN[key] = _looked(mesh, np.ones(len(mesh.faces), np.bool_))
        while len(_KNOWN) > KEPT:
            _KNOWN.popitem(last=False)
    return np.where(asked, _KNOWN[key], 1.0)


def _looked(mesh: Mesh, asked: Bools) -> Floats:
    out = np.ones(len(mesh.faces))
    middles, normals = mesh.corners[asked].mean(axis=1), np.ascontiguousarray(mesh.normals[asked])
    seen, whole = np.zeros(len(middles)), np.zeros(len(middles))
    flat = mesh.corners.reshape(-1, 3)
    for axis in half_sphere(AXES if len(mesh.faces) < LARGE else AXES // 2):
        turn = turn_to_z(axis)
        # all corners in one: triangle by triangle the algebra library takes four times as long
        low, step, top, bottom = heights_of((flat @ turn.T).reshape(-1, 3, 3), CELLS, 2)
        _look(middles, normals, turn, low, step, LIFT, top, bottom, seen, whole)
    out[asked] = seen / np.maximum(whole, 1e-12)
    return out


@njit(cache=True)
def _look(
    middles: Floats,
    normals: Floats,
    turn: Floats,
    low: Floats,
    step: float,
    lift: float,
    top: Floats,
    bottom: Floats,
    seen: Floats,
    whole: Floats,
) -> None:
    """Adds to ``seen`` and ``whole`` (k,) the cosine toward this axis or away from it, where it is open and in any
    case.
    """
    ny, nx = top.shape
    for k in range(middles.shape[0]):
        slope = turn[2, 0] * normals[k, 0] + turn[2, 1] * normals[k, 1] + turn[2, 2] * normals[k, 2]
        x = y = z = 0.0
        for c in range(3):
            at = middles[k, c] + normals[k, c] * lift * step
            x += turn[0, c] * at
            y += turn[1, c] * at
            z += turn[2, c] * at
        i, j = int(np.rint((x - low[0]) / step)), int(np.rint((y - low[1]) / step))
        whole[k] += abs(slope)
        if (
            i < 0
            or j < 0
            or i >= nx
            or j >= ny
            or (slope > 0.0 and z >= top[j, i])
            or (slope < 0.0 and z <= bottom[j, i])
        ):
            seen[k] += abs(slope)
