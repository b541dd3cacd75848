"""Triangles of flat patches joined to convex panels, so that a wall is worked by few bodies instead of many."""

from collections.abc import Callable
from math import sqrt

import numpy as np

from pounce.solid.mesh import Ints, Mesh, edges
from pounce.solid.sets import distinct

# Normals of neighbours in one panel are this near (cosine), and its corners lie this near to one plane, mm.
ALIKE, FLAT_MM = 0.9998, 0.005
# A corner may turn back by this sine: three vertices along one straight edge.
STRAIGHT = 1e-9
Allowed = Callable[[int, list[int]], bool]


def convex_panels(mesh: Mesh, group: Ints, faces: Ints, allowed: Allowed | None = None) -> dict[int, list[int]]:
    """Faces (k,) of one ``group`` (m,) that lie in one plane, joined across their longest edges while they stay convex
    (Hertel and Mehlhorn 1983): a face of each panel, and the vertices round it in the order of the face.

    ``allowed(face, vertices)`` may refuse a panel that would else be joined.
    """
    loops: dict[int, list[int]] = dict(zip(faces.tolist(), mesh.faces[faces].tolist(), strict=True))
    into = {face: face for face in loops}
    used = distinct(mesh.faces[faces])
    # a handful of corners a time is faster without arrays
    at = dict(zip(used.tolist(), mesh.vertices[used].tolist(), strict=True))
    normal = dict(zip(faces.tolist(), mesh.normals[faces].tolist(), strict=True))

    def panel(face: int) -> int:
        while into[face] != face:
            into[face] = face = into[into[face]]
        return face

    ends, pairs = _shared(mesh, group, faces)
    for (low, high), (first, second) in zip(ends.tolist(), pairs.tolist(), strict=True):
        mine, other = panel(first), panel(second)
        loop = None if mine == other else _joined(loops[mine], loops[other], low, high)
        if loop is None or not _convex([at[one] for one in loop], normal[mine]):
            continue
        if allowed is None or allowed(mine, loop):
            loops[mine] = loop
            del loops[other]
            into[other] = mine
    return loops


def _shared(mesh: Mesh, group: Ints, faces: Ints) -> tuple[Ints, Ints]:
    """Edges (e, 2) that two of the faces of one group and one plane share, the longest first, and both faces (e, 2)."""
    table = edges(mesh.faces[faces], len(mesh.vertices))
    pairs, ends = faces[table.pairs], table.pair_ends
    one, two = pairs.T
    alike = np.einsum("ij,ij->i", mesh.normals[one], mesh.normals[two]) > ALIKE
    rows = np.flatnonzero(alike & (group[one] == group[two]))
    size = np.linalg.norm(mesh.vertices[ends[rows, 0]] - mesh.vertices[ends[rows, 1]], axis=1)
    rows = rows[np.argsort(-size, kind="stable")]
    return ends[rows], pairs[rows]


def _joined(one: list[int], two: list[int], low: int, high: int) -> list[int] | None:
    """Both loops as one, less the edge between ``low`` and ``high`` that they share; None where they meet elsewhere
    too, or look opposite ways.
    """
    start, end = (low, high) if one[(one.index(low) + 1) % len(one)] == high else (high, low)
    at, back = one.index(start), two.index(start)
    if one[(at + 1) % len(one)] != end or two[back - 1] != end:
        return None
    # from the edge's end round to its start, then round the other to its end again
    loop = one[at + 1 :] + one[: at + 1] + (two[back:] + two[:back])[1:-1]
    return loop if len(set(loop)) == len(loop) else None


def _convex(corners: list[list[float]], normal: list[float]) -> bool:
    """Whether corners (k, 3) lie in one plane and turn one way all round."""
    nx, ny, nz = normal
    x, y, z = corners[0]
    if any(abs((a - x) * nx + (b - y) * ny + (c - z) * nz) > FLAT_MM for a, b, c in corners):
        return False
    px, py, pz = corners[-2]
    x, y, z = corners[-1]
    bx, by, bz = x - px, y - py, z - pz
    for a, b, c in corners:
        ax, ay, az = a - x, b - y, c - z
        turn = (by * az - bz * ay) * nx + (bz * ax - bx * az) * ny + (bx * ay - by * ax) * nz
        size = sqrt((bx * bx + by * by + bz * bz) * (ax * ax + ay * ay + az * az))
        if turn < -STRAIGHT * size:
            return False
        x, y, z, bx, by, bz = a, b, c, ax, ay, az
    return True
