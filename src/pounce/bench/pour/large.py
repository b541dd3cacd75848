"""Large figures for the shed: what is under way, how long still, how hot it is, read from three steps away."""

from datetime import datetime

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QFont, QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from pounce.base.units import quantity
from pounce.bench.look.tokens import colour, font
from pounce.bench.pour.curve import said
from pounce.pour.clock import Clocked, State, Times
from pounce.pour.meter import Advice, Curve, Say
from pounce.pour.values import PourResult


class LargeFigures(QWidget):
    """Paints them."""

    def __init__(self) -> None:
        super().__init__()
        self._made: PourResult | None = None
        self._times: Times | None = None
        self._now: datetime | None = None
        self._curve = Curve()
        self._advice = Advice(Say.NONE)
        self.setAccessibleName("Large figures")

    def show_now(
        self, made: PourResult | None, times: Times | None, now: datetime, curve: Curve, advice: Advice
    ) -> None:
        """As it is now."""
        self._made, self._times, self._now, self._curve, self._advice = made, times, now, curve, advice
        step = self.current()
        if step is not None:
            self.setAccessibleDescription(f"{step.step.text}, {self.left(step)}")
        self.update()

    def current(self) -> Clocked | None:
        """The step under way, else the next."""
        if self._times is None:
            return None
        running = [one for one in self._times.steps if one.state is State.RUNNING]
        ahead = [one for one in self._times.steps if one.state is State.PLANNED]
        return (running or ahead or [None])[0]  # type: ignore[list-item]

    def left(self, one: Clocked) -> str:
        """How long it still goes, or until it begins."""
        assert self._now is not None
        until = one.end if one.state is State.RUNNING else one.start
        seconds = (until - self._now).total_seconds()
        minutes, rest = divmod(abs(round(seconds)), 60)
        hours, minutes = divmod(minutes, 60)
        text = f"{hours}:{minutes:02d}:{rest:02d}" if hours else f"{minutes}:{rest:02d}"
        return text if seconds >= 0 else f"{text} over"

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Step, time left, temperature, what to do."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), colour("paper"))
        step = self.current()
        wide, high = self.width() - 48.0, float(self.height())
        if step is not None:
            before = "" if step.state is State.RUNNING else f"{step.start.astimezone():%H:%M}  "
            self._fit(painter, f"{before}{step.step.text}", QRectF(24, 0.03 * high, wide, 0.16 * high), 54.0, "ink")
            self._fit(painter, self.left(step), QRectF(24, 0.2 * high, wide, 0.34 * high), 230.0, "ink")
        now = self._curve.now
        heat = "no reading" if now is None else f"{quantity('c_c', now)}"
        self._fit(painter, heat, QRectF(24, 0.55 * high, wide, 0.24 * high), 150.0, "ember")
        if self._made is not None:
            lift = f"lift at {quantity('c_c', self._made.lift_c)} ({round(self._made.lift_c * 1.8 + 32)} °F)"
            words = lift if now is None else f"{said(self._advice)}; {lift}"
            self._fit(painter, words, QRectF(24, 0.81 * high, wide, 0.14 * high), 40.0, "ink")
        painter.end()

    def _fit(self, painter: QPainter, text: str, box: QRectF, size: float, tone: str) -> None:
        """The largest type that fits the box, no larger than asked."""
        drawn = QFont(font("headline"))
        for px in (size, 0.8 * size, 0.64 * size, 0.5 * size, 0.4 * size, 0.3 * size):
            drawn.setPixelSize(max(round(px), 14))
            metrics = QFontMetricsF(drawn)
            if metrics.horizontalAdvance(text) <= box.width() and metrics.height() <= box.height() * 1.15:
                break
        painter.setFont(drawn)
        painter.setPen(colour(tone))
        painter.drawText(box, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, text)
