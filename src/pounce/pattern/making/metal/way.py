"""A metal pattern from a printed master."""

from dataclasses import replace

from pounce.base.finding import Finding
from pounce.metals.tables import limits
from pounce.pattern.making.printed.way import PrintedWay
from pounce.pattern.making.values import Making, Way
from pounce.pattern.making.way import Shop

MASTER = PrintedWay()
STEPS = (
    "Rub and lacquer the master, cast the halves.",
    "Face the joints, lap them on a plate.",
    "Clamp, bore and ream for the pins.",
    "Clean up, polish, back-fill if it rings.",
)


class MetalWay:
    """Its master is printed; then it is cast, faced, lapped and bored."""

    kind = "metal"
    drawings: frozenset[str] = frozenset({"rule"})

    def beside(self, shop: Shop) -> Way:
        """The master's hours and those at the metal."""
        master, hours = MASTER.beside(shop), limits()["metal_hours"].value * len(shop.pieces)
        figures = {"stuff_kg": shop.given.metal_kg or 0.0, "pieces": float(len(shop.pieces))}
        every, hand = master.hours + hours, master.hand_hours + hours
        return Way("metal", every, hand, "{stuff_kg} of metal", "Shrinks twice.", figures)

    def prepare(self, shop: Shop) -> Making:
        """The master's prints."""
        return replace(MASTER.prepare(shop), kind="metal", hollow=True)

    def findings(self, shop: Shop, made: Making) -> list[Finding]:
        """Those of its master."""
        return MASTER.findings(shop, made)

    def steps(self, shop: Shop, made: Making) -> tuple[str, ...]:
        """The master is printed, then the pattern cast."""
        return (*MASTER.steps(shop, made)[:2], *STEPS)
