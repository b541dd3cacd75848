"""The ways of making held side by side: hours, material, what to mind, and the size the casting comes out at."""

from dataclasses import dataclass

from pounce.metals.method import Method
from pounce.metals.tables import limits, pattern_kind
from pounce.pattern.making import foam, printed, wood
from pounce.pattern.making.printed import Settings
from pounce.pattern.making.values import Layer, Printed, Way
from pounce.pattern.values import Piece


@dataclass(frozen=True, eq=False)
class Stacks:
    """The layers of every piece in boards and in sheets."""

    boards: tuple[Layer, ...]
    sheets: tuple[Layer, ...]


@dataclass(frozen=True)
class Asked:
    """What the part asks of an original that serves as its own pattern: holes to fill, wall short of draft (mm2),
    and its length (mm).
    """

    holes: int
    taper_mm2: float
    long_mm: float


def ways_of(
    shaped: tuple[Piece, ...],
    printing: tuple[Piece, ...],
    method: Method,
    prints: tuple[Printed, ...],
    settings: Settings,
    stacks: Stacks,
    asked: Asked,
    metal_kg: float | None,
) -> tuple[Way, ...]:
    """Printed, wood and foam; and the original or the metal pattern first where that is the way chosen.

    ``shaped`` the pattern's pieces, ``printing`` those to print (hollowed, with what they are moulded on).
    """
    area = sum(piece.mesh.area for piece in shaped)
    out = [_printed(printing, method, prints, settings, area), _wood(stacks, area), _foam(shaped, method, stacks, area)]
    if method.pattern_id == "original-part":
        out = [_original(method, asked), *[_sized(way, asked) for way in out]]
    if metal_kg is not None:
        hours = limits()["metal_hours"].value * len(shaped)
        master = out[0]
        figures = {"stuff_kg": metal_kg, "pieces": float(len(shaped))}
        metal = Way(
            "metal", master.hours + hours, master.hand_hours + hours, "{stuff_kg} of metal", "Shrinks twice.", figures
        )
        out = [metal, *out]
    return tuple(out)


def _printed(
    printing: tuple[Piece, ...], method: Method, prints: tuple[Printed, ...], settings: Settings, area: float
) -> Way:
    plastic, minutes, beds = printed.estimated(printing, settings)
    if prints:
        plastic, minutes = sum(core_print.plastic_mm3 for core_print in prints), sum(one.minutes for one in prints)
        beds = max(one.bed for one in prints) + 1
    machine = minutes / 60.0 + beds * limits()["print_start"].value / 60.0
    hand = limits()["print_hand"].value / 60.0 * area * 1e-4 / 2.0
    material = method.pattern if method.pattern_id.startswith("printed") else pattern_kind("printed-filament")
    density = 0.0 if material.stuff_density is None else material.stuff_density.value
    figures = {"stuff_kg": plastic * 1e-9 * density, "beds": float(beds), "pieces": float(len(prints) or len(printing))}
    return Way("printed", machine + hand, hand, "{stuff_kg} of plastic", "Rub the layers.", figures)


def _wood(stacks: Stacks, area: float) -> Way:
    every, hand = wood.hours(stacks.boards, area)
    held = sum(float(board.saw.area) * board.thick_mm for board in stacks.boards) * 1e-6
    figures = {"stuff_litres": held, "boards": float(len(stacks.boards))}
    return Way("wood", every, hand, "{stuff_litres} of timber", "Moves with damp.", figures)


def _foam(shaped: tuple[Piece, ...], method: Method, stacks: Stacks, area: float) -> Way:
    every, hand = foam.hours(stacks.sheets, area)
    minds = "One casting each." if not method.pattern.draws else "Dents easily."
    figures = {"stuff_litres": sum(piece.volume_mm3 for piece in shaped) * 1e-6, "sheets": float(len(stacks.sheets))}
    return Way("foam", every, hand, "{stuff_litres} of foam", minds, figures)


def _original(method: Method, asked: Asked) -> Way:
    figures = limits()
    minutes = figures["original_ready"].value + figures["original_fill"].value * asked.holes
    minutes += figures["original_taper"].value * asked.taper_mm2 * 1e-4
    casting = asked.long_mm / method.casting_factor
    takes = "casts {casting_long_mm}"
    values = {"holes": float(asked.holes), "casting_long_mm": casting, "short_mm": asked.long_mm - casting}
    return Way("original", minutes / 60.0, minutes / 60.0, takes, "Comes out smaller.", values)


def _sized(way: Way, asked: Asked) -> Way:
    """A new pattern beside an original: its casting comes out at size."""
    return Way(
        way.kind,
        way.hours,
        way.hand_hours,
        "casts {casting_long_mm}",
        "At size.",
        {**way.figures, "casting_long_mm": asked.long_mm},
    )
