"""The upright brass slider beside the trial draw: how far the cope is lifted."""

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from pounce.base.units import from_mm, length, plain
from pounce.bench.look.focus import ringed
from pounce.bench.look.tokens import colour, font

# Room under the scale for its words.
FOOT = 34.0
# What rubs over less is free at once, mm.
LEAST_MM = 0.05
STEPS = (1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0)


class LiftScale(QWidget):
    """A scale in mm or inches with a brass handle that slides."""

    moved = pyqtSignal(float)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Lift of the cope. Up and down arrows move it.")
        self.resize(92, 300)
        self._most, self._now, self._unit = 1.0, 0.0, "mm"
        self._free: float | None = None

    def show_lift(self, lift_mm: float, most_mm: float, unit: str, free_mm: float | None = None) -> None:
        """The lift as it is; ``free_mm`` from where on nothing rubs or holds, None where sand tears."""
        self._now, self._most, self._unit, self._free = lift_mm, max(most_mm, 1e-6), unit, free_mm
        self.update()

    def _y(self, value: float) -> float:
        return self.height() - FOOT - (self.height() - FOOT - 32.0) * value / self._most

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Scale, ticks, handle."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(colour("ink"))
        painter.setFont(font("button"))
        painter.drawText(QRectF(0, 2, self.width(), 18), Qt.AlignmentFlag.AlignCenter, f"Lift, {self._unit}")
        x = self.width() - 26.0
        free = self._most if self._free is None else min(self._free, self._most)
        painter.setPen(QPen(colour("brassInk"), 3))
        painter.drawLine(QPointF(x, self._y(0.0)), QPointF(x, self._y(free)))
        if self._free is not None:
            painter.setPen(QPen(colour("verdigris"), 3))
            painter.drawLine(QPointF(x, self._y(free)), QPointF(x, self._y(self._most)))
        shown = from_mm(self._most, self._unit)
        step = next((s for s in STEPS if shown / s <= 8.0), 1000.0)
        step = (
            step if self._unit == "mm" else next((s for s in (0.1, 0.2, 0.5, 1.0, 2.0, 5.0) if shown / s <= 8.0), 10.0)
        )
        painter.setFont(font("dimension"))
        value = 0.0
        while value <= shown * 1.0001:
            y = self._y(value * self._most / max(shown, 1e-9))
            painter.setPen(QPen(colour("outline"), 1))
            painter.drawLine(QPointF(x - 14, y), QPointF(x - 6, y))
            painter.setPen(colour("ink"))
            painter.drawText(
                QRectF(0, y - 9, x - 20, 18),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                plain(value, 1),
            )
            value += step
        if self._free is not None:
            painter.setPen(colour("verdigrisInk"))
            painter.setFont(font("secondary"))
            words = "free at once" if self._free < LEAST_MM else f"free from {length(self._free, self._unit)}"
            painter.drawText(QRectF(0, self.height() - 20.0, self.width(), 18), Qt.AlignmentFlag.AlignRight, words)
        y = self._y(self._now)
        painter.setPen(QPen(colour("ink"), 1.2))
        painter.setBrush(colour("brass"))
        painter.drawPolygon(
            QPolygonF(
                [
                    QPointF(x - 9, y),
                    QPointF(x - 3, y - 7),
                    QPointF(x + 14, y - 7),
                    QPointF(x + 14, y + 7),
                    QPointF(x - 3, y + 7),
                ]
            )
        )
        if ringed(self):
            painter.setPen(QPen(colour("ink"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(1, 1, self.width() - 2, self.height() - 2), 3, 3)
        painter.end()

    def _to(self, y: float) -> None:
        value = (self.height() - FOOT - y) / (self.height() - FOOT - 32.0) * self._most
        self.moved.emit(min(max(value, 0.0), self._most))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Takes the handle there."""
        if event is not None:
            self._to(event.position().y())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drags the handle."""
        if event is not None and event.buttons():
            self._to(event.position().y())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows move it by a fortieth."""
        step = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1}.get(Qt.Key(event.key())) if event is not None else None
        if step is None:
            super().keyPressEvent(event)
        else:
            self.moved.emit(min(max(self._now + step * self._most / 40.0, 0.0), self._most))
