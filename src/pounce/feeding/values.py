"""Choices and results of the Freeze stop. The mould's frame, as in :mod:`pounce.rig.values`."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

import msgspec
import numpy as np
from numpy.typing import NDArray

from pounce.base.finding import Finding
from pounce.field.arrays import Field, Numbers
from pounce.field.cells import Cells
from pounce.freeze.values import End
from pounce.rig.values import ChillChoice, FeederChoice
from pounce.solid.mesh import Floats

Point = tuple[float, float, float]
Feeding = Literal["feed", "cool"]
Walls = Literal["hard", "soft"]


class FreezeChoices(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """``pour_c`` the metal's temperature as it enters the mould (None: the table's); ``feeding`` the school; ``cells``
    of the grid (None: as sections ask); ``measured_s`` when the last place of a casting like this was seen to
    set, by which all seconds are scaled; ``sand_conducts`` (W/(m K)) and ``sand_heat`` (J/(kg K)) of the
    bench's own sand, ``metal_conducts`` (W/(m K)) and ``latent_kj_kg`` of its metal; of iron its carbon equivalent
    (%; None: enough) and whether the mould is hard or gives way; ``formers``
    diameters of feeders' formers that the bench has (mm).
    """

    pour_c: float | None = None
    feeding: Feeding = "feed"
    cells: int | None = None
    measured_s: float | None = None
    sand_conducts: float | None = None
    sand_heat: float | None = None
    metal_conducts: float | None = None
    latent_kj_kg: float | None = None
    carbon_pct: float | None = None
    walls: Walls = "hard"
    formers: tuple[float, ...] = ()


class Lies(StrEnum):
    """Where a hole lies: shut in the finished part, opening in a face that is machined, in stock and partly in the
    part, in stock alone.
    """

    WITHIN = "within"
    OPENS = "opens"
    STOCK = "stock"
    GONE = "gone"


@dataclass(frozen=True)
class HotPlace:
    """A place that sets after all round it: its number, where, what it is called, which casting it is in, when it sets
    and when it was cut off (s), the metal liquid in it then, the hole that may be left (least and most, mm3), what
    fed it until then ("" nothing), how its hole lies to what is machined and the face it opens in, whether it is more
    than even section, and whether it wants a cure.
    """

    number: int
    at_mm: Point
    name: str
    casting: int
    seconds: float
    cut_s: float
    liquid_mm3: float
    void_mm3: tuple[float, float]
    fed_by: str
    lies: Lies
    opens_in: str
    counts: bool
    wants: bool


@dataclass(frozen=True)
class FeederTime:
    """When a feeder and its neck set (s), when the last place near it does, and whether it holds out."""

    id: str
    number: int
    casting: int
    at_mm: Point
    seconds: float
    neck_s: float
    feeds_s: float

    @property
    def holds(self) -> bool:
        """Whether it sets after what it feeds."""
        return self.seconds > self.feeds_s


@dataclass(frozen=True)
class GateTime:
    """When a gate sets (s), where it is, and until when a liquid way leads to it from the sprue (s)."""

    casting: int
    at_mm: Point
    seconds: float
    way_s: float


@dataclass(frozen=True)
class Fill:
    """How the castings fill: seconds, the ends (coldest first), where fronts meet, metal not reached (mm3), the least
    temperature that fills (C; None: none does), and the speed in the gates as the first metal runs and as the last does
    (m/s).
    """

    seconds: float
    ends: tuple[End, ...]
    meets: tuple[End, ...]
    short_mm3: float
    fills_c: float | None
    gates_m_s: tuple[float, float]

    @property
    def short(self) -> bool:
        """Whether some of it is not reached."""
        return self.short_mm3 > 0.0


@dataclass(frozen=True)
class Pad:
    """A flat face made thicker so that a feeder reaches past it: a point on it of the part as modelled, what it is
    called, the stock on it (mm), and the feeders and chills that were proved with it; what they and the pad weigh (kg).
    """

    at_mm: Point
    name: str
    stock_mm: float
    feeders: tuple[FeederChoice, ...]
    chills: tuple[ChillChoice, ...]
    mass_kg: float


@dataclass(frozen=True)
class Cure:
    """Feeders and chills that were tried until what sets last is fed: all of them, as choices; whether the heat flow
    proved them, in how many runs, what they weigh on one casting (kg), what is left without a cure, and the
    padding that feeds what else wants a chill (None: none was found).
    """

    feeders: tuple[FeederChoice, ...]
    chills: tuple[ChillChoice, ...]
    proved: bool
    runs: int
    mass_kg: float
    uncured: int
    pad: Pad | None = None


@dataclass(frozen=True, eq=False)
class Picture:
    """What is painted: the grid, when each cell sets (nz, ny, nx; NaN: no metal), what of it is casting (int8 number
    from 1), and when each cell of a casting fills.
    """

    cells: Cells
    sets_s: Field
    casting: Numbers
    fills_s: Field


@dataclass(frozen=True, eq=False)
class Cutaway:
    """The metal cut open: triangles (m, 3, 3) with their normals and the times at their corners (m, 3) when they set
    and when they fill, the box round it (2, 3), and where across y it is cut; float32, as it is drawn.
    """

    corners: NDArray[np.float32]
    normals: NDArray[np.float32]
    sets_s: NDArray[np.float32]
    fills_s: NDArray[np.float32]
    box: Floats
    y_mm: float


@dataclass(frozen=True, eq=False)
class FreezeResult:
    """What freezes when. ``pour_c`` as it was poured, ``middle_s`` when half of the castings is set, ``solid_s`` when
    all is; ``order`` groups by name and seconds; ``across`` cells over the mean section; ``scaled`` by what the
    seconds were scaled to a measured time; ``void_mm3`` all that may be hollow; ``reason`` why no
    feeder is wanted ("" one may be); ``rough``: a quick look on a coarse grid, with nothing tried yet.
    """

    pour_c: float
    middle_s: float
    solid_s: float
    places: tuple[HotPlace, ...]
    feeders: tuple[FeederTime, ...]
    gates: tuple[GateTime, ...]
    order: tuple[tuple[str, float], ...]
    fill: Fill
    cure: Cure | None
    void_mm3: tuple[float, float]
    reason: str
    cells: int
    step_mm: float
    across: float
    scaled: float
    energy_error: float
    picture: Picture
    cutaway: Cutaway
    findings: tuple[Finding, ...]
    rough: bool = False

    @property
    def wanting(self) -> tuple[HotPlace, ...]:
        """Places that want a cure."""
        return tuple(one for one in self.places if one.wants)
