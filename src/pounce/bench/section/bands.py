"""Added metal in the section: chalk bands with upright pencil strokes, the part as wanted dashed, labels on leaders."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPen, QPolygonF, QTransform

from pounce.bench.look.tokens import colour, font
from pounce.parting.insection import Cut2D
from pounce.solid.mesh import Floats

STROKE_PX = 4.0


def loops_path(loops: tuple[Floats, ...]) -> QPainterPath:
    """Loops (n, 2) as one path, holes by the even-odd rule."""
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.OddEvenFill)
    for loop in loops:
        path.addPolygon(QPolygonF([QPointF(float(x), float(y)) for x, y in loop]))
    return path


def paint_bands(painter: QPainter, cut: Cut2D, frame: QTransform, lit: int) -> None:
    """What each line adds; the one that is lit in ink."""
    for line, rings in cut.bands:
        path = frame.map(loops_path(rings))
        painter.save()
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour("ink" if line == lit else "panel"))
        painter.drawPath(path)
        painter.setClipPath(path)
        painter.setPen(QPen(colour("panel" if line == lit else "ink", 0.75), 1.0))
        box = path.boundingRect()
        x = STROKE_PX * round(box.left() / STROKE_PX)
        while x < box.right():
            painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))
            x += STROKE_PX
        painter.restore()
        painter.setPen(QPen(colour("ink"), 1.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(path)
    if cut.wanted:
        pen = QPen(colour("ink"), 1.1)
        pen.setDashPattern([4, 3])
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(frame.map(loops_path(cut.wanted)))


def label_bands(painter: QPainter, cut: Cut2D, frame: QTransform, area: QRectF, box: QRectF, lit: int) -> None:
    """Names of the lines that the cut meets, on straight leaders beside the part, and what the dash means."""
    painter.setFont(font("button"))
    metrics = QFontMetricsF(painter.font())
    joint = frame.map(QPointF(0.0, cut.joint)).y()
    places = sorted(
        ((words, frame.map(QPointF(x, y)), line) for words, x, y, line in cut.band_labels), key=lambda p: p[1].y()
    )
    room = area.right() - box.right() - 40.0
    y = -6.0
    for nth, (words, spot, line) in enumerate(places):
        if room < 70.0:
            break
        text = metrics.elidedText(words, Qt.TextElideMode.ElideRight, room)
        width = metrics.horizontalAdvance(text)
        # as near to its place as those under it leave room for
        y = max(y + 22.0, min(spot.y(), area.height() - 42.0 - 22.0 * (len(places) - 1 - nth)))
        if abs(y - joint) < 13.0 and nth == len(places) - 1:
            y = joint + 16.0
        at = QPointF(box.right() + 24.0, y)
        painter.setPen(QPen(colour("ink"), 1))
        painter.drawLine(spot, at)
        painter.setBrush(colour("field"))
        painter.drawEllipse(spot, 2.4, 2.4)
        back = QRectF(at.x(), at.y() - 9, width + 8, 18)
        painter.fillRect(back, colour("ink" if line == lit else "sandWash"))
        painter.setPen(colour("panel" if line == lit else "ink"))
        painter.drawText(back, Qt.AlignmentFlag.AlignCenter, text)
    _legend(painter, area)


def _legend(painter: QPainter, area: QRectF) -> None:
    painter.setFont(font("dimension"))
    y, x = area.height() - 20.0, area.right() - 150.0
    painter.fillRect(QRectF(x - 6, y - 10, 146, 20), colour("sandWash"))
    pen = QPen(colour("ink"), 1.1)
    pen.setDashPattern([4, 3])
    painter.setPen(pen)
    painter.drawLine(QPointF(x, y), QPointF(x + 28, y))
    painter.setPen(colour("ink"))
    painter.drawText(QRectF(x + 34, y - 9, 110, 18), Qt.AlignmentFlag.AlignVCenter, "the part as wanted")


def band_at(cut: Cut2D, point: QPointF) -> int:
    """The line whose metal lies under the point, or -1."""
    for line, rings in reversed(cut.bands):
        if loops_path(rings).contains(point):
            return line
    return -1
