"""Triangles of flat patches joined to convex panels, so that a wall is worked by few bodies instead of many."""

from collections.abc import Callable
from math import sqrt

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from pounce.solid.frame import across
from pounce.solid.mesh import Ints, Mesh, edges
from pounce.solid.polygons import triangulated
from pounce.solid.rim import rim_loops, rim_of
from pounce.solid.sets import distinct

# Normals of neighbours in one panel are this near (cosine), and its corners lie this near to one plane, mm.
ALIKE, FLAT_MM = 0.9998, 0.005
# A corner may turn back by this sine: three vertices along one straight edge.
STRAIGHT = 1e-9
# Patches of fewer faces are not cut anew; how far the area may be off after it, as a share.
LEAST_RECUT, SAME = 6, 1e-9
Allowed = Callable[[int, list[int]], bool]


def convex_panels(mesh: Mesh, group: Ints, faces: Ints, allowed: Allowed | None = None) -> dict[int, list[int]]:
    """Faces (k,) of one ``group`` (m,) that lie in one plane, joined across their longest edges while they stay convex
    (Hertel and Mehlhorn 1983): a face of each panel, and the vertices round it in the order of the face.

    Vertices inside a patch, as the rim of a hole that was filled flush leaves them, are corners of no panel.
    ``allowed(face, vertices)`` may refuse a panel that would else be joined, and a patch that would be cut anew.
    """
    keys, triangles = _recut(mesh, group, faces, allowed)
    loops: dict[int, list[int]] = dict(zip(keys.tolist(), triangles.tolist(), strict=True))
    into = {face: face for face in loops}
    used = distinct(triangles)
    # a handful of corners a time is faster without arrays
    at = dict(zip(used.tolist(), mesh.vertices[used].tolist(), strict=True))
    normal = dict(zip(keys.tolist(), mesh.normals[keys].tolist(), strict=True))

    def panel(face: int) -> int:
        while into[face] != face:
            into[face] = face = into[into[face]]
        return face

    ends, pairs = _shared(mesh, group, keys, triangles)
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


def _recut(mesh: Mesh, group: Ints, faces: Ints, allowed: Allowed | None) -> tuple[Ints, Ints]:
    """Triangles (k, 3) over the same patches, with a face (k,) of its patch for each: those with vertices inside are
    cut anew between their rims alone.
    """
    _, pairs = _shared(mesh, group, faces, mesh.faces[faces])
    row = np.full(len(mesh.faces), -1, np.int64)
    row[faces] = np.arange(len(faces))
    link = coo_matrix((np.ones(len(pairs), np.int8), row[pairs].T), shape=(len(faces), len(faces)))
    count, patch = connected_components(link, directed=False)
    inside = np.bincount(patch, minlength=count) > LEAST_RECUT
    keys, triangles = [faces[~inside[patch]]], [mesh.faces[faces[~inside[patch]]]]
    for number in np.flatnonzero(inside).tolist():
        own = faces[patch == number]
        cut = _between_rims(mesh, own, allowed)
        triangles.append(mesh.faces[own] if cut is None else cut)
        keys.append(own[: len(triangles[-1])])
    return np.concatenate(keys), np.concatenate(triangles)


def _between_rims(mesh: Mesh, own: Ints, allowed: Allowed | None) -> Ints | None:
    """(k, 3) a flat patch cut anew between its rims; None where nothing is inside them, or where it cannot be."""
    patch = mesh.faces[own]
    every = distinct(patch)
    if len(distinct(rim_of(patch))) == len(every):
        return None
    largest = int(own[np.argmax(mesh.areas[own])])
    normal = mesh.normals[largest]
    points = mesh.vertices[every]
    if np.abs((points - points[0]) @ normal).max() > FLAT_MM:
        return None
    loops, opened = rim_loops(patch)
    if opened or (allowed is not None and not allowed(largest, every.tolist())):
        return None
    u, v = across(normal)
    outlines = [np.stack([mesh.vertices[loop] @ u, mesh.vertices[loop] @ v], axis=1) for loop in loops]
    cut = np.concatenate(loops)[triangulated(outlines)]
    corners = mesh.vertices[cut]
    area = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]) @ normal / 2.0
    whole = float(mesh.areas[own].sum())
    same = len(cut) < len(own) and abs(float(area.sum()) - whole) < SAME * whole and float(area.min()) > -SAME * whole
    return cut if same else None


def _shared(mesh: Mesh, group: Ints, faces: Ints, triangles: Ints) -> tuple[Ints, Ints]:
    """Edges (e, 2) that two of the ``triangles`` (k, 3), each for one of the faces (k,), of one group and one plane
    share, the longest first, and both faces (e, 2).
    """
    table = edges(triangles, len(mesh.vertices))
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
