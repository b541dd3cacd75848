"""The mould's part of the bench: the plan over the section, with the hands wired to the document."""

from PyQt6.QtWidgets import QVBoxLayout

from pounce.bench.document import Document
from pounce.bench.mould.plan import MouldPlan, Moved
from pounce.bench.mould.section import MouldSection
from pounce.bench.stops.view import Board, Headline
from pounce.job import rig_edits
from pounce.route.results import Results
from pounce.route.stops import MOULD


class MouldBoard(Board):
    """Shows the mould; a piece that is moved is one edit."""

    hands = "Drag castings, sprue, gates, feeders · Tab chooses, arrows move, comma and full stop turn"

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        self.plan, self.section = MouldPlan(), MouldSection()
        column.addWidget(self.plan, 1)
        column.addWidget(self.section)
        self.section.moved.connect(self.plan.show_cut)
        self.plan.moved.connect(self._moved)
        self.plan.fed.connect(lambda number, place: document.edit(rig_edits.put_feeder, number, place))
        self.plan.gated.connect(lambda places: document.edit(rig_edits.put_gates, places))

    def show_results(self, results: Results, saying: Headline, unit: str) -> None:
        """The mould as it is known."""
        rig = results.get(MOULD)
        self.plan.show_rig(rig, saying, unit)
        self.section.show_rig(rig, unit)

    def _moved(self, moved: Moved) -> None:
        self._document.edit(rig_edits.place, moved.placed, moved.sprue_mm, moved.kept, moved.label)
