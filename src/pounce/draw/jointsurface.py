"""The natural joint as a height over the plan: through the part's widest line, as flat as the part lets it be.

The joint exists only in the columns of air beside the part. Air that hangs together is one joint: the ground
outside, and each hole or window at a height of its own. At the rim the joint must meet the part's outline, between
the lowest and the highest point of the wall there; elsewhere it is free, but no steeper than sand will hold.
"""

from dataclasses import dataclass

import numpy as np
from scipy import ndimage

from pounce.draw.reachability import WALL
from pounce.solid.kernels import njit
from pounce.solid.mesh import Bools, Edges, Floats, Ints, Mesh
from pounce.solid.plan import Plan, mark_segments, plan_of

CELLS, BORDER = 256, 14
COARSE = 96
# Slopes tried in turn, and the share of the rim that may miss its outline.
SLOPES_DEG = (15.0, 30.0, 45.0, 60.0, 75.0)
MISSED = 0.01
# How far the joint may miss the outline, as a share of the diagonal: below what sand shows.
LOOSE = 4e-4
LEVELS_DEG = 70.0


@dataclass(frozen=True, eq=False)
class JointSurface:
    """A joint over the plan. ``height`` (ny, nx); ``free`` the same before it was led through the part's material.

    ``slope_deg`` the steepest it was allowed, ``missed`` the share of the rim that it could not meet, ``flat``
    whether the ground outside is level, ``windows`` how many inner joints there are, ``level_mm`` the height it
    keeps to, ``windows_differ`` whether an inner joint lies at another height than the ground outside.
    """

    plan: Plan
    height: Floats
    free: Floats
    air: Bools
    rim: Bools
    slope_deg: float
    missed: float
    flat: bool
    windows: int
    level_mm: float
    relief_mm: float
    windows_differ: bool


def joint_surface_of(
    mesh: Mesh,
    table: Edges,
    cells: int = CELLS,
    levels: bool = False,
    nudges: tuple[tuple[int, float], ...] = (),
    beside_only: bool = False,
) -> JointSurface:
    """The joint of a mesh in the draw's frame (z along the draw).

    ``levels`` keeps to level terraces with steep steps between them. ``nudges`` are (joint, height_mm): 0 the ground
    outside, 1 and on the windows, held level at that height, whatever their rims. ``beside_only`` leaves out what
    changes nothing at the rim: the easing of its creases and its way through the part.
    """
    plan = plan_of(mesh.corners, cells, BORDER)
    low, high = rims(mesh, table, plan)
    loose = LOOSE * mesh.diagonal
    air = ~plan.covered
    label, count = ndimage.label(air)
    outside = int(label[0, 0])
    rim = air & ndimage.binary_dilation(plan.covered, np.ones((3, 3), bool))
    ground = label == outside
    order = [outside, *_windows(label, count, outside)]
    free, level, flat, steepest, missed_cells = _levelled(
        label,
        order,
        rim,
        low,
        high,
        plan.step,
        loose,
        levels,
        dict(nudges),
        (float(mesh.bounds[0, 2]), float(mesh.bounds[1, 2])),
        not beside_only,
    )
    windows = len(order) - 1
    # air too small to be a joint of its own takes the ground's height
    small = air & ~np.isin(label, order)
    free[small] = level
    carried = free if beside_only else _carried(free, air)
    height = free if beside_only else _through(plan, carried, mesh.diagonal)
    rim_heights = free[rim & ground]
    relief = float(rim_heights.max() - rim_heights.min()) if len(rim_heights) and not flat else 0.0
    return JointSurface(
        plan,
        height,
        carried,
        air,
        rim,
        steepest,
        missed_cells / max(int(rim.sum()), 1),
        flat,
        windows,
        level,
        relief,
        bool(np.abs(free[rim & ~ground & ~small] - level).max(initial=0.0) > loose),
    )


