"""The trial draw by hand: rapping, hands askew, and the buttons that lift, draw and lower."""

from PyQt6.QtCore import QTimer, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QStyle, QVBoxLayout, QWidget

from pounce.base.units import to_mm
from pounce.bench.cards.rows import figure
from pounce.bench.cards.rows import row as row_of
from pounce.bench.document import Document
from pounce.bench.section.sketch import Lifted
from pounce.bench.widgets.parts import button
from pounce.job.choose import choose
from pounce.parting.choices import RAP, TILT
from pounce.parting.values import PartingChoices
from pounce.route.results import Results
from pounce.route.stops import PARTING

PLAY_MS, PLAY_STEPS = 60, 46
# The pattern is drawn so much of the lift.
DRAWN = 0.6


class Lifting(QWidget):
    """``lifted`` tells how far the trial is, None when there is none; ``turned`` that it began or ended."""

    lifted = pyqtSignal(object)
    turned = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.lift_mm, self.drawn_mm, self.under_way = 0.0, 0.0, False
        self._phase = "lift"
        self._play = QTimer(self)
        self._play.setInterval(PLAY_MS)
        self._play.timeout.connect(self._step)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        self.rap, self.rock = figure(RAP), figure(TILT)
        self.rap.given.connect(lambda value: document.edit(choose, PARTING.id, RAP, to_mm(value, document.unit)))
        self.rock.given.connect(lambda value: document.edit(choose, PARTING.id, TILT, value))
        column.addWidget(row_of(RAP, self.rap))
        column.addWidget(row_of(TILT, self.rock))
        row = QHBoxLayout()
        row.setSpacing(6)
        self.lift_button = button(
            "Lift slowly", "", self.lift_slowly, "Lifts the cope and shows the sand that stays behind"
        )
        self.draw_button = button("Draw the pattern", "", self.draw_slowly, "Draws what lies in the drag")
        self.lower_button = button("Lower", "", self.lower, "Back to the closed mould")
        self._buttons = (self.lift_button, self.draw_button, self.lower_button)
        for one in self._buttons:
            row.addWidget(one)
        column.addLayout(row)

    def show_choices(self, results: Results, choices: PartingChoices, unit: str) -> None:
        """Shows rapping and tilt; without a closed part that is drawn there is no trial."""
        self.rap.show_length(choices.rap_mm, unit)
        self.rock.show_value(choices.tilt_deg)
        draws = results.metal is not None and results.metal.pattern.draws
        for one in self._buttons:
            one.setEnabled(draws and results.parting is not None and results.part is not None and results.part.closed)

    def most(self) -> float:
        """The greatest lift, mm."""
        results = self.document.results()
        return 0.0 if results is None or results.draw is None else 1.5 * results.draw.depth_mm

    def play(self) -> None:
        """Lifts the cope, where there is a trial; else says why there is none."""
        if self.lift_button.isEnabled():
            self.lift_slowly()
        else:
            self.document.fault.emit(
                "There is no trial draw: it needs a closed part and a pattern that is drawn from the sand."
            )

    def lift_slowly(self) -> None:
        """Plays the lift from where it is, or from the start when it is up."""
        if self.lift_mm >= self.most():
            self.lift_mm = 0.0
        self.drawn_mm = 0.0
        self._start("lift")

    def draw_slowly(self) -> None:
        """Plays the drawing of the pattern, the cope already up."""
        self.lift_mm = self.most()
        if self.drawn_mm >= self.most() * DRAWN:
            self.drawn_mm = 0.0
        self._start("draw")

    def _start(self, phase: str) -> None:
        self._phase, self.under_way = phase, True
        style = self.style()
        still = style is not None and not style.styleHint(QStyle.StyleHint.SH_Widget_Animate)
        if still:  # the system asks for no motion
            self.set_lift(self.most()) if phase == "lift" else self._tell(drawn=DRAWN * self.most())
        else:
            self._play.start()
            self._tell()
        self.turned.emit()

    def _step(self) -> None:
        step = self.most() / PLAY_STEPS
        if self._phase == "lift":
            self.lift_mm = min(self.lift_mm + step, self.most())
        else:
            self.drawn_mm = min(self.drawn_mm + step * DRAWN, DRAWN * self.most())
        if self.lift_mm >= self.most() and (self._phase == "lift" or self.drawn_mm >= DRAWN * self.most()):
            self._play.stop()
        self._tell()

    def set_lift(self, lift_mm: float) -> None:
        """The cope at this lift, by hand."""
        self._play.stop()
        self.under_way, self.lift_mm = True, min(max(lift_mm, 0.0), self.most())
        self._tell()

    def _tell(self, drawn: float | None = None) -> None:
        if drawn is not None:
            self.drawn_mm = drawn
        self.lifted.emit(Lifted(self.lift_mm, self.drawn_mm) if self.under_way else None)

    def lower(self) -> None:
        """Ends the trial: the mould is closed again."""
        self._play.stop()
        self.lift_mm, self.drawn_mm, self.under_way = 0.0, 0.0, False
        self._tell()
        self.turned.emit()
