"""The strip of the guided first pattern: which step, what it asks, answers as buttons, then what came of it."""

from functools import partial

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from pounce.bench.look.marks import Mark, ring
from pounce.bench.look.tokens import colour
from pounce.bench.widgets.parts import button, emptied, label
from pounce.guide.steps import Asked, Told

DOT, PITCH = 12, 18


class Dots(QWidget):
    """A ring a step: filled behind, half here, open before."""

    def __init__(self) -> None:
        super().__init__()
        self._at, self._of = 0, 1

    def show_step(self, at: int, of: int) -> None:
        """Step ``at`` of ``of``, from 0."""
        self._at, self._of = at, of
        self.setFixedSize(QSize(PITCH * of, 18))
        self.setAccessibleName(f"Step {at + 1} of {of}")
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paints the rings."""
        painter = QPainter(self)
        for k in range(self._of):
            state = "filled" if k < self._at else "half" if k == self._at else "open"
            ring(painter, state, PITCH * k, 3, DOT)
        painter.end()


class GuideStrip(QWidget):
    """``taken`` an answer, by its number; ``done`` when what is offered is to be done; ``next``; ``left``."""

    taken = pyqtSignal(int)
    next = pyqtSignal()
    done = pyqtSignal()
    left = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("guide")
        self.setAccessibleName("A guided first pattern")
        outer = QVBoxLayout(self)
        outer.setContentsMargins(16, 8, 12, 9)
        outer.setSpacing(5)
        top = QHBoxLayout()
        top.setSpacing(10)
        self._dots = Dots()
        self._step = label("", "muted")
        top.addWidget(self._dots)
        top.addWidget(self._step)
        top.addStretch(1)
        self.leave = button("Leave it for now", "link", self.left.emit)
        top.addWidget(self.leave)
        outer.addLayout(top)
        self._right, self._wrong = Mark("filled"), Mark("half")
        said = QHBoxLayout()
        said.setSpacing(8)
        for mark in (self._right, self._wrong):
            said.addWidget(mark)
        self.says = label("", "section", wrap=True)
        said.addWidget(self.says, 1)
        outer.addLayout(said)
        self.looks = label("", "", wrap=True)
        outer.addWidget(self.looks)
        self._row = QHBoxLayout()
        self._row.setSpacing(8)
        outer.addLayout(self._row)
        self.answers: list[QPushButton] = []
        self._now: object = None

    def wait(self, at: int, of: int, stuck: str = "") -> None:
        """What the step needs is being worked out, or never comes: ``stuck`` says so, and the next step is offered."""
        if self._now == (at, stuck):
            return
        self._head(at, of)
        self._say(stuck or "Working it out: the question comes as soon as the part is judged.", "", None)
        self._buttons([button("Go on", "", self.next.emit)] if stuck else [])
        self._now = (at, stuck)

    def ask(self, at: int, of: int, asked: Asked) -> None:
        """Puts a question, its answers as buttons."""
        if self._now == (at, asked):
            return
        self._head(at, of)
        self._say(asked.question, "", None)
        self._buttons([button(one, "", partial(self.taken.emit, nth)) for nth, one in enumerate(asked.answers)])
        self._now = (at, asked)

    def tell(self, told: Told, do: str, last: bool) -> None:
        """What came of the answer; ``do`` the words of what can be done about it ("" for nothing)."""
        self._say(told.says, told.looks, told.right)
        buttons = [button(f"{do[:1].upper()}{do[1:]}", "primary", self.done.emit)] if do else []
        buttons.append(button("That was all" if last else "Go on", "" if do else "primary", self.next.emit))
        self._buttons(buttons)
        self._now = None

    def _head(self, at: int, of: int) -> None:
        self._dots.show_step(at, of)
        self._step.setText(f"Your first pattern, step {at + 1} of {of}")

    def _say(self, says: str, looks: str, right: bool | None) -> None:
        lead = "" if right is None else "Right. " if right else "Not quite. "
        self.says.setText(lead + says)
        self.looks.setText(looks)
        self.looks.setVisible(bool(looks))
        self._right.setVisible(right is True)
        self._wrong.setVisible(right is False)
        self.setAccessibleDescription(f"{lead}{says} {looks}")

    def _buttons(self, buttons: list[QPushButton]) -> None:
        window = self.window()
        # the window's own keyboard focus, whether or not the window is the active one just now
        had = not self.answers or (window is not None and window.focusWidget() in self.answers)
        emptied(self._row)
        while self._row.count():
            self._row.takeAt(0)
        self.answers = buttons
        for one in buttons:
            self._row.addWidget(one)
        self._row.addStretch(1)
        if had and buttons:  # who answers by the keyboard goes on by it
            buttons[0].show()
            buttons[0].setFocus(Qt.FocusReason.OtherFocusReason)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """A panel with a tongue of brass at its left."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), colour("panel"))
        painter.fillRect(0, 0, 5, self.height(), colour("brass"))
        painter.end()
