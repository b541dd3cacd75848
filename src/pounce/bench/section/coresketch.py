"""Cores in the section: the mould's hollow, the metal round the core, the core hatched and dotted, its vent, and its
sizes.
"""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPen, QTransform

from pounce.bench.look.tokens import colour, font
from pounce.bench.section.bands import loops_path
from pounce.parting.insection import Cut2D

SLASH_PX = 6.0


def paint_mould(painter: QPainter, cut: Cut2D, frame: QTransform) -> None:
    """What the pattern with its prints leaves in the sand: where neither metal nor core is, it is the clearance."""
    painter.setPen(QPen(colour("ink"), 1.2))
    painter.setBrush(colour("field"))
    painter.drawPath(frame.map(loops_path(cut.mould)))


def hatched(painter: QPainter, path: QPainterPath) -> None:
    """Core sand: its colour, and always slashes."""
    painter.save()
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(colour("core"))
    painter.drawPath(path)
    painter.setClipPath(path)
    painter.setPen(QPen(colour("sandDot"), 1.0))
    box = path.boundingRect()
    x = box.left() - box.height()
    while x < box.right():
        painter.drawLine(QPointF(x, box.bottom()), QPointF(x + box.height(), box.top()))
        x += SLASH_PX * 1.4142
    painter.restore()
    painter.setPen(QPen(colour("ink"), 1.4))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)


def paint_cores(painter: QPainter, cut: Cut2D, frame: QTransform) -> None:
    """Cores: sand colour with slashes, always hatched, and the vent through them."""
    for loops in cut.cores:
        hatched(painter, frame.map(loops_path(loops)))
    for ax, ay, bx, by, wide in cut.vents:
        a, b = frame.map(QPointF(float(ax), float(ay))), frame.map(QPointF(float(bx), float(by)))
        size = max(float(wide) * abs(frame.m11()), 2.0)
        painter.setPen(QPen(colour("ink"), size + 1.6, cap=Qt.PenCapStyle.FlatCap))
        painter.drawLine(a, b)
        painter.setPen(QPen(colour("field"), size, cap=Qt.PenCapStyle.FlatCap))
        painter.drawLine(a, b)


def label_cores(painter: QPainter, cut: Cut2D, frame: QTransform, area: QRectF, box: QRectF) -> None:
    """Names of prints, vent and clearance on straight leaders beside the mould."""
    painter.setFont(font("button"))
    metrics = QFontMetricsF(painter.font())
    places = sorted(((words, frame.map(QPointF(x, y))) for words, x, y in cut.core_labels), key=lambda p: p[1].y())
    room = area.right() - box.right() - 40.0
    if room < 80.0:
        return
    y = 4.0
    for nth, (words, spot) in enumerate(places):
        text = metrics.elidedText(words, Qt.TextElideMode.ElideRight, room)
        y = max(y + 22.0, min(spot.y(), area.height() - 20.0 - 22.0 * (len(places) - 1 - nth)))
        at = QPointF(box.right() + 24.0, y)
        painter.setPen(QPen(colour("ink"), 1))
        painter.drawLine(spot, at)
        painter.setBrush(colour("field"))
        painter.drawEllipse(spot, 2.4, 2.4)
        back = QRectF(at.x(), at.y() - 9, metrics.horizontalAdvance(text) + 8, 18)
        painter.fillRect(back, colour("sandWash"))
        painter.setPen(colour("ink"))
        painter.drawText(back, Qt.AlignmentFlag.AlignCenter, text)
