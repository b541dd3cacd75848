"""Outlines in a plane cut into triangles, by the solid library's triangulator."""

import manifold3d
import numpy as np

from pounce.solid.frame import across
from pounce.solid.mesh import Floats, Ints


def triangulated(outlines: list[Floats], precision: float = -1.0) -> Ints:
    """(k, 3) triangles over the corners of outlines (n, 2) one after another: outer ones counter-clockwise, holes
    clockwise. ``precision`` how far corners may be off a line and count as on it; -1 leaves it to the library.

    A plain outline of n corners gives n - 2 triangles; fewer, where it folds over itself.
    """
    own = [np.ascontiguousarray(outline, np.float64) for outline in outlines]
    return np.asarray(manifold3d.triangulate(own, precision), np.int64).reshape(-1, 3)


def spanned(points: Floats) -> Ints:
    """(n - 2, 3) triangles over a closed loop of corners (n, 3), turned as it runs: cut up in the plane nearest to
    it (its area vector, Newell), or fanned out from its first corner where it folds over itself there.
    """
    count = len(points)
    fan = np.stack([np.zeros(count - 2, np.int64), np.arange(1, count - 1), np.arange(2, count)], axis=1)
    rel = points - points.mean(axis=0)
    area = np.cross(rel, np.roll(rel, -1, axis=0)).sum(axis=0)
    size = float(np.linalg.norm(area))
    if size <= 0.0 or count < 4:
        return fan
    u, v = across(area / size)
    found = triangulated([np.stack([rel @ u, rel @ v], axis=1)])
    return found if len(found) == count - 2 else fan


def bulged(flat: Floats, heights: Floats, triangles: Ints, up: bool) -> Ints:
    """(k, 3) the same corners, at ``heights`` (n,) over their places ``flat`` (n, 2), cut up so that the surface over
    them has no valley (``up``), or no ridge: edges are laid the other way across until none is left (Lawson 1977).
    Triangles run counter-clockwise.
    """
    faces = triangles.tolist()
    owner = {(face[k], face[(k + 1) % 3]): nth for nth, face in enumerate(faces) for k in range(3)}
    points = np.column_stack([flat, heights])
    least = 1e-9 * float(np.ptp(flat, axis=0).max()) ** 2
    waiting = [edge for edge in owner if edge[0] < edge[1] and edge[::-1] in owner]
    turns = len(flat) ** 2  # as many as there are pairs of corners at most
    while waiting and turns:
        a, b = waiting.pop()
        if (a, b) not in owner or (b, a) not in owner:
            continue
        one, two = owner[a, b], owner[b, a]
        c, d = (next(v for v in faces[k] if v not in (a, b)) for k in (one, two))
        valley = float(np.cross(points[b] - points[a], points[c] - points[a]) @ (points[d] - points[a])) > 0.0
        if valley != up or min(_turn(flat, a, d, c), _turn(flat, d, b, c)) <= least:
            continue
        turns -= 1
        faces[one], faces[two] = [a, d, c], [d, b, c]
        del owner[a, b], owner[b, a]
        for nth in (one, two):
            owner |= {(faces[nth][k], faces[nth][(k + 1) % 3]): nth for k in range(3)}
        waiting += [edge for edge in ((a, d), (d, b), (b, c), (c, a)) if edge[::-1] in owner]
    return np.array(faces, np.int64).reshape(-1, 3)


def _turn(flat: Floats, a: int, b: int, c: int) -> float:
    """Twice the area of a triangle, positive counter-clockwise."""
    (ax, ay), (bx, by), (cx, cy) = flat[a].tolist(), flat[b].tolist(), flat[c].tolist()
    return float((bx - ax) * (cy - ay) - (by - ay) * (cx - ax))
