"""The bench's own flasks as a table: sizes inside, heights of the halves, weight."""

from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from pounce.base.errors import UserFault
from pounce.bench.widgets.parts import Choice, button, label
from pounce.rig.flasks import Flask, Shape, export_flasks, own_flasks, write_flasks

COLUMNS = ("Name", "Shape", "Long, mm", "Wide, mm", "Cope, mm", "Drag, mm", "Empty, kg", "Of")
# One list for what it is and whether it opens: a pail never does.
KINDS: dict[str, tuple[Shape, bool]] = {
    "Box": ("box", False),
    "Round": ("round", False),
    "Box, snap": ("box", True),
    "Round, snap": ("round", True),
    "Pail or can": ("can", False),
}
WIDTHS = (150, 120, 78, 78, 78, 78, 82, 100)


class FlasksDialog(QDialog):
    """Lists, adds, changes and takes away; ``written`` when they were saved."""

    written = pyqtSignal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Your flasks")
        self.resize(820, 430)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(18, 14, 18, 14)
        layout.setSpacing(8)
        layout.addWidget(label("Your flasks", "title"))
        layout.addWidget(
            label(
                "Sizes are inside. The smallest that fits is taken for each mould. A pail is for loose sand, its "
                "depth under Drag. A snap flask opens and comes off the closed mould.",
                "muted",
                wrap=True,
            )
        )
        self.table = QTableWidget(0, len(COLUMNS))
        self.table.setHorizontalHeaderLabels(COLUMNS)
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setAccessibleName("Your flasks, one a row")
        head, side = self.table.horizontalHeader(), self.table.verticalHeader()
        assert head is not None and side is not None
        head.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        side.hide()
        for column, width in enumerate(WIDTHS):
            self.table.setColumnWidth(column, width)
        layout.addWidget(self.table, 1)
        self.trouble = label("", "strong", wrap=True)
        layout.addWidget(self.trouble)
        foot = QHBoxLayout()
        foot.addWidget(button("Add one", "", lambda: self._add(Flask("", "New flask", "box", 300, 220, 75, 75, 4.0))))
        foot.addWidget(button("Take it away", "", self._remove))
        foot.addWidget(button("Write as JSON", "", self._export, "A file of them for another bench"))
        foot.addStretch(1)
        foot.addWidget(button("Leave it", "", self.reject))
        foot.addWidget(button("Save", "primary", self._save))
        layout.addLayout(foot)
        try:
            for flask in own_flasks():
                self._add(flask)
        except UserFault as fault:
            self.trouble.setText(str(fault))

    def _add(self, flask: Flask) -> None:
        row = self.table.rowCount()
        self.table.insertRow(row)
        figures = (flask.long_mm, flask.wide_mm, flask.cope_mm, flask.drag_mm, flask.kg)
        for column, text in (
            (0, flask.name),
            *((k, f"{value:g}") for k, value in enumerate(figures, 2)),
            (7, flask.material),
        ):
            self.table.setItem(row, column, QTableWidgetItem(text))
        shape = Choice("Shape", tuple((name, name) for name in KINDS))
        shape.setFixedWidth(WIDTHS[1] - 4)
        shape.show_choice(next(name for name, kind in KINDS.items() if kind == (flask.shape, flask.snap)))
        self.table.setCellWidget(row, 1, shape)
        self.table.selectRow(row)

    def _remove(self) -> None:
        if self.table.currentRow() >= 0:
            self.table.removeRow(self.table.currentRow())

    def _text(self, row: int, column: int) -> str:
        item = self.table.item(row, column)
        return "" if item is None else item.text().strip()

    def _flask(self, row: int) -> Flask:
        """The flask of a row. UserFault for a figure that is none."""
        figures = []
        for column in range(2, 7):
            text = self._text(row, column).replace(",", ".")
            try:
                figures.append(float(text or 0.0))
            except ValueError:
                raise UserFault(f"'{text}' is no figure.", "Give sizes in mm and weights in kg.") from None
        name, shape = self._text(row, 0), self.table.cellWidget(row, 1)
        assert isinstance(shape, Choice)
        kind, snap = tuple(KINDS.values())[shape.currentIndex()]
        long, wide, cope, drag, kg = figures
        return Flask(id_of(name), name, kind, long, wide, cope, drag, kg, self._text(row, 7) or "wood", snap)

    def _flasks(self) -> tuple[Flask, ...]:
        return tuple(self._flask(row) for row in range(self.table.rowCount()))

    def _export(self) -> None:
        target, _ = QFileDialog.getSaveFileName(self, "Write the flasks", "flasks.json", "JSON (*.json)")
        if not target:
            return
        try:
            export_flasks(self._flasks(), Path(target))
            self.trouble.setText(f"Written to {Path(target).name}.")
        except UserFault as fault:
            self.trouble.setText(str(fault))

    def _save(self) -> None:
        try:
            write_flasks(self._flasks())
        except UserFault as fault:
            self.trouble.setText(str(fault))
            return
        self.written.emit()
        self.accept()


def id_of(name: str) -> str:
    """A lower-case word with hyphens from a name."""
    return "-".join("".join(c if c.isalnum() else " " for c in name.lower()).split())
