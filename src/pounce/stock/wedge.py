"""The fall-back of draft: wedges of metal laid against walls whose vertices cannot be moved.

Each convex panel of such a wall gets the hull of itself, of itself moved out by its draft, and of both carried on
toward the parting with the draft growing, as far as there is air between the wall's foot and the body; over nothing
but sand they end with their wall. The hulls are united with the body. Outside corners are mitred, since the moves
belong to vertices; in inside corners wedges run into each other. Hulls of facing walls simply meet, so a narrow slot
closes as a V. Metal is only ever added.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from functools import cached_property
from itertools import pairwise
from math import isnan

import numpy as np

from pounce.base.errors import UserFault
from pounce.parting.joint import Joint
from pounce.solid import boolean
from pounce.solid.features.patches import bends_of, tilts
from pounce.solid.mesh import Floats, Ints, Mesh
from pounce.solid.panels import convex_panels
from pounce.solid.sets import distinct, is_among
from pounce.solid.tree import tree_of
from pounce.solid.weld import without_crumbs
from pounce.stock.body import ROOT, solid_of
from pounce.stock.walls import Walls

# More panels than this take too long to be united (1,650 of a wheel's spokes: half a second), and more walls to be
# tried one by one.
MOST, MOST_TRIED = 2500, 80
# Sets of walls that are tried where all of them together are refused: of many walls, and of few.
LEAST_HALVED, MOST_HALVED = 3, 16
OVERLAP = 2e-5
# How far hulls may be simplified while they are united, as a share of the diagonal; and how far corners of a panel,
# moved out, may stand off one plane (root mean square, mm): along a shaped joint the draft grows unevenly over a wall.
SLACK, UNEVEN_MM = 1e-6, 0.005
# So many times what they are simplified by, neighbours lap over each other to each side; edges that turn by less than
# this (one and the cosine between) are one.
LAPS, STRAIGHT = 4.0, 1.95
# From how far off its wall a ray looks down for the body under it, as a share of the diagonal.
OFF = 1e-5
# It looks no farther than so many times the wall's move and this share of the diagonal: a fillet's height.
FEET, FILLET = 3.0, 0.01
# An inside corner turns so far at least, degrees; what a wall runs into faces along it by so much (sine).
INNER_DEG, FACING = 5.0, 0.3
# Rooms of less than this share of the whole that wedges shut in are closed up.
POCKET = 1e-4
# Why a body with wedges cannot be; None where it can.
Guard = Callable[[Mesh], str | None]
# The wedge of each wall, in one piece; and in hulls, one a panel.
Laid = dict[int, boolean.Solid]
_Hulls = dict[int, list[boolean.Solid]]
_Sound = tuple[Mesh | None, list[int]]


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
    slack_mm = SLACK * body.diagonal
    hulls = _hulls(body, level, walls, usable, joint, False) if len(usable) else {}
    if not hulls:
        return None, 0, len(numbers), ""
    base, table = solid_of(body)

    def made_with(own: list[boolean.Solid]) -> Mesh | None:
        try:
            result = boolean.united([base, boolean.united(own, slack_mm)])
        except UserFault:
            return None
        mesh = boolean.as_mesh(result, table)
        mesh = mesh.tagged(mesh.tags.changed(mesh.tags.made_by_tools, line=line))
        made = without_crumbs(mesh, body, POCKET)
        return None if made.volume < body.volume * (1.0 - 1e-9) else made

    made = made_with(_all_of(hulls))
    if made is None:
        return None, 0, len(numbers), ""
    why = guard(made)
    if why is not None:  # carried on to the parting they are even, and may do where those that end early do not
        through = _hulls(body, level, walls, usable, joint, True)
        other = made_with(_all_of(through)) if through else None
        if other is not None and guard(other) is None:
            return other, len(through), len(numbers) - len(through), ""
        tools = _of_walls(hulls, slack_mm)

        def sound_with(own: list[int]) -> Mesh | None:
            some = made_with([tools[wall] for wall in own])
            return None if some is None or guard(some) is not None else some

        tries = LEAST_HALVED if len(tools) > MOST_TRIED else MOST_HALVED
        made, kept = _most_of(_by_fit(base, tools), sound_with, tries)
        return made, len(kept), len(numbers) - len(kept), why
    return made, len(hulls), len(numbers) - len(hulls), ""


def _all_of(hulls: _Hulls) -> list[boolean.Solid]:
    return [hull for wall in hulls.values() for hull in wall]


def _of_walls(hulls: _Hulls, slack_mm: float) -> Laid:
    """The wedge of each wall in one piece, made once however often it is laid; a wall of which none can be made is
    left out.
    """
    out: Laid = {}
    for wall, own in hulls.items():
        try:
            out[wall] = boolean.united(own, slack_mm)
        except UserFault:
            continue
    return out


def _most_of(groups: Iterable[list[int]], laid: Callable[[list[int]], Mesh | None], tries: int) -> _Sound:
    """The body with as many of the walls' wedges as can be together, and which these are; None where that is none.
    What is refused is halved, so that few that disturb each other do not take all with them.
    """
    best: Mesh | None = None
    kept: list[int] = []
    todo, refused = list(groups)[::-1], set[frozenset[int]]()
    while todo and tries > 0:
        own = todo.pop()
        wanted = frozenset([*kept, *own])
        made = None
        if wanted not in refused:  # a second half with the first is the whole again
            made, tries = laid([*kept, *own]), tries - 1
        if made is not None:
            best, kept = made, [*kept, *own]
            continue
        refused.add(wanted)
        if len(own) > 1:
            half = (len(own) + 1) // 2
            todo += [own[half:], own[:half]]
    return best, kept


def _by_fit(base: boolean.Solid, tools: Laid) -> list[list[int]]:
    """Walls whose wedges leave the body's tunnels as they are, laid one after another, the largest first; then those
    whose do not, and maybe do beside others.
    """
    fits: list[int] = []
    other: list[int] = []
    walls = sorted(tools, key=lambda number: -tools[number].volume())
    if len(walls) > MOST_TRIED:
        return [walls]
    for wall in walls:
        if _fits(base, tools[wall]):
            fits.append(wall)
            base = base + tools[wall]
        else:
            other.append(wall)
    return [each for each in (fits, other) if each]


def _fits(base: boolean.Solid, tool: boolean.Solid) -> bool:
    """Whether a wedge leaves the body's tunnels as they are: what both have in common hangs together as the wedge
    does (the characteristics of a union are those of both less those of what they share).
    """
    return _characteristic(boolean.common(base, tool)) == _characteristic(tool)


def _characteristic(solid: boolean.Solid) -> int:
    """Euler's, summed over all shells."""
    return int(sum(1 - shell.genus() for shell in solid.decompose()))


