"""Pieces of one cylinder made whole: a bore that another crosses, a round that holes pierce, fall apart into strips
that look like fillets.
"""

from collections.abc import Callable

import numpy as np

from pounce.solid.features.compiled import strays_on
from pounce.solid.features.patches import grouped
from pounce.solid.features.rounds import Grown
from pounce.solid.features.shapes import Shape
from pounce.solid.frame import across
from pounce.solid.mesh import Bools, Floats, Ints, Mesh
from pounce.solid.sets import distinct, is_among
from pounce.solid.tree import LEAF, tree_of

# Axes of pieces of one cylinder, each fitted to a strip, stand within this angle, degrees.
AXES_DEG = 2.0
# A piece lies on another's cylinder within so many times their misfit, mm at least.
TIMES, LEAST_MM = 4.0, 0.02
# Together they go round by so much more than the widest of them, degrees, and by more than half a turn.
MORE_DEG, HALF_DEG = 30.0, 185.0
# Misfit of a piece that lies on its round exactly, mm; how squarely a stray face looks along it (cosine), and how often
# strays are gathered.
EXACT_MM, FACING, STRAYS = 2e-3, 0.95, 64
# Fewest faces of a round that is told by another in line with it.
LEAST_FACES = 12
# Slope (radius over height) under which a band is no cone.
LEAST_SLOPE = 1e-3
# Corners of a piece that are looked at.
LOOKS = 60


def made_whole(
    mesh: Mesh, found: list[Grown], concave: list[bool], turned: Callable[[Grown, Floats], float]
) -> list[Grown]:
    """The rounds with pieces of one cylinder brought together where they go round more than half a turn: those that
    touch first.

    ``concave`` whether each is one; ``turned(one, points)`` degrees that points (k, 3) go round its axis.
    """
    found, concave = _with_strays(mesh, found, concave, turned)
    rows = [k for k, one in enumerate(found) if one.shape.kind == "cylinder"]
    # those that lie exactly on their round tell it better than larger ones that do not
    rows.sort(key=lambda k: (found[k].misfit_mm > EXACT_MM, -float(mesh.areas[found[k].faces].sum())))
    axes = np.array([found[k].shape.axis for k in rows]).reshape(-1, 3)
    taken: set[int] = set()
    joined: list[Grown] = []
    for k in rows:
        if k in taken:
            continue
        nearly = np.abs(axes @ found[k].shape.axis) >= np.cos(np.radians(AXES_DEG))
        # not only those after it: what was fitted to corners in the middle of facets alone lies on a truer round, not
        # that on it
        alike = [k] + [
            j
            for j, parallel in zip(rows, nearly.tolist(), strict=True)
            if parallel and j != k and j not in taken and concave[j] == concave[k] and _alike(mesh, found[k], found[j])
        ]
        if len(alike) < 2:
            continue
        together = set(next(group for group in _touching(mesh, [found[j] for j in alike]) if 0 in group))
        members = [j for place, j in enumerate(alike) if place in together or _abreast(mesh, found[k], found[j])]
        if len(members) < 2:
            continue
        widest = max(turned(found[j], _points(mesh, found[j])) for j in members)
        whole = turned(found[k], np.concatenate([_points(mesh, found[j]) for j in members]))
        if whole < max(HALF_DEG, min(widest + MORE_DEG, 350.0)):
            continue
        taken |= set(members)
        faces = np.concatenate([found[j].faces for j in members])
        joined.append(Grown(found[k].shape, faces, max(found[j].misfit_mm for j in members)))
    return [one for k, one in enumerate(found) if k not in taken] + joined


def banded(mesh: Mesh, one: Grown) -> Grown:
    """A ball that is told from one band of facets is a cone as well, and the plainer shape: two rims of corners,
    each in a plane of its own.
    """
    if one.shape.kind != "ball":
        return one
    corners = mesh.vertices[distinct(mesh.faces[one.faces])]
    normals, weight = mesh.normals[one.faces], mesh.areas[one.faces]
    axis = np.linalg.eigh(np.einsum("i,ij,ik->jk", weight, normals, normals))[1][:, 0]
    height = corners @ axis
    middle = 0.5 * float(height.min() + height.max())
    low, high = corners[height < middle], corners[height >= middle]
    if min(len(low), len(high)) < 6:
        return one
    # the normals tell the axis roughly, the planes of the two rims well
    flat = np.linalg.svd(np.concatenate([low - low.mean(axis=0), high - high.mean(axis=0)]), full_matrices=False)[2][2]
    axis = flat if float(flat @ axis) > 0.0 else -flat
    near = max(LEAST_MM, 2.0 * TIMES * one.misfit_mm)
    if max(float(np.ptp(low @ axis)), float(np.ptp(high @ axis))) > near:
        return one
    centre = one.shape.centre - axis * float(one.shape.centre @ axis)
    (from_mm, wide), (to_mm, narrow) = (
        (float((rim @ axis).mean()), float(np.linalg.norm(rim - centre - np.outer(rim @ axis, axis), axis=1).mean()))
        for rim in (low, high)
    )
    if to_mm - from_mm < 4.0 * one.misfit_mm:
        return one
    slope = (narrow - wide) / (to_mm - from_mm)
    at = centre + axis * from_mm
    made = Shape(
        "cone" if abs(slope) > LEAST_SLOPE else "cylinder", axis, at, wide, slope if abs(slope) > LEAST_SLOPE else 0.0
    )
    misfit = float(np.sqrt(np.mean(made.off(corners) ** 2)))
    return Grown(made, one.faces, misfit) if misfit <= max(2.0 * one.misfit_mm, 1e-3) else one


