"""The sand section strip: plan with the cut, brass slider, and the cut as a craftsman sketches it."""

from dataclasses import replace

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QFontMetricsF,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QPixmap,
    QPolygonF,
    QTransform,
)
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from pounce.base.units import from_mm, length, plain
from pounce.bench.cuts import Cut2D, CutAsked
from pounce.bench.look.tokens import SECTION, colour, font
from pounce.bench.widgets.parts import BrassSlider, Panel, button, label
from pounce.parting.values import State
from pounce.solid.mesh import Floats

LEFT = 150


class Plan(QWidget):
    """The part from above with the line where it is cut."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(74)
        self._cut: Cut2D | None = None

    def show_cut(self, cut: Cut2D | None) -> None:
        """Another cut."""
        self._cut = cut
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Outline from above, brass cut line."""
        cut = self._cut
        if cut is None or not cut.plan:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        wide, deep = cut.high[0] - cut.low[0], cut.across_high - cut.across_low
        k = min((self.width() - 16) / max(wide, 1e-9), (self.height() - 16) / max(deep, 1e-9))
        middle_x, middle_y = (cut.low[0] + cut.high[0]) / 2, (cut.across_low + cut.across_high) / 2
        frame = QTransform.fromTranslate(self.width() / 2, self.height() / 2).scale(k, k).translate(-middle_x, -middle_y)
        painter.setPen(QPen(colour("ink"), 1.2))
        painter.setBrush(colour("steelFlat"))
        painter.drawPath(frame.map(loops_path(cut.plan)))
        y = self.height() / 2 + (cut.offset - middle_y) * k
        painter.setPen(QPen(colour("brassInk"), 1.8, Qt.PenStyle.DashDotLine))
        painter.drawLine(QPointF(4, y), QPointF(self.width() - 4, y))
        painter.setPen(QPen(colour("brassInk"), 1.6))
        for x in (5.0, self.width() - 5.0):
            painter.drawPolyline(QPolygonF([QPointF(x - 3, y - 6), QPointF(x, y - 11), QPointF(x + 3, y - 6)]))
        painter.end()


def loops_path(loops: tuple[Floats, ...]) -> QPainterPath:
    """Loops (n, 2) as one path, holes by the even-odd rule."""
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.OddEvenFill)
    for loop in loops:
        path.addPolygon(QPolygonF([QPointF(float(x), float(y)) for x, y in loop]))
    return path


