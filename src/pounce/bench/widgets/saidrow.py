"""What rows of findings and causes have alike: a mark, a sentence with its bold noun, a figure, actions, and the
light of their places.
"""

import html

from PyQt6.QtCore import QEvent, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QWidget

from pounce.bench.look.focus import ringed
from pounce.bench.look.marks import Mark
from pounce.bench.look.tokens import colour
from pounce.bench.widgets.parts import Wrapped, label
from pounce.bench.widgets.prose import Explains
from pounce.craft.glossary import explained

ROW_PX = 248


class LitRow(QWidget):
    """A row that speaks of places. Hovering it lights the first on the bench; ``shown`` and ``taken`` tell what was
    pressed.
    """

    lit = pyqtSignal(int)
    shown = pyqtSignal(object)
    taken = pyqtSignal(object)

    def __init__(self, regions: frozenset[int], says: str = "") -> None:
        super().__init__()
        self._explains = Explains(self, lambda: says)  # before anything that sends an event
        self.regions = regions
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleDescription(explained(says))

    def event(self, event: QEvent | None) -> bool:
        """Explains its words after a moment of hovering."""
        return (event is not None and self._explains.event(event)) or super().event(event)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """By the keyboard a row is lit and explained as under the pointer."""
        super().focusInEvent(event)
        self.mark_lit(next(iter(sorted(self.regions)), -1))
        if event is not None and event.reason() in (Qt.FocusReason.TabFocusReason, Qt.FocusReason.BacktabFocusReason):
            self.enterEvent(None)
            self._explains.show()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """Its light goes out."""
        super().focusOutEvent(event)
        self.leaveEvent(None)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A rim while it has the keyboard."""
        super().paintEvent(event)
        if ringed(self):
            painter = QPainter(self)
            painter.setPen(QPen(colour("ink"), 2))
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))
            painter.end()

    def enterEvent(self, _event: QEvent | None) -> None:
        """Lights the first place on the bench."""
        for region in sorted(self.regions)[:1]:
            self.lit.emit(region)

    def leaveEvent(self, _event: QEvent | None) -> None:
        """Puts the light out."""
        if self.regions:
            self.lit.emit(-1)

    def mark_lit(self, region: int) -> None:
        """Shows whether one of its places is the one under the pointer on the bench; -1 is none."""
        self.setAutoFillBackground(region in self.regions)
        palette = self.palette()
        palette.setColor(self.backgroundRole(), colour("sunk"))
        self.setPalette(palette)


def rich(text: str, noun: str, nth: int | None = None) -> QLabel:
    """A sentence with its noun in bold, and its number before it."""
    said, bold = html.escape(text), html.escape(noun)
    if bold:
        said = said.replace(bold, f"<b>{bold}</b>", 1)
    out = Wrapped(f"<b>{nth}</b>&nbsp; {said}" if nth else said)
    out.setTextFormat(Qt.TextFormat.RichText)
    return out


def top_row(mark: str, says: QLabel, figure: str, source: str = "") -> QHBoxLayout:
    """Mark, sentence, figure; ``source`` stands in its tip."""
    top = QHBoxLayout()
    top.setSpacing(8)
    top.addWidget(Mark(mark), alignment=Qt.AlignmentFlag.AlignTop)
    if source:
        says.setToolTip(f"After: {source}")
    top.addWidget(says, 1)
    if figure:
        top.addWidget(label(figure, "figure"), alignment=Qt.AlignmentFlag.AlignTop)
    return top


def in_rows(buttons: list[QPushButton]) -> list[QHBoxLayout]:
    """As many in a row as the card holds: long cures go on the next."""
    rows: list[QHBoxLayout] = []
    taken = ROW_PX
    for one in buttons:
        one.ensurePolished()
        wide = one.sizeHint().width() + 6
        if taken + wide > ROW_PX:
            for row in rows[-1:]:
                row.addStretch(1)
            rows.append(QHBoxLayout())
            rows[-1].setSpacing(6)
            taken = 0
        rows[-1].addWidget(one)
        taken += wide
    for row in rows[-1:]:
        row.addStretch(1)
    return rows
