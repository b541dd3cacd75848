"""Plans on the bench: the chosen one wide with its lines to tick, its rivals narrow beside it, and what it cures."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QCheckBox, QFrame, QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from pounce.base.units import area, length, quantity, volume
from pounce.bench.look.marks import DRAW_MARKS
from pounce.bench.look.tokens import CARD
from pounce.bench.widgets.parts import Panel, button, emptied, label, line
from pounce.bench.widgets.saidrow import rich, top_row
from pounce.causes.values import Cause
from pounce.plan.values import Line, LineKind, Plan
from pounce.proof.values import Verdict

WIDE, NARROW = 356, 172


def _picture(data: bytes, width: int, height: int) -> QLabel:
    out = label("")
    out.setFixedHeight(height)
    out.setAlignment(Qt.AlignmentFlag.AlignCenter)
    shown = QPixmap()
    if data and shown.loadFromData(data):
        out.setPixmap(
            shown.scaled(width, height, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
        )
    return out


def _column(name: str, width: int) -> tuple[QFrame, QVBoxLayout]:
    frame = QFrame()
    frame.setObjectName(name)
    frame.setFixedWidth(width)
    inner = QVBoxLayout(frame)
    inner.setContentsMargins(12, 10, 12, 10)
    inner.setSpacing(4)
    return frame, inner


def _pair(name: str, figure: str, small: bool = False) -> QWidget:
    row = QWidget()
    layout = QHBoxLayout(row)
    layout.setContentsMargins(0, 0, 0, 0)
    layout.addWidget(label(name, "smallmuted" if small else ""))
    layout.addStretch(1)
    layout.addWidget(label(figure, "chip" if small else "value"))
    return row


def _hours(value: float) -> str:
    return quantity("all_hours", value)


def _leaves(plan: Plan) -> str:
    return {Verdict.CLEAN: "clean", Verdict.DRAGS: "with a slow lift", Verdict.LOCKS: "not freed"}.get(
        plan.proof.verdict, "not proved"
    )


def _alone() -> QFrame:
    frame, column = _column("planrival", NARROW)
    column.addWidget(label("No rival", "chip"))
    column.addWidget(label("Each other draw that was tried holds sand and would lose its mould.", "small", wrap=True))
    column.addStretch(1)
    return frame


class LineRow(QWidget):
    """One line of the chosen plan, to tick or leave out."""

    ticked = pyqtSignal(str, bool)

    def __init__(self, nth: int, of: Line, unit: str, on: bool) -> None:
        super().__init__()
        text = of.words(unit)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 3, 0, 0)
        outer.setSpacing(2)
        top = QHBoxLayout()
        self.box = QCheckBox(f"{nth}  {text}")
        self.box.setChecked(on)
        self.box.setEnabled(of.kind is not LineKind.DRAW)  # the others hang on it
        self.box.setToolTip(text)
        self.box.toggled.connect(lambda ticked: self.ticked.emit(of.id, ticked))
        top.addWidget(self.box, 1)
        top.addWidget(label(of.main_words(unit), "value"))
        outer.addLayout(top)
        outer.addWidget(label(f"        {of.reason_words(unit)}", "smallmuted", wrap=True))
        outer.addWidget(line())


class PlanBench(Panel):
    """Headline, the chosen plan and its rivals. ``looked`` at another plan (its number), a line ``ticked``."""

    looked = pyqtSignal(int)
    ticked = pyqtSignal(str, bool)

    def __init__(self) -> None:
        super().__init__("paper")
        outer = QVBoxLayout(self)
        outer.setContentsMargins(20, 12, 20, 12)
        outer.setSpacing(2)
        self.head, self.under = label("", "title", wrap=True), label("", "muted", wrap=True)
        outer.addWidget(self.head)
        outer.addWidget(self.under)
        outer.addSpacing(8)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inner = QWidget()
        self._row = QHBoxLayout(inner)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(8)
        self._row.setAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop)
        scroll.setWidget(inner)
        outer.addWidget(scroll, 1)

    def wait(self, text: str) -> None:
        """Nothing is known yet."""
        emptied(self._row)
        self.head.setText("Trying ways to make it.")
        self.under.setText(text)

    def show_plans(
        self,
        plans: tuple[Plan, ...],
        pictures: list[bytes],
        chosen: int,
        left_out: frozenset[str],
        unit: str,
        busy: bool,
    ) -> None:
        """The plans, the chosen one first."""
        emptied(self._row)
        plan = plans[chosen]
        self.head.setText(f"{plan.title}.")
        self.under.setText(f"{plan.why} {'Rivals are still being tried.' if busy else ''}".strip())
        self._row.addWidget(self._chosen(plan, pictures[chosen], left_out, unit))
        for nth, rival in enumerate(plans):
            if nth != chosen:
                self._row.addWidget(self._rival(nth, rival, plan, pictures[nth], unit))
        if len(plans) == 1 and not busy:
            self._row.addWidget(_alone())
        self._row.addStretch(1)

    def _chosen(self, plan: Plan, picture: bytes, left_out: frozenset[str], unit: str) -> QFrame:
        frame, column = _column("planchosen", WIDE)
        top = QHBoxLayout()
        top.addWidget(_picture(picture, 230, 190), 1)
        figures = QVBoxLayout()
        figures.setSpacing(3)
        for name, figure in (
            ("Work", _hours(plan.cost.hours)),
            ("Cores", str(plan.cores) if plan.cores else "none"),
            ("Feeders", _fed(plan)),
            ("Metal added", volume(plan.metal_mm3, unit)),
            ("Deep at most", length(plan.depth_mm, unit)),
            ("Leaves", _leaves(plan)),
        ):
            figures.addWidget(label(name, "smallmuted"))
            figures.addWidget(label(figure, "value"))
        top.addLayout(figures)
        column.addLayout(top)
        for nth, one in enumerate(plan.lines, 1):
            row = LineRow(nth, one, unit, one.id not in left_out)
            row.ticked.connect(self.ticked)
            column.addWidget(row)
        for text in plan.left:
            column.addWidget(label(f"Left: {text}", "smallmuted", wrap=True))
        column.addStretch(1)
        return frame

    def _rival(self, nth: int, rival: Plan, first: Plan, picture: bytes, unit: str) -> QFrame:
        frame, column = _column("planrival", NARROW)
        column.addWidget(label(rival.title, "chip", wrap=True))
        column.addWidget(_picture(picture, NARROW - 30, 116))
        column.addWidget(label(rival.why, "small", wrap=True))
        column.addWidget(line())
        column.addWidget(label("Against this one", "smallmuted"))
        more, metal = rival.cost.hours - first.cost.hours, rival.metal_mm3 - first.metal_mm3
        sign = "+ " if more >= 0.0 else "− "
        column.addWidget(_pair("Work", sign + _hours(abs(more)), True))
        column.addWidget(_pair("Cores", str(rival.cores) if rival.cores else "none", True))
        column.addWidget(_pair("Feeders", _fed(rival), True))
        column.addWidget(_pair("Metal", ("+ " if metal >= 0.0 else "− ") + volume(abs(metal), unit), True))
        column.addWidget(_pair("Leaves", _leaves(rival), True))
        column.addWidget(_pair("Tight", area(rival.tight_mm2, unit), True))
        column.addStretch(1)
        column.addWidget(button("Look at this one", "", lambda: self.looked.emit(nth)))
        return frame


def _fed(plan: Plan) -> str:
    """Feeders and chills that a casting wants as it lies."""
    chills = f"{plan.chills} chill{'s' if plan.chills > 1 else ''}" if plan.chills else ""
    return ", ".join(filter(None, (str(plan.feeders) if plan.feeders else "", chills))) or "none"


class PlanCard(Panel):
    """What stands in the way and which line cures it; what the plan adds up to; taking it."""

    taken = pyqtSignal()
    closed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setFixedWidth(CARD)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(16, 12, 12, 14)
        outer.setSpacing(4)
        outer.addWidget(label("Plan", "title"))
        self.under = label("", "muted")
        outer.addWidget(self.under)
        holder = QWidget()
        self._body = QVBoxLayout(holder)
        self._body.setContentsMargins(0, 6, 6, 0)
        self._body.setSpacing(4)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.setWidget(holder)
        outer.addWidget(scroll, 1)
        outer.addWidget(label("Each line stays yours to change at its stop.", "smallmuted"))
        self.foot = button("Take this plan", "wideprimary", self.taken.emit)
        outer.addWidget(self.foot)
        self.back = button("Back to the stops", "link", self.closed.emit)
        outer.addWidget(self.back)

    def show_plan(
        self,
        plan: Plan | None,
        plans: int,
        causes: tuple[Cause, ...],
        left_out: frozenset[str],
        part_mm3: float,
        unit: str,
    ) -> None:
        """What the plan does about each cause; ``plan`` None while there is none."""
        emptied(self._body)
        self.foot.setEnabled(plan is not None)
        number = {1: "One way", 2: "Two ways", 3: "Three ways"}.get(plans, "Ways")
        self.under.setText(f"{number}, tried to the end." if plans else "Ways are being tried.")
        if plan is None:
            return
        if causes:
            self._body.addWidget(label("What stands in the way", "section"))
        for nth, cause in enumerate(causes, 1):
            self._body.addWidget(_cause_row(nth, cause, plan, left_out, unit))
        self._body.addSpacing(6)
        self._body.addWidget(label("Adds up to", "section"))
        kept = sum(one.figures.get("added_mm3", 0.0) for one in plan.lines if one.id in left_out)
        for name, figure in (
            ("Part as wanted", volume(part_mm3, unit)),
            ("Metal added", volume(max(plan.metal_mm3 - kept, 0.0), unit)),
            ("Pattern, once", _hours(plan.cost.pattern)),
            ("Each casting", _hours(plan.cost.each)),
            (f"In all, {plan.cost.castings} castings", _hours(plan.cost.hours)),
        ):
            self._body.addWidget(_pair(name, figure))
        self._body.addStretch(1)


def _cause_row(nth: int, cause: Cause, plan: Plan, left_out: frozenset[str], unit: str) -> QWidget:
    row = QWidget()
    outer = QVBoxLayout(row)
    outer.setContentsMargins(0, 4, 0, 0)
    outer.setSpacing(1)
    mark = cause.mark if cause.mark in DRAW_MARKS else "half"
    outer.addLayout(top_row(mark, rich(cause.words(unit), cause.noun_words(unit), nth), cause.main_words(unit)))
    cures = [n for n, one in enumerate(plan.lines, 1) if cause.rule in one.cures and one.id not in left_out]
    if cures:
        told = f"line {cures[0]} cures it" if len(cures) == 1 else f"lines {', '.join(map(str, cures))} cure it"
        outer.addWidget(label(f"      {told}", "cured"))
    else:
        outer.addWidget(label("      the plan leaves it to you", "smallmuted"))
    outer.addWidget(line())
    return row
