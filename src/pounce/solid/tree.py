"""A bounding-volume tree over triangles, and any-hit rays.

The tree is implicit: triangles are ordered along a Morton curve through their middles, cut into leaves of ``LEAF`` and
paired up level by level, so building it is one sort and one sweep.
"""

import weakref
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from pounce.solid.kernels import njit, prange
from pounce.solid.mesh import Bools, Floats, Ints, Mesh

LEAF = 4


@njit(cache=True)
def _spread(value: np.uint64) -> np.uint64:
    value &= np.uint64(0x1FFFFF)
    value = (value | (value << np.uint64(32))) & np.uint64(0x1F00000000FFFF)
    value = (value | (value << np.uint64(16))) & np.uint64(0x1F0000FF0000FF)
    value = (value | (value << np.uint64(8))) & np.uint64(0x100F00F00F00F00F)
    value = (value | (value << np.uint64(4))) & np.uint64(0x10C30C30C30C30C3)
    return (value | (value << np.uint64(2))) & np.uint64(0x1249249249249249)


@njit(cache=True, parallel=True)
def _codes(corners: Floats, low: Floats, scale: float) -> NDArray[np.uint64]:
    count = corners.shape[0]
    out = np.empty(count, np.uint64)
    for i in prange(count):
        code = np.uint64(0)
        for k in range(3):
            middle = (corners[i, 0, k] + corners[i, 1, k] + corners[i, 2, k]) / 3.0
            cell = np.uint64(min(max((middle - low[k]) * scale, 0.0), 2097151.0))
            code |= _spread(cell) << np.uint64(k)
        out[i] = code
    return out


@njit(cache=True, parallel=True)
def _leaves(corners: Floats, order: Ints, triangles: Floats, boxes: Floats, first: int) -> None:
    count = corners.shape[0]
    leaf_count = (count + LEAF - 1) // LEAF
    for leaf in prange(leaf_count):
        node = first + leaf
        for k in range(3):
            boxes[node, k] = np.inf
            boxes[node, 3 + k] = -np.inf
        for slot in range(leaf * LEAF, min((leaf + 1) * LEAF, count)):
            face = order[slot]
            for k in range(3):
                a, b, c = corners[face, 0, k], corners[face, 1, k], corners[face, 2, k]
                triangles[slot, k] = a
                triangles[slot, 3 + k] = b - a
                triangles[slot, 6 + k] = c - a
                boxes[node, k] = min(boxes[node, k], a, b, c)
                boxes[node, 3 + k] = max(boxes[node, 3 + k], a, b, c)


@njit(cache=True)
def _parents(boxes: Floats, first: int) -> None:
    for node in range(first - 1, 0, -1):
        for k in range(3):
            boxes[node, k] = min(boxes[2 * node, k], boxes[2 * node + 1, k])
            boxes[node, 3 + k] = max(boxes[2 * node, 3 + k], boxes[2 * node + 1, 3 + k])


@njit(cache=True)
def _enters(boxes: Floats, node: int, o: Floats, inverse: Floats, reach: float) -> float:
    """Distance at which a ray enters the box of a node, or inf when it misses it or enters beyond ``reach``."""
    if boxes[node, 0] > boxes[node, 3]:
        return np.inf  # an empty node: its box is turned inside out, which the slabs below would take for everywhere
    near, far = 0.0, reach
    for k in range(3):
        if inverse[k] == np.inf:
            # a ray across this axis: only the slab itself decides
            if o[k] < boxes[node, k] or o[k] > boxes[node, 3 + k]:
                return np.inf
        else:
            t0 = (boxes[node, k] - o[k]) * inverse[k]
            t1 = (boxes[node, 3 + k] - o[k]) * inverse[k]
            if t0 > t1:
                t0, t1 = t1, t0
            if t0 > near:
                near = t0
            if t1 < far:
                far = t1
            if near > far:
                return np.inf
    return near


# Barycentric slack: a ray along the edge of two triangles must not slip between them by rounding.
_EDGE = 1e-11


@njit(cache=True)
def _meets(triangles: Floats, slot: int, o: Floats, d: Floats) -> float:
    """Distance along d to the triangle (Moeller and Trumbore 1997), or -1. Edge-on triangles are skipped."""
    ax, ay, az = triangles[slot, 3], triangles[slot, 4], triangles[slot, 5]
    bx, by, bz = triangles[slot, 6], triangles[slot, 7], triangles[slot, 8]
    px = d[1] * bz - d[2] * by
    py = d[2] * bx - d[0] * bz
    pz = d[0] * by - d[1] * bx
    det = ax * px + ay * py + az * pz
    size = (abs(ax) + abs(ay) + abs(az)) * (abs(bx) + abs(by) + abs(bz))
    if abs(det) <= 1e-12 * size:
        return -1.0
    tx, ty, tz = o[0] - triangles[slot, 0], o[1] - triangles[slot, 1], o[2] - triangles[slot, 2]
    u = (tx * px + ty * py + tz * pz) / det
    if u < -_EDGE or u > 1.0 + _EDGE:
        return -1.0
    qx = ty * az - tz * ay
    qy = tz * ax - tx * az
    qz = tx * ay - ty * ax
    v = (d[0] * qx + d[1] * qy + d[2] * qz) / det
    if v < -_EDGE or u + v > 1.0 + _EDGE:
        return -1.0
    return float((bx * qx + by * qy + bz * qz) / det)


