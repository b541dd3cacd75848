"""Choices and results of the Mould stop.

The mould's frame: x along the pins of the flask, y across them, z up as it is poured, mm at the size that is rammed;
(0, 0, 0) is the flask's middle in the joint.
"""

from dataclasses import dataclass, field
from typing import Literal

import msgspec
import numpy as np

from pounce.base.finding import Finding, filled
from pounce.rig.flasks import Flask
from pounce.solid.mesh import Floats, Mesh

Spot = tuple[float, float]
Half = Literal["cope", "drag"]
# What is seen of the metal from above, and core prints.
SEEN = ("runner", "gate", "well", "casting", "feeder", "foot", "print")
School = Literal["snap-off", "feeding"]
Cup = Literal["cut", "set-on"]
Basin = Literal["cone", "offset"]
RunnerEnd = Literal["overrun", "whirl"]
Closing = Literal["flask", "boxless"]
# What holds the sand while it is poured: its flask, a jacket where a snap flask was opened, or nothing, for it has set.
Stands = Literal["flask", "jacket", "block"]
LeadKind = Literal["core", "breather"]


class PlacedChoice(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A casting put in its place by hand: its middle in the flask (mm) and its turn (degrees)."""

    at_mm: Spot
    turn_deg: float = 0.0


class GuestChoice(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Another job whose castings go into the same mould: its file, what it is called, and how many."""

    file: str
    name: str
    count: int = 1


class FeederChoice(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A feeder on the casting: where it stands (on the part, as it was modelled, mm), its diameter, its least height,
    and the diameter of its neck (0: as wide as it is); open to the air or blind, in an insulating sleeve or not. On the
    ``gate`` it stands beside the casting, where that place lies on the outline, and the metal runs in through it.
    """

    at_mm: tuple[float, float, float]
    wide_mm: float
    high_mm: float
    neck_mm: float = 0.0
    open: bool = True
    sleeve: bool = False
    gate: bool = False


class ChillChoice(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A chill of iron in the sand against the casting: where (on the part, as it was modelled), side and thickness,
    mm.
    """

    at_mm: tuple[float, float, float]
    side_mm: float
    thick_mm: float


class KeptFlask(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The flask that pieces were put in by hand: an own one by its id, else its inside and heights, mm."""

    flask: str = ""
    inside_mm: Spot | None = None
    cope_mm: float | None = None
    drag_mm: float | None = None


class RigChoices(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """``count`` castings in the mould; ``flask`` the id of an own one ("": the smallest that fits), or its
    ``inside_mm``, ``cope_mm`` and ``drag_mm`` said outright; ``gates`` to a casting (None: as many as it wants) by
    ``school``, ``gates_mm`` where they were put by hand (on the part, as it was modelled); ``tiers`` of castings one
    over another about the sprue, a tree, in loose sand; ``cup`` cut in the cope or set on it, ``head_mm`` the metal
    wanted over the joint, for which the sprue is extended over the cope (None: what the cope gives), a cone or an
    offset ``basin``; ``runner_end`` what keeps the first metal; ``closing`` in the flask or as a block without it;
    ``guests`` other jobs in the same pour; ``feeders`` on it and ``chills`` against it; ``placed`` and ``sprue_mm``
    what was put by hand.
    """

    count: int = 1
    flask: str = ""
    inside_mm: Spot | None = None
    cope_mm: float | None = None
    drag_mm: float | None = None
    gates: int | None = None
    gates_mm: tuple[tuple[float, float, float], ...] = ()
    tiers: int = 1
    school: School = "snap-off"
    cup: Cup = "set-on"
    head_mm: float | None = None
    basin: Basin = "cone"
    runner_end: RunnerEnd = "overrun"
    closing: Closing = "flask"
    guests: tuple[GuestChoice, ...] = ()
    feeders: tuple[FeederChoice, ...] = ()
    chills: tuple[ChillChoice, ...] = ()
    placed: tuple[PlacedChoice, ...] = ()
    sprue_mm: Spot | None = None


@dataclass(frozen=True)
class Margins:
    """Sand kept, mm: castings to the wall, between castings, over and under them, prints to the wall, the cup to wall
    and castings, the runner to the wall.
    """

    wall: float
    between: float
    over: float
    under: float
    print_wall: float
    sprue_wall: float
    sprue_casting: float
    runner_wall: float


@dataclass(frozen=True)
class Casting:
    """A casting in its place: name, middle (mm) and turn (degrees), the number of its model, and how high its joint
    lies over the mould's (mm), which it does on a tree.
    """

    name: str
    at_mm: Spot
    turn_deg: float
    lot: int = 0
    level_mm: float = 0.0


@dataclass(frozen=True, eq=False)
class CastModel:
    """What a job's castings are before they are put in their places: the metal, and its cores; ``turn`` (3, 3) and
    ``shift`` (3,) take places of the part, as it was modelled, to theirs.
    """

    metal: Mesh
    cores: tuple[Mesh, ...]
    turn: Floats
    shift: Floats


@dataclass(frozen=True)
class Feeder:
    """A feeder in its place: of which choice and casting, its foot (mm), diameter, top, its neck's diameter and length,
    whether it is open, the wall of its sleeve, and its mass (kg). On a gate ``foot_mm`` is the middle of its base,
    ``contact_mm`` where its neck meets the casting, and the neck is so wide and ``neck_high_mm`` high.
    """

    number: int
    casting: int
    foot_mm: tuple[float, float, float]
    wide_mm: float
    top_mm: float
    neck_mm: float
    neck_long_mm: float
    open: bool
    sleeve_mm: float
    mass_kg: float
    contact_mm: tuple[float, float, float] | None = None
    neck_high_mm: float = 0.0


@dataclass(frozen=True)
class Chill:
    """A chill in its place: of which choice and casting, where it touches the metal, the way away from it, side and
    thickness, mm.
    """

    number: int
    casting: int
    at_mm: tuple[float, float, float]
    out: tuple[float, float, float]
    side_mm: float
    thick_mm: float


@dataclass(frozen=True)
class Gate:
    """A gate: the middle of where it meets the casting (mm), the way it leaves it (degrees in plan), width and
    thickness, in which half it is cut, which casting it fills, the wall it meets, and its contact with the metal.
    """

    at_mm: tuple[float, float, float]
    way_deg: float
    wide_mm: float
    thick_mm: float
    half: Half
    casting: int
    wall_mm: float
    speed_m_s: float
    contact_mm2: float = 0.0

    @property
    def section_mm2(self) -> float:
        """Width times thickness."""
        return self.wide_mm * self.thick_mm


def gate_kinds(gates: tuple[Gate, ...]) -> tuple[tuple[Gate, int], ...]:
    """One gate of each size and half, and how many are alike."""
    seen: dict[tuple[float, float, str], list[Gate]] = {}
    for gate in gates:
        seen.setdefault((gate.wide_mm, gate.thick_mm, gate.half), []).append(gate)
    return tuple((alike[-1], len(alike)) for alike in seen.values())


@dataclass(frozen=True)
class Runner:
    """The runner: (k, 2) its middle lines, width (at the joint) and height, and the half it is cut in; middles and
    diameter of the whirl traps at its ends.
    """

    lines: tuple[Floats, ...]
    wide_mm: float
    high_mm: float
    half: Half
    traps: tuple[Spot, ...] = ()
    trap_mm: float = 0.0

    @property
    def long_mm(self) -> float:
        """All of it."""
        total = 0.0
        for line in self.lines:
            total += float((((line[1:] - line[:-1]) ** 2).sum(axis=1) ** 0.5).sum())
        return total


@dataclass(frozen=True)
class Sprue:
    """The sprue: middle (mm), diameters at foot and top, height (joint to the cup), the well under it, and the
    cup over or in the cope (its diameter and how deep the metal stands in it).
    """

    at_mm: Spot
    foot_mm: float
    top_mm: float
    high_mm: float
    well_mm: float
    well_deep_mm: float
    cup_mm: float
    cup_high_mm: float


@dataclass(frozen=True)
class Flow:
    """The figures of the pour: mass in the mould (kg), seconds to fill, effective head (mm), speed at the foot (m/s),
    flow (cm3/s), choke, runner and all gates (mm2), the limit at the gates and the speed there (m/s).
    """

    mass_kg: float
    fill_s: float
    head_mm: float
    speed_m_s: float
    flow_cm3_s: float
    choke_mm2: float
    runner_mm2: float
    gates_mm2: float
    limit_m_s: float
    gate_speed_m_s: float


@dataclass(frozen=True)
class Weights:
    """What is melted and carried, kg: castings, gating, feeders, cup, sand by half, cores, flask; the halves and the
    closed mould; lift of metal and cores (N) against the cope, and what is put on it (kg).
    """

    castings_kg: float
    gating_kg: float
    feeders_kg: float
    cup_kg: float
    cope_sand_kg: float
    drag_sand_kg: float
    sand_l: float
    cores_kg: float
    flask_kg: float
    cope_kg: float
    drag_kg: float
    lift_metal_n: float
    lift_cores_n: float
    add_kg: float

    @property
    def poured_kg(self) -> float:
        """All the metal that goes into the mould."""
        return self.castings_kg + self.gating_kg + self.feeders_kg + self.cup_kg

    @property
    def closed_kg(self) -> float:
        """The closed mould with its cores, as it is carried to where it is poured."""
        return self.cope_kg + self.drag_kg + self.cores_kg

    @property
    def metal_yield(self) -> float:
        """Castings as a share of what is poured."""
        return self.castings_kg / self.poured_kg if self.poured_kg > 0.0 else 0.0

    @property
    def lift_n(self) -> float:
        """Metal and cores together."""
        return self.lift_metal_n + self.lift_cores_n

    @property
    def holds(self) -> float:
        """How many times over the cope, with what lies on it, outweighs the lift."""
        lift = self.lift_n
        return float("inf") if lift <= 0.0 else (self.cope_kg + self.add_kg) * 9.80665 / lift


@dataclass(frozen=True)
class Margin:
    """Sand between two things, measured: which, how much (mm), how much is wanted, and the line between the nearest
    points, ((x, y), (x, y)).
    """

    of: str
    to: str
    mm: float
    wanted_mm: float
    line: tuple[Spot, Spot]

    @property
    def short(self) -> bool:
        """Whether there is less than wanted, by more than a tenth of a millimetre."""
        return self.mm < self.wanted_mm - 0.1


@dataclass(frozen=True, eq=False)
class Shape:
    """An outline in plan: ``kind`` casting, print, gate, runner, sprue, cup or well; rings (n, 2), the outer one
    first; which casting it is of (-1: none).
    """

    kind: str
    rings: tuple[Floats, ...]
    casting: int = -1


@dataclass(frozen=True, eq=False)
class Cut:
    """The mould cut along the pins at ``y_mm``: rings (n, 2) of x and z by what they are of (casting, gating,
    core).
    """

    y_mm: float
    rings: tuple[tuple[str, Floats], ...]


@dataclass(frozen=True)
class Lead:
    """A vent led out of the mould: a core's, or a breather of a clay mould; from where to where in plan (mm), and
    whether it leaves along the joint, up through the cope or down through the drag; of which casting.
    """

    kind: LeadKind
    at_mm: Spot
    to_mm: Spot
    way: Literal["joint", "cope", "drag"]
    casting: int


@dataclass(frozen=True)
class Key:
    """A key between the halves of a block without a flask: middle and foot, mm."""

    at_mm: Spot
    wide_mm: float


@dataclass(frozen=True)
class Mixing:
    """How the sand is made up, kg: facing, the rest, binder by name, its catalyst, water; minutes that it can be
    rammed, and until it is stripped. Zero is none.
    """

    facing_kg: float
    backing_kg: float
    binder: str
    binder_kg: float
    catalyst_kg: float
    water_kg: float
    work_min: float
    strip_min: float


@dataclass(frozen=True)
class Push:
    """Metal against the sides of a box: pressure at its lowest (kPa), on a side (N), the bow of a usual board (mm),
    and the battens up each long side that it wants.
    """

    pressure_kpa: float
    side_n: float
    bow_mm: float
    battens: int


@dataclass(frozen=True)
class Step:
    """One step at the bench: its text with figures in braces, whose keys end in their units, and the figures."""

    text: str
    figures: dict[str, float]

    def words(self, shown: str = "mm") -> str:
        """The text in the reader's units."""
        return filled(self.text, self.figures, shown)


@dataclass(frozen=True)
class Board:
    """A board of a box to build: what it is, its length, width and thickness (mm), and how many."""

    name: str
    size_mm: tuple[float, float, float]
    count: int


def kept_flask(flask: Flask, own: bool) -> KeptFlask:
    """What keeps this flask when pieces are put in it by hand."""
    if own:
        return KeptFlask(flask.id)
    return KeptFlask("", (flask.long_mm, flask.wide_mm), flask.cope_mm, flask.drag_mm)


@dataclass(frozen=True, eq=False)
class RigResult:
    """The mould. ``own`` whether the flask is one of the bench's own, else it is a box to build of ``boards``;
    ``shapes`` the plan, ``cuts`` sections along the pins, ``gating`` the solid of all that is cut for the metal,
    ``formers`` solids that can be printed, by name, ``halves`` those of gates and runner by the half they lie in;
    ``turn`` (3, 3) and ``shift`` (3,) take the pattern, at the size that is rammed, to where a casting lies before it
    is put in its place; ``vent_mm`` the wire; ``pinned`` whether pieces were put by hand, ``loose`` whether it lies in
    loose sand that nothing opens: cope and drag are then only over and under its middle; ``on_end`` whether it is
    stood on end, +x up, before it is poured;
    ``feeders`` and ``chills`` in their places, ``models`` the castings' solids in their own frames (feeders are part of
    ``gating``); ``leads`` vents led out, ``keys`` of a block without a flask, ``mixing`` of the sand, ``push`` on the
    sides; ``stands`` what holds the sand while it is poured;
    ``steps`` how it is rammed, closed and poured.
    """

    flask: Flask
    own: bool
    boards: tuple[Board, ...]
    wanted: Margins
    castings: tuple[Casting, ...]
    sprue: Sprue | None
    runner: Runner | None
    gates: tuple[Gate, ...]
    vents: tuple[tuple[float, float, float], ...]
    flow: Flow
    weights: Weights
    margins: tuple[Margin, ...]
    shapes: tuple[Shape, ...]
    cuts: tuple[Cut, ...]
    gating: Mesh | None
    formers: tuple[tuple[str, Mesh], ...]
    halves: tuple[tuple[Half, str, Mesh], ...]
    turn: Floats
    shift: Floats
    up_mm: float
    down_mm: float
    vent_mm: float
    pinned: bool
    loose: bool
    on_end: bool
    feeders: tuple[Feeder, ...]
    chills: tuple[Chill, ...]
    models: tuple[CastModel, ...]
    leads: tuple[Lead, ...]
    keys: tuple[Key, ...]
    mixing: Mixing
    push: Push
    stands: Stands
    steps: tuple[Step, ...]
    findings: tuple[Finding, ...]
    notes: dict[str, float] = field(default_factory=dict)

    @property
    def extension_mm(self) -> float:
        """How far the sprue stands over the cope, with sand rammed round it."""
        if self.sprue is None or self.on_end:
            return 0.0
        return max(self.sprue.high_mm - self.flask.cope_mm, 0.0)

    @property
    def tier(self) -> int:
        """How many castings lie at the mould's joint, which come first."""
        return sum(one.level_mm == 0.0 for one in self.castings)

    @property
    def tiers(self) -> int:
        """At how many heights castings lie: more than one on a tree."""
        return len({one.level_mm for one in self.castings})

    def seen_box(self, more: float = 0.12) -> tuple[float, float, float, float]:
        """Metal and prints seen from above with a share of their size in sand round them, inside the flask: left, near,
        right, far, mm.
        """
        points = np.concatenate([one.rings[0] for one in self.shapes if one.kind in SEEN])
        low, high = points.min(axis=0), points.max(axis=0)
        round_it = more * float((high - low).max())
        half = np.array([self.flask.long_mm, self.flask.wide_mm]) / 2.0
        low, high = np.maximum(low - round_it, -half), np.minimum(high + round_it, half)
        return float(low[0]), float(low[1]), float(high[0]), float(high[1])
