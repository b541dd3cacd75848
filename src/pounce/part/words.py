"""Light judgements of a part: the likely unit of a file, and what the metal says of the walls."""

from pounce.base.finding import Finding, Remedy, Severity
from pounce.base.units import less_as_shown
from pounce.metals import tables
from pounce.metals.method import Method
from pounce.part.model import PartChoices, PartResult


def guess_unit(largest: float) -> str:
    """The likely unit of a model whose largest extent is ``largest``.

    Patterns of hobby size are 10 mm to 2 m: under 10 the figure reads better in inches, under 0.4 in metres.
    """
    if largest < 0.4:
        return "m"
    if largest < 10.0:
        return "in"
    return "mm"


def wall_findings(result: PartResult, method: Method) -> list[Finding]:
    """What the chosen metal says of the least wall of the part."""
    wall, least = result.least_wall_mm, method.metal.least_wall
    if wall is None or not less_as_shown(wall, least.value):
        return []
    return [
        Finding(
            "thin-wall",
            Severity.WARN,
            f"The thinnest wall is under what {method.metal.name.lower()} fills well, {{wanted_mm}}.",
            noun="thinnest wall",
            place_mm=result.least_wall_at,
            figures={"least_wall_mm": wall, "wanted_mm": least.value},
            main="least_wall_mm",
            remedies=(Remedy("thicken", "Thicken it where it is drawn, or pour at the hot end of the range"),),
            source=least.source,
        )
    ]


def weight_findings(result: PartResult, choices: PartChoices, method: Method) -> list[Finding]:
    """Whether the model weighs what the scale said: the best check of a model there is."""
    if choices.scale_kg is None or not result.closed:
        return []
    metal = method.metal if choices.scale_metal is None else tables.metal(choices.scale_metal)
    weighs = result.volume_mm3 * 1e-9 * metal.density.value
    off = 100.0 * (weighs / choices.scale_kg - 1.0)
    limit = tables.limits()["weight_differs"]
    figures = {"model_kg": weighs, "scale_kg": choices.scale_kg, "off_percent": abs(off)}
    if abs(off) <= limit.value:
        text = f"The model weighs {{model_kg}} in {metal.name.lower()}, as the scale says."
        return [
            Finding(
                "weight-agrees",
                Severity.NOTE,
                text,
                noun="as the scale says",
                figures=figures,
                main="off_percent",
                source=limit.source,
            )
        ]
    less = "less" if off < 0.0 else "more"
    return [
        Finding(
            "weight-differs",
            Severity.WARN,
            f"The model weighs {{model_kg}} in {metal.name.lower()}, the scale says {{scale_kg}}: "
            f"{{off_percent}} {less}. Measure "
            "again, or look for a hollow or a wall that was missed.",
            noun="scale",
            figures=figures,
            main="off_percent",
            source=limit.source,
        )
    ]
