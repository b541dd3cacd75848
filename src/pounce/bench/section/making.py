"""The strip under the bench at Pattern: the bed with its prints, or the templates as they will print, and the order
of work.
"""

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from pounce.base.units import from_mm, length, mass, plain, quantity
from pounce.bench.look.tokens import SECTION, colour, font
from pounce.bench.widgets.parts import Panel, Segments, button, emptied, label
from pounce.export.sheets import SheetPage
from pounce.pattern.making.values import Making, Printed
from pounce.pattern.values import PatternChoices


class BedPlan(QWidget):
    """A bed from above with the prints on it, ticks every 50 mm along two edges."""

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumWidth(170)
        self._prints: tuple[Printed, ...] = ()
        self._bed = (220.0, 220.0)

    def show_prints(self, prints: tuple[Printed, ...], bed: tuple[float, float]) -> None:
        """Other prints, or another bed."""
        self._prints, self._bed = prints, bed
        self.setAccessibleName(f"Bed plan: {', '.join(core_print.name for core_print in prints)}")
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Bed, ticks, outlines and names."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        k = min((self.width() - 4) / self._bed[0], (self.height() - 4) / self._bed[1])
        wide, deep = self._bed[0] * k, self._bed[1] * k
        left, top = (self.width() - wide) / 2, (self.height() - deep) / 2
        painter.setPen(QPen(colour("outline"), 1.4))
        painter.setBrush(colour("sunk"))
        painter.drawRect(QRectF(left, top, wide, deep))
        for at in np.arange(50.0, self._bed[0], 50.0):
            painter.drawLine(QPointF(left + at * k, top + deep), QPointF(left + at * k, top + deep - 4))
        for at in np.arange(50.0, self._bed[1], 50.0):
            painter.drawLine(QPointF(left, top + deep - at * k), QPointF(left + 4, top + deep - at * k))
        for one in self._prints:
            path = QPainterPath()
            x0, y0 = one.at_mm
            for index, (x, y) in enumerate(one.outline.tolist()):
                point = QPointF(left + (x0 + x) * k, top + deep - (y0 + y) * k)
                if index:
                    path.lineTo(point)
                else:
                    path.moveTo(point)
            painter.setPen(QPen(colour("ink"), 1.2))
            painter.setBrush(colour("steelFlat"))
            painter.drawPath(path)
        painter.end()


