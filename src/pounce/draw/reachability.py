"""Reachability: can the sand beside a face leave along the draw, upward or downward?

A ray from the face, lifted a hair off it, must meet nothing. A face that clearly looks up is asked upward only, one
that looks down downward only; a wall (within 0.5 degrees of the draw) is asked both ways, and once more along a ray
leaning 0.75 degrees off it, so that the noise of a mesh never makes a wall lock.
"""

from collections.abc import Iterator

import numpy as np

from pounce.base.progress import Progress, silent
from pounce.draw.values import Reach
from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Bools, Floats, Ints, Mesh, edges
from pounce.solid.sets import distinct
from pounce.solid.tree import Tree, build

WALL = float(np.sin(np.radians(0.5)))
LEAN = 1.5 * WALL
# How far a ray starts off its face, as a share of the diagonal: above float32 noise, below any real gap.
LIFT = 2e-5
# Samples over a whole part, and the most on one side of a triangle.
SAMPLES = 30_000
MOST_SIDE = 24
FINER = 4
# Sides of fine pieces are a multiple of this from twice it on, so that those that agree can be put together, four and
# four, more often than twice.
NESTED = 8
MOST_PIECES = 1_500_000
# Second chance: coarse facets of a round wall lock each other by their own sagitta. Up to this slope to the draw they
# are lifted by it, but never by more than this share of the diagonal, and only over bends that are curves, not creases.
CURVED = float(np.sin(np.radians(8.0)))
MOST_LIFT = 1.5e-3
CREASE_DEG = 35.0
RIGHT, UP = np.array([1, 0]), np.array([0, 1])


def sides(areas: Floats) -> Ints:
    """(m,) how many pieces each triangle's side is cut into, by its share of the area."""
    total = float(areas.sum())
    if total <= 0.0:
        return np.ones(len(areas), np.int64)
    return np.clip(np.ceil(np.sqrt(SAMPLES * areas / total)), 1, MOST_SIDE).astype(np.int64)


def weights(side: int) -> Floats:
    """(side^2, 3, 3): the corners of the side^2 equal pieces of a triangle, barycentric."""
    i, j = np.meshgrid(np.arange(side), np.arange(side), indexing="ij")
    low = i + j < side
    upward = np.stack([i[low], j[low]], axis=1)
    inner = i + j < side - 1
    downward = np.stack([i[inner] + 1, j[inner] + 1], axis=1)
    first = np.stack([upward, upward + RIGHT, upward + UP], axis=1)
    second = np.stack([downward, downward - RIGHT, downward - UP], axis=1)
    pair = np.concatenate([first, second]) / side
    return np.concatenate([1.0 - pair.sum(axis=2, keepdims=True), pair], axis=2)


def quarters(side: int) -> Ints:
    """(side^2 / 4, 4): which of the pieces of an even side lie in each piece of half that side, both in the order of
    ``weights``.
    """

    def numbers(of: int) -> tuple[Ints, Ints]:
        i, j = np.meshgrid(np.arange(of), np.arange(of), indexing="ij")
        upward, downward = np.full((of, of), -1), np.full((of, of), -1)
        count = of * (of + 1) // 2
        upward[i + j < of] = np.arange(count)
        downward[i + j < of - 1] = count + np.arange(of * of - count)
        return upward, downward

    upward, downward = numbers(side)
    half = side // 2
    i, j = np.meshgrid(2 * np.arange(half), 2 * np.arange(half), indexing="ij")
    low, inner = i + j < side, i + j < side - 2
    a, b = i[low], j[low]
    first = np.stack([upward[a, b], upward[a + 1, b], upward[a, b + 1], downward[a, b]], axis=1)
    a, b = i[inner], j[inner]
    second = [downward[a + 1, b], downward[a, b + 1], downward[a + 1, b + 1], upward[a + 1, b + 1]]
    return np.concatenate([first, np.stack(second, axis=1)])


