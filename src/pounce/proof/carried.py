"""Places carried from the part to the pattern: points a hair off the part's faces, and what became of each.

A point inside the later body, whose normal leaves it only beyond the gap that stood before it, lies in what was
filled; another inside it belongs to a wall that was moved out; one outside has its wall behind it.
"""

from dataclasses import dataclass

import numpy as np

from pounce.draw.reachability import LIFT
from pounce.parting.holds import WITNESSES
from pounce.parting.values import Judged
from pounce.solid.mesh import Bools, Floats, Ints, Mesh, areas_of
from pounce.solid.sample import spread_on
from pounce.solid.tree import Tree, tree_of

# Two ways that no model lies along: a point is inside when both leave the body first.
SKEW = np.array([[0.36, 0.48, 0.8], [-0.6, 0.64, -0.48]])


@dataclass(frozen=True, eq=False)
class Witnesses:
    """``points`` (k, 3) a hair off the part, ``normals`` (k, 3), ``gap_mm`` (k,) to the next material (inf: none)."""

    points: Floats
    normals: Floats
    gap_mm: Floats

    def __len__(self) -> int:
        return len(self.points)


@dataclass(frozen=True, eq=False)
class Carried:
    """What became of each witness: ``filled`` (k,) whether its place is no sand any more, ``face`` (k,) of the later
    body that is its wall now (-1: none), ``at`` (k, 3) where.
    """

    filled: Bools
    face: Ints
    at: Floats


def witnesses(mesh: Mesh, judged: Judged, own: Ints) -> Witnesses:
    """Points spread by area over these pieces (their rows) of the part."""
    corners = judged.corners[own]
    points, rows = spread_on(corners, areas_of(corners), WITNESSES)
    normals = mesh.normals[judged.face[own][rows]] if len(points) else np.zeros((0, 3))
    start = points + LIFT * mesh.diagonal * normals
    gap, _ = tree_of(mesh).nearest(start, normals)
    return Witnesses(start, normals, gap)


def inside(mesh: Mesh, tree: Tree, points: Floats) -> Bools:
    """(k,) whether points lie in the closed body."""
    out = np.ones(len(points), bool)
    for way in SKEW:
        rays = np.tile(way, (len(points), 1))
        _, hit = tree.nearest(points, rays)
        met = hit >= 0
        leaves = np.zeros(len(points), bool)
        leaves[met] = mesh.normals[hit[met]] @ way > 0.0
        out &= leaves
    return out


def carried_to(body: Mesh, seen: Witnesses) -> Carried:
    """What became of the witnesses in a later body."""
    tree = tree_of(body)
    held = inside(body, tree, seen.points)
    leave, out_face = tree.nearest(seen.points, seen.normals)
    behind, back_face = tree.nearest(seen.points, -seen.normals)
    filled = held & ((leave > seen.gap_mm) | (out_face < 0))
    face = np.where(held, out_face, back_face)
    away = np.where(held, leave, -behind)
    at = seen.points + np.where(np.isfinite(away), away, 0.0)[:, None] * seen.normals
    return Carried(filled, np.where(filled, -1, face), at)


@dataclass(frozen=True, eq=False)
class Pieces:
    """Judged pieces by the face that they are of."""

    judged: Judged
    order: Ints
    start: Ints

    @staticmethod
    def of(judged: Judged, faces: int) -> "Pieces":
        """The pieces of a body with so many faces."""
        order = np.argsort(judged.face, kind="stable")
        start = np.searchsorted(judged.face[order], np.arange(faces + 1))
        return Pieces(judged, order, start)

    def at(self, face: Ints, points: Floats) -> Ints:
        """(k,) the piece of each face that the point lies on; -1 without a face."""
        out = np.full(len(face), -1, np.int64)
        for k, number in enumerate(face.tolist()):
            if number < 0 or self.start[number] == self.start[number + 1]:
                continue
            own = self.order[self.start[number] : self.start[number + 1]]
            if len(own) > 1:
                own = own[[int(np.argmax(_least_share(self.judged.corners[own], points[k])))]]
            out[k] = own[0]
        return out


def _least_share(corners: Floats, point: Floats) -> Floats:
    """(k,) the least of the three barycentric coordinates of a point (3,) in triangles (k, 3, 3): not under nought
    inside; minus infinity for slivers without area.
    """
    one, two = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    off = point - corners[:, 0]
    a, b, c = (np.einsum("ij,ij->i", x, y) for x, y in ((one, one), (one, two), (two, two)))
    p, q = np.einsum("ij,ij->i", off, one), np.einsum("ij,ij->i", off, two)
    size = a * c - b * b
    firm = size > 1e-12 * a * c
    safe = np.where(firm, size, 1.0)
    s, t = (c * p - b * q) / safe, (a * q - b * p) / safe
    return np.where(firm, np.minimum(np.minimum(s, t), 1.0 - s - t), -np.inf)
