"""The Mould card: flask, castings, gates, and what it weighs."""

from typing import Any

from PyQt6.QtWidgets import QHBoxLayout, QWidget

from pounce.base.choice import FigureChoice
from pounce.base.units import from_mm, mass, plain, quantity, to_mm
from pounce.bench.cards.card import Card, FigureTable
from pounce.bench.cards.rows import chooser, figure, row, segments
from pounce.bench.widgets.flasks import FlasksDialog
from pounce.bench.widgets.guests import GuestsList
from pounce.bench.widgets.parts import Figure, Row, button, label
from pounce.job import rig_edits
from pounce.rig.choices import (
    BASIN,
    CLOSING,
    COPE,
    COUNT,
    CUP,
    DRAG,
    FLASK,
    GATES,
    HEAD,
    INSIDE,
    RUNNER_END,
    SCHOOL,
    TIERS,
)
from pounce.rig.values import RigResult
from pounce.route.stops import METAL, MOULD

FIELD_PX = 90


class MouldCard(Card):
    """Which flask, how many castings, how the metal comes in."""

    stop = "mould"

    def fill(self) -> None:
        """Flask, castings, gates, metal, sand."""
        self.flask = chooser(FLASK, 176)
        self.flask.given.connect(self.giving(FLASK))
        self.body.addWidget(row(FLASK, self.flask))
        self.yours = button("Your flasks", "link", self._ask_flasks, "The flasks you have, their sizes and weights")
        self.body.addWidget(self.yours)
        self.long, self.wide = (figure(COPE) for _ in range(2))
        for field in (self.long, self.wide):
            field.given.connect(self._inside)
        self.long.setToolTip(INSIDE.help)
        self.wide.setToolTip(INSIDE.help)
        self.body.addWidget(Row("Inside", _side_by_side(self.long, self.wide), INSIDE.help))
        self.cope, self.drag = figure(COPE), figure(DRAG)
        self.cope.given.connect(lambda value: self.giving(COPE)(self._mm(value)))
        self.drag.given.connect(lambda value: self.giving(DRAG)(self._mm(value)))
        self.halves = Row("Cope, drag", _side_by_side(self.cope, self.drag), COPE.help)
        self.body.addWidget(self.halves)
        self.count = self._counted(COUNT)
        self.body.addWidget(row(COUNT, self.count))
        self.tiers = self._counted(TIERS)
        self.tree = row(TIERS, self.tiers)
        self.body.addWidget(self.tree)
        self.guests = GuestsList(lambda: self.document.settings.saved(self.document.path))
        self.guests.added.connect(lambda file, name: self.document.edit(rig_edits.add_guest, file, name))
        self.guests.counted.connect(lambda index, count: self.document.edit(rig_edits.count_guest, index, count))
        self.guests.gone.connect(lambda index: self.document.edit(rig_edits.drop_guest, index))
        self.body.addWidget(self.guests)
        self.gates = self._counted(GATES)
        self.body.addWidget(row(GATES, self.gates))
        self.school, self.cup = segments(SCHOOL), segments(CUP)
        self.school.chosen.connect(self.giving(SCHOOL))
        self.cup.chosen.connect(self.giving(CUP))
        self.body.addWidget(row(SCHOOL, self.school))
        self.head = figure(HEAD)
        self.head.setFixedWidth(FIELD_PX)
        self.head.given.connect(lambda value: self.giving(HEAD)(self._mm(value)))
        self.lying = [row(CUP, self.cup), row(HEAD, self.head)]
        self.basin, self.ends, self.closing = segments(BASIN), segments(RUNNER_END), segments(CLOSING)
        for choice, pair in ((BASIN, self.basin), (RUNNER_END, self.ends), (CLOSING, self.closing)):
            pair.chosen.connect(self.giving(choice))
        self.lying += [row(BASIN, self.basin), row(RUNNER_END, self.ends)]
        for shown in self.lying:
            self.body.addWidget(shown)
        self.closed = row(CLOSING, self.closing)
        self.body.addWidget(self.closed)
        self.anew = button("Arrange anew", "link", lambda: self.document.edit(rig_edits.arrange_anew))
        self.anew.setToolTip("What you moved by hand is set out by the program again")
        self.body.addWidget(self.anew)
        self.metal_title = label("Metal", "section")
        self.body.addWidget(self.metal_title)
        self.metal = FigureTable([])
        self.body.addWidget(self.metal)
        self.body.addWidget(label("Sand and weight", "section"))
        self.sand = FigureTable([])
        self.body.addWidget(self.sand)

    def _counted(self, choice: FigureChoice) -> Figure:
        """A field for a number of things."""
        field = figure(choice)
        field.setFixedWidth(FIELD_PX)
        field.given.connect(lambda value: self.giving(choice)(int(value)))
        return field

    def _ask_flasks(self) -> None:
        self.flasks = FlasksDialog(self)
        self.flasks.written.connect(self._flasks_written)
        self.flasks.open()

    def _flasks_written(self) -> None:
        self.flask.clear()
        for key, name in FLASK.options().items():
            self.flask.addItem(name, key)
        self.document.job_changed.emit()
        self.document.results_changed.emit("mould")
        self.document.work()

    def _inside(self, _value: float) -> None:
        self.document.edit(rig_edits.set_inside, (self._mm(self.long.value()), self._mm(self.wide.value())))

    def _mm(self, value: float) -> float:
        return round(to_mm(value, self.document.unit), 3)

    def refresh_body(self) -> None:
        """Shows choices and what came of them."""
        job, results = self.document.job, self.document.results()
        if job is None:
            return
        rig: RigResult | None = None if results is None else results.get(MOULD)
        self.flask.show_choice(job.rig.flask)
        self.count.show_value(rig_edits.asked_rig(job).count)
        self.tiers.show_value(job.rig.tiers)
        self.guests.show_guests(job.rig.guests)
        self.school.show_choice(job.rig.school)
        self.cup.show_choice(job.rig.cup)
        self.basin.show_choice(job.rig.basin)
        self.ends.show_choice(job.rig.runner_end)
        self.closing.show_choice(job.rig.closing)
        method = None if results is None else results.get(METAL)
        sets = method is not None and method.mould.bond == "set"
        foam = method is not None and not method.pattern.draws
        self.tree.setVisible(job.rig.tiers > 1 or (foam and rig_edits.asked_rig(job).count > 1))
        self.closed.setVisible(sets or job.rig.closing != "flask")
        self.anew.setVisible(bool(job.rig.placed or job.rig.gates_mm) or job.rig.sprue_mm is not None)
        if rig is None:
            return
        for shown in self.lying:  # on end the cup is cut in the joint, and there is no runner to end
            shown.setVisible(not rig.on_end)
        f, unit = rig.flask, self.document.unit
        # a pail has no halves: its sand lies over and under the middle of what lies in it
        self.halves.title.setText("Over, under" if rig.loose else "Cope, drag")
        for field, mm in (
            (self.long, f.long_mm),
            (self.wide, f.wide_mm),
            (self.cope, f.cope_mm),
            (self.drag, f.drag_mm),
        ):
            field.show_length(mm, unit)
        if rig.sprue is not None:
            self.head.show_length(rig.sprue.high_mm + rig.sprue.cup_high_mm, unit)
        self.gates.show_value(sum(gate.casting == 0 for gate in rig.gates))
        self.metal_title.setText(f"Metal, yield {round(100.0 * rig.weights.metal_yield)} %")
        self.metal.show_rows(_metal(rig, self.document.unit))
        self.sand.show_rows(_sand(rig))


