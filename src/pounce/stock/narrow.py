"""Inside corners that carry a radius already, but too small a one: the corner as it would stand sharp, to be filled
anew.

A fillet runs between two rims. Beside each facet of it lie the two faces that it joins; their planes meet in the
corner it stands in for, and consecutive facets' planes give the points of a chain along it.
"""

from dataclasses import dataclass

import numpy as np

from pounce.solid.features.patches import SMOOTH_DEG, Bends
from pounce.solid.features.values import Feature
from pounce.solid.frame import across
from pounce.solid.mesh import Bools, Floats, Mesh
from pounce.solid.tree import Tree
from pounce.stock.fillets import Chain

# A wall this many radii beyond a fillet's end is where it runs to.
REACH = 3.0
# Planes whose normals are closer than this (sine) do not fix a point along their common line.
DISTINCT = 0.02


@dataclass(frozen=True, eq=False)
class _Rim:
    """Edges along a fillet: ``along`` (k, 2) how far along it each begins and ends, ``normal`` (k, 3), ``level`` (k,)
    of the face beyond, ``middle`` (k, 3), ``side`` (k,) which of its two sides.
    """

    along: Floats
    normal: Floats
    level: Floats
    middle: Floats
    side: Bools


def narrow_chain(body: Mesh, bends: Bends, tree: Tree, faces: Bools, fillet: Feature, wanted_mm: float) -> Chain | None:
    """The sharp corner that a fillet of the body stands in for, or None where its sides are no plain faces.

    ``faces`` (m,) its faces on the body; ``wanted_mm`` the radius it is to get, which tells how far to look for its
    end.
    """
    rim = _rim(body, bends, faces, fillet)
    if rim is None or rim.side.all() or not rim.side.any():
        return None
    lead = rim.side if _distinct(rim.normal[rim.side]) >= _distinct(rim.normal[~rim.side]) else ~rim.side
    facets = _facets(rim, lead)
    other = np.flatnonzero(~lead)
    middles = rim.along.mean(axis=1)
    left, right, levels = [], [], []
    for low, high, row in facets:
        near = other[int(np.argmin(np.abs(middles[other] - (low + high) / 2.0)))]
        left.append(rim.normal[row])
        right.append(rim.normal[near])
        levels.append((rim.level[row], rim.level[near]))
    normals = np.stack([np.array(left), np.array(right)], axis=1)
    if (np.linalg.norm(np.cross(normals[:, 0], normals[:, 1]), axis=1) < 0.1).any():
        return None
    level = np.array(levels)
    turn = 2.0 * np.pi
    closed = fillet.full and len(facets) > 2
    points: list[Floats] = []
    for index in range(len(facets) - 1):
        points.append(_meeting(normals[[index, index + 1]], level[[index, index + 1]], rim, facets[index][1], turn))
    if closed:
        seam = _meeting(normals[[-1, 0]], level[[-1, 0]], rim, facets[0][0], turn)
        return Chain(np.array([seam, *points, seam]), normals[:, 0], normals[:, 1], True)
    first, first_end = _end(body, bends, tree, faces, fillet, wanted_mm, normals[0], level[0], rim, facets[0][0], -1.0)
    last, last_end = _end(body, bends, tree, faces, fillet, wanted_mm, normals[-1], level[-1], rim, facets[-1][1], 1.0)
    return Chain(np.array([first, *points, last]), normals[:, 0], normals[:, 1], False, (first_end, last_end))


def _place(fillet: Feature, points: Floats) -> tuple[Floats, Floats, Floats]:
    """How far along the fillet points (n, 3) lie (mm, or radians round a ring), the way it runs there (n, 3), and
    the angle round its core.
    """
    rel = points - fillet.centre
    if _straight(fillet):
        u, v = across(fillet.axis)
        height = rel @ fillet.axis
        return height, np.tile(fillet.axis, (len(points), 1)), np.arctan2(rel @ v, rel @ u)
    u, v = across(fillet.axis)
    x, y = rel @ u, rel @ v
    turn = np.arctan2(y, x)
    ways = -np.sin(turn)[:, None] * u + np.cos(turn)[:, None] * v
    return turn, ways, np.arctan2(rel @ fillet.axis, np.hypot(x, y) - fillet.notes.get("core_mm", 0.0))


def _straight(fillet: Feature) -> bool:
    return "core_mm" not in fillet.notes


