"""Corner normals for drawing: smooth over gentle bends, sharp over creases."""

import numpy as np

from pounce.solid.kernels import njit, prange
from pounce.solid.mesh import Floats, Ints, Mesh

CREASE_DEG = 30.0


@njit(cache=True, parallel=True)
def _smooth(
    faces: Ints, crosses: Floats, normals: Floats, start: Ints, around: Ints, limit: float, out: Floats
) -> None:
    for f in prange(faces.shape[0]):
        for k in range(3):
            x = y = z = 0.0
            for slot in range(start[faces[f, k]], start[faces[f, k] + 1]):
                g = around[slot] // 3
                bend = normals[f, 0] * normals[g, 0] + normals[f, 1] * normals[g, 1] + normals[f, 2] * normals[g, 2]
                if bend > limit:
                    x += crosses[g, 0]
                    y += crosses[g, 1]
                    z += crosses[g, 2]
            size = np.sqrt(x * x + y * y + z * z)
            if size > 0.0:
                out[f, k, 0], out[f, k, 1], out[f, k, 2] = x / size, y / size, z / size
            else:
                out[f, k, 0], out[f, k, 1], out[f, k, 2] = normals[f, 0], normals[f, 1], normals[f, 2]


def corner_normals(mesh: Mesh) -> Floats:
    """(m, 3, 3): a unit normal for each corner of each face, averaged by area over neighbours bent less than 30°."""
    flat = mesh.faces.reshape(-1)
    around = np.argsort(flat, kind="stable")
    start = np.searchsorted(flat[around], np.arange(len(mesh.vertices) + 1))
    out = np.empty((len(mesh.faces), 3, 3))
    limit = float(np.cos(np.radians(CREASE_DEG)))
    _smooth(np.ascontiguousarray(mesh.faces), mesh.crosses, mesh.normals, start, around, limit, out)
    return out
