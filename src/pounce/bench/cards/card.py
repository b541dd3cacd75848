"""What every card is: title, controls, figures, findings, and one wide button at the foot."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from pounce.base.choice import Choice, FigureChoice
from pounce.base.finding import Finding
from pounce.bench.cards.lifting import Lifting
from pounce.bench.cards.rows import figure, row
from pounce.bench.document import Document
from pounce.bench.look.tokens import CARD
from pounce.bench.stops.view import Shown, StopView, title_of, view_of
from pounce.bench.view3d.asks import Spot
from pounce.bench.widgets.causes import Causes
from pounce.bench.widgets.findings import Findings
from pounce.bench.widgets.parts import Figure, Panel, Row, Segments, button, emptied, label, line
from pounce.job import edits
from pounce.job.choose import HOLDERS, choose, figure_of
from pounce.route.stops import ids, stop_of


class Card(Panel):
    """A card reads results and makes edits; subclasses fill ``body`` and ``refresh_body``."""

    lit = pyqtSignal(int)
    show_place = pyqtSignal(object)
    go = pyqtSignal(str)
    # what only some cards tell: the draw to be tilted, the cope lifted, a line pointed at, another way of showing,
    # another view of the stop, files wanted, the craft behind a cause
    tilt = pyqtSignal(float, float)
    lifted = pyqtSignal(object)
    pointed = pyqtSignal(int)
    shown = pyqtSignal()
    turned = pyqtSignal()
    write = pyqtSignal()
    why = pyqtSignal(object)

    stop = ""
    # the trial draw by hand, where it has one
    lifting: Lifting | None = None

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setFixedWidth(CARD)
        self.document = document
        outer = QVBoxLayout(self)
        outer.setContentsMargins(16, 12, 12, 14)
        outer.setSpacing(6)
        title, under = title_of(self.stop), view_of(self.stop).under
        head = QVBoxLayout()
        head.setSpacing(0)
        self.top = QHBoxLayout()
        self.top.addWidget(label(title, "title"))
        self.top.addStretch(1)
        head.addLayout(self.top)
        self._under = label(under, "muted")
        head.addWidget(self._under)
        outer.addLayout(head)
        self.judged = Segments([("pattern", "Pattern"), ("wanted", "As wanted")], "What is judged")
        self.judged.chosen.connect(lambda what: document.judging.show_wanted(what == "wanted"))
        self._judged_row = Row("Judged is the", self.judged, "The finished pattern, or the bare part as it is wanted")
        self._judged_row.hide()
        outer.addWidget(self._judged_row)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inner = QWidget()
        self.body = QVBoxLayout(inner)
        self.body.setContentsMargins(0, 6, 6, 0)
        self.body.setSpacing(7)
        self.fill()
        self.own: list[tuple[FigureChoice, Figure]] = []
        if self.stop not in HOLDERS:  # a further stop has no rows but those of its table
            for choice in stop_of(self.stop).choices:
                if isinstance(choice, FigureChoice):
                    self._add_choice(choice)
        self.body.addWidget(line())
        self.findings = Findings()
        self.findings.lit.connect(self.lit)
        self.findings.shown.connect(self.show_place)
        self.findings.taken.connect(document.remedy)
        self.causes = Causes()
        self.causes.lit.connect(self.lit)
        self.causes.shown.connect(self.show_place)
        self.causes.taken.connect(document.remedy)
        self.causes.why.connect(self.why)
        self.body.addWidget(self.findings)
        self.body.addWidget(self.causes)
        self.body.addStretch(1)
        scroll.setWidget(inner)
        outer.addWidget(scroll, 1)
        self.foot = button("", "wide", self.act)
        outer.addWidget(self.foot)

    def _add_choice(self, choice: FigureChoice) -> None:
        """A row made from a row of the stop's table of choices."""
        field = figure(choice)
        field.given.connect(self.giving(choice))
        self.own.append((choice, field))
        self.body.addWidget(row(choice, field))

    def add_lifting(self, column: QVBoxLayout) -> Lifting:
        """Puts the trial draw into a column."""
        lifting = Lifting(self.document)
        lifting.lifted.connect(self.lifted)
        lifting.turned.connect(self.refresh)
        column.addWidget(lifting)
        return lifting

    def giving(self, choice: Choice, stop: str = "") -> Callable[[Any], object]:
        """What to do with a value given for this choice: one edit of the job."""
        return lambda value: self.document.edit(choose, stop or self.stop, choice, value)

    def fill(self) -> None:
        """Puts the controls into the body."""

    def refresh_body(self) -> None:
        """Shows the job and its results in the controls."""

    def shown_findings(self) -> tuple[Finding, ...]:
        """The findings of this stop."""
        return self.document.findings(self.stop)

    def refresh(self) -> None:
        """Shows the job as it is now."""
        if self.document.job is None:
            return
        self._under.setText(self.stop_view.under)
        self.refresh_body()
        for choice, field in self.own:
            field.show_value(figure_of(self.document.job, self.stop, choice))
        results = self.document.results()
        proof = None if results is None else results.proof
        self._judged_row.setVisible(view_of(self.stop).judges and proof is not None and proof.changed)
        self.judged.show_choice("wanted" if self.document.judging.as_wanted else "pattern")
        self._refresh_foot(self._show_said())

    def _show_said(self) -> int:
        """Causes, or the bare findings while they are not grouped yet; how many are open."""
        unit, primary = self.document.unit, not self.foot_is_primary()
        causes = self.document.judging.causes(self.stop)
        self.causes.setVisible(causes is not None)
        self.findings.setVisible(causes is None)
        if causes is None:
            found = self.shown_findings()
            self.findings.show_findings(found, self.stop_view.numbered, unit, primary)
            return sum(not finding.informational for finding in found)
        opened, cured, notes = causes
        self.causes.show_causes(opened, cured, notes, unit, primary)
        return len(opened)

    # --- what a stop may take up; most do not ----------------------------------------------------------------------

    @property
    def on_board(self) -> bool:
        """Whether a board of its stop stands in the place of picture and strip."""
        return True

    @property
    def stop_view(self) -> StopView:
        """What the bench shows of its stop now."""
        return view_of(self.stop)

    def scene_shown(self) -> Shown:
        """How its scene is wanted."""
        return Shown()

    def leave(self) -> None:
        """Another stop is visited: a trial draw ends."""
        if self.lifting is not None and self.lifting.under_way:
            self.lifting.lower()

    def light(self, region: int) -> None:
        """Lights what belongs to a region."""
        self.findings.light(region)
        self.causes.light(region)

    def point_at(self, spot: Spot | None) -> None:
        """A place on the bench was clicked."""

    def name_of(self, _region: int) -> str:
        """What lies under the pointer, in words."""
        return ""

    def move_joint(self, by_mm: float) -> None:
        """The joint's handle was moved along the draw."""

    def play(self) -> None:
        """Lifts the cope."""
        if self.lifting is not None:
            self.lifting.play()

    def prove(self, on: bool = True) -> None:
        """Shows the proof, where it has one."""

    def set_lift(self, lift_mm: float) -> None:
        """The cope at this lift, by hand."""
        if self.lifting is not None:
            self.lifting.set_lift(lift_mm)

    def most(self) -> float:
        """The greatest lift, mm."""
        return 0.0 if self.lifting is None else self.lifting.most()

    def foot_is_primary(self) -> bool:
        """Whether the wide button is the thing to do now."""
        return False

    def _refresh_foot(self, opened: int) -> None:
        job = self.document.job
        accepted = job is not None and self.stop in job.accepted
        following = self._following()
        if accepted or not opened:
            text = f"Go to {title_of(following)}"
        else:
            what = "cause" if self.document.judging.causes(self.stop) is not None else "finding"
            text = f"Settle {title_of(self.stop)} with {opened} {what if opened == 1 else what + 's'} open"
        self.foot.setText(text)

    def _following(self) -> str:
        route = ids()
        return route[(route.index(self.stop) + 1) % len(route)]

    def act(self) -> None:
        """The wide button: settle this stop and go on."""
        job = self.document.job
        if job is None:
            return
        causes = self.document.judging.causes(self.stop)
        opened = causes[0] if causes is not None else [one for one in self.shown_findings() if not one.informational]
        if opened and self.stop not in job.accepted:
            self.document.edit(edits.set_accepted, self.stop, True)
        self.go.emit(self._following())


class FigureTable(QWidget):
    """Names on the left, bold figures on the right."""

    def __init__(self, rows: list[tuple[str, str]]) -> None:
        super().__init__()
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(3)
        self._now: list[tuple[str, str]] = []
        self.show_rows(rows)

    def show_rows(self, rows: list[tuple[str, str]]) -> None:
        """Shows these rows in place of those before."""
        if rows == self._now:
            return
        self._now = rows
        emptied(self._column)
        for name, text in rows:
            self._column.addWidget(_pair(name, text))


def _pair(name: str, text: str) -> QWidget:
    row = QWidget()
    layout = QHBoxLayout(row)
    layout.setContentsMargins(0, 0, 0, 0)
    layout.addWidget(label(name))
    layout.addStretch(1)
    layout.addWidget(label(text, "value"))
    return row
