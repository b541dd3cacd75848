"""The least wall: how thin the part is between two faces that look away from each other."""

import numpy as np

from pounce.metals.tables import limits
from pounce.solid.mesh import Bools, Floats, Ints, Mesh
from pounce.solid.sample import spread
from pounce.solid.tree import Tree

SAMPLES = 20_000
# Two faces make a wall when they look away from each other within this cosine (45 degrees); else it is an edge.
OPPOSITE = -0.7071
# Metal so many times as thick as a wall is what a letter stands on.
THICKER = limits()["wall_thicker"].value
# Points looked at together, thinnest first.
TRIED = 2000


def walls_at(mesh: Mesh, tree: Tree, points: Floats, faces: Ints) -> Floats:
    """(k,) how thick the material is behind points (k, 3) on faces (k,), mm; inf where no face opposes: that is an
    edge, no wall.
    """
    normals = mesh.normals[faces]
    lift = 1e-6 * mesh.diagonal
    distance, hit = tree.nearest(points - normals * lift, -normals)
    found = hit >= 0
    opposite = np.zeros(len(points), bool)
    opposite[found] = np.einsum("ij,ij->i", normals[found], mesh.normals[hit[found]]) < OPPOSITE
    return np.where(opposite, distance + lift, np.inf)


def is_wall(mesh: Mesh, tree: Tree, points: Floats, faces: Ints, walls: Floats) -> Bools:
    """(k,) whether the thin material behind points is a wall: not a letter, a bead or a feather edge, that stands out
    of thicker metal by no more than its own width. From the middle of the wall, a wall's width to one side lies
    thick metal, and to the other side air.
    """
    out = np.isfinite(walls)
    rows = np.flatnonzero(out)
    if not len(rows):
        return out
    normal, wide = mesh.normals[faces[rows]], walls[rows]
    middle = points[rows] - normal * (wide / 2.0)[:, None]
    helper = np.where(np.abs(normal[:, :1]) < 0.9, np.eye(3)[0], np.eye(3)[1])
    u = np.cross(normal, helper)
    u /= np.linalg.norm(u, axis=1)[:, None]
    v = np.cross(normal, u)
    proud = np.zeros(len(rows), bool)
    for turn in np.arange(4) * np.pi / 4.0:
        # rays cost most of it: only where they can still tell
        left = np.flatnonzero(~proud)
        side = (np.cos(turn) * u[left] + np.sin(turn) * v[left]) * wide[left, None]
        one = _thick_at(mesh, tree, middle[left] + side, normal[left])
        thick, air = one > THICKER * wide[left], one == 0.0
        some = np.flatnonzero(thick | air)
        two = _thick_at(mesh, tree, middle[left[some]] - side[some], normal[left[some]])
        proud[left[some]] = np.where(thick[some], two == 0.0, two > THICKER * wide[left[some]])
    out[rows] = ~proud
    return out


def _thick_at(mesh: Mesh, tree: Tree, points: Floats, normals: Floats) -> Floats:
    """(k,) how thick the material is at points along normals, both ways; 0 in the air."""
    total, inside = np.zeros(len(points)), np.arange(len(points))
    for sign in (1.0, -1.0):
        distance, hit = tree.nearest(points[inside], sign * normals[inside])
        leaves = hit >= 0
        way = sign * normals[inside[leaves]]
        leaves[leaves] = np.einsum("ij,ij->i", way, mesh.normals[hit[leaves]]) > 0.0
        inside = inside[leaves]
        total[inside] += distance[leaves]
    whole = np.zeros(len(points))
    whole[inside] = total[inside]
    return whole


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
    order = np.argsort(walls, kind="stable")
    for start in range(0, len(order), TRIED):
        some = order[start : start + TRIED]
        some = some[is_wall(mesh, tree, points[some], faces[some], walls[some])]
        if len(some):
            index = int(some[0])
            wall = float(walls[index])
            return wall, points[index] - mesh.normals[faces[index]] * wall / 2.0
    return None
