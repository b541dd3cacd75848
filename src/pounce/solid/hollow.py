"""Hollows cut out of a part: a least cut on its triangles, the rims it leaves, and the caps that close them.

The region grows from the faces that lock (or that were pointed at). Ending it is cheap along outside edges and dear
across flat or inside ones, and every face pays for the sky it sees; the least cut (Ford and Fulkerson, by scipy's
maximum flow) therefore takes in chamfers, grooves and crossing holes and stops at the outer rims. Hollow = region
turned over + caps; part with the hollow filled = the rest + caps: both exact to the part's own facets, without a
solid operation.
"""

from dataclasses import dataclass

import numpy as np
from scipy.sparse import coo_array, csr_array
from scipy.sparse.csgraph import breadth_first_order, maximum_flow

from pounce.base.errors import UserFault
from pounce.solid.features.patches import Bends, flat_groups, grouped
from pounce.solid.frame import across, unit
from pounce.solid.groove import Groove
from pounce.solid.mesh import Bools, Floats, Ints, Mesh
from pounce.solid.polygons import triangulated
from pounce.solid.rim import rim_loops
from pounce.solid.sets import distinct
from pounce.solid.tags import FaceTags

# A face that sees this share of the sky is outside; below the other it belongs to a hollow rather than not.
OPEN, HALF = 0.55, 0.30
# An outside edge bent so far ends a hollow at hardly any cost.
RIM_DEG, CHEAP = 25.0, 0.03
# Face costs are areas over this share of the seeds' size.
SCALE = 0.25
# Whole numbers of the flow.
UNITS, MOST = 1e5, 2**30
# A hollow has more wall than mouth; less is a dent.
ENCLOSED = 1.3
MOST_RIM = 4000


class NoWayOut(UserFault):
    """A hollow that no opening leads into."""


@dataclass(frozen=True, eq=False)
class Opening:
    """Where a hollow meets the outside: ``loops`` of points (k, 3) mm, the outer one first, ``caps`` (f, 3) faces into
    the part's vertices (looking out of the hollow), ``area_mm2``, ``centre`` (3,), ``normal`` (3,) out of the
    hollow, ``reach_mm`` (2,) how far the rim lies before and behind the centre along the normal. ``ring`` the mouth
    of a groove round the outside: its caps are a band about the normal.
    """

    loops: tuple[Floats, ...]
    caps: Ints
    area_mm2: float
    centre: Floats
    normal: Floats
    reach_mm: tuple[float, float]
    ring: bool = False

    def beyond(self, points: Floats, by_mm: float) -> Floats:
        """Points (k, 3) of its mouth moved out of the hollow by so much."""
        if not self.ring:
            return np.asarray(points + unit(self.normal) * by_mm)
        away = points - self.centre
        away -= np.outer(away @ self.normal, self.normal)
        size = np.linalg.norm(away, axis=1)[:, None]
        return np.asarray(points + away / np.maximum(size, 1e-12) * by_mm)


@dataclass(frozen=True, eq=False)
class Hollow:
    """``faces`` (k,) of the part, ``openings``, ``mesh`` the closed body of the hollow itself, ``volume_mm3``,
    ``wall_mm2`` its area without the caps; ``open_mm2`` all caps; ``groove`` where it is one round the outside.
    """

    faces: Ints
    openings: tuple[Opening, ...]
    mesh: Mesh
    volume_mm3: float
    wall_mm2: float
    groove: Groove | None = None

    @property
    def open_mm2(self) -> float:
        """Area of all openings."""
        return float(sum(opening.area_mm2 for opening in self.openings))