@njit(cache=True)
def _inverse(d: Floats, out: Floats) -> None:
    for k in range(3):
        out[k] = np.inf if abs(d[k]) < 1e-15 else 1.0 / d[k]


@njit(cache=True, parallel=True)
def _blocked(
    triangles: Floats, boxes: Floats, first: int, count: int, origins: Floats, directions: Floats, out: Bools
) -> None:
    one = directions.shape[0] == 1
    chunks = (origins.shape[0] + 255) // 256
    for chunk in prange(chunks):
        stack = np.empty(64, np.int64)
        o = np.empty(3)
        d = np.empty(3)
        inverse = np.empty(3)
        for i in range(chunk * 256, min((chunk + 1) * 256, origins.shape[0])):
            for k in range(3):
                o[k] = origins[i, k]
                d[k] = directions[0, k] if one else directions[i, k]
            _inverse(d, inverse)
            out[i] = False
            stack[0] = 1
            top = 1
            while top > 0 and not out[i]:
                top -= 1
                node = stack[top]
                if _enters(boxes, node, o, inverse, np.inf) == np.inf:
                    continue
                if node >= first:
                    start = (node - first) * LEAF
                    for slot in range(start, min(start + LEAF, count)):
                        if _meets(triangles, slot, o, d) > 0.0:
                            out[i] = True
                            break
                else:
                    stack[top] = 2 * node
                    stack[top + 1] = 2 * node + 1
                    top += 2


@njit(cache=True, parallel=True)
def _covered(triangles: Floats, boxes: Floats, first: int, count: int, origins: Floats, ways: Ints, out: Bools) -> None:
    """Rays along +z (way 1) or -z (way -1), tested in the plan: a point in boxes and triangles."""
    chunks = (origins.shape[0] + 255) // 256
    for chunk in prange(chunks):
        stack = np.empty(64, np.int64)
        for i in range(chunk * 256, min((chunk + 1) * 256, origins.shape[0])):
            x, y, z = origins[i, 0], origins[i, 1], origins[i, 2]
            up = ways[i] > 0
            hit = False
            stack[0] = 1
            top = 1
            while top > 0 and not hit:
                top -= 1
                node = stack[top]
                if x < boxes[node, 0] or x > boxes[node, 3] or y < boxes[node, 1] or y > boxes[node, 4]:
                    continue
                if (up and boxes[node, 5] <= z) or (not up and boxes[node, 2] >= z):
                    continue
                if node < first:
                    stack[top] = 2 * node
                    stack[top + 1] = 2 * node + 1
                    top += 2
                    continue
                start = (node - first) * LEAF
                for slot in range(start, min(start + LEAF, count)):
                    ax, ay = triangles[slot, 3], triangles[slot, 4]
                    bx, by = triangles[slot, 6], triangles[slot, 7]
                    det = ax * by - ay * bx
                    if abs(det) <= 1e-12 * (abs(ax) + abs(ay)) * (abs(bx) + abs(by)) or det == 0.0:
                        continue
                    tx, ty = x - triangles[slot, 0], y - triangles[slot, 1]
                    u = (tx * by - ty * bx) / det
                    if u < 0.0 or u > 1.0:
                        continue
                    v = (ax * ty - ay * tx) / det
                    if v < 0.0 or u + v > 1.0:
                        continue
                    above = triangles[slot, 2] + u * triangles[slot, 5] + v * triangles[slot, 8] - z
                    if (up and above > 0.0) or (not up and above < 0.0):
                        hit = True
                        break
            out[i] = hit


