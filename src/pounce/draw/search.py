"""The search for the draw: what some thousand points of the surface see along some hundred directions.

Every direction gets a score of plain parts (see :class:`pounce.draw.values.Score`). Weights were set by judging
ordinary machine parts; they are the program's own and no standard's, so the best few are always shown with their parts.
"""

import weakref
from dataclasses import dataclass, replace

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from pounce.base.progress import Progress, span
from pounce.base.units import area, length
from pounce.draw.candidates import LEVEL_COSINE, best_height, opened
from pounce.draw.relief import relief_along, worth_following
from pounce.draw.scan import Pieces, locked_at
from pounce.draw.values import Candidate, Score
from pounce.draw.ways import Ways, ring_round, ways_of
from pounce.metals.tables import limits
from pounce.solid.frame import axis_name
from pounce.solid.mesh import Bools, Edges, Floats, Ints, Mesh, edges
from pounce.solid.sample import spread
from pounce.solid.sets import distinct
from pounce.solid.tree import Tree, tree_of

FEW, MANY = 700, 7000
ALL_ROUND = 48
FINALISTS = 8
SHOWN = 4
# A locked point that sees less than this share of its sky lies in a hollow, which a core would have to make.
HOLLOW_SKY = 0.3
# A point that draws but sees less than this lies so deep between walls that its sand would hardly stand.
SLENDER_SKY = 0.2
# Locked under this share of the surface counts as nothing.
NOTHING = 1e-3
SQUARE = float(np.sin(np.radians(1.0)))
# Two shown draws are at least this far apart.
APART_DEG = 12.0


@dataclass(frozen=True, eq=False)
class Points:
    """Points spread over the surface: ``at`` (k, 3), ``normal`` (k, 3), ``face`` (k,), each standing for ``share`` mm2.

    ``corners`` (h, 3) are the corners of the part.
    """

    at: Floats
    normal: Floats
    face: Ints
    share: float
    corners: Floats


def points_of(mesh: Mesh, count: int, corners: Floats) -> Points:
    """Points of the mesh, the same at every call."""
    at, face = spread(mesh, count)
    return Points(at, mesh.normals[face], face, mesh.area / max(len(at), 1), corners)


@dataclass(frozen=True, eq=False)
class Look:
    """What the points see along one direction: ``up`` and ``down`` (k,) open, and the best flat joint."""

    direction: Floats
    source: str
    up: Bools
    down: Bools
    low: float
    high: float
    height: float
    flat: bool
    locked: float
    never: float

    @property
    def depth(self) -> float:
        """Extent along the draw."""
        return self.high - self.low


def look(mesh: Mesh, tree: Tree, points: Points, direction: Floats, source: str) -> Look:
    """One direction, both ways."""
    slope = points.normal @ direction
    up = opened(tree, points.at, points.normal, slope, direction, mesh.diagonal)
    down = opened(tree, points.at, points.normal, -slope, -direction, mesh.diagonal)
    ends = points.corners @ direction
    low, high = float(ends.min()), float(ends.max())
    pieces = _pieces(points, direction, up, down)
    heights, level = points.at @ direction, np.abs(slope) > LEVEL_COSINE
    plan = float(np.abs(slope).sum()) / 2.0
    slack = 1e-4 * (high - low)

    def flat_at(at: float) -> float:
        return float((level & (np.abs(heights - at) <= slack)).sum()) / max(plan, 1e-12)

    height, flat = best_height(pieces, low, high, flat_at)
    never = points.share * float((~up & ~down).sum())
    return Look(direction, source, up, down, low, high, height, flat, locked_at(pieces, height, slack), never)


def _pieces(points: Points, direction: Floats, up: Bools, down: Bools) -> Pieces:
    heights = points.at @ direction
    return Pieces(heights, np.full(len(heights), points.share), up, down)


@dataclass(frozen=True, eq=False)
class Searched:
    """What one search found of a mesh; kept while the mesh lives, so that another draw of it is judged at once."""

    ways: Ways
    table: Edges
    many: Points
    sky: Floats
    best: tuple[Candidate, ...]


_SEARCHED: "weakref.WeakKeyDictionary[Mesh, Searched]" = weakref.WeakKeyDictionary()


