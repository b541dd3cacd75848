"""The bench with no job on it: where to drop a model, the shelf with pictures, and three hints on the first start."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QScrollArea, QVBoxLayout, QWidget

from pounce.base.units import count_words
from pounce.bench.look.focus import ringed
from pounce.bench.look.marks import draw_mark, ring
from pounce.bench.look.tokens import CARD, colour, font
from pounce.bench.pictures import shelf_picture
from pounce.bench.widgets.parts import Panel, button, emptied, label, line
from pounce.logbook.values import Line, Outcome
from pounce.route.logkeys import line_words
from pounce.route.stops import ids


class DropArea(QWidget):
    """A dashed field with a little flask."""

    def __init__(self, open_model: Callable[[], object], measure: Callable[[], object]) -> None:
        super().__init__()
        self.setMinimumHeight(196)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 116, 20, 16)
        layout.setSpacing(4)
        title = label("Drop a model here", "section")
        kinds = label("STL, 3MF, OBJ, PLY, OFF or STEP", "muted")
        for widget in (title, kinds):
            layout.addWidget(widget, alignment=Qt.AlignmentFlag.AlignHCenter)
        row = QHBoxLayout()
        self.open = button("Open a model", "primary", open_model)
        self.measure = button("Measure a part you have", "", measure)
        row.addStretch(1)
        row.addWidget(self.open)
        row.addWidget(self.measure)
        row.addStretch(1)
        layout.addLayout(row)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Dashed rim, flask, pattern and arrow."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        pen = QPen(colour("outline"), 1.6)
        pen.setDashPattern([5, 4])
        painter.setPen(pen)
        painter.setBrush(colour("panel"))
        painter.drawRoundedRect(QRectF(1, 1, self.width() - 2, self.height() - 2), 3, 3)
        x = self.width() / 2
        painter.setPen(QPen(colour("verdigris"), 2.4))
        painter.drawLine(QPointF(x, 14), QPointF(x, 36))
        painter.drawPolyline(QPolygonF([QPointF(x - 7, 29), QPointF(x, 37), QPointF(x + 7, 29)]))
        painter.setPen(QPen(colour("ink"), 1.4))
        painter.setBrush(colour("steelFlat"))
        painter.drawPolygon(
            QPolygonF([QPointF(x - 22, 44), QPointF(x + 22, 44), QPointF(x + 17, 57), QPointF(x - 17, 57)])
        )
        painter.setBrush(colour("sandWash"))
        painter.drawRect(QRectF(x - 46, 80, 92, 20))
        painter.setPen(QPen(colour("ink"), 1.2, Qt.PenStyle.DashLine))
        painter.drawPolyline(
            QPolygonF([QPointF(x - 24, 80), QPointF(x - 18, 94), QPointF(x + 18, 94), QPointF(x + 24, 80)])
        )
        painter.setPen(QPen(colour("outline"), 1.6))
        painter.drawLine(QPointF(x - 70, 101), QPointF(x + 70, 101))
        painter.end()


# The ring of a job by how its last pour came out.
RINGS = {Outcome.SOUND: "filled", Outcome.FLAWED: "half", Outcome.SCRAP: "open", None: "open"}


class JobCard(QPushButton):
    """A job on the shelf with its picture."""

    def __init__(self, path: Path, name: str, about: str) -> None:
        super().__init__()
        self.path = path
        self.name, self._about = name, about
        self._picture: QPixmap | None = None
        self._state = ""
        self.setFixedHeight(152)
        self.setStyleSheet("min-height: 150px; max-height: 150px;")
        self.setMinimumWidth(190)
        self.setAccessibleName(f"Open {name}")
        self.setToolTip(str(path))
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        data = shelf_picture(path)
        if data:
            picture = QPixmap()
            if picture.loadFromData(data):
                self._picture = picture

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Picture, name, one line."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        strong = ringed(self) or self.underMouse()
        painter.setPen(QPen(colour("ink") if strong else colour("hairline"), 2 if strong else 1))
        painter.setBrush(colour("panel"))
        painter.drawRoundedRect(QRectF(1, 1, self.width() - 2, self.height() - 2), 3, 3)
        if self._picture is not None:
            room = QRectF(10, 6, self.width() - 20, 96)
            k = min(room.width() / self._picture.width(), room.height() / self._picture.height())
            size = (self._picture.width() * k, self._picture.height() * k)
            target = QRectF(room.center().x() - size[0] / 2, room.center().y() - size[1] / 2, *size)
            painter.drawPixmap(target, self._picture, QRectF(self._picture.rect()))
        painter.setPen(colour("ink"))
        painter.setFont(font("route"))
        painter.drawText(QRectF(12, 104, self.width() - 24, 22), Qt.AlignmentFlag.AlignVCenter, self.name)
        painter.setPen(colour("muted"))
        painter.setFont(font("secondary"))
        left = 12.0
        if self._state:
            ring(painter, self._state, 12, 127, 14)
            left = 32.0
        words = QFontMetricsF(painter.font()).elidedText(
            self._about, Qt.TextElideMode.ElideRight, self.width() - left - 12
        )
        painter.drawText(QRectF(left, 124, self.width() - left - 12, 20), Qt.AlignmentFlag.AlignVCenter, words)
        painter.end()

    def stand(self, state: str, words: str) -> None:
        """How it stands in the logbook: a ring, and how the last pour came out."""
        self._state, self._about = state, words
        self.setAccessibleDescription(words)
        self.update()


class StartBench(Panel):
    """The middle of the window while there is no job."""

    open_model = pyqtSignal()
    measure = pyqtSignal()
    wanted = pyqtSignal(object)
    demo = pyqtSignal()

    def __init__(self) -> None:
        super().__init__("paper")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 14, 20, 14)
        layout.setSpacing(6)
        top = QVBoxLayout()
        top.setSpacing(0)
        top.addWidget(label("Drop a model here to begin.", "title"))
        top.addWidget(label("Or take a job from the shelf.", "muted"))
        layout.addLayout(top)
        self.drop = DropArea(self.open_model.emit, self.measure.emit)
        layout.addWidget(self.drop)
        head = QHBoxLayout()
        head.addWidget(label("On the shelf", "section"))
        head.addStretch(1)
        self.finder = QLineEdit()
        self.finder.setPlaceholderText("Find a job")
        self.finder.setAccessibleName("Find a job on the shelf")
        self.finder.setFixedWidth(180)
        self.finder.textChanged.connect(self._filter)
        head.addWidget(self.finder)
        layout.addLayout(head)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        holder = QWidget()
        self._grid = QGridLayout(holder)
        self._grid.setContentsMargins(0, 0, 6, 0)
        self._grid.setSpacing(11)
        scroll.setWidget(holder)
        layout.addWidget(scroll, 1)
        self.cards: list[JobCard] = []
        self._entries: list[tuple[Path, str, str]] = []
        self._stands: dict[str, tuple[int, Line]] = {}

    def show_shelf(self, entries: list[tuple[Path, str, str]]) -> None:
        """Jobs to show: file, name, one line."""
        if entries != self._entries or not self.cards:
            self._entries = entries
            self._filter(self.finder.text())

    def show_stands(self, stands: dict[str, tuple[int, Line]]) -> None:
        """How each job stands in the logbook."""
        self._stands = stands
        for card in self.cards:
            self._stand(card)

    def _stand(self, card: JobCard) -> None:
        if card.name in self._stands:
            many, last = self._stands[card.name]
            pours = "one pour" if many == 1 else f"{count_words(many)} pours, the last"
            card.stand(RINGS[last.state], f"{pours}: {line_words(last).lower()}")

    def _filter(self, text: str) -> None:
        emptied(self._grid)
        self.cards = []
        wanted = [entry for entry in self._entries if text.lower() in f"{entry[1]} {entry[2]}".lower()]
        for index, (path, name, about) in enumerate(wanted):
            card = JobCard(path, name, about)
            card.clicked.connect(lambda _=False, path=path: self.wanted.emit(path))
            self.cards.append(card)
            self._stand(card)
            self._grid.addWidget(card, index // 3, index % 3)
        if not wanted:
            words = "No job of that name." if text else "The shelf is empty. Saved jobs will stand here."
            self._grid.addWidget(label(words, "muted"), 0, 0, 1, 3)
            if not text:
                lay = button("Put the demo jobs on the shelf", "", self.demo.emit, "Jobs of an invented glasshouse")
                self._grid.addWidget(lay, 1, 0, 1, 3, Qt.AlignmentFlag.AlignLeft)
        for column in range(3):
            self._grid.setColumnStretch(column, 1)
        self._grid.setRowStretch(len(wanted) // 3 + 2, 1)


class Hint(QWidget):
    """A row of marks."""

    def __init__(self, kind: str) -> None:
        super().__init__()
        self._kind = kind
        self.setFixedHeight(30)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Rings, marks or a tongue of brass."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._kind == "rings":
            painter.setPen(QPen(colour("outline"), 1.4, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(10, 15), QPointF(80, 15))
            for index, state in enumerate(("open", "half", "filled")):
                ring(painter, state, 2 + 34 * index, 7, 16)
        elif self._kind == "marks":
            for index, mark in enumerate(("clean", "tight", "locked")):
                draw_mark(painter, mark, 2 + 34 * index, 6, 17)
        else:
            painter.setPen(QPen(colour("outline"), 3, cap=Qt.PenCapStyle.RoundCap))
            painter.drawLine(QPointF(4, 15), QPointF(124, 15))
            painter.setPen(QPen(colour("brassInk"), 1.2))
            painter.setBrush(colour("brass"))
            painter.drawPolygon(
                QPolygonF([QPointF(54, 4), QPointF(66, 4), QPointF(66, 19), QPointF(60, 26), QPointF(54, 19)])
            )
        painter.end()


class StartCard(Panel):
    """The card while there is no job: hints until they are put away, then what is good to know."""

    put_away = pyqtSignal()
    guided = pyqtSignal()
    guided_own = pyqtSignal()
    guided_on = pyqtSignal()

    def __init__(self, hints: bool) -> None:
        super().__init__()
        self.setFixedWidth(CARD)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inner = QWidget()
        scroll.setWidget(inner)
        outer.addWidget(scroll)
        layout = QVBoxLayout(inner)
        layout.setContentsMargins(16, 12, 16, 14)
        layout.setSpacing(7)
        layout.addWidget(self._offer())
        self._hints = QWidget()
        column = QVBoxLayout(self._hints)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addWidget(label("First time here", "title"))
        column.addWidget(label("Three hints. They are shown once.", "muted"))
        for kind, head, text in (
            (
                "rings",
                "Follow the rings",
                "An open ring is not reached, a half ring wants you, a filled one is settled.",
            ),
            ("marks", "Shape says how it draws", "A cup leaves the sand. A box drags. A dovetail locks."),
            ("brass", "Anything brass slides", "Move the cut, the joint, the contraction."),
        ):
            column.addWidget(line())
            column.addWidget(Hint(kind))
            column.addWidget(label(head, "section"))
            column.addWidget(label(text, "muted", wrap=True))
        column.addWidget(button("Put the hints away", "", self._away), alignment=Qt.AlignmentFlag.AlignLeft)
        column.addWidget(line())
        self._hints.setVisible(hints)
        layout.addWidget(self._hints)
        layout.addWidget(label("Good to know", "section"))
        for name, key in (
            ("Turn the view", "drag, arrows"),
            ("Slide the view", "Shift + drag"),
            ("Go to a stop", f"1 to {len(ids())}" if len(ids()) < 10 else "1 to 9, 0"),
            ("Every action by name", "Ctrl+K"),
            ("The craft behind a stop", "F1"),
        ):
            row = QHBoxLayout()
            row.addWidget(label(name))
            row.addStretch(1)
            row.addWidget(label(key, "value"))
            layout.addLayout(row)
        layout.addStretch(1)

    def _offer(self) -> QWidget:
        """The guided first pattern."""
        self._guided = QWidget()
        offer = QVBoxLayout(self._guided)
        offer.setContentsMargins(0, 0, 0, 4)
        offer.setSpacing(6)
        offer.addWidget(label("A guided first pattern", "title"))
        offer.addWidget(label("Eight short questions, from the part to files for the printer.", "muted", wrap=True))
        self.begin = button("Begin on the demo's arm", "", self.guided.emit)
        self.begin_own = button("On a part of your own", "", self.guided_own.emit)
        self.go_on = button("Go on where you left it", "", self.guided_on.emit)
        for one in (self.go_on, self.begin, self.begin_own):
            offer.addWidget(one, alignment=Qt.AlignmentFlag.AlignLeft)
        offer.addWidget(line())
        return self._guided

    def offer(self, offered: bool, waits: bool) -> None:
        """Whether the guided first pattern is offered, and whether one waits to be gone on with."""
        self._guided.setVisible(offered)
        self.go_on.setVisible(waits)
        self.begin_own.setVisible(not waits)

    def _away(self) -> None:
        self._hints.hide()
        self.put_away.emit()
