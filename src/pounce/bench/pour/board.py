"""The pour in place of picture and strip: steps by the clock over the curve of the melt, or large figures."""

from PyQt6.QtWidgets import QApplication, QStackedWidget, QVBoxLayout, QWidget

from pounce.bench.document import Document
from pounce.bench.pour.chart import Chart
from pounce.bench.pour.curve import CurveStrip
from pounce.bench.pour.large import LargeFigures
from pounce.bench.pour.under_way import under_way_of
from pounce.bench.stops.view import Board, Headline
from pounce.bench.widgets.head import Head
from pounce.route.results import Results


class PourBoard(Board):
    """Shows the pour; a step that is pressed is begun, and done when it is pressed again."""

    hands = "Press a step to begin it, again when it is done · arrows choose, space presses"

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.under_way, self._saying = under_way_of(document), Headline("", "")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.head, self.chart, self.curve, self.large = Head(), Chart(), CurveStrip(), LargeFigures()
        whole = QWidget()
        inner = QVBoxLayout(whole)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.setSpacing(1)
        inner.addWidget(self.chart, 1)
        inner.addWidget(self.curve)
        self.stack = QStackedWidget()
        self.stack.addWidget(whole)
        self.stack.addWidget(self.large)
        column.addWidget(self.head)
        column.addWidget(self.stack, 1)
        self.chart.steps.pressed.connect(self._pressed)
        self.under_way.changed.connect(self.refresh)
        self.under_way.ticked.connect(self.refresh)
        self.under_way.rang.connect(self._rang)

    def show_results(self, _results: Results, saying: Headline, _unit: str) -> None:
        """The pour as it is known."""
        self._saying = saying
        self.under_way.look()
        self.refresh()

    def refresh(self) -> None:
        """Clock and curve as they are now."""
        if not self.isVisible():
            return
        way = self.under_way
        times, now = way.times(), way.clock.now()
        self.head.say(self._saying, "" if times is None else times.warning())
        self.stack.setCurrentIndex(1 if way.large else 0)
        if way.large:
            self.large.show_now(way.made, times, now, way.curve, way.advice())
            return
        self.chart.steps.show_times(times, now)
        self.curve.show_melt(way.made, way.curve, way.advice(), way.arrest(), way.line)

    def let_go(self) -> None:
        """The window closes: the meter and the clock are let go."""
        self.under_way.close()

    def _pressed(self, step: str) -> None:
        made = self.under_way.made
        if made is not None:
            self.under_way.press(next(one for one in made.steps if one.id == step))

    def _rang(self, text: str) -> None:
        QApplication.beep()
        window = self.window()
        if window is not None:
            QApplication.alert(window)
        self.under_way.document.fault.emit(text)
