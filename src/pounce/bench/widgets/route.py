"""The route on the left: the stops on a line, each with its result, and the shelf of other jobs."""

from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import QAbstractButton, QLabel, QVBoxLayout, QWidget

from pounce.bench.document import Document
from pounce.bench.headlines import route_line, route_state
from pounce.bench.look.focus import ringed
from pounce.bench.look.marks import ring
from pounce.bench.look.tokens import PITCH, ROUTE, colour, font
from pounce.bench.stops.view import title_of, view_of
from pounce.bench.widgets.parts import Panel, button, emptied, label, line
from pounce.route.stops import DRAW, ids

# A plan decides the stops from here on.
FIRST_PLANNED = DRAW.id
# The least height of a stop in a low window, pixels.
LEAST_PITCH = 40


class StopButton(QAbstractButton):
    """One stop on the line; the current one is a clipped job tag open into the bench."""

    def __init__(self, stop: str, first: bool, last: bool) -> None:
        super().__init__()
        self.stop = stop
        self._first, self._last = first, last
        self._said, self._state, self._count, self._known = view_of(stop).first_line, "open", 0, False
        self.setCheckable(True)
        self.setAutoExclusive(True)
        # in a low window the stops move together a little
        self.setMinimumHeight(LEAST_PITCH)
        self.setMaximumHeight(PITCH)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setText(title_of(stop))

    def sizeHint(self) -> QSize:
        """As wide as the route."""
        return QSize(ROUTE, PITCH)

    def show_state(self, said: str, state: str, count: int, known: bool) -> None:
        """What the stop found, its ring, and how many findings are open."""
        self._said, self._state, self._count, self._known = said, state, count, known
        words = {"open": "not reached", "half": f"{count} open", "filled": "settled"}[state]
        self.setAccessibleName(f"{self.text()}: {said}, {words}")
        self.setToolTip("" if len(said) < 24 else said)
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Line, ring, tag, title and result."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        width, high = self.width(), self.height()
        up = (PITCH - high) // 2
        painter.translate(0, -up)
        if self.isChecked():
            tag = QPolygonF(
                [
                    QPointF(width + 2, up + 2),
                    QPointF(8, up + 2),
                    QPointF(8, PITCH - up - 13),
                    QPointF(17, PITCH - up - 3),
                    QPointF(width + 2, PITCH - up - 3),
                ]
            )
            painter.setPen(QPen(colour("outline"), 1))
            painter.setBrush(colour("panel"))
            painter.drawPolygon(tag)
        middle = 24.0
        pen = QPen(colour("ink") if self._known else colour("outline"), 2 if self._known else 1.4)
        if not self._known:
            pen.setStyle(Qt.PenStyle.DotLine)
        painter.setPen(pen)
        painter.drawLine(QPointF(middle, 22 if self._first else 0), QPointF(middle, 22 if self._last else PITCH))
        ring(painter, self._state, middle - 8, 14, 16)
        painter.setFont(font("route"))
        painter.setPen(colour("ink") if self._known or self.isChecked() else colour("muted"))
        painter.drawText(QRectF(44, 9, width - 76, 20), Qt.AlignmentFlag.AlignVCenter, self.text())
        painter.setFont(font("secondary"))
        painter.setPen(colour("muted"))
        room = QFontMetricsF(painter.font()).elidedText(self._said, Qt.TextElideMode.ElideRight, width - 50)
        painter.drawText(QRectF(44, 27, width - 48, 18), Qt.AlignmentFlag.AlignVCenter, room)
        if self._count:
            badge = QRectF(width - 30, 10, 20, 18)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour("ochre"))
            painter.drawRoundedRect(badge, 3, 3)
            painter.setPen(colour("ink"))
            painter.setFont(font("button"))
            painter.drawText(badge, Qt.AlignmentFlag.AlignCenter, str(self._count))
        if ringed(self):
            painter.setPen(QPen(colour("ink"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(4, up + 3, width - 8, high - 7), 3, 3)
        painter.end()


class PlanFlag(QAbstractButton):
    """The flag beside the stops that a plan decides: it is no stop and has no ring."""

    def __init__(self) -> None:
        super().__init__()
        self.setText("Plan it for me")
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setFixedHeight(46)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setToolTip("Draw, joint, cores, fillings and draft, proved and held beside their rivals (Ctrl+L)")
        self.setAccessibleName("Plan it for me")
        self._under = ""

    def tell(self, words: str) -> None:
        """How the job stands to a plan that was taken: a second line, or none."""
        self._under = words
        self.setAccessibleName(f"Plan, {words.lower()}" if words else "Plan it for me")
        self.update()

    def sizeHint(self) -> QSize:
        """As wide as the route."""
        return QSize(ROUTE, 46)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The pole's line, a swallowtail, or open into the bench while its plans are shown."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        width = float(self.width())
        painter.setPen(QPen(colour("outline"), 1.4, Qt.PenStyle.DotLine))
        painter.drawLine(QPointF(24, 0), QPointF(24, 46))
        opened = self.isChecked()
        edge = width + 2 if opened else width - 16
        notch = edge if opened else edge - 9
        flag = QPolygonF([QPointF(8, 5), QPointF(edge, 5), QPointF(notch, 23), QPointF(edge, 41), QPointF(8, 41)])
        painter.setPen(QPen(colour("ink") if self.underMouse() or opened else colour("outline"), 1.4))
        painter.setBrush(colour("panel"))
        painter.drawPolygon(flag)
        painter.setPen(QPen(colour("ink"), 2))
        painter.drawLine(QPointF(6, 2), QPointF(6, 46))
        painter.setFont(font("route"))
        painter.setPen(colour("ink") if self.isEnabled() else colour("muted"))
        if self._under:
            painter.drawText(QRectF(22, 5, width - 50, 19), Qt.AlignmentFlag.AlignVCenter, "Plan")
            painter.setFont(font("secondary"))
            painter.setPen(colour("muted"))
            painter.drawText(QRectF(22, 22, width - 44, 18), Qt.AlignmentFlag.AlignVCenter, self._under)
        else:
            painter.drawText(QRectF(22, 5, width - 50, 36), Qt.AlignmentFlag.AlignVCenter, self.text())
        if ringed(self):
            painter.setPen(QPen(colour("ink"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(4, 3, width - 8, 40), 3, 3)
        painter.end()


# A job on the shelf, the most of them, and what stands about the shelf, pixels.
ENTRY, MOST_ROWS, AROUND = 24, 6, 72


class Route(Panel):
    """All stops that exist, and the shelf."""

    went = pyqtSignal(str)
    planned = pyqtSignal()
    wanted = pyqtSignal(object)

    def __init__(self, document: Document) -> None:
        super().__init__("paper")
        self.setFixedWidth(ROUTE)
        self._document = document
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 6, 0, 8)
        layout.setSpacing(0)
        self.buttons: dict[str, StopButton] = {}
        self._entries: list[QWidget] = []
        self._head: QLabel | None = None
        self.flag = PlanFlag()
        self.flag.clicked.connect(lambda _=False: self.planned.emit())
        for index, stop in enumerate(ids()):
            if stop == FIRST_PLANNED:
                layout.addWidget(self.flag)
            one = StopButton(stop, index == 0, index == len(ids()) - 1)
            one.clicked.connect(lambda _=False, stop=stop: self.went.emit(stop))
            self.buttons[stop] = one
            layout.addWidget(one)
        layout.addSpacing(14)
        holder = QWidget()
        self._shelf = QVBoxLayout(holder)
        self._shelf.setContentsMargins(16, 0, 12, 0)
        self._shelf.setSpacing(2)
        layout.addWidget(holder)
        layout.addStretch(1)
        document.job_changed.connect(self.refresh)
        document.results_changed.connect(lambda _: self.refresh())
        document.shelf_changed.connect(self.refresh_shelf)
        document.opened.connect(self.refresh_shelf)  # what is on the bench now does not stand on the shelf
        self.refresh()
        self.refresh_shelf()

    def show_plan(self) -> None:
        """Opens the flag: the plans are shown."""
        self.flag.setChecked(True)

    def show_stop(self, stop: str) -> None:
        """Opens the tag of a stop."""
        self.buttons[stop].setChecked(True)

    def refresh(self) -> None:
        """Shows every stop's result."""
        results, job = self._document.results(), self._document.job
        self.flag.setEnabled(job is not None)
        for stop, one in self.buttons.items():
            state, count = route_state(stop, results, job)
            one.setAutoExclusive(job is not None)
            if job is None:
                one.setChecked(False)
            one.setEnabled(job is not None)
            one.show_state(route_line(stop, results, self._document.unit), state, count, state != "open")

    def refresh_shelf(self) -> None:
        """Shows the recent jobs."""
        emptied(self._shelf)
        self._entries = []
        here = self._document.path
        recent = [
            (path, name) for path, name in self._document.settings.recent() if here is None or path != here.resolve()
        ]
        self._shelf.addWidget(line())
        self._shelf.addSpacing(8)
        if not recent:
            self._shelf.addWidget(label("Your jobs will stand here.", "muted"))
            return
        self._head = label("On the shelf", "section")
        self._shelf.addWidget(self._head)
        for path, name in recent[:MOST_ROWS]:
            self._entries.append(self._entry(path, name))
            self._shelf.addWidget(self._entries[-1])
        self._fit()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Another height: as many jobs as there is room for."""
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        """No entry is squeezed: those that have no room are left to the shelf of the first screen."""
        room = self.height() - len(self.buttons) * PITCH - self.flag.height() - AROUND
        for k, one in enumerate(self._entries):
            one.setVisible((k + 1) * ENTRY <= room)
        if self._entries and self._head is not None:
            self._head.setVisible(room >= ENTRY)

    def _entry(self, path: Path, name: str) -> QWidget:
        metrics = QFontMetricsF(font("secondary"))
        one = button(
            metrics.elidedText(name, Qt.TextElideMode.ElideRight, ROUTE - 40), "link", lambda: self.wanted.emit(path)
        )
        one.setToolTip(str(path))
        one.setAccessibleName(f"Open {name}")
        one.setStyleSheet("text-align: left; text-decoration: none; font-size: 14px; padding: 2px 0;")
        return one
