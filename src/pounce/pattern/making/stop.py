"""Works out how the pattern's pieces are made in the chosen way, and what the other ways would take."""

from dataclasses import dataclass, replace

from pounce.base.choice import all_checked
from pounce.base.finding import Finding, Severity
from pounce.base.progress import Progress
from pounce.metals.method import Method
from pounce.metals.tables import limits, screw, timber
from pounce.pattern.choices import TABLE
from pounce.pattern.making import printed
from pounce.pattern.making.foam_way import foam_way
from pounce.pattern.making.hollow import hollow_for, no_flat_joint, said
from pounce.pattern.making.layers import layers_of, with_meshes
from pounce.pattern.making.original_way import original_way
from pounce.pattern.making.printed import Settings
from pounce.pattern.making.printed_way import printed_way
from pounce.pattern.making.values import Making
from pounce.pattern.making.ways import Asked, Stacks, ways_of
from pounce.pattern.making.wood_way import wood_way
from pounce.pattern.values import BESIDE, PatternChoices, Piece
from pounce.solid.mesh import Floats, Mesh

KINDS = {
    "printed-filament": "printed",
    "printed-resin": "printed",
    "metal-from-master": "metal",
    "wood": "wood",
    "foam-drawn": "foam",
    "foam-burned-out": "foam",
    "foam-dug-out": "foam",
    "original-part": "original",
}
METAL_STEPS = (
    "Rub and lacquer the master, cast the halves.",
    "Face the joints, lap them on a plate.",
    "Clamp, bore and ream for the pins.",
    "Clean up, polish, back-fill if it rings.",
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
    bent: "Bent | None" = None


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
            "middle while it is rammed: "
            "that is its camber.",
            noun="camber",
            figures={"bow_mm": self.bow_mm},
            main="bow_mm",
            source=limits()["foam_strain"].source,
        )


def kind_of(method: Method) -> str:
    """Which way of making a pattern of this kind takes: printed, wood, foam, metal or original."""
    return KINDS.get(method.pattern_id, "")


def making(choices: PatternChoices, given: Given, method: Method, progress: Progress) -> tuple[Making, list[Finding]]:
    """The making and its findings. UserFault for figures that cannot be used."""
    checked(choices)
    kind = kind_of(method)
    if not kind or not given.pieces:
        return Making("", ()), []
    progress(0.0, "Working out how it is made")
    shaped = [piece for piece in given.pieces if piece.role not in BESIDE] or list(given.pieces)
    bored = [piece.bored for piece in shaped]
    boards = tuple(
        one for k, piece in enumerate(shaped) for one in layers_of(piece.laid, k, choices.board_mm, bored=bored[k])
    )
    progress(0.35, "Stacking the sheets")
    near = [[(piece.on_laid(at), radius) for at, radius in given.avoid] for piece in shaped]
    sheets = tuple(
        one
        for k, piece in enumerate(shaped)
        for one in layers_of(
            piece.laid if given.bent is None else given.bent.laid,
            k,
            choices.sheet_mm,
            limits()["foam_least"].value,
            near[k],
            bored[k],
        )
    )
    progress(0.6, "Setting out the prints")
    resin = method.pattern_id == "printed-resin"
    layer = limits()["resin_layer" if resin else "print_layer"].value if choices.layer_mm is None else choices.layer_mm
    settings = Settings(
        choices.bed_mm,
        layer,
        choices.walls,
        choices.inside_percent,
        choices.bed_joint == "tongue",
        choices.numbers,
        resin,
    )
    hollow = hollow_for(choices, method) if choices.hollow and kind == "printed" and given.flat else None
    prints = printed.prints_of(given.printing, settings, given.avoid, hollow) if kind in ("printed", "metal") else ()
    ways = ways_of(
        tuple(shaped), given.printing, method, prints, settings, Stacks(boards, sheets), given.asked, given.metal_kg
    )
    names = [piece.name for piece in shaped]
    laid = [piece.laid if given.bent is None else given.bent.laid for piece in shaped]
    if kind in ("printed", "metal"):
        full = printed.estimated(given.pieces, settings)[0]
        made, found = printed_way(choices, method, prints, ways, settings, full)
        steps = made.steps if kind == "printed" else (*made.steps[:2], *METAL_STEPS)
        if choices.hollow and kind == "printed":
            found += [no_flat_joint()] if hollow is None else said(hollow, prints)
        shown = kind == "metal" or any(core_print.room_mm3 > 0.0 for core_print in prints)
        return replace(made, kind=kind, hollow=shown, steps=steps), found
    if kind == "original":
        return original_way(method, ways, given.asked)
    progress(0.8, "Cutting the layers")
    if kind == "wood":
        return wood_way(choices, shaped, names, with_meshes(boards, laid), ways)
    made, found = foam_way(choices, shaped, method, with_meshes(sheets, laid), names, ways, near)
    return made, found + ([] if given.bent is None else [given.bent.said()])


def checked(choices: PatternChoices) -> None:
    """UserFault for a figure that no shop has."""
    all_checked(TABLE, choices)
    timber(choices.timber)
    screw(choices.screw)
