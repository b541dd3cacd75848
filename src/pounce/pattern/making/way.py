"""What a way of making is: a plug-in of one folder, and the shop that it works in."""

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Protocol

from pounce.base.finding import Finding, Severity
from pounce.metals.method import Method
from pounce.metals.tables import limits
from pounce.pattern.making.layers import layers_of
from pounce.pattern.making.printed.hollow import Hollow, hollow_for
from pounce.pattern.making.printed.prints import Settings, estimated, prints_of
from pounce.pattern.making.values import Layer, Making, Printed, Way
from pounce.pattern.values import BESIDE, PatternChoices, Piece
from pounce.solid.mesh import Floats, Mesh


@dataclass(frozen=True)
class Asked:
    """What the part asks of an original that serves as its own pattern: holes to fill, wall short of draft (mm2),
    and its length (mm).
    """

    holes: int
    taper_mm2: float
    long_mm: float


@dataclass(frozen=True, eq=False)
class Bent:
    """Foam that is cut flat and laid over packing to its camber: the flat piece, laid, and the bow, mm."""

    laid: Mesh
    bow_mm: float

    def said(self) -> Finding:
        """What there is to do."""
        return Finding(
            "foam-bent",
            Severity.NOTE,
            "Cut it flat, its outlines and thickness as drawn, and lay it over packing {bow_mm} high in the "
            "middle while it is rammed: that is its camber.",
            noun="camber",
            figures={"bow_mm": self.bow_mm},
            main="bow_mm",
            source=limits()["foam_strain"].source,
        )


@dataclass(frozen=True, eq=False)
class Given:
    """What the making starts from: the pattern's ``pieces``, those to print (``printing``), places (3,) and radii no
    cut may come near, what an original would want, the mass of a metal pattern where one is made, and whether the
    joint is ``flat``.
    """

    pieces: tuple[Piece, ...]
    printing: tuple[Piece, ...]
    avoid: tuple[tuple[Floats, float], ...]
    asked: Asked
    metal_kg: float | None = None
    flat: bool = True
    bent: Bent | None = None


@dataclass(frozen=True, eq=False)
class Shop:
    """What every way works from, and what several of them share, worked once: the stacks of boards and sheets, the
    printer.
    """

    choices: PatternChoices
    method: Method
    given: Given

    @cached_property
    def pieces(self) -> tuple[Piece, ...]:
        """The pieces that are shaped, less what they are moulded on."""
        shaped = tuple(piece for piece in self.given.pieces if piece.role not in BESIDE)
        return shaped or self.given.pieces

    @property
    def names(self) -> list[str]:
        """Of the pieces."""
        return [piece.name for piece in self.pieces]

    @property
    def area_mm2(self) -> float:
        """Surface of the pieces."""
        return sum(piece.mesh.area for piece in self.pieces)

    @property
    def laid(self) -> list[Mesh]:
        """The pieces as they lie on the bench; flat, where they are bent."""
        return [piece.laid if self.given.bent is None else self.given.bent.laid for piece in self.pieces]

    @cached_property
    def near(self) -> list[list[tuple[Floats, float]]]:
        """For each piece, laid, where no cut may come near: places (3,) and radii, mm."""
        return [[(piece.on_laid(at), radius) for at, radius in self.given.avoid] for piece in self.pieces]

    @cached_property
    def boards(self) -> tuple[Layer, ...]:
        """The pieces as stacks of boards."""
        return tuple(
            layer
            for k, piece in enumerate(self.pieces)
            for layer in layers_of(piece.laid, k, self.choices.board_mm, bored=piece.bored)
        )

    @cached_property
    def sheets(self) -> tuple[Layer, ...]:
        """The pieces as stacks of foam sheets."""
        least = limits()["foam_least"].value
        return tuple(
            layer
            for k, (piece, laid) in enumerate(zip(self.pieces, self.laid, strict=True))
            for layer in layers_of(laid, k, self.choices.sheet_mm, least, self.near[k], piece.bored)
        )

    @cached_property
    def printer(self) -> Settings:
        """The printer and its settings."""
        choices, resin = self.choices, self.method.pattern_id == "printed-resin"
        usual = limits()["resin_layer" if resin else "print_layer"].value
        return Settings(
            choices.bed_mm,
            usual if choices.layer_mm is None else choices.layer_mm,
            choices.walls,
            choices.inside_percent,
            choices.bed_joint == "tongue",
            choices.numbers,
            resin,
        )

    @cached_property
    def hollow(self) -> Hollow | None:
        """How printed pieces are hollowed; None where they are not, or cannot be."""
        wanted = self.choices.hollow and self.method.pattern_id.startswith("printed") and self.given.flat
        return hollow_for(self.choices, self.method) if wanted else None

    @cached_property
    def prints(self) -> tuple[Printed, ...]:
        """The pieces to print, on their beds, where a print is what is made or cast from."""
        if not self.method.pattern_id.startswith("printed") and self.given.metal_kg is None:
            return ()
        return prints_of(self.given.printing, self.printer, self.given.avoid, self.hollow)

    @cached_property
    def full_mm3(self) -> float:
        """The plastic the pieces would take if they were not hollowed."""
        return estimated(self.given.pieces, self.printer)[0]


class WayOfMaking(Protocol):
    """One way of making a pattern's pieces.

    ``kind`` by which it is chosen; ``beside`` what it comes to, held beside the others; ``prepare`` what is made, its
    figures among it; ``findings`` what there is to mind; ``steps`` the order of work; ``drawings`` what is drawn for
    it: templates, a cut-list, a rule.
    """

    kind: str
    drawings: frozenset[str]

    def beside(self, shop: Shop) -> Way:
        """Hours, material, what to mind."""

    def prepare(self, shop: Shop) -> Making:
        """The prints, layers, blanks and cuts, with their figures."""

    def findings(self, shop: Shop, made: Making) -> list[Finding]:
        """What there is to say of it."""

    def steps(self, shop: Shop, made: Making) -> tuple[str, ...]:
        """The order of work."""


def sized(way: Way, asked: Asked) -> Way:
    """A new pattern beside an original: its casting comes out at size."""
    figures = {**way.figures, "casting_long_mm": asked.long_mm}
    return replace(way, takes="casts {casting_long_mm}", minds="At size.", figures=figures)
