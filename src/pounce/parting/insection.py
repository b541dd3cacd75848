"""The mould in a section: the joint as a line, and the sand that has material in its way. Shared by the bench and
the sheet.
"""

from dataclasses import dataclass

import numpy as np

from pounce.parting.joint import Joint
from pounce.solid.mesh import Floats, Ints

COLUMNS = 320
# Points of the joint's line, and how far it runs beyond the part, as a share of the part's width.
LINE_POINTS, BEYOND = 240, 1.0


@dataclass(frozen=True)
class CutAsked:
    """``angle_deg`` turns the cut about the draw (below 0: whichever of two shows more material); ``share`` 0 to 1 is
    where along its normal it lies; ``pattern`` cuts the finished pattern in place of the part, ``stock`` the part
    with its additions, ``cores`` the casting in its mould with the cores set, ``rammed`` the finished pattern, judged,
    in the place of the part.
    """

    angle_deg: float = -1.0
    share: float = 0.5
    pattern: bool = False
    stock: bool = False
    cores: bool = False
    rammed: bool = False
    unit: str = "mm"


@dataclass(frozen=True, eq=False)
class Cut2D:
    """A cut to paint. All in mm; the first coordinate runs along the cut, the second up the draw.

    ``loops`` outlines of the part; ``marked`` (k, 2, 2) stretches that are tight or locked with ``state`` and
    ``region`` (k,); ``line`` (n, 2) the joint, ``locked`` (k, 5) strips of sand that cannot leave, ``labels``
    (words, along, height, state) of the longest stretches, ``whole`` whether the pattern stays whole, ``halves`` of
    the mould above and below the joint, ``drafts`` the least draft of the longest tight stretch and the draft asked;
    ``wanted`` outlines of the part before anything is added, ``bands`` what each line adds or takes, with its
    number, and ``band_labels`` (words, along, height, line); ``mould`` outlines of what the pattern with its prints
    leaves in the sand, ``cores`` those of each core, ``vents`` (from along, height, to along, height, width) that
    lie in the cut, ``core_labels`` (words, along, height); ``plan`` outlines of the part from above (first along the
    cut, second across it); ``offset`` across.
    """

    asked: CutAsked
    loops: tuple[Floats, ...]
    marked: Floats
    state: Ints
    region: Ints
    joint: float
    line: Floats
    locked: Floats
    labels: tuple[tuple[str, float, float, int], ...]
    whole: bool
    drafts: tuple[float, float] | None
    plan: tuple[Floats, ...]
    offset: float
    low: tuple[float, float]
    high: tuple[float, float]
    across_low: float
    across_high: float
    halves: tuple[str, str] = ("COPE", "DRAG")
    wanted: tuple[Floats, ...] = ()
    bands: tuple[tuple[int, tuple[Floats, ...]], ...] = ()
    band_labels: tuple[tuple[str, float, float, int], ...] = ()
    mould: tuple[Floats, ...] = ()
    cores: tuple[tuple[Floats, ...], ...] = ()
    vents: tuple[tuple[float, float, float, float, float], ...] = ()
    core_labels: tuple[tuple[str, float, float], ...] = ()


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
