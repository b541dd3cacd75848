"""Works out how the pattern's pieces are made in the chosen way, and what the other ways would take."""

from dataclasses import dataclass

import numpy as np

from pounce.base.errors import UserFault
from pounce.base.finding import Finding, Remedy, Severity
from pounce.base.tick import Tick
from pounce.metals.method import Method
from pounce.metals.tables import limits, pattern_kind, timber
from pounce.pattern.making import foam, printed, wood
from pounce.pattern.making.layers import layers_of, sizes_along, with_meshes
from pounce.pattern.making.printed import Settings
from pounce.pattern.making.values import Blank, Layer, Making, Printed, Segments, Way
from pounce.pattern.values import PatternChoices, Piece
from pounce.solid.mesh import Floats

KINDS = {
    "printed-filament": "printed", "printed-resin": "printed", "metal-from-master": "printed", "wood": "wood",
    "foam-drawn": "foam", "foam-burned-out": "foam",
}  # fmt: skip
LEAST_LAYER, MOST_LAYER = 0.02, 1.0
# A level face makes a joint between sheets only where both are at least this thick, mm: thinner foam breaks.
LEAST_SHEET = 5.0
# Foam left round an outline for the wire to run in, mm a side.
SPARE_MM = 2.0


@dataclass(frozen=True, eq=False)
class _Stacks:
    """The layers of every piece in boards and in sheets."""

    boards: tuple[Layer, ...]
    sheets: tuple[Layer, ...]


def kind_of(method: Method) -> str:
    """Which way of making a pattern of this kind takes: printed, wood, foam, or "" where nothing is made."""
    return KINDS.get(method.pattern_id, "")


def making(
    choices: PatternChoices, pieces: tuple[Piece, ...], method: Method, avoid: tuple[tuple[Floats, float], ...], tick: Tick
) -> tuple[Making, list[Finding]]:
    """The making and its findings. UserFault for figures that cannot be used."""
    _checked(choices)
    kind = kind_of(method)
    if not kind or not pieces:
        return Making("", ()), []
    tick(0.0, "Working out how it is made")
    shaped = [piece for piece in pieces if piece.role not in ("follow-board", "false-pattern")] or list(pieces)
    boards = tuple(one for k, piece in enumerate(shaped) for one in layers_of(piece.laid, k, choices.board_mm))
    tick(0.35, "Stacking the sheets")
    sheets = tuple(one for k, piece in enumerate(shaped) for one in layers_of(piece.laid, k, choices.sheet_mm, LEAST_SHEET))
    tick(0.6, "Setting out the prints")
    settings = Settings(choices.bed_mm, choices.layer_mm, choices.walls, choices.inside_percent)
    prints = printed.prints_of(tuple(pieces), settings, avoid) if kind == "printed" else ()
    stacks = _Stacks(boards, sheets)
    ways = _ways(choices, tuple(pieces), tuple(shaped), method, prints, settings, stacks)
    names = [piece.name for piece in shaped]
    if kind == "printed":
        return _printed(choices, method, prints, ways)
    laid = [piece.laid for piece in shaped]
    tick(0.8, "Cutting the layers")
    if kind == "wood":
        return _wood(choices, shaped, names, with_meshes(boards, laid), ways)
    return _foam(choices, shaped, method, with_meshes(sheets, laid), names, ways)


def _checked(choices: PatternChoices) -> None:
    """UserFault for a figure that no shop has."""
    rows = (
        (choices.layer_mm, LEAST_LAYER, MOST_LAYER, "Layers", "mm"), (float(choices.walls), 1.0, 20.0, "Walls", "lines"),
        (choices.inside_percent, 0.0, 100.0, "An inside", "%"), (choices.board_mm, 3.0, 200.0, "Boards", "mm"),
        (choices.board_wide_mm, 20.0, 3000.0, "Boards that wide,", "mm"), (choices.board_long_mm, 100.0, 6000.0, "Boards that long,", "mm"),
        (choices.room_mm, 0.0, 20.0, "Room to plane of", "mm"), (choices.sheet_mm, 5.0, 1000.0, "Sheets", "mm"),
        (choices.kerf_mm, 0.0, 10.0, "A kerf", "mm"), *((side, 40.0, 5000.0, "A bed", "mm") for side in choices.bed_mm),
    )  # fmt: skip
    for value, low, high, what, unit in rows:
        if not low <= value <= high:
            raise UserFault(f"{what} {value:g} {unit} cannot be used.", f"Give {low:g} to {high:g} {unit}.")
    timber(choices.timber)


