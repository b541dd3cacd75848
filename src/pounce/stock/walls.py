"""The walls of a body that want draft: which faces, which side they leave by, and how far each must lean."""

from dataclasses import dataclass

import numpy as np

from pounce.draw.reachability import reach_along
from pounce.metals.tables import limits
from pounce.parting.joint import Joint
from pounce.solid.features.patches import FLAT_DEG, Bends, grouped, tilts
from pounce.solid.mesh import Floats, Ints, Mesh
from pounce.solid.refine import divided

# A wall leaning this far the wrong way is still straightened; more is an undercut and left.
BACK_DEG = 1.0
SMOOTH_DEG = 40.0
SLACK_DEG = 0.02
# What looks along the draw by less than this is a wall.
STEEP = float(np.sin(np.radians(12.0)))
# Vertices this near to the joint, as a share of the diagonal, lie in it.
JOINT_SLACK = 2e-6


@dataclass(frozen=True, eq=False)
class Walls:
    """The walls of a body: ``of`` (m,) wall of each face or -1, ``side`` (m,) 1 leaves up, -1 down, ``level`` (n,)
    height of each vertex over the joint, ``near``, ``far`` and ``foot`` (w,) where each begins, ends and D at its
    near end, mm; ``slope`` (w,) how fast the displacement falls, ``takes`` (w,) share of it taken rather than added.
    A wall that meets the joint is measured over that; any other straight along the draw, at heights ``along`` (n,) less
    its ``base`` (w,), not a number for those that meet it: over a joint that rises and falls it would come out skew.
    """

    of: Ints
    side: Ints
    level: Floats
    near: Floats
    far: Floats
    foot: Floats
    slope: Floats
    takes: Floats
    along: Floats
    base: Floats

    def up(self, wall: Ints, vertex: Ints, side: Ints) -> Floats:
        """(k,) how far these vertices of these walls lie from the joint, on the side that the wall leaves by."""
        base = self.base[wall]
        return np.where(np.isnan(base), side * self.level[vertex], side * self.along[vertex] - base)

    def moves(self, wall: Ints, up: Floats) -> Floats:
        """Displacement along the normal for these walls so far from the joint."""
        added = self.foot[wall] - self.slope[wall] * (up - self.near[wall])
        taken = -self.slope[wall] * (up - self.near[wall])
        return np.asarray(added * (1.0 - self.takes[wall]) + taken * self.takes[wall])


def at_joint(body: Mesh, joint: Joint) -> tuple[Mesh, Floats]:
    """The body with its triangles cut where the joint crosses them, vertices shared, and the height of each vertex
    over it.
    """
    level = joint.above(body.vertices, free=True)
    near = np.abs(level) < JOINT_SLACK * body.diagonal
    if joint.level:  # exactly in the joint, or splitting there leaves films between what should touch
        body = Mesh.of(
            np.where(near[:, None], body.vertices - np.outer(level, joint.direction), body.vertices),
            body.faces,
            body.tags,
        )
    level = np.where(near, 0.0, level)
    table = np.stack([body.faces, body.faces[:, [1, 2, 0]]], axis=2).reshape(-1, 2)
    ends = np.sort(table, axis=1)
    count = len(body.vertices)
    keys, inverse = np.unique(ends[:, 0] * np.int64(count) + ends[:, 1], return_inverse=True)
    low, high = keys // count, keys % count
    split = level[low] * level[high] < 0.0
    if not split.any():
        return body, level
    t = level[low[split]] / (level[low[split]] - level[high[split]])
    fresh = body.vertices[low[split]] + t[:, None] * (body.vertices[high[split]] - body.vertices[low[split]])
    number = np.full(len(keys), -1, np.int64)
    number[split] = count + np.arange(int(split.sum()))
    vertices = np.concatenate([body.vertices, fresh])
    faces, source = divided(body.faces, number[inverse.reshape(-1, 3)], vertices)
    return Mesh.of(vertices, faces, body.tags.at(source)), np.concatenate([level, np.zeros(len(fresh))])