def _hulls(body: Mesh, level: Floats, walls: Walls, usable: Ints, joint: Joint, through: bool) -> _Hulls:
    """The wedge of each wall, a hull a panel; of the walls that have most area a panel where there are too many.
    ``through``: carried on to the parting, whatever lies under them.
    """
    laying = _Laying(body, level, walls, _moves(body, walls, usable, joint.direction), joint.direction)

    def even(face: int, loop: list[int]) -> bool:
        skin = np.array(laying.moved_out(face, loop))
        off = np.linalg.svd(skin - skin.mean(axis=0), compute_uv=False)[2]
        return bool(off <= UNEVEN_MM * np.sqrt(len(loop)))

    panels = convex_panels(body, 4 * walls.of + walls.side, usable, even)
    if len(panels) > MOST:
        kept = _worth_most(body, walls, usable, np.array(list(panels)))
        panels = {face: loop for face, loop in panels.items() if int(walls.of[face]) in kept}
    if not panels:
        return {}
    laying.lap_over(panels)
    corners = laying.beside(laying.carried_on(panels, through))
    counts = np.cumsum([len(loop) for loop in panels.values()])
    hulls: _Hulls = {}
    for face, start, end in zip(panels, np.r_[0, counts[:-1]], counts, strict=True):
        tool = boolean.hull_tool(laying.hull_points(face, corners[start:end]))
        if not tool.is_empty():
            hulls.setdefault(int(walls.of[face]), []).append(tool)
    return hulls


def _worth_most(body: Mesh, walls: Walls, usable: Ints, panels: Ints) -> set[int]:
    """The walls with most area a panel that have no more panels together than can be united; ``panels`` (k,) a face of
    each.
    """
    count = np.bincount(walls.of[panels], minlength=len(walls.foot))
    area = np.bincount(walls.of[usable], body.areas[usable], minlength=len(walls.foot))
    order = np.argsort(-area / np.maximum(count, 1), kind="stable")
    return set(order[np.cumsum(count[order]) <= MOST].tolist())


