"""The parting line: closed loops on the part between what leaves with the cope and what leaves with the drag."""

import numpy as np

from pounce.draw.values import Reach
from pounce.parting.joint import Joint
from pounce.solid.mesh import Bools, Floats, Ints, Mesh, areas_of
from pounce.solid.refine import refined
from pounce.solid.section import chained, loops_where
from pounce.solid.sets import is_among

# Loops shorter than this share of the diagonal are crumbs of the mesh, not places where cope and drag meet.
CRUMB = 0.01
# Nor are islands on its walls that are this small beside the longest loop.
ISLAND = 0.025


def outline_of(mesh: Mesh, reach: Reach, joint: Joint, inside_mm: float = 0.0) -> tuple[Floats, ...]:
    """The loops (n, 3), closed ones with the first point repeated at the end.

    A flat joint is cut as a plane, ``inside_mm`` off its height so that a cut at a flat back meets walls. Along a
    shaped one faces that can leave one way only are taken whole by that side, and the rest is cut where the joint
    runs.
    """
    if joint.level:
        heights = mesh.vertices @ joint.direction - (joint.height_mm + inside_mm)
        loops = loops_where(mesh.vertices, mesh.faces, heights)
        return tuple(loop - joint.direction * inside_mm for loop in loops)
    led = _led(reach)
    step = joint.step
    free_face = led == 0
    loose = np.zeros(len(mesh.vertices), bool)
    loose[mesh.faces[free_face].ravel()] = True
    # only faces that the joint may cut need to be as fine as it; the rest follows at their shared edges
    low, high = _ends(mesh, joint)
    margin = 2.0 * step
    free = joint.grid if joint.free is None else joint.free
    assert free is not None
    between: Bools = np.asarray((high >= free.min() - margin) & (low <= free.max() + margin))

    def too_long(one: Floats, two: Floats) -> Bools:
        flat_one, flat_two = joint.flat_points(one), joint.flat_points(two)
        wide = np.linalg.norm((flat_one - flat_two)[:, :2], axis=1) > 2.0 * step
        out = np.zeros(len(one), bool)
        some = np.flatnonzero(wide)
        s_one, s_two = joint.above(one[some], True), joint.above(two[some], True)
        near = np.minimum(np.abs(s_one), np.abs(s_two)) < np.linalg.norm(one[some] - two[some], axis=1)
        out[some] = (s_one * s_two <= 0.0) | near
        return out

    touched = free_face & between
    around = loose[mesh.faces].any(axis=1)
    # an edge that is divided is divided on both its sides, or the seam between them would count as a line
    shared = np.zeros(len(mesh.faces), bool)
    corners = mesh.corners
    for k in range(3):
        shared |= too_long(corners[:, k], corners[:, (k + 1) % 3])
    work = np.flatnonzero(touched | around | shared)
    rest = np.setdiff1d(np.arange(len(mesh.faces)), work)
    vertices, faces, source = refined(mesh.vertices, mesh.faces[work], too_long)
    faces, source = np.concatenate([faces, mesh.faces[rest]]), np.concatenate([work[source], rest])
    heights = joint.above(vertices, True)
    heights = np.where(np.abs(heights) < 1e-9 * step, 1e-9 * step, heights)
    vertices, faces, above, old = _cut(vertices, faces, heights)
    side = led[source[old]]
    above = np.where(side == 0, above, side > 0)
    starts, ends = _border(faces[above])
    loops, _ = chained(vertices[np.stack([starts, ends], axis=1)], starts, ends)
    sizes = [float(np.linalg.norm(np.diff(loop, axis=0), axis=1).sum()) for loop in loops]
    least = max(CRUMB * mesh.diagonal, ISLAND * max(sizes, default=0.0))
    return tuple(loop for loop, size in zip(loops, sizes, strict=True) if size > least)


def _ends(mesh: Mesh, joint: Joint) -> tuple[Floats, Floats]:
    heights = (mesh.vertices @ joint.direction)[mesh.faces]
    return heights.min(axis=1), heights.max(axis=1)


def _led(reach: Reach) -> Ints:
    """(m,) 1 for faces that leave upward only, -1 downward only, 0 both or neither; mixed faces by most of their
    area.
    """
    up, down = reach.up.astype(float), reach.down.astype(float)
    if len(reach.piece_face):
        size, mixed = areas_of(reach.piece_corners), reach.mixed
        whole = np.maximum(np.bincount(reach.piece_face, size, len(up)), 1e-300)
        up[mixed] = (np.bincount(reach.piece_face, size * reach.piece_up, len(up)) / whole)[mixed]
        down[mixed] = (np.bincount(reach.piece_face, size * reach.piece_down, len(up)) / whole)[mixed]
    can_up, can_down = up > 0.5, down > 0.5
    return np.where(can_up & ~can_down, 1, np.where(can_down & ~can_up, -1, 0)).astype(np.int64)


def _cut(vertices: Floats, faces: Ints, heights: Floats) -> tuple[Floats, Ints, Bools, Ints]:
    """The mesh with every face divided where ``heights`` (v,) change sign; whether each piece is above, and its old
    face.
    """
    over = heights >= 0.0
    count = over[faces].sum(axis=1)
    crossing = np.flatnonzero((count == 1) | (count == 2))
    plain = np.flatnonzero((count == 0) | (count == 3))
    if not len(crossing):
        return vertices, faces, count == 3, np.arange(len(faces))
    corner = over[faces[crossing]]
    lone = np.where(count[crossing] == 1, np.argmax(corner, axis=1), np.argmin(corner, axis=1))
    rows = np.arange(len(crossing))
    a, b, c = (faces[crossing][rows, (lone + k) % 3] for k in range(3))
    ends = np.sort(np.concatenate([np.stack([a, b], 1), np.stack([a, c], 1)]), axis=1)
    keys, inverse = np.unique(ends[:, 0] * np.int64(len(vertices)) + ends[:, 1], return_inverse=True)
    low, high = keys // len(vertices), keys % len(vertices)
    t = (heights[low] / (heights[low] - heights[high]))[:, None]
    number = len(vertices) + inverse.ravel()
    p, q = number[: len(crossing)], number[len(crossing) :]
    new = np.concatenate([np.stack([a, p, q], 1), np.stack([p, b, c], 1), np.stack([p, c, q], 1)])
    lone_over = count[crossing] == 1
    return (
        np.concatenate([vertices, vertices[low] + t * (vertices[high] - vertices[low])]),
        np.concatenate([faces[plain], new]),
        np.concatenate([count[plain] == 3, lone_over, ~lone_over, ~lone_over]),
        np.concatenate([plain, np.tile(crossing, 3)]),
    )


def _border(faces: Ints) -> tuple[Ints, Ints]:
    """Start and end vertices of the edges that bound this set of faces."""
    starts, ends = faces.reshape(-1), faces[:, [1, 2, 0]].reshape(-1)
    size = np.int64(max(int(faces.max(initial=0)) + 1, 1))
    own, back = starts * size + ends, ends * size + starts
    alone = ~is_among(own, back)
    return starts[alone], ends[alone]
