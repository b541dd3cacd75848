"""Triangles of flat patches joined to convex panels, so that a wall is worked by few bodies instead of many."""

from collections.abc import Callable

import numpy as np

from pounce.solid.mesh import Bools, Floats, Ints, Mesh

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
    loops = {face: mesh.faces[face].tolist() for face in faces.tolist()}
    into = {face: face for face in loops}

    def panel(face: int) -> int:
        while into[face] != face:
            into[face] = face = into[into[face]]
        return face

    ends, one, two = _shared(mesh, group, faces)
    for (start, end), a, b in zip(ends.tolist(), one.tolist(), two.tolist(), strict=True):
        mine, other = panel(a), panel(b)
        loop = None if mine == other else _joined(loops[mine], loops[other], start, end)
        if loop is None or not _convex(mesh.vertices[loop], mesh.normals[mine]):
            continue
        if allowed is None or allowed(mine, loop):
            loops[mine] = loop
            del loops[other]
            into[other] = mine
    return loops


def _shared(mesh: Mesh, group: Ints, faces: Ints) -> tuple[Ints, Ints, Ints]:
    """Edges (e, 2) that two of the faces of one group and one plane share, the longest first, and both faces."""
    corners = mesh.faces[faces]
    ends = np.concatenate([corners[:, [0, 1]], corners[:, [1, 2]], corners[:, [2, 0]]])
    face = np.tile(faces, 3)
    key, back = ends @ [len(mesh.vertices), 1], ends @ [1, len(mesh.vertices)]
    order = np.argsort(key, kind="stable")
    at = np.minimum(np.searchsorted(key[order], back), len(order) - 1)
    other = face[order[at]]
    alike = np.einsum("ij,ij->i", mesh.normals[face], mesh.normals[other]) > ALIKE
    shared: Bools = (key[order[at]] == back) & (ends[:, 0] < ends[:, 1]) & (group[face] == group[other]) & alike
    size = np.linalg.norm(mesh.vertices[ends[:, 0]] - mesh.vertices[ends[:, 1]], axis=1)
    rows = np.flatnonzero(shared)[np.argsort(-size[shared], kind="stable")]
    return ends[rows], face[rows], other[rows]


def _joined(one: list[int], two: list[int], start: int, end: int) -> list[int] | None:
    """Both loops as one, less the edge from ``start`` to ``end`` between them; None where they meet elsewhere too."""
    at, back = one.index(start), two.index(start)
    if one[(at + 1) % len(one)] != end or two[back - 1] != end:
        return None
    # from the edge's end round to its start, then round the other to its end again
    loop = one[at + 1 :] + one[: at + 1] + (two[back:] + two[:back])[1:-1]
    return loop if len(set(loop)) == len(loop) else None


def _convex(corners: Floats, normal: Floats) -> bool:
    """Whether corners (k, 3) lie in one plane and turn one way all round."""
    if np.abs((corners - corners[0]) @ normal).max() > FLAT_MM:
        return False
    after = np.roll(corners, -1, axis=0) - corners
    before = np.roll(after, 1, axis=0)
    turn = np.cross(before, after) @ normal
    size = np.linalg.norm(before, axis=1) * np.linalg.norm(after, axis=1)
    return bool((turn >= -STRAIGHT * size).all())
