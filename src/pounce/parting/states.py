"""Clean, tight or locked: every piece of surface against the joint, divided exactly where the joint crosses it."""

import numpy as np
import shapely

from pounce.draw.scan import Pieces
from pounce.draw.values import Reach
from pounce.parting.joint import Joint
from pounce.parting.values import Judged, State
from pounce.solid.mesh import Bools, Floats, Ints, Mesh, areas_of
from pounce.solid.section import cut
from pounce.solid.shading import corner_normals

# Rounding of angles from float32 meshes: a face this close under the draft asked still counts as drawing clean.
ANGLE_SLACK_DEG = 0.02
# A dent is roofed over where surfaces that look into it cover this share of its mouth.
ROOFED = 0.97


def pieces_of(mesh: Mesh, reach: Reach) -> tuple[Floats, Ints, Bools, Bools]:
    """Corners (k, 3, 3), face (k,), up (k,), down (k,) of whole faces and of the pieces of mixed ones."""
    whole = np.flatnonzero(~reach.mixed)
    corners = np.concatenate([mesh.corners[whole], reach.piece_corners])
    face = np.concatenate([whole, reach.piece_face])
    up = np.concatenate([reach.up[whole], reach.piece_up])
    down = np.concatenate([reach.down[whole], reach.piece_down])
    return corners, face, up, down


def scan_pieces(mesh: Mesh, reach: Reach, direction: Floats) -> Pieces:
    """The pieces as the scan over heights wants them."""
    corners, _, up, down = pieces_of(mesh, reach)
    return Pieces(corners @ direction, areas_of(corners), up, down)


def shut_in(mesh: Mesh, joint: Joint, slack_mm: float, corners: Floats, up: Bools, down: Bools, above: Bools) -> Bools:
    """(k,) whether pieces (k, 3, 3) lie in a dent that opens into a flat joint, is shut in all round there and roofed
    over: its sand is rammed with the other half, and leaves with it. A hole that goes through is no dent.
    """
    out = np.zeros(len(corners), bool)
    if not joint.level:
        return out
    plan = np.stack([corners @ joint.u, corners @ joint.v], axis=2)
    flat = plan.mean(axis=1)
    one, two = plan[:, 1] - plan[:, 0], plan[:, 2] - plan[:, 0]
    seen = 0.5 * np.abs(one[:, 0] * two[:, 1] - one[:, 1] * two[:, 0])
    for side, own, other in ((True, up, down), (False, down, up)):
        lone = np.flatnonzero((above == side) & ~own & other)
        if not len(lone):
            continue
        height = joint.height_mm + (10.0 if side else -10.0) * slack_mm
        for loop in cut(mesh, joint.u, joint.v, height).loops:
            # outlines run with the material on their left: those round sand run clockwise
            area = -0.5 * float((loop[:-1, 0] * loop[1:, 1] - loop[1:, 0] * loop[:-1, 1]).sum())
            if len(loop) < 4 or area <= 0.0:
                continue
            mine = lone[shapely.contains_xy(shapely.Polygon(loop), flat[lone, 0], flat[lone, 1])]
            if float(seen[mine].sum()) > ROOFED * area:
                out[mine] = True
    return out


