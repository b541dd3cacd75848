"""A quick look along a few draws, from some thousand points spread over the part."""

import numpy as np

from pounce.base.tick import Tick
from pounce.draw.judge import LEAN, LIFT, WALL
from pounce.draw.scan import Pieces, locked_at, scan
from pounce.draw.values import Candidate
from pounce.solid.mesh import Bools, Floats, Mesh
from pounce.solid.sample import spread
from pounce.solid.tree import Tree, build

SAMPLES = 12_000
# Of near-equal heights, those within this share of the area of the least are as good as it.
AS_GOOD = 0.002
# A level face at an end of the part counts as a flat back from this share of the plan upward.
FLAT_SHARE = 0.35
LEVEL_COSINE = 0.9999


def own_axes() -> tuple[Floats, ...]:
    """The three axes of the model, the last one (z) first because models are mostly drawn standing."""
    return tuple(np.eye(3)[[2, 1, 0]])


def look(mesh: Mesh, directions: tuple[Floats, ...], tick: Tick) -> tuple[Candidate, ...]:
    """The candidates, best (lowest score) first; flat-backed ones are turned so that the back lies down."""
    points, faces = spread(mesh, SAMPLES)
    tree = build(mesh)
    found = []
    for step, direction in enumerate(directions):
        tick(step / len(directions), "Trying draws")
        found.append(_one(mesh, tree, points, mesh.normals[faces], direction))
    return tuple(sorted(found, key=lambda candidate: candidate.score))


def _one(mesh: Mesh, tree: Tree, points: Floats, normals: Floats, direction: Floats) -> Candidate:
    slope = normals @ direction
    up = _open(tree, points, normals, slope, direction, mesh.diagonal)
    down = _open(tree, points, normals, -slope, -direction, mesh.diagonal)
    heights = points @ direction
    ends = mesh.vertices[mesh.faces] @ direction
    low, high = float(ends.min()), float(ends.max())
    share = mesh.area / len(points)
    pieces = Pieces(np.repeat(heights[:, None], 3, axis=1), np.full(len(points), share), up, down)
    height, flat = best_height(pieces, low, high, mesh, direction)
    sign = -1.0 if flat and abs(height - high) < abs(height - low) else 1.0
    locked = locked_at(pieces, height, 1e-4 * (high - low))
    never = float(share * (~up & ~down).sum())
    deeper = max(high - height, height - low)
    score = (3.0 * never + 2.0 * (locked - never)) / mesh.area + 0.25 * deeper / mesh.diagonal - (0.05 if flat else 0.0)
    way = direction * sign
    return Candidate(
        (float(way[0]) + 0.0, float(way[1]) + 0.0, float(way[2]) + 0.0),
        locked, never, height * sign, high - low, score, flat,
    )  # fmt: skip


def _open(tree: Tree, points: Floats, normals: Floats, slope: Floats, way: Floats, diagonal: float) -> Bools:
    free = slope >= -WALL
    origins = points + normals * (LIFT * diagonal)
    asked = np.flatnonzero(free)
    blocked = asked[tree.blocked(origins[asked], way)]
    free[blocked] = False
    walls = blocked[np.abs(slope[blocked]) <= WALL]
    if len(walls):
        free[walls] = ~tree.blocked(origins[walls], way + LEAN * normals[walls])
    return free


def best_height(pieces: Pieces, low: float, high: float, mesh: Mesh, direction: Floats) -> tuple[float, bool]:
    """The height of the flat joint with the least locked area, and whether it is a flat back.

    A flat back wins when it locks as little as the best split: the pattern stays whole. Between splits that are
    as good, the one with the shallower deeper half wins, because less depth drags in the sand.
    """
    depth = high - low
    slack = 1e-4 * depth
    heights, values = scan(pieces)
    inside = (heights > low + slack) & (heights < high - slack)
    ends = {at: locked_at(pieces, at, slack) for at in (low, high)}
    least = min([*ends.values(), *values[inside].tolist()])
    good = least + AS_GOOD * float(pieces.areas.sum())
    for at in sorted(ends, key=lambda end: (ends[end] > good, end != low)):
        if ends[at] <= good and flat_share(mesh, direction, at, slack) >= FLAT_SHARE:
            return at, True
    near = np.flatnonzero(inside & (values <= good))
    if not len(near):
        return (low + high) / 2.0, False
    middle = (low + high) / 2.0
    nearest = heights[near[np.argmin(np.abs(heights[near] - middle))]]
    # Inside a stretch of equally good heights the middle itself may serve, though no corner lies there.
    if heights[near].min() <= middle <= heights[near].max() and locked_at(pieces, middle, slack) <= good:
        return middle, False
    return float(nearest), False


def flat_share(mesh: Mesh, direction: Floats, at: float, slack: float) -> float:
    """Area of level faces at this height over the area of the part's plan (half the sum of |n . d| A)."""
    facing = np.abs(mesh.normals @ direction)
    plan = float((facing * mesh.areas).sum()) / 2.0
    level = facing > LEVEL_COSINE
    heights = mesh.vertices @ direction
    near = np.abs(heights[mesh.faces] - at).max(axis=1) <= slack
    return float(mesh.areas[level & near].sum()) / plan if plan > 0.0 else 0.0
