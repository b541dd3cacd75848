"""The trial draw: which sand the pattern carries along when the halves part, how much at each height, and rocking
hands.

Sand that has material in its way along the draw is carried or sheared as soon as the halves move. Over one column of
the plan a stretch of such sand of height g is gone by min(lift, g); the sum over all columns is the sand torn at
that lift.
"""

import numpy as np
from scipy import ndimage

from pounce.parting.columngrid import ColumnGrid
from pounce.parting.joint import Joint
from pounce.parting.values import Judged, State, Tilted, Torn, Trial
from pounce.solid.kernels import njit
from pounce.solid.mesh import Bools, Floats, Ints, Mesh, areas_of

LIFTS = 41
# Sand torn under this share of the part's volume is a grain here and there.
GRAINS = 2e-5
MOST_PLACES = 12
MOST_POINTS = 1500
ROCKS = 16
# Faces that lean back farther than this leave with a loose piece, not with the half.
LOOSE_DEG = -1.0


def trial_of(
    mesh: Mesh,
    joint: Joint,
    judged: Judged,
    grid: ColumnGrid,
    depth_mm: float,
    rap_mm: float,
    tilt_deg: float,
    held: Bools | None = None,
) -> Trial:
    """The trial draw of a closed part; an open shell's columns are only as good as its surface.

    ``held`` (ny, nx) marks columns whose overhang is a loose piece: the sand under it leaves with the loose piece in
    place.
    """
    columns, plan = grid.columns, grid.plan
    cells, low, high, cope = _locked_sand(columns.start, columns.low, columns.high, grid.joint.ravel())
    # a hair of sand beside a wall is the grid's doing
    real = high - low > 1e-4 * mesh.diagonal
    if held is not None:
        real &= ~held.ravel()[cells]
    cells, low, high, cope = cells[real], low[real], high[real], cope[real]
    gap = high - low
    cell_area = plan.step**2
    lifts = np.linspace(0.0, max(depth_mm, float(gap.max(initial=0.0))), LIFTS)
    curves = [cell_area * np.minimum(lifts[:, None], gap[side][None, :]).sum(axis=1) for side in (cope, ~cope)]
    torn = _places(plan.shape, cells, low, high, cope, grid.places, grid.turn, cell_area, mesh, judged, joint)
    tilted = tuple(_tilted(judged, joint, above, rap_mm, tilt_deg, joint.half(above)) for above in (True, False))
    points, lift, from_cope = _grains(cells, low, high, cope, grid.places, grid.turn, plan.step)
    return Trial(
        lifts,
        curves[0],
        curves[1],
        torn,
        points,
        lift,
        from_cope,
        tuple(r for r in tilted if r is not None),
        _drags(judged, joint),
    )


@njit(cache=True)
def _locked_sand(start: Ints, low: Floats, high: Floats, joint: Floats) -> tuple[Ints, Floats, Floats, Bools]:
    """Stretches of sand with material in their way: column, low, high, whether in the cope."""
    count = 2 * len(low) + 2
    cell, below, above = np.empty(count, np.int64), np.empty(count), np.empty(count)
    cope = np.empty(count, np.bool_)
    used = 0
    for column in range(start.shape[0] - 1):
        begin, end = start[column], start[column + 1]
        if begin == end:
            continue
        h = joint[column]
        for k in range(begin, end + 1):
            # the gap under stretch k: from the one before (or from far below) up to it
            floor = high[k - 1] if k > begin else -np.inf
            ceiling = low[k] if k < end else np.inf
            if ceiling < np.inf and ceiling > max(floor, h):
                cell[used], below[used], above[used], cope[used] = column, max(floor, h), ceiling, True
                used += 1
            if floor > -np.inf and floor < min(ceiling, h):
                cell[used], below[used], above[used], cope[used] = column, floor, min(ceiling, h), False
                used += 1
    return cell[:used], below[:used], above[:used], cope[:used]


def _places(
    shape: tuple[int, int],
    cells: Ints,
    low: Floats,
    high: Floats,
    cope: Bools,
    at: Floats,
    turn: Floats,
    cell_area: float,
    mesh: Mesh,
    judged: Judged,
    joint: Joint,
) -> tuple[Torn, ...]:
    """Torn sand by places that hang together in the plan, the largest first."""
    out: list[Torn] = []
    locked = np.flatnonzero(judged.state == State.LOCKED)
    middles = judged.corners[locked].mean(axis=1)
    for side, above in ((cope, True), (~cope, False)):
        mask = np.zeros(shape[0] * shape[1], bool)
        mask[cells[side]] = True
        label, count = ndimage.label(mask.reshape(shape), np.ones((3, 3)))
        of = label.ravel()[cells[side]]
        gap = (high - low)[side]
        volumes = cell_area * np.bincount(of, gap, count + 1)
        for group in np.argsort(-volumes)[:MOST_PLACES]:
            if group == 0 or volumes[group] <= GRAINS * abs(mesh.volume):
                continue
            mine = of == group
            heaviest = int(np.argmax(gap * mine))
            place = at.reshape(-1, 2)[cells[side][heaviest]]
            point = np.append(place, ((low + high) / 2.0)[side][heaviest]) @ turn
            region = -1
            if len(locked):
                region = int(judged.region[locked[np.argmin(np.linalg.norm(middles - point, axis=1))]])
            out.append(
                Torn(joint.half(above), above, float(volumes[group]), _triple(point), float(gap[mine].max()), region)
            )
    return tuple(sorted(out, key=lambda torn: -torn.volume_mm3)[:MOST_PLACES])