def together(codes: Ints, side: int) -> Iterator[tuple[Ints, Floats, Ints]]:
    """Pieces of faces put together four and four, as often as all four have one code: the face of each (its row in
    ``codes`` (f, side^2)), its corners (k, 3, 3), barycentric, and its code.
    """
    while True:
        rows, cells = np.nonzero(codes >= 0)
        if side % 2:
            yield rows, weights(side)[cells], codes[rows, cells]
            return
        four = quarters(side)
        of = codes[:, four]
        alike = (of == of[..., :1]).all(axis=2)
        merged = np.where(alike, of[..., 0], -1)
        left = np.where(np.repeat(alike[..., None], 4, axis=2), -1, of)
        rows, which, corner = np.nonzero(left >= 0)
        cells = four[which, corner]
        yield rows, weights(side)[cells], codes[rows, cells]
        codes, side = merged, side // 2


def sagittas(mesh: Mesh, slope: Floats) -> Floats:
    """(m,) how far the true curve may bulge over each facet of a wall: bend to its neighbours times its width over 8,
    mm.

    A chord of length w across a bend b has the sagitta w b / 8; twice that is allowed for, since a facet is met from
    both sides. Creases count as no curve, and faces that are no walls get nothing.
    """
    out = np.zeros(len(mesh.faces))
    own = np.flatnonzero(np.abs(slope) < 2.0 * CURVED)
    table = edges(mesh.faces[own], len(mesh.vertices))
    one, two = own[table.pairs].T
    bend = np.arccos(np.clip(np.einsum("ij,ij->i", mesh.normals[one], mesh.normals[two]), -1.0, 1.0))
    bend = np.where(bend < np.radians(CREASE_DEG), bend, 0.0)
    # the width across an edge is twice the area over its length
    size = np.maximum(np.linalg.norm(np.diff(mesh.vertices[table.pair_ends], axis=1)[:, 0], axis=1), 1e-12)
    for face in (one, two):
        np.maximum.at(out, face, bend * 2.0 * mesh.areas[face] / size / 4.0)
    return np.minimum(out, MOST_LIFT * mesh.diagonal)


def _ways_open(
    points: Floats, normals: Floats, slope: Floats, tree: Tree, lift: float, bulge: Floats | None = None
) -> tuple[Bools, Bools]:
    """(k,), (k,): whether each point of a face with this normal and slope is open upward, downward.

    ``bulge`` (k,) lifts points of curved walls that are blocked, for the second chance.
    """
    up, down = slope >= -WALL, slope <= WALL
    origins = points + normals * lift
    for open_way, way in ((up, 1), (down, -1)):
        asked = np.flatnonzero(open_way)
        hit = tree.covered(origins[asked], np.full(len(asked), way, np.int64))
        blocked = asked[hit]
        open_way[blocked] = False
        walls = blocked[np.abs(slope[blocked]) <= WALL]
        if len(walls):
            leaning = LEAN * normals[walls]
            leaning[:, 2] += way
            open_way[walls] = ~tree.blocked(origins[walls], leaning)
        if bulge is not None:
            again = blocked[~open_way[blocked]]
            again = again[(np.abs(slope[again]) < CURVED) & (bulge[again] > lift)]
            raised = points[again] + normals[again] * (bulge[again] + lift)[:, None]
            open_way[again] = ~tree.covered(raised, np.full(len(again), way, np.int64))
    return up, down


