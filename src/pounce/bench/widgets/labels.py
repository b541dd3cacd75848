"""What is written on the bench picture: tags on leaders, legend chips, dimensions, the flask pictogram, what was
measured.
"""

import itertools
from dataclasses import dataclass
from typing import Literal

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen, QPolygonF

from pounce.bench.freeze.scale import Telling, scale
from pounce.bench.look.marks import DRAW_MARKS, added_mark, draw_mark, ring
from pounce.bench.look.tokens import colour, font
from pounce.bench.view3d.camera import Camera

HEAD = 66
FOOT = 50
# Where a scale of times begins.
RING_PX = 13.0
SCALE_PX, SCALE_UP_PX, SCALE_ROOM = 34.0, 44.0, 72.0


@dataclass(frozen=True)
class Tag:
    """A label on a leader: ``mark``, text, the point it speaks of, its region, and the ring about the point: dashed
    where it wants something, whole where it is well, none ("").
    """

    text: str
    at: tuple[float, float, float]
    mark: str = ""
    nth: int | None = None
    region: int = -1
    ring: Literal["", "dashed", "whole"] = ""


@dataclass(frozen=True)
class Chip:
    """A legend chip: mark, words, bold figure."""

    mark: str
    text: str
    figure: str = ""


@dataclass(frozen=True)
class Measure:
    """A dimension line between two points with its figure."""

    start: tuple[float, float, float]
    end: tuple[float, float, float]
    text: str
    away: tuple[float, float, float]


