"""A printed pattern: the bed, the layers, the way it lies, what there is to say of it, the order of work."""

from pounce.base.finding import Finding, Remedy, Severity
from pounce.metals.tables import limits, pattern_kind
from pounce.pattern.changes import SetLayer
from pounce.pattern.making.printed import prints as printed
from pounce.pattern.making.printed.hollow import no_flat_joint, said
from pounce.pattern.making.values import Making, Way
from pounce.pattern.making.way import Shop

# So much hanging over is worth a word, mm2.
OVERHANG_MM2 = 20.0


class PrintedWay:
    """Pieces printed split face down."""

    kind = "printed"
    drawings: frozenset[str] = frozenset({"rule"})

    def beside(self, shop: Shop) -> Way:
        """Hours of the machine and by hand, and the plastic."""
        plastic, minutes, beds = printed.estimated(shop.given.printing, shop.printer)
        if shop.prints:
            plastic, minutes = (
                sum(piece.plastic_mm3 for piece in shop.prints),
                sum(piece.minutes for piece in shop.prints),
            )
            beds = max(piece.bed for piece in shop.prints) + 1
        machine = minutes / 60.0 + beds * limits()["print_start"].value / 60.0
        hand = limits()["print_hand"].value / 60.0 * shop.area_mm2 * 1e-4 / 2.0
        method = shop.method
        material = method.pattern if method.pattern_id.startswith("printed") else pattern_kind("printed-filament")
        density = 0.0 if material.stuff_density is None else material.stuff_density.value
        pieces = float(len(shop.prints) or len(shop.given.printing))
        figures = {"stuff_kg": plastic * 1e-9 * density, "beds": float(beds), "pieces": pieces}
        return Way("printed", machine + hand, hand, "{stuff_kg} of plastic", "Rub the layers.", figures)

    def prepare(self, shop: Shop) -> Making:
        """The prints on their beds, with what they would take on end."""
        prints, settings = shop.prints, shop.printer
        figures = {
            "stair_mm": printed.stair_mm(settings.layer_mm, shop.method.required_draft_deg),
            "plastic_mm3": sum(piece.plastic_mm3 for piece in prints),
            "minutes": sum(piece.minutes for piece in prints),
            "overhang_mm2": sum(piece.overhang_mm2 for piece in prints),
            "layer_mm": settings.layer_mm,
            "beds": float(max(piece.bed for piece in prints) + 1),
        }
        figures["end_mm2"], minutes = printed.on_end(prints, settings)
        figures["end_hours"], figures["down_hours"] = minutes / 60.0, figures["minutes"] / 60.0
        hollow = any(piece.room_mm3 > 0.0 for piece in prints)
        return Making("printed", (), prints=prints, hollow=hollow, figures=figures)

    def findings(self, shop: Shop, made: Making) -> list[Finding]:
        """Pieces cut for the bed, layers that show, the way it lies, hollow or filled, overhangs."""
        found: list[Finding] = [*_cut_for_the_bed(shop), *_layers(shop, made)]
        if shop.choices.hollow and not shop.printer.solid:
            found.append(_hollow_or_filled(shop, made))
        over = made.figures["overhang_mm2"]
        if over > OVERHANG_MM2:
            found.append(
                Finding(
                    "overhangs",
                    Severity.NOTE,
                    "{area_mm2} hangs over more than prints by itself: let the printer set supports there.",
                    noun="hangs over",
                    figures={"area_mm2": over},
                    main="area_mm2",
                    source=limits()["print_overhang"].source,
                )
            )
        if shop.choices.hollow and shop.method.pattern_id.startswith("printed"):
            found += [no_flat_joint()] if shop.hollow is None else said(shop.hollow, shop.prints)
        return found

    def steps(self, _shop: Shop, _made: Making) -> tuple[str, ...]:
        """The order of work."""
        return (
            "Print the 100 mm check first; give what it measures at Stock.",
            "Print split face down.",
            "Glue dowels, and parts that were cut.",
            "Rub the walls, fill, lacquer, wax.",
        )


def _cut_for_the_bed(shop: Shop) -> list[Finding]:
    found: list[Finding] = []
    choices, parted = shop.choices, [piece for piece in shop.prints if piece.part]
    joined = "a tongue" if shop.printer.tongue else "two dowels"
    if parted:
        found.append(
            Finding(
                "cut-for-the-bed",
                Severity.NOTE,
                "Pieces larger than the bed of {bed_mm} are cut in {parts} parts, with " + joined + " in each "
                "cut where there is room: glue them on a flat plate.",
                noun="cut",
                figures={"bed_mm": max(choices.bed_mm[:2]), "parts": float(len(parted))},
                main="parts",
                source="making-practice",
            )
        )
    return found


def _layers(shop: Shop, made: Making) -> list[Finding]:
    found: list[Finding] = []
    settings, figures, grain = shop.printer, made.figures, shop.method.mould.grain.value
    fine = round(max(0.02, 0.02 * int(min(0.12, grain) / 0.02 + 1e-6)), 2)
    if settings.layer_mm > grain:
        found.append(
            Finding(
                "layers-show",
                Severity.NOTE,
                "Layers of {layer_mm} are coarser than the sand's grain of {grain_mm}: unless they are filled "
                "and rubbed, every "
                "one shows on the casting.",
                noun="Layers",
                figures={"layer_mm": settings.layer_mm, "grain_mm": grain},
                main="layer_mm",
                remedies=(Remedy("finer-layers", f"Layers of {fine:g} mm", SetLayer(fine)),),
                source="making-practice",
            )
        )
    lying = (
        "Split face down: the joint comes off the bed flat, and the layers of {layer_mm} lie across the draw: "
        "rub the walls down along "
        "it. On end {end_mm2} would hang over and it would take "
        "{end_hours} in place of {down_hours}."
    )
    found.append(
        Finding(
            "layers-across-the-draw",
            Severity.NOTE,
            lying,
            noun="Split face down",
            figures=figures,
            source="making-practice",
        )
    )
    return found


def _hollow_or_filled(shop: Shop, made: Making) -> Finding:
    figures, full_mm3, settings = made.figures, shop.full_mm3, shop.printer
    plastic = figures["plastic_mm3"]
    both = {"hollow_mm3": plastic, "full_mm3": full_mm3, "inside_percent": settings.inside_percent}
    better = "Hollowing saves plastic." if plastic < full_mm3 else "Filling is lighter here: leave them full."
    return Finding(
        "hollow-or-filled",
        Severity.NOTE,
        "Hollow, the pieces take {hollow_mm3} of plastic; filled at {inside_percent} they would take "
        "{full_mm3}. " + better,
        noun="plastic",
        figures=both,
        main="hollow_mm3",
        source="making-practice",
    )
