"""The fall-back of draft: wedges of metal laid against walls whose vertices cannot be moved.

Each convex panel of such a wall gets the hull of itself, of itself moved out by its draft, and of both carried on
toward the parting with the draft growing; the hulls are united with the body. Corners are mitred, since the moves
belong to vertices. Hulls of facing walls simply meet, so a narrow slot closes as a V. Metal is only ever added.
"""

import numpy as np

from pounce.base.errors import UserFault
from pounce.parting.joint import Joint
from pounce.solid import boolean
from pounce.solid.mesh import Floats, Ints, Mesh
from pounce.solid.panels import convex_panels
from pounce.solid.sets import distinct, is_among
from pounce.solid.weld import without_crumbs
from pounce.stock.body import ROOT, solid_of
from pounce.stock.walls import Walls

# More panels than this take too long to be united one by one.
MOST = 1500
OVERLAP = 2e-5
# How far hulls may be simplified while they are united, as a share of the diagonal; and how far corners of a panel,
# moved out, may stand off one plane (root mean square, mm): along a shaped joint the draft grows unevenly over a wall.
SLACK, UNEVEN_MM = 1e-6, 0.005
# Rooms of less than this share of the whole that wedges shut in are closed up.
POCKET = 1e-4


def wedges(
    body: Mesh, level: Floats, walls: Walls, faces: Ints, joint: Joint, line: int
) -> tuple[Mesh | None, int, int]:
    """The body with wedges on these faces of its walls; how many walls got them and how many were left as they were."""
    numbers = distinct(walls.of[faces])
    taken = walls.takes[numbers] > 0.0
    usable = faces[~is_among(walls.of[faces], numbers[taken])]
    left = int(taken.sum())
    count = len(numbers) - left
    if not len(usable):
        return None, 0, left + count
    moves = _moves(body, walls, usable, joint.direction)

    def even(face: int, loop: list[int]) -> bool:
        skin = np.array(_moved_out(body, level, walls, face, loop, moves))
        off = np.linalg.svd(skin - skin.mean(axis=0), compute_uv=False)[2]
        return bool(off <= UNEVEN_MM * np.sqrt(len(loop)))

    panels = convex_panels(body, 4 * walls.of + walls.side, usable, even)
    if len(panels) > MOST:
        return None, 0, left + count
    tools = [
        boolean.hull_tool(_hull_points(body, level, walls, face, loop, moves, joint.direction))
        for face, loop in panels.items()
    ]
    tools = [tool for tool in tools if not tool.is_empty()]
    base, table = solid_of(body)
    try:
        result = boolean.united([base, boolean.united(tools, SLACK * body.diagonal)]) if tools else base
    except UserFault:
        return None, 0, left + count
    mesh = boolean.as_mesh(result, table)
    mesh = mesh.tagged(mesh.tags.changed(mesh.tags.made_by_tools, line=line))
    made = without_crumbs(mesh, body, POCKET)
    if made.volume < body.volume * (1.0 - 1e-9):
        return None, 0, left + count
    return made, count, left


def _moves(body: Mesh, walls: Walls, faces: Ints, direction: Floats) -> dict[tuple[int, int], Floats]:
    """For each corner (vertex, side) of the walls, the level direction (3,) that moves all its walls out by one."""
    out: dict[tuple[int, int], Floats] = {}
    corner = body.faces[faces].ravel()
    normal = np.repeat(body.normals[faces], 3, axis=0)
    normal = normal - np.outer(normal @ direction, direction)
    normal /= np.maximum(np.linalg.norm(normal, axis=1), 1e-300)[:, None]
    side = np.repeat(walls.side[faces], 3)
    order = np.lexsort((side, corner))
    keys = np.stack([corner[order], side[order]], axis=1)
    first = np.flatnonzero(np.r_[True, (keys[1:] != keys[:-1]).any(axis=1)])
    for start, end in zip(first, np.r_[first[1:], len(order)], strict=True):
        own = np.unique(np.round(normal[order[start:end]], 6), axis=0)
        step, *_ = np.linalg.lstsq(own, np.ones(len(own)), rcond=0.05)
        size = float(np.linalg.norm(step))
        out[int(keys[start, 0]), int(keys[start, 1])] = np.asarray(step * min(1.0, 3.0 / max(size, 1e-9)), np.float64)
    return out


def _moved_out(
    body: Mesh, level: Floats, walls: Walls, face: int, loop: list[int], moves: dict[tuple[int, int], Floats]
) -> list[Floats]:
    """Where the vertices of a panel come to by the draft of its wall."""
    wall, side = int(walls.of[face]), int(walls.side[face])
    outs = [float(walls.foot[wall] - walls.slope[wall] * (side * float(level[one]) - walls.near[wall])) for one in loop]
    return [body.vertices[one] + moves[one, side] * max(out, 0.0) for one, out in zip(loop, outs, strict=True)]


def _hull_points(
    body: Mesh,
    level: Floats,
    walls: Walls,
    face: int,
    loop: list[int],
    moves: dict[tuple[int, int], Floats],
    direction: Floats,
) -> Floats:
    wall, side = int(walls.of[face]), int(walls.side[face])
    normal = body.normals[face]
    root = ROOT * 20.0 * body.diagonal
    points = []
    near = float(walls.near[wall])
    # carried on toward the parting where the wall stands on its own side of it, so that the foot's fillet is taken in
    end = 0.0 if near > 0.0 else near
    for vertex, moved in zip(loop, _moved_out(body, level, walls, face, loop, moves), strict=True):
        at, way = body.vertices[vertex], moves[vertex, side]
        up = side * float(level[vertex])
        out = float(walls.foot[wall] - walls.slope[wall] * (up - near))
        points += [at, at - normal * root, moved]
        if up > end + 1e-9:
            down = at - direction * side * (up - end)
            points += [down, down - normal * root, down + way * max(out + walls.slope[wall] * (up - end), 0.0)]
    found = np.array(points)
    middle = found.mean(axis=0)
    # a hair larger than they are, so that no film stays between neighbours that share a side
    return np.asarray(middle + (found - middle) * (1.0 + OVERLAP))