class LayerView(QWidget):
    """How the layers of a print lie: its upright cut with every so many layers drawn, on the bed."""

    # Layers drawn, at most: more would be a grey.
    MOST = 16

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumWidth(190)
        self._print: Printed | None = None
        self._layer = 0.2

    def show_print(self, one: Printed | None, layer_mm: float) -> None:
        """Another print."""
        self._print, self._layer = one, layer_mm
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The cut, lines for layers, the bed under it."""
        one = self._print
        if one is None or not one.upright:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        every = np.concatenate(one.upright)
        x0, x1, tall = float(every[:, 0].min()), float(every[:, 0].max()), float(every[:, 1].max())
        k = min((self.width() - 24) / max(x1 - x0, 1e-9), (self.height() - 50) / max(tall, 1e-9))
        left, floor = self.width() / 2 - k * (x0 + x1) / 2, self.height() - 26.0
        path = QPainterPath()
        for loop in one.upright:
            path.moveTo(left + k * float(loop[0, 0]), floor - k * float(loop[0, 1]))
            for x, y in loop[1:].tolist():
                path.lineTo(left + k * x, floor - k * y)
            path.closeSubpath()
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour("steelFlat"))
        painter.drawPath(path)
        count = max(1, int(np.ceil(tall / self._layer / self.MOST)))
        painter.setClipPath(path)
        painter.setPen(QPen(colour("panel"), 1.0))
        for height in np.arange(count * self._layer, tall, count * self._layer).tolist():
            painter.drawLine(QPointF(0, floor - k * height), QPointF(self.width(), floor - k * height))
        painter.setClipping(False)
        painter.setPen(QPen(colour("ink"), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(path)
        painter.setPen(QPen(colour("outline"), 2.4))
        painter.drawLine(QPointF(6, floor), QPointF(self.width() - 6, floor))
        painter.setPen(colour("muted"))
        painter.setFont(font("secondary", italic=True))
        words = "every layer" if count == 1 else f"one layer in {count} drawn"
        painter.drawText(QRectF(0, floor + 4, self.width(), 20), Qt.AlignmentFlag.AlignCenter, words)
        painter.end()


class SheetView(QWidget):
    """A sheet of the templates as it will print, in small."""

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumWidth(200)
        self._sheet: SheetPage | None = None

    def show_sheet(self, sheet: SheetPage | None) -> None:
        """Another sheet."""
        self._sheet = sheet
        self.setAccessibleName("" if sheet is None else f"Sheet: {sheet.title}. {sheet.of_many}")
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paper, lines, words, crosses, and the line to check it by."""
        sheet = self._sheet
        if sheet is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        width, height = sheet.size_mm
        k = min((self.width() - 4) / width, (self.height() - 4) / height)
        left, top = (self.width() - k * width) / 2, (self.height() - k * height) / 2

        def put(x: float, y: float) -> QPointF:
            return QPointF(left + k * x, top + k * (height - y))

        painter.setPen(QPen(colour("outline"), 1.0))
        painter.setBrush(QColor("white"))
        painter.drawRect(QRectF(left, top, k * width, k * height))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        x0, y0, x1, y1 = sheet.room_mm
        painter.setClipRect(QRectF(put(x0, y1), put(x1, y0)))
        pens = {
            "solid": QPen(colour("ink"), 1.4),
            "dashed": QPen(colour("muted"), 1.0, Qt.PenStyle.DashLine),
            "fine": QPen(colour("muted"), 1.0),
        }
        for points, style, closed in sheet.runs:
            painter.setPen(pens[style])
            path = QPainterPath(put(*points[0].tolist()))
            for x, y in points[1:].tolist():
                path.lineTo(put(x, y))
            if closed:
                path.closeSubpath()
            painter.drawPath(path)
        painter.setPen(QPen(colour("ink"), 1.0))
        for x, y, wide in sheet.holes:
            _cross(painter, put(x, y), max(4.0, k * 4.0) if wide else 2.0)
            if wide:
                painter.drawEllipse(put(x, y), k * wide / 2.0, k * wide / 2.0)
        for ax, ay, bx, by in sheet.arrows:
            _grain(painter, put(ax, ay), put(bx, by))
        painter.setClipping(False)
        painter.setPen(QPen(colour("muted"), 1.0))
        for x, y in sheet.crosses:
            _cross(painter, put(x, y), max(4.0, k * 4.0))
            painter.drawEllipse(put(x, y), max(2.0, k * 2.0), max(2.0, k * 2.0))
        painter.setPen(QPen(colour("ink"), 1.2))
        painter.drawLine(put(MARGIN, 8.0), put(MARGIN + CHECK, 8.0))
        if k > LEGIBLE:
            self._words(painter, sheet, put, k)
        painter.end()

    def _words(self, painter: QPainter, sheet: SheetPage, put: Callable[[float, float], QPointF], k: float) -> None:
        """Words, where the sheet is large enough for them to be read."""
        face = font("dimension")
        face.setPixelSize(max(8, int(k * 3.6)))
        painter.setFont(face)
        painter.drawText(put(sheet.room_mm[0], sheet.size_mm[1] - 9.0), sheet.title)
        for x, y, word in sheet.words:
            painter.drawText(put(x + 1.5, y + 1.0), word)


# Of the printed sheet: where its check line starts and how long it is, mm; pixels a mm under which its words are left
# out.
MARGIN, CHECK, LEGIBLE = 12.0, 100.0, 2.0


def _cross(painter: QPainter, at: QPointF, arm: float) -> None:
    painter.drawLine(at - QPointF(arm, 0), at + QPointF(arm, 0))
    painter.drawLine(at - QPointF(0, arm), at + QPointF(0, arm))


