"""The toy stop on the bench."""

from pounce.base.units import length, sizes
from pounce.bench.cards.card import Card, FigureTable
from pounce.bench.stops.view import Headline, StopView
from pounce.route.results import Results
from tests.toy.stop import CRATE


class CrateCard(Card):
    """Its one figure."""

    stop = CRATE.id

    def fill(self) -> None:
        """A table."""
        self.table = FigureTable([])
        self.body.addWidget(self.table)

    def refresh_body(self) -> None:
        """The longest side."""
        results = self.document.results()
        made = None if results is None else results.get(CRATE)
        self.table.show_rows([] if made is None else [("Inside", sizes(made.size_mm, self.document.unit))])


def headline(results: Results, unit: str) -> Headline | None:
    """What it comes to."""
    made = results.get(CRATE)
    return (
        None
        if made is None
        else Headline(f"It travels in a crate {length(max(made.size_mm), unit)} long.", "Straw all round.")
    )


VIEW = StopView(
    "What it travels in.",
    "The crate",
    CrateCard,
    headline,
    lambda results, _unit: None if results.get(CRATE) is None else "A crate",
    craft="# Crate\n\nStraw keeps it from knocking.",
)
