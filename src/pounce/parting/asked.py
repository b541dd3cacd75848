"""What draft every face is asked for: walls by their height on their own side of the joint, by whether sand is held
between them, and by how wide that sand is.
"""

import numpy as np

from pounce.draw.values import Reach
from pounce.metals.method import Method
from pounce.parting.joint import Joint
from pounce.solid.features.patches import grouped
from pounce.solid.mesh import Bools, Floats, Ints, Mesh, edges
from pounce.solid.sample import spread_on
from pounce.solid.tree import tree_of

# Faces that lean less than this belong to a wall; they hang together where they meet within the other.
WALL_DEG, SMOOTH_DEG = 30.0, 35.0
# Looks across from each wall, and how squarely what is met must look back (cosine).
LOOKS, FACING = 32, -0.3
# A wall of this share of the surface is looked across from all over; and the share of a wall that is close to
# something when the rest of it is not.
LARGE, CLOSE = 1e-3, 0.1
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
    # by what stands against it a wall is one, whichever half its parts lie in: they meet at the joint
    whole = _walls(mesh, rows, np.zeros(len(upper), bool))
    inside, across = _across(mesh, rows, whole, int(whole.max()) + 1, joint.direction)
    of_whole = np.zeros(count, np.int64)
    of_whole[of] = whole
    inside, across = inside[of_whole], across[of_whole]
    tall = np.maximum(far - near, 0.0)
    # walls are many on noisy meshes, and their heights to a hundredth few
    kinds, which = np.unique(np.round(np.column_stack([tall, inside, across]), 2), axis=0, return_inverse=True)
    asked = np.array([method.draft_for(tall, bool(within), gap) for tall, within, gap in kinds.tolist()])
    out[rows] = asked[which.ravel()][of]
    return out


def _walls(mesh: Mesh, rows: Ints, upper: Bools) -> Ints:
    """(k,) which wall each of the wall faces belongs to: smoothly joined, and alike in ``upper`` (m,)."""
    table = edges(mesh.faces[rows], len(mesh.vertices))
    one, two = rows[table.pairs[:, 0]], rows[table.pairs[:, 1]]
    smooth = np.einsum("ij,ij->i", mesh.normals[one], mesh.normals[two]) > np.cos(np.radians(SMOOTH_DEG))
    return grouped(len(rows), table.pairs[smooth & (upper[one] == upper[two])])


def _across(mesh: Mesh, rows: Ints, of: Ints, count: int, direction: Floats) -> tuple[Bools, Floats]:
    """(w,) whether most of a wall looks, level, at metal that looks back: sand is held between them; and how far off
    (mm) such metal is where it is nearest: a boss that stands close to one end of a long wall counts. Infinite where
    none is.
    """
    origins, faces, wall = _looks(mesh, rows, of, count)
    normals = mesh.normals[faces]
    level = normals - np.outer(normals @ direction, direction)
    level /= np.maximum(np.linalg.norm(level, axis=1), 1e-300)[:, None]
    away, hit = tree_of(mesh).nearest(origins + normals * (LIFT * mesh.diagonal), level)
    back = (hit >= 0) & (np.einsum("ij,ij->i", mesh.normals[np.maximum(hit, 0)], level) < FACING)
    share = _shares(mesh, rows, of, faces, wall, count)
    held = np.bincount(wall, share * back, count)
    return held > 0.5, _nearest(np.where(back, away, np.inf), share, wall, count)


def _looks(mesh: Mesh, rows: Ints, of: Ints, count: int) -> tuple[Floats, Ints, Ints]:
    """Points (k, 3) on walls from which it is looked across, their faces and their walls (k,): all over the large
    walls, which may be two triangles, and the middles of the largest faces of the others.
    """
    area = np.bincount(of, mesh.areas[rows], count)
    large = np.flatnonzero(area >= LARGE * mesh.area)
    points, faces, walls = [np.zeros((0, 3))], [np.zeros(0, np.int64)], [np.zeros(0, np.int64)]
    order = np.argsort(of, kind="stable")
    start = np.searchsorted(of[order], np.arange(count + 1))
    for number in large.tolist():
        own = rows[order[start[number] : start[number + 1]]]
        at, which = spread_on(mesh.corners[own], mesh.areas[own], LOOKS)
        points.append(at)
        faces.append(own[which])
        walls.append(np.full(len(which), number))
    order = np.lexsort((-mesh.areas[rows], of))
    rank = np.arange(len(order)) - start[of[order]]
    looked = order[(rank < LOOKS) & ~np.isin(of[order], large)]
    points.append(mesh.corners[rows[looked]].mean(axis=1))
    faces.append(rows[looked])
    walls.append(of[looked])
    return np.concatenate(points), np.concatenate(faces), np.concatenate(walls)


def _shares(mesh: Mesh, rows: Ints, of: Ints, faces: Ints, wall: Ints, count: int) -> Floats:
    """(k,) which share of its wall each look stands for: equal ones on a large wall, else by the face's area."""
    area = np.bincount(of, mesh.areas[rows], count)
    weight = np.where(area[wall] >= LARGE * mesh.area, 1.0, mesh.areas[faces])
    return np.asarray(weight / np.maximum(np.bincount(wall, weight, count), 1e-300)[wall])


def _nearest(away: Floats, share: Floats, wall: Ints, count: int) -> Floats:
    """(w,) the distance that all but the nearest ``CLOSE`` of each wall's looks exceed."""
    order = np.lexsort((away, wall))
    sums = np.cumsum(share[order])
    before = np.concatenate([[0.0], sums])[np.searchsorted(wall[order], np.arange(count))]
    reached = sums - before[wall[order]] >= CLOSE
    out = np.full(count, np.inf)
    np.minimum.at(out, wall[order][reached], away[order][reached])
    return out