def _side_by_side(*fields: Any) -> QWidget:
    both = QWidget()
    side = QHBoxLayout(both)
    side.setContentsMargins(0, 0, 0, 0)
    side.setSpacing(4)
    for field in fields:
        field.setFixedWidth(FIELD_PX)
        side.addWidget(field)
    return both


def _metal(rig: RigResult, unit: str) -> list[tuple[str, str]]:
    w, flow = rig.weights, rig.flow
    many = "The casting" if len(rig.castings) == 1 else f"{len(rig.castings)} castings"
    rows = [
        (many, mass(w.castings_kg)),
        ("Sprue, runner, gates", mass(w.gating_kg)),
        *([("Feeders", mass(w.feeders_kg))] if w.feeders_kg > 0.0 else []),
        *([("In the cup", mass(w.cup_kg))] if w.cup_kg > 0.0 else []),
        ("To pour", mass(w.poured_kg)),
        ("Fills in", quantity("fill_s", flow.fill_s)),
    ]
    if rig.sprue is not None:
        foot, top = (
            plain(from_mm(one, unit), 2 if unit == "in" else 1) for one in (rig.sprue.foot_mm, rig.sprue.top_mm)
        )
        rows.append(("Sprue, foot and top", f"Ø {foot}, {top} {unit}"))
    return rows


def _sand(rig: RigResult) -> list[tuple[str, str]]:
    w = rig.weights
    litres = plain(w.sand_l, 1 if w.sand_l < 10 else 0)
    rows = [("Sand, rammed", f"{litres} l, {mass(w.cope_sand_kg + w.drag_sand_kg)}")]
    x = rig.mixing
    rows += [
        (name, mass(value))
        for name, value in (
            ("Of it facing, sieved", x.facing_kg),
            ("Water, for dry sand", x.water_kg),
            (x.binder.partition(" and ")[0], x.binder_kg),
            ("Catalyst", x.catalyst_kg),
        )
        if value > 0.0
    ]
    if not rig.loose:
        rows.append(("Cope and drag, to lift", f"{mass(w.cope_kg)}, {mass(w.drag_kg)}"))
        rows.append(("Closed, to carry", mass(w.closed_kg)))
    if w.lift_n > 0.0:
        name = "Clamped with" if rig.on_end else "Put on the cope"
        rows.append((name, mass(w.add_kg) if w.add_kg > 0.05 else "nothing"))
    return rows