def _levelled(
    label: Ints,
    order: list[int],
    rim: Bools,
    low: Floats,
    high: Floats,
    step: float,
    loose: float,
    levels: bool,
    held: dict[int, float],
    ends: tuple[float, float],
    ease: bool,
) -> tuple[Floats, float, bool, float, int]:
    """Heights over the air, joint by joint: level where a level meets all of its rim, else sloped, with its creases
    eased where ``ease`` asks for it. Then the level that the ground keeps to, whether all of it is flat, the steepest
    slope, and how many cells of the rim are missed. ``ends`` the part's lowest and highest point; where it is so slight
    that it covers no cell, the joint lies midway.
    """
    free = np.zeros(label.shape)
    level, flat, steepest, missed_cells = 0.0, True, 0.0, 0
    middle = np.full(1, sum(ends) / 2.0)
    end = _whole_end(label, order, rim, low - loose, high + loose, ends)
    for place, joint in enumerate(order):
        here = label == joint
        at = here & rim
        lo, hi = (low[at] - loose, high[at] + loose) if at.any() else (middle, middle)
        wanted = held.get(place)
        if place == 0 and wanted is not None:
            level = wanted
        elif place == 0:
            level = _best_level(lo, hi) if end is None else end
        mine = level if wanted is None else wanted
        if lo.max() <= hi.min():
            free[here] = min(max(mine, float(lo.max())), float(hi.min())) if wanted is None else mine
            if place == 0 and wanted is None:
                level = float(free[here][0])
            continue
        if wanted is not None:
            free[here] = mine
            missed_cells += int(((mine < lo) | (mine > hi)).sum())
            continue
        box = _box(here)
        field, slope, missed = _sloped(here[box], at[box], low[box], high[box], loose, mine, step, levels)
        if ease and not levels:
            field = _eased(field, here[box], at[box])
        free[here] = field[here[box]]
        steepest = max(steepest, slope)
        missed_cells += missed
        flat = flat and place != 0
    return free, level, flat, steepest, missed_cells


def _whole_end(
    label: Ints, order: list[int], rim: Bools, lowest: Floats, highest: Floats, ends: tuple[float, float]
) -> float | None:
    """The end of the part along the draw, the lower one first, at which one level meets every rim; None where neither
    does. All of the part then lies to one side: it is moulded whole on a plain board.
    """
    at = rim & np.isin(label, order)
    if not at.any():
        return None
    least, most = float(lowest[at].max()), float(highest[at].min())
    return next((end for end in ends if least <= end <= most), None)


def _box(here: Bools) -> tuple[slice, slice]:
    """The rows and columns that hold all of it, one more each way: a window is a small part of the grid."""
    rows, columns = np.flatnonzero(here.any(axis=1)), np.flatnonzero(here.any(axis=0))
    return (
        slice(max(int(rows[0]) - 1, 0), int(rows[-1]) + 2),
        slice(max(int(columns[0]) - 1, 0), int(columns[-1]) + 2),
    )


def _windows(label: np.ndarray, count: int, outside: int) -> list[int]:
    """Inner air of at least a few columns, the largest first."""
    sizes = np.bincount(label.ravel(), minlength=count + 1)
    return [int(k) for k in np.argsort(-sizes) if k not in (0, outside) and sizes[k] >= 9]


def rims(mesh: Mesh, table: Edges, plan: Plan) -> tuple[Floats, Floats]:
    """(ny, nx), (ny, nx): lowest and highest point of the outline beside each column of air at the rim.

    Taken from the walls and silhouette edges of the mesh itself; from the columns beside it where it has none.
    """
    slope = mesh.normals[:, 2]
    one, two = slope[table.pairs[:, 0]], slope[table.pairs[:, 1]]
    wall = np.abs(slope) <= WALL
    turned = (np.minimum(one, two) < -WALL) & (np.maximum(one, two) > WALL)
    beside = wall[table.pairs].any(axis=1)
    ends = np.concatenate([table.pair_ends[turned | beside], table.open_ends])
    least, most = np.full(plan.shape, np.inf), np.full(plan.shape, -np.inf)
    mark_segments(np.ascontiguousarray(mesh.vertices[ends]), plan.low, plan.step, least, most)
    least = ndimage.minimum_filter(least, size=3, mode="nearest")
    most = ndimage.maximum_filter(most, size=3, mode="nearest")
    bottom = ndimage.minimum_filter(np.where(plan.covered, plan.bottom, np.inf), size=3, mode="nearest")
    top = ndimage.maximum_filter(np.where(plan.covered, plan.top, -np.inf), size=3, mode="nearest")
    known = np.isfinite(least)
    return np.where(known, least, bottom), np.where(known, most, top)


