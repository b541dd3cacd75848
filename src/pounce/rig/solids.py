"""What is cut for the metal, as solids: gates rooted in the casting, runner, well, sprue and cup.

Pieces are united by overlap, never where they only touch: turned a little, the solid library keeps both faces.
"""

import itertools
import math
from dataclasses import dataclass

import manifold3d
import numpy as np

from pounce.base.errors import UserFault
from pounce.metals.pouring import pouring
from pounce.rig.sections import Sections
from pounce.rig.values import Half
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.mesh import Floats

# A gate is rooted so deep until nearly all of its section meets metal, mm.
ROOTS_MM, CONTACT_SHARE, WALL_SHARE = (1.0, 2.5, 4.5, 7.0, 10.0), 0.9, 0.6
SIDES = 24
# Crumbs under this volume (mm3) are left out; pieces reach this far into one another, mm.
CRUMB_MM3, LAP_MM = 1e-3, 0.5
# A whirl trap stands this many runner heights over it, or under one that is cut in the cope.
TRAP_OVER, TRAP_UNDER = 0.8, 0.3


@dataclass(frozen=True, eq=False)
class Cutting:
    """A gate before it is cut: (3,) where it meets the casting and the runner, its outward way (2,), and which casting
    it is of.
    """

    at: Floats
    to: Floats
    out: Floats
    casting: int
    half: Half


def stud(at: Floats, wide_mm: float, high_mm: float, half: Half) -> Floats:
    """(2 n, 3) corners of a round stud that leans by the runner's draft, from the joint up or down."""
    lean = high_mm * math.tan(math.radians(pouring().common.runner_draft.value))
    turn = 2.0 * np.pi * np.arange(SIDES) / SIDES
    ring = np.stack([np.cos(turn), np.sin(turn)], axis=1)
    way = 1.0 if half == "cope" else -1.0
    low = np.column_stack([ring * wide_mm / 2.0, np.zeros(SIDES)])
    high = np.column_stack([ring * (wide_mm / 2.0 - lean), np.full(SIDES, way * high_mm)])
    return np.asarray(np.vstack([low, high]) + at)


def bars(line: Floats, wide_mm: float, high_mm: float, half: Half) -> list[Solid]:
    """A runner along points (k, 3): hulls from stud to stud."""
    studs = [stud(at, wide_mm, high_mm, half) for at in line]
    return [boolean.hull_tool(np.vstack([one, two])) for one, two in itertools.pairwise(studs)]


def slot(cutting: Cutting, s: Sections, root_mm: float) -> Solid:
    """A gate from ``root_mm`` inside the casting to the middle of the runner."""
    lean = s.gate_thick * math.tan(math.radians(pouring().common.runner_draft.value))
    side = np.array([-cutting.out[1], cutting.out[0], 0.0])
    way = np.array([0.0, 0.0, 1.0 if cutting.half == "cope" else -1.0])
    inner = cutting.at - root_mm * np.array([*cutting.out, 0.0])
    corners = [
        end + sign * side * (s.gate_wide / 2.0 - lift * lean) + lift * s.gate_thick * way
        for end in (inner, cutting.to)
        for sign in (-1.0, 1.0)
        for lift in (0.0, 1.0)
    ]
    return boolean.hull_tool(np.array(corners))


def link(cutting: Cutting, s: Sections) -> Solid:
    """Where a gate crosses from its half to a runner in the other: a block that reaches into both."""
    side = np.array([-cutting.out[1], cutting.out[0], 0.0])
    way = np.array([*cutting.out, 0.0])
    wide, long = 0.8 * s.gate_wide / 2.0, 0.4 * s.runner_wide
    deep = min(s.gate_thick, s.runner_high) / 2.0
    corners = [
        cutting.to + a * side * wide - (0.2 + b) * way * long / 2.0 + c * np.array([0.0, 0.0, deep])
        for a in (-1.0, 1.0)
        for b in (0.0, 1.0)
        for c in (-1.0, 1.0)
    ]
    return boolean.hull_tool(np.array(corners))


def contact(piece: Solid, casting: Solid) -> float:
    """Area (mm2) over which a piece meets the casting: (A(s - P) + A(s and P) - A(s))/2."""
    inside, outside = piece.split(casting)
    return float(inside.surface_area() + outside.surface_area() - piece.surface_area()) / 2.0


def rooted(cutting: Cutting, s: Sections, casting: Solid, wall_mm: float) -> tuple[Solid, float]:
    """The gate, rooted as deep as it takes but never through the wall, and its contact with the metal (mm2)."""
    wanted = CONTACT_SHARE * _section(s)
    best: tuple[Solid, float] | None = None
    for root in (min(root, WALL_SHARE * wall_mm) for root in ROOTS_MM):
        piece = slot(cutting, s, root)
        area = contact(piece, casting)
        if best is None or area > best[1] + 0.01 * wanted:
            best = (piece, area)
        if area >= wanted:
            break
    assert best is not None
    return best


def _section(s: Sections) -> float:
    return (s.gate_wide - s.gate_thick * math.tan(math.radians(pouring().common.runner_draft.value))) * s.gate_thick


def sprue_solids(at: tuple[float, float], s: Sections, cut: bool) -> tuple[Solid, Solid, Solid | None]:
    """The sprue, the well under it, and a cup that is cut in the cope (None where it is set on)."""
    x, y = at
    up = np.array([0.0, 0.0, 1.0])
    sprue = boolean.rod(np.array([x, y, -LAP_MM]), up, s.sprue_high + LAP_MM, s.foot / 2.0, s.top / 2.0)
    well = boolean.rod(np.array([x, y, -s.well_deep]), up, s.well_deep + LAP_MM, s.well / 2.0)
    cup = None
    if cut:
        start = np.array([x, y, s.sprue_high - LAP_MM])
        cup = boolean.rod(start, up, s.basin + LAP_MM, s.top / 2.0, s.cup / 2.0)
    return sprue, well, cup


def trap_solid(at: Floats, wide_mm: float, runner_high: float, half: Half, only: Half | None = None) -> Solid:
    """A whirl trap, (3,) its middle at the joint: as deep as the runner in its half and up into the cope, where the
    dirt rises; ``only`` the share of one half.
    """
    low = runner_high if half == "drag" else TRAP_UNDER * runner_high
    high = (TRAP_OVER if half == "drag" else 1.0 + TRAP_OVER) * runner_high
    low, high = (0.0 if only == "cope" else low), (0.0 if only == "drag" else high)
    return boolean.rod(at - [0.0, 0.0, low], np.array([0.0, 0.0, 1.0]), low + high, wide_mm / 2.0)


def reach_of(s: Sections, whirls: bool) -> tuple[float, float]:
    """How far the runner and its traps stand over and under the joint, mm."""
    high = s.runner_high
    if s.runner_half == "drag":
        return TRAP_OVER * high if whirls else 0.0, high
    return (1.0 + TRAP_OVER) * high if whirls else high, TRAP_UNDER * high if whirls else 0.0


def gating_of(pieces: list[Solid], castings: list[Solid]) -> Solid:
    """All that is cut for the metal, without the castings. UserFault where it comes out broken."""
    whole = boolean.united(pieces)
    left = boolean.without(whole, castings)
    bodies = [body for body in left.decompose() if abs(float(body.volume())) > CRUMB_MM3]
    if not bodies:
        raise UserFault("The gates came out empty.", "Move the casting or the sprue a little.")
    return boolean.checked(manifold3d.Manifold.compose(bodies), "Cutting the gates")
