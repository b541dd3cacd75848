"""The strip under the bench at Pattern: the bed with its prints, or the templates as they will print, and the order of work."""

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget
from shapely.geometry.base import BaseGeometry

from pounce.base.units import from_mm, length, mass, plain, quantity
from pounce.bench.look.tokens import SECTION, colour
from pounce.bench.widgets.parts import Panel, button, emptied, label
from pounce.pattern.making.values import Layer, Making, Printed
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
        self.setAccessibleName(f"Bed plan: {', '.join(one.name for one in prints)}")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
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


class SheetView(QWidget):
    """One layer's template in small: the line to saw, dashed the faces, the way of the grain."""

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumWidth(230)
        self._layer: Layer | None = None
        self._grain = False

    def show_layer(self, layer: Layer | None, grain: bool) -> None:
        """Another layer."""
        self._layer, self._grain = layer, grain
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paper, outlines, grain."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paper = QRectF(1, 1, self.width() - 2, self.height() - 2)
        painter.setPen(QPen(colour("outline"), 1.0))
        painter.setBrush(QColor("white"))
        painter.drawRect(paper)
        layer = self._layer
        if layer is None:
            painter.end()
            return
        x0, y0, x1, y1 = layer.saw.bounds
        k = min((paper.width() - 28) / max(x1 - x0, 1e-9), (paper.height() - 28) / max(y1 - y0, 1e-9))

        def put(x: float, y: float) -> QPointF:
            return QPointF(paper.center().x() + (x - (x0 + x1) / 2) * k, paper.center().y() - (y - (y0 + y1) / 2) * k)

        painter.setBrush(Qt.BrushStyle.NoBrush)
        for shape, pen in (
            (layer.saw, QPen(colour("ink"), 1.6)), (layer.lower, QPen(colour("muted"), 1.0, Qt.PenStyle.DashLine)),
            (layer.upper, QPen(colour("muted"), 1.0, Qt.PenStyle.DashLine)),
        ):  # fmt: skip
            painter.setPen(pen)
            for ring in _rings(shape):
                path = QPainterPath()
                path.moveTo(put(*ring[0]))
                for x, y in ring[1:]:
                    path.lineTo(put(x, y))
                path.closeSubpath()
                painter.drawPath(path)
        if self._grain:
            turn = np.radians(layer.grain_deg)
            way = np.array([np.cos(turn), -np.sin(turn)])
            side = np.array([way[1], -way[0]])
            at = layer.saw.representative_point()
            middle = put(float(at.x), float(at.y))
            painter.setPen(QPen(colour("brassInk"), 2.0))
            ends = [np.array([middle.x(), middle.y()]) + sign * 26.0 * way for sign in (-1.0, 1.0)]
            painter.drawLine(QPointF(*ends[0]), QPointF(*ends[1]))
            for end, sign in zip(ends, (1.0, -1.0), strict=True):
                for hand in (1.0, -1.0):
                    painter.drawLine(QPointF(*end), QPointF(*(end + sign * 8.0 * way + hand * 5.0 * side)))
        painter.end()


def _rings(shape: BaseGeometry) -> list[list[tuple[float, float]]]:
    parts = (
        [shape]
        if shape.geom_type == "Polygon"
        else [one for one in getattr(shape, "geoms", ()) if one.geom_type == "Polygon"]
    )
    return [
        [(x, y) for x, y in ring.coords] for part in parts if not part.is_empty for ring in (part.exterior, *part.interiors)
    ]