def search(mesh: Mesh, progress: Progress, given: Floats | None = None) -> tuple[Candidate, ...]:
    """The best few draws, best first; ``given`` is looked at as well and stands first when it is not None.

    The best so far is said through the tick, so that there is a first answer at once.
    """
    done = _SEARCHED.get(mesh)
    if done is None:
        done = _SEARCHED[mesh] = _searched(mesh, progress)
    shown = list(done.best)
    if given is not None:
        one = look(mesh, tree_of(mesh), done.many, given, _source(done.ways, given))
        mine = _candidate(mesh, done.table, done.many, one, done.sky, turn_over=False, fine=True)
        same = np.cos(np.radians(0.01))
        shown = [mine, *[each for each in shown if float(np.dot(each.direction, given)) < same]]
    progress(1.0, "Draws compared")
    return tuple(_worded(shown[: SHOWN + (given is not None)]))


def _searched(mesh: Mesh, progress: Progress) -> Searched:
    progress(0.0, "Looking for directions worth trying")
    corners = mesh.vertices[distinct(mesh.faces)]
    tree, few = tree_of(mesh), points_of(mesh, FEW, corners)
    table = edges(mesh.faces, len(mesh.vertices))
    ways = ways_of(mesh, table, ALL_ROUND)
    first, sky = _first_round(mesh, tree, few, ways, span(progress, 0.05, 0.45))
    rough = sorted(first, key=lambda one: _score(mesh, few, one, sky, 0.0, 0).total)
    # the own axes and the largest round's axis are always compared, whatever the rough look said of them
    named = [one for one in first if one.source == "own axis"] + [one for one in first if one.source == "round face"][
        :2
    ]
    chosen = _apart([*rough[: FINALISTS // 2], *named, *rough], FINALISTS, 4.0)
    chosen = _refined(mesh, tree, few, sky, chosen, ways, span(progress, 0.45, 0.6))
    many = points_of(mesh, MANY, corners)
    sky_many = sky[cKDTree(few.at).query(many.at)[1]]
    out: list[Candidate] = []
    looks: dict[tuple[float, float, float], Look] = {}
    for step, one in enumerate(chosen):
        progress(0.6 + 0.4 * step / len(chosen), _so_far(out))
        fine = look(mesh, tree, many, one.direction, one.source)
        out.append(_candidate(mesh, table, many, fine, sky_many))
        looks[out[-1].direction] = fine
    shown = _shown(out)
    # the joint of the few that are shown is looked at as finely as the stop that makes it will
    checked = [
        _candidate(mesh, table, many, looks[candidate.direction], sky_many, fine=True)
        if candidate.followed or candidate.locked_mm2 - candidate.any_parting_mm2 > NOTHING * mesh.area
        else candidate
        for candidate in shown
    ]
    shown = sorted(checked, key=lambda each: each.score)
    return Searched(ways, table, many, sky_many, tuple(shown))


def _shown(found: list[Candidate]) -> list[Candidate]:
    """The best few that differ enough, best first."""
    shown: list[Candidate] = []
    for candidate in sorted(found, key=lambda each: each.score):
        way = np.array(candidate.direction)
        if all(abs(float(way @ np.array(other.direction))) < np.cos(np.radians(APART_DEG)) for other in shown):
            shown.append(candidate)
    return shown[:SHOWN]


def _source(ways: Ways, given: Floats) -> str:
    cosine = np.abs(ways.directions @ given)
    index = int(np.argmax(cosine))
    return ways.source[index] if cosine[index] > np.cos(np.radians(0.2)) else "tilted"


def _so_far(found: list[Candidate]) -> str:
    if not found:
        return "Comparing the best draws"
    best = min(found, key=lambda candidate: candidate.score)
    return f"So far: along {way_words(best.direction)}, {area(best.locked_mm2)} locks"


def way_words(direction: tuple[float, float, float] | Floats) -> str:
    """``z`` for an own axis, else the three figures."""
    name = axis_name(np.asarray(direction, float))
    return name[1] if name else ", ".join(f"{value:.2f}" for value in direction)


def _first_round(mesh: Mesh, tree: Tree, few: Points, ways: Ways, progress: Progress) -> tuple[list[Look], Floats]:
    """A look along every way, and the share of its sky each point sees over all of them."""
    out: list[Look] = []
    seen, could = np.zeros(len(few.at)), np.zeros(len(few.at))
    for step, (way, source) in enumerate(zip(ways.directions, ways.source, strict=True)):
        if step % 4 == 0:
            best = min(out, key=lambda one: one.locked) if out else None
            text = (
                "Trying draws"
                if best is None
                else f"So far: along {way_words(best.direction)}, {area(best.locked)} locks"
            )
            progress(step / len(ways.source), text)
        one = look(mesh, tree, few, way, source)
        out.append(one)
        slope = few.normal @ way
        for weight, open_way in ((np.clip(slope, 0.0, None), one.up), (np.clip(-slope, 0.0, None), one.down)):
            seen += weight * open_way
            could += weight
    return out, seen / np.maximum(could, 1e-12)


def _apart(looks: list[Look], most: int, degrees_apart: float) -> list[Look]:
    kept: list[Look] = []
    limit = np.cos(np.radians(degrees_apart))
    for one in looks:
        if all(abs(float(one.direction @ other.direction)) < limit for other in kept):
            kept.append(one)
        if len(kept) == most:
            break
    return kept


def _refined(
    mesh: Mesh, tree: Tree, few: Points, sky: Floats, chosen: list[Look], ways: Ways, progress: Progress
) -> list[Look]:
    """The best few moved to the best near them, and back to a named way that is within 3 degrees."""
    out = []
    for step, one in enumerate(chosen):
        progress(step / len(chosen), "Tilting the best draws a little")
        if step < 3 and one.source == "tilted":
            for tilt in (6.0, 3.0):
                near = [look(mesh, tree, few, way, "tilted") for way in ring_round(one.direction, tilt, 6)]
                one = min([one, *near], key=lambda each: _score(mesh, few, each, sky, 0.0, 0).total)
            way, source = ways.snapped(one.direction)
            if source != "tilted":
                one = look(mesh, tree, few, way, source)
        out.append(one)
    return out


def _score(
    mesh: Mesh,
    points: Points,
    one: Look,
    sky: Floats,
    relief_mm: float,
    cores: int,
    followed: bool = True,
    hollow: Bools | None = None,
) -> Score:
    """The parts of the score; all but the counts are shares of the area or of the diagonal."""
    total, diagonal = mesh.area, max(mesh.diagonal, 1e-12)
    slope = points.normal @ one.direction
    never = ~one.up & ~one.down
    if hollow is None:
        hollow = never & (sky < HOLLOW_SKY)
    heights = points.at @ one.direction
    upright = (np.abs(slope) < SQUARE) & ~never
    away = np.abs(heights - one.height) / diagonal
    wall = 4.0 * points.share * float(away[upright].sum()) / total
    level = np.abs(slope) > np.cos(np.radians(1.0))
    slack = 2e-3 * one.depth
    at_joint = level & (np.abs(heights - one.height) <= slack)
    # walls that have their draft already say as much of how the part was meant to be drawn as square ones
    leaves = np.where(heights >= one.height, one.up, one.down)
    drafted = leaves & (np.abs(slope) < np.sin(np.radians(limits()["drafted_upto"].value)))
    square = (np.abs(slope) < SQUARE) | level | drafted
    deeper = max(one.high - one.height, one.height - one.low)
    rest = max(one.locked - one.never, 0.0)
    return Score(
        locked_open=points.share * float((never & ~hollow).sum()) / total,
        locked_hollow=points.share * float(hollow.sum()) / total,
        locked_flat=0.0 if followed else rest / total,
        relief=relief_mm / diagonal,
        wall=wall,
        half_depth=deeper / diagonal,
        flat_face=points.share * float(at_joint.sum()) / total,
        square=points.share * float(square.sum()) / total,
        tilted=_off_axis(one.direction, one.source),
        whole=1.0 if one.flat else 0.0,
        slender=points.share * float((~never & (sky < SLENDER_SKY)).sum()) / total,
        cores=cores,
    )


# Of equal draws the model's own z is taken, then y, then x: models are mostly drawn standing.
_FIRST = {"z": 0.0, "y": 0.5, "x": 1.0}


def _off_axis(direction: Floats, source: str) -> float:
    name = axis_name(direction)
    if name is not None:
        return _FIRST[name[1]]
    return 3.0 if source == "tilted" else 1.4  # a way that nothing of the part points along is hard to set up by hand


def _candidate(
    mesh: Mesh, table: Edges, points: Points, one: Look, sky: Floats, turn_over: bool = True, fine: bool = False
) -> Candidate:
    never = ~one.up & ~one.down
    hollow, cores = _hollow(points, never, sky)
    relief, followed = 0.0, False
    rest = max(one.locked - one.never, 0.0) / mesh.area
    if rest > NOTHING:
        relief, followed = relief_along(mesh, table, one.direction, fine)
        followed = followed and worth_following(relief, rest, mesh.diagonal)
        relief = relief if followed else 0.0
    score = _score(mesh, points, one, sky, relief, cores, followed, hollow)
    # the flat back lies down; else the model's own way up stays
    over = turn_over and one.flat and abs(one.height - one.high) < abs(one.height - one.low)
    sign = -1.0 if over else 1.0
    way = one.direction * sign
    slope = np.abs(points.normal @ one.direction)
    tight = points.share * float(((slope < np.sin(np.radians(1.5))) & ~never).sum())
    return Candidate(
        direction=(float(way[0]) + 0.0, float(way[1]) + 0.0, float(way[2]) + 0.0),
        locked_mm2=one.locked,
        any_parting_mm2=one.never,
        height_mm=one.height * sign,
        depth_mm=one.depth,
        score=score.total,
        flat_back=one.flat,
        tight_mm2=tight,
        relief_mm=relief,
        followed=followed,
        cores=cores,
        source=one.source,
        parts=score,
    )


def _hollow(points: Points, never: Bools, sky: Floats) -> tuple[Bools, int]:
    """(k,) which locked points lie in hollows, and how many hollows there are.

    The wall near a mouth sees more sky than a hollow's own, but the core that makes the hollow makes it as well: a
    clump of which half lies deep is a hollow as a whole.
    """
    deep = never & (sky < HOLLOW_SKY)
    rows = np.flatnonzero(never)
    label, count = _clumped(points.at[rows], 3.0 * np.sqrt(points.share))
    if not count:
        return deep, 0
    share = np.bincount(label, deep[rows], count) / np.maximum(np.bincount(label, minlength=count), 1)
    out = deep.copy()
    out[rows] |= (share >= 0.5)[label]
    return out, _clumps(points.at[deep], 3.0 * np.sqrt(points.share))


def _clumped(points: Floats, reach: float) -> tuple[Ints, int]:
    """(k,) number of the clump of each point, those within ``reach`` hanging together, and how many there are."""
    if len(points) < 3:
        return np.zeros(len(points), np.int64), 0
    pairs = cKDTree(points).query_pairs(reach, output_type="ndarray")
    graph = coo_matrix((np.ones(len(pairs), np.int8), (pairs[:, 0], pairs[:, 1])), shape=(len(points), len(points)))
    count, label = connected_components(graph, directed=False)
    return label.astype(np.int64), int(count)


def _clumps(points: Floats, reach: float) -> int:
    """How many clumps these points form when those within ``reach`` hang together; lone points do not count."""
    label, count = _clumped(points, reach)
    if not count:
        return 0
    return int((np.bincount(label, minlength=count) >= 4).sum())


def _worded(found: list[Candidate]) -> list[Candidate]:
    """Each with why it wins among these and what it costs."""
    total = [candidate.any_parting_mm2 for candidate in found]
    out = []
    for index, candidate in enumerate(found):
        others = [other for place, other in enumerate(found) if place != index]
        out.append(replace(candidate, why=_why(candidate, others, min(total)), cost=cost_words(candidate)))
    return out


def _why(one: Candidate, others: list[Candidate], least: float) -> str:
    free = one.locked_mm2 <= NOTHING * (one.locked_mm2 + one.tight_mm2 + 1.0) or one.locked_mm2 < 1.0
    tests: list[tuple[bool, str]] = [
        (one.flat_back and free, "Whole on its flat back, nothing locks"),
        (free, "Nothing locks at a flat joint"),
        (one.flat_back, "Whole on its flat back"),
        (bool(others) and all(one.locked_mm2 < other.locked_mm2 - 1.0 for other in others), "Locks least"),
        (
            one.any_parting_mm2 <= least + 1.0 and one.relief_mm > 0.0,
            "Nothing more locks when the joint follows the part",
        ),
        (bool(others) and all(one.depth_mm < other.depth_mm - 0.1 for other in others), "Lies lowest in the flask"),
        (bool(others) and all(one.tight_mm2 < other.tight_mm2 - 1.0 for other in others), "Least upright wall"),
    ]
    best = not others or one.score <= min(other.score for other in others)
    usual = "Best on the whole" if best else "Leaves the sand another way"
    return next((text for holds, text in tests if holds), usual)


def cost_words(one: Candidate) -> str:
    """What a draw costs: cores, what stays locked, the rise of its joint, its depth."""
    said = []
    if one.cores:
        said.append(f"{one.cores} {'core' if one.cores == 1 else 'cores'} or fillings")
    elif one.any_parting_mm2 > 1.0:
        said.append(f"{area(one.any_parting_mm2)} locked at any joint")
    if one.relief_mm > 0.0:
        said.append(f"a joint that rises and falls {length(one.relief_mm)}")
    said.append(f"{length(one.depth_mm)} deep")
    return ", ".join(said[:2])
