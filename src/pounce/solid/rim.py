"""The rim of a patch of faces, and the solid between a patch moved out and moved in."""

import numpy as np

from pounce.solid.mesh import Floats, Ints, Mesh
from pounce.solid.section import chained
from pounce.solid.sets import is_among


def rim_of(faces: Ints) -> Ints:
    """(k, 2) the edges at the rim of a patch of faces (m, 3), running as its faces run."""
    edges = np.stack([faces, np.roll(faces, -1, axis=1)], axis=2).reshape(-1, 2)
    count = np.int64(faces.max(initial=0)) + 1
    return edges[~is_among(edges[:, 0] * count + edges[:, 1], edges[:, 1] * count + edges[:, 0])]


def rim_loops(faces: Ints) -> tuple[list[Ints], int]:
    """The rim of a patch as loops of vertices, and how many stay open."""
    rim = rim_of(faces)
    loops, opened = chained(rim[:, :, None].astype(np.float64), rim[:, 0], rim[:, 1])
    return [loop[:-1, 0].astype(np.int64) for loop in loops], opened


def shell(corner_faces: Ints, top: Floats, bottom: Floats) -> Mesh:
    """The closed solid between a patch moved to ``top`` and moved to ``bottom`` (n, 3), faces (k, 3) into both.

    ``top`` is the side the patch looks to.
    """
    used, inverse = np.unique(corner_faces, return_inverse=True)
    faces = inverse.reshape(-1, 3)
    count = len(used)
    a, b = rim_of(faces).T
    sides = np.concatenate([np.stack([a, a + count, b], 1), np.stack([b, a + count, b + count], 1)])
    vertices = np.concatenate([top[used], bottom[used]])
    return Mesh.of(vertices, np.concatenate([faces, faces[:, ::-1] + count, sides]))
