"""The Logbook card: a quick entry, the sizes of a casting, a defect, what is completed later."""

from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFileDialog

from pounce.base.finding import Remedy
from pounce.base.units import plain
from pounce.bench.cards.card import Card, FigureTable
from pounce.bench.log.desk import log_desk_of
from pounce.bench.log.fields import FlawFields, SizeDetail, SizesTable
from pounce.bench.log.later import Later, figure_of, line_of, listed
from pounce.bench.stops.view import Shown, StopView, view_of
from pounce.bench.view3d.asks import Spot
from pounce.bench.widgets.parts import Choice, Figure, Fold, Row, Segments, button, label
from pounce.job import log_edits
from pounce.logbook.changes import TryNext
from pounce.logbook.values import Outcome, Pair, PairKind, Pour
from pounce.metals.learn import learn
from pounce.pour.devices.reader import Line, Reader, ports, standin_ports
from pounce.pour.devices.standins import marks_folder
from pounce.pour.meter import Sample
from pounce.route.stops import LOGBOOK

MOST_C, MOST_KG = 1900.0, 500.0
FIELD = 132


class LogCard(Card):
    """What is typed goes into the entry at once; keeping it puts it into the book."""

    stop = "logbook"
    _spoke = pyqtSignal(object)

    @property
    def on_board(self) -> bool:
        """The part itself stands there only while a place on it is asked for."""
        return self._seen != "part"

    def scene_shown(self) -> Shown:
        """A click picks a place while one is asked for."""
        return Shown(picks=bool(self._asks))

    @property
    def stop_view(self) -> StopView:
        """The book, or the part."""
        return view_of(self.stop)

    def fill(self) -> None:
        """Quick entry first."""
        self._seen, self._asks = "book", ""
        self._taken: tuple[tuple[float, float, float], ...] = ()
        self._reader: Reader | None = None
        self.desk = log_desk_of(self.document)
        self.desk.changed.connect(self.refresh)
        self._spoke.connect(self._heard)
        self.seen = Segments((("book", "Book"), ("charts", "Charts"), ("part", "Part")), "What is seen")
        self.seen.chosen.connect(self._see)
        self.seen.show_choice("book")
        self.body.addWidget(Row("Seen", self.seen, "What was learned, charts of many pours, or the part to point at"))
        self.entry = Choice("Entry")
        self.entry.setFixedWidth(178)
        self.entry.given.connect(self.desk.select)
        self.body.addWidget(Row("Entry", self.entry, "A new pour of this job, or one that is in the book"))
        self.poured = figure_of(self.desk, "poured_c", " °C", (0.0, MOST_C), 0, "How hot it was poured")
        self.body.addWidget(Row("Poured at", self.poured))
        self.number = Choice("Casting")
        self.number.setFixedWidth(FIELD)
        self.number.given.connect(lambda number: self.desk.point(int(number or 1)))
        self.body.addWidget(Row("Casting", self.number, "What follows is of this casting"))
        self.outcome = Segments([(one.value, one.value.capitalize()) for one in Outcome], "Came out")
        self.outcome.chosen.connect(lambda how: self.desk.give_casting(outcome=Outcome(how)))
        self.body.addWidget(Row("Came out", self.outcome))
        self.weighs = Figure(" kg", 0.0, MOST_KG, 3, 0.01, "Weight of the casting")
        self.weighs.setSpecialValueText(" ")
        self.weighs.given.connect(lambda kg: self.desk.give_casting(kg=kg or None))
        self.body.addWidget(Row("Weighs", self.weighs, "Knocked off its gates and feeders"))
        self.squeeze = Segments((("dry", "Dry"), ("right", "Right"), ("wet", "Wet")), "The sand, squeezed")
        self.squeeze.chosen.connect(lambda how: self.desk.give(squeeze=how))
        tip = "A handful squeezed: right, it keeps the finger marks, breaks clean and leaves the hand dry"
        self.body.addWidget(Row("Sand, squeezed", self.squeeze, tip))
        self.note = line_of(self.desk, "note", "Note")
        self.body.addWidget(Row("Note", self.note))
        self._fill_sizes()
        self._fill_flaws()
        self.later = Later(self.desk)
        self.later.story.connect(self.ask_story)
        self.body.addWidget(self.later)

    def _fill_sizes(self) -> None:
        fold = Fold("Sizes of this casting", True)
        fold.body.setSpacing(5)
        self.body.addWidget(fold)
        self.caliper = Figure(" mm", 0.001, 50.0, 3, 0.05, "What the caliper is good to")
        self.caliper.show_value(learn().common.caliper.value)
        self.sizes = SizesTable(self.desk, self.caliper.value)
        fold.body.addWidget(self.sizes)
        self.detail = SizeDetail(self.desk)
        self.sizes.chosen.connect(self.detail.choose)
        fold.body.addWidget(self.detail)
        self.odd = label("", "muted", wrap=True)
        fold.body.addWidget(self.odd)
        fold.body.addWidget(
            Row("Caliper good to", self.caliper, "Its finest step, or what it is good to on a rough skin")
        )
        self.line = Choice("Caliper", [("", "Typed")])
        self.line.setFixedWidth(178)
        self.line.given.connect(self._listen)
        fold.body.addWidget(Row("Caliper", self.line, "Typed, sent as keys, or on a serial line"))
        self.pairs = Choice(
            "Another size", [("", "Take on the part"), *((one.value, one.value.capitalize()) for one in PairKind)]
        )
        self.pairs.setFixedWidth(178)
        self.pairs.given.connect(self._ask_pair)
        fold.body.addWidget(Row("Another size", self.pairs, "Across two faces, a diameter, or from centre to centre"))

    def _fill_flaws(self) -> None:
        fold = Fold("A defect", True)
        self.body.addWidget(fold)
        self.flaws = FlawFields(self.desk)
        self.flaws.pointing.connect(lambda: self._ask("flaw"))
        fold.body.addWidget(self.flaws)
        self.effect = FigureTable([])
        self.effect_of = button("What would the change do?", "link", self._try)
        fold.body.addWidget(self.effect_of)
        fold.body.addWidget(self.effect)

    # --- what it shows -----------------------------------------------------------------------------------------------

    def refresh_body(self) -> None:
        """Shows the entry."""
        self.desk.look()
        pour, made, results = self.desk.pour, self.desk.made, self.document.results()
        if pour is None:
            return
        there = [] if made is None else [(one.id, f"{one.at.astimezone():%d %b %Y %H:%M}") for one in made.pours]
        listed(self.entry, [("", "A new pour"), *there], "" if self.desk.new else pour.id)
        numbers = [str(one.number) for one in pour.castings] or ["1"]
        listed(self.number, [(one, f"{one} of {len(numbers)}") for one in numbers], str(self.desk.number))
        self._show_pour(pour)
        casting = self.desk.casting
        self.outcome.show_choice(casting.outcome.value)
        self.weighs.show_value(casting.kg or 0.0)
        self.flaws.show_casting(casting)
        known = results is not None and results.get(LOGBOOK) is not None and made is not None
        if known and made is not None:
            self.sizes.show_sizes(made.sizes, self.document.unit)
            rows = next((rows for number, rows in made.rows if number == casting.number), ())
            self.detail.show_size(rows if made.last is not None and made.last.id == pour.id else (), made.grade)
            self.later.show_history(made, pour)
            odd = [one for one in made.contraction.odd if one.pour == pour.id and one.casting == casting.number]
            self.odd.setVisible(bool(odd))
            if odd:
                self.odd.setText(f"{odd[0].name} lies far off what all others say: measure it again.")
        self._show_lines()
        self.effect_of.setVisible(self._change() is not None)
        self.effect.show_rows(
            [(one.name, f"{one.was} → {one.becomes}") for one in self.desk.effect if one.differs]
            or ([("Nothing of it changes", "")] if self.desk.effect else [])
        )

    def _show_pour(self, pour: Pour) -> None:
        self.poured.show_value(pour.poured_c or 0.0)
        if pour.planned_c is not None:
            self.poured.setToolTip(f"{round(pour.planned_c)} °C were planned")
        self.squeeze.show_choice(pour.squeeze)
        if not self.note.hasFocus():
            self.note.setText(pour.note)
        self.later.show_pour(pour, self.desk.new)

    def _show_lines(self) -> None:
        there = [(one.path, one.name) for one in standin_ports(marks_folder()) if "caliper" in one.name]
        there += [(one.path, one.name) for one in ports()]
        listed(self.line, [("", "Typed"), *there], "" if self._reader is None else self._reader.port)

    def foot_is_primary(self) -> bool:
        """Keeping it is the thing to do."""
        return self.desk.pour is not None and self.desk.new

    def _refresh_foot(self, _opened: int) -> None:
        self.foot.setText("Keep this pour" if self.desk.new else "Keep it as it is now")

    # --- what is asked -----------------------------------------------------------------------------------------------

    def act(self) -> None:
        """The wide button: into the book."""
        self.desk.keep()

    def leave(self) -> None:
        """Another stop is visited: the caliper is let go."""
        super().leave()
        self._listen("")
        self._see("book")

    def ask_story(self) -> None:
        """Asks where the part's story goes."""
        job = self.document.job
        if job is None:
            return
        start = str(self.document.folder / f"{job.name}, its story.pdf")
        name, _ = QFileDialog.getSaveFileName(self, "Write the part's story", start, "PDF (*.pdf)")
        if name:
            path = Path(name)
            self.document.worker.ask(
                "log-story",
                job,
                name,
                text="Writing the part's story",
                on_answer=lambda _: self.document.said.emit(f"Story written: {path.name}"),
            )

    def point_at(self, spot: Spot | None) -> None:
        """A place on the part: of a defect, or one end of a size."""
        if spot is None or not self._asks:
            return
        at = (float(spot.point[0]), float(spot.point[1]), float(spot.point[2]))
        if self._asks == "flaw":
            self.flaws.pointed(at)
            self._see("book")
            return
        self._taken = (*self._taken, at)
        kind = PairKind(self._asks)
        if kind is PairKind.DIAMETER or len(self._taken) == 2:
            many = len(self.document.job.log.pairs) + 1 if self.document.job is not None else 1
            self.document.edit(
                log_edits.add_pair, Pair(f"{kind.value.capitalize()} {many}", kind, self._taken[0], self._taken[-1])
            )
            self._see("book")
        else:
            self.document.said.emit("Now the second place.")

    def _ask_pair(self, kind: str) -> None:
        if kind:
            self._ask(kind)
        self.pairs.show_choice("")

    def _ask(self, what: str) -> None:
        self._asks, self._taken = what, ()
        self._seen = "part"
        self.seen.show_choice("part")
        self.turned.emit()
        wanted = "Click the place of the defect." if what == "flaw" else "Click the first place of the size."
        self.document.said.emit(wanted)

    def _see(self, what: str) -> None:
        if what == self._seen and not self._asks:
            return
        self._seen, self._asks = what, ""
        self.seen.show_choice(what)
        self.desk.show_charts(what == "charts")
        self.turned.emit()

    def _change(self) -> Remedy | None:
        """The change that the judgement would try next."""
        for finding in self.shown_findings():
            for remedy in finding.remedies:
                if isinstance(remedy.change, TryNext):
                    return remedy
        return None

    def _try(self) -> None:
        remedy = self._change()
        if remedy is not None and isinstance(remedy.change, TryNext):
            self.desk.try_effect(remedy.change.change)

    def _listen(self, port: str) -> None:
        if self._reader is not None:
            self._reader.close()
            self._reader = None
        if port:
            self._reader = Reader(port, lambda _s, sample: self._spoke.emit(sample), self._told)

    def _told(self, line: Line) -> None:
        """A lost line needs no word here: sizes are typed meanwhile."""

    def _heard(self, sample: Sample) -> None:
        if sample.size:
            self.sizes.take(sample.value)
            self.document.said.emit(f"The caliper says {plain(sample.value, 2)} mm")
