"""What freezes when, in place of picture and strip."""

from PyQt6.QtWidgets import QVBoxLayout

from pounce.bench.document import Document
from pounce.bench.freeze.plan import FreezePlan
from pounce.bench.freeze.section import FreezeSection
from pounce.bench.stops.view import Board, Headline
from pounce.route.results import Results
from pounce.route.stops import FREEZE, MOULD


class FreezeBoard(Board):
    """The plan over the section."""

    hands = "Slide the upper tongue for a moment after the pour, the lower one for another cut"

    def __init__(self, _document: Document) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        self.plan, self.section = FreezePlan(), FreezeSection()
        column.addWidget(self.plan, 1)
        column.addWidget(self.section)
        self.section.moved.connect(self.plan.show_cut)
        self.section.told.connect(self.plan.show_telling)

    def show_results(self, results: Results, saying: Headline, _unit: str) -> None:
        """The heat as it is known."""
        made, rig = results.get(FREEZE), results.get(MOULD)
        self.plan.show_made(made, rig, saying)
        self.section.show_made(made, rig)
