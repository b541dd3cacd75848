"""The logbook in place of picture and strip: what was learned, what went wrong and why, what was poured."""

from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QStackedWidget, QVBoxLayout, QWidget

from pounce.bench.document import Document
from pounce.bench.log import writes
from pounce.bench.log.bars import ContractionBars
from pounce.bench.log.charts import Charts
from pounce.bench.log.desk import log_desk_of
from pounce.bench.log.pours import PoursList
from pounce.bench.log.suspects import SuspectsPanel
from pounce.bench.stops.view import Board, Headline
from pounce.bench.widgets.head import Head
from pounce.bench.widgets.parts import line
from pounce.logbook.said import Seen
from pounce.route.results import Results


class LogBoard(Board):
    """Looks at the same entry as the card."""

    hands = "Press a pour to open it · what is learned counts long sizes for more"

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document, self.desk = document, log_desk_of(document)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.head, self.bars, self.suspects, self.pours = Head(), ContractionBars(), SuspectsPanel(), PoursList()
        column.addWidget(self.head)
        self.charts = Charts()
        book = QWidget()
        pages = QVBoxLayout(book)
        pages.setContentsMargins(0, 0, 0, 0)
        pages.setSpacing(0)
        pages.addWidget(self.bars)
        pages.addWidget(self.suspects, 1)
        self.stack = QStackedWidget()
        self.stack.addWidget(book)
        self.stack.addWidget(self.charts)
        column.addWidget(self.stack, 1)
        column.addWidget(line())
        foot = QWidget()
        inner = QVBoxLayout(foot)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.addWidget(self.pours)
        foot.setFixedHeight(176)
        column.addWidget(foot)
        self.pours.opened.connect(self._opened)
        self.pours.wanted.connect(self._write)
        self.pours.taken.connect(self._take)
        self.desk.changed.connect(self._refresh)
        self._saying, self._unit, self._asked = Headline("", ""), "mm", ""

    def show_results(self, _results: Results, saying: Headline, unit: str) -> None:
        """What the logbook says."""
        self._saying, self._unit = saying, unit
        self.desk.look()
        self._refresh()

    def let_go(self) -> None:
        """The window closes: what is written is written first."""
        self.desk.writes.close()

    def _refresh(self) -> None:
        if not self.isVisible():
            return
        made, job = self.desk.made, self.document.job
        self.head.say(self._saying)
        name = "" if job is None else job.name
        if made is None:
            self.bars.show_learned(None, name, 0.0)
        else:
            self.bars.show_learned(made.contraction, name, made.made_percent)
        self.pours.show_log(made, "" if job is None else job.log.id, self._unit)
        self.stack.setCurrentIndex(1 if self.desk.charts else 0)
        if made is not None:
            self.charts.show_season(made.season)
        seen = self.desk.seen
        mine = [one for one in seen if one.casting == self.desk.number] or list(seen)
        first = mine[0] if mine else None
        self.suspects.show_seen(first, len(seen))
        self._ask_picture(first)

    def _ask_picture(self, seen: Seen | None) -> None:
        """A picture of the part with the place, once for each place."""
        job = self.document.job
        place = None if seen is None else seen.defect.at_mm
        asked = "" if job is None or place is None else f"{job.part.model} {place}"
        if asked == self._asked:
            return
        self._asked = asked
        self.suspects.show_picture(None)
        if job is not None and place is not None:
            self.document.worker.ask(
                "log-picture", job, place, text="", on_answer=lambda answer: self._pictured(asked, *answer)
            )

    def _pictured(self, asked: str, data: bytes, spot: tuple[float, float]) -> None:
        if asked == self._asked:
            self.suspects.show_picture(data, spot)

    def _opened(self, pour_id: str) -> None:
        made = self.desk.made
        if made is not None and any(one.id == pour_id for one in made.pours):
            self.desk.select(pour_id)
        else:
            self.document.said.emit("That pour is of another job: open it from the shelf to change its entry.")

    def _write(self) -> None:
        start = str(self.document.folder / "logbook.json")
        kinds = "Logbook (*.json);;Tables (*.zip);;List (*.csv)"
        name, _ = QFileDialog.getSaveFileName(self, "Write the logbook", start, kinds)
        if name:
            path = Path(name)
            self.desk.writes.do(
                partial(writes.export, path), lambda many: self.document.said.emit(f"{many} pours written: {path.name}")
            )

    def _take(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, "Take a logbook in", str(self.document.folder), "Logbooks (*.json *.zip)"
        )
        if name:
            self.desk.writes.do(partial(writes.take_in, Path(name)), self._taken)

    def _taken(self, many: int) -> None:
        self.document.said.emit(f"{many} pours taken in")
        self.document.work()