def _best_level(lo: Floats, hi: Floats) -> float:
    """The height that lies within most of the intervals; within those, nearest to the middle of the narrow ones."""
    if lo.max() <= hi.min():
        narrow = hi - lo <= 1.5 * float((hi - lo).min()) + 1e-12
        middle = float(np.median((lo + hi)[narrow] / 2.0))
        return min(max(middle, float(lo.max())), float(hi.min()))
    ends = np.sort(np.concatenate([lo, hi]))
    tried = np.unique(ends[:: max(1, len(ends) // 200)])
    # begun at or under a height, less those that have ended under it
    inside = np.searchsorted(np.sort(lo), tried, "right") - np.searchsorted(np.sort(hi), tried, "left")
    return float(tried[int(np.argmax(inside))])


def _sloped(
    here: Bools, at: Bools, low: Floats, high: Floats, loose: float, level: float, step: float, levels: bool
) -> tuple[Floats, float, int]:
    """The flattest joint in this air whose slope is the least that meets the rim."""
    lo, hi = np.where(at, low - loose, -np.inf), np.where(at, high + loose, np.inf)
    wanted = np.full(here.shape, level)
    slopes: tuple[float, ...] = SLOPES_DEG
    if levels:
        wanted = _terraces(here, at, lo, hi, level)
        slopes = (LEVELS_DEG, 80.0)
    best: tuple[Floats, float, int] | None = None
    for slope in slopes:
        rise = step * float(np.tan(np.radians(slope)))
        floor, ceiling = lo.copy(), hi.copy()
        cones(floor, here, rise)
        ceiling = -ceiling
        cones(ceiling, here, rise)
        ceiling = -ceiling
        field = np.maximum(floor, np.minimum(ceiling, wanted))
        if levels:
            field = _no_steeper(field, here, rise, floor, ceiling)
        missed = int(((field[at] < lo[at] - loose) | (field[at] > hi[at] + loose)).sum())
        best = (field, slope, missed)
        if missed < MISSED * max(int(at.sum()), 1):
            break
    assert best is not None
    return best


@njit(cache=True)
def _raised(field: Floats, j: int, i: int, value: float) -> bool:
    if value > field[j, i] + 1e-12:
        field[j, i] = value
        return True
    return False


@njit(cache=True)
def _row(f: Floats, inside: Bools, j: int, before: int, rise: float, diagonal: float) -> bool:
    """One row from the row ``before`` it and both ways along itself; whether anything rose."""
    changed, nx = False, inside.shape[1]
    for i in range(1, nx + 1):
        if inside[j - 1, i - 1]:
            beside = max(f[j, i - 1], f[before, i]) - rise
            over = max(f[before, i - 1], f[before, i + 1]) - diagonal
            changed |= _raised(f, j, i, max(beside, over))
    for i in range(nx, 0, -1):
        if inside[j - 1, i - 1]:
            changed |= _raised(f, j, i, f[j, i + 1] - rise)
    return changed


@njit(cache=True)
def cones(field: Floats, inside: Bools, rise: float) -> None:
    """Raises ``field`` to the upper envelope of cones of this rise a column, spread through ``inside`` only.

    Down the rows and up again until nothing rises, each row both ways (chamfer distances, Borgefors 1986); a rim of
    nothing all round saves asking for the edge of the grid.
    """
    ny, nx = field.shape
    diagonal = rise * np.sqrt(2.0)
    f = np.full((ny + 2, nx + 2), -np.inf)
    for j in range(ny):
        for i in range(nx):
            if inside[j, i]:
                f[j + 1, i + 1] = field[j, i]
    for _ in range(64):
        changed = False
        for j in range(1, ny + 1):
            changed |= _row(f, inside, j, j - 1, rise, diagonal)
        for j in range(ny, 0, -1):
            changed |= _row(f, inside, j, j + 1, rise, diagonal)
        if not changed:
            break
    for j in range(ny):
        for i in range(nx):
            if inside[j, i]:
                field[j, i] = f[j + 1, i + 1]


def _terraces(here: Bools, at: Bools, lo: Floats, hi: Floats, level: float) -> Floats:
    """The fewest level heights that meet all of the rim, each place at the level that fits it, spread to the
    nearest.
    """
    left = np.flatnonzero(at)
    low, high = lo.ravel()[left], hi.ravel()[left]
    open_ones = ~((low <= level) & (level <= high))
    chosen = [level]
    while open_ones.any() and len(chosen) < 8:
        # the interval that ends first must be stabbed at its end or before: the classic greedy cover
        end = float(high[open_ones].min())
        start = float(low[open_ones & (low <= end)].max())
        chosen.append((start + end) / 2.0)
        open_ones &= ~((low <= chosen[-1]) & (chosen[-1] <= high))
    steps = np.array(chosen)
    middle = (low + high) / 2.0
    off = np.maximum(low[:, None] - steps, steps - high[:, None]).clip(0.0) * 1e3 + np.abs(steps - middle[:, None])
    # among the levels that fit, the ground's own level first
    fits = (low <= level) & (level <= high)
    taken = np.where(fits, level, steps[np.argmin(off, axis=1)])
    spread = np.full(here.size, level)
    spread[left] = taken
    field = spread.reshape(here.shape)
    _, (rows, columns) = ndimage.distance_transform_edt(~at, return_indices=True)
    return np.asarray(field[rows, columns])


def _no_steeper(field: Floats, here: Bools, rise: float, floor: Floats, ceiling: Floats) -> Floats:
    """The field with steps leaned to the slope allowed, half of the lean to either side."""
    upper, lower = field.copy(), -field
    cones(upper, here, rise)
    cones(lower, here, rise)
    return np.asarray(np.maximum(floor, np.minimum(ceiling, (upper - lower) / 2.0)))


def _eased(field: Floats, here: Bools, at: Bools) -> Floats:
    """The same joint with its creases eased away from the rim."""
    out = np.where(here, field, 0.0)
    weight = here.astype(float)
    total = np.maximum(ndimage.uniform_filter(weight, 3, mode="nearest"), 1e-12)
    for _ in range(12):
        mean = ndimage.uniform_filter(out * weight, 3, mode="nearest") / total
        out = np.where(here & ~at, mean, out)
    return np.asarray(out)


def _carried(free: Floats, air: Bools) -> Floats:
    """The joint led on over the part from its rim, smoothly and heedless of the part."""
    if not air.any():
        return free
    _, (rows, columns) = ndimage.distance_transform_edt(~air, return_indices=True)
    out = np.asarray(free[rows, columns])
    for size in (17, 9, 5, 3, 3, 3):
        for _ in range(6):
            out = np.where(air, free, ndimage.uniform_filter(out, size, mode="nearest"))
    return out


def _through(plan: Plan, field: Floats, diagonal: float) -> Floats:
    """The joint led through the part's material, so that both halves hold together under it."""
    thick = np.where(plan.covered, plan.under - plan.bottom, 0.0)
    inside = np.minimum(0.5 * thick, np.maximum(0.02 * thick, 2e-3 * diagonal))
    low = np.where(plan.covered, plan.bottom + inside, -np.inf)
    high = np.where(plan.covered, plan.under - inside, np.inf)
    return np.asarray(np.minimum(np.maximum(field, low), np.maximum(low, high)))
