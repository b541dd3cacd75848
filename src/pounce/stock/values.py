"""Choices and results of the Stock stop."""

from dataclasses import dataclass, field
from enum import StrEnum
from typing import Final, Literal

import msgspec

from pounce.base.finding import Finding, filled
from pounce.metals.tables import limits
from pounce.solid.features.values import Feature
from pounce.solid.mesh import Bools, Floats, Mesh

Place = tuple[float, float, float]


class Machining(msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag="machining", tag_field="kind"):
    """Stock on the face or round at ``at_mm`` (on the part): by ISO 8062 with ``grade`` (None: the metal's usual), or
    ``own_mm`` a surface.

    ``school`` "standard" or "home": what home shops leave, 1.5 to 3 mm a face and 3 to 6 mm in a bore, tolerance and
    all. ``cope_more``: a face that looks up in the cope takes one grade more, for dross gathers there.
    """

    at_mm: Place
    grade: str | None = None
    school: Literal["standard", "home"] = "standard"
    own_mm: float | None = None
    cope_more: bool = False
    on: bool = True


class Fill(msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag="fill", tag_field="kind"):
    """The hole at ``at_mm`` filled, or every bore of up to ``under_mm`` when no place is given.

    ``proud_mm`` how far the plug stands out, ``mark`` whether it gets a centre mark where that draws.
    """

    at_mm: Place | None = None
    under_mm: float | None = None
    proud_mm: float = 0.0
    mark: bool = True
    on: bool = True


