"""What the logbook holds. Lengths mm, masses kg, temperatures C, times UTC."""

import uuid
from datetime import datetime
from enum import StrEnum
from typing import Literal

import msgspec

from pounce.metals.melt import Charge

Point = tuple[float, float, float]


def new_id() -> str:
    """A number that no other entry has."""
    return uuid.uuid4().hex


class Outcome(StrEnum):
    """How a casting came out."""

    SOUND = "sound"
    FLAWED = "flawed"
    SCRAP = "scrap"


class Way(StrEnum):
    """How a size lies in the mould: what rapping, the sand's give and the joint's gap do to it hangs on it. ``across``
    the draw, ``along`` it within one half, along it and across the ``joint``.
    """

    ACROSS = "across"
    ALONG = "along"
    JOINT = "joint"


class Side(StrEnum):
    """What is measured: over the ``outside``, of a hole that the mould's sand makes (``inside``), or what nothing but
    contraction changes: between ``centres``, or of a hole that a core makes.
    """

    OUTSIDE = "outside"
    INSIDE = "inside"
    CENTRES = "centres"


class PairKind(StrEnum):
    """What a size taken on the model is."""

    FACES = "faces"
    DIAMETER = "diameter"
    CENTRES = "centres"


class Pair(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A size taken on the model by two places on it: across two faces, a diameter at the first place, or from centre
    to centre.
    """

    name: str
    kind: PairKind
    a_mm: Point
    b_mm: Point
    hindered: bool = False


class LogChoices(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """``id`` that the logbook knows the job by (empty: nothing of it was kept yet); ``pairs`` sizes taken on the model
    beside the overall ones; ``change`` one change that is tried next, in words.
    """

    id: str = ""
    pairs: tuple[Pair, ...] = ()
    change: str = ""


class Defect(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A defect: what is seen, where and when (ids of the table of defects, empty: not said), at which place of the
    part; ``fault`` whether it counts as one; ``cause`` what it turned out to be, once that is known.
    """

    seen: str
    where: str = ""
    when: str = ""
    at_mm: Point | None = None
    note: str = ""
    fault: bool = True
    cause: str = ""


class Measure(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A size measured on a casting, unground: what was wanted and what the pattern had (``pattern_mm``; as it was
    worked out, or measured where ``pattern_read``), what the casting has, what the caliper is good to and how often it
    was read; how the size lies. ``finished_mm`` the machined part's. ``left_out`` of what is learned, by the user.
    """

    name: str
    pattern_mm: float
    casting_mm: float
    wanted_mm: float = 0.0
    finished_mm: float = 0.0
    way: Way = Way.ACROSS
    side: Side = Side.OUTSIDE
    hindered: bool = False
    resolution_mm: float = 0.1
    repeats: int = 1
    pattern_read: bool = False
    left_out: bool = False
    pattern_raw_mm: float = 0.0


class Casting(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """One casting of a pour."""

    number: int
    outcome: Outcome = Outcome.SOUND
    kg: float | None = None
    note: str = ""
    defects: tuple[Defect, ...] = ()
    measures: tuple[Measure, ...] = ()


class Photo(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A photo that was attached: its name, and the digest its file is kept under."""

    name: str
    digest: str


class Pour(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """One pour of a job. What nobody said is empty or None.

    ``job_id`` links it to the job, ``revision`` to the choices its pattern was made by; ``made_percent`` the
    contraction it was made for; ``squeeze`` what a handful of sand did; ``sand_uses`` how often the sand was used;
    ``returns_kg`` what goes back: gates, feeders, skulls and ingots; ``left_mm`` stock left after machining;
    ``growth_percent`` how much larger a print came out than it was drawn;
    ``broken`` whether the stream was; ``weighted_kg`` what lay on the cope; ``minutes`` each step by its id;
    ``chosen`` what was chosen of the job, by name, where it was not the usual.
    """

    id: str
    at: datetime
    job: str
    job_id: str = ""
    revision: str = ""
    metal: str = ""
    mould: str = ""
    pattern: str = ""
    made_percent: float | None = None
    batch: str = ""
    charge: Charge | Literal[""] = ""
    charge_from: str = ""
    charged_kg: float | None = None
    poured_kg: float | None = None
    returns_kg: float | None = None
    planned_c: float | None = None
    poured_c: float | None = None
    read_by: Literal["", "hand", "meter"] = ""
    lift_c: float | None = None
    falls_c_min: float | None = None
    melt_min: float | None = None
    furnace: str = ""
    heat_mj: float | None = None
    furnace_kw: float | None = None
    ram_min_l: float | None = None
    squeeze: Literal["", "dry", "right", "wet"] = ""
    moisture_percent: float | None = None
    sand_uses: int | None = None
    coat: str = ""
    dust: str = ""
    core_mix: str = ""
    core_dry: bool | None = None
    weather: str = ""
    cost: float | None = None
    broken: bool = False
    weighted_kg: float | None = None
    left_mm: float | None = None
    growth_percent: float | None = None
    minutes: dict[str, float] = {}
    chosen: dict[str, str] = {}
    note: str = ""
    castings: tuple[Casting, ...] = ()
    photos: tuple[Photo, ...] = ()

    @property
    def castings_kg(self) -> float | None:
        """What all castings weigh; None where one was not weighed, or there is none."""
        masses = [one.kg for one in self.castings]
        return None if not masses or None in masses else sum(one for one in masses if one is not None)

    @property
    def yield_share(self) -> float | None:
        """Castings as a share of the metal poured; None where one of them is not known."""
        kg = self.castings_kg
        return None if kg is None or not self.poured_kg else kg / self.poured_kg

    @property
    def loss_percent(self) -> float | None:
        """What was charged and is neither casting nor returned, %; None where one of them was not weighed."""
        kg = self.castings_kg
        if not self.charged_kg or kg is None or self.returns_kg is None:
            return None
        return 100.0 * (self.charged_kg - kg - self.returns_kg) / self.charged_kg

    @property
    def work_min(self) -> float:
        """All its steps together, min."""
        return sum(self.minutes.values())

    @property
    def sound(self) -> int:
        """How many castings came out sound."""
        return sum(one.outcome is Outcome.SOUND for one in self.castings)


class Event(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Something done to a pattern: made, coated, repaired, pulled (a mould made of it, ``count`` times)."""

    id: str
    at: datetime
    pattern: str
    kind: Literal["made", "coat", "repair", "pulled"]
    count: int = 1
    revision: str = ""
    note: str = ""


class Recipe(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A mix of core or moulding sand that worked, or did not: its parts by weight."""

    id: str
    at: datetime
    name: str
    kind: Literal["core", "sand"]
    parts: dict[str, float]
    note: str = ""


class Everything(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """All that a logbook holds."""

    pours: tuple[Pour, ...] = ()
    events: tuple[Event, ...] = ()
    recipes: tuple[Recipe, ...] = ()


class Line(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A pour in a list: what a row shows of it."""

    id: str
    at: datetime
    job: str
    job_id: str
    metal: str
    planned_c: float | None
    poured_c: float | None
    castings: int
    sound: int
    scrap: int
    first_mm: float | None
    note: str

    @property
    def state(self) -> Outcome | None:
        """The worst of what came out; None where nobody said yet."""
        if not self.castings:
            return None
        if self.scrap:
            return Outcome.SCRAP
        return Outcome.SOUND if self.sound == self.castings else Outcome.FLAWED
