"""The status line: what runs with its progress and a way to cancel, the hands' manual, units, saved or not."""

import functools

from PyQt6.QtCore import QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QWidget

from pounce.bench.document import Document
from pounce.bench.look.tokens import STATUS, colour
from pounce.bench.widgets.parts import button, label

SAID_MS = 6000
# What the hand does on the picture of a part.
HANDS = "Turn: drag · Slide: Shift + drag"


class Bar(QWidget):
    """A thin bar of ink."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedSize(130, 8)
        self._share = 0.0

    def show_share(self, share: float) -> None:
        """How much is done, 0 to 1."""
        self._share = min(max(share, 0.0), 1.0)
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Frame and bar."""
        painter = QPainter(self)
        painter.setPen(QPen(colour("ink"), 1))
        painter.setBrush(colour("field"))
        painter.drawRect(QRectF(0.5, 0.5, self.width() - 1, self.height() - 1))
        painter.fillRect(QRectF(1, 1, (self.width() - 2) * self._share, self.height() - 2), colour("ink"))
        painter.end()


class Status(QWidget):
    """Progress on the left, manners on the right."""

    cancel = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setObjectName("status")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setStyleSheet(f"QWidget#status {{ background: {colour('sunk').name()}; }}")
        self.setFixedHeight(STATUS)
        self._document = document
        layout = QHBoxLayout(self)
        layout.setContentsMargins(12, 0, 12, 0)
        layout.setSpacing(8)
        self.text = label("Ready", "status")
        self.bar = Bar()
        self.share = label("", "status")
        self.stop = button("Cancel", "link", self.cancel.emit, "Esc")
        for widget in (self.text, self.bar, self.share, self.stop):
            layout.addWidget(widget)
        layout.addStretch(1)
        self.hands = label(HANDS, "muted")
        layout.addWidget(self.hands)
        layout.addSpacing(10)
        self._units = QButtonGroup(self)
        self.units = {}
        for unit in ("mm", "in"):
            one = button(unit, "unit", functools.partial(document.set_unit, unit), f"Show lengths in {unit}")
            one.setCheckable(True)
            self._units.addButton(one)
            self.units[unit] = one
            layout.addWidget(one)
        layout.addSpacing(10)
        self.saved = label("", "status")
        layout.addWidget(self.saved)
        self._quiet = QTimer(self)
        self._quiet.setSingleShot(True)
        self._quiet.setInterval(SAID_MS)
        self._quiet.timeout.connect(self.rest)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(120)
        self._later.timeout.connect(self._show_bar)
        document.worker.progress.connect(self._progress)
        document.worker.idle.connect(self.rest)
        document.said.connect(self.say)
        document.job_changed.connect(self.refresh)
        self.rest()
        self.refresh()

    def say(self, text: str) -> None:
        """A sentence for a few seconds."""
        if not self._document.worker.busy:
            self.text.setText(text)
            self._quiet.start()

    def _progress(self, share: float, text: str) -> None:
        self._quiet.stop()
        if text:
            self.text.setText(text)
        self.bar.show_share(share)
        self.share.setText(f"{round(100 * share)} %")
        if not self.bar.isVisible() and not self._later.isActive():
            self._later.start()

    def _show_bar(self) -> None:
        if self._document.worker.busy:
            for widget in (self.bar, self.share, self.stop):
                widget.show()

    def rest(self) -> None:
        """Nothing runs."""
        if self._document.worker.busy:
            return
        self._later.stop()
        for widget in (self.bar, self.share, self.stop):
            widget.hide()
        if not self._quiet.isActive():
            self.text.setText("Ready" if self._document.job is None else "Nothing running")

    def refresh(self) -> None:
        """Unit and saved state."""
        self.units[self._document.unit].setChecked(True)
        history = self._document.history
        if history is None:
            self.saved.setText("Nothing to save")
        elif history.saved is None:
            self.saved.setText("Not saved yet")
        else:
            self.saved.setText("Changed since saved" if history.dirty else "Saved")
