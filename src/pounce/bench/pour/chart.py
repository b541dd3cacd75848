"""The steps by the clock: what to do, when, and how it stands."""

from datetime import datetime, timedelta

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QScrollArea, QWidget

from pounce.base.units import quantity
from pounce.bench.look.focus import ringed
from pounce.bench.look.tokens import colour, font
from pounce.pour.clock import Clocked, State, Times
from pounce.pour.critical import POUR
from pounce.pour.values import Kind

ROW, HEAD, CLOCK, WORDS, SIDE = 24.0, 26.0, 54.0, 330.0, 20.0
RING = 7.0
# Ticks of the clock are so far apart, minutes, the first that leaves them room.
TICKS = (5, 10, 15, 30, 60, 120, 240, 480, 720, 1440)
TICK_PX = 62.0
FILL = {Kind.HANDS: "brass", Kind.FIRE: "emberHot", Kind.WAIT: "sand"}


class Steps(QWidget):
    """Paints the rows; a press begins a step, the next ends it."""

    pressed = pyqtSignal(str)
    chose = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self._times: Times | None = None
        self._now: datetime | None = None
        self._at = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Steps by the clock")
        self.setMouseTracking(True)

    def show_times(self, times: Times | None, now: datetime) -> None:
        """As things stand now."""
        self._times, self._now = times, now
        count = 0 if times is None else len(times.steps)
        self.setMinimumHeight(round(HEAD + count * ROW + 6))
        self._at = min(self._at, max(count - 1, 0))
        self._describe()
        self.update()

    @property
    def chosen(self) -> int:
        """The row under the hand."""
        return self._at

    def _describe(self) -> None:
        if self._times is None or not self._times.steps:
            return
        one = self._times.steps[self._at]
        self.setAccessibleDescription(f"{_clock(one.start)} {one.step.text}, {one.state.value}")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """A press on a row."""
        if event is None or self._times is None:
            return
        row = int((event.position().y() - HEAD) // ROW)
        if 0 <= row < len(self._times.steps):
            again = row == self._at and ringed(self)
            self._at = row
            self._describe()
            if event.position().x() < SIDE + 2.6 * RING or again:
                self.pressed.emit(self._times.steps[row].step.id)
            self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down choose, space or return begins and ends."""
        if event is None or self._times is None or not self._times.steps:
            return
        last = len(self._times.steps) - 1
        key = event.key()
        if key in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            self._at = min(max(self._at + (1 if key == Qt.Key.Key_Down else -1), 0), last)
        elif key == Qt.Key.Key_Home:
            self._at = 0
        elif key == Qt.Key.Key_End:
            self._at = last
        elif key in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.pressed.emit(self._times.steps[self._at].step.id)
        else:
            super().keyPressEvent(event)
            return
        self._describe()
        self.chose.emit(round(HEAD + self._at * ROW))
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Clock, words and bars of each step; the pour and now as lines."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour("paper"))
        if self._times is not None and self._times.steps:
            begin = min(one.start for one in self._times.steps)
            end = max(one.end for one in self._times.steps)
            left = SIDE + 3.0 * RING + CLOCK + WORDS
            scale = (self.width() - left - SIDE) / max((end - begin).total_seconds(), 1.0)
            self._axis(painter, begin, end, left, scale)
            for row, one in enumerate(self._times.steps):
                self._row(painter, row, one, begin, left, scale)
            self._lines(painter, begin, left, scale)
        painter.end()

    def _axis(self, painter: QPainter, begin: datetime, end: datetime, left: float, scale: float) -> None:
        minutes = next((k for k in TICKS if k * 60.0 * scale >= TICK_PX), TICKS[-1])
        local = begin.astimezone()
        first = local.replace(minute=0, second=0, microsecond=0)
        while first < local:
            first += timedelta(minutes=minutes)
        painter.setFont(font("dimension"))
        while first <= end:
            x = left + (first - begin).total_seconds() * scale
            painter.setPen(QPen(colour("hairline"), 1))
            painter.drawLine(QPointF(x, HEAD - 4.0), QPointF(x, self.height()))
            painter.setPen(colour("muted"))
            painter.drawText(QRectF(x - 40, 2, 80, 18), Qt.AlignmentFlag.AlignCenter, _clock(first))
            first += timedelta(minutes=minutes)

    def _row(self, painter: QPainter, row: int, one: Clocked, begin: datetime, left: float, scale: float) -> None:
        top = HEAD + row * ROW
        middle = top + ROW / 2.0
        if row == self._at and ringed(self):
            painter.fillRect(QRectF(0, top, self.width(), ROW), colour("sunk"))
        if one.step.id == POUR:
            painter.fillRect(QRectF(0, top, self.width(), ROW), colour("ember", 0.12))
        self._ring(painter, QPointF(SIDE + RING, middle), one.state)
        x = SIDE + 3.0 * RING
        painter.setPen(colour("muted" if one.state is State.DONE else "ink"))
        painter.setFont(font("button"))
        painter.drawText(QRectF(x, top, CLOCK, ROW), Qt.AlignmentFlag.AlignVCenter, _clock(one.start))
        painter.setFont(font("section" if one.step.id == POUR or one.state is State.RUNNING else "body"))
        words = QFontMetricsF(painter.font()).elidedText(one.step.text, Qt.TextElideMode.ElideRight, WORDS - 10)
        painter.drawText(QRectF(x + CLOCK, top, WORDS - 10, ROW), Qt.AlignmentFlag.AlignVCenter, words)
        start = left + (one.start - begin).total_seconds() * scale
        wide = max((one.end - one.start).total_seconds() * scale, 3.0)
        painter.setBrush(colour(FILL[one.step.kind], 0.45 if one.state is State.DONE else 1.0))
        painter.setPen(QPen(colour("ink"), 1.6 if one.critical else 0.6))
        painter.drawRect(QRectF(start, middle - 6.5, wide, 13.0))
        painter.setFont(font("dimension"))
        text = quantity("t_min", (one.end - one.start).total_seconds() / 60.0)
        room = QFontMetricsF(painter.font()).horizontalAdvance(text)
        at = start + wide + 5.0
        if at + room > self.width() - 4.0:
            at = start - room - 5.0
        painter.setPen(colour("muted"))
        painter.drawText(QRectF(at, top, room + 2, ROW), Qt.AlignmentFlag.AlignVCenter, text)

    def _ring(self, painter: QPainter, at: QPointF, state: State) -> None:
        painter.setPen(QPen(colour("verdigris" if state is State.DONE else "outline"), 1.6))
        painter.setBrush(colour("verdigris") if state is State.DONE else colour("field"))
        painter.drawEllipse(at, RING, RING)
        if state is State.RUNNING:
            painter.setBrush(colour("ochre"))
            painter.drawPie(QRectF(at.x() - RING, at.y() - RING, 2 * RING, 2 * RING), 90 * 16, -180 * 16)

    def _lines(self, painter: QPainter, begin: datetime, left: float, scale: float) -> None:
        assert self._times is not None
        if self._now is not None:
            x = left + (self._now - begin).total_seconds() * scale
            if left <= x <= self.width() - SIDE:
                painter.setPen(QPen(colour("verdigrisInk"), 1.5, Qt.PenStyle.DashLine))
                painter.drawLine(QPointF(x, HEAD - 6), QPointF(x, self.height()))
        x = left + (self._times.pour - begin).total_seconds() * scale
        painter.setPen(QPen(colour("ember"), 2.0))
        painter.drawLine(QPointF(x, HEAD - 6), QPointF(x, self.height()))


def _clock(moment: datetime) -> str:
    return f"{moment.astimezone():%H:%M}"


class Chart(QScrollArea):
    """The steps, scrolled where they are many."""

    def __init__(self) -> None:
        super().__init__()
        self.steps = Steps()
        self.setWidget(self.steps)
        self.setWidgetResizable(True)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.steps.chose.connect(lambda y: self.ensureVisible(0, y, 0, 60))
