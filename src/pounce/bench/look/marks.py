"""The marks: cup, box and dovetail for the draw; open, half and filled rings for everything else."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QBrush, QIcon, QPainter, QPainterPath, QPen, QPixmap, QPolygonF
from PyQt6.QtWidgets import QWidget

from pounce.bench.look.tokens import colour

DRAW_MARKS = ("clean", "tight", "locked")


def draw_mark(painter: QPainter, mark: str, x: float, y: float, size: float = 15.0) -> None:
    """A draw mark in the square at x, y: a cup, a hatched box or a cross-hatched dovetail."""
    inset = size * 0.2
    top, foot = {"clean": (0.0, inset), "tight": (inset * 0.5, inset * 0.5), "locked": (inset, 0.0)}[mark]
    shape = QPolygonF(
        [
            QPointF(x + top, y),
            QPointF(x + size - top, y),
            QPointF(x + size - foot, y + size),
            QPointF(x + foot, y + size),
        ]
    )
    fill, line = {
        "clean": ("verdigrisWash", "verdigrisInk"),
        "tight": ("ochre", "ochreInk"),
        "locked": ("damson", "damsonDeep"),
    }[mark]
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    path = QPainterPath()
    path.addPolygon(shape)
    path.closeSubpath()
    painter.fillPath(path, colour(fill))
    painter.setClipPath(path)
    if mark != "clean":
        painter.setPen(QPen(colour("ochreInk" if mark == "tight" else "panel", 0.8 if mark == "tight" else 0.6), 1.0))
        for k in range(-4, 9):
            step = k * size / 4.0
            painter.drawLine(QPointF(x + step, y + size), QPointF(x + step + size, y))
            if mark == "locked":
                painter.drawLine(QPointF(x + step, y), QPointF(x + step + size, y + size))
    painter.setClipping(False)
    painter.setPen(QPen(colour(line), 1.3))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)
    painter.restore()


def ring(painter: QPainter, state: str, x: float, y: float, size: float = 14.0) -> None:
    """A ring in the square at x, y: ``open``, ``half`` or ``filled``."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    box = QRectF(x + 1, y + 1, size - 2, size - 2)
    if state == "filled":
        painter.setPen(QPen(colour("verdigris"), 2))
        painter.setBrush(QBrush(colour("verdigris")))
        painter.drawEllipse(box)
    else:
        painter.setPen(QPen(colour("ochreInk" if state == "half" else "outline"), 2))
        painter.setBrush(QBrush(colour("panel")))
        painter.drawEllipse(box)
        if state == "half":
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QBrush(colour("ochre")))
            painter.drawPie(box.adjusted(1, 1, -1, -1), 90 * 16, 180 * 16)
            painter.setPen(QPen(colour("ochreInk"), 1.4))
            painter.drawLine(QPointF(x + size / 2, y + 2), QPointF(x + size / 2, y + size - 2))
    painter.restore()


def added_mark(painter: QPainter, x: float, y: float, pointed: bool = False, size: float = 15.0) -> None:
    """Added metal in the square at x, y: chalk with upright pencil strokes, ink where it is pointed at."""
    painter.save()
    box = QRectF(x, y, size, size)
    painter.setPen(QPen(colour("ink"), 1.2))
    painter.setBrush(colour("ink" if pointed else "panel"))
    painter.drawRect(box)
    painter.setPen(QPen(colour("panel" if pointed else "ink", 0.8), 1.0))
    for k in range(1, 5):
        at = round(x + k * size / 5.0) + 0.5
        painter.drawLine(QPointF(at, y + 2), QPointF(at, y + size - 2))
    painter.restore()


class Mark(QWidget):
    """A mark as a small widget; its name is said to screen readers."""

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._name = name
        self.setFixedSize(18, 18)
        self.setAccessibleName(name)

    def paintEvent(self, _event: object) -> None:
        """Paints the mark."""
        painter = QPainter(self)
        if self._name in DRAW_MARKS:
            draw_mark(painter, self._name, 1.5, 1.5)
        elif self._name == "added":
            added_mark(painter, 1.5, 1.5)
        else:
            ring(painter, self._name, 2, 2)
        painter.end()


def arrow_icon(back: bool, enabled_name: str = "ink") -> QIcon:
    """The undo or redo arrow."""
    icon = QIcon()
    for mode, name in ((QIcon.Mode.Normal, enabled_name), (QIcon.Mode.Disabled, "outline")):
        picture = QPixmap(QSize(40, 40))
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not back:
            painter.translate(40, 0)
            painter.scale(-1, 1)
        painter.setPen(QPen(colour(name), 3.4, cap=Qt.PenCapStyle.RoundCap, join=Qt.PenJoinStyle.RoundJoin))
        path = QPainterPath(QPointF(6, 15))
        path.lineTo(25, 15)
        path.cubicTo(37, 15, 37, 31, 25, 31)
        path.lineTo(18, 31)
        painter.drawPath(path)
        painter.drawPolyline(QPolygonF([QPointF(14, 7), QPointF(6, 15), QPointF(14, 23)]))
        painter.end()
        icon.addPixmap(picture, mode)
    return icon
