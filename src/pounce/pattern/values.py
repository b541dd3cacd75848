"""Choices and results of the Pattern stop."""

from dataclasses import dataclass
from typing import Literal

import msgspec

from pounce.base.finding import Finding
from pounce.solid.mesh import Floats, Mesh


class PatternChoices(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """``dowels``: loose ones in holes of both halves, short pins grown on the cope half, or none.

    ``dowel_mm`` is the nominal diameter of the thicker dowel (None: by the size of the joint); ``draw_screw``
    whether each half gets a hole for one; ``stl`` whether STL files are written beside the 3MF.
    """

    dowels: Literal["loose", "pins", "none"] = "loose"
    dowel_mm: float | None = None
    draw_screw: bool = True
    stl: bool = False


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
    findings: tuple[Finding, ...]
