"""The fall-back of draft: wedges of metal laid against walls whose vertices cannot be moved.

Each convex panel of such a wall gets the hull of itself, of itself moved out by its draft, and of both carried on
toward the parting with the draft growing, as far as there is air between the wall's foot and the body; over nothing
but sand they end with their wall. The hulls are united with the body. Corners are mitred, since the moves
belong to vertices. Hulls of facing walls simply meet, so a narrow slot closes as a V. Metal is only ever added.
"""

from collections.abc import Callable

import numpy as np

from pounce.base.errors import UserFault
from pounce.parting.joint import Joint
from pounce.solid import boolean
from pounce.solid.mesh import Floats, Ints, Mesh
from pounce.solid.panels import convex_panels
from pounce.solid.sets import distinct, is_among
from pounce.solid.tree import tree_of
from pounce.solid.weld import without_crumbs
from pounce.stock.body import ROOT, solid_of
from pounce.stock.walls import Walls

# More panels than this take too long to be united one by one.
MOST = 1500
OVERLAP = 2e-5
# How far hulls may be simplified while they are united, as a share of the diagonal; and how far corners of a panel,
# moved out, may stand off one plane (root mean square, mm): along a shaped joint the draft grows unevenly over a wall.
SLACK, UNEVEN_MM = 1e-6, 0.005
# From how far off its wall a ray looks down for the body under it, as a share of the diagonal.
OFF = 1e-5
# It looks no farther than so many times the wall's move and this share of the diagonal: a fillet's height.
FEET, FILLET = 3.0, 0.01
# Rooms of less than this share of the whole that wedges shut in are closed up.
POCKET = 1e-4
# Why a body with wedges cannot be; None where it can.
Guard = Callable[[Mesh], str | None]


def wedges(
    body: Mesh, level: Floats, walls: Walls, faces: Ints, joint: Joint, line: int, guard: Guard
) -> tuple[Mesh | None, int, int, str]:
    """The body with wedges on these faces of its walls; how many walls got them, how many were left as they were, and
    what the ``guard`` said of those.

    Where it refuses the whole, walls whose wedges would close a tunnel or open one stay as they are.
    """
    numbers = distinct(walls.of[faces])
    taken = walls.takes[numbers] > 0.0
    usable = faces[~is_among(walls.of[faces], numbers[taken])]
    hulls = _hulls(body, level, walls, usable, joint, False) if len(usable) else {}
    if not hulls:
        return None, 0, len(numbers), ""
    base, table = solid_of(body)

    def made_with(own: dict[int, list[boolean.Solid]]) -> Mesh | None:
        try:
            tool = boolean.united([hull for wall in own.values() for hull in wall], SLACK * body.diagonal)
            result = boolean.united([base, tool])
        except UserFault:
            return None
        mesh = boolean.as_mesh(result, table)
        mesh = mesh.tagged(mesh.tags.changed(mesh.tags.made_by_tools, line=line))
        made = without_crumbs(mesh, body, POCKET)
        return None if made.volume < body.volume * (1.0 - 1e-9) else made

    made = made_with(hulls)
    if made is None:
        return None, 0, len(numbers), ""
    why = guard(made)
    if why is not None:  # carried on to the parting they are even, and may do where those that end early do not
        through = _hulls(body, level, walls, usable, joint, True)
        other = made_with(through)
        if other is not None and guard(other) is None:
            return other, len(through), len(numbers) - len(through), ""
        fitting = _fitting(base, hulls, SLACK * body.diagonal)
        if not fitting or len(fitting) == len(hulls):
            return None, 0, len(numbers), why
        made = made_with(fitting)
        if made is None or guard(made) is not None:
            return None, 0, len(numbers), why
        hulls = fitting
    return made, len(hulls), len(numbers) - len(hulls), why or ""


def _fitting(
    base: boolean.Solid, hulls: dict[int, list[boolean.Solid]], slack_mm: float
) -> dict[int, list[boolean.Solid]]:
    """The wedges that leave the body's tunnels as they are, laid one after another, the largest first."""
    out: dict[int, list[boolean.Solid]] = {}
    for wall in sorted(hulls, key=lambda number: -sum(hull.volume() for hull in hulls[number])):
        try:
            tool = boolean.united(hulls[wall], slack_mm)
        except UserFault:  # a wall whose wedge is no solid stays as it is
            continue
        if _fits(base, tool):
            out[wall] = hulls[wall]
            base = base + tool
    return out