def _grain(painter: QPainter, start: QPointF, end: QPointF) -> None:
    """A line with a barb at both ends."""
    painter.save()
    painter.setPen(QPen(colour("brassInk"), 2.0))
    painter.drawLine(start, end)
    way = np.array([end.x() - start.x(), end.y() - start.y()])
    way = way / max(float(np.linalg.norm(way)), 1e-9)
    side = np.array([-way[1], way[0]])
    for tip, sign in ((end, -1.0), (start, 1.0)):
        for hand in (1.0, -1.0):
            barb = sign * 7.0 * way + hand * 4.0 * side
            painter.drawLine(tip, tip + QPointF(float(barb[0]), float(barb[1])))
    painter.restore()


class LargeSheet(QDialog):
    """The sheets one after the other, large enough to read."""

    def __init__(self, parent: QWidget, sheets: tuple[SheetPage, ...], at: int) -> None:
        super().__init__(parent)
        self.setWindowTitle("Templates as they will print")
        self.resize(720, 760)
        self._sheets, self.at = sheets, at
        layout = QVBoxLayout(self)
        self.view = SheetView()
        layout.addWidget(self.view, 1)
        row = QHBoxLayout()
        self._where = label("", "section")
        row.addWidget(self._where)
        row.addStretch(1)
        self.back, self.next = button("Back", "", lambda: self._turn(-1)), button("Next", "", lambda: self._turn(1))
        for one in (self.back, self.next, button("Close", "", self.close)):
            row.addWidget(one)
        layout.addLayout(row)
        self._turn(0)

    def _turn(self, by: int) -> None:
        self.at = min(max(self.at + by, 0), len(self._sheets) - 1)
        sheet = self._sheets[self.at]
        self.view.show_sheet(sheet)
        self._where.setText(
            f"Sheet {self.at + 1} of {len(self._sheets)}" + (f", {sheet.of_many}" if sheet.of_many else "")
        )
        self.back.setEnabled(self.at > 0)
        self.next.setEnabled(self.at + 1 < len(self._sheets))


LEAST_WIDE = 420


