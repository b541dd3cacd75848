"""Choices and results of the Parting stop."""

from dataclasses import dataclass
from enum import IntEnum, StrEnum
from typing import Literal

import msgspec
import numpy as np

from pounce.base.finding import Finding, Remedy, filled
from pounce.metals.tables import limits
from pounce.parting.joint import Joint
from pounce.solid.mesh import Bools, Floats, Ints, areas_of

# Locked crumbs under this share of the surface are within what a mesh can tell.
FREE = 5e-4
# How a part is moulded that lies whole on its open side; nobody chooses it.
PLAIN_BOARD = "plain-board"


class State(IntEnum):
    """What a face does when its half of the mould leaves."""

    CLEAN = 0
    TIGHT = 1
    LOCKED = 2


class Kind(StrEnum):
    """What a place is, however it is called."""

    FACE = "face"
    WALL = "wall"
    HOLLOW = "hollow"
    HOLE = "hole"
    BORE = "bore"
    ROUND = "round"
    GROOVE = "groove"

    @property
    def is_hole(self) -> bool:
        """Whether it is a round hole, upright or across."""
        return self in (Kind.HOLE, Kind.BORE)


class PartingChoices(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """``kind``: a plane, terraces, a joint that follows the part, or auto: a plane unless it locks more.

    ``height_mm`` of a flat joint, None: found by the scan. ``nudges`` hold single joints of a shaped parting level
    at a height: (0, mm) the ground outside, (1, mm) and on the windows, the largest first. ``moulded`` how a shaped
    joint is made in the sand. ``loose`` the places (mm, on the part) that become loose pieces, ``keyed`` how these
    are held; ``rap_mm`` rapping each way and ``tilt_deg`` how far hands lift askew set the trial draw;
    ``upside_down`` opens the mould turned over, so that the cope's sand stands and the drag's hangs; ``rammed`` the
    half a pattern with a flat back lies in; ``groove`` what makes a groove round the outside.
    """

    kind: Literal["auto", "flat", "natural", "stepped"] = "auto"
    height_mm: float | None = None
    nudges: tuple[tuple[int, float], ...] = ()
    moulded: Literal["follow-board", "cut-down", "false-pattern", "split"] = "follow-board"
    loose: tuple[tuple[float, float, float], ...] = ()
    keyed: Literal["pin", "dovetail"] = "pin"
    rap_mm: float = limits()["rap_each_way"].value
    tilt_deg: float = limits()["lift_askew"].value
    upside_down: bool = False
    rammed: Literal["drag", "cope"] = "drag"
    groove: Literal["", "ring-core", "cheek"] = ""


@dataclass(frozen=True)
class Ringed:
    """How a groove round the outside is made: at which place, from where to where along the draw it reaches, its
    neck, or why it is not.
    """

    how: Literal["ring-core", "cheek"]
    centre_mm: tuple[float, float, float] | None = None
    low_mm: float = 0.0
    high_mm: float = 0.0
    neck_mm: float = 0.0
    trouble: str = ""

    @property
    def core_at(self) -> tuple[float, float, float] | None:
        """Where a ring core is wanted; None where none is."""
        return self.centre_mm if self.how == "ring-core" and not self.trouble else None

    @property
    def cheek_mm(self) -> float:
        """How high the cheek is; 0 where none is wanted."""
        return self.high_mm - self.low_mm if self.how == "cheek" and not self.trouble else 0.0


@dataclass(frozen=True, eq=False)
class Judged:
    """The part's surface as pieces that each have one state, divided exactly at the joint.

    ``corners`` (k, 3, 3) mm, ``normals`` (k, 3, 3) for smooth drawing, ``face`` (k,) face of the part, ``state``
    (k,), ``region`` (k,) index of the region or -1, ``draft_deg`` (k,) angle to the draw on the side it leaves by,
    ``above`` (k,) whether it leaves with the cope.
    """

    corners: Floats
    normals: Floats
    face: Ints
    state: Ints
    region: Ints
    draft_deg: Floats
    above: Bools

    @property
    def areas_by_state(self) -> list[float]:
        """Area of each state, mm2."""
        areas = areas_of(self.corners)
        return [float(areas[self.state == state].sum()) for state in State]

    def only(self, kept: Bools) -> "Judged":
        """The pieces marked (k,)."""
        return Judged(
            self.corners[kept],
            self.normals[kept],
            self.face[kept],
            self.state[kept],
            self.region[kept],
            self.draft_deg[kept],
            self.above[kept],
        )


@dataclass(frozen=True)
class Region:
    """A place of one state: area, middle, least draft and the draft asked of it, a name in words, how it lies, and how
    many alike it stands for. ``ring_mm3`` the sand in a groove round the outside, ``groove_mm`` from where to where
    along the draw it reaches, and ``neck_mm`` the height of its floor's middle. ``held`` the share of a locked place
    at which sand is really held.
    """

    state: State
    area_mm2: float
    centre_mm: tuple[float, float, float]
    normal: tuple[float, float, float]
    least_draft_deg: float
    depth_mm: float
    name: str
    note: str
    asked_deg: float = 0.0
    kind: Kind = Kind.WALL
    count: int = 1
    diameter_mm: float = 0.0
    ring_mm3: float = 0.0
    groove_mm: tuple[float, float] = (0.0, 0.0)
    neck_mm: float = 0.0
    held: float = 1.0

    def holds(self, total_mm2: float) -> bool:
        """Whether sand is torn here for sure: over a share of the whole surface ``total_mm2`` that no mesh's noise
        has.
        """
        return self.state is State.LOCKED and self.held * self.area_mm2 > FREE * total_mm2

    @property
    def cheek_mm(self) -> float:
        """How high a cheek is that makes a groove round the outside."""
        return self.groove_mm[1] - self.groove_mm[0]

    def words(self, shown: str = "mm") -> str:
        """The name with its diameter in the reader's units."""
        return filled(self.name, {"diameter_mm": self.diameter_mm}, shown)


@dataclass(frozen=True, eq=False)
class CutDown:
    """The sand to cut away: greatest depth and width (mm), volume (mm3), and the surface (ny, nx) left, over ``low`` +
    ``step``.

    ``level_mm`` is where the sand stands first.
    """

    depth_mm: float
    width_mm: float
    volume_mm3: float
    surface: Floats
    low: Floats
    step: float
    level_mm: float


@dataclass(frozen=True)
class Torn:
    """One place where sand tears: in which half, how much (mm3), where, from what lift on and until which (mm).

    ``above`` whether that half lies above the joint along the draw.
    """

    half: str
    above: bool
    volume_mm3: float
    at_mm: tuple[float, float, float]
    clear_mm: float
    region: int


@dataclass(frozen=True)
class Tilted:
    """Lifting askew: the sand pressed (mm3), how deep at most (mm) and where, and how far askew hands may go
    (degrees).
    """

    half: str
    askew_deg: float
    pressed_mm3: float
    deepest_mm: float
    at_mm: tuple[float, float, float]
    allowed_deg: float


@dataclass(frozen=True, eq=False)
class Trial:
    """``lifts_mm`` (k,) with the sand torn by then in ``cope_mm3`` and ``drag_mm3`` (k,).

    ``grains`` (g, 3) points of torn sand on the part's own frame, ``grain_lift`` (g,) the lift at which each comes
    loose, ``grain_cope`` (g,) whether it was in the cope. ``drags_mm`` the height over which tight walls drag.
    """

    lifts_mm: Floats
    cope_mm3: Floats
    drag_mm3: Floats
    places: tuple[Torn, ...]
    grains: Floats
    grain_lift: Floats
    grain_cope: Bools
    tilted: tuple[Tilted, ...]
    drags_mm: float

    @property
    def torn_mm3(self) -> float:
        """All sand torn once both halves are clear."""
        return float(self.cope_mm3[-1] + self.drag_mm3[-1])


@dataclass(frozen=True)
class LoosePiece:
    """A piece that stays in the sand when the main pattern leaves, and is then drawn sideways into its cavity.

    ``at_mm`` the place it was asked for, ``way`` (3,) unit the way it is drawn, ``travel_mm`` how far; ``corners``
    of the box it is cut by as (u, v) places, ``from_mm`` to ``to_mm`` along the draw; ``cope`` which half it stays
    in.
    """

    at_mm: tuple[float, float, float]
    way: tuple[float, float, float]
    travel_mm: float
    corners: tuple[tuple[float, float], ...]
    from_mm: float
    to_mm: float
    cope: bool
    name: str


@dataclass(frozen=True, eq=False)
class PartingResult:
    """The joint and the state of every face. ``outline`` are the loops (n, 3) where the joint meets the part.

    ``relief_mm`` how far the line rises and falls along the draw, ``slope_deg`` the steepest sand in the joint,
    ``missed`` the share of the rim it could not follow and ``astray_mm`` how far off faces may then lie,
    ``cures`` of the largest places that lock, by their region,
    in the order to try them, ``moulded`` how a joint that is no plane is made: as chosen, or on a plain board, which
    is all that a part wants that lies whole on its open side, ``asked_deg`` (m,) draft asked of each face,
    ``windows`` inner joints, ``rim_below_mm`` how far under a rounded rim it runs, ``lead_mm`` how far a pattern whose
    walls wind round the draw is drawn in one turn, under 0 to the left, 0 where they do not wind.
    """

    kind: str
    chosen_by: str
    moulded: str
    joint: Joint
    trial: Trial
    cut_down: CutDown | None
    upside_down: bool
    keyed: str
    rap_mm: float
    relief_mm: float
    slope_deg: float
    missed: float
    windows: int
    astray_mm: float | None
    rim_below_mm: float
    height_mm: float
    best_height_mm: float
    outline: tuple[Floats, ...]
    length_mm: float
    judged: Judged
    clean_mm2: float
    tight_mm2: float
    locked_mm2: float
    locked_any_mm2: float
    least_draft_deg: float
    required_draft_deg: float
    asked_deg: Floats
    cope_depth_mm: float
    drag_depth_mm: float
    regions: tuple[Region, ...]
    loose: tuple[LoosePiece, ...]
    ringed: Ringed | None
    cures: dict[int, tuple[Remedy, ...]]
    findings: tuple[Finding, ...]
    lead_mm: float = 0.0

    @property
    def on_plain_board(self) -> bool:
        """Whether it lies whole on its level rim: only sand dips into that, so a plain board carries it."""
        return not self.joint.level and self.moulded == PLAIN_BOARD

    @property
    def board_for_drag(self) -> bool:
        """Whether less of the part lies in the drag, so that a plain board takes its place while the cope is rammed."""
        return self.drag_depth_mm < self.cope_depth_mm

    @property
    def area_mm2(self) -> float:
        """The whole surface, mm2."""
        return self.clean_mm2 + self.tight_mm2 + self.locked_mm2

    @property
    def shown_state(self) -> Ints:
        """(k,) the state of each piece as it is shown: crumbs that lock but hold no sand only rub."""
        holds = np.array([*(region.holds(self.area_mm2) for region in self.regions), False])
        crumb = (self.judged.state == State.LOCKED) & ~holds[self.judged.region]
        return np.where(crumb, State.TIGHT, self.judged.state).astype(np.int64)

    @property
    def shown_areas(self) -> tuple[float, float, float]:
        """Area of each state as it is shown, mm2: clean, tight, locked."""
        freed = {piece.at_mm for piece in self.loose}
        holds = [one for one in self.regions if one.holds(self.area_mm2) and one.centre_mm not in freed]
        locked = min(sum(one.area_mm2 for one in holds), self.locked_mm2)
        return self.clean_mm2, self.tight_mm2 + self.locked_mm2 - locked, locked


def tears(parting: PartingResult) -> bool:
    """Whether more sand tears than the crumbs of a mesh."""
    return any(finding.code == "sand-tears" for finding in parting.findings)


def held_mm2(parting: PartingResult) -> float:
    """Surface at which sand is really held, mm2: what loose pieces free is not among it."""
    total = parting.area_mm2
    freed = {piece.at_mm for piece in parting.loose}
    return float(sum(r.held * r.area_mm2 for r in parting.regions if r.holds(total) and r.centre_mm not in freed))
