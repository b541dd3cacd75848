"""The contraction of this bench: a bar a pour and one for all that was learned, over the table's range; to be read from
a metre away.
"""

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from pounce.base.units import count_words, plain
from pounce.bench.look.tokens import colour, font
from pounce.logbook.said import Contraction, PourSays

ROW, HEAD, FOOT, MOST = 27, 26, 42, 6
NAMES, FIGURES = 252, 112


class ContractionBars(QWidget):
    """One row a pour, the newest last, and the learned one under a line."""

    def __init__(self) -> None:
        super().__init__()
        self._c: Contraction | None = None
        self._here, self._made = "", 0.0
        self.setAccessibleName("Contraction of this bench")
        self.setFixedHeight(HEAD + ROW + FOOT)

    def show_learned(self, c: Contraction | None, here: str, made_percent: float) -> None:
        """What was learned; the job ``here`` is written bold, a mark stands at what its pattern is made for."""
        self._c, self._here, self._made = c, here, made_percent
        rows = 1 if c is None else 1 + len(c.says[:MOST])
        self.setFixedHeight(HEAD + ROW * rows + FOOT)
        if c is not None:
            said = f"{plain(c.free.value, 2)} give or take {plain(c.free.give, 2)} per cent"
            self.setAccessibleName(f"Contraction of this bench: {said}, of {count_words(len(c.says))} pours")
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The range, the bars, the scale."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour("paper"))
        c = self._c
        if c is not None:
            self._paint(painter, c)
        painter.end()

    def _paint(self, painter: QPainter, c: Contraction) -> None:
        bars = [(_named(one), one.percent.low, one.percent.value, one.percent.high) for one in c.says[:MOST]][::-1]
        spans = [(c.low, c.high), (c.free.low, c.free.high), *((one[1], one[3]) for one in bars)]
        low, high = min(one[0] for one in spans), max(one[1] for one in spans)
        gap = 0.12 * (high - low)
        low, high = low - gap, high + gap
        left, right = float(NAMES), float(self.width() - FIGURES)

        def at(value: float) -> float:
            return left + (value - low) / (high - low) * (right - left)

        foot = float(HEAD + ROW * (len(bars) + 1))
        self._paint_table(painter, c, at, foot)
        for k, (name, first, value, last) in enumerate(bars):
            ends, said = (at(first), at(value), at(last)), (value, (last - first) / 2.0)
            self._bar(painter, name, ends, k, said, name.startswith(self._here + ","))
        painter.setPen(QPen(colour("hairline"), 1))
        painter.drawLine(QPointF(20, foot - ROW), QPointF(self.width() - 16, foot - ROW))
        many = len(c.says)
        name = f"Learned, {count_words(many)} pour{'s' if many != 1 else ''}" if c.learned else "By the table alone"
        self._learned(painter, name, c, at, len(bars))
        self._scale(painter, low, high, at, foot)

    def _paint_table(self, painter: QPainter, c: Contraction, at: Callable[[float], float], foot: float) -> None:
        """The table's range, its typical figure, and what the pattern is made for."""
        painter.fillRect(QRectF(at(c.low), 4, at(c.high) - at(c.low), foot - 4), colour("sandWash"))
        if c.learned:
            band = QRectF(at(c.free.low), HEAD - 2, at(c.free.high) - at(c.free.low), foot - HEAD - ROW)
            painter.fillRect(band, colour("verdigrisWash", 0.7))
        painter.setFont(font("secondary"))
        dotted = QPen(colour("outline"), 1.2, Qt.PenStyle.DotLine)
        for edge in (c.low, c.high):
            painter.setPen(dotted)
            painter.drawLine(QPointF(at(edge), 4), QPointF(at(edge), foot))
        painter.setPen(QPen(colour("ink"), 1.2, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(at(c.typical), 22), QPointF(at(c.typical), foot))
        painter.setPen(colour("muted"))
        words = f"table {plain(c.low, 2)} to {plain(c.high, 2)}, typical {plain(c.typical, 2)}"
        painter.drawText(QRectF(at(c.low) + 5, 4, 260, 18), Qt.AlignmentFlag.AlignVCenter, words)

    def _bar(
        self, painter: QPainter, name: str, x: tuple[float, float, float], k: int, said: tuple[float, float], here: bool
    ) -> None:
        y = HEAD + ROW * (k + 0.5)
        self._name(painter, name, y, here)
        painter.setPen(QPen(colour("ink"), 1.6))
        painter.drawLine(QPointF(x[0], y), QPointF(x[2], y))
        for end in (x[0], x[2]):
            painter.drawLine(QPointF(end, y - 6), QPointF(end, y + 6))
        painter.setPen(QPen(colour("ink"), 3.2))
        painter.drawLine(QPointF(x[1], y - 7), QPointF(x[1], y + 7))
        self._figure(painter, *said, y, here)

    def _learned(self, painter: QPainter, name: str, c: Contraction, at: Callable[[float], float], k: int) -> None:
        y = HEAD + ROW * (k + 0.5)
        x0, x1, x2 = at(c.free.low), at(c.free.value), at(c.free.high)
        self._name(painter, name, y, True)
        painter.setPen(QPen(colour("verdigrisInk"), 2.4))
        painter.drawLine(QPointF(x0, y), QPointF(x2, y))
        for end in (x0, x2):
            painter.drawLine(QPointF(end, y - 7), QPointF(end, y + 7))
        painter.setBrush(colour("verdigris"))
        painter.drawEllipse(QPointF(x1, y), 6.5, 6.5)
        self._figure(painter, c.free.value, c.free.give, y, True)

    def _name(self, painter: QPainter, name: str, y: float, strong: bool) -> None:
        painter.setFont(font("section" if strong else "body"))
        painter.setPen(colour("ink"))
        room = QFontMetricsF(painter.font()).elidedText(name, Qt.TextElideMode.ElideMiddle, NAMES - 36)
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(QRectF(20, y - 11, NAMES - 36, 22), right, room)

    def _figure(self, painter: QPainter, value: float, give: float, y: float, strong: bool) -> None:
        painter.setFont(font("section" if strong else "secondary"))
        painter.setPen(colour("ink"))
        box = QRectF(self.width() - FIGURES + 8, y - 11, FIGURES - 12, 22)
        painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, f"{value:.2f} ± {give:.2f} %")

    def _scale(self, painter: QPainter, low: float, high: float, at: Callable[[float], float], foot: float) -> None:
        """Ticks at round figures, and where the pattern stands."""
        painter.setPen(QPen(colour("ink"), 1.2))
        painter.drawLine(QPointF(NAMES, foot), QPointF(self.width() - FIGURES, foot))
        painter.setFont(font("dimension"))
        step = next(one for one in (0.05, 0.1, 0.2, 0.5, 1.0, 2.0) if (high - low) / one <= 8.0 or one == 2.0)
        value = step * (int(low / step) + 1)
        while value < high:
            painter.drawLine(QPointF(at(value), foot), QPointF(at(value), foot + 4))
            box = QRectF(at(value) - 30, foot + 5, 60, 16)
            painter.drawText(box, Qt.AlignmentFlag.AlignHCenter, plain(value, 2))
            value += step
        painter.setPen(colour("muted"))
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(QRectF(20, foot + 3, NAMES - 36, 18), right, "contraction on the pattern, %")
        if low < self._made < high:
            painter.setPen(QPen(colour("ember"), 2))
            painter.drawLine(QPointF(at(self._made), foot - 8), QPointF(at(self._made), foot + 4))
            painter.setPen(colour("ember"))
            box = QRectF(at(self._made) - 80, foot + 20, 160, 18)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, f"the pattern is made for {plain(self._made, 2)}")


def _named(one: PourSays) -> str:
    """The job and its longest size: what a long one says counts for more."""
    return f"{one.job}, {one.size_mm:.0f} mm"
