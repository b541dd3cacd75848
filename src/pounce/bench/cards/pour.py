"""The Pour card: what is melted and how hot, the meter, the list before the pour."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import QCheckBox, QFileDialog, QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from pounce.base.errors import UserFault
from pounce.base.units import count_words, heat_words, mass, plain, quantity
from pounce.bench.cards.card import Card, FigureTable
from pounce.bench.cards.rows import figure, row, segments
from pounce.bench.pour.under_way import under_way_of
from pounce.bench.widgets.guests import GuestsList
from pounce.bench.widgets.parts import Choice, Figure, Fold, Row, Segments, button, emptied, label
from pounce.bench.widgets.things import ThingsDialog
from pounce.job import pour_edits
from pounce.pour.choices import (
    AT,
    BETWEEN,
    CARRY,
    CHARGE,
    CRUCIBLE,
    FALL,
    FURNACE,
    INGOT,
    LID,
    LOSS,
    MELTS,
    MOULDS,
    RAM,
    SCHOOL,
    SCRAP,
    usual_figure,
)
from pounce.pour.devices.reader import ports, standin_ports
from pounce.pour.devices.standins import marks_folder
from pounce.pour.things import Things, own_things
from pounce.pour.values import PourChoices, PourResult
from pounce.rig.values import GuestChoice
from pounce.route.stops import METAL, POUR

FIELD = 132


class PourCard(Card):
    """Crucible, charge, school, time; figures; meter; list."""

    stop = "pour"
    _seen = "clock"

    @property
    def on_board(self) -> bool:
        """The clock stands on a board of its own; what sets last in the picture."""
        return self._seen != "freeze"

    def fill(self) -> None:
        """Rows, figures, meter, list."""
        self.under_way = under_way_of(self.document)
        self.under_way.changed.connect(self.refresh)
        self.seen = Segments((("clock", "Clock"), ("large", "Large"), ("freeze", "Cut open")), "What is seen")
        self.seen.chosen.connect(self._see)
        self.seen.show_choice("clock")
        self.body.addWidget(Row("Seen", self.seen, "Steps by the clock, large figures, or the metal cut open"))
        self.at = self._line_field(AT.title, "15:30, or soon", self._at)
        self.body.addWidget(row(AT, self.at))
        self.moulds = figure(MOULDS)
        self.moulds.given.connect(self.giving(MOULDS))
        self.body.addWidget(row(MOULDS, self.moulds))
        tip = "Another job of this metal whose mould is poured from the same melt"
        self.others = GuestsList(lambda: self.document.settings.saved(self.document.path), tip, False)
        self.others.added.connect(lambda path, _name: self.document.edit(pour_edits.with_word, path))
        self.others.gone.connect(lambda index: self.document.edit(pour_edits.drop_job, index))
        self.body.addWidget(self.others)
        self.crucible = self._thing(CRUCIBLE.title, "crucible")
        self.body.addWidget(row(CRUCIBLE, self.crucible))
        self.charge, self.school = segments(CHARGE), segments(SCHOOL)
        self.charge.chosen.connect(self.giving(CHARGE))
        self.school.chosen.connect(self.giving(SCHOOL))
        self.body.addWidget(row(CHARGE, self.charge))
        self.body.addWidget(row(SCHOOL, self.school))
        self.figures = FigureTable([])
        self.body.addWidget(self.figures)
        self._fill_meter()
        self._fill_list()
        self._fill_own()

    def _line_field(self, name: str, hint: str, done: Callable[[], None]) -> QLineEdit:
        field = QLineEdit()
        field.setFixedWidth(FIELD)
        field.setPlaceholderText(hint)
        field.setAccessibleName(name)
        field.editingFinished.connect(done)
        return field

    def _thing(self, title: str, what: str) -> Choice:
        out = Choice(title)
        out.setFixedWidth(164)
        out.given.connect(lambda key: self.document.edit(partial(_take, what), key))
        return out

    def _fill_meter(self) -> None:
        self.body.addWidget(label("Readings", "section"))
        self.meter = Choice("Meter", [("", "By hand")])
        self.meter.given.connect(self.under_way.listen)
        self.body.addWidget(Row("Meter", self.meter, "A thermometer or scale on a serial line, or by hand"))
        reading = QWidget()
        inner = QHBoxLayout(reading)
        inner.setContentsMargins(0, 0, 0, 0)
        self.reading = Figure(" °C", 0.0, 1900.0, 0, 5.0, "Reading")
        inner.addWidget(self.reading)
        inner.addWidget(button("Note it", "", lambda: self.under_way.read_by_hand(self.reading.value())))
        self.body.addWidget(Row("Read now", reading, "What the thermometer shows now"))
        self.scale = label("", "muted", wrap=True)
        self.scale.hide()
        self.body.addWidget(self.scale)

    def _fill_list(self) -> None:
        self.before = Fold("Before the pour", False)
        self.before.body.setSpacing(3)
        self.body.addWidget(self.before)
        self._boxes: dict[str, QCheckBox] = {}
        self._seen_at: dict[str, QLabel] = {}
        self.wrong = Fold("If it goes wrong", True)
        self.wrong.body.setSpacing(4)
        self.body.addWidget(self.wrong)
        self.cautions = Fold("Cautions", True)
        self.cautions.body.setSpacing(4)
        self.body.addWidget(self.cautions)
        self._told: tuple[tuple[str, ...], ...] = ()

    def _fill_own(self) -> None:
        own = Fold("Your own bench", True)
        own.body.setSpacing(6)
        self.body.addWidget(own)
        self.furnace, self.ingot = self._thing(FURNACE.title, "furnace"), self._thing(INGOT.title, "ingot")
        own.body.addWidget(row(FURNACE, self.furnace))
        own.body.addWidget(row(INGOT, self.ingot))
        self.scrap = self._line_field(SCRAP.title, "0.8, 1.25", self._scrap)
        own.body.addWidget(row(SCRAP, self.scrap))
        self.carried = segments(LID)
        self.carried.chosen.connect(self.giving(LID))
        own.body.addWidget(row(LID, self.carried))
        self.paces = {one.key: figure(one) for one in (CARRY, BETWEEN, RAM, LOSS, MELTS)}
        for choice in (CARRY, BETWEEN, RAM, LOSS, MELTS):
            self.paces[choice.key].given.connect(self.giving(choice))
            own.body.addWidget(row(choice, self.paces[choice.key]))
        self.fall = self._line_field(FALL.title, "760:735:60", self._fall)
        own.body.addWidget(row(FALL, self.fall))
        self.learned = button("", "link", self._take_pace)
        self.learned.hide()
        own.body.addWidget(self.learned)
        own.body.addWidget(button("Crucibles, furnaces, printers", "", self._things))
        self.body.addWidget(button("Write the pour card", "", self.ask_card))

    # --- what it shows -----------------------------------------------------------------------------------------------

    def refresh_body(self) -> None:
        """Shows choices and what came of them."""
        job, results = self.document.job, self.document.results()
        if job is None:
            return
        pour = job.pour
        made = None if results is None else results.get(POUR)
        try:
            things = own_things()
        except UserFault:  # the stop itself says it
            things = Things()
        for field, key, names in (
            (self.crucible, pour.crucible, [(one.id, one.name) for one in things.crucibles]),
            (self.furnace, pour.furnace, [(one.id, one.name) for one in things.furnaces]),
            (self.ingot, pour.ingot, [(one.id, one.name) for one in things.ingots]),
        ):
            _listed(field, [("", "The one that fits"), *names], key)
        self._show_choices(pour)
        method = None if results is None else results.get(METAL)
        if method is not None:
            for choice in (CARRY, BETWEEN, RAM, LOSS, MELTS):
                given = getattr(pour, choice.field)
                usual = usual_figure(choice, method.metal_id, pour.charge)
                self.paces[choice.key].show_value(usual if given is None else given)
        self._show_meter()
        if made is not None:
            if self.reading.value() == 0.0:  # nobody has typed yet: it stands near to what will be read
                self.reading.show_value(round(made.lift_c / 10.0) * 10.0)
            self.figures.show_rows(_figures(made))
            self._show_told(made)

    def _show_choices(self, pour: PourChoices) -> None:
        self.moulds.show_value(pour.moulds)
        self.others.show_guests(tuple(GuestChoice(one, Path(one).stem) for one in pour.jobs))
        self.charge.show_choice(pour.charge)
        self.school.show_choice(pour.school)
        self.carried.show_choice(pour.carried)
        for field, text in (
            (self.at, pour.at),
            (self.scrap, ", ".join(f"{one:g}" for one in pour.scrap_kg)),
            (self.fall, _fall_text(pour)),
        ):
            if not field.hasFocus():
                field.setText(text)

    def _show_meter(self) -> None:
        way = self.under_way
        there = [(one.path, one.name) for one in (*ports(), *standin_ports(marks_folder()))]
        if way.port and way.port not in [path for path, _ in there]:
            there.append((way.port, f"{way.port}, lost"))
        _listed(self.meter, [("", "By hand"), *there], way.port)
        pace = way.pace
        self.learned.setVisible(pace is not None)
        if pace is not None:
            self.learned.setText(f"You rammed a litre in {plain(pace, 2)} min: take it")
        now = way.weights.now
        self.scale.setVisible(now is not None)
        if now is not None:
            dry = "It loses no more weight: dry." if way.core_steady else "It still dries."
            self.scale.setText(f"Core on the scale: {plain(now, 1)} g. {dry}")

    def _show_told(self, made: PourResult) -> None:
        """The list, what to do when it goes wrong, cautions: made anew only when they are others."""
        told = (tuple(one.text for one in made.checks), made.wrong, made.cautions)
        if told != self._told:
            self._told = told
            self._boxes, self._seen_at = {}, {}
            for fold, rows in ((self.before, made.checks), (self.wrong, made.wrong), (self.cautions, made.cautions)):
                emptied(fold.body)
                for one in rows:
                    if isinstance(one, str):
                        fold.body.addWidget(label(one, "body", wrap=True))
                        continue
                    fold.body.addWidget(self._check(one.id, one.text, one.why))
            go_first = "Local rules, the makers' safety sheets and licensed practice go first."
            self.cautions.body.addWidget(label(go_first, "muted", wrap=True))
        for key, box in self._boxes.items():
            seen = self.under_way.run.checks.get(key)
            self._seen_at[key].setText("" if seen is None else f"{seen.astimezone():%H:%M}")
            if box.isChecked() != (seen is not None):
                box.blockSignals(True)
                box.setChecked(seen is not None)
                box.blockSignals(False)
        left = sum(key not in self.under_way.run.checks for key in self._boxes)
        self.before.title = (
            f"Before the pour, {count_words(left)} to see to" if left else "Before the pour, all seen to"
        )
        self.before.tell()

    def _check(self, key: str, text: str, why: str) -> QWidget:
        line = QWidget()
        inner = QHBoxLayout(line)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.setSpacing(7)
        box = QCheckBox()
        box.setAccessibleName(text)
        box.setToolTip(why)
        box.toggled.connect(partial(self.under_way.tick_off, key))
        self._boxes[key] = box
        words = label(text, "body", wrap=True)
        words.setToolTip(why)
        column = QVBoxLayout()
        column.addWidget(words)
        inner.addWidget(box)
        inner.addLayout(column, 1)
        self._seen_at[key] = label("", "muted")
        inner.addWidget(self._seen_at[key])
        return line

    # --- what is asked -----------------------------------------------------------------------------------------------

    def show_large(self) -> None:
        """Large figures for the shed, or back to the clock."""
        self._see("clock" if self._seen == "large" else "large")

    def _see(self, what: str) -> None:
        self._seen = what
        self.seen.show_choice(what)
        self.under_way.show_large(what == "large")
        self.turned.emit()

    def _at(self) -> None:
        job = self.document.job
        if job is not None and self.at.text().strip() != job.pour.at:
            self.document.edit(pour_edits.at_word, self.at.text())

    def _scrap(self) -> None:
        job = self.document.job
        if job is not None and self.scrap.text() != ", ".join(f"{one:g}" for one in job.pour.scrap_kg):
            self.document.edit(pour_edits.scrap_word, self.scrap.text())

    def _fall(self) -> None:
        job = self.document.job
        if job is not None and self.fall.text().strip() != _fall_text(job.pour):
            self.document.edit(pour_edits.fall_word, self.fall.text().strip() or pour_edits.NONE)

    def _take_pace(self) -> None:
        pace = self.under_way.pace
        if pace is not None:
            self.giving(RAM)(round(pace, 2))

    def _things(self) -> None:
        dialog = ThingsDialog(self)
        dialog.written.connect(self.document.work)
        dialog.written.connect(self.refresh)
        dialog.taken.connect(lambda thing: self.document.edit(pour_edits.take_thing, thing))
        dialog.open()

    def ask_card(self) -> None:
        """Asks where the pour card goes."""
        job = self.document.job
        if job is None:
            return
        start = self.document.folder / f"{job.name} pour card.pdf"
        name, _ = QFileDialog.getSaveFileName(self, "Write the pour card", str(start), "PDF (*.pdf)")
        if name:
            self.under_way.write_card(Path(name) if name.endswith(".pdf") else Path(name + ".pdf"))


def _take(what: str, job: object, key: str) -> object:
    return pour_edits.thing_word(what, job, key)  # type: ignore[arg-type]


def _listed(field: Choice, rows: list[tuple[str, str]], key: str) -> None:
    """These to choose from, with one of them chosen."""
    now = [(field.itemData(k), field.itemText(k)) for k in range(field.count())]
    if now != rows:
        field.clear()
        for one, text in rows:
            field.addItem(text, one)
    field.show_choice(key)


def _fall_text(pour: PourChoices) -> str:
    if pour.fall_from_c is None or pour.fall_to_c is None or pour.fall_s is None:
        return ""
    return f"{pour.fall_from_c:g}:{pour.fall_to_c:g}:{pour.fall_s:g}"


def _figures(r: PourResult) -> list[tuple[str, str]]:
    c, first = r.charged, r.first.mould
    rows = [("Metal to melt", mass(c.kg))]
    if c.ingots:
        rows.append((f"{count_words(c.ingots).capitalize()} ingots of {mass(c.ingot_kg)}", mass(c.ingots * c.ingot_kg)))
    fills = "one fill" if r.fills == 1 else f"{r.fills} fills"
    rows += [
        (r.pot.name, f"{fills}, holds {mass(r.pot.holds_kg)}"),
        ("Lift at", heat_words(r.lift_c)),
        ("Never over", heat_words(r.most_c)),
        ("Pour from", heat_words(first.low_c)),
        ("to", heat_words(first.high_c)),
    ]
    if len(r.turns) > 1:
        rows.append(("At the last mould", quantity("a_c", r.last.at_c)))
    rows += [
        ("Falls when lifted", f"{plain(r.pot.falls_k_min / 60.0, 1)} °C/s{', measured' if r.pot.own else ''}"),
        (f"{r.furnace.name}, melts in", quantity("t_min", r.furnace.warm_min + r.furnace.melt_min)),
        ("Left for ingots", mass(r.left.kg)),
        ("Leave in the sand", quantity("t_min", r.open_min)),
    ]
    return rows
