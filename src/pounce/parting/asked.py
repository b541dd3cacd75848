"""What draft every face is asked for: walls by their height on their own side of the joint, by whether sand is held
between them, and by how wide that sand is.
"""

import numpy as np

from pounce.draw.values import Reach
from pounce.metals.method import Method
from pounce.parting.joint import Joint
from pounce.solid.features.patches import grouped
from pounce.solid.mesh import Bools, Floats, Ints, Mesh, edges
from pounce.solid.tree import tree_of

# Faces that lean less than this belong to a wall; they hang together where they meet within the other.
WALL_DEG, SMOOTH_DEG = 30.0, 35.0
# Faces of a wall from which it is looked across, the largest first; and how squarely what is met must look back
# (cosine).
LOOKS, FACING = 32, -0.3
# Off the face a look begins at, as a share of the diagonal.
LIFT = 2e-5


def asked_draft(mesh: Mesh, reach: Reach, joint: Joint, method: Method) -> Floats:
    """(m,) degrees of draft asked of each face. Own figures go before the table, everywhere."""
    out = np.full(len(mesh.faces), method.required_draft_deg)
    if method.own_draft or not method.pattern.draws:
        return out
    wall = np.abs(reach.slope) < np.sin(np.radians(WALL_DEG))
    rows = np.flatnonzero(wall)
    if not len(rows):
        return out
    above = joint.above(mesh.vertices, free=True)[mesh.faces]
    upper = above.mean(axis=1) >= 0.0
    of = _walls(mesh, rows, upper)
    count = int(of.max()) + 1
    level = np.where(upper[rows, None], above[rows], -above[rows])
    far, near = np.full(count, 0.0), np.full(count, np.inf)
    np.maximum.at(far, of, level.max(axis=1))
    np.minimum.at(near, of, np.maximum(level.min(axis=1), 0.0))
    across = _across(mesh, rows, of, count, joint.direction)
    tall = np.maximum(far - near, 0.0)
    # walls are many on noisy meshes, and their heights to a hundredth few
    kinds, which = np.unique(np.round(np.column_stack([tall, across]), 2), axis=0, return_inverse=True)
    asked = np.array([method.draft_for(tall, bool(np.isfinite(gap)), gap) for tall, gap in kinds.tolist()])
    out[rows] = asked[which.ravel()][of]
    return out


def _walls(mesh: Mesh, rows: Ints, upper: Bools) -> Ints:
    """(k,) which wall each of the wall faces belongs to: smoothly joined, on one side of the joint."""
    table = edges(mesh.faces[rows], len(mesh.vertices))
    one, two = rows[table.pairs[:, 0]], rows[table.pairs[:, 1]]
    smooth = np.einsum("ij,ij->i", mesh.normals[one], mesh.normals[two]) > np.cos(np.radians(SMOOTH_DEG))
    return grouped(len(rows), table.pairs[smooth & (upper[one] == upper[two])])


def _across(mesh: Mesh, rows: Ints, of: Ints, count: int, direction: Floats) -> Floats:
    """(w,) how far off (mm) the metal is that most of a wall looks at, level, and that looks back: sand is held between
    them. Infinite where none is.
    """
    order = np.lexsort((-mesh.areas[rows], of))
    start = np.searchsorted(of[order], np.arange(count))
    rank = np.arange(len(order)) - start[of[order]]
    looked = order[rank < LOOKS]
    faces = rows[looked]
    normals = mesh.normals[faces]
    level = normals - np.outer(normals @ direction, direction)
    level /= np.maximum(np.linalg.norm(level, axis=1), 1e-300)[:, None]
    origins = mesh.corners[faces].mean(axis=1) + normals * (LIFT * mesh.diagonal)
    away, hit = tree_of(mesh).nearest(origins, level)
    back = (hit >= 0) & (np.einsum("ij,ij->i", mesh.normals[np.maximum(hit, 0)], level) < FACING)
    whole = np.bincount(of[looked], mesh.areas[faces], count)
    held = np.bincount(of[looked], mesh.areas[faces] * back, count)
    mean = np.bincount(of[looked], mesh.areas[faces] * np.where(back, away, 0.0), count) / np.maximum(held, 1e-300)
    return np.where(held > 0.5 * whole, mean, np.inf)