def regions(mesh: Mesh, bends: Bends, sky: Floats, seeds: Bools) -> list[Ints]:
    """The faces of each hollow round the seeds (m,), largest first: a least cut between them and what sees the sky."""
    count = len(mesh.faces)
    outside = (sky > OPEN) & ~seeds
    near = reached(bends, seeds, ~outside)
    if not near.any():
        return []
    number = np.full(count, -1, np.int64)
    rows = np.flatnonzero(near)
    number[rows] = np.arange(len(rows))
    source, sink = len(rows), len(rows) + 1
    size = max(float(np.sqrt(mesh.areas[seeds].sum())) * SCALE, 1e-9)
    toll = (sky[rows] - HALF) * mesh.areas[rows] / size
    ends = mesh.vertices[bends.ends]
    length = np.linalg.norm(ends[:, 0] - ends[:, 1], axis=1)
    share = np.where(bends.concave, 1.0, 1.0 - (1.0 - CHEAP) * np.clip(bends.bend_deg / RIM_DEG, 0.0, 1.0))
    cost = length * share
    a, b = bends.pairs.T
    both = near[a] & near[b]
    border = (near[a] & outside[b]) | (near[b] & outside[a])
    inner = np.where(near[a], a, b)[border]
    seeded = seeds[rows]
    one = [number[a[both]], number[b[both]], number[inner], np.arange(len(rows)), np.full(len(rows), source)]
    two = [number[b[both]], number[a[both]], np.full(len(inner), sink), np.full(len(rows), sink), np.arange(len(rows))]
    toward_sink = np.maximum(toll, 0.0)
    toward_source = np.where(seeded, np.inf, np.maximum(-toll, 0.0))
    weight = [cost[both], cost[both], cost[border], np.where(seeded, 0.0, toward_sink), toward_source]
    unit = UNITS / max(float(mesh.diagonal), 1e-9)
    whole = np.minimum(np.concatenate(weight) * unit, MOST).astype(np.int64)
    graph = csr_array(
        coo_array((whole, (np.concatenate(one), np.concatenate(two))), shape=(sink + 1, sink + 1)), dtype=np.int64
    )
    graph.data = np.minimum(graph.data, MOST)
    graph = csr_array(graph, dtype=np.int32)
    graph.eliminate_zeros()
    flow = maximum_flow(graph, source, sink, method="dinic").flow
    left = csr_array(graph - flow)
    left.data = np.maximum(left.data, 0)
    left.eliminate_zeros()
    held = np.zeros(sink + 1, bool)
    held[breadth_first_order(left, source, directed=True, return_predecessors=False)] = True
    chosen = np.zeros(count, bool)
    chosen[rows[held[: len(rows)]]] = True
    return _pieces(mesh, bends, _without_islands(mesh, bends, chosen), seeds)


def _without_islands(mesh: Mesh, bends: Bends, chosen: Bools) -> Bools:
    """The faces chosen (m,), and the pieces of flat faces that the cut leaves in their midst: where it runs round a few
    triangles of a shoulder that sees some sky, each would be an opening, and metal lies behind it.
    """
    left = ~chosen[bends.pairs].any(axis=1)
    group = grouped(len(chosen), bends.pairs[left])
    size = np.bincount(group[~chosen], mesh.areas[~chosen], minlength=int(group.max()) + 1)
    flat = flat_groups(mesh, bends)
    cut = np.zeros(int(flat.max()) + 1, bool)
    cut[flat[chosen]] = True
    whole = np.zeros(len(size), bool)  # with a face that the cut leaves alone
    whole[group[~chosen & ~cut[flat]]] = True
    whole[int(np.argmax(size))] = True
    return chosen | ~whole[group]


def reached(bends: Bends, seeds: Bools, allowed: Bools, over: Bools | None = None) -> Bools:
    """(m,) faces that hang together with a seed (m,) over ``allowed`` faces (m,), across the edges ``over`` (those of
    ``bends.pairs`` that may be crossed; None: all).
    """
    inner = allowed[bends.pairs].all(axis=1)
    group = grouped(len(allowed), bends.pairs[inner if over is None else inner & over])
    with_seed = np.zeros(int(group.max(initial=0)) + 1, bool)
    with_seed[group[seeds & allowed]] = True
    return np.asarray(with_seed[group] & allowed)


def _pieces(mesh: Mesh, bends: Bends, chosen: Bools, seeds: Bools) -> list[Ints]:
    inner = chosen[bends.pairs].all(axis=1)
    group = grouped(len(chosen), bends.pairs[inner])
    out = [np.flatnonzero(chosen & (group == index)) for index in distinct(group[chosen & seeds]).tolist()]
    return sorted(out, key=lambda faces: -float(mesh.areas[faces].sum()))


def hollow_of(mesh: Mesh, faces: Ints) -> Hollow:
    """The hollow whose wall these faces are. UserFault that says what is in the way where it cannot be closed."""
    region = mesh.faces[faces]
    loops = rims(region)
    if not loops:
        raise NoWayOut(
            "This hollow has no way out, so no core can be set in it.", "Open it, or leave it out of the model."
        )
    if sum(len(loop) for loop in loops) > MOST_RIM * 4:
        raise UserFault("The rims of this hollow are too ragged to close.", "Point at one bore of it.")
    openings = _openings(mesh, loops)
    caps = np.concatenate([opening.caps for opening in openings])
    closed = np.concatenate([region[:, ::-1], caps])
    used, inverse = np.unique(closed, return_inverse=True)
    body = Mesh.of(mesh.vertices[used], inverse.reshape(-1, 3))
    wall = float(mesh.areas[faces].sum())
    found = Hollow(faces, tuple(openings), body, body.volume, wall)
    if body.volume <= 1e-9 * mesh.diagonal**3:
        raise UserFault(
            "This is an open undercut, not a hollow: its rims do not close it.",
            "Change the draw, or use a loose piece.",
        )
    if wall < ENCLOSED * found.open_mm2:
        raise UserFault(
            "This hollow is open wider than it is deep, so no core would hold its shape.", "Let the green sand make it."
        )
    return found


