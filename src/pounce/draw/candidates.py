"""Heights for a flat joint, and what some thousand points see along a draw."""

from collections.abc import Callable

import numpy as np

from pounce.draw.reachability import LEAN, LIFT, WALL
from pounce.draw.scan import Pieces, locked_at, scan
from pounce.solid.mesh import Bools, Floats, Mesh
from pounce.solid.tree import Tree

# Of near-equal heights, those within this share of the area of the least are as good as it.
AS_GOOD = 0.002
# A level face at an end of the part counts as a flat back from this share of the plan upward.
FLAT_SHARE = 0.35
LEVEL_COSINE = 0.9999


def opened(tree: Tree, points: Floats, normals: Floats, slope: Floats, way: Floats, diagonal: float) -> Bools:
    """(k,) whether the sand beside each point can leave along ``way``; ``slope`` is normal . way."""
    free = slope >= -WALL
    origins = points + normals * (LIFT * diagonal)
    asked = np.flatnonzero(free)
    blocked = asked[tree.blocked(origins[asked], way)]
    free[blocked] = False
    walls = blocked[np.abs(slope[blocked]) <= WALL]
    if len(walls):
        free[walls] = ~tree.blocked(origins[walls], way + LEAN * normals[walls])
    return free


def best_height(pieces: Pieces, low: float, high: float, flat_at: Callable[[float], float]) -> tuple[float, bool]:
    """The height of the flat joint with the least locked area, and whether it is a flat back.

    ``flat_at`` gives the share of the plan that is level surface at a height (see :func:`flat_share`).

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
        if ends[at] <= good and flat_at(at) >= FLAT_SHARE:
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
