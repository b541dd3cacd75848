"""What the job's own figures say that may explain a defect: plain numbers, so that the judgement is told from nothing
else.
"""

from dataclasses import dataclass

from pounce.logbook.values import Point


@dataclass(frozen=True)
class Spot:
    """A place that sets last: where on the part, when it sets and when it was cut off (s), what fed it until then, and
    whether a hole is left that counts.
    """

    at_mm: Point
    name: str
    sets_s: float
    cut_s: float
    fed_by: str
    wants: bool


@dataclass(frozen=True)
class Neck:
    """What leads feeding metal in: its name, where on the part, when it sets and until when it is wanted, s."""

    name: str
    at_mm: Point
    sets_s: float
    wanted_s: float


@dataclass(frozen=True)
class Facts:
    """None: nobody knows, so it says nothing. ``long_mm`` the part's diagonal; ``spare_c`` how much hotter the last
    place to fill is reached than metal that stops; ``meets_c`` how much over its liquidus two streams meet (None: none
    do, where ``filled``); speeds in the gates; ``fills`` of the crucible for one mould; ``cores`` in a mould and what
    is open of them; ``torn_mm3`` of sand by the trial draw; ``add_kg`` what the cope wants; the plan of the pour;
    ``held`` whether a core or flanges hold it as it shrinks, ``rounded`` whether inside corners are.
    """

    long_mm: float = 0.0
    frozen: bool = False
    spots: tuple[Spot, ...] = ()
    necks: tuple[Neck, ...] = ()
    filled: bool = False
    spare_c: float | None = None
    short: bool = False
    meets_c: float | None = None
    gate_m_s: float | None = None
    limit_m_s: float | None = None
    fills: int | None = None
    broken: bool = False
    cores: int | None = None
    cores_open: int = 0
    torn_mm3: float | None = None
    add_kg: float | None = None
    aim_c: float | None = None
    lift_c: float | None = None
    most_c: float | None = None
    ram_min_l: float | None = None
    held: bool = False
    rounded: bool = False
    water: bool = False
