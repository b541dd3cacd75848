"""Choices and results of the Parting stop."""

from dataclasses import dataclass
from enum import IntEnum
from typing import Literal

import msgspec

from pounce.base.finding import Finding, filled
from pounce.solid.mesh import Floats, Ints


class State(IntEnum):
    """What a face does when its half of the mould leaves."""

    CLEAN = 0
    TIGHT = 1
    LOCKED = 2


class PartingChoices(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """``kind`` auto and flat both part on a plane; ``height_mm`` None means: found by the scan."""

    kind: Literal["auto", "flat"] = "auto"
    height_mm: float | None = None


@dataclass(frozen=True, eq=False)
class Judged:
    """The part's surface as pieces that each have one state, divided exactly at the joint.

    ``corners`` (k, 3, 3) mm, ``normals`` (k, 3, 3) for smooth drawing, ``face`` (k,) face of the part, ``state`` (k,),
    ``region`` (k,) index of the region or -1, ``draft_deg`` (k,) angle to the draw on the side it leaves by.
    """

    corners: Floats
    normals: Floats
    face: Ints
    state: Ints
    region: Ints
    draft_deg: Floats


@dataclass(frozen=True)
class Region:
    """A place of one state: area, middle, least draft, a name in words, how it lies, and how many alike it

    stands for.
    """

    state: State
    area_mm2: float
    centre_mm: tuple[float, float, float]
    normal: tuple[float, float, float]
    least_draft_deg: float
    depth_mm: float
    name: str
    note: str
    count: int = 1
    diameter_mm: float = 0.0

    def words(self, shown: str = "mm") -> str:
        """The name with its diameter in the reader's units."""
        return filled(self.name, {"diameter_mm": self.diameter_mm}, shown)


@dataclass(frozen=True, eq=False)
class PartingResult:
    """The joint and the state of every face. ``outline`` are the loops (n, 3) where the joint meets the part."""

    kind: str
    chosen_by: str
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
    cope_depth_mm: float
    drag_depth_mm: float
    regions: tuple[Region, ...]
    draw_findings: tuple[Finding, ...]
    findings: tuple[Finding, ...]
