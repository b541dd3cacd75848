"""Feeders beside a casting, on its gate: where the joint leaves room for one, and whether gates find room beside those
that stand on the casting.
"""

import math
from dataclasses import dataclass

import numpy as np
from scipy import ndimage

from pounce.feeding.ways import COST, widest_share
from pounce.field.arrays import Field, Flags
from pounce.freeze.spots import Spot
from pounce.freeze.values import Block, Frozen, Round, Stuff
from pounce.metals.heat import heat
from pounce.rig.feeders import LEAST_NECK_MM
from pounce.rig.places import WALL_SHARE
from pounce.solid.mesh import Floats

# The outline's way out is taken over so much of it, mm; of a neck's width so much is to be backed by metal.
SMOOTH_MM, BACKED = 4.0, 0.8


@dataclass(frozen=True, eq=False)
class Outline:
    """The casting where the joint cuts it: cells of its rim (k, 2) as j, i, their ways out (k, 2) as x, y, and what
    metal hangs together over and under the joint (ny, nx), mm.
    """

    rim: Floats
    out: Floats
    up_mm: Field
    down_mm: Field
    within: Flags


def outline_of(made: Frozen) -> Outline | None:
    """At the level joint z = 0; None where the casting does not meet it."""
    cells, casting = made.laid.cells, made.laid.casting > 0
    joint = round(-float(cells.low[2]) / cells.step)
    if not 0 < joint < cells.shape[0]:
        return None
    up = np.cumprod(casting[joint:], axis=0).sum(axis=0) * cells.step
    down = np.cumprod(casting[joint - 1 :: -1], axis=0).sum(axis=0) * cells.step
    within = (up > 0.0) | (down > 0.0)
    rim = within & ~ndimage.binary_erosion(within)
    if not rim.any():
        return None
    smooth = ndimage.gaussian_filter(within.astype(float), max(SMOOTH_MM / cells.step, 1.0))
    dj, di = np.gradient(smooth)
    at = np.argwhere(rim)
    out = -np.stack([di[rim], dj[rim]], axis=1)
    out /= np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-9)
    return Outline(at.astype(float), out, up, down, within)


def gateable(made: Frozen, rounds: list[Round], chills: list[Block], gate_mm: tuple[float, float]) -> bool:
    """Whether a gate so wide and thick still finds room on the outline, beside feeders that stand on the casting and
    chills.
    """
    line = outline_of(made)
    if line is None:
        return True
    cells, c = made.laid.cells, heat().common
    x = cells.low[0] + (line.rim[:, 1] + 0.5) * cells.step
    y = cells.low[1] + (line.rim[:, 0] + 0.5) * cells.step
    free = WALL_SHARE * _room(line) >= gate_mm[1] - cells.step / 2.0
    free &= _backed(line, gate_mm[0], cells.step)
    for one in rounds:
        if one.beside is not None:
            return True  # the metal runs in through it
        reach = one.wide_mm / 2.0 + one.sleeve_mm + c.gate_from_feeder.value
        free &= np.hypot(x - one.foot_mm[0], y - one.foot_mm[1]) > reach
    for chill in chills:
        free &= np.hypot(x - chill.at_mm[0], y - chill.at_mm[1]) > chill.side_mm / 2.0 + c.gate_from_feeder.value
    return bool(free.any())


def _room(line: Outline) -> Field:
    """(k,) the higher of the walls over and under the joint, mm."""
    return np.maximum(_at(line.down_mm, line, -2.0), _at(line.up_mm, line, -2.0))


