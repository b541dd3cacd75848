"""The mould in a section: the joint as a line, and the sand that has material in its way. Shared by the bench and
the sheet.
"""

import numpy as np

from pounce.parting.joint import Joint
from pounce.solid.mesh import Floats

COLUMNS = 320
# Points of the joint's line, and how far it runs beyond the part, as a share of the part's width.
LINE_POINTS, BEYOND = 240, 1.0


def joint_line(joint: Joint, u: Floats, across_axis: Floats, offset: float, low: float, high: float) -> Floats:
    """(n, 2): the joint along a cut, as places along ``u`` and heights; ``offset`` is the cut's place along
    ``across_axis``.
    """
    wide = BEYOND * (high - low)
    along = np.linspace(low - wide, high + wide, 2 if joint.level else LINE_POINTS)
    points = along[:, None] * u + offset * across_axis
    places = np.stack([points @ joint.u, points @ joint.v], axis=1)
    return np.column_stack([along, joint.at(places)])


def locked_sand(loops: tuple[Floats, ...], line: Floats) -> Floats:
    """(k, 5): narrow upright strips of sand that cannot leave: from and to along the cut, from and to in height, 1 for
    the cope.

    ``loops`` (n, 2) are the outlines of the part in the cut, holes by the even-odd rule.
    """
    if not loops:
        return np.zeros((0, 5))
    starts = np.concatenate([loop[:-1] for loop in loops])
    ends = np.concatenate([loop[1:] for loop in loops])
    low, high = starts[:, 0].min(), starts[:, 0].max()
    edges = np.linspace(low, high, COLUMNS + 1)
    middles = (edges[1:] + edges[:-1]) / 2.0
    joint = np.interp(middles, line[:, 0], line[:, 1])
    least, most = np.minimum(starts[:, 0], ends[:, 0]), np.maximum(starts[:, 0], ends[:, 0])
    out = []
    hair = 1e-4 * max(float(high - low), 1e-9)
    for column, (x, h) in enumerate(zip(middles, joint, strict=True)):
        hit = np.flatnonzero((least <= x) & (most > x))
        if len(hit) < 2:
            continue
        a, b = starts[hit], ends[hit]
        z = np.sort(a[:, 1] + (x - a[:, 0]) / (b[:, 0] - a[:, 0]) * (b[:, 1] - a[:, 1]))
        z = z[: len(z) // 2 * 2]
        floors, ceilings = np.r_[-np.inf, z[1::2]], np.r_[z[0::2], np.inf]
        for floor, ceiling in zip(floors, ceilings, strict=True):
            if np.isfinite(ceiling) and ceiling - max(floor, h) > hair:
                out.append((edges[column], edges[column + 1], max(floor, h), ceiling, 1.0))
            if np.isfinite(floor) and min(ceiling, h) - floor > hair:
                out.append((edges[column], edges[column + 1], floor, min(ceiling, h), 0.0))
    return np.array(out).reshape(-1, 5)


def side_of(line: Floats, above: bool, reach: float) -> Floats:
    """(n, 2): the closed outline of everything above (or below) the joint's line, for clipping; ``reach`` how far it
    goes.
    """
    far = line[:, 1].max() + reach if above else line[:, 1].min() - reach
    return np.concatenate([line, [[line[-1, 0], far], [line[0, 0], far], line[0]]])
