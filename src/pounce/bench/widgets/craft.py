"""F1: the craft behind a stop, illustrated; over the bench, which goes dim."""

from functools import partial

from PyQt6.QtCore import QByteArray, QPoint, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QCloseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtSvg import QSvgRenderer
from PyQt6.QtWidgets import QDialog, QFrame, QGridLayout, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from pounce.base.choice import Choice
from pounce.bench.document import Document
from pounce.bench.look.marks import Mark
from pounce.bench.look.tokens import colour, hues
from pounce.bench.stops.view import title_of, view_of
from pounce.bench.widgets.parts import Panel, button, emptied, label, line
from pounce.bench.widgets.prose import Prose, hide_tip
from pounce.craft.drawings import drawing
from pounce.craft.drawings.pen import HIGH, WIDE
from pounce.craft.page import PLAN, Drawing, Page, Paragraph, School, page_of, read, text_of
from pounce.job.choose import choose_word, value_of
from pounce.route.stops import ids, stops

__all__ = ["PLAN", "CraftPage", "craft_text", "pages"]

WIDE_PX, HIGH_PX, MARGIN = 928, 732, 32
DIM = 0.62
# Drawings that show a mark of the draw carry it before their words.
MARKS = {"cup": "clean", "upright": "tight", "dovetail": "locked"}


def pages() -> tuple[str, ...]:
    """The pages in their order: of every stop, then of plan and proof."""
    return (*ids(), PLAN)


def craft_text(stop: str) -> str:
    """The page of a stop, or of plan and proof, as Markdown."""
    return view_of(stop).craft if stop != PLAN and view_of(stop).craft else text_of(stop)


def _page(stop: str) -> Page:
    return read(stop, view_of(stop).craft) if stop != PLAN and view_of(stop).craft else page_of(stop)


def _name(stop: str) -> str:
    return "Plan and proof" if stop == PLAN else title_of(stop)


class Dimmed(QWidget):
    """The bench behind the page, in shadow."""

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self.setGeometry(window.rect())
        self.show()
        self.raise_()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Ink over all of it."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), colour("ink", DIM))
        painter.end()


class DrawingView(QWidget):
    """A small drawing, sharp at any scale. ``name`` of the drawing, ``says`` for those who do not see it."""

    def __init__(self, name: str, says: str) -> None:
        super().__init__()
        self._picture = QSvgRenderer(QByteArray(drawing(name, hues()).encode()))
        self.setFixedSize(QSize(int(WIDE), int(HIGH)))
        self.setAccessibleName(f"Drawing: {says}")

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paints it."""
        painter = QPainter(self)
        self._picture.render(painter, QRectF(self.rect()))
        painter.end()


class SchoolBox(QFrame):
    """One way of two or more; the job's own has a frame of ink."""

    taken = pyqtSignal(object)

    def __init__(self, school: School, own: bool | None, seen: set[str]) -> None:
        super().__init__()
        self.school = school
        self.setObjectName("schoolown" if own else "school")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 10, 14, 10)
        top = QHBoxLayout()
        top.addWidget(label(school.head, "section"))
        top.addStretch(1)
        self.use = button("Use this one", "", lambda: self.taken.emit(school))
        self.use.setAccessibleName(f"Use this one: {school.head}")
        self.use.setVisible(own is False)
        if own:
            top.addWidget(Mark("filled"))
            top.addWidget(label("this job", "small"))
        top.addWidget(self.use)
        layout.addLayout(top)
        layout.addWidget(Prose(school.words, seen=seen))
        self.setAccessibleName(f"{school.head}{', this job' if own else ''}")


