"""The causes of a stop: a row each, with what follows from it folded; then what was cured and what is good to know."""

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from pounce.base.finding import Finding, Remedy
from pounce.bench.look.marks import DRAW_MARKS, Mark
from pounce.bench.widgets.findings import FindingRow
from pounce.bench.widgets.parts import Fold, button, emptied, label, line
from pounce.bench.widgets.saidrow import LitRow, in_rows, rich, top_row
from pounce.causes.values import Cause
from pounce.metals.tables import sources

# Causes shown at once; the rest is one press away.
MOST = 5
MOST_ACTIONS = 2


def follows_words(cause: Cause) -> str:
    """What follows from a cause, in few words: "2 places, sand tears, no joint frees it"."""
    said: list[str] = []
    places = len(cause.regions)
    if places > 1:
        said.append(f"{places} places")
    names = {
        "sand-tears": "sand tears",
        "no-joint-frees-all": "no joint frees it",
        "no-single-joint": "no single joint frees it",
        "slender-sand": "slender sand",
        "askew": "presses when lifted askew",
        "walls-drag": "walls drag",
        "draft-wanted": "no draft line yet",
        "walls-still-tight": "no room to lean some",
        "thin-strip": "thin strips",
        "finer-than-sand": "detail under the grain",
        "sharp-sand": "sharp sand",
        "thin-wall": "thin all through",
    }
    lead = cause.members[0][1].code
    codes = dict.fromkeys(finding.code for _, finding in cause.follows if finding.code != lead)
    said += [names[code] for code in codes if code in names]
    rest = len(cause.members) - 1
    if not said:
        said = [f"{rest} more {'finding' if rest == 1 else 'findings'} of the same"]
    return ", ".join(said)


class CauseRow(LitRow):
    """One open cause. Hovering lights its first place; pressing its fold shows every finding behind it; ``why`` is
    asked for the craft behind it.
    """

    why = pyqtSignal(object)

    def __init__(self, cause: Cause, unit: str, primary: bool) -> None:
        super().__init__(cause.regions, cause.words(unit))
        self.cause = cause
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 6, 0, 0)
        outer.setSpacing(5)
        mark = cause.mark if cause.mark in DRAW_MARKS else "half"
        says = rich(cause.words(unit), cause.noun_words(unit), cause.rank)
        source = sources()[cause.source].words() if cause.source else ""
        outer.addLayout(top_row(mark, says, cause.main_words(unit), source))
        self._more = QWidget()
        self._fold: QPushButton | None = None
        if cause.follows:
            outer.addWidget(self._folded(cause, unit))
        outer.addWidget(self._actions(cause, unit, primary))
        outer.addSpacing(3)
        outer.addWidget(line())
        self.setAccessibleName(f"Cause {cause.rank}: {cause.words(unit)} {cause.main_words(unit)}")

    def _folded(self, cause: Cause, unit: str) -> QWidget:
        """The line behind a bar that opens on every finding."""
        holder = QWidget()
        holder.setObjectName("behind")
        column = QVBoxLayout(holder)
        column.setContentsMargins(8, 0, 0, 0)
        column.setSpacing(2)
        words = follows_words(cause)
        self._fold = button(f"›  {words}", "fold", self._toggle)
        self._fold.setAccessibleName(f"What follows: {words}")
        self._fold.setToolTip(words)
        column.addWidget(self._fold)
        inner = QVBoxLayout(self._more)
        inner.setContentsMargins(12, 0, 0, 2)
        inner.setSpacing(3)
        said = dict.fromkeys(finding.words(unit) for _, finding in cause.members)
        for text in said:
            inner.addWidget(label(text, "smallmuted", wrap=True))
        self._more.hide()
        column.addWidget(self._more)
        frame = QWidget()
        row = QHBoxLayout(frame)
        row.setContentsMargins(26, 0, 0, 0)
        row.addWidget(holder)
        return frame

    def _toggle(self) -> None:
        self._more.setVisible(self._more.isHidden())
        if self._fold is not None:
            text = self._fold.text()
            self._fold.setText(("⌄" if not self._more.isHidden() else "›") + text[1:])

    def _actions(self, cause: Cause, unit: str, primary: bool) -> QWidget:
        doable = [remedy for remedy in cause.remedies if remedy.change is not None]
        advice = [remedy for remedy in cause.remedies if remedy.change is None]
        buttons = [
            button(cause.remedy_words(one, unit), "primary" if primary and nth == 0 else "", self._taker(one))
            for nth, one in enumerate(doable[:MOST_ACTIONS])
        ]
        if cause.place_mm is not None:
            buttons.append(button("Show", "", lambda: self.shown.emit(cause.members[0][1])))
        why = button("Why?", "link", lambda: self.why.emit(cause), "The craft behind it, with this part's figures")
        why.setAccessibleName(f"Why? {cause.words(unit)}")
        buttons.append(why)
        holder = QWidget()
        column = QVBoxLayout(holder)
        column.setContentsMargins(26, 0, 0, 0)
        column.setSpacing(4)
        if advice and not doable:
            column.addWidget(label(cause.remedy_words(advice[0], unit) + ".", "muted", wrap=True))
        for row in in_rows(buttons):
            column.addLayout(row)
        return holder

    def _taker(self, remedy: Remedy) -> Callable[[], None]:
        return lambda: self.taken.emit(remedy)


