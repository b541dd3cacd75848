"""The findings of a stop: one sentence, one bold noun, one figure, at most three actions."""

import html
from collections.abc import Callable

from PyQt6.QtCore import QEvent, Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from pounce.base.finding import Finding, Remedy, filled
from pounce.bench.look.marks import Mark
from pounce.bench.look.tokens import colour
from pounce.bench.stops.words import mark_of
from pounce.bench.widgets.parts import button, emptied, label, line
from pounce.metals.tables import sources

ROW_PX = 248
MOST_ACTIONS = 3


class FindingRow(QWidget):
    """One finding. Hovering or focusing it lights its place."""

    lit = pyqtSignal(int)
    shown = pyqtSignal(object)
    taken = pyqtSignal(object)

    def __init__(self, finding: Finding, nth: int | None, unit: str, first_open: bool) -> None:
        super().__init__()
        self.finding = finding
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 5, 0, 5)
        outer.setSpacing(5)
        top = QHBoxLayout()
        top.setSpacing(8)
        top.addWidget(Mark(mark_of(finding)), alignment=Qt.AlignmentFlag.AlignTop)
        text = html.escape(finding.words(unit))
        noun = html.escape(finding.noun_words(unit))
        if noun:
            text = text.replace(noun, f"<b>{noun}</b>", 1)
        says = QLabel(f"<b>{nth}</b>&nbsp; {text}" if nth else text)
        says.setTextFormat(Qt.TextFormat.RichText)
        says.setWordWrap(True)
        if finding.source:
            says.setToolTip(f"After: {sources()[finding.source].words()}")
        top.addWidget(says, 1)
        figure = finding.main_words(unit)
        if figure:
            top.addWidget(label(figure, "figure"), alignment=Qt.AlignmentFlag.AlignTop)
        outer.addLayout(top)
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
        # as many in a row as the card holds: long cures go on the next
        row, taken = QHBoxLayout(), 0
        for button_ in buttons:
            button_.ensurePolished()
            wide = button_.sizeHint().width() + 6
            if taken and taken + wide > ROW_PX:
                row.addStretch(1)
                column.addLayout(row)
                row, taken = QHBoxLayout(), 0
            row.setSpacing(6)
            row.addWidget(button_)
            taken += wide
        if taken:
            row.addStretch(1)
            column.addLayout(row)
        return holder if column.count() else None

    def _taker(self, remedy: Remedy) -> Callable[[], None]:
        return lambda: self.taken.emit(remedy)

    def enterEvent(self, _event: QEvent | None) -> None:
        """Lights the place on the bench."""
        if self.finding.region is not None:
            self.lit.emit(self.finding.region)

    def leaveEvent(self, _event: QEvent | None) -> None:
        """Puts the light out."""
        if self.finding.region is not None:
            self.lit.emit(-1)

    def mark_lit(self, on: bool) -> None:
        """Shows that its place is under the pointer on the bench."""
        self.setAutoFillBackground(on)
        palette = self.palette()
        palette.setColor(self.backgroundRole(), colour("sunk"))
        self.setPalette(palette)


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
            row.mark_lit(region >= 0 and row.finding.region == region)