@njit(cache=True, parallel=True)
def _nearest(
    triangles: Floats,
    boxes: Floats,
    order: Ints,
    first: int,
    count: int,
    origins: Floats,
    directions: Floats,
    distance: Floats,
    face: Ints,
) -> None:
    chunks = (origins.shape[0] + 63) // 64
    for chunk in prange(chunks):
        stack = np.empty(64, np.int64)
        entry = np.empty(64)
        o = np.empty(3)
        d = np.empty(3)
        inverse = np.empty(3)
        for i in range(chunk * 64, min((chunk + 1) * 64, origins.shape[0])):
            for k in range(3):
                o[k] = origins[i, k]
                d[k] = directions[i, k]
            _inverse(d, inverse)
            best = np.inf
            found = -1
            stack[0] = 1
            entry[0] = _enters(boxes, 1, o, inverse, best)
            top = 1
            while top > 0:
                top -= 1
                node = stack[top]
                if entry[top] >= best:
                    continue
                if node >= first:
                    start = (node - first) * LEAF
                    for slot in range(start, min(start + LEAF, count)):
                        t = _meets(triangles, slot, o, d)
                        if t > 0.0 and t < best:
                            best = t
                            found = order[slot]
                else:
                    # the nearer child on top, so that a hit there prunes the farther one
                    one, two = 2 * node, 2 * node + 1
                    t_one = _enters(boxes, one, o, inverse, best)
                    t_two = _enters(boxes, two, o, inverse, best)
                    if t_one < t_two:
                        one, two, t_one, t_two = two, one, t_two, t_one
                    if t_one < np.inf:
                        stack[top], entry[top] = one, t_one
                        top += 1
                    if t_two < np.inf:
                        stack[top], entry[top] = two, t_two
                        top += 1
            distance[i] = best
            face[i] = found


@dataclass(frozen=True, eq=False)
class Tree:
    """A bounding-volume tree over the triangles of a mesh; build it with :func:`build`.

    ``triangles`` (m, 9) corner and two edges in leaf order, ``boxes`` (2 p, 6) with the root at 1,
    ``order`` (m,) face of each slot, ``first`` index of the first leaf.
    """

    triangles: Floats
    boxes: Floats
    order: Ints
    first: int

    def blocked(self, origins: Floats, direction: Floats) -> Bools:
        """(k,) whether a ray from each origin (k, 3) along ``direction`` ((3,) or (k, 3)) meets the mesh.

        Triangles that are edge-on to the ray do not count.
        """
        out = np.zeros(len(origins), np.bool_)
        directions = np.ascontiguousarray(np.atleast_2d(direction), np.float64)
        if len(origins) and len(self.triangles):
            own = np.ascontiguousarray(origins, np.float64)
            _blocked(self.triangles, self.boxes, self.first, len(self.order), own, directions, out)
        return out

    def covered(self, origins: Floats, ways: Ints) -> Bools:
        """(k,) whether something lies straight above (way 1) or below (way -1) each origin, along z.

        About four times faster than :meth:`blocked`; turn the mesh so that the draw is z first. Triangles that project
        to a line do not count.
        """
        out = np.zeros(len(origins), np.bool_)
        if len(origins) and len(self.triangles):
            own = np.ascontiguousarray(origins, np.float64)
            _covered(self.triangles, self.boxes, self.first, len(self.order), own, ways, out)
        return out

    def nearest(self, origins: Floats, directions: Floats) -> tuple[Floats, Ints]:
        """Distance (k,) to the first hit (inf for none) and the face hit (-1 for none)."""
        distance = np.full(len(origins), np.inf)
        face = np.full(len(origins), -1, np.int64)
        if len(origins) and len(self.triangles):
            rays = np.ascontiguousarray(np.broadcast_to(directions, np.shape(origins)), np.float64)
            own = np.ascontiguousarray(origins, np.float64)
            _nearest(self.triangles, self.boxes, self.order, self.first, len(self.order), own, rays, distance, face)
        return distance, face


def build(mesh: Mesh) -> Tree:
    """The tree of all triangles of the mesh."""
    corners = np.ascontiguousarray(mesh.corners)
    count = len(corners)
    leaf_count = max(1, (count + LEAF - 1) // LEAF)
    first = 1 << (leaf_count - 1).bit_length()
    boxes = np.empty((2 * first, 6))
    boxes[:, :3] = np.inf
    boxes[:, 3:] = -np.inf
    triangles = np.empty((count, 9))
    if not count:
        return Tree(triangles, boxes, np.zeros(0, np.int64), first)
    low, size = mesh.bounds[0], np.maximum(mesh.size, 1e-300)
    codes = _codes(corners, low, float(2097151.0 / size.max()))
    order = np.argsort(codes)
    _leaves(corners, order, triangles, boxes, first)
    _parents(boxes, first)
    return Tree(triangles, boxes, order, first)


_BUILT: "weakref.WeakKeyDictionary[Mesh, Tree]" = weakref.WeakKeyDictionary()


def tree_of(mesh: Mesh) -> Tree:
    """The tree of this very mesh, built once for as long as the mesh lives."""
    found = _BUILT.get(mesh)
    if found is None:
        found = _BUILT[mesh] = build(mesh)
    return found
