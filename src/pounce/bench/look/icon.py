"""The icon: a pattern half in its flask, drawn with the house's own marks."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPixmap, QPolygonF

from pounce.bench.look.tokens import colour


def window_icon(size: int = 128) -> QPixmap:
    """The icon at this size in pixels."""
    picture = QPixmap(size, size)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.scale(size / 64.0, size / 64.0)
    painter.setPen(QPen(colour("ink"), 2.4))
    painter.setBrush(colour("sandWash"))
    painter.drawRoundedRect(QRectF(6, 24, 52, 30), 3, 3)
    painter.setBrush(colour("steelFlat"))
    painter.drawPolygon(QPolygonF([QPointF(14, 24), QPointF(50, 24), QPointF(44, 44), QPointF(20, 44)]))
    painter.setPen(QPen(colour("verdigris"), 4, cap=Qt.PenCapStyle.RoundCap))
    painter.drawLine(QPointF(32, 18), QPointF(32, 6))
    painter.drawPolyline(QPolygonF([QPointF(26, 11), QPointF(32, 5), QPointF(38, 11)]))
    painter.end()
    return picture
