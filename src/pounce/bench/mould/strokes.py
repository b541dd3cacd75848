"""Strokes that plan and section of the mould share: timber of the flask, dimensions, labels on leaders."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPen, QTransform

from pounce.bench.look.tokens import colour, font
from pounce.bench.section.bands import loops_path
from pounce.bench.section.coresketch import hatched
from pounce.solid.mesh import Floats

GRAIN_PX, TICK_PX = 5.0, 3.5
FILLS = {
    "casting": "steelFlat",
    "gating": "verdigrisWash",
    "runner": "verdigrisWash",
    "gate": "verdigrisWash",
    "well": "verdigrisWash",
}

# The sheet of a pail is drawn so thick, px.
CAN_PX = 5.0


def sheet(painter: QPainter, path: QPainterPath) -> None:
    """The steel sheet of a pail, cut through."""
    painter.setPen(QPen(colour("ink"), 1.2))
    painter.setBrush(colour("steelDeep"))
    painter.drawPath(path)


def timber(painter: QPainter, path: QPainterPath) -> None:
    """Wood of a flask, its grain in fine slanted strokes."""
    painter.save()
    painter.setPen(QPen(colour("ink"), 1.2))
    painter.setBrush(colour("timber"))
    painter.drawPath(path)
    painter.setClipPath(path)
    painter.setPen(QPen(colour("sand"), 1.0))
    box = path.boundingRect()
    x = box.left() - box.height()
    while x < box.right():
        painter.drawLine(QPointF(x, box.bottom()), QPointF(x + 0.35 * box.height(), box.top()))
        x += GRAIN_PX
    painter.restore()
    painter.setPen(QPen(colour("ink"), 1.2))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)


def body(painter: QPainter, frame: QTransform, rings: tuple[Floats, ...], kind: str, wide: float = 1.3) -> QPainterPath:
    """An outline of metal, gating or core in its own fill; returns its path."""
    path = frame.map(loops_path(rings))
    if kind in ("core", "print"):
        hatched(painter, path)
        return path
    painter.setPen(QPen(colour("ink"), wide))
    painter.setBrush(colour(FILLS.get(kind, "panel")))
    painter.drawPath(path)
    return path


def measure(painter: QPainter, a: QPointF, b: QPointF, text: str, tone: str = "ink", ground: str = "sandWash") -> None:
    """A dimension from a to b, its figure in the middle on a patch of the ground."""
    painter.setPen(QPen(colour(tone), 1.0 if tone == "ink" else 2.2))
    painter.drawLine(a, b)
    along = b - a
    size = max((along.x() ** 2 + along.y() ** 2) ** 0.5, 1e-9)
    side = QPointF(-along.y() / size, along.x() / size) * 4.0
    for end in (a, b):
        painter.drawLine(end - side, end + side)
    painter.setFont(font("dimension"))
    width = QFontMetricsF(painter.font()).horizontalAdvance(text)
    middle = (a + b) / 2.0
    if size < width + 14.0 and abs(along.x()) >= abs(along.y()):  # no room on the line: over it
        middle -= QPointF(0.0, 12.0)
    box = QRectF(middle.x() - width / 2 - 3, middle.y() - 8.5, width + 6, 17)
    painter.fillRect(box, colour(ground))
    painter.setPen(colour("ochreInk" if tone == "ochre" else tone))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


def outside(painter: QPainter, a: QPointF, b: QPointF, text: str, ground: str) -> None:
    """A dimension beside a thing, with slanted ends, its figure in the middle."""
    painter.setPen(QPen(colour("ink"), 1))
    painter.drawLine(a, b)
    for end in (a, b):
        painter.drawLine(end + QPointF(-TICK_PX, TICK_PX), end + QPointF(TICK_PX, -TICK_PX))
    painter.setFont(font("dimension"))
    width = QFontMetricsF(painter.font()).horizontalAdvance(text)
    middle = (a + b) / 2.0
    box = QRectF(middle.x() - width / 2 - 4, middle.y() - 9, width + 8, 18)
    painter.fillRect(box, colour(ground))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


def upright(painter: QPainter, x: float, top: float, bottom: float, at: float, text: str, ground: str) -> None:
    """The same standing, its figure ``at`` a height that is clear of labels."""
    painter.setPen(QPen(colour("ink"), 1))
    painter.drawLine(QPointF(x, top), QPointF(x, bottom))
    for y in (top, bottom):
        painter.drawLine(QPointF(x - TICK_PX, y + TICK_PX), QPointF(x + TICK_PX, y - TICK_PX))
    painter.setFont(font("dimension"))
    width = QFontMetricsF(painter.font()).horizontalAdvance(text)
    box = QRectF(x - width / 2 - 4, at - 9, width + 8, 18)
    painter.fillRect(box, colour(ground))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


def tag(painter: QPainter, text: str, at: QPointF, spot: QPointF, side: float) -> None:
    """A label whose near end stands at ``at``, left (-1) or right (1) of the flask, on a leader to its spot."""
    painter.setFont(font("button"))
    width = QFontMetricsF(painter.font()).horizontalAdvance(text) + 14.0
    left = at.x() if side > 0.0 else at.x() - width
    box = QRectF(left, at.y() - 12.0, width, 24.0)
    painter.setPen(QPen(colour("ink"), 1.0))
    painter.drawLine(at, spot)
    painter.setBrush(colour("field"))
    painter.drawEllipse(spot, 2.8, 2.8)
    painter.setPen(QPen(colour("outline"), 1.0))
    painter.setBrush(colour("panel"))
    painter.drawRoundedRect(box, 3, 3)
    painter.setPen(colour("ink"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
