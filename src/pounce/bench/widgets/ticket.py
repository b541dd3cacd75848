"""The ticket: the job as a sentence of chips, undo, redo and the command search."""

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QAction, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QInputDialog, QMenu, QPushButton, QToolButton

from pounce.base.units import percent
from pounce.bench.document import Document
from pounce.bench.look.marks import arrow_icon
from pounce.bench.look.tokens import TICKET
from pounce.bench.widgets.parts import Panel, button, label
from pounce.job import edits
from pounce.metals import tables

# A window narrower than this has no room for the whole sentence, pixels.
NARROW = 1200


class Ticket(Panel):
    """*job* in *metal* poured in *mould medium* from a *way of making* pattern *contraction*."""

    search = pyqtSignal()

    def __init__(self, document: Document, undo: QAction, redo: QAction) -> None:
        super().__init__()
        self.setFixedHeight(TICKET)
        self._document = document
        self._narrow = False
        layout = QHBoxLayout(self)
        layout.setContentsMargins(12, 0, 12, 0)
        layout.setSpacing(7)
        self.name = button("No job on the bench", "plain", self._rename, "Name the job")
        self.metal = self._chip("Metal", tables.metals(), edits.set_metal)
        self.mould = self._chip("Mould medium", tables.moulds(), edits.set_mould)
        self.pattern = self._chip("Way of making the pattern", tables.pattern_kinds(), edits.set_pattern_kind)
        self.contraction = button(
            "", "chip", self._contract, "Contraction: type your own, or leave it empty for the table"
        )
        self._words = [label(text, "muted") for text in ("in", "poured in", "from a", "pattern")]
        layout.addWidget(self.name)
        for word, chip in zip(self._words, (self.metal, self.mould, self.pattern, self.contraction), strict=True):
            layout.addWidget(word)
            layout.addWidget(chip)
        layout.addStretch(1)
        for action, back in ((undo, True), (redo, False)):
            tool = QToolButton()
            tool.setDefaultAction(action)
            action.setIcon(arrow_icon(back))
            tool.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonIconOnly)
            tool.setAutoRaise(True)
            tool.setAccessibleName(action.text())
            tool.setStyleSheet("QToolButton { border: 2px solid transparent; padding: 3px; background: transparent; }")
            layout.addWidget(tool)
        self.finder = button("Find a command          Ctrl+K", "find", self.search.emit, "Every action by name")
        self.finder.setFixedWidth(186)
        layout.addWidget(self.finder)
        document.job_changed.connect(self.refresh)
        self.refresh()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """In a narrow window the search keeps its key alone, and the name is shorter."""
        super().resizeEvent(event)
        narrow = self.width() < NARROW
        self.finder.setText("Find   Ctrl+K" if narrow else "Find a command          Ctrl+K")
        self.finder.setFixedWidth(116 if narrow else 186)
        if narrow != self._narrow:
            self._narrow = narrow
            self.refresh()

    def minimumSizeHint(self) -> QSize:
        """What it takes when it is narrow: the window asks before it is."""
        return QSize(400, TICKET)

    def _chip(self, name: str, things: object, make: object) -> QPushButton:
        chip = button("", "chip", tip=name)
        menu = QMenu(chip)
        for key, thing in things.items():  # type: ignore[attr-defined]
            action = menu.addAction(thing.name)
            if action is not None:
                action.triggered.connect(lambda _=False, key=key: self._document.edit(make, key))
        chip.setMenu(menu)
        return chip

    def refresh(self) -> None:
        """Shows the job as it is now."""
        job = self._document.job
        for widget in (*self._words, self.metal, self.mould, self.pattern, self.contraction):
            widget.setVisible(job is not None)
        self.name.setEnabled(job is not None)
        if job is None:
            self.name.setText("No job on the bench")
            return
        self.name.setText(_short(job.name, 18 if self._narrow else 34))
        self.name.setToolTip(job.name)
        results = self._document.results()
        method = None if results is None else results.metal
        if method is None:
            return
        self.metal.setText(method.metal.name)
        self.mould.setText(method.mould.name)
        self.pattern.setText(method.pattern.short[:1].upper() + method.pattern.short[1:])
        self.contraction.setText(f"{percent(method.contraction_percent)} over")
        for chip, name in ((self.metal, "Metal"), (self.mould, "Mould medium"), (self.pattern, "Pattern")):
            chip.setAccessibleName(f"{name}: {chip.text()}")

    def _rename(self) -> None:
        if self._document.job is None:
            return
        name, fine = QInputDialog.getText(self, "Name the job", "Name", text=self._document.job.name)
        if fine:
            self._document.edit(edits.rename, name)

    def _contract(self) -> None:
        results = self._document.results()
        if results is None or results.metal is None:
            return
        m = results.metal
        value, fine = QInputDialog.getDouble(
            self, "Contraction", f"Per cent, stated on the {m.stated}", m.contraction_percent, 0.0, 10.0, 2
        )
        if fine:
            self._document.edit(edits.set_contraction, value)


def _short(text: str, most: int) -> str:
    return text if len(text) <= most else text[: most - 1] + "…"
