"""What is put on the grid, and what comes of it. The mould's frame: z up as it is poured, mm."""

import math
from dataclasses import dataclass
from enum import IntEnum

import numpy as np

from pounce.field.arrays import Field, Flags, Numbers
from pounce.field.cells import Cells
from pounce.solid.mesh import Mesh

Point = tuple[float, float, float]


class Stuff(IntEnum):
    """What fills a cell."""

    METAL = 0
    SAND = 1
    CORE = 2
    CHILL = 3
    SLEEVE = 4
    AIR = 5


@dataclass(frozen=True)
class Round:
    """An upright round of metal: its foot (3,), its diameter and height, that of the neck under it (0: none) and how
    long it is; ``open``: it reaches the air; the wall of a sleeve round it (0: none), mm. ``beside`` (2,): it stands
    beside the casting and its neck lies, from there to its middle, ``neck_high_mm`` high over its foot.
    """

    foot_mm: tuple[float, float, float]
    wide_mm: float
    high_mm: float
    neck_mm: float = 0.0
    neck_long_mm: float = 0.0
    open: bool = True
    sleeve_mm: float = 0.0
    beside: tuple[float, float] | None = None
    neck_high_mm: float = 0.0

    @property
    def base_mm(self) -> float:
        """Where its body begins."""
        return self.foot_mm[2] + (self.neck_long_mm if self.beside is None else 0.0)

    @property
    def top_mm(self) -> float:
        """How high it stands."""
        return self.base_mm + self.high_mm

    @property
    def metal_mm3(self) -> float:
        """What its body holds."""
        return math.pi / 4.0 * self.wide_mm**2 * self.high_mm

    @property
    def on_mm(self) -> tuple[float, float]:
        """Where it meets the casting, in plan."""
        return self.foot_mm[:2] if self.beside is None else self.beside


@dataclass(frozen=True)
class Block:
    """A chill: the middle of the face that it lies on metal with, the way away from it, its side and thickness, mm."""

    at_mm: tuple[float, float, float]
    out: tuple[float, float, float]
    side_mm: float
    thick_mm: float


@dataclass(frozen=True, eq=False)
class Mould:
    """What freezes: castings, what is cut for their metal, their cores, rounds that feed, chills; the top of the cope
    over the joint, the flask's inside from -x, -y to x, y and how deep the drag is; ``standing``: it is
    poured on end, +x up; ``tight``: only the castings and their sand are taken.
    """

    castings: tuple[Mesh, ...]
    gating: Mesh | None
    cores: tuple[Mesh, ...]
    rounds: tuple[Round, ...]
    chills: tuple[Block, ...]
    top_mm: float
    half_mm: tuple[float, float]
    deep_mm: float
    standing: bool = False
    tight: bool = False


@dataclass(frozen=True, eq=False)
class Laid:
    """The grid: ``kinds`` (nz, ny, nx) int8 of :class:`Stuff`; ``shares`` how much of a cell of metal is filled;
    ``casting`` int8 number of the casting from 1 (0: none, gating or feeder); ``feeds`` int8: 1 gating, from 2 on the
    rounds.
    """

    cells: Cells
    kinds: Numbers
    shares: Field
    casting: Numbers
    feeds: Numbers

    @property
    def metal(self) -> Flags:
        """Cells of metal."""
        return np.asarray(self.kinds == Stuff.METAL)


@dataclass(frozen=True, eq=False)
class Frozen:
    """When each cell of metal no longer feeds (``near_s``) and is solid (``solid_s``), NaN elsewhere; seconds it ran,
    steps, heat that went astray as a share, and how much work it was (melting cells times stages).
    """

    laid: Laid
    near_s: Field
    solid_s: Field
    ran_s: float
    steps: int
    energy_error: float
    work: float = 0.0


@dataclass(frozen=True)
class End:
    """A place where the metal runs out of way: where, how far from its gate (mm), when it arrives (s), how warm its
    front is (C) and how much of it is solid.
    """

    at_mm: Point
    far_mm: float
    seconds: float
    front_c: float
    solid: float