def _fits(base: boolean.Solid, tool: boolean.Solid) -> bool:
    """Whether a wedge leaves the body's tunnels as they are: what both have in common hangs together as the wedge
    does (the characteristics of a union are those of both less those of what they share).
    """
    return _characteristic(boolean.common(base, tool)) == _characteristic(tool)


def _characteristic(solid: boolean.Solid) -> int:
    """Euler's, summed over all shells."""
    return int(sum(1 - shell.genus() for shell in solid.decompose()))


def _hulls(
    body: Mesh, level: Floats, walls: Walls, usable: Ints, joint: Joint, through: bool
) -> dict[int, list[boolean.Solid]]:
    """The wedge of each wall, a hull a panel; none where they are too many panels. ``through``: carried on to the
    parting, whatever lies under them.
    """
    moves = _moves(body, walls, usable, joint.direction)

    def even(face: int, loop: list[int]) -> bool:
        skin = np.array(_moved_out(body, level, walls, face, loop, moves))
        off = np.linalg.svd(skin - skin.mean(axis=0), compute_uv=False)[2]
        return bool(off <= UNEVEN_MM * np.sqrt(len(loop)))

    panels = convex_panels(body, 4 * walls.of + walls.side, usable, even)
    if len(panels) > MOST:
        return {}
    depths = _depths(body, level, walls, panels, moves, joint.direction, through)
    hulls: dict[int, list[boolean.Solid]] = {}
    for (face, loop), depth in zip(panels.items(), depths, strict=True):
        tool = boolean.hull_tool(_hull_points(body, level, walls, face, loop, moves, joint.direction, depth))
        if not tool.is_empty():
            hulls.setdefault(int(walls.of[face]), []).append(tool)
    return hulls


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


def _depths(
    body: Mesh,
    level: Floats,
    walls: Walls,
    panels: dict[int, list[int]],
    moves: dict[tuple[int, int], Floats],
    direction: Floats,
    through: bool,
) -> list[Floats]:
    """For each panel and vertex of it, how far it is carried on toward the parting, mm: as far as the body lies under
    it or under where it was moved to, or ``through`` to the parting. Else nothing is carried where both stand over
    sand alone.
    """
    at, out, way, most = [], [], [], []
    for face, loop in panels.items():
        wall, side = int(walls.of[face]), int(walls.side[face])
        # carried on where the wall stands on its own side of the parting, so that the foot's fillet is taken in
        end = min(float(walls.near[wall]), 0.0)
        for vertex, moved in zip(loop, _moved_out(body, level, walls, face, loop, moves), strict=True):
            at.append(body.vertices[vertex] + OFF * body.diagonal * moves[vertex, side])
            out.append(moved)
            way.append(-direction * side)
            far = FEET * float(walls.foot[wall]) + FILLET * body.diagonal
            whole = side * float(level[vertex]) - end
            most.append(whole if through else min(whole, far))
    tree, rays, limit = tree_of(body), np.array(way), np.array(most)
    under, _ = tree.nearest(np.array(at), rays)
    beside, _ = tree.nearest(np.array(out), rays)
    deep = np.maximum(np.where(under <= limit, under, 0.0), np.where(beside <= limit, beside, 0.0))
    counts = np.cumsum([len(loop) for loop in panels.values()])
    return np.split(limit if through else deep, counts[:-1])


def _hull_points(
    body: Mesh,
    level: Floats,
    walls: Walls,
    face: int,
    loop: list[int],
    moves: dict[tuple[int, int], Floats],
    direction: Floats,
    depths: Floats,
) -> Floats:
    wall, side = int(walls.of[face]), int(walls.side[face])
    normal = body.normals[face]
    root = ROOT * 20.0 * body.diagonal
    points = []
    near = float(walls.near[wall])
    for vertex, moved, depth in zip(loop, _moved_out(body, level, walls, face, loop, moves), depths, strict=True):
        at, way = body.vertices[vertex], moves[vertex, side]
        up = side * float(level[vertex])
        out = float(walls.foot[wall] - walls.slope[wall] * (up - near))
        points += [at, at - normal * root, moved]
        if depth > 1e-9:
            down = at - direction * side * depth
            points += [down, down - normal * root, down + way * max(out + walls.slope[wall] * depth, 0.0)]
    found = np.array(points)
    middle = found.mean(axis=0)
    # a hair larger than they are, so that no film stays between neighbours that share a side
    return np.asarray(middle + (found - middle) * (1.0 + OVERLAP))
