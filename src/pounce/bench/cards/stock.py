"""The Stock card: a line for every addition, what is pointed at, contraction, the table of dimensions, what it adds
up to.
"""

from functools import partial
from typing import Any

from PyQt6.QtCore import QEvent, pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QLineEdit, QMenu, QVBoxLayout, QWidget

from pounce.base.units import from_mm, length, mass, plain, to_mm, volume
from pounce.bench.cards.card import Card, FigureTable
from pounce.bench.cards.rows import chooser, figure, segments
from pounce.bench.cards.rows import row as row_of
from pounce.bench.stops.view import Shown
from pounce.bench.view3d.asks import FEATURE_FROM, Spot
from pounce.bench.widgets.parts import Choice, Figure, Row, Segments, button, emptied, label
from pounce.job import stock_edits
from pounce.job.job import Job
from pounce.metals.tables import limits, pattern_kinds, sources
from pounce.stock.choices import OTHER_METAL, PRINT_SHRINK, SPIN, TOLERANCE
from pounce.stock.values import (
    NAMES,
    Added,
    Addition,
    Camber,
    Draft,
    Fill,
    Fillets,
    Finish,
    Lettering,
    Level,
    LineKind,
    Machining,
    StockResult,
    WallDraft,
)

# Which figure of a line stands on the card: field, suffix, least, most, decimals, step, and the key of what it came to.
_FIGURES: dict[type, tuple[str, str, float, float, int, float, str]] = {
    Machining: ("own_mm", " mm", 0.05, 50.0, 2, 0.5, "stock_mm"),
    Fill: ("under_mm", " mm", 1.0, 100.0, 1, 1.0, ""),
    Draft: ("degrees", " °", 0.1, 10.0, 1, 0.5, "draft_deg"),
    Fillets: ("radius_mm", " mm", 0.0, 50.0, 1, 0.5, "radius_mm"),
    Lettering: ("proud_mm", " mm", -20.0, 20.0, 1, 0.2, "proud_mm"),
    Level: ("radius_mm", " mm", 0.5, 500.0, 1, 1.0, ""),
    Camber: ("bow_mm", " mm", 0.0, 100.0, 2, 0.25, "bow_mm"),
    Finish: ("paint_mm", " mm", 0.0, 5.0, 2, 0.05, "paint_mm"),
}


class LineRow(QWidget):
    """One addition: on or off, what, where, how much. Hovering or focusing it lights its metal."""

    pointed = pyqtSignal(int)

    def __init__(self, card: "StockCard", shown: int, own: int, line: Addition | None) -> None:
        super().__init__()
        self._card, self.shown, self.own, self._kind = card, shown, own, type(line)
        self.setObjectName("lineRow")
        layout = QGridLayout(self)
        layout.setContentsMargins(0, 3, 0, 3)
        layout.setHorizontalSpacing(6)
        layout.setVerticalSpacing(0)
        layout.setColumnStretch(1, 1)
        self.on = QCheckBox()
        self.on.setToolTip("Work this line, or leave it out")
        self.on.toggled.connect(self._switch)
        self.name, self.about = label("", "value", wrap=True), label("", "muted", wrap=True)
        layout.addWidget(self.on, 0, 0)
        layout.addWidget(self.name, 0, 1)
        layout.addWidget(self.about, 1, 1, 1, 3)
        self.figure: Figure | None = None
        if own >= 0 and self._kind in _FIGURES and not (isinstance(line, Fill) and line.at_mm is not None):
            field, suffix, low, high, digits, step, _ = _FIGURES[self._kind]
            self._field = field
            self._long = suffix == " mm"
            self.figure = Figure(suffix, low, high, digits, step, NAMES[LineKind(self._kind.__name__)])
            self.figure.setFixedWidth(86)
            self.figure.given.connect(self._give)
            layout.addWidget(self.figure, 0, 2)
        if own >= 0:
            self.more = button("…", "", self._menu, "More for this line: choices, order, take it away")
            self.more.setAccessibleName(f"More for {NAMES[LineKind(self._kind.__name__)].lower()}")
            self.more.setFixedWidth(30)
            layout.addWidget(self.more, 0, 3)
        self._quiet = False

    def show_line(self, added: Added, line: Addition | None, unit: str) -> None:
        """Shows what the line came to."""
        self._quiet = True
        self.on.setChecked(added.on)
        self.on.setEnabled(self.own >= 0)
        self._quiet = False
        self.on.setAccessibleName(added.words(unit))
        self.name.setText(added.words(unit))
        self.about.setText(added.trouble or added.about_words(unit) or ("left out" if not added.on else ""))
        self.about.setVisible(bool(self.about.text()))
        after = f"After: {sources()[added.source].words()}" if added.source else ""
        self.setToolTip(" ".join(text for text in (added.why, after) if text))
        if self.figure is not None and line is not None:
            key = _FIGURES[self._kind][6]
            asked = getattr(line, self._field)
            value = asked if asked is not None else added.figures.get(key)
            if value is None:
                value = added.figures.get(key, 12.0 if isinstance(line, Fill) else 0.0)
            if self._long:
                self.figure.show_length(value, unit)
            else:
                self.figure.show_value(value)

    def _switch(self, on: bool) -> None:
        if not self._quiet and self.own >= 0:
            self._card.document.edit(stock_edits.switch_line, self.own, on)

    def _give(self, value: float) -> None:
        stored = to_mm(value, self._card.document.unit) if self._long else value
        self._card.document.edit(lambda job: stock_edits.change_line(job, self.own, **{self._field: round(stored, 4)}))

    def _menu(self) -> None:
        menu = QMenu(self)
        for text, act in self._card.choices_for(self.own):
            action = QAction(text, menu)
            action.triggered.connect(lambda _=False, act=act: act())
            menu.addAction(action)
        self.menu = menu
        menu.popup(self.more.mapToGlobal(self.more.rect().bottomLeft()))

    def light(self, on: bool) -> None:
        """Marks the row whose metal is pointed at."""
        self.setStyleSheet("QWidget#lineRow { background: #EFE7D8; }" if on else "")

    def enterEvent(self, _event: object) -> None:
        """Lights its metal."""
        self.pointed.emit(self.shown)

    def leaveEvent(self, _event: QEvent | None) -> None:
        """Lights nothing."""
        self.pointed.emit(-1)


