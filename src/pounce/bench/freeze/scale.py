"""The scale of times under a picture of the heat: nine bands, or what is set and what is liquid at one moment."""

from dataclasses import dataclass
from typing import Literal

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from pounce.base.units import plain
from pounce.bench.look.tokens import colour, font
from pounce.freeze.bands import BANDS, LIQUID, SET, tones
from pounce.solid.mesh import Floats

Shown = Literal["sets", "fills"]
BAND_PX, BAND_HIGH = 34.0, 13.0


@dataclass(frozen=True)
class Telling:
    """What is painted: when it sets or when it fills, the last time on the scale, and the moment that is looked at
    (None: all of it).
    """

    shown: Shown
    most_s: float
    at_s: float | None = None


def colours() -> Floats:
    """(9, 3) uint8 of the bands."""
    return tones() * 255.0


def scale(painter: QPainter, at: QPointF, telling: Telling) -> None:
    """Nine bands with their times; of one moment what is set and what is liquid."""
    sets = telling.shown == "sets"
    painter.setFont(font("button"))
    painter.setPen(colour("ink"))
    if telling.at_s is not None:
        words = ("set", "still liquid") if sets else ("still empty", "filled")
        for k, (tone, text) in enumerate(zip((SET, LIQUID), words, strict=True)):
            box = QRectF(at.x() + 120.0 * k, at.y() + 6.0, BAND_HIGH, BAND_HIGH)
            painter.setBrush(QColor(*tone))
            painter.setPen(QPen(colour("ink"), 1.0))
            painter.drawRect(box)
            painter.drawText(QRectF(box.right() + 6.0, box.top() - 3.0, 100.0, 20.0), 0, text)
        return
    words = ("sets first", "sets last") if sets else ("fills first", "fills last")
    whole = BAND_PX * BANDS
    painter.drawText(QRectF(at.x(), at.y() - 19.0, whole, 17.0), Qt.AlignmentFlag.AlignLeft, words[0])
    painter.drawText(QRectF(at.x(), at.y() - 19.0, whole, 17.0), Qt.AlignmentFlag.AlignRight, words[1])
    painter.setFont(font("dimension"))
    for k, tone in enumerate(colours().astype(int).tolist()):
        box = QRectF(at.x() + BAND_PX * k, at.y(), BAND_PX, BAND_HIGH)
        painter.setPen(QPen(colour("ink"), 1.0))
        painter.setBrush(QColor(*tone))
        painter.drawRect(box)
    digits = 0 if telling.most_s >= 9.0 else 1
    for k in range(BANDS + 1):
        text = plain(telling.most_s * k / BANDS, digits) + ("\u00a0s" if k == BANDS else "")
        box = QRectF(at.x() + BAND_PX * k - 22.0, at.y() + BAND_HIGH + 2.0, 44.0, 16.0)
        painter.setPen(colour("ink"))
        painter.drawText(box, Qt.AlignmentFlag.AlignHCenter, text)