def walls_of(
    body: Mesh, level: Floats, direction: Floats, degrees: Floats, takes: Floats, bends: Bends, side: Ints
) -> Walls:
    """The walls that want more draft. ``degrees`` (m,) asked of each face (0: none), ``takes`` (m,) share taken
    there.
    """
    slope = body.normals @ direction
    draft = np.degrees(np.arcsin(np.clip(slope * side, -1.0, 1.0)))
    steep = (side != 0) & (degrees > 0.0) & (draft >= -BACK_DEG) & (draft < degrees - SLACK_DEG) & (tilts(body) < 1.0)
    steep &= body.areas > 0.0
    of = np.full(len(body.faces), -1, np.int64)
    chosen = np.flatnonzero(steep)
    if not len(chosen):
        empty = np.zeros(0)
        return Walls(of, side, level, empty, empty, empty, empty, empty, level, empty)
    number = np.full(len(body.faces), -1, np.int64)
    number[chosen] = np.arange(len(chosen))
    one, two = bends.pairs.T
    linked = steep[one] & steep[two] & (side[one] == side[two]) & (bends.bend_deg < SMOOTH_DEG)
    pairs = np.concatenate([bends.pairs[linked], _level_neighbours(body, chosen, side)])
    of[chosen] = grouped(len(chosen), number[pairs])
    count = int(of.max()) + 1
    along = body.vertices @ direction
    own, corner, turn = np.repeat(of[chosen], 3), body.faces[chosen].ravel(), np.repeat(side[chosen], 3)
    up = turn * level[corner]
    near, far = _ends(own, up, count)
    # off the joint a wall is measured straight along the draw, from where the joint lies before it on the whole
    base = np.bincount(own, turn * along[corner] - up, count) / np.bincount(own, minlength=count)
    base = np.where((near > 0.0) | (far < 0.0), base, np.nan)
    near, far = _ends(own, np.where(np.isnan(base[own]), up, turn * along[corner] - base[own]), count)
    weight = np.bincount(of[chosen], body.areas[chosen], count)
    asked = np.zeros(count)
    np.maximum.at(asked, of[chosen], degrees[chosen])
    has = np.zeros(count)  # the least draft a wall has: what it is short of is added everywhere on it
    has[:] = 90.0
    np.minimum.at(has, of[chosen], draft[chosen])
    short = np.tan(np.radians(asked)) - np.tan(np.radians(has))
    foot = short * (far - near)
    share = np.bincount(of[chosen], takes[chosen] * body.areas[chosen], count) / np.maximum(weight, 1e-300)
    share = np.where(share > 0.75, 1.0, np.where(share > 0.25, 0.5, 0.0))
    # walls that meet at the parting share D
    meets = (of[one] >= 0) & (of[two] >= 0) & (of[one] != of[two]) & (level[bends.ends] == 0.0).all(axis=1)
    meets &= bends.bend_deg < SMOOTH_DEG
    group = grouped(count, of[bends.pairs[meets]])
    most = np.zeros(int(group.max()) + 1)
    np.maximum.at(most, group, foot)
    foot = most[group]
    # both sides of the parting must also move the same way
    least = np.ones(int(group.max()) + 1)
    np.minimum.at(least, group, share)
    steepest = np.tan(np.radians(limits()["most_taper"].value))
    tall = np.maximum(far - near, 1e-9)
    falls = np.where(least[group] >= 1.0, short, np.minimum(foot / tall, np.maximum(steepest, short)))
    return Walls(of, side, level, near, far, foot, falls, least[group], along, base)


def _ends(wall: Ints, up: Floats, count: int) -> tuple[Floats, Floats]:
    """(count,) the least and the greatest of the heights ``up`` (k,) at the corners of each wall."""
    near, far = np.full(count, np.inf), np.full(count, -np.inf)
    np.minimum.at(near, wall, up)
    np.maximum.at(far, wall, up)
    return near, far


