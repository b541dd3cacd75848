"""The original itself as the pattern: what to fill, where taper goes, and how large the casting comes out."""

from pounce.base.finding import Finding, Remedy, Severity
from pounce.metals.method import Method
from pounce.metals.tables import limits
from pounce.pattern.changes import MakeAs
from pounce.pattern.making.values import Making, Way
from pounce.pattern.making.ways import Asked


def original_way(method: Method, ways: tuple[Way, ...], asked: Asked) -> tuple[Making, list[Finding]]:
    """What an original wants before it is rammed, and what a new pattern would give instead."""
    casting = asked.long_mm / method.casting_factor
    figures = {
        "long_mm": asked.long_mm,
        "casting_long_mm": casting,
        "short_mm": asked.long_mm - casting,
        "holes": float(asked.holes),
        "taper_mm2": asked.taper_mm2,
    }
    found = [
        Finding(
            "casting-comes-out-smaller",
            Severity.WARN,
            "The casting comes out {casting_long_mm} long where the original has {long_mm}. Build it up where "
            "it must fit, or make a new pattern at size.",
            noun="casting",
            figures=figures,
            main="short_mm",
            remedies=(Remedy("new-pattern", "Make a new pattern", MakeAs("printed")),),
            source=method.metal.contraction.source,
        )
    ]
    if asked.holes:
        hole = "hole wants" if asked.holes == 1 else "holes want"
        found.append(
            Finding(
                "fill-the-original",
                Severity.NOTE,
                f"{asked.holes} {hole} filling flush with wax or plasticine, centres marked, and drilling in "
                "the casting.",
                noun="filling",
                figures=figures,
                main="holes",
                source=limits()["original_fill"].source,
            )
        )
    if asked.taper_mm2 > 0.0:
        found.append(
            Finding(
                "taper-the-original",
                Severity.NOTE,
                "{taper_mm2} of wall has less draft than is asked: lay taper on it in filler, as the Stock stop shows.",
                noun="taper",
                figures=figures,
                main="taper_mm2",
                source=limits()["original_taper"].source,
            )
        )
    steps = [
        "Clean it, stop every hole.",
        "Lay taper in filler, rub it.",
        "Wax and polish.",
        "Bed it to its joint in clay or plaster."
        if method.mould_id == "fine-clay"
        else "Bed it to its joint in sand or plaster.",
        "Press it into the clay to its joint, dust, press the other half on."
        if method.mould_id == "fine-clay"
        else "Ram, turn over, cut the joint, dust, ram.",
    ]
    if not asked.holes:
        steps[0] = "Clean it."
    if asked.taper_mm2 <= 0.0:
        steps.pop(1)
    return Making("original", ways, steps=tuple(steps), figures=figures), found
