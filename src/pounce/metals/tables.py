"""The tables as typed, frozen values, read once from ``data/*.toml``.

Every figure carries its value, range, unit, condition and the key of its source; a figure whose source is not in
``sources.toml`` does not load.
"""

import tomllib
from functools import cache
from importlib import resources
from typing import Final, Literal, TypeVar

import msgspec

from pounce.base.digest import digest
from pounce.base.errors import UserFault

T = TypeVar("T")
# How far over a bound of a table a size may lie and still count to its row.
NOISE_MM, NOISE_SHARE = 0.02, 2e-4


class Source(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Where a figure comes from. ``kind`` says how far to trust it."""

    title: str
    edition: str
    place: str
    kind: Literal["published", "memory", "practice"]

    def words(self) -> str:
        """The source in a few words, with its kind."""
        kinds = {"published": "published", "memory": "from memory", "practice": "common practice"}
        return f"{self.title} ({kinds[self.kind]})"


class Figure(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A figure with its range (low <= value <= high), unit, source key and condition."""

    value: float
    low: float
    high: float
    unit: str
    source: str
    condition: str = ""


class Caution(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """One caution: what hurts, and what to do about it."""

    topic: Literal["heat", "fire", "fume", "gas", "dust", "chemical", "lifting"]
    text: str


class Rule(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """An old contraction rule: so many inches in a foot, as a fraction in text."""

    inch_in_a_foot: str
    source: str


class Metal(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A casting metal. Contraction in % linear, density kg/m3, temperatures in C, least wall in mm."""

    name: str
    kind: str
    contraction: Figure
    density: Figure
    liquidus: Figure
    solidus: Figure
    pouring: Figure
    freezing_shrinkage: Figure
    least_wall: Figure
    rule: Rule | None = None
    cautions: tuple[str, ...] = ()


Bond = Literal["damp", "rammed", "set", "loose"]


class Mould(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A mould medium. Density rammed in kg/m3, grain in mm, strength in kPa; ``water`` % of the sand's weight where
    it holds by that, ``mix`` the binder's mix where it sets.

    ``bond``: ``damp`` holds water, ``rammed`` holds by oil, ``set`` hardens by a binder, ``loose`` holds by nothing.
    ``airtight``: nothing goes through it, and its air wants ways out.
    """

    name: str
    bond: Bond
    about: str
    density: Figure
    grain: Figure
    strength: Figure | None = None
    water: Figure | None = None
    mix: str = ""
    airtight: bool = False
    cautions: tuple[str, ...] = ()


class PatternKind(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A way of making the pattern. ``draws``: it leaves the sand; ``splits``: it can be made in halves; ``printed``:
    it, or the master it is cast from, comes off a printer; ``dug``: it stays until the mould has hardened and is dug
    out in pieces.
    """

    name: str
    short: str
    about: str
    draws: bool
    splits: bool
    draft: Figure
    printed: bool = False
    dug: bool = False
    stuff_density: Figure | None = None
    cautions: tuple[str, ...] = ()


class Mix(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A core sand mix. Density kg/m3, parts in % of the sand's weight, strength and stiffness MPa, times min, bake C.

    ``slow_bake`` and ``slow_time`` are the low-oven school's, where there is one.
    """

    name: str
    about: str
    binder: str
    density: Figure
    binder_part: Figure
    water_part: Figure
    strength: Figure
    stiffness: Figure
    bench_life: Figure
    strip: Figure
    steps: tuple[str, ...]
    bake: Figure | None = None
    bake_time: Figure | None = None
    slow_bake: Figure | None = None
    slow_time: Figure | None = None
    catalyst_part: Figure | None = None
    baked: bool = False
    cautions: tuple[str, ...] = ()


class GradeRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """One size of a grade table: up to and including ``upto`` mm, one figure a grade."""

    upto: float
    mm: tuple[float, ...]


class GradeTable(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A table of a standard by size and grade; ``over`` is where it begins, mm."""

    source: str
    unit: str
    condition: str
    over: float
    grades: tuple[str, ...]
    rows: tuple[GradeRow, ...]

    def at(self, size_mm: float, grade: str) -> float:
        """The figure for a size and grade, mm. UserFault for an unknown grade or a size the table does not hold."""
        if grade not in self.grades:
            raise UserFault(f"There is no grade '{grade}'.", f"Choose one of {', '.join(self.grades)}.")
        column = self.grades.index(grade)
        for row in self.rows:
            # the noise of single-precision files and facets must not jump a row
            if size_mm <= row.upto + max(NOISE_MM, NOISE_SHARE * row.upto):
                return row.mm[column]
        raise UserFault(
            f"The table of the standard ends at {self.rows[-1].upto:g} mm; this is {size_mm:.0f} mm.",
            "Give an own figure.",
        )


TABLES: Final = (
    "sources",
    "cautions",
    "metals",
    "moulds",
    "patterns",
    "drafts",
    "margins",
    "pouring",
    "heat",
    "melt",
    "learn",
    "defects",
    "limits",
    "grades",
    "usual",
    "mixes",
    "timbers",
    "screws",
    "series",
)


def read(name: str) -> dict[str, object]:
    """A table's plain values."""
    text = (resources.files("pounce.metals") / "data" / f"{name}.toml").read_text(encoding="utf-8")
    return tomllib.loads(text)


def _table(name: str, kind: type[T]) -> T:
    """A table as ``kind``, every figure of it checked. ValueError that names the figure which cannot stand."""
    content = read(name)
    checked(name, content)
    return msgspec.convert(content, kind)


def checked(where: str, content: object) -> None:
    """Looks through a table's plain values. ValueError for an unknown source or caution, a range that does not hold
    its value, no unit.
    """
    if not isinstance(content, dict):
        return
    source = content.get("source")
    if isinstance(source, str) and source not in sources():
        raise ValueError(f"{where}: there is no source '{source}'")
    if "value" in content and "low" in content:
        value, low, high = (content[key] for key in ("value", "low", "high"))
        if not low <= value <= high:
            raise ValueError(f"{where}: {value} lies outside {low} to {high}")
        if not str(content.get("unit", "")).strip():
            raise ValueError(f"{where}: no unit")
        if source is None:
            raise ValueError(f"{where}: no source")
    for key in content.get("cautions", ()):
        if key not in cautions():
            raise ValueError(f"{where}: there is no caution '{key}'")
    for key, inner in content.items():
        checked(f"{where}.{key}", inner)


@cache
def sources() -> dict[str, Source]:
    """All sources by key."""
    return msgspec.convert(read("sources"), dict[str, Source])


@cache
def cautions() -> dict[str, Caution]:
    """All cautions by key."""
    return msgspec.convert(read("cautions"), dict[str, Caution])


@cache
def metals() -> dict[str, Metal]:
    """All casting metals by id, in the order of the table."""
    return _table("metals", dict[str, Metal])


@cache
def moulds() -> dict[str, Mould]:
    """All mould media by id."""
    return _table("moulds", dict[str, Mould])


@cache
def pattern_kinds() -> dict[str, PatternKind]:
    """All ways of making a pattern by id."""
    return _table("patterns", dict[str, PatternKind])


@cache
def mixes() -> dict[str, Mix]:
    """All core sand mixes by id."""
    return _table("mixes", dict[str, Mix])


class Timber(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A pattern timber: density kg/m3, movement % across the grain for 1 % of moisture."""

    name: str
    about: str
    density: Figure
    movement: Figure


@cache
def timbers() -> dict[str, Timber]:
    """All pattern timbers by id."""
    return _table("timbers", dict[str, Timber])


def timber(timber_id: str) -> Timber:
    """The timber with this id; UserFault for an unknown one."""
    found = timbers().get(timber_id)
    if found is None:
        raise UserFault(f"There is no timber '{timber_id}'.", f"Choose one of {', '.join(timbers())}.")
    return found


class Screw(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A draw screw: the hole it or its insert wants, and the hole it goes through freely, mm."""

    name: str
    hole: Figure
    clear: Figure


@cache
def screws() -> dict[str, Screw]:
    """All draw screws by id."""
    return _table("screws", dict[str, Screw])


def screw(screw_id: str) -> Screw:
    """The draw screw with this id; UserFault for an unknown one."""
    found = screws().get(screw_id)
    if found is None:
        raise UserFault(f"There is no draw screw '{screw_id}'.", f"Choose one of {', '.join(screws())}.")
    return found


class Series(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Sizes sold, rising, with unit, source key and condition."""

    sizes: tuple[float, ...]
    unit: str
    source: str
    condition: str


@cache
def series() -> dict[str, Series]:
    """All rows of sizes by id. ValueError for one that does not rise."""
    found = _table("series", dict[str, Series])
    for name, one in found.items():
        if list(one.sizes) != sorted(set(one.sizes)) or not one.unit.strip():
            raise ValueError(f"series.{name}: sizes do not rise, or have no unit")
    return found


@cache
def limits() -> dict[str, Figure]:
    """Figures that belong to no one metal, mould or pattern."""
    return _table("limits", dict[str, Figure])


def held(name: str, bond: Bond) -> Figure:
    """What sand of that bond holds: the figure ``name`` of the limits, for sand set by a binder its own. KeyError
    without such a figure.
    """
    return limits()[f"{name}_set" if bond == "set" else name]


@cache
def grades() -> dict[str, GradeTable]:
    """The tables of ISO 8062: ``machining`` and ``tolerance``."""
    return _table("grades", dict[str, GradeTable])


@cache
def tables_digest() -> str:
    """A digest of every table, part of the key of every computed result."""
    return digest(*[read(name) for name in TABLES])


def metal(metal_id: str) -> Metal:
    """The metal with this id; UserFault for an unknown one."""
    found = metals().get(metal_id)
    if found is None:
        raise UserFault(f"There is no metal '{metal_id}' in the table.", "List them with: pounce metals")
    return found


def mould(mould_id: str) -> Mould:
    """The mould medium with this id; UserFault for an unknown one."""
    found = moulds().get(mould_id)
    if found is None:
        raise UserFault(f"There is no mould medium '{mould_id}'.", "List them with: pounce moulds")
    return found


def mix(mix_id: str) -> Mix:
    """The core sand mix with this id; UserFault for an unknown one."""
    found = mixes().get(mix_id)
    if found is None:
        raise UserFault(f"There is no core sand mix '{mix_id}'.", f"Choose one of {', '.join(mixes())}.")
    return found


def pattern_kind(pattern_id: str) -> PatternKind:
    """The way of making a pattern with this id; UserFault for an unknown one."""
    found = pattern_kinds().get(pattern_id)
    if found is None:
        raise UserFault(f"There is no way of making a pattern '{pattern_id}'.", "List them with: pounce patterns")
    return found


def baking_words(one: Mix) -> str:
    """How a mix is baked, both schools where there are two; nothing for one that is not baked. Starts with a space."""
    if one.bake is None or one.bake_time is None:
        return ""
    usual = (
        f" Bake at {one.bake.low:g} to {one.bake.high:g} °C, {one.bake.value:g} usual, for {one.bake_time.low:g} to "
        f"{one.bake_time.high:g} min by its thickness."
    )
    if one.slow_bake is None or one.slow_time is None:
        return usual + " It is dry when it loses no more weight."
    return usual + (
        f" Or, the low-oven school, at about {one.slow_bake.value:g} °C for {one.slow_time.low / 60.0:g} to "
        f"{one.slow_time.high / 60.0:g} h: "
        "slower, and the flour never scorches. Either way weigh it: it is dry when it loses no more weight."
    )
