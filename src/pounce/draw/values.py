"""Choices and results of the Draw stop."""

from dataclasses import dataclass

import msgspec

from pounce.base.finding import Finding
from pounce.solid.mesh import Bools, Floats, Ints


class DrawChoices(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """``direction`` (x, y, z) the cope lifts along, or None to search for it."""

    direction: tuple[float, float, float] | None = None


@dataclass(frozen=True, eq=False)
class Reach:
    """What each face sees along the draw.

    A face that all its samples agree on has its answer in ``up`` and ``down`` (m,): whether the sand beside it can
    leave upward, downward. A ``mixed`` (m,) face is cut into pieces instead: ``piece_corners`` (k, 3, 3) in the
    part's frame, ``piece_face`` (k,), ``piece_up`` and ``piece_down`` (k,). ``slope`` (m,) is normal . direction.
    """

    up: Bools
    down: Bools
    mixed: Bools
    slope: Floats
    piece_corners: Floats
    piece_face: Ints
    piece_up: Bools
    piece_down: Bools


@dataclass(frozen=True)
class Candidate:
    """A draw looked at: locked area at its best flat parting (mm2, from samples) and at any, depth of draw in mm."""

    direction: tuple[float, float, float]
    locked_mm2: float
    any_parting_mm2: float
    height_mm: float
    depth_mm: float
    score: float
    flat_back: bool


@dataclass(frozen=True, eq=False)
class DrawResult:
    """The draw with the reach of every face along it. ``low_mm`` and ``high_mm`` are the part's ends along it."""

    direction: Floats
    chosen_by: str
    low_mm: float
    high_mm: float
    reach: Reach
    candidates: tuple[Candidate, ...]
    findings: tuple[Finding, ...]

    @property
    def depth_mm(self) -> float:
        """Extent of the part along the draw."""
        return self.high_mm - self.low_mm
