"""Choices and results of the Pour stop. Temperatures in C, masses in kg, times in minutes before and after the pour."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

import msgspec

from pounce.base.finding import Finding
from pounce.metals.melt import Charge

School = Literal["by-wall", "cool", "hot"]
Carried = Literal["open", "lid"]


class PourChoices(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """``moulds`` like this one poured from the same melt; ``charge`` what is melted, ``scrap_kg`` pieces that were
    weighed and go in first; ``crucible``, ``furnace`` and ``ingot`` by their ids (empty: those that fit best);
    ``school`` of pouring; ``carried`` open or under a lid; ``carry_s`` from the furnace to the first
    mould and ``between_s`` from one to the next; a fall of the own crucible, from ``fall_from_c`` to ``fall_to_c`` in
    ``fall_s``; ``ram_min_l`` the own pace of ramming, ``loss_percent`` what the own melts lose and ``melt_percent``
    what of the furnace's heat reaches the metal; ``at`` the time of day it is poured at, HH:MM (empty: as soon as it
    can be); ``jobs`` files of other jobs poured from the same melt. None: the table's.
    """

    moulds: int = 1
    charge: Charge = "ingot"
    scrap_kg: tuple[float, ...] = ()
    crucible: str = ""
    furnace: str = ""
    ingot: str = ""
    school: School = "by-wall"
    carried: Carried = "open"
    carry_s: float | None = None
    between_s: float | None = None
    fall_from_c: float | None = None
    fall_to_c: float | None = None
    fall_s: float | None = None
    ram_min_l: float | None = None
    loss_percent: float | None = None
    melt_percent: float | None = None
    at: str = ""
    jobs: tuple[str, ...] = ()


@dataclass(frozen=True)
class Mouldful:
    """One mould that is poured: what it is called, the metal it takes (kg), its thinnest wall (mm), the window (C) its
    metal is to enter in, the aim in it, and the least that fills it (C).
    """

    name: str
    kg: float
    wall_mm: float
    low_c: float
    high_c: float
    aim_c: float
    least_c: float = 0.0


@dataclass(frozen=True)
class Turn:
    """One mould in its turn: the fill of the crucible it comes from (from 1), and how hot the metal is then."""

    mould: Mouldful
    fill: int
    after_s: float
    at_c: float

    @property
    def cold(self) -> bool:
        """Whether the metal has fallen under what fills it."""
        return self.at_c < self.mould.least_c


@dataclass(frozen=True)
class Charged:
    """What is put in: kilograms in all, how many ingots and what they weigh, weighed pieces, what is lost (%)."""

    kg: float
    ingots: int
    ingot_kg: float
    pieces_kg: float
    loss_percent: float

    @property
    def over_kg(self) -> float:
        """What whole ingots bring over what is wanted."""
        return self.ingots * self.ingot_kg + self.pieces_kg - self.kg


@dataclass(frozen=True)
class Left:
    """Metal left over (kg), ingot moulds that stand ready for it, and what stays in the crucible (kg)."""

    kg: float
    moulds: int
    heel_kg: float


class Kind(StrEnum):
    """Who is busy in a step: one pair of hands, the fire, or nobody."""

    HANDS = "hands"
    FIRE = "fire"
    WAIT = "wait"


@dataclass(frozen=True)
class Step:
    """A step: its id, what is done, how long it takes (min), the ids of those it waits for, who is busy; ``why`` what
    its time hangs on; ``litres`` of sand that are rammed in it.
    """

    id: str
    text: str
    minutes: float
    after: tuple[str, ...]
    kind: Kind = Kind.HANDS
    why: str = ""
    litres: float = 0.0


@dataclass(frozen=True)
class Limit:
    """From the beginning of one step to the end of another no more than so many minutes; ``text`` what is at risk."""

    first: str
    last: str
    minutes: float
    text: str


@dataclass(frozen=True)
class Placed:
    """A step in its place: when it begins and ends, minutes from the beginning of the pour, and whether the pour waits
    for it with nothing to spare.
    """

    step: Step
    start: float
    end: float
    critical: bool


@dataclass(frozen=True)
class Check:
    """A line of the list before the pour: its id, what is looked at, and why it stands on this job's list."""

    id: str
    text: str
    why: str


@dataclass(frozen=True)
class Furnace:
    """How the furnace that melts it does: its name, how long it warms and melts (min), and the share of its heat that
    reaches the metal; ``learned`` from two melts.
    """

    name: str
    warm_min: float
    melt_min: float
    share: float
    learned: bool
    heat_mj: float


@dataclass(frozen=True)
class Pot:
    """The crucible: its id and name, what it holds to its limit (kg), and how its metal cools when it is full: K/min at
    the lifting temperature; ``own`` measured by the user.
    """

    id: str
    name: str
    holds_kg: float
    whole_kg: float
    falls_k_min: float
    own: bool


@dataclass(frozen=True, eq=False)
class PourResult:
    """The pour. ``lift_c`` as it is lifted; ``most_c`` the hottest it may be lifted; ``open_min`` after the pour;
    ``open_c`` how hot the casting may be then; ``wrong`` what to do when it goes wrong.
    """

    metal: str
    turns: tuple[Turn, ...]
    poured_kg: float
    charged: Charged
    left: Left
    pot: Pot
    fills: int
    lift_c: float
    most_c: float
    liquidus_c: float
    solidus_c: float
    furnace: Furnace
    steps: tuple[Step, ...]
    limits: tuple[Limit, ...]
    placed: tuple[Placed, ...]
    open_min: float
    open_c: float
    checks: tuple[Check, ...]
    wrong: tuple[str, ...]
    cautions: tuple[str, ...]
    findings: tuple[Finding, ...]

    @property
    def first(self) -> Turn:
        """The first mould that is poured."""
        return self.turns[0]

    @property
    def last(self) -> Turn:
        """The last one."""
        return self.turns[-1]

    @property
    def before_min(self) -> float:
        """How long before the pour the first step begins."""
        return -min((one.start for one in self.placed), default=0.0)

    @property
    def after_min(self) -> float:
        """How long after the pour's beginning the last step ends."""
        return max((one.end for one in self.placed), default=0.0)