class Labels:
    """Holds what is written and paints it over a picture ``wide`` x ``high``, seen by ``camera``."""

    def __init__(self) -> None:
        self.tags: tuple[Tag, ...] = ()
        self.chips: tuple[Chip, ...] = ()
        self.measures: tuple[Measure, ...] = ()
        self.flask = False
        self.remark = ""
        self.scale: Telling | None = None
        self.under_flask = "draws up"
        self.lean_deg = 0.0
        self.legend_end = 0.0
        self.wide, self.high = 100.0, 100.0
        self.camera = Camera()
        self.anchors: dict[int, tuple[float, float, float]] = {}
        self.lit = -1
        self.marks: tuple[tuple[float, float, float], ...] = ()
        self.said = ""
        self.pointer: QPointF | None = None
        self.handle: tuple[float, float, float] | None = None
        self.handle_px = 0.0

    def on_picture(self, painter: QPainter, area: QRectF) -> None:
        """Dimensions, tags and what was measured; the painter's origin is the picture's corner."""
        for measure in self.measures:
            self._measure(painter, measure, area)
        self._paint_tags(painter, area)
        self._paint_measured(painter, area)
        self._paint_handle(painter, area)

    def below(self, painter: QPainter) -> None:
        """Legend, pictogram and the read-out by the pointer."""
        self._legend(painter)
        if self.scale is not None:
            scale(painter, QPointF(SCALE_PX, self.high - SCALE_UP_PX), self.scale)
        if self.flask:
            self._pictogram(painter)
        if self.said and self.pointer is not None:
            self._readout(painter, self.said, self.pointer)

    def _paint_measured(self, painter: QPainter, area: QRectF) -> None:
        """Points set by the measuring hand, joined by an ink line."""
        if not self.marks:
            return
        spots = self.camera.project(np.array(self.marks), area.width(), area.height())[:, :2]
        painter.setPen(QPen(colour("ink"), 1.6))
        for one, two in itertools.pairwise(spots):
            painter.drawLine(QPointF(*one), QPointF(*two))
        painter.setBrush(colour("field"))
        for spot in spots:
            painter.drawEllipse(QPointF(*spot), 3.6, 3.6)

    def _paint_handle(self, painter: QPainter, area: QRectF) -> None:
        """The brass handle of the joint: it slides up and down along the draw."""
        if self.handle is None:
            return
        x, y, _ = self.camera.project(np.array([self.handle]), area.width(), area.height())[0]
        painter.setPen(QPen(colour("brassInk"), 2))
        painter.drawLine(QPointF(x, y - 18), QPointF(x, y + 18))
        y = y + self.handle_px
        painter.setPen(QPen(colour("ink"), 1.2))
        painter.setBrush(colour("brass"))
        points = [(-11, 0), (-5, -7), (9, -7), (9, 7), (-5, 7)]
        painter.drawPolygon(QPolygonF([QPointF(x + dx, y + dy) for dx, dy in points]))

    def _readout(self, painter: QPainter, words: str, at: QPointF) -> None:
        painter.setFont(font("secondary"))
        width = QFontMetricsF(painter.font()).horizontalAdvance(words) + 16
        x = min(at.x() + 16.0, self.wide - width - 8.0)
        box = QRectF(x, min(at.y() + 18.0, self.high - 34.0), width, 26)
        painter.setPen(QPen(colour("outline"), 1))
        painter.setBrush(colour("panel"))
        painter.drawRoundedRect(box, 3, 3)
        painter.setPen(colour("ink"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)

    def _legend(self, painter: QPainter) -> None:
        x, y = 16.0, self.high - 42.0
        for chip in self.chips:
            painter.setFont(font("secondary"))
            words = QFontMetricsF(painter.font()).horizontalAdvance(chip.text)
            painter.setFont(font("figure"))
            figure = QFontMetricsF(painter.font()).horizontalAdvance(chip.figure) if chip.figure else 0.0
            width = 34 + words + (8 + figure if chip.figure else 0) + 8
            box = QRectF(x, y, width, 30)
            painter.setPen(QPen(colour("hairline"), 1))
            painter.setBrush(colour("panel"))
            painter.drawRoundedRect(box, 3, 3)
            self._sign(painter, chip.mark, x + 8, y + 7.5)
            painter.setPen(colour("ink"))
            painter.setFont(font("secondary"))
            painter.drawText(QRectF(x + 32, y, words + 4, 30), Qt.AlignmentFlag.AlignVCenter, chip.text)
            if chip.figure:
                painter.setFont(font("figure"))
                painter.drawText(QRectF(x + 38 + words, y, figure + 4, 30), Qt.AlignmentFlag.AlignVCenter, chip.figure)
            x += width + 7
        self.legend_end = x
        if self.remark:
            painter.setFont(font("secondary", italic=True))
            painter.setPen(colour("muted"))
            painter.drawText(QRectF(x + 12, y, 300, 30), Qt.AlignmentFlag.AlignVCenter, self.remark)

    def _sign(self, painter: QPainter, mark: str, x: float, y: float) -> None:
        if mark in DRAW_MARKS:
            draw_mark(painter, mark, x, y)
        elif mark in ("open", "half", "filled"):
            ring(painter, mark, x, y)
        elif mark in ("steelFlat", "timber", "sandWash", "foam", "thin"):
            _boxed(painter, x, y, colour({"foam": "panel", "thin": "steelDeep"}.get(mark, mark)))
        elif mark == "grain":
            painter.setPen(QPen(colour("brassInk"), 2.0))
            painter.drawLine(QPointF(x, y + 7), QPointF(x + 17, y + 7))
            for tip, way in ((x, 1.0), (x + 17, -1.0)):
                for hand in (-3.0, 3.0):
                    painter.drawLine(QPointF(tip, y + 7), QPointF(tip + 5.0 * way, y + 7 + hand))
        elif mark in ("core", "print"):
            _core_sign(painter, mark, x, y)
        elif mark == "filler":  # four tones from thin to thick
            for k, tone in enumerate(("fillerThin", "timber", "fillerThick", "fillerMost")):
                painter.fillRect(QRectF(x + 4.25 * k, y + 1, 4.25, 12), colour(tone))
            _boxed(painter, x, y, None)
        elif mark in ("added", "pointed"):
            added_mark(painter, x, y, mark == "pointed")
        elif mark == "dash":
            painter.setPen(QPen(colour("ink"), 2.2, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(x, y + 7), QPointF(x + 18, y + 7))

    def _measure(self, painter: QPainter, measure: Measure, area: QRectF) -> None:
        """A dimension line beside the part, with slash ticks."""
        points = np.array([measure.start, measure.end])
        k = 26.0 * 2.0 * self.camera.half_mm / area.height()
        moved = points + np.array(measure.away) * k
        a, b = self.camera.project(moved, area.width(), area.height())[:, :2]
        bare = self.camera.project(points, area.width(), area.height())[:, :2]
        painter.setPen(QPen(colour("ink"), 1))
        painter.drawLine(QPointF(*a), QPointF(*b))
        for end, foot in zip((a, b), bare, strict=True):
            painter.drawLine(QPointF(*(foot + (end - foot) * 0.25)), QPointF(*(end + (end - foot) * 0.2)))
            painter.drawLine(QPointF(end[0] - 4, end[1] + 4), QPointF(end[0] + 4, end[1] - 4))
        middle = (a + b) / 2.0
        painter.setFont(font("figure"))
        width = QFontMetricsF(painter.font()).horizontalAdvance(measure.text)
        box = QRectF(middle[0] - width / 2 - 4, middle[1] - 11, width + 8, 22)
        painter.fillRect(box, colour("paper"))
        painter.setPen(colour("ink"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, measure.text)

    def _paint_tags(self, painter: QPainter, area: QRectF) -> None:
        """Labels in two columns beside the part, tied to their places by straight leaders that do not cross."""
        if not self.tags:
            return
        spots = self.camera.project(
            np.array([self.anchors.get(tag.region, tag.at) for tag in self.tags]), area.width(), area.height()
        )
        painter.setFont(font("secondary"))
        metrics = QFontMetricsF(painter.font())
        middle = float(np.median(spots[:, 0])) if len(spots) > 2 else area.width() / 2
        for left in (True, False):
            mine = [i for i in range(len(self.tags)) if (spots[i, 0] <= middle) == left]
            mine.sort(key=lambda i: float(spots[i, 1]))
            y = 8.0
            bottom = area.height() - (SCALE_ROOM if self.scale is not None else FOOT) - 34.0 * len(mine)
            for i in mine:
                tag = self.tags[i]
                text = f"{tag.nth}   {tag.text}" if tag.nth else tag.text
                width = metrics.horizontalAdvance(text) + (36 if tag.mark else 16)
                y = max(y, min(float(spots[i, 1]) - 13 - (18 if left else -18), bottom))
                bottom += 34.0
                x = 16.0 if left else area.width() - width - 16.0
                if not left and y > area.height() - 178 and self.flask:
                    x -= 92.0
                box = QRectF(x, y, width, 26)
                self._tag(painter, tag, text, box, QPointF(float(spots[i, 0]), float(spots[i, 1])), left)
                y += 34.0

    def _tag(self, painter: QPainter, tag: Tag, text: str, box: QRectF, spot: QPointF, left: bool) -> None:
        lit = tag.region >= 0 and tag.region == self.lit
        painter.setPen(QPen(colour("ink"), 1.6 if lit else 1))
        painter.drawLine(QPointF(box.right() if left else box.left(), box.center().y()), spot)
        if tag.ring:
            self._about(painter, spot, tag.ring == "dashed")
        painter.setPen(QPen(colour("ink"), 1))
        painter.setBrush(colour("field"))
        painter.drawEllipse(spot, 2.8, 2.8)
        painter.setPen(QPen(colour("ink") if lit else colour("outline"), 2 if lit else 1))
        painter.setBrush(colour("panel"))
        painter.drawRoundedRect(box, 3, 3)
        inset = 8.0
        if tag.mark:
            self._sign(painter, tag.mark, box.x() + 8, box.y() + 5.5)
            inset = 30.0
        painter.setPen(colour("ink"))
        painter.drawText(box.adjusted(inset, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, text)

    def _about(self, painter: QPainter, spot: QPointF, dashed: bool) -> None:
        """A ring about a place, light under dark, so that it stands on any tone."""
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(colour("field"), 4.4))
        painter.drawEllipse(spot, RING_PX, RING_PX)
        pen = QPen(colour("ink"), 2.0)
        if dashed:
            pen.setDashPattern([2.0, 1.6])
        painter.setPen(pen)
        painter.drawEllipse(spot, RING_PX, RING_PX)

    def pictogram_box(self) -> QRectF:
        """Where the flask pictogram stands; above the legend where the window is too narrow for both."""
        y = self.high - (104.0 if self.legend_end < self.wide - 110 else 150.0)
        return QRectF(self.wide - 106.0, y - 6.0, 94.0, 100.0)

    def _pictogram(self, painter: QPainter) -> None:
        """A flask in section with an arrow along the draw, leaning while the hand tilts it."""
        box = self.pictogram_box()
        painter.save()
        painter.translate(box.x() + 14.0, box.y() + 6.0)
        painter.save()
        painter.translate(33, 22)
        painter.rotate(self.lean_deg)
        painter.setPen(QPen(colour("verdigris"), 2.2))
        painter.drawLine(QPointF(0, -2), QPointF(0, -22))
        painter.drawPolyline(QPolygonF([QPointF(-7, -14), QPointF(0, -22), QPointF(7, -14)]))
        painter.restore()
        painter.setPen(QPen(colour("ink"), 1.2))
        painter.setBrush(colour("sandWash"))
        painter.drawRect(QRectF(6, 26, 54, 16))
        painter.drawRect(QRectF(6, 52, 54, 16))
        painter.setBrush(colour("steelFlat"))
        painter.drawPolygon(QPolygonF([QPointF(18, 42), QPointF(24, 32), QPointF(42, 32), QPointF(48, 42)]))
        painter.drawPolygon(QPolygonF([QPointF(18, 52), QPointF(24, 62), QPointF(42, 62), QPointF(48, 52)]))
        painter.setPen(QPen(colour("ink"), 1.4, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(0, 47), QPointF(66, 47))
        painter.setPen(colour("ink"))
        painter.setFont(font("secondary"))
        painter.drawText(QRectF(-14, 72, 94, 20), Qt.AlignmentFlag.AlignCenter, self.under_flask)
        painter.restore()


def _boxed(painter: QPainter, x: float, y: float, ground: QColor | None) -> None:
    """The little box of the legend, filled or as a frame."""
    painter.setPen(QPen(colour("ink"), 1))
    if ground is None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
    else:
        painter.setBrush(ground)
    painter.drawRect(QRectF(x, y + 1, 17, 12))


def _core_sign(painter: QPainter, mark: str, x: float, y: float) -> None:
    """Core sand dotted, a print hatched."""
    painter.fillRect(QRectF(x, y + 1, 17, 12), colour("core" if mark == "core" else "corePrint"))
    painter.setPen(QPen(colour("sandDot"), 1.2))
    if mark == "print":
        for k in range(4):
            end = x + 4.5 * k + 8.0
            over = max(0.0, end - x - 17.0)
            painter.drawLine(QPointF(x + 4.5 * k + 1.0, y + 13), QPointF(min(end, x + 17.0), y + 1 + over))
    else:
        for dx, dy in ((3.5, 4.0), (8.5, 9.0), (13.0, 4.5), (5.5, 10.0), (11.0, 6.5)):
            painter.drawPoint(QPointF(x + dx, y + dy))
    _boxed(painter, x, y, None)
