"""Plane cuts through a mesh: segments, and loops chained from them."""

from dataclasses import dataclass

import numpy as np

from pounce.solid.mesh import Floats, Ints, Mesh


@dataclass(frozen=True, eq=False)
class Cut:
    """A plane cut.

    ``points`` (k, 2, 2): segments in the plane's own u, v (mm), directed with the material on their left seen from
    the side the normal points to; ``face`` (k,): the triangle each comes from; ``loops``: outlines as (n, 2)
    arrays, closed ones with the first point repeated at the end.
    """

    points: Floats
    face: Ints
    loops: tuple[Floats, ...]
    open_loops: int


def cut(mesh: Mesh, u: Floats, v: Floats, offset_mm: float) -> Cut:
    """Cut by the plane (u x v) . p = offset; u and v are orthonormal (3,) vectors.

    Vertices in the plane count as just above it, so every cut outline of a closed mesh closes.
    """
    normal = np.cross(u, v)
    height = mesh.vertices @ normal - offset_mm
    above = height >= 0.0
    corner_above = above[mesh.faces]
    count = corner_above.sum(axis=1)
    crossing = np.flatnonzero((count == 1) | (count == 2))
    if not len(crossing):
        return Cut(np.zeros((0, 2, 2)), np.zeros(0, np.int64), (), 0)
    faces = mesh.faces[crossing]
    up = corner_above[crossing]
    odd = np.where(count[crossing] == 1, np.argmax(up, axis=1), np.argmin(up, axis=1))
    rows = np.arange(len(crossing))
    a, b, c = faces[rows, odd], faces[rows, (odd + 1) % 3], faces[rows, (odd + 2) % 3]
    first, first_key = _crossings(mesh.vertices, height, a, b)
    second, second_key = _crossings(mesh.vertices, height, a, c)
    # With the odd corner above, material lies left of second -> first ... seen along -normal; else reversed.
    swap = count[crossing] == 1
    start = np.where(swap[:, None], first, second)
    end = np.where(swap[:, None], second, first)
    start_key = np.where(swap[:, None], first_key, second_key)
    end_key = np.where(swap[:, None], second_key, first_key)
    flat = np.stack([np.stack([start @ u, start @ v], 1), np.stack([end @ u, end @ v], 1)], axis=1)
    loops, opened = _chain(flat, start_key, end_key, len(mesh.vertices))
    return Cut(flat, crossing, tuple(loops), opened)


def loops_where(vertices: Floats, faces: Ints, height: Floats) -> list[Floats]:
    """Lines (n, 3) on the surface where ``height`` (one figure a vertex, (v,)) is zero; closed on a closed mesh."""
    above = height >= 0.0
    corner_above = above[faces]
    count = corner_above.sum(axis=1)
    crossing = np.flatnonzero((count == 1) | (count == 2))
    if not len(crossing):
        return []
    up = corner_above[crossing]
    odd = np.where(count[crossing] == 1, np.argmax(up, axis=1), np.argmin(up, axis=1))
    rows = np.arange(len(crossing))
    a, b, c = (faces[crossing][rows, (odd + k) % 3] for k in range(3))
    first, first_key = _crossings(vertices, height, a, b)
    second, second_key = _crossings(vertices, height, a, c)
    swap = (count[crossing] == 1)[:, None]
    start, end = np.where(swap, first, second), np.where(swap, second, first)
    keys = np.where(swap, first_key, second_key), np.where(swap, second_key, first_key)
    return _chain(np.stack([start, end], axis=1), keys[0], keys[1], len(vertices))[0]


def _crossings(vertices: Floats, height: Floats, a: Ints, b: Ints) -> tuple[Floats, Ints]:
    low, high = np.minimum(a, b), np.maximum(a, b)
    t = height[low] / (height[low] - height[high])
    points = vertices[low] + t[:, None] * (vertices[high] - vertices[low])
    return points, np.stack([low, high], axis=1)


def _chain(flat: Floats, start: Ints, end: Ints, vertex_count: int) -> tuple[list[Floats], int]:
    return chained(flat, start[:, 0] * vertex_count + start[:, 1], end[:, 0] * vertex_count + end[:, 1])


def chained(flat: Floats, start: Ints, end: Ints) -> tuple[list[Floats], int]:
    """Segments (k, 2, d) from the ends with number ``start`` (k,) to ``end`` (k,) as lines (n, d), and how many stay
    open.
    """
    following: dict[int, list[int]] = {}
    for index, key in enumerate(start.tolist()):
        following.setdefault(key, []).append(index)
    ends = end.tolist()
    has_before = set(ends)
    used = np.zeros(len(flat), bool)
    loops: list[Floats] = []
    opened = 0
    heads = [i for i, key in enumerate(start.tolist()) if key not in has_before]
    for begin in [*heads, *range(len(flat))]:
        if used[begin]:
            continue
        chain = []
        index = begin
        while True:
            used[index] = True
            chain.append(index)
            after = [i for i in following.get(ends[index], ()) if not used[i]]
            if not after:
                break
            index = after[0]
        points = np.concatenate([flat[chain, 0], flat[chain[-1:], 1]])
        if ends[chain[-1]] == int(start[chain[0]]):
            points[-1] = points[0]
        else:
            opened += 1
        loops.append(points)
    return loops, opened
