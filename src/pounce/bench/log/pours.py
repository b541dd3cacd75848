"""Pours as a list, with a field to find one in it."""

from PyQt6.QtCore import QModelIndex, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from pounce.base.units import from_mm, plain
from pounce.bench.look.marks import ring
from pounce.bench.look.tokens import colour, font
from pounce.bench.widgets.parts import Panel, button, label
from pounce.bench.widgets.start import RINGS
from pounce.logbook.said import LogResult
from pounce.logbook.values import Line
from pounce.route.logkeys import line_words

COLUMNS = ("poured", "job", "plan / poured", "first size", "came out")
ROW = 30


class _Came(QStyledItemDelegate):
    """How a pour came out: its ring and its words."""

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        """The ring before the words."""
        if painter is None:
            return
        line: Line = index.data(Qt.ItemDataRole.UserRole)
        painter.save()
        box = QRectF(option.rect)
        ring(painter, RINGS[line.state], box.left() + 6, box.center().y() - 8, 16)
        painter.setFont(font("chip"))
        painter.setPen(colour("ink"))
        words = box.adjusted(30, 0, 0, 0)
        painter.drawText(words, Qt.AlignmentFlag.AlignVCenter, line_words(line))
        painter.setPen(colour("hairline"))
        painter.drawLine(QPointF(box.left(), box.bottom() - 1), QPointF(box.right(), box.bottom() - 1))
        painter.restore()


class PoursList(Panel):
    """``opened`` with the entry that was pressed; ``found`` as words are typed; ``wanted`` the list as a table."""

    opened = pyqtSignal(str)
    wanted = pyqtSignal()
    taken = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 8, 12, 8)
        row.setSpacing(14)
        side = QVBoxLayout()
        side.setSpacing(6)
        self.title = label("Pours", "section")
        self.about = label("", "muted", wrap=True)
        self.looked_for = QLineEdit()
        self.looked_for.setPlaceholderText("Find a pour")
        self.looked_for.setAccessibleName("Find a pour")
        self.looked_for.setClearButtonEnabled(True)
        self.looked_for.textChanged.connect(lambda _: self._fill())
        for one in (self.title, self.about, self.looked_for):
            side.addWidget(one)
        side.addWidget(button("Write the logbook", "", self.wanted.emit, "As JSON, as tables in CSV, or as a list"))
        side.addWidget(button("Take one in", "link", self.taken.emit, "What another bench wrote"))
        side.addStretch(1)
        holder = QWidget()
        holder.setLayout(side)
        holder.setFixedWidth(142)
        row.addWidget(holder)
        self.table = self._table()
        row.addWidget(self.table, 1)
        self._lines: tuple[Line, ...] = ()
        self._unit, self._here = "mm", ""

    def _table(self) -> QTableWidget:
        table = QTableWidget(0, len(COLUMNS))
        table.setHorizontalHeaderLabels(list(COLUMNS))
        table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        table.setShowGrid(False)
        table.setAccessibleName("Pours")
        table.setItemDelegateForColumn(len(COLUMNS) - 1, _Came(table))
        vertical, head = table.verticalHeader(), table.horizontalHeader()
        assert vertical is not None and head is not None
        vertical.hide()
        vertical.setDefaultSectionSize(ROW)
        head.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        head.setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        head.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        head.setHighlightSections(False)
        for column, wide in ((0, 92), (2, 106), (3, 66), (4, 176)):
            head.resizeSection(column, wide)
        table.cellActivated.connect(self._open)
        table.cellClicked.connect(self._open)
        return table

    def show_log(self, made: LogResult | None, job_id: str, unit: str) -> None:
        """What the book holds."""
        self._lines, self._unit, self._here = () if made is None else made.lines, unit, job_id
        self._fill()

    def _fill(self) -> None:
        words = self.looked_for.text().casefold().split()
        found = [one for one in self._lines if all(word in _searched(one) for word in words)]
        whole = len(self._lines)
        self.about.setText(f"{len(found)} of {whole}" if words else f"{whole} in the book" if whole else "None yet")
        self.table.setRowCount(len(found))
        for k, one in enumerate(found):
            planned, poured = ("–" if value is None else f"{round(value)}" for value in (one.planned_c, one.poured_c))
            size = (
                "" if one.first_mm is None else plain(from_mm(one.first_mm, self._unit), 3 if self._unit == "in" else 1)
            )
            cells = (f"{one.at.astimezone():%d %b %Y}", one.job, f"{planned} / {poured} °C", size, line_words(one))
            for column, text in enumerate(cells):
                item = QTableWidgetItem(text)
                item.setData(Qt.ItemDataRole.UserRole, one)
                if column in (2, 3):
                    item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                if one.job_id == self._here and self._here:
                    item.setFont(font("chip"))
                self.table.setItem(k, column, item)

    def _open(self, row: int, _column: int) -> None:
        item = self.table.item(row, 0)
        if item is not None:
            line: Line = item.data(Qt.ItemDataRole.UserRole)
            self.opened.emit(line.id)


def _searched(one: Line) -> str:
    return f"{one.job} {one.metal} {one.note} {one.at:%Y-%m-%d %d %B} {line_words(one)}".casefold()
