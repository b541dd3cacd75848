"""Choices and results of the Pattern stop."""

from dataclasses import dataclass
from typing import Literal

import msgspec

from pounce.base.finding import Finding
from pounce.metals.tables import limits
from pounce.pattern.making.values import Making
from pounce.solid.mesh import Floats, Mesh


class PatternChoices(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """``dowels``: loose ones in holes of both halves, short pins grown on the cope half, or none.

    ``dowel_mm`` is the nominal diameter of the thicker dowel (None: by the size of the joint); ``draw_screw``
    whether each half gets a hole for one; ``numbers`` whether pair numbers are cut into the mating faces; ``stl`` whether STL files
    are written beside the 3MF. Printed: ``bed_mm`` of the printer, its layer, walls (lines) and how much is filled inside,
    ``test_piece`` to try draft and text in the sand. Wood: the timber, the thickest planed board, the boards it is cut from and the
    room a side to plane. Foam: the sheet and what the wire melts away. ``paper`` for templates; ``rule`` whether a contraction rule
    is drawn.
    """

    dowels: Literal["loose", "pins", "none"] = "loose"
    dowel_mm: float | None = None
    draw_screw: bool = True
    stl: bool = False
    numbers: bool = True
    bed_mm: tuple[float, float, float] = (220.0, 220.0, 250.0)
    layer_mm: float = 0.2
    walls: int = 4
    inside_percent: float = 20.0
    test_piece: bool = False
    timber: str = "lime"
    board_mm: float = 18.0
    board_wide_mm: float = 150.0
    board_long_mm: float = 1200.0
    room_mm: float = 1.5
    sheet_mm: float = 50.0
    kerf_mm: float = limits()["foam_kerf"].value
    paper: Literal["A4", "A3", "letter"] = "A4"
    rule: bool = True


@dataclass(frozen=True, eq=False)
class Hole:
    """A hole from the joint into a half. ``at_mm`` (3,) on the joint, ``into`` unit (3,)."""

    purpose: str
    at_mm: Floats
    into: Floats
    radius_mm: float
    depth_mm: float


@dataclass(frozen=True, eq=False)
class Pin:
    """A short pin on the cope half, standing proud of the joint."""

    at_mm: Floats
    along: Floats
    radius_mm: float
    proud_mm: float


@dataclass(frozen=True, eq=False)
class Piece:
    """A piece of the pattern in the part's own frame, and laid for making: split face down on z = 0."""

    role: str
    name: str
    mesh: Mesh
    laid: Mesh
    volume_mm3: float
    holes: tuple[Hole, ...]
    pins: tuple[Pin, ...]


@dataclass(frozen=True, eq=False)
class PatternResult:
    """The pattern. ``factor`` is pattern size over part size along the draw, ``factors`` along x, y and z."""

    factor: float
    factors: tuple[float, float, float]
    pieces: tuple[Piece, ...]
    size_mm: tuple[float, float, float]
    dowel_mm: tuple[float, ...]
    height_mm: float
    making: Making
    findings: tuple[Finding, ...]