class MakingStrip(Panel):
    """What is taken to the printer or to the bench, and in which order."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(SECTION)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 6)
        layout.setSpacing(16)
        side = QWidget()
        side.setFixedWidth(172)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self._title, self._under = label("", "section"), label("", "muted", wrap=True)
        column.addWidget(self._title)
        column.addWidget(self._under)
        turn = QHBoxLayout()
        self.back, self.next = button("Back", "", self._back), button("Next", "", self._next)
        turn.addWidget(self.back)
        turn.addWidget(self.next)
        turn.addStretch(1)
        column.addLayout(turn)
        column.addStretch(1)
        layout.addWidget(side)
        self.bed, self.sheet = BedPlan(), SheetView()
        layout.addWidget(self.bed)
        layout.addWidget(self.sheet)
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
        self._making: Making | None = None
        self._choices: PatternChoices | None = None
        self._unit = "mm"

    def show_making(self, making: Making, choices: PatternChoices, unit: str) -> None:
        """Another making."""
        if self._making is not making:
            self.at = 0
        self._making, self._choices, self._unit = making, choices, unit
        self._show()

    def _count(self) -> int:
        making = self._making
        if making is None:
            return 0
        return max((one.bed for one in making.prints), default=0) + 1 if making.kind == "printed" else len(making.layers)

    def _back(self) -> None:
        self.at = max(self.at - 1, 0)
        self._show()

    def _next(self) -> None:
        self.at = min(self.at + 1, max(self._count() - 1, 0))
        self._show()

    def _show(self) -> None:
        making, choices, unit = self._making, self._choices, self._unit
        if making is None or choices is None:
            return
        count, printed = self._count(), making.kind == "printed"
        self.at = min(self.at, max(count - 1, 0))
        self.back.setVisible(count > 1)
        self.next.setVisible(count > 1)
        self.back.setEnabled(self.at > 0)
        self.next.setEnabled(self.at + 1 < count)
        self.bed.setVisible(printed)
        self.sheet.setVisible(not printed)
        emptied(self._table)
        if printed:
            mine = tuple(one for one in making.prints if one.bed == self.at)
            wide, deep = choices.bed_mm[:2]
            self._title.setText("Bed plan" if count == 1 else f"Bed {self.at + 1} of {count}")
            bed = f"{plain(from_mm(wide, unit), 1)} × {plain(from_mm(deep, unit), 1)} {unit}"
            self._under.setText(f"{bed}. {', '.join(one.name for one in mine)}.")
            self.bed.show_prints(mine, (wide, deep))
            self._table_title.setText("Print with")
            figures = making.figures
            stuff = next((way.figures.get("stuff_kg", 0.0) for way in making.ways if way.kind == "printed"), 0.0)
            rows = [
                ("Layer", length(choices.layer_mm, unit, 2)), ("Walls", plain(choices.walls, 0)), ("Inside", f"{plain(choices.inside_percent, 0)} %"),
                ("Stuff", mass(stuff)), ("Step on draft", length(figures.get("stair_mm", 0.0), unit, 3)),
                ("Printing", quantity("printing_hours", figures.get("minutes", 0.0) / 60.0)),
            ]  # fmt: skip
            for row, (name, value) in enumerate(rows):
                self._table.addWidget(label(name), row, 0)
                self._table.addWidget(label(value, "value"), row, 1, Qt.AlignmentFlag.AlignRight)
            return
        layer = making.layers[self.at] if making.layers else None
        stuff_word = "Board" if making.kind == "wood" else "Sheet"
        if layer is not None:
            own = [one for one in making.layers if one.piece == layer.piece]
            self._title.setText(f"{stuff_word} {layer.number} of {len(own)}")
            name = making.blanks[self.at].name.split(",")[0] if self.at < len(making.blanks) else ""
            self._under.setText(
                f"{name}, {length(layer.thick_mm, unit)} thick. Saw outside the full line; dashed are its faces."
            )
        self.sheet.show_layer(layer, making.kind == "wood")
        self._table_title.setText("Order of work")
        for row, text in enumerate(making.steps):
            self._table.addWidget(label(str(row + 1), "value"), row, 0, Qt.AlignmentFlag.AlignTop)
            self._table.addWidget(label(text, wrap=True), row, 1)
        self._table.setColumnStretch(1, 1)
