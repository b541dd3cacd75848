"""A bounding-volume tree over triangles, and any-hit rays.

The tree is implicit: triangles are ordered along a Morton curve through their middles, cut into leaves of ``LEAF`` and
paired up level by level, so building it is one sort and one sweep.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from pounce.solid.kernels import njit, prange
from pounce.solid.mesh import Bools, Floats, Ints, Mesh
from pounce.solid.once import once_a_mesh

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


@njit(cache=True, inline="always")
def _enters(
    boxes: Floats, node: int, ox: float, oy: float, oz: float, ix: float, iy: float, iz: float, reach: float
) -> float:
    """Distance at which a ray enters the box of a node, or inf when it misses it or enters beyond ``reach``.

    Written out without branches: half of what a ray costs goes through here.
    """
    a, b = (boxes[node, 0] - ox) * ix, (boxes[node, 3] - ox) * ix
    near, far = min(a, b), max(a, b)
    a, b = (boxes[node, 1] - oy) * iy, (boxes[node, 4] - oy) * iy
    near, far = max(near, min(a, b)), min(far, max(a, b))
    a, b = (boxes[node, 2] - oz) * iz, (boxes[node, 5] - oz) * iz
    near, far = max(near, min(a, b), 0.0), min(far, max(a, b))
    return near if near <= far and near < reach else np.inf


# Barycentric slack: a ray along the edge of two triangles must not slip between them by rounding.
_EDGE = 1e-11


@njit(cache=True)
def _meets(triangles: Floats, slot: int, ox: float, oy: float, oz: float, dx: float, dy: float, dz: float) -> float:
    """Distance along d to the triangle (Moeller and Trumbore 1997), or -1. Edge-on triangles are skipped."""
    ax, ay, az = triangles[slot, 3], triangles[slot, 4], triangles[slot, 5]
    bx, by, bz = triangles[slot, 6], triangles[slot, 7], triangles[slot, 8]
    px = dy * bz - dz * by
    py = dz * bx - dx * bz
    pz = dx * by - dy * bx
    det = ax * px + ay * py + az * pz
    size = (abs(ax) + abs(ay) + abs(az)) * (abs(bx) + abs(by) + abs(bz))
    if abs(det) <= 1e-12 * size:
        return -1.0
    over = 1.0 / det
    tx, ty, tz = ox - triangles[slot, 0], oy - triangles[slot, 1], oz - triangles[slot, 2]
    u = (tx * px + ty * py + tz * pz) * over
    if u < -_EDGE or u > 1.0 + _EDGE:
        return -1.0
    qx = ty * az - tz * ay
    qy = tz * ax - tx * az
    qz = tx * ay - ty * ax
    v = (dx * qx + dy * qy + dz * qz) * over
    if v < -_EDGE or u + v > 1.0 + _EDGE:
        return -1.0
    return float((bx * qx + by * qy + bz * qz) * over)


# What stands for one over nothing: a ray across an axis stays in a slab or out of it, and 0 times it is still 0.
_ACROSS = 1e300


@njit(cache=True, inline="always")
def _over(d: float) -> float:
    return _ACROSS if abs(d) < 1e-15 else 1.0 / d


@njit(cache=True, parallel=True)
def _blocked(
    triangles: Floats, boxes: Floats, first: int, count: int, origins: Floats, directions: Floats, out: Bools
) -> None:
    one = directions.shape[0] == 1
    chunks = (origins.shape[0] + 255) // 256
    for chunk in prange(chunks):
        stack = np.empty(64, np.int64)
        for i in range(chunk * 256, min((chunk + 1) * 256, origins.shape[0])):
            way = 0 if one else i
            ox, oy, oz = origins[i, 0], origins[i, 1], origins[i, 2]
            dx, dy, dz = directions[way, 0], directions[way, 1], directions[way, 2]
            ix, iy, iz = _over(dx), _over(dy), _over(dz)
            out[i] = False
            stack[0] = 1
            top = 1
            while top > 0 and not out[i]:
                top -= 1
                node = stack[top]
                if _enters(boxes, node, ox, oy, oz, ix, iy, iz, np.inf) == np.inf:
                    continue
                if node >= first:
                    start = (node - first) * LEAF
                    for slot in range(start, min(start + LEAF, count)):
                        if _meets(triangles, slot, ox, oy, oz, dx, dy, dz) > 0.0:
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


@njit(cache=True, inline="always")
def _first_hit(
    triangles: Floats,
    boxes: Floats,
    order: Ints,
    first: int,
    count: int,
    ox: float,
    oy: float,
    oz: float,
    dx: float,
    dy: float,
    dz: float,
    best: float,
    stack: Ints,
    entry: Floats,
) -> tuple[float, int]:
    """How far the first hit is and its face; ``best`` and -1 where there is none nearer than that."""
    ix, iy, iz = _over(dx), _over(dy), _over(dz)
    found = -1
    stack[0], entry[0] = 1, 0.0
    top = 1
    while top > 0:
        top -= 1
        node = stack[top]
        if entry[top] >= best:
            continue
        # down the nearer child at once, so that a hit there prunes the farther one
        while 0 < node < first:
            one, two = 2 * node, 2 * node + 1
            t_one = _enters(boxes, one, ox, oy, oz, ix, iy, iz, best)
            t_two = _enters(boxes, two, ox, oy, oz, ix, iy, iz, best)
            if t_two < t_one:
                one, two, t_one, t_two = two, one, t_two, t_one
            if t_two < np.inf:
                stack[top], entry[top] = two, t_two
                top += 1
            node = one if t_one < np.inf else 0
        if node == 0:
            continue
        start = (node - first) * LEAF
        for slot in range(start, min(start + LEAF, count)):
            t = _meets(triangles, slot, ox, oy, oz, dx, dy, dz)
            if t > 0.0 and t < best:
                best = t
                found = order[slot]
    return best, found


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
        for i in range(chunk * 64, min((chunk + 1) * 64, origins.shape[0])):
            ox, oy, oz = origins[i, 0], origins[i, 1], origins[i, 2]
            dx, dy, dz = directions[i, 0], directions[i, 1], directions[i, 2]
            best, found = _first_hit(
                triangles, boxes, order, first, count, ox, oy, oz, dx, dy, dz, np.inf, stack, entry
            )
            distance[i] = best
            face[i] = found


@njit(cache=True, parallel=True)
def _nearest_round(
    triangles: Floats,
    boxes: Floats,
    order: Ints,
    first: int,
    count: int,
    origins: Floats,
    ways: Floats,
    distance: Floats,
    face: Ints,
    way: Ints,
) -> None:
    for i in prange(origins.shape[0]):
        stack = np.empty(64, np.int64)
        entry = np.empty(64)
        ox, oy, oz = origins[i, 0], origins[i, 1], origins[i, 2]
        best, found, taken = np.inf, -1, -1
        for k in range(ways.shape[0]):
            # nothing farther than what another ray met is looked at
            dx, dy, dz = ways[k, 0], ways[k, 1], ways[k, 2]
            reach, hit = _first_hit(triangles, boxes, order, first, count, ox, oy, oz, dx, dy, dz, best, stack, entry)
            if hit >= 0:
                best, found, taken = reach, hit, k
        distance[i], face[i], way[i] = best, found, taken


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

    def nearest_round(self, origins: Floats, ways: Floats) -> tuple[Floats, Ints, Ints]:
        """Distance (k,) to the nearest of the hits that rays from each origin along all ``ways`` (w, 3) meet first, the
        face hit and the way taken: inf, -1, -1 where none meets anything. As :meth:`nearest` of all of them, in a
        fraction of the time.
        """
        distance = np.full(len(origins), np.inf)
        face, way = np.full(len(origins), -1, np.int64), np.full(len(origins), -1, np.int64)
        if len(origins) and len(self.triangles):
            own, rays = np.ascontiguousarray(origins, np.float64), np.ascontiguousarray(ways, np.float64)
            tree = (self.triangles, self.boxes, self.order, self.first, len(self.order))
            _nearest_round(*tree, own, rays, distance, face, way)
        return distance, face, way


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
    # an empty node is a point that no ray reaches: a box turned inside out would be everywhere
    boxes[boxes[:, 0] > boxes[:, 3]] = np.inf
    return Tree(triangles, boxes, order, first)


@once_a_mesh
def tree_of(mesh: Mesh) -> Tree:
    """The tree of this very mesh, built once for as long as the mesh lives."""
    return build(mesh)