def _ways(
    choices: PatternChoices, every_piece: tuple[Piece, ...], pieces: tuple[Piece, ...], method: Method, prints: tuple[Printed, ...],
    settings: Settings, stacks: _Stacks,
) -> tuple[Way, ...]:  # fmt: skip
    """Printed, wood and foam side by side."""
    area = sum(piece.mesh.area for piece in pieces)
    litres = sum(piece.volume_mm3 for piece in pieces) * 1e-6
    out: list[Way] = []
    plastic, minutes, beds = printed.estimated(every_piece, settings)
    if prints:
        plastic, minutes = sum(one.plastic_mm3 for one in prints), sum(one.minutes for one in prints)
        beds = max(one.bed for one in prints) + 1
    machine = minutes / 60.0 + beds * limits()["print_start"].value / 60.0
    hand = limits()["print_hand"].value / 60.0 * area * 1e-4 / 2.0
    stuff = method.pattern if method.pattern_id.startswith("printed") else pattern_kind("printed-filament")
    density = 0.0 if stuff.stuff_density is None else stuff.stuff_density.value
    figures = {"stuff_kg": plastic * 1e-9 * density, "beds": float(beds), "pieces": float(len(prints) or len(every_piece))}
    out.append(Way("printed", machine + hand, hand, "{stuff_kg} of plastic", "Rub the layers.", figures))
    every, hand = wood.hours(stacks.boards, area)
    held = sum(float(one.saw.area) * one.thick_mm for one in stacks.boards) * 1e-6
    out.append(Way("wood", every, hand, "{stuff_litres} of timber", "Moves with damp.",
                   {"stuff_litres": held, "boards": float(len(stacks.boards))}))  # fmt: skip
    cuts = foam.hot_cuts(stacks.sheets, choices.kerf_mm)
    every, hand = foam.hours(stacks.sheets, cuts, area)
    minds = "One casting each." if method.pattern_id == "foam-burned-out" else "Dents easily."
    out.append(
        Way(
            "foam",
            every,
            hand,
            "{stuff_litres} of foam",
            minds,
            {"stuff_litres": litres, "sheets": float(len(stacks.sheets))},
        )
    )
    return tuple(out)


def _printed(
    choices: PatternChoices, method: Method, prints: tuple[Printed, ...], ways: tuple[Way, ...]
) -> tuple[Making, list[Finding]]:
    found: list[Finding] = []
    stair = printed.stair_mm(choices.layer_mm, method.required_draft_deg)
    figures = {
        "stair_mm": stair, "plastic_mm3": sum(one.plastic_mm3 for one in prints), "minutes": sum(one.minutes for one in prints),
        "overhang_mm2": sum(one.overhang_mm2 for one in prints), "layer_mm": choices.layer_mm, "beds": float(max(one.bed for one in prints) + 1),
    }  # fmt: skip
    parted = [one for one in prints if one.part]
    if parted:
        found.append(Finding(
            "cut-for-the-bed", Severity.NOTE, "Pieces larger than the bed of {bed_mm} are cut in {parts} parts, with two dowels in each cut where "
            "there is room: glue them on a flat plate.", noun="cut", figures={"bed_mm": max(choices.bed_mm[:2]), "parts": float(len(parted))},
            main="parts", source="making-practice",
        ))  # fmt: skip
    else:
        margin = limits()["print_margin"].value
        spare = (
            min(
                min(choices.bed_mm[0] - float(one.mesh.size[0]), choices.bed_mm[1] - float(one.mesh.size[1]))
                for one in prints
            )
            - 2 * margin
        )
        found.append(Finding(
            "fits-the-bed", Severity.NOTE, "Pieces fit the bed with room to spare.", noun="fit the bed", figures={"spare_mm": max(spare, 0.0)},
            main="spare_mm", source="making-practice",
        ))  # fmt: skip
    grain = method.mould.grain.value
    if choices.layer_mm > grain:
        found.append(Finding(
            "layers-show", Severity.NOTE, "Layers of {layer_mm} are coarser than the sand's grain of {grain_mm}: unless they are filled and rubbed, every "
            "one shows on the casting.", noun="Layers", figures={"layer_mm": choices.layer_mm, "grain_mm": grain}, main="layer_mm",
            remedies=(Remedy("finer-layers", "Layers of 0.12 mm", "pattern_layer_mm", 0.12),), source="making-practice",
        ))  # fmt: skip
    lying = (
        "Split face down: the joint comes off the bed flat, and the layers lie across the draw, so each wall is a stair with treads of "
        f"{stair:.3f} mm."
    )
    found.append(Finding("layers-across-the-draw", Severity.NOTE, lying, noun="Split face down", figures={"stair_mm": stair}, main="stair_mm",
                         source="making-practice"))  # fmt: skip
    over = figures["overhang_mm2"]
    if over > 20.0:
        found.append(Finding(
            "overhangs", Severity.NOTE, "{area_mm2} hangs over more than prints by itself: let the printer set supports there.", noun="hangs over",
            figures={"area_mm2": over}, main="area_mm2", source=limits()["print_overhang"].source,
        ))  # fmt: skip
    steps = ["Print the 100 mm check first; give what it measures at Stock.", "Print split face down.", "Glue dowels, and parts that were cut.",
             "Rub the walls, fill, lacquer, wax."]  # fmt: skip
    return Making("printed", ways, prints=prints, steps=tuple(steps), figures=figures), found


