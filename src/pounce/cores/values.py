"""Choices and results of the Cores stop."""

from dataclasses import dataclass, field
from typing import Final, Literal

import msgspec
import numpy as np

from pounce.base.finding import Finding, filled
from pounce.metals.tables import limits
from pounce.solid.mesh import Floats, Mesh

Place = tuple[float, float, float]
# A straight way for the vent wire: from the end of a print inward, and whether it comes out at another print's end.
Vent = tuple[Place, Place, bool]
# How a hollow is made: by a core, in green sand as it is, filled and drilled after casting, or by a loose piece.
How = Literal["core", "sand", "drill", "loose"]
HOWS: Final = {"core": "Core", "sand": "Green sand makes it", "drill": "Fill and drill", "loose": "Loose piece"}
Box = Literal["split", "half", "tube"]
# A lying print is at most so many times as wide as its opening, and no print leans more than this.
WIDEST, STEEPEST_DEG = 3.0, 20.0


class HollowChoice(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What becomes of the hollow at ``at_mm`` (on the part), and the figures of its core; None: by the table.

    ``drag_mm``, ``cope_mm`` and ``side_mm`` lengths of prints that stand in the drag, reach into the cope or lie in
    the joint; ``draft_deg`` of the hollow's own walls in the box, taken from the core; ``closed`` (places) openings
    that get no print and are closed flush; ``key`` whether a flat lets it in one way only; ``wide`` how many times
    as wide as its opening a lying print is (None: as wide), so that a short one balances.
    """

    at_mm: Place
    make: How = "core"
    drag_mm: float | None = None
    cope_mm: float | None = None
    side_mm: float | None = None
    drag_taper_deg: float | None = None
    cope_taper_deg: float | None = None
    clearance_mm: float | None = None
    vent_mm: float | None = None
    box: Box = "split"
    closed: tuple[Place, ...] = ()
    key: bool = True
    wide: float | None = None
    draft_deg: float | None = None


class CoreChoices(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """``hollows`` what was said of each; ``mix`` the core sand; ``longest_mm`` the longest piece the box maker's
    printer takes; ``on_end`` closes the mould and stands it on end before pouring, so that lying cores stand;
    ``every`` makes a core of every hollow that locks and of which nothing else was said.
    """

    hollows: tuple[HollowChoice, ...] = ()
    mix: str = "silicate-gassed"
    longest_mm: float = limits()["core_longest"].value
    on_end: bool = False
    every: bool = False


@dataclass(frozen=True)
class Offer:
    """A hollow that a core could make: where, what it is called, why it is offered, how it is made now ("" undecided),
    and which of the cores makes it (-1 none); ``is_round_bore`` whether it goes straight through and is round, so that
    a bar bores it; ``holes`` how many small ones run into it from outside, which are drilled, ``only_holes`` whether
    nothing of it but these locks.
    """

    at_mm: Place
    name: str
    why: str
    make: str
    volume_mm3: float
    locked_mm2: float
    openings: int
    core: int = -1
    figures: dict[str, float] = field(default_factory=dict)
    is_round_bore: bool = False
    holes: int = 0
    only_holes: bool = False

    def words(self, shown: str = "mm") -> str:
        """Its name in the reader's units."""
        return filled(self.name, self.figures, shown)


@dataclass(frozen=True, eq=False)
class Print:
    """A core print: ``kind`` side, drag, cope, tail or ring; ``axis`` (3,) out of the hollow; ``at_mm`` its seat's
    middle; ``length_mm`` beyond the part; ``width_mm`` over its seat; ``bearing_mm2`` area that holds against up and
    down; ``taper_deg``; ``clearance_mm``; ``keyed``. ``hold`` which way it bears: (up, down). ``rim_mm`` of a ring
    about ``axis`` through ``at_mm``: where it begins, away from the axis.
    """

    kind: str
    axis: Floats
    at_mm: Floats
    length_mm: float
    width_mm: float
    bearing_mm2: tuple[float, float]
    taper_deg: float
    clearance_mm: float
    keyed: bool = False
    pattern: Mesh | None = None
    core: Mesh | None = None
    rim_mm: float = 0.0

    def beyond(self, points: Floats) -> Floats:
        """(k,) how far points (k, 3) lie beyond the part along the print, mm; under 0 inside it."""
        rel = points - self.at_mm
        along = rel @ self.axis
        if self.kind != "ring":
            return np.asarray(along)
        return np.asarray(np.linalg.norm(rel - np.outer(along, self.axis), axis=1) - self.rim_mm)


@dataclass(frozen=True, eq=False)
class BoxPart:
    """A part of a core box: name, its solid in the core's own place, and the turn (3, 3) that lays it with its
    hollow up.
    """

    name: str
    mesh: Mesh
    lay: Floats


@dataclass(frozen=True, eq=False)
class CoreBox:
    """A core box: ``pull`` (3,) the way its upper half leaves, ``height_mm`` of its joint along it, ``ram`` (3,) out of
    the end that is open for ramming; ``locked_mm2`` and ``tight_mm2`` of the core's surface in it; ``twice`` whether
    one half serves for both; ``core`` the piece of the core it makes; ``refused`` why it is not of the style that
    was asked for.
    """

    style: str
    parts: tuple[BoxPart, ...]
    pull: Floats
    height_mm: float
    ram: Floats
    locked_mm2: float
    tight_mm2: float
    twice: bool
    core: Mesh
    size_mm: tuple[float, float, float]
    dowels: tuple[tuple[Place, float], ...]
    refused: str = ""


@dataclass(frozen=True, eq=False)
class Loads:
    """What bears on a core, N, mm, MPa: lift when poured, own weight, what its prints hold, bending, sag and
    unevenness.

    ``tip_mm`` how far the free end of a core with one lying print may shift by its play, 0 for others.
    """

    volume_mm3: float
    weight_n: float
    lift_n: float
    bearing_up_mm2: float
    bearing_down_mm2: float
    pressure_kpa: float
    allowed_kpa: float | None
    span_mm: float
    free_ratio: float
    sag_mm: float
    stress_mpa: float
    strength_mpa: float
    wall_mm: float | None
    tip_mm: float
    tips: bool
    steady_mm: float | None
    chaplet_n: float
    chaplet_mm: float
    vent_way_mm: float
    shakeout: float


@dataclass(frozen=True, eq=False)
class Core:
    """One core: ``place_mm`` by which it is asked for, ``hollow`` what it makes (mm, part size), ``mesh`` the whole
    core with its prints, its faces tagged by the print they are on, ``prints``, ``boxes`` (one a piece), ``vents``
    straight vent ways through it; ``draft_deg`` its walls have in the box (0: none asked or wanted), ``draft_mm3``
    the metal that leaves; the sand, binder and water to weigh out.
    """

    name: str
    at_mm: Place
    place_mm: Place
    hollow: Mesh
    mesh: Mesh
    prints: tuple[Print, ...]
    boxes: tuple[CoreBox, ...]
    vents: tuple[Vent, ...]
    vent_mm: float
    loads: Loads
    sand_kg: float
    binder_kg: float
    water_kg: float
    symmetric: bool
    draft_deg: float = 0.0
    draft_mm3: float = 0.0

    @property
    def make_kg(self) -> float:
        """All of it, with a tenth over for ramming."""
        return self.sand_kg + self.binder_kg + self.water_kg


@dataclass(frozen=True, eq=False)
class CoresResult:
    """The part with its cored hollows filled and the prints on, before contraction.

    ``mesh`` its faces are tagged as in Stock, and with the print they are on and which of the offers they are the
    wall of; ``offers`` every hollow worth a word; ``cores``; ``clearance_mm3`` what lies between cores and mould.
    """

    mesh: Mesh
    offers: tuple[Offer, ...]
    cores: tuple[Core, ...]
    clearance_mm3: float
    on_end: bool
    findings: tuple[Finding, ...]

    @property
    def prints(self) -> tuple[Print, ...]:
        """All prints, in the order of the tags ``print``."""
        return tuple(core_print for core in self.cores for core_print in core.prints)