class WallDraft(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """An own draft for the wall at a place; 0 leaves it as it is."""

    at_mm: Place
    degrees: float


class Draft(msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag="draft", tag_field="kind"):
    """Draft on tight and upright walls: ``degrees`` (None: what the method asks), metal added, taken, or half and half.

    ``walls`` own figures; ``only`` (places) restricts it to these walls.
    """

    degrees: float | None = None
    how: Literal["add", "take", "half"] = "add"
    walls: tuple[WallDraft, ...] = ()
    only: tuple[Place, ...] = ()
    on: bool = True


class Fillets(msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag="fillets", tag_field="kind"):
    """Sharp inside corners filled to ``radius_mm`` (None: by the wall and the least), outside edges eased by
    ``ease_mm``.

    ``kept`` (places) are edges that stay sharp.
    """

    radius_mm: float | None = None
    ease_mm: float = 0.0
    kept: tuple[Place, ...] = ()
    on: bool = True


class Lettering(msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag="text", tag_field="kind"):
    """A line of text on the plane at ``at_mm``: letters ``high_mm`` high, raised (over 0) or sunk ``proud_mm``.

    ``turn_deg`` turns it on the plane; ``mirrored`` as the pattern must carry it where it stamps a mirror image.
    """

    text: str
    at_mm: Place
    high_mm: float = 10.0
    proud_mm: float = 1.0
    turn_deg: float = 0.0
    mirrored: bool = False
    on: bool = True


class Level(msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag="level", tag_field="kind"):
    """A worn or broken place filled up to the plane round it, within ``radius_mm`` of ``at_mm``."""

    at_mm: Place
    radius_mm: float = 10.0
    on: bool = True


class Camber(msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag="camber", tag_field="kind"):
    """A counter-bend for the bow expected: ``bow_mm`` over the length (None: by the rule), along ``axis``, toward
    ``toward``.

    ``legs``: not the length bows but the legs of a U spread, for the sand between them hinders their web's
    contraction: they are set closer by ``bow_mm`` over their tips, which stand toward ``toward``.
    """

    bow_mm: float | None = None
    axis: Literal["", "x", "y", "z"] = ""
    toward: Literal["+x", "-x", "+y", "-y", "+z", "-z", ""] = ""
    legs: bool = False
    on: bool = True


class Finish(msgspec.Struct, frozen=True, forbid_unknown_fields=True, tag="finish", tag_field="kind"):
    """Paint and filler that will be laid on, material that sanding takes off, and rapping that widens the mould, each a
    side, mm.

    ``coating_mm`` on a foam that is burned out.
    """

    paint_mm: float = 0.0
    sanding_mm: float = 0.0
    rap_mm: float = 0.0
    coating_mm: float = 0.0
    on: bool = True


class LineKind(StrEnum):
    """What a line of Stock is; its value is the name of its type."""

    MACHINING = "Machining"
    FILL = "Fill"
    DRAFT = "Draft"
    FILLETS = "Fillets"
    LETTERING = "Lettering"
    LEVEL = "Level"
    CAMBER = "Camber"
    FINISH = "Finish"


Addition = Machining | Fill | Draft | Fillets | Lettering | Level | Camber | Finish
NAMES: Final = {
    LineKind.MACHINING: "Machining stock",
    LineKind.FILL: "Holes filled",
    LineKind.DRAFT: LineKind.DRAFT,
    LineKind.FILLETS: LineKind.FILLETS,
    LineKind.LETTERING: "Text",
    LineKind.LEVEL: "Levelled place",
    LineKind.CAMBER: LineKind.CAMBER,
    LineKind.FINISH: "Finish and rapping",
}
# The usual order; a later one works on what the earlier ones left. Holes run on through
# stock and are filled after it, flush with its face; finish comes before small rounds, which it would fold.
ORDER: Final = {
    LineKind.LEVEL: 0,
    LineKind.MACHINING: 1,
    LineKind.FILL: 2,
    LineKind.DRAFT: 3,
    LineKind.FINISH: 4,
    LineKind.FILLETS: 5,
    LineKind.LETTERING: 6,
    LineKind.CAMBER: 7,
}
# Lines whose metal is machined off again.
CUT = (LineKind.MACHINING, LineKind.FILL)
# Those between which the order changes what comes out, and is the user's.
FREE_ORDER = (LineKind.MACHINING, LineKind.DRAFT, LineKind.FILLETS, LineKind.LETTERING)


def line_kind(line: Addition) -> LineKind:
    """What a line is."""
    return LineKind(type(line).__name__)


class AxisShrink(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Contraction along one axis of the part: free, hindered by a core or by two flanges (the table's low end), or
    ``own_percent``.

    ``bed_percent`` how much larger the printer prints along it than asked, measured.
    """

    hindered: Literal["", "core", "flanges"] = ""
    own_percent: float | None = None
    bed_percent: float = 0.0


class StockChoices(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """``lines`` the additions in the order they are worked; ``axes`` contraction along x, y and z;
    ``print_shrink_percent`` how much the printing material shrinks; ``other_metal`` one more metal to be told sizes
    for; ``tolerance`` the grade of ISO 8062 (None: the sand's usual) of the table; ``spin_axis`` and ``spin_at_mm``
    the axis for the moment of inertia (at None: the middle of mass).
    """

    lines: tuple[Addition, ...] = ()
    axes: tuple[AxisShrink, AxisShrink, AxisShrink] = (AxisShrink(), AxisShrink(), AxisShrink())
    print_shrink_percent: float = 0.0
    other_metal: str | None = None
    tolerance: str | None = None
    spin_axis: Literal["x", "y", "z"] = "z"
    spin_at_mm: Place | None = None
    stock_left_mm: float = limits()["stock_left"].value


@dataclass(frozen=True, eq=False)
class Added:
    """What one line of the card came to.

    ``name`` and ``about`` with {figures}; ``added_mm3`` and ``taken_mm3`` of metal; ``body`` the index of the body
    after it; ``asked`` the line it stands for in the choices; ``trouble``
    says where it failed, ``why`` the reason for a figure that goes by itself; ``stays`` whether its metal is left on
    the casting, of a kind whose metal is machined off again.
    """

    kind: LineKind
    name: str
    about: str
    figures: dict[str, float]
    added_mm3: float
    taken_mm3: float
    on: bool
    asked: int
    body: int
    source: str | None = None
    at_mm: Place | None = None
    trouble: str = ""
    why: str = ""
    stays: bool = False

    def words(self, shown: str = "mm") -> str:
        """Its name in the reader's units."""
        return filled(self.name, self.figures, shown)

    def about_words(self, shown: str = "mm") -> str:
        """The line under its name."""
        return filled(self.about, self.figures, shown)


@dataclass(frozen=True)
class Dimension:
    """A main dimension, mm: on the part, the pattern, the file that is made, the casting, and in the other metal.

    ``tolerance_mm`` total, by ISO 8062, None outside its table; half of it either way is what is shown. ``note``
    says of a drafted round which end the cutter meets; ``axis`` along which of x, y, z an overall size lies, None for
    a diameter.
    """

    name: str
    wanted_mm: float
    pattern_mm: float
    made_mm: float
    casting_mm: float
    other_mm: float | None
    tolerance_mm: float | None
    kind: str = "size"
    note: str = ""
    axis: int | None = None


@dataclass(frozen=True)
class DrillPoint:
    """A hole to drill in the casting: where its mouth is (mm, on the finished part), along which way, how wide and
    deep.

    Places and diameters are final sizes, whatever the casting itself came out at. ``keyed`` whether it has a keyway
    or a flat in its wall, which is cut after it.
    """

    name: str
    at_mm: Place
    way: Place
    diameter_mm: float
    depth_mm: float
    through: bool
    marked: bool
    part_at_mm: Place = (0.0, 0.0, 0.0)
    keyed: bool = False

    def deep_words(self, deep: str) -> str:
        """How far it goes, ``deep`` its depth in the reader's units, and what is cut in it then."""
        return ("through" if self.through else deep) + (", then its keyway" if self.keyed else "")


@dataclass(frozen=True)
class Weight:
    """Mass (kg), middle of mass (mm) and moment of inertia (kg m2) about the axis picked."""

    volume_mm3: float
    mass_kg: float
    middle_mm: Place
    inertia_kgm2: float


@dataclass(frozen=True)
class Bulk:
    """An inscribed sphere: where it is thickest, its diameter, that of the thinner section beside it, and their
    ratio.
    """

    at_mm: Place
    diameter_mm: float
    beside_mm: float

    @property
    def ratio(self) -> float:
        """Thick over thin."""
        return self.diameter_mm / self.beside_mm if self.beside_mm > 0.0 else float("inf")


@dataclass(frozen=True, eq=False)
class StockResult:
    """The part with everything added, before contraction.

    ``mesh`` the body, its faces tagged with the part's face, which of ``lines`` made them and which of ``features``
    they are of; ``joint_mm`` where a flat joint lies now: a flat back that was moved out takes it along. ``bodies``
    after each line that changed it, the part first. ``thin`` (m,) the part's own faces whose wall is thinner than
    the metal runs; ``filler_mm`` (n,) how thick filler lies at each vertex. ``normals`` (m, 3, 3) for smooth
    drawing. ``factors`` pattern over part along x, y, z, ``made_factors`` what is made over part (a printer's own
    errors taken in), ``rammed_factors`` what is rammed up over part (the metal pattern, not its master),
    ``box_factors`` a core box over part, ``percents`` contraction along each as it is stated.
    """

    mesh: Mesh
    normals: Floats
    features: tuple[Feature, ...]
    bodies: tuple[Mesh, ...]
    lines: tuple[Added, ...]
    factors: tuple[float, float, float]
    made_factors: tuple[float, float, float]
    rammed_factors: tuple[float, float, float]
    box_factors: tuple[float, float, float]
    percents: tuple[float, float, float]
    dimensions: tuple[Dimension, ...]
    joint_mm: float
    drill: tuple[DrillPoint, ...]
    finished: Weight
    cast: Weight
    bulks: tuple[Bulk, ...]
    thin: Bools
    thin_mm2: float
    thin_at_mm: Place | None
    tight_mm2: float
    filler_mm: Floats
    findings: tuple[Finding, ...]
    notes: dict[str, float] = field(default_factory=dict)

    @property
    def cut_away(self) -> tuple[tuple[Mesh, Mesh], ...]:
        """The body before and after each line whose metal is machined off again: stock, and what is cast solid."""
        ends = [0, *(line.body for line in self.lines)]
        steps = zip(ends, ends[1:], self.lines, strict=False)
        return tuple(
            (self.bodies[a], self.bodies[b]) for a, b, line in steps if b > a and line.kind in CUT and not line.stays
        )

    @property
    def added_mm3(self) -> float:
        """All metal added, less what was taken."""
        return self.cast.volume_mm3 - self.finished.volume_mm3

    @property
    def uniform(self) -> float:
        """One factor for the three: their mean."""
        return float(sum(self.made_factors) / 3.0)
