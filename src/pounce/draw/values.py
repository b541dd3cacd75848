"""Choices and results of the Draw stop."""

from dataclasses import dataclass
from functools import cache

import msgspec

from pounce.base.finding import Finding
from pounce.metals.tables import limits
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
    ``forgiven_mm2`` is the area of facets of round walls that lock only because the curve is coarsely faceted.
    """

    up: Bools
    down: Bools
    mixed: Bools
    slope: Floats
    piece_corners: Floats
    piece_face: Ints
    piece_up: Bools
    piece_down: Bools
    forgiven_mm2: float = 0.0


@dataclass(frozen=True)
class Score:
    """The parts of a draw's score, lower is better: shares of the surface, lengths over the diagonal, counts.

    ``locked_open`` and ``locked_hollow`` lock at any joint, the latter deep in a hollow; ``locked_flat`` locks at
    the best flat joint and no other way is taken; ``relief`` rise and fall of the joint; ``wall`` untapered wall, by
    its distance from the joint; ``half_depth`` the deeper half; ``flat_face`` flat surface in the joint; ``square``
    surface square or parallel to the draw, or in walls that have their draft; ``tilted`` 1 and more off the own axes, a
    little for y and x; ``slender`` surface that draws but sees so little sky that its sand would be a slender core;
    ``whole`` 1 when the pattern stays whole on a flat back; ``cores`` hollows that would want a core.
    """

    locked_open: float
    locked_hollow: float
    locked_flat: float
    relief: float
    wall: float
    half_depth: float
    flat_face: float
    square: float
    tilted: float
    whole: float
    slender: float
    cores: int

    @property
    def total(self) -> float:
        """The weighted sum; weights stand in the tables."""
        w = _weights()
        # a hollow that a core makes costs its core and box, however much wall it has
        hollow = min(w["locked_hollow"] * self.locked_hollow, w["core"] * self.cores + w["cored"] * self.locked_hollow)
        return (
            w["locked_open"] * self.locked_open
            + hollow
            + w["locked_flat"] * self.locked_flat
            + w["slender"] * self.slender
            + w["relief"] * self.relief
            + w["wall"] * self.wall
            + w["half_depth"] * self.half_depth
            - w["flat_face"] * self.flat_face
            - w["square"] * self.square
            + w["tilted"] * self.tilted
            - w["whole"] * self.whole
        )


_NAMES = (
    "locked_open",
    "locked_hollow",
    "core",
    "cored",
    "locked_flat",
    "slender",
    "relief",
    "wall",
    "half_depth",
    "flat_face",
    "square",
    "tilted",
    "whole",
)


@cache
def _weights() -> dict[str, float]:
    return {name: limits()[f"score_{name}"].value for name in _NAMES}


@dataclass(frozen=True)
class Candidate:
    """A draw looked at: locked area at its best flat joint (mm2, from samples) and at any, depth of draw in mm.

    ``relief_mm`` how far a natural joint rises and falls where no flat one does, and ``followed`` whether it is
    taken; ``tight_mm2`` wall within 1.5 degrees of the draw; ``cores`` hollows that lock; ``why`` and ``cost`` in
    words; ``source`` where the direction came from.
    """

    direction: tuple[float, float, float]
    locked_mm2: float
    any_parting_mm2: float
    height_mm: float
    depth_mm: float
    score: float
    flat_back: bool
    tight_mm2: float
    relief_mm: float
    followed: bool
    cores: int
    source: str
    parts: Score
    why: str = ""
    cost: str = ""


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
