"""The curve of the melt against what is wanted, and what to do now."""

from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from pounce.base.units import heat_words, quantity
from pounce.bench.look.tokens import SECTION, colour, font
from pounce.pour.devices.reader import Line
from pounce.pour.meter import Advice, Arrest, Curve, Say
from pounce.pour.values import PourResult

LEFT, TOP, LOW, SAYS = 62.0, 34.0, 26.0, 296.0
# The least that the axis shows, minutes, and degrees under and over what is marked.
LEAST_MIN, ROUND_C = 10.0, 40.0
MOST_POINTS = 600
# Figures on the axis nearer to each other than this are not both written, pixels.
APART = 15.0
RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
SAID = {
    Say.NONE: "No reading yet",
    Say.COLD: "Still solid",
    Say.MELTING: "Melting: it stands at the liquidus",
    Say.WARMING: "Warming",
    Say.LIFT: "Hot enough: treat, skim, lift",
    Say.HOT: "Too hot: take it from the fire",
    Say.FALLING: "Falling",
}
LINES = {
    Line.CLOSED: "By hand: type a reading on the card.",
    Line.OPENING: "Opening the meter.",
    Line.READING: "The meter reads.",
    Line.SILENT: "The meter says nothing. Go on by hand.",
    Line.LOST: "The meter is lost. Look at its plug; go on by hand.",
}


def said(advice: Advice) -> str:
    """What to do now, with the minutes where they are known."""
    if advice.in_min is None or advice.say not in (Say.COLD, Say.WARMING):
        return SAID[advice.say]
    return f"{SAID[advice.say]}: in the window in {quantity('t_min', advice.in_min)}"


@dataclass(frozen=True)
class Axes:
    """Where times and temperatures lie in a box."""

    box: QRectF
    low_c: float
    high_c: float
    start_s: float
    span_s: float

    def y(self, c: float) -> float:
        """Of a temperature."""
        return self.box.bottom() - (c - self.low_c) / (self.high_c - self.low_c) * self.box.height()

    def x(self, s: float) -> float:
        """Of a time."""
        return self.box.left() + (s - self.start_s) / self.span_s * self.box.width()


def _axes(box: QRectF, made: PourResult, curve: Curve) -> Axes:
    """So that the freezing range, the limit and what was read are seen, cold metal only in part."""
    seconds, values = curve.arrays
    read = [float(values.min()), float(values.max())] if len(values) else []
    low = max(min([made.solidus_c - ROUND_C, *read]), made.solidus_c - 5.0 * ROUND_C)
    high = max([made.most_c + ROUND_C / 2.0, *read])
    span = max(60.0 * LEAST_MIN, float(seconds[-1] - seconds[0]) if len(seconds) else 0.0)
    return Axes(box, low, high, float(seconds[0]) if len(seconds) else 0.0, span)


