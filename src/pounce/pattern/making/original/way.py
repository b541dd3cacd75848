"""The original itself as the pattern: what to fill, where taper goes, and how large the casting comes out."""

from pounce.base.finding import Finding, Remedy, Severity
from pounce.metals.tables import limits
from pounce.pattern.changes import MakeAs
from pounce.pattern.making.values import Making, Way
from pounce.pattern.making.way import Shop


class OriginalWay:
    """What an original wants before it is rammed, and what a new pattern would give instead."""

    kind = "original"
    drawings: frozenset[str] = frozenset()

    def beside(self, shop: Shop) -> Way:
        """Hours to fill and taper it, and how large it casts."""
        asked, minutes = shop.given.asked, limits()["original_ready"].value
        minutes += limits()["original_fill"].value * asked.holes
        minutes += limits()["original_taper"].value * asked.taper_mm2 * 1e-4
        casting = asked.long_mm / shop.method.casting_factor
        figures = {"holes": float(asked.holes), "casting_long_mm": casting, "short_mm": asked.long_mm - casting}
        hours = minutes / 60.0
        return Way("original", hours, hours, "casts {casting_long_mm}", "Comes out smaller.", figures)

    def prepare(self, shop: Shop) -> Making:
        """Nothing is made; its figures."""
        asked = shop.given.asked
        casting = asked.long_mm / shop.method.casting_factor
        figures = {
            "long_mm": asked.long_mm,
            "casting_long_mm": casting,
            "short_mm": asked.long_mm - casting,
            "holes": float(asked.holes),
            "taper_mm2": asked.taper_mm2,
        }
        return Making("original", (), figures=figures)

    def findings(self, shop: Shop, made: Making) -> list[Finding]:
        """Its size, its holes, its taper."""
        asked, figures, method = shop.given.asked, made.figures, shop.method
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
                    "{taper_mm2} of wall has less draft than is asked: lay taper on it in filler, as the Stock stop "
                    "shows.",
                    noun="taper",
                    figures=figures,
                    main="taper_mm2",
                    source=limits()["original_taper"].source,
                )
            )
        return found

    def steps(self, shop: Shop, _made: Making) -> tuple[str, ...]:
        """The order of work."""
        asked, clay = shop.given.asked, shop.method.mould_id == "fine-clay"
        steps = ["Clean it, stop every hole." if asked.holes else "Clean it."]
        if asked.taper_mm2 > 0.0:
            steps.append("Lay taper in filler, rub it.")
        steps.append("Wax and polish.")
        if clay:
            steps.append("Bed it to its joint in clay or plaster.")
            steps.append("Press it into the clay to its joint, dust, press the other half on.")
        else:
            steps.append("Bed it to its joint in sand or plaster.")
            steps.append("Ram, turn over, cut the joint, dust, ram.")
        return tuple(steps)