def _moves(body: Mesh, walls: Walls, faces: Ints, direction: Floats) -> dict[tuple[int, int, int], Floats]:
    """For each corner (vertex, wall, side) of the walls, the level direction (3,) that moves it out by one with all the
    walls that it belongs to. In an inside corner each wall goes straight out: its wedge ends in that of the other.
    """
    out: dict[tuple[int, int, int], Floats] = {}
    corner = body.faces[faces].ravel()
    normal = np.repeat(body.normals[faces], 3, axis=0)
    normal = normal - np.outer(normal @ direction, direction)
    normal /= np.maximum(np.linalg.norm(normal, axis=1), 1e-300)[:, None]
    side, of = np.repeat(walls.side[faces], 3), np.repeat(walls.of[faces], 3)
    order = np.lexsort((side, corner))
    keys = np.stack([corner[order], side[order]], axis=1)
    first = np.flatnonzero(np.r_[True, (keys[1:] != keys[:-1]).any(axis=1)])
    inside = _inside_corners(body, walls)
    for start, end in zip(first, np.r_[first[1:], len(order)], strict=True):
        rows = order[start:end]
        vertex, turn = int(keys[start, 0]), int(keys[start, 1])
        for group in _going_together(set(of[rows].tolist()), inside.get(vertex)):
            step = _step(normal[rows[is_among(of[rows], np.array(sorted(group)))]])
            for wall in group:
                out[vertex, wall, turn] = step
    return out


def _step(normals: Floats) -> Floats:
    """The least move (3,) that moves planes of these level normals (k, 3) out by one, at most three long."""
    own = np.round(normals, 6)
    if (own == own[0]).all():  # in the middle of a plane wall
        return np.asarray(own[0] / float(own[0] @ own[0]))
    own = np.unique(own, axis=0)
    step, *_ = np.linalg.lstsq(own, np.ones(len(own)), rcond=0.05)
    return np.asarray(step * min(1.0, 3.0 / max(float(np.linalg.norm(step)), 1e-9)), np.float64)


def _inside_corners(body: Mesh, walls: Walls) -> dict[int, list[tuple[int, int]]]:
    """Vertices in which two walls meet in an inside corner, and which pairs of walls meet there in an outside one."""
    bends = bends_of(body)
    one, two = walls.of[bends.pairs].T
    meet = (one >= 0) & (two >= 0) & (one != two)
    inner = meet & bends.concave & (bends.bend_deg > INNER_DEG)
    out: dict[int, list[tuple[int, int]]] = {vertex: [] for vertex in distinct(bends.ends[inner].ravel()).tolist()}
    for edge in np.flatnonzero(meet & ~inner).tolist():
        for vertex in bends.ends[edge].tolist():
            if vertex in out:
                out[vertex].append((int(one[edge]), int(two[edge])))
    return out


def _going_together(walls: set[int], outer: list[tuple[int, int]] | None) -> list[set[int]]:
    """The walls of one vertex in groups that keep their common edges: all, but for those that only meet in an inside
    corner; ``outer`` the pairs that meet in an outside one (None: no inside corner is there).
    """
    if outer is None or len(walls) < 2:
        return [walls]
    groups = [{wall} for wall in sorted(walls)]
    for pair in outer:
        met = [group for group in groups if group & set(pair)]
        if len(met) == 2:
            groups.remove(met[1])
            met[0] |= met[1]
    return groups


@dataclass(eq=False)
class _Corner:
    """A corner of a panel: its vertex and wall, where it is, where draft moves it to, how far it is carried on toward
    the parting (mm), where that comes to by its draft (None: it is not carried on), and points in the metal beside it.
    """

    vertex: int
    wall: int
    at: Floats
    moved: Floats
    depth: float
    foot: Floats | None
    beside: list[Floats] = field(default_factory=list)