class CurveStrip(QWidget):
    """Paints the curve with its window, liquidus and lifting temperature."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(SECTION)
        self._made: PourResult | None = None
        self._curve = Curve()
        self._advice = Advice(Say.NONE)
        self._arrest: Arrest | None = None
        self._line = Line.CLOSED
        self.setAccessibleName("Temperature of the melt")

    def show_melt(
        self, made: PourResult | None, curve: Curve, advice: Advice, arrest: Arrest | None, line: Line
    ) -> None:
        """As it is now."""
        self._made, self._curve, self._advice, self._arrest, self._line = made, curve, advice, arrest, line
        now = curve.now
        told = "" if now is None else f"{heat_words(now)}. "
        self.setAccessibleDescription(f"{told}{said(advice)}. {LINES.get(line, '')}")
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Ground, window, marks, curve, words."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour("panel"))
        painter.setPen(colour("ink"))
        painter.setFont(font("section"))
        painter.drawText(QRectF(14, 8, 260, 20), Qt.AlignmentFlag.AlignVCenter, "The melt")
        if self._made is not None:
            self._plot(painter, self._made)
            self._words(painter, self._made)
        painter.end()

    def _plot(self, painter: QPainter, made: PourResult) -> None:
        box = QRectF(LEFT, TOP, self.width() - LEFT - SAYS - 20.0, self.height() - TOP - LOW)
        axes = _axes(box, made, self._curve)
        self._ground(painter, made, axes)
        painter.setClipRect(box)
        if self._arrest is not None:
            at = axes.y(self._arrest.at_c)
            painter.setPen(QPen(colour("verdigrisInk"), 4.0))
            painter.drawLine(QPointF(axes.x(self._arrest.begin_s), at), QPointF(axes.x(self._arrest.end_s), at))
        seconds, values = self._curve.arrays
        if len(seconds):
            painter.setPen(QPen(colour("ink"), 2.0))
            thin = max(len(seconds) // MOST_POINTS, 1)  # no more than the eye sees
            shown = zip(seconds[::thin], values[::thin], strict=True)
            painter.drawPolyline(QPolygonF([QPointF(axes.x(float(s)), axes.y(float(c))) for s, c in shown]))
            painter.setBrush(colour("ember"))
            painter.drawEllipse(QPointF(axes.x(float(seconds[-1])), axes.y(float(values[-1]))), 4.0, 4.0)
        painter.setClipping(False)

    def _ground(self, painter: QPainter, made: PourResult, axes: "Axes") -> None:
        """The window, what is marked, the frame."""
        box, first = axes.box, made.first.mould
        painter.fillRect(box, colour("field"))
        top, bottom = axes.y(first.high_c), axes.y(first.low_c)
        painter.fillRect(QRectF(box.left(), top, box.width(), bottom - top), colour("emberHot", 0.28))
        painter.setFont(font("dimension"))
        taken: list[float] = []
        for c, name, tone, style in (
            (made.lift_c, "lift", "ember", Qt.PenStyle.SolidLine),
            (made.liquidus_c, "liquidus", "muted", Qt.PenStyle.DashLine),
            (first.aim_c, "", "ink", Qt.PenStyle.NoPen),
        ):
            y = axes.y(c)
            if any(abs(y - one) < APART for one in taken):
                continue
            taken.append(y)
            painter.setPen(QPen(colour(tone), 1.4, style))
            painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
            painter.setPen(colour(tone))
            painter.drawText(QRectF(box.right() - 90, y - 17, 86, 16), Qt.AlignmentFlag.AlignRight, name)
            painter.drawText(QRectF(0, y - 9, LEFT - 6, 18), RIGHT, quantity("c_c", c))
        painter.setPen(QPen(colour("outline"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)
        painter.setPen(colour("muted"))
        painter.drawText(QRectF(box.left(), box.bottom() + 3, 120, 18), Qt.AlignmentFlag.AlignLeft, "first reading")
        under = QRectF(box.right() - 120, box.bottom() + 3, 120, 18)
        painter.drawText(under, Qt.AlignmentFlag.AlignRight, quantity("t_min", axes.span_s / 60.0))

    def _words(self, painter: QPainter, made: PourResult) -> None:
        left = self.width() - SAYS
        now = self._curve.now
        painter.setPen(colour("ink"))
        painter.setFont(font("headline"))
        heat = "no reading" if now is None else heat_words(now)
        painter.drawText(QRectF(left, 10, SAYS - 12, 30), Qt.AlignmentFlag.AlignVCenter, heat)
        painter.setFont(font("section"))
        painter.setPen(colour("ember" if self._advice.say in (Say.LIFT, Say.HOT) else "ink"))
        if now is not None:
            painter.drawText(QRectF(left, 42, SAYS - 12, 42), Qt.TextFlag.TextWordWrap, said(self._advice))
        painter.setFont(font("secondary"))
        painter.setPen(colour("muted"))
        rows = [f"Lift at {heat_words(made.lift_c)}"]
        m = made.first.mould
        rows.append(f"The mould takes {quantity('c_c', m.low_c)} to {quantity('c_c', m.high_c)}")
        if self._arrest is not None:
            rows.append(f"It stalled at {quantity('c_c', self._arrest.at_c)}: the liquidus")
        rows.append(LINES.get(self._line, ""))
        metrics = QFontMetricsF(painter.font())
        for k, words in enumerate(rows):
            text = metrics.elidedText(words, Qt.TextElideMode.ElideRight, SAYS - 12)
            painter.drawText(QRectF(left, 90 + 21 * k, SAYS - 12, 20), Qt.AlignmentFlag.AlignVCenter, text)
