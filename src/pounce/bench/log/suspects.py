"""A defect and what may have done it: the part with the place, rival causes with what speaks for each, and the test
that would tell.
"""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen, QPixmap
from PyQt6.QtWidgets import QWidget

from pounce.base.units import count_words
from pounce.bench.look.tokens import colour, font
from pounce.logbook.said import Seen, Suspect, Verdict
from pounce.metals.defects import defects

SHOWN, ROW, HEAD = 3, 47, 30
LEFT, BOX = 20.0, (11.0, 9.0)


class SuspectsPanel(QWidget):
    """The defect that is looked at."""

    def __init__(self) -> None:
        super().__init__()
        self._seen: Seen | None = None
        self._many = 0
        self._picture: QPixmap | None = None
        self._spot = (0.5, 0.5)
        self.setMinimumHeight(HEAD + SHOWN * ROW + 46)

    def show_seen(self, seen: Seen | None, many: int) -> None:
        """A defect with its causes; ``many`` there are in all."""
        if (seen, many) == (self._seen, self._many):
            return
        self._seen, self._many = seen, many
        self.setAccessibleName("" if seen is None else seen.diagnosis.said)
        self.update()

    @property
    def pictured(self) -> bool:
        """Whether the part's picture stands there."""
        return self._picture is not None

    def show_picture(self, data: bytes | None, spot: tuple[float, float] = (0.5, 0.5)) -> None:
        """The part with the place, or nothing."""
        self._picture = None
        if data:
            self._picture = QPixmap()
            self._picture.loadFromData(data)
        self._spot = spot
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """What is seen on the left, causes on the right."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour("paper"))
        painter.setPen(QPen(colour("hairline"), 1))
        painter.drawLine(QPointF(16, 1), QPointF(self.width() - 12, 1))
        if self._seen is None:
            self._nothing(painter)
        else:
            middle = max(300.0, 0.5 * self.width())
            self._what(painter, self._seen, middle - 24)
            self._causes(painter, self._seen, middle)
        painter.end()

    def _nothing(self, painter: QPainter) -> None:
        painter.setFont(font("body"))
        painter.setPen(colour("muted"))
        words = "No defect is noted of the last pour. What is seen on a casting is noted on the card: A defect."
        painter.drawText(QRectF(LEFT, 10, self.width() - 40, 24), Qt.AlignmentFlag.AlignVCenter, words)

    def _what(self, painter: QPainter, seen: Seen, width: float) -> None:
        table, one = defects(), seen.defect
        painter.setFont(font("section"))
        painter.setPen(colour("ink"))
        title = f"Casting {seen.casting}: {table.noun[one.seen]}"
        painter.drawText(QRectF(LEFT, 6, width, 22), Qt.AlignmentFlag.AlignVCenter, title)
        said = [part for part in (table.where.get(one.where), table.when.get(one.when)) if part]
        more = f"One of {count_words(self._many)}." if self._many > 1 else ""
        painter.setFont(font("secondary"))
        painter.setPen(colour("muted"))
        words = ". ".join([*said, ""]).strip() + f" {more}"
        room = QFontMetricsF(painter.font()).elidedText(words, Qt.TextElideMode.ElideRight, width)
        painter.drawText(QRectF(LEFT, 27, width, 20), Qt.AlignmentFlag.AlignVCenter, room)
        if self._picture is None or self._picture.isNull():
            painter.drawText(
                QRectF(LEFT, 56, width, 40),
                Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap,
                "Point at the place on the part, and its picture stands here.",
            )
            return
        room_h = self.height() - 58.0
        scale = min(width / self._picture.width(), room_h / self._picture.height())
        wide, tall = self._picture.width() * scale, self._picture.height() * scale
        x, y = LEFT + (width - wide) / 2.0, 52.0
        painter.drawPixmap(QRectF(x, y, wide, tall), self._picture, QRectF(self._picture.rect()))
        spot = QPointF(x + self._spot[0] * wide, y + self._spot[1] * tall)
        for tone, thick in (("panel", 4.5), ("ink", 2.0)):
            painter.setPen(
                QPen(colour(tone), thick, Qt.PenStyle.SolidLine if tone == "panel" else Qt.PenStyle.DashLine)
            )
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(spot, 19.0, 19.0)

    def _causes(self, painter: QPainter, seen: Seen, left: float) -> None:
        width = self.width() - left - 16.0
        painter.setFont(font("section"))
        painter.setPen(colour("ink"))
        painter.drawText(QRectF(left, 6, width, 22), Qt.AlignmentFlag.AlignVCenter, "What may have done it")
        y = float(HEAD)
        for k, one in enumerate(seen.diagnosis.suspects[:SHOWN]):
            alike = seen.diagnosis.verdict is Verdict.TIE and k < 2
            self._cause(painter, one, k, (left, y, width), "alike" if alike else one.grade.value)
            y += ROW
        painter.setPen(QPen(colour("hairline"), 1))
        painter.drawLine(QPointF(left, y), QPointF(left + width, y))
        painter.setFont(font("secondary"))
        painter.setPen(colour("muted"))
        box = QRectF(left, y + 4, width, self.height() - y - 6)
        painter.drawText(box, Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap, seen.diagnosis.test)

    def _cause(self, painter: QPainter, one: Suspect, k: int, box: tuple[float, float, float], grade: str) -> None:
        left, y, width = box
        painter.setPen(QPen(colour("hairline"), 1))
        painter.drawLine(QPointF(left, y), QPointF(left + width, y))
        painter.setFont(font("section"))
        painter.setPen(colour("ink"))
        painter.drawText(QRectF(left, y + 4, 18, 20), Qt.AlignmentFlag.AlignVCenter, str(k + 1))
        words = width - 110.0
        name = QFontMetricsF(painter.font()).elidedText(one.name, Qt.TextElideMode.ElideRight, words)
        painter.drawText(QRectF(left + 20, y + 4, words, 20), Qt.AlignmentFlag.AlignVCenter, name)
        painter.setFont(font("secondary"))
        painter.setPen(colour("muted"))
        told = QFontMetricsF(painter.font()).elidedText(one.word, Qt.TextElideMode.ElideRight, width - 24)
        painter.drawText(QRectF(left + 20, y + 23, width - 24, 20), Qt.AlignmentFlag.AlignVCenter, told)
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        x = left + width - 5 * (BOX[0] + 2)
        painter.drawText(QRectF(x - 80, y + 4, 74, 20), right, grade)
        painter.setPen(QPen(colour("ink"), 1.1))
        for n in range(5):
            painter.setBrush(colour("ink") if n < one.boxes else Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(x + n * (BOX[0] + 2), y + 10, *BOX))