class StockCard(Card):
    """What is added, and what is taken off later."""

    stop = "stock"

    def fill(self) -> None:
        """Lines, the place pointed at, contraction, dimensions and sums."""
        self.bare = False
        self._spot: Spot | None = None
        self._rows: list[LineRow] = []
        self._signature: tuple[Any, ...] = ()
        self.view = Segments([("after", "With additions"), ("before", "As wanted")], "Bench shows")
        self.view.chosen.connect(self._show)
        self.view.show_choice("after")
        self.body.addWidget(self.view)
        holder = QWidget()
        self._lines = QVBoxLayout(holder)
        self._lines.setContentsMargins(0, 0, 0, 0)
        self._lines.setSpacing(0)
        self.body.addWidget(holder)
        adds = QHBoxLayout()
        adds.setSpacing(6)
        self.add_button = button("Add a line", "", self._add_menu, "Draft, holes filled, fillets, camber, finish")
        adds.addWidget(self.add_button)
        adds.addStretch(1)
        self.body.addLayout(adds)
        self._point_box()
        self.body.addWidget(label("Adds up to", "section"))
        self.sums = FigureTable([])
        self.body.addWidget(self.sums)
        self.spin = segments(SPIN)
        self.spin.chosen.connect(self.giving(SPIN))
        self.body.addWidget(row_of(SPIN, self.spin))
        self._contraction()

    def _point_box(self) -> None:
        self.place = QWidget()
        column = QVBoxLayout(self.place)
        column.setContentsMargins(0, 4, 0, 4)
        column.setSpacing(5)
        self.place_words = label("", "value", wrap=True)
        column.addWidget(self.place_words)
        self.place_buttons = QHBoxLayout()
        self.place_buttons.setSpacing(6)
        column.addLayout(self.place_buttons)
        self.words = QLineEdit()
        self.words.setPlaceholderText("Text to raise here, then Enter")
        self.words.setAccessibleName("Text to raise on the face pointed at")
        self.words.returnPressed.connect(self._write)
        column.addWidget(self.words)
        self.place.hide()
        self.body.addWidget(self.place)
        self.hint = label(
            "Click a face, a bore or an edge on the bench for stock, filling or text.", "muted", wrap=True
        )
        self.body.addWidget(self.hint)

    def _contraction(self) -> None:
        self.body.addWidget(label("Contraction along", "section"))
        self.axes: dict[str, Choice] = {}
        self.percents: dict[str, Figure] = {}
        for axis in "xyz":
            choice = Choice(
                f"Contraction along {axis}", [("", "free"), ("core", "held by a core"), ("flanges", "held by flanges")]
            )
            choice.given.connect(
                lambda how, axis=axis: self.document.edit(
                    lambda job: stock_edits.set_axis(job, axis, hindered=how, own_percent=None)
                )
            )
            self.axes[axis] = choice
            choice.setFixedWidth(132)
            own = Figure(" %", 0.0, 10.0, 2, 0.1, f"Own contraction along {axis}")
            own.setFixedWidth(82)
            own.given.connect(partial(self._own_percent, axis))
            self.percents[axis] = own
            pair = QWidget()
            row = QHBoxLayout(pair)
            row.setContentsMargins(0, 0, 0, 0)
            row.setSpacing(6)
            row.addWidget(choice)
            row.addWidget(own)
            self.body.addWidget(
                Row(axis, pair, "A core, or sand between two flanges, holds the metal back as it cools")
            )
        self.shrink = figure(PRINT_SHRINK)
        self.shrink.given.connect(self.giving(PRINT_SHRINK))
        self._shrink_row = row_of(PRINT_SHRINK, self.shrink)
        self.body.addWidget(self._shrink_row)
        holder = QWidget()
        beds = QHBoxLayout(holder)
        beds.setContentsMargins(0, 0, 0, 0)
        beds.setSpacing(4)
        self.beds: dict[str, Figure] = {}
        for axis in "xyz":
            bed = Figure(" %", -5.0, 5.0, 2, 0.1, f"Bed prints larger along {axis}")
            bed.setFixedWidth(76)
            bed.given.connect(partial(self._bed, axis))
            self.beds[axis] = bed
            beds.addWidget(bed)
        self._bed_head = label("Bed prints larger along x, y, z")
        self.body.addWidget(self._bed_head)
        self._bed_row = holder
        self.body.addWidget(holder)
        self.body.addWidget(label("Main dimensions", "section"))
        self.grade = chooser(TOLERANCE)
        self.grade.given.connect(self.giving(TOLERANCE))
        self.body.addWidget(row_of(TOLERANCE, self.grade))
        self.table = FigureTable([])
        self.body.addWidget(self.table)
        self.other = chooser(OTHER_METAL)
        self.other.given.connect(self.giving(OTHER_METAL))
        self.body.addWidget(row_of(OTHER_METAL, self.other))

    def _own_percent(self, axis: str, value: float) -> None:
        self.document.edit(lambda job: stock_edits.set_axis(job, axis, own_percent=round(value, 4)))

    def _bed(self, axis: str, value: float) -> None:
        self.document.edit(lambda job: stock_edits.set_axis(job, axis, bed_percent=round(value, 4)))

    # --- lines -------------------------------------------------------------------------------------------------------

    def _add(self, line: Addition) -> None:
        self.document.edit(stock_edits.add_line, line)

    def _add_menu(self) -> None:
        menu = QMenu(self)
        for text, line in (
            ("Draft on every wall", Draft()),
            ("Small holes filled", Fill()),
            ("Fillets inside", Fillets()),
            ("Fillets inside, edges eased", Fillets(ease_mm=limits()["edge_eased"].value)),
            ("Camber for a bow", Camber()),
            ("Camber for the legs of a U", Camber(legs=True)),
            ("Finish: paint 0.1 mm a side", Finish(paint_mm=0.1)),
            ("Rapping, by the trial draw's figure", Finish(rap_mm=self._rap())),
        ):
            action = QAction(text, menu)
            action.triggered.connect(lambda _=False, line=line: self._add(line))
            menu.addAction(action)
        self.menu = menu
        menu.popup(self.add_button.mapToGlobal(self.add_button.rect().bottomLeft()))

    def _rap(self) -> float:
        return self.document.job.parting.rap_mm if self.document.job is not None else 0.0

    def choices_for(self, index: int) -> list[tuple[str, Any]]:
        """What the menu of a line offers: its own choices, its order, and taking it away."""
        job: Job | None = self.document.job
        if job is None or index >= len(job.stock.lines):
            return []
        line = job.stock.lines[index]

        def change(**values: Any) -> Any:
            return lambda: self.document.edit(lambda now: stock_edits.change_line(now, index, **values))

        out: list[tuple[str, Any]] = []
        if isinstance(line, Machining):
            out.append(("By ISO 8062, the metal's usual grade", change(grade=None, own_mm=None, school="standard")))
            out += [
                (f"By ISO grade {grade}", change(grade=grade, own_mm=None, school="standard")) for grade in "EFGHJK"
            ]
            out.append(("Home practice", change(grade=None, own_mm=None, school="home")))
            out.append(
                (
                    "No more on the cope side" if line.cope_more else "One grade more on the cope side",
                    change(cope_more=not line.cope_more),
                )
            )
        if isinstance(line, Draft):
            out += [
                ("Metal added", change(how="add")),
                ("Metal taken", change(how="take")),
                ("Half and half", change(how="half")),
            ]
        if isinstance(line, Fill):
            out += [
                ("Flush", change(proud_mm=0.0)),
                ("1 mm proud", change(proud_mm=1.0)),
                ("Without centre marks" if line.mark else "With centre marks", change(mark=not line.mark)),
            ]
        if isinstance(line, Fillets):
            out += [
                ("Leave edges sharp", change(ease_mm=0.0)),
                (f"Ease edges {limits()['edge_eased'].value:g} mm", change(ease_mm=limits()["edge_eased"].value)),
            ]
        if isinstance(line, Lettering):
            out += [
                ("Turn it a quarter", change(turn_deg=(line.turn_deg + 90.0) % 360.0)),
                ("Mirror it", change(mirrored=not line.mirrored)),
                ("Sink it" if line.proud_mm > 0.0 else "Raise it", change(proud_mm=-line.proud_mm)),
                ("Larger letters", change(high_mm=round(line.high_mm * 1.25, 2))),
                ("Smaller letters", change(high_mm=round(line.high_mm * 0.8, 2))),
            ]
        for text, by in (("Work it earlier", -1), ("Work it later", 1)):
            if stock_edits.may_move(job, index, by):
                out.append((text, lambda by=by: self.document.edit(stock_edits.move_line, index, by)))
        out.append(("Take this line away", lambda: self.document.edit(stock_edits.drop_line, index)))
        return out

    # --- the place pointed at ----------------------------------------------------------------------------------------

    def name_of(self, region: int) -> str:
        """What the bench says of a lit number: a line, or a feature of the part."""
        results = self.document.results()
        stock = None if results is None else results.stock
        if stock is None or region < 0:
            return ""
        if region >= FEATURE_FROM:
            return (
                stock.features[region - FEATURE_FROM].words(self.document.unit)
                if region - FEATURE_FROM < len(stock.features)
                else ""
            )
        return stock.lines[region].words(self.document.unit) if region < len(stock.lines) else ""

    def point_at(self, spot: Spot | None) -> None:
        """A click on the bench: the feature there, with what can be done to it."""
        self._spot = spot
        self.place.setVisible(spot is not None)
        self.hint.setVisible(spot is None)
        emptied(self.place_buttons)
        if spot is None:
            return
        results = self.document.results()
        stock = None if results is None else results.stock
        feature = None
        if stock is not None and FEATURE_FROM <= spot.region < FEATURE_FROM + len(stock.features):
            feature = stock.features[spot.region - FEATURE_FROM]
        kind = "" if feature is None else feature.kind
        self.place_words.setText(f"Pointed at: {self.name_of(spot.region) or 'a free form'}")
        at = (round(spot.point[0], 4), round(spot.point[1], 4), round(spot.point[2], 4))
        offers: list[tuple[str, Addition]] = []
        if kind in ("plane", "bore", "boss"):
            offers.append(("Stock", Machining(at)))
        if kind == "bore":
            offers.append(("Fill it", Fill(at_mm=at)))
        if kind == "plane":
            offers.append(("Level it", Level(at)))
        for text, line in offers:
            self.place_buttons.addWidget(button(text, "", partial(self._place, line)))
        if kind in ("plane", "cone", "boss", "bore"):
            self.place_buttons.addWidget(
                button("No draft", "", lambda: self._own_draft(at), "Leave this wall as it is when draft is added")
            )
        self.place_buttons.addStretch(1)
        self.words.setVisible(kind == "plane")

    def _place(self, line: Addition) -> None:
        self._add(line)
        self.point_at(None)

    def _own_draft(self, at: tuple[float, float, float]) -> None:
        job: Job | None = self.document.job
        if job is None:
            return
        index = next((k for k, line in enumerate(job.stock.lines) if isinstance(line, Draft)), None)
        if index is None:
            self._add(Draft(walls=(WallDraft(at, 0.0),)))
        else:
            line = job.stock.lines[index]
            if isinstance(line, Draft):
                walls = (*line.walls, WallDraft(at, 0.0))
                self.document.edit(lambda now: stock_edits.change_line(now, index, walls=walls))
        self.point_at(None)

    def _write(self) -> None:
        if self._spot is not None and self.words.text().strip():
            x, y, z = self._spot.point
            self._place(Lettering(self.words.text().strip(), (round(x, 4), round(y, 4), round(z, 4)), 10.0, 1.2))
            self.words.clear()

    def scene_shown(self) -> Shown:
        """The part as wanted, where that is to be seen."""
        return Shown(bare=self.bare)

    def _show(self, which: str) -> None:
        self.bare = which == "before"
        self.shown.emit()

    def light(self, region: int) -> None:
        """Marks the row of a line."""
        super().light(region)
        for row in self._rows:
            row.light(row.shown == region)

    # --- showing -----------------------------------------------------------------------------------------------------

    def refresh_body(self) -> None:
        """Shows the lines and what they came to."""
        results, job, unit = self.document.results(), self.document.job, self.document.unit
        if results is None or job is None:
            return
        for axis, one in zip("xyz", job.stock.axes, strict=True):
            self.axes[axis].show_choice(one.hindered)
            self.beds[axis].show_value(one.bed_percent)
        self.grade.show_choice(job.stock.tolerance or "")
        self.other.show_choice(job.stock.other_metal or "")
        self.spin.show_choice(job.stock.spin_axis)
        self.shrink.show_value(job.stock.print_shrink_percent)
        self._shrink_row.setVisible(pattern_kinds()[job.method.pattern].printed)
        self._bed_row.setVisible(pattern_kinds()[job.method.pattern].printed)
        self._bed_head.setVisible(pattern_kinds()[job.method.pattern].printed)
        stock: StockResult | None = results.stock
        if stock is None:
            return
        for axis, percent in zip("xyz", stock.percents, strict=True):
            self.percents[axis].show_value(percent)
        self._show_lines(job, stock, unit)
        rows = [
            ("Part as wanted", volume(stock.finished.volume_mm3, unit)),
            ("Metal added", volume(stock.added_mm3, unit)),
            ("Casting as poured", f"{volume(stock.cast.volume_mm3, unit)}, {mass(stock.cast.mass_kg)}"),
            ("After machining", mass(stock.finished.mass_kg)),
            (
                "Inertia cast, finished",
                f"{_small(stock.cast.inertia_kgm2)}, {_small(stock.finished.inertia_kgm2)} kg cm²",
            ),
        ]
        if len(stock.filler_mm):
            rows.append(("Filler, thickest", length(float(stock.filler_mm.max(initial=0.0)), unit, 2)))
        self.sums.show_rows(rows)
        self.table.show_rows(_dimension_rows(stock, unit))

    def _show_lines(self, job: Job, stock: StockResult, unit: str) -> None:
        own = [added.asked for added in stock.lines]
        signature = (tuple(own), tuple(type(line).__name__ for line in job.stock.lines))
        if signature != self._signature:
            self._signature = signature
            emptied(self._lines)
            self._rows = []
            for index, asked in enumerate(own):
                line = job.stock.lines[asked] if 0 <= asked < len(job.stock.lines) else None
                row = LineRow(self, index, asked, line)
                row.pointed.connect(self.pointed)
                self._rows.append(row)
                self._lines.addWidget(row)
        for row, added in zip(self._rows, stock.lines, strict=False):
            line = job.stock.lines[added.asked] if 0 <= added.asked < len(job.stock.lines) else None
            row.show_line(added, line, unit)


def _small(kgm2: float) -> str:
    """A moment of inertia in kg cm2."""
    return plain(kgm2 * 1e4, 2)


def _dimension_rows(stock: StockResult, unit: str) -> list[tuple[str, str]]:
    digits = 3 if unit == "in" else 2
    rows = []
    for dimension in stock.dimensions:
        sizes = [plain(from_mm(value, unit), digits) for value in (dimension.wanted_mm, dimension.pattern_mm)]
        spread = (
            "" if dimension.tolerance_mm is None else f" ± {plain(from_mm(dimension.tolerance_mm / 2.0, unit), digits)}"
        )
        rows.append((dimension.name, f"{sizes[0]} → {sizes[1]}"))
        if dimension.note:
            rows.append(("", dimension.note))
        cast = plain(from_mm(dimension.casting_mm, unit), digits)
        other = "" if dimension.other_mm is None else f", else {plain(from_mm(dimension.other_mm, unit), digits)}"
        rows.append(("   casts", f"{cast}{spread}{other}"))
    return rows