class Sketch(QWidget):
    """The cut itself: sand dotted round it, part flat grey, joint a bold dash, dimensions with slash ticks."""

    hovered = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setMouseTracking(True)
        self._cut: Cut2D | None = None
        self._sand: QPixmap | None = None
        self._unit, self._lit, self._mould = "mm", -1, True
        self._frame = QTransform()

    def show_cut(self, cut: Cut2D | None, unit: str, mould: bool) -> None:
        """Another cut; ``mould`` False shows the plain part without sand."""
        self._cut, self._unit, self._mould = cut, unit, mould
        self.update()

    def light(self, region: int) -> None:
        """Marks the stretches of one region."""
        if region != self._lit:
            self._lit = region
            self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paints the sketch."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._mould:
            self._paint_sand(painter)
        cut = self._cut
        if cut is None or not cut.loops:
            painter.setPen(colour("muted"))
            painter.setFont(font("secondary"))
            words = "The cut follows as soon as the draw is judged." if cut is None else "The cut meets no stuff here."
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, words)
            painter.end()
            return
        wide, high = cut.high[0] - cut.low[0], cut.high[1] - cut.low[1]
        k = min((self.width() - 210) / max(wide, 1e-9), (self.height() - 64) / max(high, 1e-9))
        middle = ((cut.low[0] + cut.high[0]) / 2, (cut.low[1] + cut.high[1]) / 2)
        self._frame = (
            QTransform.fromTranslate(self.width() / 2 + 16, self.height() / 2 - 8)
            .scale(k, -k)
            .translate(-middle[0], -middle[1])
        )
        path = self._frame.map(loops_path(cut.loops))
        painter.setPen(QPen(colour("ink"), 1.6))
        painter.setBrush(colour("steelFlat"))
        painter.drawPath(path)
        if self._mould:
            self._paint_marks(painter, cut)
            self._paint_joint(painter, cut)
        self._dimensions(painter, cut, path.boundingRect())
        painter.end()

    def _paint_sand(self, painter: QPainter) -> None:
        if self._sand is None or self._sand.size() != self.size():
            self._sand = _sand_picture(self.width(), self.height())
        painter.drawPixmap(0, 0, self._sand)

    def _paint_marks(self, painter: QPainter, cut: Cut2D) -> None:
        for state, name in ((State.TIGHT, "ochre"), (State.LOCKED, "damson")):
            for (start, end), region in zip(cut.marked[cut.state == state], cut.region[cut.state == state], strict=True):
                lit = self._lit >= 0 and region == self._lit
                painter.setPen(QPen(colour("ink" if lit else name), 6 if lit else 4, cap=Qt.PenCapStyle.RoundCap))
                painter.drawLine(self._frame.map(QPointF(*start)), self._frame.map(QPointF(*end)))

    def _paint_joint(self, painter: QPainter, cut: Cut2D) -> None:
        y = self._frame.map(QPointF(0.0, cut.joint)).y()
        pen = QPen(colour("ink"), 2.4)
        pen.setDashPattern([10 / 2.4, 5 / 2.4])
        painter.setPen(pen)
        painter.drawLine(QPointF(4, y), QPointF(self.width() - 4, y))
        painter.setFont(font("button"))
        painter.setPen(colour("ink"))
        for text, at in (("COPE", y - 22), ("DRAG", y + 6)):
            painter.drawText(QRectF(14, at, 60, 18), Qt.AlignmentFlag.AlignVCenter, text)

    def _dimensions(self, painter: QPainter, cut: Cut2D, box: QRectF) -> None:
        painter.setFont(font("dimension"))
        foot = min(box.bottom() + 16, self.height() - 12.0)
        self._across(painter, box.left(), box.right(), foot, box.width() / max(self._frame.m11(), 1e-12))
        x = box.left() - 18
        joint = self._frame.map(QPointF(0.0, cut.joint)).y()
        top, bottom = box.top(), box.bottom()
        spans = [(top, bottom)] if not self._mould or not top + 2 < joint < bottom - 2 else [(top, joint), (joint, bottom)]
        for low, high in spans:
            self._upright(painter, x, low, high, (high - low) / max(self._frame.m11(), 1e-12))

    def _figure(self, value: float) -> str:
        return plain(from_mm(value, self._unit), 3 if self._unit == "in" else 1)

    def _text(self, painter: QPainter, x: float, y: float, text: str) -> None:
        width = QFontMetricsF(painter.font()).horizontalAdvance(text)
        box = QRectF(x - width / 2 - 4, y - 9, width + 8, 18)
        painter.fillRect(box, colour("sandWash" if self._mould else "panel"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _across(self, painter: QPainter, left: float, right: float, y: float, value: float) -> None:
        painter.setPen(QPen(colour("ink"), 1))
        painter.drawLine(QPointF(left - 4, y), QPointF(right + 4, y))
        for x in (left, right):
            painter.drawLine(QPointF(x, y - 8), QPointF(x, y + 4))
            painter.drawLine(QPointF(x - 3.5, y + 3.5), QPointF(x + 3.5, y - 3.5))
        self._text(painter, (left + right) / 2, y, self._figure(value))

    def _upright(self, painter: QPainter, x: float, top: float, bottom: float, value: float) -> None:
        painter.setPen(QPen(colour("ink"), 1))
        painter.drawLine(QPointF(x, top), QPointF(x, bottom))
        for y in (top, bottom):
            painter.drawLine(QPointF(x - 4, y), QPointF(x + 12, y))
            painter.drawLine(QPointF(x - 3.5, y + 3.5), QPointF(x + 3.5, y - 3.5))
        self._text(painter, x - 22, (top + bottom) / 2, self._figure(value))

    def mouseMoveEvent(self, event: object) -> None:
        """Says which region lies under the pointer."""
        cut = self._cut
        back, fine = self._frame.inverted()
        if cut is None or not fine or not len(cut.marked):
            return
        point = back.map(event.position())  # type: ignore[attr-defined]
        middles = cut.marked.mean(axis=1)
        gap = np.hypot(middles[:, 0] - point.x(), middles[:, 1] - point.y())
        nearest = int(np.argmin(gap))
        near = gap[nearest] * self._frame.m11() < 14
        self.hovered.emit(int(cut.region[nearest]) if near else -1)

    def leaveEvent(self, event: object) -> None:
        """Nothing is under the pointer."""
        self.hovered.emit(-1)


def _sand_picture(width: int, height: int) -> QPixmap:
    """Sand with a ragged edge and one tone of dots, the same at every start."""
    picture = QPixmap(max(width, 1), max(height, 1))
    picture.fill(Qt.GlobalColor.transparent)
    noise = np.random.default_rng(11)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    step = 9
    top = [QPointF(x, 5 + 3 * noise.random()) for x in range(2, width, step)]
    right = [QPointF(width - 3 - 3 * noise.random(), y) for y in range(6, height - 4, step)]
    bottom = [QPointF(x, height - 4 - 3 * noise.random()) for x in range(width - 3, 0, -step)]
    left = [QPointF(3 + 3 * noise.random(), y) for y in range(height - 6, 4, -step)]
    path = QPainterPath()
    path.addPolygon(QPolygonF([*top, *right, *bottom, *left]))
    path.closeSubpath()
    painter.setPen(QPen(colour("sand"), 1))
    painter.setBrush(colour("sandWash"))
    painter.drawPath(path)
    painter.setClipPath(path)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(colour("sandDot", 0.75))
    count = width * height // 130
    for x, y, size in zip(noise.random(count) * width, noise.random(count) * height, noise.random(count), strict=True):
        painter.drawEllipse(QPointF(x, y), 0.5 + 0.45 * size, 0.5 + 0.45 * size)
    painter.end()
    return picture


class SectionStrip(Panel):
    """Title, plan and slider on the left, the sketch on the right; asks for cuts, never makes them."""

    asked = pyqtSignal(object)
    hovered = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(SECTION)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(14, 6, 10, 4)
        layout.setSpacing(8)
        side = QWidget()
        side.setFixedWidth(LEFT)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 2, 0, 0)
        column.setSpacing(0)
        self._title = label("Sand section", "section")
        self._where = label("", "muted")
        self._turn = button("Turn the cut", "link", self._turned, "Turns the cut a quarter about the draw")
        self.plan = Plan()
        self.slider = BrassSlider("Where the section is cut")
        self.slider.moved.connect(self._slid)
        for widget in (self._title, self._where, self.plan, self.slider):
            column.addWidget(widget)
        column.addWidget(self._turn, alignment=Qt.AlignmentFlag.AlignHCenter)
        column.addStretch(1)
        layout.addWidget(side)
        self.sketch = Sketch()
        self.sketch.hovered.connect(self.hovered)
        layout.addWidget(self.sketch, 1)
        self._asked = CutAsked()

    def show_cut(self, cut: Cut2D | None, unit: str, mould: bool) -> None:
        """Another cut, or None while there is none."""
        self._title.setText("Sand section" if mould else "Section")
        if cut is None:
            self._where.setText("")
        elif mould:
            off = cut.offset - (cut.across_low + cut.across_high) / 2.0
            near = abs(off) < 0.002 * (cut.across_high - cut.across_low)
            self._where.setText(
                "Through the middle" if near else f"{length(abs(off), unit)} {'behind' if off > 0 else 'before'} the middle"
            )
        else:
            self._where.setText("Of the pattern, at its size" if cut.asked.pattern else "Plain cut, no sand yet")
        self.plan.show_cut(cut)
        self.sketch.show_cut(cut, unit, mould)
        if cut is not None:
            self._asked = cut.asked
            if not self.slider.hasFocus():
                self.slider.show_value(cut.asked.share)

    def light(self, region: int) -> None:
        """Marks one region in the sketch."""
        self.sketch.light(region)

    def _slid(self, share: float) -> None:
        self._asked = replace(self._asked, share=share)
        self.asked.emit(self._asked)

    def _turned(self) -> None:
        self._asked = replace(self._asked, angle_deg=(self._asked.angle_deg + 90.0) % 180.0, share=0.5)
        self.slider.show_value(0.5)
        self.asked.emit(self._asked)