def over_the_joint(walls: Walls, bends: Bends) -> Ints:
    """(k, 2) walls that are one face above and below the joint: where one stays the other cannot be moved, for they
    share the vertices in the joint.
    """
    one, two = walls.of[bends.pairs].T
    sides = walls.side[bends.pairs]
    meet = (one >= 0) & (two >= 0) & (sides[:, 0] != sides[:, 1]) & (bends.bend_deg < SMOOTH_DEG)
    return np.unique(np.stack([one[meet], two[meet]], axis=1), axis=0)


def sides_of(body: Mesh, level: Floats, direction: Floats) -> Ints:
    """(m,) 1 where a face leaves up with the cope, -1 down with the drag, 0 where it can do neither."""
    reach = reach_along(body, direction)
    middle = level[body.faces].mean(axis=1)
    above = middle >= 0.0
    slope = reach.slope
    up, down = reach.up.copy(), reach.down.copy()
    for way, open_way in (
        (up, reach.piece_up),
        (down, reach.piece_down),
    ):  # faces hidden in part go by their larger part
        if len(reach.piece_face):
            crosses = np.cross(
                reach.piece_corners[:, 1] - reach.piece_corners[:, 0],
                reach.piece_corners[:, 2] - reach.piece_corners[:, 0],
            )
            size = np.linalg.norm(crosses, axis=1)
            whole = np.bincount(reach.piece_face, size, len(body.faces))
            part = np.bincount(reach.piece_face, size * open_way, len(body.faces))
            way[reach.mixed] = (part > 0.5 * whole)[reach.mixed]
    steep = np.abs(slope) < STEEP
    first_up = np.where(above, up, up & ~down)
    side = np.where(first_up, 1, np.where(down, -1, 0))
    side = np.where(~above & down, -1, side)
    side = np.where(above & up, 1, side)
    # what clearly looks one way leaves that way or not at all
    side = np.where(~steep & (slope > 0.0), np.where(up, 1, 0), np.where(~steep, np.where(down, -1, 0), side))
    return side.astype(np.int64)


def whole_planes(body: Mesh, level: Floats, direction: Floats, side: Ints, bends: Bends) -> Ints:
    """(m,) the sides (m,) with those of a wall's faces that can leave neither way, or another than the rest, by most of
    their plane on the same side of the joint: left upright beside what leans they would stand out of it, and hold sand
    that is filled or cored a moment later.
    """
    above = level[body.faces].mean(axis=1) >= 0.0
    one, two = bends.pairs.T
    flat = (bends.bend_deg < FLAT_DEG) & (above[one] == above[two])
    group = grouped(len(side), bends.pairs[flat])
    count = int(group.max(initial=0)) + 1
    up, down, whole = (np.bincount(group, body.areas * those, count) for those in (side > 0, side < 0, side < 2))
    most = np.where(up > 0.5 * whole, 1, np.where(down > 0.5 * whole, -1, 0))[group]
    return np.where((most != 0) & (np.abs(body.normals @ direction) < STEEP), most, side)


def _level_neighbours(body: Mesh, chosen: Ints, side: Ints) -> Ints:
    """(k, 2) chosen faces of one plane that share a corner: slivers of rounding between them must not part a wall in
    two.
    """
    corner = body.faces[chosen].ravel()
    face = np.repeat(chosen, 3)
    way = np.round(np.repeat(body.normals[chosen], 3, axis=0) * 500.0).astype(np.int64)
    order = np.lexsort((way[:, 2], way[:, 1], way[:, 0], side[face], corner))
    keys = np.column_stack([corner, side[face], way])[order]
    same = (keys[1:] == keys[:-1]).all(axis=1)
    return np.stack([face[order][:-1][same], face[order][1:][same]], axis=1)