def _rim(body: Mesh, bends: Bends, faces: Bools, fillet: Feature) -> _Rim | None:
    edge = np.flatnonzero((faces[bends.pairs].sum(axis=1) == 1) & (bends.bend_deg < SMOOTH_DEG))
    if not len(edge):
        return None
    ends = body.vertices[bends.ends[edge]]
    middle = ends.mean(axis=1)
    _, ways, angle = _place(fillet, middle)
    run = ends[:, 1] - ends[:, 0]
    size = np.linalg.norm(run, axis=1)
    keep = np.abs(np.einsum("ij,ij->i", run, ways)) > 0.7 * size
    edge, ends, middle, angle = edge[keep], ends[keep], middle[keep], angle[keep]
    if len(edge) < 2:
        return None
    along = np.stack([_place(fillet, ends[:, k])[0] for k in range(2)], axis=1)
    if not _straight(fillet):  # an edge over the seam of the turn
        along[:, 1] = along[:, 0] + (along[:, 1] - along[:, 0] + np.pi) % (2.0 * np.pi) - np.pi
    along.sort(axis=1)
    pair = bends.pairs[edge]
    beyond = np.where(faces[pair[:, 0]], pair[:, 1], pair[:, 0])
    normal = body.normals[beyond]
    # the middle of the arc parts its two rims
    middles = body.corners[faces].mean(axis=1)
    towards = _place(fillet, middles)[2]
    core = np.arctan2(np.sin(towards).mean(), np.cos(towards).mean())
    side = np.asarray((angle - core + np.pi) % (2.0 * np.pi) - np.pi > 0.0)
    return _Rim(along, normal, np.einsum("ij,ij->i", normal, body.vertices[bends.ends[edge, 0]]), middle, side)


def _distinct(normals: Floats) -> int:
    return len(np.unique(np.round(normals, 4), axis=0))


def _facets(rim: _Rim, lead: Bools) -> list[tuple[float, float, int]]:
    """The facets along the leading rim in order: from, to, and a row of each; edges beside one plane are one facet."""
    rows = np.flatnonzero(lead)
    rows = rows[np.argsort(rim.along[rows].mean(axis=1), kind="stable")]
    out: list[tuple[float, float, int]] = []
    for row in rows.tolist():
        low, high = rim.along[row].tolist()
        if out:
            before = out[-1]
            same = float(np.linalg.norm(np.cross(rim.normal[before[2]], rim.normal[row]))) < DISTINCT
            if same and abs(rim.level[before[2]] - rim.level[row]) < 0.02:
                out[-1] = (before[0], max(before[1], high), before[2])
                continue
        out.append((low, high, row))
    return out


def _meeting(normals: Floats, levels: Floats, rim: _Rim, along: float, turn: float) -> Floats:
    """The point where the corners beside two facets meet: planes (2, 2, 3), the nearest such point to the rim there."""
    gap = np.abs((rim.along - along + turn / 2.0) % turn - turn / 2.0).min(axis=1)
    return _onto(normals.reshape(-1, 3), levels.reshape(-1), rim.middle[int(np.argmin(gap))])


def _onto(normals: Floats, levels: Floats, start: Floats) -> Floats:
    """The point nearest to ``start`` on all the planes, by least squares; nearly parallel ones count once."""
    found = np.linalg.lstsq(normals, levels - normals @ start, rcond=1e-3)[0]
    return np.asarray(start + found)


def _end(
    body: Mesh,
    bends: Bends,
    tree: Tree,
    faces: Bools,
    fillet: Feature,
    wanted_mm: float,
    normals: Floats,
    levels: Floats,
    rim: _Rim,
    along: float,
    sign: float,
) -> tuple[Floats, tuple[Floats, ...]]:
    """Where the corner ends: at the wall it runs to, else at the face it runs out at. Also the normals it may be
    laid into.
    """
    row = int(np.argmin(np.abs(rim.along - along).min(axis=1)))
    _, ways, _ = _place(fillet, rim.middle[row : row + 1])
    way = sign * ways[0]
    at = _onto(normals, levels, rim.middle[row])
    if _straight(fillet):
        at = at + fillet.axis * (along - float((at - fillet.centre) @ fillet.axis))
    # a little off the corner, in the air before the rolling ball's place
    air = at + np.linalg.lstsq(normals, np.full(2, fillet.radius_mm), rcond=1e-3)[0] - way * 0.2 * fillet.radius_mm
    distance, hit = tree.nearest(air[None], way[None])
    if int(hit[0]) >= 0 and float(distance[0]) < REACH * max(wanted_mm, fillet.radius_mm):
        normal = body.normals[int(hit[0])]
        if float(normal @ way) < -0.3:
            level = float(normal @ body.vertices[body.faces[int(hit[0]), 0]])
            return _onto(np.vstack([normals, normal]), np.r_[levels, level], at), (normal,)
    edge = np.flatnonzero((faces[bends.pairs].sum(axis=1) == 1) & (bends.bend_deg >= SMOOTH_DEG))
    best: tuple[float, Floats, float] | None = None
    for index in edge.tolist():
        one, two = bends.pairs[index].tolist()
        beyond = two if faces[one] else one
        lean = float(body.normals[beyond] @ way)
        place = body.vertices[bends.ends[index, 0]]
        if lean > 0.3 and abs(float((place - at) @ way)) < REACH * wanted_mm and (best is None or lean > best[0]):
            best = (lean, body.normals[beyond], float(body.normals[beyond] @ place))
    if best is None:
        return at, ()
    return _onto(np.vstack([normals, best[1]]), np.r_[levels, best[2]], at), (best[1],)
