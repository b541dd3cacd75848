"""Lettering and other marks: small islands that stand a little proud of one plane, or are sunk in it."""

import numpy as np

from pounce.solid.features.patches import Bends, grouped
from pounce.solid.mesh import Bools, Ints, Mesh

# Higher than this, or than this share of the plane's own extent, an island is a boss and no mark.
MOST_MM, MOST_SHARE = 3.0, 0.2


def marks(mesh: Mesh, bends: Bends, plane: Ints) -> list[tuple[Ints, float]]:
    """Faces and height (over 0 raised, under 0 sunk) of the marks on the plane of faces ``plane``; alike ones
    together.
    """
    normal = mesh.crosses[plane].sum(axis=0)
    normal = normal / np.linalg.norm(normal)
    height = mesh.vertices @ normal
    level = float(np.mean(height[mesh.faces[plane[:1000]]]))
    height = height - level
    extent = float(np.ptp(mesh.vertices[np.unique(mesh.faces[plane])], axis=0).max())
    most = min(MOST_MM, MOST_SHARE * extent)
    slack = 1e-5 * mesh.diagonal
    # only what lies wholly near the plane can be an island on it
    near = np.abs(height) < most
    a, b, c = mesh.faces.T
    inside: Bools = near[a] & near[b] & near[c]
    on: Bools = np.zeros(len(mesh.faces), bool)
    on[plane] = True
    inside &= ~on
    faces = np.flatnonzero(inside)
    if not len(faces):
        return []
    number = np.full(len(mesh.faces), -1, np.int64)
    number[faces] = np.arange(len(faces))
    one, two = bends.pairs.T
    group = grouped(len(faces), number[bends.pairs[inside[one] & inside[two]]])
    count = int(group.max()) + 1
    touching, leaving = np.zeros(count, bool), np.zeros(count, bool)
    for own, other in ((one, two), (two, one)):
        touching[group[number[own[inside[own] & on[other]]]]] = True
        leaving[group[number[own[inside[own] & ~inside[other] & ~on[other]]]]] = True
    top, low = np.full(count, -np.inf), np.full(count, np.inf)
    for k in range(3):
        at = height[mesh.faces[faces, k]]
        np.maximum.at(top, group, at)
        np.minimum.at(low, group, at)
    out: list[tuple[Ints, float]] = []
    for raised in (True, False):
        high, other_end = (top, low) if raised else (-low, -top)
        chosen = touching & ~leaving & (high > 10.0 * slack) & (other_end > -slack)
        mine = faces[chosen[group]]
        if not len(mine):
            continue
        # a flat floor or top of its own: a burr or a dent of a scan has none
        flat_area = float(mesh.areas[mine][np.abs(mesh.normals[mine] @ normal) > 0.999].sum())
        if flat_area > 0.2 * float(mesh.areas[mine].sum()):
            out.append((mine, float(np.median(high[chosen])) * (1.0 if raised else -1.0)))
    return out
