"""The bench's own things: crucibles, furnaces, ingot moulds, weights, printers and sands in one JSON file of the
user's, a sample set until there is one.
"""

import itertools
import math
from functools import lru_cache
from pathlib import Path
from typing import Literal

import msgspec
import platformdirs

from pounce.base.errors import UserFault
from pounce.base.files import write_whole
from pounce.metals import tables
from pounce.metals.melt import heat_to, melt
from pounce.metals.pouring import liquid_density

FILE = "things.json"
# So many weights are held against each other.
MOST_WEIGHTS = 14
# Lists whose things have ids.
KINDS = ("crucibles", "furnaces", "ingots", "printers", "sands")
FURNACES = {"electric": "electric", "burner": "with a burner"}


class Crucible(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A crucible: ``brim_l`` to its brim, of ``material``, filled to ``fill`` of that at most; ``kg`` empty and the
    inside diameter and height (mm), None where nobody weighed or measured it.
    """

    id: str
    name: str
    brim_l: float
    material: str = "clay-graphite"
    fill: float | None = None
    kg: float | None = None
    wide_mm: float | None = None

    @property
    def fill_share(self) -> float:
        """How full it is filled."""
        return melt().common.brim.value if self.fill is None else self.fill

    @property
    def inside_mm(self) -> tuple[float, float]:
        """Mean inside diameter and height, mm."""
        volume = self.brim_l * 1e6
        slender = melt().common.slender.value
        wide = (volume / (math.pi / 4.0 * slender)) ** (1.0 / 3.0) if self.wide_mm is None else self.wide_mm
        return wide, volume / (math.pi / 4.0 * wide**2)

    @property
    def wall_mm(self) -> float:
        """Its wall: a share of its width, of steel the table's."""
        c = melt().common
        return c.wall_steel.value if self.material == "steel" else c.wall.value * self.inside_mm[0]

    @property
    def empty_kg(self) -> float:
        """What it weighs empty: as said, else a wall of a tenth of its width all round and under it."""
        if self.kg is not None:
            return self.kg
        wide, high = self.inside_mm
        wall = self.wall_mm
        outer = math.pi / 4.0 * (wide + 2.0 * wall) ** 2 * (high + wall)
        return (outer - math.pi / 4.0 * wide**2 * high) * 1e-9 * melt().crucible[self.material].density.value

    def holds_kg(self, metal_id: str) -> float:
        """Metal that it holds as full as it is filled."""
        return self.brim_l * 1e-3 * self.fill_share * liquid_density(metal_id).value


class OneMelt(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A melt that was timed: so much of a metal, from lighting to lifting."""

    metal: str
    kg: float
    minutes: float
    to_c: float | None = None


class Furnace(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A furnace: ``kw`` it takes or burns, ``warm_min`` until it is red, the largest crucible it takes, and melts that
    were timed: two tell its efficiency.
    """

    id: str
    name: str
    kind: Literal["electric", "burner"]
    kw: float
    takes_l: float
    warm_min: float | None = None
    hottest_c: float = 1200.0
    melts: tuple[OneMelt, ...] = ()


class Ingot(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """An ingot mould: what it holds, and how many there are."""

    id: str
    name: str
    cm3: float
    many: int = 1

    def kg(self, metal_id: str) -> float:
        """What an ingot out of it weighs."""
        return self.cm3 * 1e-6 * tables.metal(metal_id).density.value


class Printer(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A printer: what its bed takes, mm."""

    id: str
    name: str
    x_mm: float
    y_mm: float
    z_mm: float


class Sand(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A sand that was measured: what it conducts (W/(m K)) and holds (J/(kg K))."""

    id: str
    name: str
    conducts: float
    heat: float


class Things(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """All of them; ``weights_kg`` those that lie on a cope."""

    crucibles: tuple[Crucible, ...] = ()
    furnaces: tuple[Furnace, ...] = ()
    ingots: tuple[Ingot, ...] = ()
    weights_kg: tuple[float, ...] = ()
    printers: tuple[Printer, ...] = ()
    sands: tuple[Sand, ...] = ()


SAMPLE = Things(
    (
        Crucible("ladle", "Steel ladle", 0.12, "steel", 0.8),
        Crucible("half-litre", "Half-litre pot", 0.5),
        Crucible("litre", "One-litre pot", 1.0),
        Crucible("two-litre", "Two-litre pot", 2.0),
        Crucible("four-litre", "Four-litre pot", 4.2, "silicon-carbide"),
        Crucible("nine-litre", "Nine-litre pot", 9.0, "silicon-carbide"),
    ),
    (
        Furnace("plate", "Electric ring", "electric", 1.5, 0.6, 5.0, 480.0),
        Furnace("kiln", "Electric pot furnace", "electric", 3.0, 2.1, 25.0, 1150.0),
        Furnace("drum", "Gas drum furnace", "burner", 60.0, 9.5, 10.0, 1450.0),
    ),
    (Ingot("bar", "Muffin bar", 110.0, 6), Ingot("channel", "Angle-iron channel", 330.0, 3)),
    (2.5, 5.0, 5.0, 10.0, 10.0),
    (
        Printer("filament", "Filament printer", 220.0, 220.0, 250.0),
        Printer("resin", "Resin printer", 130.0, 80.0, 150.0),
    ),
)


def weights_for(own: tuple[float, ...], kg: float) -> tuple[float, ...]:
    """The fewest of the own weights that hold down so much, and of those the lightest; () where all together do not."""
    best: tuple[float, ...] = ()
    for many in range(1, len(own) + 1):
        for chosen in itertools.combinations(sorted(own, reverse=True), many):
            if sum(chosen) >= kg - 1e-9 and (not best or sum(chosen) < sum(best)):
                best = chosen
        if best:
            return best
    return ()


def things_file() -> Path:
    """Where they are kept."""
    return Path(platformdirs.user_config_dir("pounce")) / FILE


def own_things() -> Things:
    """The user's, the sample where there are none. UserFault for a file that cannot be read."""
    path = things_file()
    try:
        stamp = path.stat().st_mtime_ns
    except OSError:
        return SAMPLE
    return read_things(path, stamp)


@lru_cache(maxsize=4)
def read_things(path: Path, _stamp: int = 0) -> Things:
    """Things from a file, of which none may be left out: what is missing is the sample's. UserFault for one that cannot
    be read.
    """
    try:
        found = msgspec.json.decode(path.read_bytes(), type=Things)
    except (OSError, msgspec.DecodeError) as error:
        raise UserFault(
            f"The list of your crucibles and furnaces ({path.name}) cannot be read ({error}).", "Mend or remove it."
        ) from None
    return checked(
        Things(
            found.crucibles or SAMPLE.crucibles,
            found.furnaces or SAMPLE.furnaces,
            found.ingots or SAMPLE.ingots,
            found.weights_kg or SAMPLE.weights_kg,
            found.printers or SAMPLE.printers,
            found.sands,
        )
    )


def checked(things: Things) -> Things:
    """The same. UserFault for one that cannot be."""
    for pot in things.crucibles:
        _checked_pot(pot)
    for fire in things.furnaces:
        _checked_fire(fire)
    for ingot in things.ingots:
        if not ingot.id.strip() or not 1.0 <= ingot.cm3 <= 20_000.0 or ingot.many < 1:
            raise UserFault(f"The ingot '{ingot.name or ingot.id}' cannot be.", "Give 1 to 20000 cm³ and how many.")
    if len(things.weights_kg) > MOST_WEIGHTS or any(not 0.1 <= one <= 500.0 for one in things.weights_kg):
        raise UserFault("Your weights cannot be.", f"Give up to {MOST_WEIGHTS} of 0.1 to 500 kg.")
    for printer in things.printers:
        bed = (printer.x_mm, printer.y_mm, printer.z_mm)
        if not printer.id.strip() or not all(20.0 <= one <= 2000.0 for one in bed):
            raise UserFault(f"The printer '{printer.name or printer.id}' cannot be.", "Give a bed of 20 to 2000 mm.")
    for sand in things.sands:
        if not sand.id.strip() or not 0.1 <= sand.conducts <= 5.0 or not 500.0 <= sand.heat <= 3000.0:
            raise UserFault(
                f"The sand '{sand.name or sand.id}' cannot be.", "Give 0.1 to 5 W/(m K) and 500 to 3000 J/(kg K)."
            )
    for name in KINDS:
        keys = [one.id for one in getattr(things, name)]
        if len(set(keys)) != len(keys):
            raise UserFault(f"Two {name} have one id.", "Give each its own.")
    return things


def _checked_pot(pot: Crucible) -> None:
    good = 0.02 <= pot.brim_l <= 60.0 and 0.3 <= pot.fill_share <= 0.95 and pot.material in melt().crucible
    if not pot.id.strip() or not good or (pot.kg is not None and not 0.05 <= pot.kg <= 200.0):
        materials = ", ".join(melt().crucible)
        raise UserFault(
            f"The crucible '{pot.name or pot.id}' cannot be.",
            f"Give 0.02 to 60 litres to the brim, filled to 30 to 95 %, of {materials}.",
        )


def _checked_fire(fire: Furnace) -> None:
    if not fire.id.strip() or not 0.1 <= fire.kw <= 500.0 or not 0.02 <= fire.takes_l <= 100.0:
        raise UserFault(f"The furnace '{fire.name or fire.id}' cannot be.", "Give 0.1 to 500 kW and what it takes.")
    for one in fire.melts:
        if one.metal not in tables.metals() or not 0.01 <= one.kg <= 500.0 or not 1.0 <= one.minutes <= 1440.0:
            raise UserFault(f"A melt of '{fire.name}' cannot be.", "Give its metal, kg and minutes.")


def write_things(things: Things, path: Path | None = None) -> Path:
    """Writes them as JSON, the user's own unless a path is given. UserFault for a folder that takes none."""
    target = things_file() if path is None else path
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        write_whole(target, msgspec.json.format(msgspec.json.encode(checked(things)), indent=1))
    except OSError as error:
        raise UserFault(f"Your things cannot be written ({error.strerror}).", "Check your folders.") from error
    return target


def efficiency(fire: Furnace) -> tuple[float, float, bool]:
    """The share of a furnace's heat that reaches the metal, minutes until it is warm, and whether two melts told it:
    minutes = warm + heat/(kW share), a line through two melts of different heat.
    """
    c = melt().common
    usual = (c.efficiency if fire.kind == "electric" else c.efficiency_burner).value
    warm = c.warm.value if fire.warm_min is None else fire.warm_min
    if len(fire.melts) < 2:
        return usual, warm, False
    heats = []
    for one in fire.melts[-2:]:
        metal = tables.metal(one.metal)
        to_c = metal.pouring.value if one.to_c is None else one.to_c
        heats.append(one.kg * heat_to(metal, one.metal, to_c) / 1000.0)  # kJ
    (h1, h2), (t1, t2) = heats, [one.minutes for one in fire.melts[-2:]]
    if abs(h2 - h1) < 0.1 * max(h1, h2) or (t2 - t1) * (h2 - h1) <= 0.0:
        return usual, warm, False  # too alike, or against all sense: they tell nothing
    share = (h2 - h1) / (60.0 * (t2 - t1) * fire.kw)
    begun = t1 - h1 / (60.0 * share * fire.kw)
    return min(max(share, 0.01), 0.95), max(begun, 0.0), True