def _wood(
    choices: PatternChoices, pieces: list[Piece], names: list[str], layers: tuple[Layer, ...], ways: tuple[Way, ...]
) -> tuple[Making, list[Finding]]:
    found: list[Finding] = []
    saw = 3.0
    blanks, boards = wood.nested(
        wood.blanks_of(layers, names, choices.room_mm), choices.board_wide_mm, choices.board_long_mm, saw
    )
    timber_ = timber(choices.timber)
    for blank in blanks:
        if blank.board < 0 and blank.long_mm + saw > choices.board_long_mm:
            raise UserFault(
                f"{blank.name} is longer than a board of {choices.board_long_mm:g} mm.",
                "Give longer boards, or print it in parts.",
            )
    wide = [one for one in blanks if one.board < 0]
    if wide:
        widest = max(wide, key=lambda one: one.wide_mm)
        found.append(Finding(
            "glued-up", Severity.NOTE, f"{len(wide)} {'board is' if len(wide) == 1 else 'boards are'} wider than those at hand: glue each up of strips first, the "
            "widest, {wide_mm}, of {strips}.", noun="glue each up", figures={"wide_mm": widest.wide_mm,
            "strips": float(wood.glued_up(widest, choices.board_wide_mm, saw))}, main="wide_mm", source="making-practice",
        ))  # fmt: skip
    moisture = limits()["wood_moisture"].value
    across = max((one.wide_mm for one in blanks), default=0.0)
    moves = wood.movement_mm(across, timber_, moisture)
    figures = {
        "move_mm": moves, "across_mm": across, "boards": float(boards), "moisture_percent": moisture,
        "stuff_litres": sum(float(one.saw.area) * one.thick_mm for one in layers) * 1e-6,
    }  # fmt: skip
    worth = moves > limits()["wood_moves"].value
    found.append(Finding(
        "wood-moves", Severity.WARN if worth else Severity.NOTE,
        f"{timber_.name} moves {{move_mm}} over {{across_mm}} across its grain between a dry winter and a damp shed."
        + (" Cross the boards, seal them all round, or take plywood." if worth else ""), noun="moves", figures=figures, main="move_mm",
        remedies=(Remedy("plywood", "Birch plywood", "pattern_timber", "plywood"),) if worth and choices.timber != "plywood" else (),
        source=timber_.movement.source,
    ))  # fmt: skip
    if choices.timber != "plywood":
        weak = wood.short_grain(layers)
        if weak:
            one, thin = min(weak, key=lambda pair: pair[1])
            found.append(Finding(
                "short-grain", Severity.WARN, f"{names[one.piece]}, board {one.number} is thin and short-grained. It may split: turn its grain, or let it in.",
                noun="short-grained", figures={"thin_mm": thin}, main="thin_mm", source=limits()["wood_short_grain"].source,
            ))  # fmt: skip
    rings = tuple(
        {
            (s.outer_mm, s.inner_mm): s for s in (wood.segments_of(one, choices.room_mm) for one in layers) if s is not None
        }.values()
    )
    if rings:
        best = max(rings, key=lambda one: one.outer_mm)
        found.append(Finding(
            "ring-of-segments", Severity.NOTE, f"A ring: build it of {best.count} segments a course, {{long_mm}} long and {{wide_mm}} wide, mitred "
            "{mitre_deg}, joints staggered from course to course.", noun="ring", figures={"long_mm": best.long_mm, "wide_mm": best.wide_mm,
            "mitre_deg": best.mitre_deg}, main="wide_mm", source="making-practice",
        ))  # fmt: skip
    return Making(
        "wood",
        ways,
        layers=layers,
        blanks=tuple(blanks),
        boards=boards,
        segments=rings,
        steps=_wood_steps(pieces, layers, rings),
        figures=figures,
    ), found


