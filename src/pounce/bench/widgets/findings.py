"""The findings of a stop: one sentence, one bold noun, one figure, at most three actions."""

from collections.abc import Callable

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from pounce.base.finding import Finding, Remedy, filled
from pounce.bench.stops.words import mark_of
from pounce.bench.widgets.parts import button, emptied, label, line
from pounce.bench.widgets.saidrow import LitRow, in_rows, rich, top_row
from pounce.metals.tables import sources

MOST_ACTIONS = 3


class FindingRow(LitRow):
    """One finding. Hovering it lights its place."""

    def __init__(self, finding: Finding, nth: int | None, unit: str, first_open: bool) -> None:
        super().__init__(frozenset() if finding.region is None else frozenset({finding.region}), finding.words(unit))
        self.finding = finding
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 5, 0, 5)
        outer.setSpacing(5)
        says = rich(finding.words(unit), finding.noun_words(unit), nth)
        source = sources()[finding.source].words() if finding.source else ""
        outer.addLayout(top_row(mark_of(finding), says, finding.main_words(unit), source))
        actions = self._actions(finding, first_open, unit)
        if actions is not None:
            outer.addWidget(actions)
        outer.addWidget(line())
        self.setAccessibleName(finding.words(unit))

    def _actions(self, finding: Finding, first_open: bool, unit: str) -> QWidget | None:
        doable = [remedy for remedy in finding.remedies if remedy.change is not None]
        advice = [remedy for remedy in finding.remedies if remedy.change is None]
        if not doable and not advice and finding.place_mm is None:
            return None
        holder = QWidget()
        column = QVBoxLayout(holder)
        column.setContentsMargins(26, 0, 0, 0)
        column.setSpacing(4)
        for remedy in advice[:1]:
            if not finding.informational:
                column.addWidget(label(filled(remedy.text, finding.figures, unit) + ".", "muted", wrap=True))
        buttons: list[QPushButton] = []
        room = MOST_ACTIONS - (finding.place_mm is not None)
        for index, remedy in enumerate(doable[:room]):
            kind = "primary" if first_open and index == 0 else ""
            buttons.append(button(filled(remedy.text, finding.figures, unit), kind, self._taker(remedy)))
        if finding.place_mm is not None and not finding.informational:
            buttons.append(button("Show", "", lambda: self.shown.emit(finding)))
        for row in in_rows(buttons):
            column.addLayout(row)
        return holder if column.count() else None

    def _taker(self, remedy: Remedy) -> Callable[[], None]:
        return lambda: self.taken.emit(remedy)


class Findings(QWidget):
    """The list of findings with its head."""

    lit = pyqtSignal(int)
    shown = pyqtSignal(object)
    taken = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self._layout.setSpacing(0)
        self._rows: list[FindingRow] = []
        self._now: object = None

    def show_findings(self, findings: tuple[Finding, ...], numbered: bool, unit: str, primary: bool) -> None:
        """Shows these findings; numbers match the tags on the bench."""
        now = (findings, numbered, unit, primary)
        if now == self._now:
            return
        self._now = now
        emptied(self._layout)
        self._rows = []
        if not findings:
            return
        opened = sum(not finding.informational for finding in findings)
        informational = len(findings) - opened
        head = QWidget()
        row = QHBoxLayout(head)
        row.setContentsMargins(0, 0, 0, 4)
        row.addWidget(label("Findings", "section"))
        row.addStretch(1)
        said = [f"{opened} open"] * bool(opened) + [f"{informational} settled"] * bool(informational)
        row.addWidget(label(", ".join(said), "muted"))
        self._layout.addWidget(head)
        nth = 0
        primary_left = primary
        for finding in findings:
            if finding.region is not None and numbered:
                nth += 1
            doable = any(remedy.change is not None for remedy in finding.remedies) and not finding.informational
            one = FindingRow(
                finding, nth if finding.region is not None and numbered else None, unit, primary_left and doable
            )
            primary_left = primary_left and not doable
            one.lit.connect(self.lit)
            one.shown.connect(self.shown)
            one.taken.connect(self.taken)
            self._rows.append(one)
            self._layout.addWidget(one)

    def light(self, region: int) -> None:
        """Marks the finding of the region under the pointer."""
        for row in self._rows:
            row.mark_lit(region)