def _triple(v: Floats) -> tuple[float, float, float]:
    return float(v[0]), float(v[1]), float(v[2])


def _grains(
    cells: Ints, low: Floats, high: Floats, cope: Bools, at: Floats, turn: Floats, step: float
) -> tuple[Floats, Floats, Bools]:
    """Points spread through the torn sand, for drawing it; the same at every call."""
    gap = high - low
    total = float(gap.sum())
    if total <= 0.0:
        return np.zeros((0, 3)), np.zeros(0), np.zeros(0, bool)
    noise = np.random.default_rng(5)
    count = int(min(MOST_POINTS, max(60, total / step)))
    which = np.minimum(np.searchsorted(np.cumsum(gap), np.sort(noise.random(count)) * total), len(gap) - 1)
    height = low[which] + gap[which] * noise.random(count)
    flat = at.reshape(-1, 2)[cells[which]] + step * (noise.random((count, 2)) - 0.5)
    lift = np.where(cope[which], high[which] - height, height - low[which])
    return np.column_stack([flat, height]) @ turn, lift, cope[which]


def _tilted(judged: Judged, joint: Joint, above: bool, rap_mm: float, askew_deg: float, name: str) -> Tilted | None:
    """One half lifted askew, the tilt growing evenly until it is clear.

    A point of the pattern that lies h under the joint is clear after a lift of h. Until then it moves with the draw
    and, by the tilt about a level axis through the middle of the half at the joint, against the sand: pressed in by
    h (angle (a x r) . n / depth - sin draft), less what rapping has loosened. First order in the angle, which is
    small.
    """
    own = np.flatnonzero((judged.above == above) & (judged.state != State.LOCKED) & (judged.draft_deg > LOOSE_DEG))
    if not len(own):
        return None
    way = joint.direction if above else -joint.direction  # from the joint into the half's sand
    middles, areas = judged.corners[own].mean(axis=1), areas_of(judged.corners)[own]
    crosses = np.cross(judged.corners[own, 1] - judged.corners[own, 0], judged.corners[own, 2] - judged.corners[own, 0])
    normals = crosses / np.maximum(np.linalg.norm(crosses, axis=1), 1e-300)[:, None]
    under = np.maximum(np.abs(joint.above(middles)), 0.0)
    depth = float(under.max())
    if depth <= 0.0:
        return None
    flat = middles @ np.stack([joint.u, joint.v]).T
    pivot_flat = (areas[:, None] * flat).sum(axis=0) / areas.sum()
    pivot = pivot_flat @ np.stack([joint.u, joint.v]) + joint.direction * joint.height_mm
    lean = normals @ way  # sine of the draft: positive where the wall draws
    level = np.sqrt(np.maximum(1.0 - lean**2, 0.0))
    most = np.zeros(len(own))
    for k in range(ROCKS):
        angle = 2.0 * np.pi * k / ROCKS
        axis = np.cos(angle) * joint.u + np.sin(angle) * joint.v
        most = np.maximum(most, np.einsum("ij,ij->i", np.cross(axis, middles - pivot), normals))
    theta = np.radians(askew_deg)
    loosened = rap_mm * level
    press = np.maximum(under * (theta * most / depth - lean) - loosened, 0.0)
    worst = int(np.argmax(press))
    with np.errstate(divide="ignore", invalid="ignore"):
        allowed = np.degrees(depth * (loosened / under + lean) / most)
    allowed = np.where((under > 1e-6) & (most > 1e-9), np.maximum(allowed, 0.0), 90.0)
    order = np.argsort(allowed)
    share = np.cumsum(areas[order]) / areas.sum()
    first = float(allowed[order][int(np.searchsorted(share, 0.005))])
    return Tilted(
        name, askew_deg, float((areas * press).sum()), float(press[worst]), _triple(middles[worst]), min(first, 90.0)
    )


def _drags(judged: Judged, joint: Joint) -> float:
    """The height (mm) over which walls with less draft than asked drag along the sand."""
    tight = judged.state == State.TIGHT
    if not tight.any():
        return 0.0
    return float(np.abs(joint.above(judged.corners[tight])).max())
