"""The least wall: how thin the part is between two faces that look away from each other."""

import numpy as np

from pounce.solid.mesh import Floats, Ints, Mesh
from pounce.solid.sample import spread
from pounce.solid.tree import Tree

SAMPLES = 20_000
# Two faces make a wall when they look away from each other within this cosine (45 degrees); else it is an edge.
OPPOSITE = -0.7071


def walls_at(mesh: Mesh, tree: Tree, points: Floats, faces: Ints) -> Floats:
    """(k,) how thick the stuff is behind points (k, 3) on faces (k,), mm; inf where no face opposes: that is an edge, no wall."""
    normals = mesh.normals[faces]
    lift = 1e-6 * mesh.diagonal
    distance, hit = tree.nearest(points - normals * lift, -normals)
    found = hit >= 0
    opposite = np.zeros(len(points), bool)
    opposite[found] = np.einsum("ij,ij->i", normals[found], mesh.normals[hit[found]]) < OPPOSITE
    return np.where(opposite, distance + lift, np.inf)


def least_wall(mesh: Mesh, tree: Tree) -> tuple[float, Floats] | None:
    """The thinnest wall in mm and the point half-way through it, or None when no two faces oppose each other.

    Rays run inward from points spread over the surface to the first face; the middle of the faces of small meshes
    is tried too, so that a narrow strip between wide faces is not missed.
    """
    points, faces = spread(mesh, SAMPLES)
    if len(mesh.faces) <= SAMPLES:
        points = np.concatenate([points, mesh.corners.mean(axis=1)])
        faces = np.concatenate([faces, np.arange(len(mesh.faces))])
    walls = walls_at(mesh, tree, points, faces)
    index = int(np.argmin(walls))
    wall = float(walls[index])
    return None if np.isinf(wall) else (wall, points[index] - mesh.normals[faces[index]] * wall / 2.0)