def beside(made: Frozen, spot: Spot, sized: Round, taken: list[Round], top_mm: float) -> Round | None:
    """A feeder of this size, neck and sleeve on the best place of the outline, in a cope so high; None where no open
    way leads to one with sand for it.
    """
    line = outline_of(made)
    if line is None:
        return None
    cells, c = made.laid.cells, heat().common
    step = cells.step
    neck_long = c.neck_side.value
    reach = neck_long + sized.sleeve_mm + sized.wide_mm / 2.0
    held = ((made.laid.casting > 0) | (made.laid.kinds == Stuff.CORE)).any(axis=0)
    free = _free(line, held, step, sized, neck_long)
    open_, ways = widest_share(made, spot), np.zeros(len(line.rim))
    drag = _at(line.down_mm, line, -2.0) > _at(line.up_mm, line, -2.0)
    joint = round(-float(cells.low[2]) / step)
    layers = max(round(sized.neck_mm / step), 1)
    deepest = max(round(sized.neck_mm / 2.0 / step), 2)
    over = open_[joint : joint + layers].max(axis=0)
    under = open_[max(joint - layers, 0) : joint].max(axis=0)
    for deep in range(deepest + 1):
        ways = np.maximum(ways, np.where(drag, _at(under, line, -float(deep)), _at(over, line, -float(deep))))
    room = WALL_SHARE * _room(line)
    may = (
        free
        & (ways >= c.way_open.value)
        & (room >= min(LEAST_NECK_MM, sized.neck_mm))
        & _backed(line, sized.neck_mm, step)
    )
    x = cells.low[0] + (line.rim[:, 1] + 0.5) * step + line.out[:, 0] * step / 2.0
    y = cells.low[1] + (line.rim[:, 0] + 0.5) * step + line.out[:, 1] * step / 2.0
    middle = np.stack([x, y], axis=1) + line.out * reach
    for one in taken:
        gap = (one.wide_mm + sized.wide_mm) / 2.0 + one.sleeve_mm + sized.sleeve_mm + neck_long
        may &= np.hypot(middle[:, 0] - one.foot_mm[0], middle[:, 1] - one.foot_mm[1]) > gap
    if not may.any():
        return None
    size = max(float(np.ptp(x)), float(np.ptp(y)), 1.0)
    off = np.hypot(x - spot.at_mm[0], y - spot.at_mm[1]) / size
    best = int(np.argmin(np.where(may, COST * np.maximum(0.85 - ways, 0.0) + off, np.inf)))
    high = min(sized.neck_mm, float(room[best]))
    # drawn from the joint, it may be blind where the cope is much higher than it needs to be
    open_air = top_mm <= c.blind_from.value * sized.high_mm
    return Round(
        (float(middle[best, 0]), float(middle[best, 1]), -high if drag[best] else 0.0),
        sized.wide_mm,
        sized.high_mm + high,
        sized.neck_mm,
        neck_long,
        open_air,
        sized.sleeve_mm,
        (float(x[best]), float(y[best])),
        high,
    )


def _at(plan: Field | Flags, line: Outline, cells_out: float, aside: float = 0.0) -> Field:
    """(k,) of a plan (ny, nx) so many cells out from each place of the rim, and aside; 0 beyond the grid."""
    i = np.rint(line.rim[:, 1] + cells_out * line.out[:, 0] - aside * line.out[:, 1]).astype(int)
    j = np.rint(line.rim[:, 0] + cells_out * line.out[:, 1] + aside * line.out[:, 0]).astype(int)
    ny, nx = plan.shape
    inside = (i >= 0) & (i < nx) & (j >= 0) & (j < ny)
    return np.where(inside, plan[np.clip(j, 0, ny - 1), np.clip(i, 0, nx - 1)], 0.0)


def _free(line: Outline, held: Flags, step: float, sized: Round, neck_long: float) -> Flags:
    """Whether sand lies where the neck and the feeder would."""
    free = np.ones(len(line.rim), np.bool_)
    long = neck_long + sized.wide_mm + 2.0 * sized.sleeve_mm + heat().common.feeder_runner.value
    for k in range(2, math.ceil(long / step) + 1):
        half = (sized.neck_mm if k * step < neck_long else sized.wide_mm + 2.0 * sized.sleeve_mm) / 2.0 / step
        for aside in (-half, -half / 2.0, 0.0, half / 2.0, half):
            free &= _at(held, line, float(k), aside) < 0.5
    return free


def _backed(line: Outline, neck_mm: float, step: float) -> Flags:
    """Whether a neck finds metal behind nearly all of its width."""
    half = BACKED * neck_mm / 2.0 / step
    asides = np.linspace(-half, half, 5)
    return np.asarray(np.mean([_at(line.within, line, -2.0, float(a)) for a in asides], axis=0) >= BACKED)
