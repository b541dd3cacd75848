"""Choices and results of the Pattern stop."""

from dataclasses import dataclass, field, replace
from enum import StrEnum
from typing import Literal

import msgspec
import numpy as np
from shapely.geometry.base import BaseGeometry

from pounce.base.finding import Finding
from pounce.metals.tables import limits
from pounce.pattern.making.values import Making
from pounce.solid.mesh import Floats, Mesh


class PatternChoices(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """``dowels``: loose ones in holes of both halves, short pins grown on the cope half, or none.

    ``dowel_mm`` is the nominal diameter of the thicker dowel (None: by the size of the joint), ``dowel_count`` how
    many, ``proud_mm`` how far they may stand out of the joint (None: pins by the table, loose ones as deep as there is
    room), ``guide`` whether the holes run through one half so that the other is bored through them; ``draw_screw``
    whether each half gets a hole for one, ``screw`` its thread or insert, ``rapping`` whether a plate for rapping and
    lifting is let in; ``numbers`` whether pair numbers are cut into the mating faces; ``stl`` whether STL files are
    written beside the 3MF.

    ``mount`` what the pieces are mounted on, ``copies`` how many patterns on it, ``flask_mm`` the inside of the flask
    along and across its pins (None: as large as the sand round the pattern wants), ``pin_mm`` its pins.

    Printed: ``bed_mm`` of the printer, its layer (None: by the table), walls (lines) and how much is filled inside,
    ``bed_joint`` between parts cut for the bed, ``hollow`` whether pieces are hollowed and ribbed with walls of
    ``wall_mm`` (None: by the table), ``test_piece`` to try draft and text in the sand. Wood: the timber, the
    thickest planed board, the boards it is cut from and the room a side to plane. Foam: the sheet, its size, and
    what the wire melts away. Metal from a master: ``lap_mm`` stock on the joint (None: ISO 8062-3), ``back`` whether
    the metal pattern is hollow behind. Clay: ``funnel_deg`` which way the funnel looks in the plan (None: chosen).
    ``paper`` for templates; ``rule`` whether a contraction rule is drawn.
    """

    dowels: Literal["loose", "pins", "none"] = "loose"
    dowel_mm: float | None = None
    dowel_count: int = 2
    proud_mm: float | None = None
    guide: bool = False
    draw_screw: bool = True
    screw: str = "M5"
    rapping: bool = False
    stl: bool = False
    numbers: bool = True
    mount: Literal["none", "boards", "one-side", "match-plate"] = "none"
    copies: int = 1
    flask_mm: tuple[float, float] | None = None
    pin_mm: float = limits()["flask_pin"].value
    bed_mm: tuple[float, float, float] = (
        limits()["bed_wide"].value,
        limits()["bed_wide"].value,
        limits()["bed_tall"].value,
    )
    layer_mm: float | None = None
    walls: int = int(limits()["print_walls"].value)
    inside_percent: float = limits()["print_inside"].value
    bed_joint: Literal["dowels", "tongue"] = "dowels"
    hollow: bool = False
    wall_mm: float | None = None
    test_piece: bool = False
    timber: str = "lime"
    board_mm: float = limits()["planed_board"].value
    board_wide_mm: float = limits()["planed_wide"].value
    board_long_mm: float = limits()["planed_long"].value
    room_mm: float = limits()["planing_room"].value
    sheet_mm: float = limits()["foam_thick"].value
    sheet_wide_mm: float = limits()["foam_wide"].value
    sheet_long_mm: float = limits()["foam_long"].value
    kerf_mm: float = limits()["foam_kerf"].value
    lap_mm: float | None = None
    back: bool = True
    funnel_deg: float | None = None
    paper: Literal["A4", "A3", "letter"] = "A4"
    rule: bool = True


class Role(StrEnum):
    """What a piece is: of the pattern, or what it is moulded or mounted on. Files are called by it."""

    COPE_HALF = "cope-half"
    DRAG_HALF = "drag-half"
    WHOLE = "pattern"
    FOLLOW_BOARD = "follow-board"
    FALSE_PATTERN = "false-pattern"
    LOOSE_PIECE = "loose-piece"
    BOARD = "board"
    MATCH_PLATE = "match-plate"
    GATING = "gating"
    OTHER = "other-pattern"


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
    """A piece of the pattern in the part's own frame, and laid for making: split face down on z = 0.

    ``turn`` (3, 3) and ``shift`` (3,) lay it: laid = turn @ mesh + shift. ``numbered`` where a pair number is cut
    (3,) and the room it takes, mm.
    """

    role: Role
    name: str
    mesh: Mesh
    laid: Mesh
    volume_mm3: float
    holes: tuple[Hole, ...]
    pins: tuple[Pin, ...]
    turn: Floats
    shift: Floats
    numbered: tuple[Floats, float] | None = None

    def on_laid(self, at_mm: Floats) -> Floats:
        """(3,) where a place of the pattern's frame lies on the laid piece."""
        return np.asarray(self.turn @ at_mm + self.shift)

    @property
    def bored(self) -> tuple[tuple[float, float, float, float], ...]:
        """x, y, radius and depth of the round holes from its joint, as it is laid, mm."""
        spots = [(self.on_laid(hole.at_mm), hole) for hole in self.holes if hole.purpose != "rapping-plate"]
        return tuple((float(at[0]), float(at[1]), hole.radius_mm, hole.depth_mm) for at, hole in spots)

    def shrunk(self, factor: float) -> "Piece":
        """The same piece at another size about the origin, holes and all: a metal pattern beside its master."""
        holes = tuple(replace(hole, at_mm=hole.at_mm * factor) for hole in self.holes)
        pins = tuple(replace(pin, at_mm=pin.at_mm * factor) for pin in self.pins)
        mesh, laid = self.mesh.scaled(factor), self.laid.scaled(factor)
        return replace(
            self, mesh=mesh, laid=laid, volume_mm3=mesh.volume, holes=holes, pins=pins, shift=self.shift * factor
        )

    def with_laid(self, laid: Mesh) -> "Piece":
        """The same piece with another laid mesh, such as one that was hollowed."""
        mesh = laid.moved(self.turn.T, -self.turn.T @ self.shift)
        return replace(self, mesh=mesh, laid=laid, volume_mm3=mesh.volume)


# A flask half that is turned over about the line of its pins, x, takes (x, y, z) to (x, -y, -z).
OVER = np.diag([1.0, -1.0, -1.0])
# Pieces that serve the moulding and are no part of the pattern itself.
BESIDE = (Role.FOLLOW_BOARD, Role.FALSE_PATTERN, Role.BOARD, Role.MATCH_PLATE, Role.GATING, Role.OTHER)
# Of these, what is sawn from plywood by its template and not printed.
PLYWOOD = (Role.BOARD, Role.MATCH_PLATE)


@dataclass(frozen=True, eq=False)
class Placed:
    """A piece on a board: which board and piece, and the move (3, 3), (3,) that takes the pattern's frame to the
    board's laid frame.
    """

    board: int
    piece: int
    turn: Floats
    shift: Floats
    mesh: Mesh


@dataclass(frozen=True, eq=False)
class Lying:
    """How castings of one job lie in the mould: ``turn`` (3, 3) and ``shift`` (3,) from the pattern, at the size that
    is rammed, to where a casting lies before it is put in its place, and the places (mm) and turns (degrees).
    """

    turn: Floats
    shift: Floats
    castings: tuple[tuple[tuple[float, float], float], ...]

    @property
    def frames(self) -> list[tuple[Floats, Floats]]:
        """The move of the pattern, (3, 3) and (3,), to each place."""
        out = []
        for at, degrees in self.castings:
            c, s = float(np.cos(np.radians(degrees))), float(np.sin(np.radians(degrees)))
            round_up = np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])
            out.append((round_up @ self.turn, round_up @ self.shift + np.array([*at, 0.0])))
        return out