class CraftPage(QDialog):
    """Why, how by hand, the schools, the sources. ``at`` is the head of a paragraph it opens at, with what is ``said``
    of this very job in it.
    """

    def __init__(
        self, stop: str, parent: QWidget, document: Document | None = None, at: str = "", said: str = ""
    ) -> None:
        super().__init__(parent, Qt.WindowType.FramelessWindowHint | Qt.WindowType.Dialog)
        self.setWindowModality(Qt.WindowModality.WindowModal)
        self.setObjectName("craft")
        self._document = document
        self._dimmed = Dimmed(parent)
        high = min(HIGH_PX, parent.height() - 20)
        self.setFixedSize(min(WIDE_PX, parent.width() - 20), high)
        corner = parent.mapToGlobal(QPoint((parent.width() - self.width()) // 2, (parent.height() - high) // 2))
        self.move(corner)
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(1, 1, 1, 1)
        self._layout.setSpacing(0)
        self.boxes: list[SchoolBox] = []
        self.stop = stop
        self._turn(stop, at, said)
        if document is not None:
            document.job_changed.connect(self._again)

    def _turn(self, stop: str, at: str = "", said: str = "") -> None:
        """Shows the page of this stop."""
        self.stop, self.boxes = stop, []
        emptied(self._layout)
        page = _page(stop)
        self.setWindowTitle(f"The craft behind {_name(stop)}")
        whole = Panel()
        column = QVBoxLayout(whole)
        column.setContentsMargins(MARGIN, 22, MARGIN, 16)
        column.setSpacing(12)
        top = QHBoxLayout()
        top.addWidget(label(self.windowTitle(), "title"))
        top.addStretch(1)
        back = button("Back to the bench   Esc", "", self.close)
        top.addWidget(back)
        column.addLayout(top)
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._scroll.setWidget(self._body(page, at, said))
        column.addWidget(self._scroll, 1)
        column.addWidget(line())
        column.addLayout(self._foot(stop, page))
        self._layout.addWidget(whole)
        back.setFocus()
        if at:
            QTimer.singleShot(0, self._show_place)

    def _body(self, page: Page, at: str, said: str) -> QWidget:
        seen: set[str] = set()
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 12, 4)
        column.setSpacing(16)
        self._place: QWidget | None = None
        if page.lead:
            column.addWidget(Prose(page.lead, "lead", seen=seen))
        if page.drawings:
            column.addLayout(self._drawings(page.drawings, seen))
            column.addWidget(line())
        flow: list[Paragraph] = []
        for paragraph in page.paragraphs:
            if paragraph.drawings:
                self._flush(column, flow, seen, at, said)
                column.addLayout(self._beside(paragraph.drawings, seen))
            flow.append(paragraph)
            if paragraph.schools:
                last = flow.pop()
                self._flush(column, flow, seen, at, said)
                self._flush(column, [last], seen, at, said)
                column.addLayout(self._schools(paragraph.schools, seen))
        self._flush(column, flow, seen, at, said)
        column.addStretch(1)
        return body

    def _drawings(self, drawings: tuple[Drawing, ...], seen: set[str]) -> QGridLayout:
        """Drawings in a row, their words under them."""
        grid = QGridLayout()
        grid.setHorizontalSpacing(26)
        grid.setVerticalSpacing(6)
        for column, one in enumerate(drawings):
            grid.addWidget(DrawingView(one.name, one.head), 0, column, Qt.AlignmentFlag.AlignHCenter)
            under = QHBoxLayout()
            under.setSpacing(8)
            if one.name in MARKS:
                under.addWidget(Mark(MARKS[one.name]), alignment=Qt.AlignmentFlag.AlignTop)
            head = f"**{one.head}.** " if one.head else ""
            under.addWidget(Prose(f"{head}{one.words}", seen=seen), 1, Qt.AlignmentFlag.AlignTop)
            grid.addLayout(under, 1, column)
            grid.setColumnStretch(column, 1)
        return grid

    def _beside(self, drawings: tuple[Drawing, ...], seen: set[str]) -> QHBoxLayout:
        """Drawings with their words to the right of them."""
        row = QHBoxLayout()
        row.setSpacing(18)
        for one in drawings:
            row.addWidget(DrawingView(one.name, one.head), alignment=Qt.AlignmentFlag.AlignTop)
            words = QVBoxLayout()
            words.setSpacing(3)
            words.addWidget(label(one.head, "section"), 0, Qt.AlignmentFlag.AlignTop)
            words.addWidget(Prose(one.words, seen=seen), 0, Qt.AlignmentFlag.AlignTop)
            words.addStretch(1)
            row.addLayout(words, 1)
        if len(drawings) == 1:
            row.addStretch(1)
        return row

    def _flush(self, column: QVBoxLayout, flow: list[Paragraph], seen: set[str], at: str, said: str) -> None:
        """What has gathered, in two columns of like length; a single paragraph over the whole width."""
        sides = _halved([one for one in flow if one.words])
        row = QHBoxLayout()
        row.setSpacing(30)
        for side in sides:
            words = QVBoxLayout()
            words.setSpacing(12)
            for paragraph in side:
                words.addWidget(self._paragraph(paragraph, seen, said if at and paragraph.head == at else ""))
                if at and paragraph.head == at:
                    item = words.itemAt(words.count() - 1)
                    self._place = item.widget() if item is not None else None
            words.addStretch(1)
            row.addLayout(words, 1)
        if sides:
            column.addLayout(row)
        flow.clear()

    def _paragraph(self, paragraph: Paragraph, seen: set[str], said: str) -> QWidget:
        holder = QWidget()
        words = QVBoxLayout(holder)
        words.setContentsMargins(0, 0, 0, 0)
        words.setSpacing(3)
        if paragraph.head:
            words.addWidget(label(paragraph.head, "section", wrap=True))
        if said:
            box = QFrame()
            box.setObjectName("schoolown")
            inner = QVBoxLayout(box)
            inner.setContentsMargins(12, 8, 12, 8)
            inner.setSpacing(2)
            inner.addWidget(label("On this part", "section"))
            inner.addWidget(Prose(said.replace("*", "\\*"), seen=seen))
            words.addWidget(box)
        words.addWidget(Prose(paragraph.words, seen=seen))
        return holder

    def _schools(self, schools: tuple[School, ...], seen: set[str]) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(22)
        for school in schools:
            box = SchoolBox(school, self._is_own(school), seen)
            box.taken.connect(self._take)
            self.boxes.append(box)
            row.addWidget(box, 1)
        return row

    def _is_own(self, school: School) -> bool | None:
        """Whether the job goes by this school; None where there is no job or no choice for it."""
        job = None if self._document is None else self._document.job
        if job is None or not school.stop:
            return None
        choice = _choice(school)
        value = value_of(job, school.stop, choice) or getattr(choice, "usual", "") or _first(choice)
        return str(value) == school.word

    def _take(self, school: School) -> None:
        if self._document is None:
            return
        self._document.edit(choose_word, school.stop, _choice(school), school.word)

    def _again(self) -> None:
        """The job has changed: the page stays where it is, its boxes say so."""
        if not self.isVisible() or not self.boxes:
            return
        bar = self._scroll.verticalScrollBar()
        at = bar.value() if bar is not None else 0
        self._turn(self.stop)
        bar = self._scroll.verticalScrollBar()
        if bar is not None:
            QTimer.singleShot(0, partial(bar.setValue, at))

    def _foot(self, stop: str, page: Page) -> QHBoxLayout:
        foot = QHBoxLayout()
        order = pages()
        k = order.index(stop) if stop in order else 0
        before, after = order[k - 1] if k else "", order[k + 1] if k + 1 < len(order) else ""
        self.before = button(f"←  {_name(before)}" if before else "", "link", lambda: self._turn(before))
        self.after = button(f"{_name(after)}  →" if after else "", "link", lambda: self._turn(after))
        for one, name in ((self.before, before), (self.after, after)):
            one.setVisible(bool(name))
            one.setAccessibleName(f"The craft behind {_name(name)}" if name else "")
        foot.addWidget(self.before)
        said = label(page.sources, "smallmuted", wrap=True)
        said.setAlignment(Qt.AlignmentFlag.AlignCenter)
        foot.addWidget(said, 1)
        foot.addWidget(self.after)
        return foot

    def _show_place(self) -> None:
        if self._place is not None:
            body = self._scroll.widget()
            bar = self._scroll.verticalScrollBar()
            if body is not None and bar is not None:
                bar.setValue(self._place.mapTo(body, QPoint(0, 0)).y() - 8)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """The page's rim."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), colour("panel"))
        painter.setPen(QPen(colour("ink"), 1))
        painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        painter.end()

    def done(self, result: int) -> None:
        """The bench comes back to light."""
        self._lighten()
        super().done(result)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """The bench comes back to light."""
        self._lighten()
        super().closeEvent(event)

    def _lighten(self) -> None:
        hide_tip(self)
        self._dimmed.hide()


def _choice(school: School) -> Choice:
    """The choice that takes a school."""
    return next(one for stop in stops() if stop.id == school.stop for one in stop.choices if one.key == school.key)


def _first(choice: object) -> str:
    """What a choice without a usual value is taken to be: its first word."""
    options = getattr(choice, "options", None)
    return str(next(iter(options()))) if options is not None else ""


def _halved(paragraphs: list[Paragraph]) -> list[list[Paragraph]]:
    """Two columns of like length, in their order; one where there is one paragraph only."""
    if len(paragraphs) < 2:
        return [paragraphs] if paragraphs else []
    whole = sum(len(one.words) + 60 for one in paragraphs)
    best = min(
        range(1, len(paragraphs)), key=lambda k: abs(2 * sum(len(one.words) + 60 for one in paragraphs[:k]) - whole)
    )
    return [paragraphs[:best], paragraphs[best:]]