def _wood_steps(pieces: list[Piece], layers: tuple[Layer, ...], rings: tuple[Segments, ...]) -> tuple[str, ...]:
    """The order of work."""
    count = len(layers)
    steps = [f"Plane {count} {'board' if count == 1 else 'boards'}, stick the templates on."]
    if rings:
        steps.append("Mitre and glue the rings, joints staggered.")
    steps.append("Saw outside the line.")
    if any(hole.purpose == "dowel" for piece in pieces for hole in piece.holes):
        steps.append("Clamp the joint's boards, bore the dowels.")
    steps += [
        "Glue up from the joint, grain crossed.",
        "Carve to the inner lines, offer up profiles.",
        "Fillet in wax, sand, lacquer, wax.",
    ]
    return tuple(steps)


def _foam(
    choices: PatternChoices,
    pieces: list[Piece],
    method: Method,
    layers: tuple[Layer, ...],
    names: list[str],
    ways: tuple[Way, ...],
) -> tuple[Making, list[Finding]]:
    found: list[Finding] = []
    cuts = foam.hot_cuts(layers, choices.kerf_mm)
    density = method.pattern.stuff_density.value if method.pattern.stuff_density is not None else 20.0
    volume = sum(piece.volume_mm3 for piece in pieces)
    mass = volume * 1e-9 * density
    pour = method.metal.pouring.value
    burned = method.pattern_id == "foam-burned-out"
    figures = {"stuff_kg": mass, "stuff_litres": volume * 1e-6, "sheets": float(len(layers)), "cuts": float(len(cuts))}
    blanks: list[Blank] = []
    room = 2.0 * (choices.kerf_mm + SPARE_MM)
    for one in layers:
        long, wide = sizes_along(one.saw, 0.0)
        blanks.append(
            Blank(
                f"{names[one.piece]}, sheet {one.number}",
                1,
                round(long + room, 1),
                round(wide + room, 1),
                round(one.thick_mm, 2),
                "any",
            )
        )
    if burned:
        gas = foam.gas_litres(mass, pour)
        figures["gas_litres"] = gas
        found.append(Finding(
            "foam-gas", Severity.NOTE, "{stuff_kg} of foam burns to {gas_litres} of gas at least: coat it, vent the sand well, and keep the cup full until "
            "it is poured. Outdoors and upwind: the fumes harm.", noun="gas", figures=figures, main="gas_litres", source="making-practice",
        ))  # fmt: skip
    else:
        found.append(Finding(
            "foam-drawn", Severity.NOTE, "Drawn foam needs its draft: seal it with filler or paint until it rings, and handle it by a screwed-on board.",
            noun="draft", source="making-practice",
        ))  # fmt: skip
    size = np.max([piece.laid.size for piece in pieces], axis=0)
    bars = foam.stiffeners(size)
    if bars is not None:
        count, slender = bars
        found.append(Finding(
            "foam-bows", Severity.WARN, f"It is {{slender_ratio}} times as long as thick and bows under the sand: hold it with {count} "
            f"{'bar' if count == 1 else 'bars'} across until the sand bears it, or glue on {'a strip' if count == 1 else 'strips'} that you cut off the casting.",
            noun="bows", figures={"slender_ratio": slender, "long_mm": float(size.max())}, main="long_mm", source=limits()["foam_slender"].source,
        ))  # fmt: skip
    carved = sum(foam.bulges(one) for one in layers)
    if carved:
        found.append(Finding(
            "foam-carved", Severity.NOTE, f"{carved} of {len(layers)} sheets bulge between their faces: cut them to the saw line, then carve and sand to the "
            "inner lines.", noun="bulge", figures={"sheets": float(carved)}, main="sheets", source="making-practice",
        ))  # fmt: skip
    straight = sum(foam.is_straight(cut) for cut in cuts)
    ruled = f"{straight} of {len(cuts)} outlines are cut with the wire upright"
    ruled += (
        "." if straight == len(cuts) else "; the others want both profiles, the wire at the same number on each at once."
    )
    found.append(Finding("foam-cuts", Severity.NOTE, ruled, noun="outlines", figures={"cuts": float(len(cuts))}, main="cuts",
                         source="making-practice"))  # fmt: skip
    steps = ["Cut the sheets to size by straight cuts.", "Pin profiles on both faces, marks in step.", "Wire the openings, then the outside.",
             "Glue thinly, away from fine detail." if burned else "Glue the sheets.", "Sand fine, fill gaps.",
             "Coat, and dry it through." if burned else "Seal, sand, wax."]  # fmt: skip
    return Making("foam", ways, layers=layers, blanks=tuple(blanks), cuts=cuts, steps=tuple(steps), figures=figures), found
