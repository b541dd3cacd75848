"""Light judgements of a part: the likely unit of a file, and what the metal says of the walls."""

from pounce.base.finding import Finding, Remedy, Severity
from pounce.metals.method import Method
from pounce.part.model import PartResult


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
    if wall is None or wall >= least.value:
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