class MakingStrip(Panel):
    """What is taken to the printer or to the bench, and in which order."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(SECTION)
        self.setMinimumWidth(LEAST_WIDE)  # its table is cut short before the window grows
        layout = QHBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 6)
        layout.setSpacing(14)
        side = QWidget()
        side.setFixedWidth(172)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self._title, self._under = label("", "section"), label("", "muted", wrap=True)
        column.addWidget(self._title)
        column.addWidget(self._under)
        self.kind = Segments([("beds", "Beds"), ("sheets", "Sheets")], "What the strip shows")
        self.kind.chosen.connect(self._choose)
        column.addWidget(self.kind)
        turn = QHBoxLayout()
        self.back, self.next = button("Back", "", lambda: self._turn(-1)), button("Next", "", lambda: self._turn(1))
        self.larger = button("Larger", "", self._enlarge)
        for one in (self.back, self.next, self.larger):
            turn.addWidget(one)
        turn.addStretch(1)
        column.addLayout(turn)
        column.addStretch(1)
        layout.addWidget(side)
        self.bed, self.layers, self.sheet = BedPlan(), LayerView(), SheetView()
        for view in (self.bed, self.layers, self.sheet):
            layout.addWidget(view)
        self._table = QGridLayout()
        self._table.setHorizontalSpacing(12)
        self._table.setVerticalSpacing(2)
        holder = QWidget()
        outer = QVBoxLayout(holder)
        outer.setContentsMargins(0, 0, 0, 0)
        self._table_title = label("", "section")
        outer.addWidget(self._table_title)
        outer.addLayout(self._table)
        outer.addStretch(1)
        layout.addWidget(holder, 1)
        self.at = 0
        self.shows = "beds"
        self._making: Making | None = None
        self._sheets: tuple[SheetPage, ...] = ()
        self._choices: PatternChoices | None = None
        self._unit = "mm"

    def show_making(self, making: Making, choices: PatternChoices, unit: str, sheets: tuple[SheetPage, ...]) -> None:
        """Another making, and the sheets of its templates as far as they are there."""
        if self._making is not making:
            self.at = 0
        self._making, self._choices, self._unit, self._sheets = making, choices, unit, sheets
        self._show()

    def _choose(self, kind: str) -> None:
        self.shows, self.at = kind, 0
        self._show()

    def _turn(self, by: int) -> None:
        self.at += by
        self._show()

    def _enlarge(self) -> None:
        if self._sheets:
            LargeSheet(self, self._sheets, self.at).open()

    def _show(self) -> None:
        making, choices = self._making, self._choices
        if making is None or choices is None:
            return
        beds = max((core_print.bed for core_print in making.prints), default=-1) + 1
        shows = self.shows if beds and self._sheets else ("beds" if beds else "sheets")
        count = beds if shows == "beds" else len(self._sheets)
        self.at = min(max(self.at, 0), max(count - 1, 0))
        self.kind.setVisible(bool(beds and self._sheets))
        self.kind.show_choice(shows)
        for one in (self.back, self.next):
            one.setVisible(count > 1)
        self.back.setEnabled(self.at > 0)
        self.next.setEnabled(self.at + 1 < count)
        self.larger.setVisible(shows == "sheets" and count > 0)
        self.bed.setVisible(shows == "beds")
        self.layers.setVisible(shows == "beds" and making.kind == "printed")
        self.sheet.setVisible(shows == "sheets" and count > 0)
        if shows == "beds":
            self._show_bed(making, choices, beds)
        else:
            self._show_sheet(making)
        emptied(self._table)
        if shows == "beds" and making.kind == "printed":
            self._show_settings(making, choices)
        else:
            self._show_steps(making)

    def _show_bed(self, making: Making, choices: PatternChoices, beds: int) -> None:
        unit = self._unit
        mine = tuple(core_print for core_print in making.prints if core_print.bed == self.at)
        wide, deep = choices.bed_mm[:2]
        self._title.setText("Bed plan" if beds == 1 else f"Bed {self.at + 1} of {beds}")
        bed = f"{plain(from_mm(wide, unit), 1)} × {plain(from_mm(deep, unit), 1)} {unit}"
        self._under.setText(f"{bed}. {', '.join(one.name for one in mine)}.")
        self.bed.show_prints(mine, (wide, deep))
        self.layers.show_print(mine[0] if mine else None, making.figures.get("layer_mm", 0.2))

    def _show_sheet(self, making: Making) -> None:
        if not self._sheets:
            wanted = making.kind in ("wood", "foam")
            self._title.setText("Templates" if wanted else "The original itself")
            self._under.setText(
                "Laying them on sheets." if wanted else "It takes no templates: it is rammed up as it is."
            )
            return
        sheet = self._sheets[self.at]
        self._title.setText(f"Sheet {self.at + 1} of {len(self._sheets)}")
        self._under.setText(f"{sheet.title}{', ' if sheet.of_many else ''}{sheet.of_many}.")
        self.sheet.show_sheet(sheet)

    def _show_settings(self, making: Making, choices: PatternChoices) -> None:
        unit, figures = self._unit, making.figures
        self._table_title.setText("Print with")
        material = next((way.figures.get("stuff_kg", 0.0) for way in making.ways if way.kind == "printed"), 0.0)
        rows = [
            ("Layer", length(figures.get("layer_mm", 0.0), unit, 2)),
            ("Walls", plain(choices.walls, 0)),
            ("Inside", f"{plain(choices.inside_percent, 0)} %"),
            ("Stuff", mass(material)),
            ("Printing", quantity("printing_hours", figures.get("minutes", 0.0) / 60.0)),
        ]
        for row, (name, value) in enumerate(rows):
            self._table.addWidget(label(name), row, 0)
            self._table.addWidget(label(value, "value"), row, 1, Qt.AlignmentFlag.AlignRight)
        self._table.setColumnStretch(1, 0)

    def _show_steps(self, making: Making) -> None:
        self._table_title.setText("Order of work")
        for row, text in enumerate(making.steps):
            self._table.addWidget(label(str(row + 1), "value"), row, 0, Qt.AlignmentFlag.AlignTop)
            self._table.addWidget(label(text, wrap=True), row, 1)
        self._table.setColumnStretch(1, 1)