def rims(region: Ints) -> list[Ints]:
    """The rims of a patch as closed loops of vertices, as the hollow's caps run round them; loops are parted where
    they touch.
    """
    lines, opened = rim_loops(region)
    if opened:
        raise UserFault("The rim of this hollow does not close.", "Mend the model where it is made.")
    return [part for line in lines for part in _parted(line)]


def _parted(loop: Ints) -> list[Ints]:
    """A loop that passes a vertex twice, as the loops it is made of (a neck of no width)."""
    out: list[Ints] = []
    stack: list[int] = []
    for vertex in loop.tolist():
        if vertex in stack:
            at = stack.index(vertex)
            out.append(np.array(stack[at:], np.int64))
            stack = stack[:at]
        stack.append(vertex)
    out.append(np.array(stack, np.int64))
    return [one for one in out if len(one) >= 3]


def _openings(mesh: Mesh, loops: list[Ints]) -> list[Opening]:
    """Loops brought together where one lies inside another in the same plane, and capped."""
    plain = [loop_frame(mesh.vertices[loop]) for loop in loops]
    order = np.argsort([-abs(one[2]) for one in plain])
    taken: set[int] = set()
    out: list[Opening] = []
    for index in order.tolist():
        if index in taken:
            continue
        taken.add(index)
        centre, normal, _ = plain[index]
        group = [index]
        for other in order.tolist():
            if other in taken:
                continue
            at, way, _ = plain[other]
            # an island in the opening: the same plane, the other way round, inside the outer loop
            flat = abs(float((at - centre) @ normal)) < 1e-3 * mesh.diagonal and float(way @ normal) < -0.99
            if flat and _within(mesh.vertices[loops[index]], normal, at):
                group.append(other)
                taken.add(other)
        out.append(capped(mesh, [loops[k] for k in group]))
    return out


def loop_frame(points: Floats) -> tuple[Floats, Floats, float]:
    """Middle, unit normal (by Newell's sum) and area of a closed loop (k, 3)."""
    rel = points - points.mean(axis=0)
    vector = 0.5 * np.cross(rel, np.roll(rel, -1, axis=0)).sum(axis=0)
    area = float(np.linalg.norm(vector))
    return points.mean(axis=0), vector / max(area, 1e-300), area


def _within(loop: Floats, normal: Floats, at: Floats) -> bool:
    u, v = across(normal)
    x, y = (loop - at) @ u, (loop - at) @ v
    x1, y1 = np.roll(x, -1), np.roll(y, -1)
    crosses = (y > 0.0) != (y1 > 0.0)
    with np.errstate(divide="ignore", invalid="ignore"):
        right = x + (0.0 - y) * (x1 - x) / (y1 - y) > 0.0
    return bool((crosses & right).sum() % 2)


def capped(mesh: Mesh, loops: list[Ints]) -> Opening:
    """The opening that these loops of vertices (the outer one first) are the rim of. UserFault where they fold."""
    points = [mesh.vertices[loop] for loop in loops]
    centre, normal, area = loop_frame(points[0])
    if area <= 0.0:
        raise UserFault("A rim of this hollow folds over itself.", "Point at one bore of it.")
    u, v = across(normal)
    if float(np.cross(u, v) @ normal) < 0.0:
        u, v = v, u
    flat = [np.stack([(p - centre) @ u, (p - centre) @ v], axis=1) for p in points]
    triangles = triangulated(flat, 1e-9)
    whole = np.concatenate(loops)
    if len(triangles) != len(whole) + 2 * (len(loops) - 1) - 2:
        raise UserFault("A rim of this hollow folds over itself.", "Point at one bore of it.")
    caps = whole[triangles]
    corners = mesh.vertices[caps]
    sizes = 0.5 * np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1)
    middle = np.einsum("i,ij->j", sizes, corners.mean(axis=1)) / max(float(sizes.sum()), 1e-300)
    height = (np.concatenate(points) - middle) @ normal
    return Opening(tuple(points), caps, float(sizes.sum()), middle, normal, (float(-height.min()), float(height.max())))


def filled(mesh: Mesh, hollows: list[Hollow]) -> Mesh:
    """The part with hollows filled flush: the rest of its faces and the caps, which have no tags."""
    keep = np.ones(len(mesh.faces), bool)
    for one in hollows:
        keep[one.faces] = False
    caps = np.concatenate([opening.caps for hollow in hollows for opening in hollow.openings])
    faces = np.concatenate([mesh.faces[keep], caps])
    tags = FaceTags.joined([mesh.tags.at(keep), FaceTags.of(len(caps))])
    used, inverse = np.unique(faces, return_inverse=True)
    return Mesh.of(mesh.vertices[used], inverse.reshape(-1, 3), tags)