def judged_at(
    mesh: Mesh, reach: Reach, joint: Joint, asked_deg: Floats, slack_mm: float, astray_mm: float | None = None
) -> Judged:
    """Every piece with its state when cope and drag part along this joint; ``asked_deg`` (m,) the draft asked of each
    face.

    A joint that follows the part takes every face that can leave one way only to that side, for that is how it was
    led; ``astray_mm`` is given when it could not follow everywhere: faces farther than that on its wrong side stay
    there.
    """
    corners, face, up, down = pieces_of(mesh, reach)
    smooth = corner_normals(mesh)
    normals = np.empty_like(corners)
    whole = int((~reach.mixed).sum())
    normals[:whole] = smooth[face[:whole]]
    normals[whole:] = _carried(mesh, smooth, corners[whole:], face[whole:])
    heights = joint.above(corners)
    at_joint: Bools = np.asarray((np.abs(heights) <= slack_mm).all(axis=1))
    led = np.zeros(len(face), bool)
    if not joint.level:
        led = up ^ down
        if astray_mm is not None:
            over = joint.above(corners.mean(axis=1), free=True)
            led &= np.where(up, over > -astray_mm, over < astray_mm)
    crossing = (heights.min(axis=1) < -slack_mm) & (heights.max(axis=1) > slack_mm) & ~led
    cut = _divided(corners[crossing], normals[crossing], heights[crossing])
    source = np.flatnonzero(crossing)[cut[2]]
    corners = np.concatenate([corners[~crossing], cut[0]])
    normals = np.concatenate([normals[~crossing], cut[1]])
    upper: Bools = np.asarray(heights.mean(axis=1) >= 0.0)
    above = np.concatenate([upper[~crossing], cut[3]])
    free = np.concatenate([(at_joint | led)[~crossing], np.zeros(len(source), bool)])
    keep = np.concatenate([np.flatnonzero(~crossing), source])
    up, down, face = up[keep], down[keep], face[keep]
    # A level face in the joint itself leaves by whichever side it is open to.
    above = np.where(free & (up ^ down), up, above)
    above = np.where(shut_in(mesh, joint, slack_mm, corners, up, down, above), up, above)
    leaves = np.where(above, up, down)
    slope = np.clip(reach.slope[face], -1.0, 1.0)
    draft = np.degrees(np.arcsin(np.where(above, slope, -slope)))
    state = np.where(
        leaves, np.where(draft < asked_deg[face] - ANGLE_SLACK_DEG, State.TIGHT, State.CLEAN), State.LOCKED
    )
    return Judged(corners, normals, face, state.astype(np.int64), np.full(len(face), -1, np.int64), draft, above)


def _carried(mesh: Mesh, smooth: Floats, corners: Floats, face: Ints) -> Floats:
    """Corner normals of pieces, carried over from the corners of their faces."""
    if not len(face):
        return np.zeros((0, 3, 3))
    base = mesh.corners[face]
    one, two = base[:, 1] - base[:, 0], base[:, 2] - base[:, 0]
    a, b, c = (np.einsum("ij,ij->i", x, y) for x, y in ((one, one), (one, two), (two, two)))
    size = np.maximum(a * c - b * b, 1e-300)
    off = corners - base[:, None, 0]
    p, q = np.einsum("ikj,ij->ik", off, one), np.einsum("ikj,ij->ik", off, two)
    s, t = (c[:, None] * p - b[:, None] * q) / size[:, None], (a[:, None] * q - b[:, None] * p) / size[:, None]
    parts = np.stack([1.0 - s - t, s, t], axis=2)
    return np.asarray(np.einsum("ikw,iwc->ikc", parts, smooth[face]))


def _divided(corners: Floats, normals: Floats, heights: Floats) -> tuple[Floats, Floats, Ints, Bools]:
    """Triangles that cross height 0, each into three: corners, normals, index of the triangle, whether above."""
    if not len(corners):
        return np.zeros((0, 3, 3)), np.zeros((0, 3, 3)), np.zeros(0, np.int64), np.zeros(0, bool)
    over = heights >= 0.0
    lone_over = over.sum(axis=1) == 1
    lone = np.where(lone_over, np.argmax(over, axis=1), np.argmin(over, axis=1))
    rows = np.arange(len(corners))
    order = np.stack([lone, (lone + 1) % 3, (lone + 2) % 3], axis=1)
    p, n, h = corners[rows[:, None], order], normals[rows[:, None], order], heights[rows[:, None], order]
    t1 = (h[:, 0] / (h[:, 0] - h[:, 1]))[:, None]
    t2 = (h[:, 0] / (h[:, 0] - h[:, 2]))[:, None]

    def parts(x: Floats) -> Floats:
        q1, q2 = x[:, 0] + t1 * (x[:, 1] - x[:, 0]), x[:, 0] + t2 * (x[:, 2] - x[:, 0])
        tip = np.stack([x[:, 0], q1, q2], axis=1)
        left = np.stack([q1, x[:, 1], x[:, 2]], axis=1)
        right = np.stack([q1, x[:, 2], q2], axis=1)
        return np.concatenate([tip, left, right])

    above = np.concatenate([lone_over, ~lone_over, ~lone_over])
    return parts(p), parts(n), np.tile(rows, 3), above