def _with_strays(
    mesh: Mesh, found: list[Grown], concave: list[bool], turned: Callable[[Grown, Floats], float]
) -> tuple[list[Grown], list[bool]]:
    """Cylinders with the faces that lie on them, hang on them and were left to nobody (slivers where something
    crosses), and rounds in line with them.

    Returns the rounds, and whether each is hollow.
    """
    more_of: list[tuple[int, Grown]] = []
    free = np.ones(len(mesh.faces), bool)
    for one in found:
        free[one.faces] = False
    tree = tree_of(mesh)
    out = list(found)
    for k, one in enumerate(found):
        if one.shape.kind != "cylinder" or not free.any():
            continue
        near = max(LEAST_MM, TIMES * one.misfit_mm)
        rows = strays_on(
            one.shape.figures,
            free,
            mesh.corners,
            mesh.normals,
            tree.boxes,
            tree.order,
            LEAF,
            near,
            near + _flatness(mesh, one),
            FACING,
            -1.0 if concave[k] else 1.0,
        )
        if not len(rows):
            continue
        corners = distinct(mesh.faces[one.faces])
        for _ in range(STRAYS):
            more = rows[is_among(mesh.faces[rows], corners).any(axis=1) & free[rows]]
            if not len(more):
                break
            free[more] = False
            out[k] = Grown(one.shape, np.concatenate([out[k].faces, more]), one.misfit_mm)
            corners = distinct(mesh.faces[out[k].faces])
        # what lies on it farther along is a round in line with it, such as the other mouth of a bore that is crossed
        rows = rows[free[rows]]
        for group in _grouped(mesh, rows):
            if len(group) >= LEAST_FACES and turned(one, mesh.corners[group].reshape(-1, 3)) > HALF_DEG:
                free[group] = False
                more_of.append((k, Grown(one.shape, group, one.misfit_mm)))
    return out + [one for _, one in more_of], concave + [concave[k] for k, _ in more_of]


def _grouped(mesh: Mesh, rows: Ints) -> list[Ints]:
    """These faces in groups that share corners."""
    if not len(rows):
        return []
    used, inverse = np.unique(mesh.faces[rows], return_inverse=True)
    corner = inverse.reshape(-1, 3)
    label = grouped(len(used), np.concatenate([corner[:, [0, 1]], corner[:, [1, 2]]]))[corner[:, 0]]
    return [rows[label == k] for k in distinct(label).tolist()]


def _abreast(mesh: Mesh, one: Grown, other: Grown) -> bool:
    """Whether two pieces lie beside one another along the axis: strips of one bore, not two bores in line."""
    (low, high), (from_mm, to_mm) = (
        (float(height.min()), float(height.max()))
        for height in (_points(mesh, each) @ one.shape.axis for each in (one, other))
    )
    return min(high, to_mm) - max(low, from_mm) > 0.5 * min(high - low, to_mm - from_mm)


def _points(mesh: Mesh, one: Grown) -> Floats:
    return np.asarray(mesh.corners[one.faces].reshape(-1, 3))


def _alike(mesh: Mesh, one: Grown, other: Grown) -> bool:
    """Whether pieces whose axes stand as one cylinder's may are of one, by the larger: the other's corners on it."""
    points = mesh.vertices[distinct(mesh.faces[other.faces])]
    points = points[:: max(1, len(points) // LOOKS)]
    near = max(LEAST_MM, TIMES * max(one.misfit_mm, other.misfit_mm))
    off = one.shape.off(points)
    # where another round cuts it, corners lie in the middle of its facets: within the round by as much as these are
    # flat
    return bool(off.max() < near and off.min() > -near - _flatness(mesh, one))


def _flatness(mesh: Mesh, one: Grown) -> float:
    """How far the middles of its facets lie within the round: r (1 - cos(w / 2)), w the angle from facet to facet."""
    u, v = across(one.shape.axis)
    normals = mesh.normals[one.faces]
    angles = np.unique(np.round(np.arctan2(normals @ v, normals @ u), 3))
    gaps = np.diff(angles)
    gaps = gaps[gaps > 0.005]
    step = float(np.median(gaps)) if len(gaps) else 0.0
    return float(one.shape.radius * (1.0 - np.cos(min(step, 0.8) / 2.0)))


def _touching(mesh: Mesh, pieces: list[Grown]) -> list[list[int]]:
    """The pieces in groups that share corners."""
    corners = [distinct(mesh.faces[piece.faces]) for piece in pieces]
    pairs = [(i, j) for i in range(len(pieces)) for j in range(i + 1, len(pieces)) if _meet(corners[i], corners[j])]
    group = grouped(len(pieces), np.array(pairs, np.int64).reshape(-1, 2))
    return [np.flatnonzero(group == k).tolist() for k in distinct(group).tolist()]


def _meet(one: Ints, two: Ints) -> bool:
    inside: Bools = np.isin(one, two, assume_unique=True)
    return bool(inside.any())
