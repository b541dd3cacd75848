"""What there is to say of a printed pattern: the bed, the layers, the way it lies, the order of work."""

from pounce.base.finding import Finding, Remedy, Severity
from pounce.metals.method import Method
from pounce.metals.tables import limits
from pounce.pattern.changes import SetLayer
from pounce.pattern.making import printed
from pounce.pattern.making.printed import Settings
from pounce.pattern.making.values import Making, Printed, Way
from pounce.pattern.values import PatternChoices


def printed_way(
    choices: PatternChoices,
    method: Method,
    prints: tuple[Printed, ...],
    ways: tuple[Way, ...],
    settings: Settings,
    full_mm3: float,
) -> tuple[Making, list[Finding]]:
    """The printed making. ``full_mm3`` the plastic the pieces would take if they were not hollowed."""
    found: list[Finding] = []
    stair = printed.stair_mm(settings.layer_mm, method.required_draft_deg)
    figures = {
        "stair_mm": stair,
        "plastic_mm3": sum(one.plastic_mm3 for one in prints),
        "minutes": sum(one.minutes for one in prints),
        "overhang_mm2": sum(one.overhang_mm2 for one in prints),
        "layer_mm": settings.layer_mm,
        "beds": float(max(one.bed for one in prints) + 1),
    }
    parted = [core_print for core_print in prints if core_print.part]
    joined = "a tongue" if settings.tongue else "two dowels"
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
    grain = method.mould.grain.value
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
    figures["end_mm2"], minutes = printed.on_end(prints, settings)
    figures["end_hours"], figures["down_hours"] = minutes / 60.0, figures["minutes"] / 60.0
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
    if choices.hollow and not settings.solid:
        plastic = figures["plastic_mm3"]
        both = {"hollow_mm3": plastic, "full_mm3": full_mm3, "inside_percent": settings.inside_percent}
        better = "Hollowing saves plastic." if plastic < full_mm3 else "Filling is lighter here: leave them full."
        found.append(
            Finding(
                "hollow-or-filled",
                Severity.NOTE,
                "Hollow, the pieces take {hollow_mm3} of plastic; filled at {inside_percent} they would take "
                "{full_mm3}. " + better,
                noun="plastic",
                figures=both,
                main="hollow_mm3",
                source="making-practice",
            )
        )
    over = figures["overhang_mm2"]
    if over > 20.0:
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
    steps = [
        "Print the 100 mm check first; give what it measures at Stock.",
        "Print split face down.",
        "Glue dowels, and parts that were cut.",
        "Rub the walls, fill, lacquer, wax.",
    ]
    return Making("printed", ways, prints=prints, steps=tuple(steps), figures=figures), found
