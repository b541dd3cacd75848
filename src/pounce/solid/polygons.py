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