@dataclass(frozen=True, eq=False)
class _Laying:
    """Wedges as they are laid on the walls of a body: ``level`` (n,) heights over the joint, ``moves`` of corners."""

    body: Mesh
    level: Floats
    walls: Walls
    moves: dict[tuple[int, int, int], Floats]
    direction: Floats
    # where vertices of a wall on a side come to, as they are asked for: each belongs to several panels that are tried
    placed: dict[tuple[int, int, int], Floats] = field(default_factory=dict)

    @cached_property
    def inner(self) -> dict[tuple[int, int], float]:
        """Edges (the lower vertex first) over which a wall goes on, and how far panels lap over them, mm: by more than
        wedges are simplified by, and over slivers, which are too thin to be told as wall.
        """
        body, walls, bends = self.body, self.walls, bends_of(self.body)
        thin = (walls.of < 0) & (tilts(body) >= 1.0)
        sides = np.linalg.norm(body.corners - np.roll(body.corners, 1, axis=1), axis=2).max(axis=1)
        high = np.where(thin, 2.0 * body.areas / np.maximum(sides, 1e-300), 0.0)
        one, two = bends.pairs.T
        wall = (walls.of[one] >= 0) | (walls.of[two] >= 0)
        same = (walls.of[one] == walls.of[two]) & (walls.side[one] == walls.side[two])
        own = np.flatnonzero(wall & (same | thin[one] | thin[two]))
        laps = LAPS * SLACK * body.diagonal + high[one[own]] + high[two[own]]
        return dict(zip(map(tuple, np.sort(bends.ends[own], axis=1).tolist()), laps.tolist(), strict=True))

    def lap_over(self, panels: dict[int, list[int]]) -> None:
        """Panels of one wall lap over each other along edges too that no face of the body has."""
        seen: set[tuple[int, int, int]] = set()
        for face, loop in panels.items():
            wall = 4 * int(self.walls.of[face]) + int(self.walls.side[face])
            for a, b in pairwise([*loop, loop[0]]):
                if (wall, b, a) in seen:
                    self.inner.setdefault((min(a, b), max(a, b)), LAPS * SLACK * self.body.diagonal)
                seen.add((wall, a, b))

    @cached_property
    def root(self) -> float:
        """How deep a wedge is rooted where it ends on metal, mm: what only touches leaves a film of nothing between."""
        return ROOT * 20.0 * self.body.diagonal

    def _up(self, vertex: int, wall: int, side: int) -> float:
        """How far a vertex of a wall lies from the joint, on the side that the wall leaves by, mm."""
        base = float(self.walls.base[wall])
        return side * float(self.level[vertex]) if isnan(base) else side * float(self.walls.along[vertex]) - base

    def out(self, wall: int, height: float) -> float:
        """How far a wall is moved out so far from the joint on its own side, mm."""
        walls = self.walls
        return max(float(walls.foot[wall] - walls.slope[wall] * (height - walls.near[wall])), 0.0)

    def moved_out(self, face: int, loop: list[int]) -> list[Floats]:
        """Where the vertices of a panel come to by the draft of its wall."""
        wall, side = int(self.walls.of[face]), int(self.walls.side[face])
        return [self._moved(one, wall, side) for one in loop]

    def _moved(self, vertex: int, wall: int, side: int) -> Floats:
        known = self.placed.get((vertex, wall, side))
        if known is None:
            out = self.out(wall, self._up(vertex, wall, side))
            known = self.placed[vertex, wall, side] = self.body.vertices[vertex] + self.moves[vertex, wall, side] * out
        return known

    def carried_on(self, panels: dict[int, list[int]], through: bool) -> list[_Corner]:
        """The corners of all panels, with how far each is carried on toward the parting: as far as the body lies under
        it or under where it was moved to, or ``through`` to the parting. Else nothing is carried where both stand over
        sand alone.
        """
        body, walls, out = self.body, self.walls, []
        above, way, most = [], [], []
        for face, loop in panels.items():
            wall, side = int(walls.of[face]), int(walls.side[face])
            # carried on where the wall stands on its own side of the parting, so that the foot's fillet is taken in
            end = min(float(walls.near[wall]), 0.0)
            for vertex, moved in zip(loop, self.moved_out(face, loop), strict=True):
                out.append(_Corner(vertex, wall, body.vertices[vertex], moved, 0.0, None))
                above.append(body.vertices[vertex] + OFF * body.diagonal * self.moves[vertex, wall, side])
                way.append(-self.direction * side)
                whole = side * float(self.level[vertex]) - end
                most.append(whole if through else min(whole, self._reach(wall)))
        tree, rays, limit = tree_of(body), np.array(way), np.array(most)
        # a wall that stands on a level face meets it at its foot: rays begin a hair above, so that they meet it too
        lift = OFF * body.diagonal
        starts = (np.array(above), np.array([one.moved for one in out]))
        found = [tree.nearest(start - lift * rays, rays)[0] - lift for start in starts]
        deep = np.maximum(*(np.where(far <= limit, np.maximum(far, 0.0) + self.root, 0.0) for far in found))
        for one, ray, depth in zip(out, rays, (limit if through else deep).tolist(), strict=True):
            if depth > 1e-9:
                side = -round(float(ray @ self.direction))
                height = self._up(one.vertex, one.wall, side) - depth
                one.depth = depth
                one.foot = one.at + ray * depth + self.moves[one.vertex, one.wall, side] * self.out(one.wall, height)
        return out

    def beside(self, corners: list[_Corner]) -> list[_Corner]:
        """The same, where a wall runs into metal at its side carried on into that: moved straight out it would leave a
        slit beside what curves or leans away.
        """
        into = self._neighbours()
        owner, starts, ways = [], [], []
        for one in corners:
            for way in into.get((one.vertex, one.wall), []):
                for at in (one.moved, one.foot):
                    if at is not None:
                        owner.append(one)
                        starts.append(at)
                        ways.append(way)
        if not owner:
            return corners
        rays = np.array(ways)
        far, face = tree_of(self.body).nearest(np.array(starts), rays)
        # from outside only: what is in the metal already is rooted
        meets = (face >= 0) & (np.einsum("ij,ij->i", self.body.normals[face], rays) < 0.0)
        for nth in np.flatnonzero(meets).tolist():
            if far[nth] <= self._reach(owner[nth].wall):
                owner[nth].beside.append(starts[nth] + ways[nth] * (float(far[nth]) + self.root))
        return corners

    def _reach(self, wall: int) -> float:
        """How far off metal is looked for that a wedge is to end in, mm."""
        return FEET * float(self.walls.foot[wall]) + FILLET * self.body.diagonal

    def _neighbours(self) -> dict[tuple[int, int], list[Floats]]:
        """For each vertex and wall, level ways (3,) along the wall into the metal that it runs into there."""
        bends, of = bends_of(self.body), self.walls.of
        out: dict[tuple[int, int], list[Floats]] = {}
        for mine, other in (bends.pairs.T, bends.pairs[:, ::-1].T):
            inner = np.flatnonzero(bends.concave & (bends.bend_deg > INNER_DEG) & (of[mine] >= 0))
            inner = inner[of[other[inner]] != of[mine[inner]]]
            along = np.cross(self.direction, self.body.normals[mine[inner]])
            along /= np.maximum(np.linalg.norm(along, axis=1), 1e-300)[:, None]
            meets = np.einsum("ij,ij->i", along, self.body.normals[other[inner]])
            for edge, way, slope in zip(inner.tolist(), along, meets.tolist(), strict=True):
                if abs(slope) >= FACING:
                    for vertex in bends.ends[edge].tolist():
                        out.setdefault((vertex, int(of[mine[edge]])), []).append(way * (-1.0 if slope > 0.0 else 1.0))
        return out

    def hull_points(self, face: int, corners: list[_Corner]) -> Floats:
        """(k, 3) points whose hull is the wedge of a panel."""
        normal = self.body.normals[face]
        side = int(self.walls.side[face])
        points, shifts = [], []
        for one, lap in zip(corners, self._laps(normal, [one.vertex for one in corners]), strict=True):
            own = [one.at, one.at - normal * self.root, one.moved, *one.beside]
            points += own
            shifts += [lap] * len(own)
            if one.foot is not None:
                down = one.at - self.direction * side * one.depth
                points += [down, down - normal * self.root, one.foot]
                shifts += [lap - self.direction * float(lap @ self.direction)] * 3
        found = np.array(points)
        # a hair larger than they are, so that no film stays between neighbours that meet in a corner
        middle = found.mean(axis=0)
        return np.asarray(middle + (found - middle) * (1.0 + OVERLAP) + np.array(shifts))

    def _laps(self, normal: Floats, loop: list[int]) -> list[Floats]:
        """How far (3,) each corner of a panel is moved in its plane so that the panel laps over those beside it on its
        wall: else what lies between is simplified to a film of nothing. Where the wall ends nothing is moved: that
        would be a step.
        """
        shared = [self.inner.get((min(a, b), max(a, b)), 0.0) for a, b in pairwise([*loop, loop[0]])]
        if not any(shared):
            return [np.zeros(3)] * len(loop)
        points = self.body.vertices[[*loop, loop[0]]]
        along = points[1:] - points[:-1]
        along /= np.maximum(np.linalg.norm(along, axis=1), 1e-300)[:, None]
        out = np.cross(along, normal)
        laps = []
        for nth in range(len(loop)):
            before, after, both = out[nth - 1], out[nth], (shared[nth - 1], shared[nth])
            flat = 1.0 + float(before @ after)
            if not any(both):
                laps.append(np.zeros(3))
            elif all(both) or flat > STRAIGHT:
                laps.append(max(both) * (before + after) / max(flat, 0.5))
            else:  # along the edge where the wall ends
                way, across = (along[nth - 1], after) if both[1] else (-along[nth], before)
                laps.append(max(both) * way / max(float(way @ across), 0.2))
        return laps
