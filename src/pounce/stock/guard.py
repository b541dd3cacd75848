"""Guards on a body whose walls were leaned: nothing stands where nothing stood, and nothing went farther than its
formula says.
"""

import numpy as np
from scipy.spatial import cKDTree

from pounce.part.walls import is_wall, walls_at
from pounce.solid.boolean import closed_solid
from pounce.solid.mesh import Floats, Ints, Mesh
from pounce.solid.once import once_a_mesh
from pounce.solid.sample import spread
from pounce.solid.tree import tree_of

# Points over the body before, for how far metal was laid off it; and over the body after, for walls that are new.
POINTS, WALL_POINTS = 30_000, 8000
# Metal may stand off the body this many times the greatest lean: a mitred corner stands off by more than its walls.
FARTHEST = 3.0
# New walls thinner than this share of the thinnest that stood before are phantoms, when they make more than this share
# of the surface.
THINNER, PHANTOM = 0.8, 4e-4
# How far over a place the body before is looked for, as a share of the diagonal: nothing lies on what was not leaned.
OVER = 1e-4
# Points asked together whether they stand on a wall, thinnest first.
TRIED = 500


def phantom(before: Mesh, after: Mesh, widest_mm: float, only_added: bool) -> str | None:
    """Why the body after cannot be the body before with walls leaned by ``widest_mm`` at most; None where it can.

    ``only_added``: no metal was taken, so that no wall may have got thinner.
    """
    one, two = closed_solid(before), closed_solid(after)
    if one is None or two is None:
        return "it came out open"
    if len(two.decompose()) > len(one.decompose()):
        return "a body stands alone that was not there"
    # of each shell: together they would count one less for every shell beyond the first
    if sum(shell.genus() for shell in two.decompose()) != sum(shell.genus() for shell in one.decompose()):
        return "a tunnel opened or closed"
    if _farthest(before, after) > FARTHEST * widest_mm:
        return "metal was laid where no wall stands"
    if only_added and _thin(after, before):
        return "a wall stands that was not there"
    return None


def _farthest(before: Mesh, after: Mesh) -> float:
    """How far the corners of the body after stand off the body before at most, mm, less what the spacing of points
    hides.
    """
    points, _ = spread(before, POINTS)
    known = np.concatenate([points, before.vertices])
    spacing = float(np.sqrt(before.area / max(len(points), 1)))
    gap, _ = cKDTree(known).query(after.vertices)
    middles, _ = cKDTree(known).query(after.corners.mean(axis=1))
    return float(max(gap.max(), middles.max())) - 2.0 * spacing


def _thin(after: Mesh, before: Mesh) -> bool:
    """Whether more than crumbs of the body after is a wall thinner than any that stood before."""
    least = _least_of(before)
    if least is None:
        return False
    points, faces, thickness = _walls(after)
    some = np.flatnonzero(thickness < THINNER * least)
    crumbs = PHANTOM * len(points)
    if len(some) <= crumbs:
        return False
    walls = is_wall(after, tree_of(after), points[some], faces[some], thickness[some])
    some = some[walls]
    was = _thickness_there(before, points[some], after.normals[faces[some]])
    # the tip of an ear is as thin as it was, whether a point of the body before fell on it or not
    return float((was > thickness[some] / THINNER).sum()) > crumbs


def _thickness_there(before: Mesh, points: Floats, normals: Floats) -> Floats:
    """(k,) how thick the body before was under places of the body after; infinite where it had no wall there."""
    tree, lift = tree_of(before), OVER * before.diagonal
    above = points + lift * normals
    far, face = tree.nearest(above, -normals)
    out = np.full(len(points), np.inf)
    met = (face >= 0) & (far < 2.0 * lift)
    if met.any():
        out[met] = walls_at(before, tree, above[met] - far[met, None] * normals[met], face[met])
    return out


@once_a_mesh
def _least_of(mesh: Mesh) -> float | None:
    """The thinnest wall (mm) of a body: every try is held against the same one."""
    points, faces, thickness = _walls(mesh)
    order = np.argsort(thickness, kind="stable")
    for start in range(0, len(order), TRIED):  # the thinnest first: rays cost most of it
        some = order[start : start + TRIED]
        walls = is_wall(mesh, tree_of(mesh), points[some], faces[some], thickness[some])
        if walls.any():
            return float(thickness[some][walls].min())
    return None


def _walls(mesh: Mesh) -> tuple[Floats, Ints, Floats]:
    points, faces = spread(mesh, WALL_POINTS)
    return points, faces, walls_at(mesh, tree_of(mesh), points, faces)