def reach_along(mesh: Mesh, direction: Floats, progress: Progress = silent, forgiven_mm: Floats | None = None) -> Reach:
    """The reach of every face of the mesh along ``direction`` (unit, (3,)). ``forgiven_mm`` (m,) how high a step before
    each face, where it is a wall, counts as none.
    """
    progress(0.0, "Turning the part to the draw")
    turned = Mesh.of(mesh.vertices @ turn_to_z(direction).T, mesh.faces, mesh.tags)
    tree = build(turned)
    progress(0.2, "Looking along the draw")
    slope = np.ascontiguousarray(turned.normals[:, 2])
    count = len(mesh.faces)
    side = sides(turned.areas)
    up, down = np.zeros(count, bool), np.zeros(count, bool)
    bulge = sagittas(turned, slope)
    if forgiven_mm is not None:
        bulge = np.maximum(bulge, forgiven_mm)
    mixed = np.zeros(count, bool)
    lift = LIFT * mesh.diagonal
    kinds = distinct(side)
    for step, kind in enumerate(kinds.tolist()):
        chosen = np.flatnonzero(side == kind)
        for chunk in np.array_split(chosen, max(1, len(chosen) * kind * kind // 200_000)):
            progress(0.2 + 0.5 * step / len(kinds), "Looking along the draw")
            some_up, some_down = _sampled(turned, tree, chunk, kind, lift, bulge)
            up[chunk], down[chunk] = some_up.all(axis=1), some_down.all(axis=1)
            mixed[chunk] = (some_up.any(axis=1) & ~up[chunk]) | (some_down.any(axis=1) & ~down[chunk])
    pieces = _finer(mesh, turned, tree, mixed, side, lift, bulge, progress)
    progress(1.0, "Draw judged")
    return Reach(up, down, mixed, slope, *pieces, forgiven_mm2=_forgiven(turned, tree, up, down, bulge, lift))


def _forgiven(turned: Mesh, tree: Tree, up: Bools, down: Bools, bulge: Floats, lift: float) -> float:
    """Area (mm2) of faces that draw only by the second chance."""
    slope = np.ascontiguousarray(turned.normals[:, 2])
    asked = np.flatnonzero((np.abs(slope) < CURVED) & (bulge > lift) & (up | down))
    middles = turned.corners[asked].mean(axis=1)
    plain_up, plain_down = _ways_open(middles, turned.normals[asked], slope[asked], tree, lift)
    return float(turned.areas[asked[~plain_up & ~plain_down]].sum())


def _sampled(turned: Mesh, tree: Tree, faces: Ints, side: int, lift: float, bulge: Floats) -> tuple[Bools, Bools]:
    middles = weights(side).mean(axis=1)
    points = np.einsum("sk,fkc->fsc", middles, turned.corners[faces]).reshape(-1, 3)
    normals = np.repeat(turned.normals[faces], len(middles), axis=0)
    up, down = _ways_open(
        points, normals, np.ascontiguousarray(normals[:, 2]), tree, lift, np.repeat(bulge[faces], len(middles))
    )
    return up.reshape(len(faces), -1), down.reshape(len(faces), -1)


def _finer(
    mesh: Mesh, turned: Mesh, tree: Tree, mixed: Bools, side: Ints, lift: float, bulge: Floats, progress: Progress
) -> tuple[Floats, Ints, Bools, Bools]:
    """Mixed faces cut into pieces 16 times finer, each judged at its middle; those that agree are put together."""
    corners, face, ups, downs = [], [], [], []
    fine = side * FINER
    fine = np.where(fine >= 2 * NESTED, -(-fine // NESTED) * NESTED, fine)
    wanted = float((fine[mixed] ** 2).sum())
    if wanted > MOST_PIECES:
        fine = np.maximum(1, (fine * np.sqrt(MOST_PIECES / wanted)).astype(np.int64))
        fine = np.where(fine >= FINER, fine // FINER * FINER, fine)
    kinds = distinct(fine[mixed]).tolist()
    for step, kind in enumerate(kinds):
        chosen = np.flatnonzero(mixed & (fine == kind))
        for chunk in np.array_split(chosen, max(1, len(chosen) * kind * kind // 200_000)):
            progress(0.7 + 0.3 * step / len(kinds), "Looking closer where a face is hidden in part")
            up, down = _sampled(turned, tree, chunk, kind, lift, bulge)
            for row, shape, code in together(2 * up.astype(np.int64) + down, kind):
                corners.append(np.einsum("pkw,pwc->pkc", shape, mesh.corners[chunk[row]]))
                face.append(chunk[row])
                ups.append(code >= 2)
                downs.append(code % 2 == 1)
    if not corners:
        nothing = np.zeros(0, bool)
        return np.zeros((0, 3, 3)), np.zeros(0, np.int64), nothing, nothing
    return np.concatenate(corners), np.concatenate(face), np.concatenate(ups), np.concatenate(downs)
