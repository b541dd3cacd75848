"""Charts of many pours, to be read from a metre away: a row a bar."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QGridLayout, QWidget

from pounce.bench.look.tokens import colour, font
from pounce.logbook.said import Bar, Season

ROW, HEAD, GAP = 26.0, 34.0, 16.0
NAMES, FIGURES = 0.44, 104.0


class RowChart(QWidget):
    """A title, and rows of bars; where bars have intervals these are drawn over the range they are held beside."""

    def __init__(self, title: str, empty: str) -> None:
        super().__init__()
        self._title, self._empty = title, empty
        self._bars: tuple[Bar, ...] = ()

    def show_bars(self, bars: tuple[Bar, ...]) -> None:
        """Other bars."""
        self._bars = bars
        self.setAccessibleName(f"{self._title}: " + ", ".join(f"{one.name} {one.said}" for one in bars))
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """As many rows as there is room for."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour("paper"))
        painter.setPen(colour("ink"))
        painter.setFont(font("section"))
        painter.drawText(QRectF(GAP, 6, self.width() - 2 * GAP, 22), Qt.AlignmentFlag.AlignVCenter, self._title)
        if not self._bars:
            painter.setFont(font("secondary"))
            painter.setPen(colour("muted"))
            box = QRectF(GAP, HEAD, self.width() - 2 * GAP, 44)
            painter.drawText(box, Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap, self._empty)
        room = max(int((self.height() - HEAD) // ROW), 0)
        ends = [one for bar in self._bars for one in (bar.low, bar.high, bar.first, bar.last) if one is not None]
        low, high = (min(ends), max(ends)) if ends else (0.0, max((one.value for one in self._bars), default=1.0))
        for k, bar in enumerate(self._bars[:room]):
            self._row(painter, bar, HEAD + k * ROW, low, max(high, low + 1e-9))
        painter.end()

    def _row(self, painter: QPainter, bar: Bar, y: float, low: float, high: float) -> None:
        width = self.width() - 2 * GAP
        left, right = GAP + NAMES * width + 8, GAP + width - FIGURES - 4
        middle = y + ROW / 2.0

        def at(value: float) -> float:
            return left + (value - low) / (high - low) * (right - left)

        painter.setFont(font("body"))
        painter.setPen(colour("ink"))
        name = QFontMetricsF(painter.font()).elidedText(bar.name, Qt.TextElideMode.ElideRight, NAMES * width)
        painter.drawText(QRectF(GAP, y, NAMES * width, ROW), Qt.AlignmentFlag.AlignVCenter, name)
        if bar.low is not None and bar.high is not None:
            if bar.first is not None and bar.last is not None:
                painter.fillRect(
                    QRectF(at(bar.first), y + 3, at(bar.last) - at(bar.first), ROW - 6), colour("sand", 0.5)
                )
            painter.setPen(QPen(colour("verdigrisInk"), 2.4))
            painter.drawLine(QPointF(at(bar.low), middle), QPointF(at(bar.high), middle))
            painter.setBrush(colour("verdigris"))
            painter.drawEllipse(QPointF(at(bar.value), middle), 5.5, 5.5)
        else:
            painter.fillRect(QRectF(left, y + 5, max(at(bar.value) - left, 2.0), ROW - 10), colour("steel"))
        painter.setFont(font("chip"))
        painter.setPen(colour("ink"))
        box = QRectF(GAP + width - FIGURES, y, FIGURES, ROW)
        painter.drawText(box, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, bar.said)


class Charts(QWidget):
    """Four of them."""

    def __init__(self) -> None:
        super().__init__()
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(1)
        self.metals = RowChart("Contraction by metal", "No size was measured yet.")
        self.yields = RowChart("Yield", "Weigh the castings, and what was poured.")
        self.wrongs = RowChart("What went wrong", "No defect was noted yet.")
        self.times = RowChart("Work and fire a piece", "Press the steps of a pour as they begin and end.")
        for k, one in enumerate((self.metals, self.yields, self.wrongs, self.times)):
            grid.addWidget(one, k // 2, k % 2)

    def show_season(self, season: Season) -> None:
        """What the book says."""
        for chart, bars in (
            (self.metals, season.metals),
            (self.yields, season.yields),
            (self.wrongs, season.wrongs),
            (self.times, season.times),
        ):
            chart.show_bars(bars)