@dataclass(frozen=True, eq=False)
class Carried:
    """Another job's pattern in the same mould: its name, pieces, and where they lie; why it has none, in a sentence."""

    name: str
    pieces: tuple[Piece, ...]
    lying: Lying
    why: str = ""


@dataclass(frozen=True, eq=False)
class SetOut:
    """The mould's layout for what carries the pattern: how its castings and those of other jobs lie, the flask inside,
    formers of gates and runner by half and name, and where the sprue stands with the hole that marks it (x, y,
    diameter).
    """

    lying: Lying
    flask_mm: tuple[float, float]
    gating: tuple[tuple[str, str, Mesh], ...]
    sprue_mm: tuple[float, float, float] | None
    others: tuple[Carried, ...] = ()


@dataclass(frozen=True, eq=False)
class Mount:
    """What the pattern is mounted on. ``flask_mm`` inside along and across the pins; ``pins_mm`` (2, 2) their middles
    on the board; ``slot_mm`` how long the far pin's slot is; ``alike`` the share of the part that does not lie on
    itself when turned about the pins; ``castings`` how many a mould gives; ``outlines`` per board: the pieces' joint
    faces as shapes on the laid board; ``holes`` per board: x, y and diameter; ``gating`` pieces of gates and
    runner, and ``others`` those of other jobs, where the mould's layout is carried.
    """

    kind: str
    boards: tuple[Piece, ...]
    placed: tuple[Placed, ...]
    flask_mm: tuple[float, float]
    pins_mm: Floats
    pin_mm: float
    slot_mm: float
    alike: float
    castings: int
    outlines: tuple[BaseGeometry, ...]
    holes: tuple[tuple[tuple[float, float, float], ...], ...]
    gating: tuple[Piece, ...] = ()
    others: tuple[Piece, ...] = ()
    findings: tuple[Finding, ...] = field(default=())


@dataclass(frozen=True, eq=False)
class PatternResult:
    """The pattern. ``factor`` is pattern size over part size along the draw, ``factors`` along x, y and z.

    ``mount`` what its pieces are mounted on, where they are.
    """

    factor: float
    factors: tuple[float, float, float]
    pieces: tuple[Piece, ...]
    size_mm: tuple[float, float, float]
    dowel_mm: tuple[float, ...]
    height_mm: float
    making: Making
    findings: tuple[Finding, ...]
    mount: Mount | None = None
