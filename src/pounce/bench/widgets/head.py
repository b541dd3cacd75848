"""The headline of a board, and the line under it."""

from PyQt6.QtCore import QEvent, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from pounce.bench.look.tokens import colour, font
from pounce.bench.stops.view import Headline
from pounce.bench.widgets.prose import Explains

HEAD = 74


class Head(QWidget):
    """The headline and the line under it."""

    def __init__(self) -> None:
        super().__init__()
        self._saying, self._warning = Headline("", ""), ""
        self._explains = Explains(self, lambda: f"{self._saying.head} {self._warning or self._saying.under}")
        self.setFixedHeight(HEAD)

    def say(self, saying: Headline, warning: str = "") -> None:
        """Another headline; a warning takes the place of the line under it."""
        if (saying, warning) == (self._saying, self._warning):
            return
        self._saying, self._warning = saying, warning
        self.setAccessibleName(f"{saying.head} {warning or saying.under}")
        self.update()

    def event(self, event: QEvent | None) -> bool:
        """Explains its words after a moment of hovering."""
        return (event is not None and self._explains.event(event)) or super().event(event)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paints both."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), colour("paper"))
        for words, role, tone, top, high in (
            (self._saying.head, "headline", "ink", 14, 28),
            (self._warning or self._saying.under, "body", "ember" if self._warning else "muted", 42, 22),
        ):
            painter.setPen(colour(tone))
            painter.setFont(font(role))
            text = QFontMetricsF(painter.font()).elidedText(words, Qt.TextElideMode.ElideRight, self.width() - 40)
            painter.drawText(QRectF(20, top, self.width() - 40, high), Qt.AlignmentFlag.AlignVCenter, text)
        painter.end()