class CuredRow(QWidget):
    """One cause that is no more: what it was, and what cured it."""

    def __init__(self, cause: Cause, unit: str) -> None:
        super().__init__()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 4, 0, 0)
        outer.setSpacing(0)
        top = QHBoxLayout()
        top.setSpacing(8)
        top.addWidget(Mark("filled"), alignment=Qt.AlignmentFlag.AlignTop)
        words = QVBoxLayout()
        words.setSpacing(0)
        says = rich(cause.words(unit), cause.noun_words(unit), cause.rank)
        words.addWidget(says)
        words.addWidget(label(f"cured by {cause.cured_by}", "cured", wrap=True))
        top.addLayout(words, 1)
        if cause.main is not None:
            top.addWidget(label(f"was {cause.main_words(unit)}", "muted"), alignment=Qt.AlignmentFlag.AlignTop)
        outer.addLayout(top)
        outer.addSpacing(4)
        outer.addWidget(line())
        self.setAccessibleName(f"{cause.words(unit)} Cured by {cause.cured_by}")


class Causes(QWidget):
    """Open causes, cured ones, and what is good to know."""

    lit = pyqtSignal(int)
    shown = pyqtSignal(object)
    taken = pyqtSignal(object)
    why = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self._layout.setSpacing(0)
        self.rows: list[CauseRow] = []
        self._now: object = None

    def show_causes(
        self,
        causes: tuple[Cause, ...],
        cured: tuple[Cause, ...],
        notes: tuple[Finding, ...],
        unit: str,
        primary: bool,
        head: str = "Causes",
    ) -> None:
        """Shows these; their numbers match the tags on the bench. ``head`` what stands over the open ones."""
        now = (causes, cured, notes, unit, primary, head)
        if now == self._now:
            return
        self._now = now
        emptied(self._layout)
        self.rows = []
        if causes:
            behind = sum(len(one.members) for one in causes)
            count = f"{len(causes)}, behind {behind} findings" if behind > len(causes) else str(len(causes))
            self._layout.addWidget(_head(head, count))
            self._open(causes, unit, primary)
        if cured:
            found = sum(len(one.members) for one in cured)
            self._layout.addWidget(_head("Cured", f"{len(cured)}, of {found} found before"))
            for one in cured:
                self._layout.addWidget(CuredRow(one, unit))
        if notes:
            self._notes(notes, unit, bool(causes or cured))

    def _open(self, causes: tuple[Cause, ...], unit: str, primary: bool) -> None:
        rest = QWidget()
        column = QVBoxLayout(rest)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        for nth, cause in enumerate(causes):
            row = CauseRow(cause, unit, primary and nth == 0)
            row.lit.connect(self.lit)
            row.shown.connect(self.shown)
            row.taken.connect(self.taken)
            row.why.connect(self.why)
            self.rows.append(row)
            (self._layout if nth < MOST else column).addWidget(row)
        if len(causes) > MOST:

            def show() -> None:
                rest.show()
                more.hide()

            more = button(f"{len(causes) - MOST} more, of less weight", "link", show)
            self._layout.addWidget(more)
            self._layout.addWidget(rest)
            rest.hide()

    def _notes(self, notes: tuple[Finding, ...], unit: str, folded: bool) -> None:
        """What is good to know: what offers something stands open, the rest is folded."""
        offers = [one for one in notes if any(remedy.change is not None for remedy in one.remedies)]
        rest = [one for one in notes if one not in offers]
        self._layout.addSpacing(6)
        for finding in offers:
            self._layout.addWidget(self._row(finding, unit))
        if rest:
            fold = Fold(f"Good to know ({len(rest)})", folded)
            for finding in rest:
                fold.body.addWidget(self._row(finding, unit))
            self._layout.addWidget(fold)

    def _row(self, finding: Finding, unit: str) -> FindingRow:
        row = FindingRow(finding, None, unit, False)
        row.lit.connect(self.lit)
        row.shown.connect(self.shown)
        row.taken.connect(self.taken)
        return row

    def light(self, region: int) -> None:
        """Marks the cause of the region under the pointer."""
        for row in self.rows:
            row.mark_lit(region)


def _head(text: str, count: str) -> QWidget:
    head = QWidget()
    row = QHBoxLayout(head)
    row.setContentsMargins(0, 6, 0, 2)
    row.addWidget(label(text, "section"))
    row.addStretch(1)
    row.addWidget(label(count, "muted"))
    return head
