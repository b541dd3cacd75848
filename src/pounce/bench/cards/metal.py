"""The Metal card: alloy, mould, way of making, contraction."""

from PyQt6.QtWidgets import QHBoxLayout, QWidget

from pounce.base.units import degrees, length, mass, plain
from pounce.bench.cards.card import Card, FigureTable
from pounce.bench.cards.rows import chooser, figure, row, segments
from pounce.bench.widgets.parts import BrassSlider, Figure, button, label
from pounce.job import edits
from pounce.metals import contraction, tables
from pounce.metals.choices import CONTRACTION, MASTER, METAL, MOULD, PATTERN, STATED
from pounce.metals.method import Method


def _draft_words(m: Method) -> str:
    """The draft asked: one own figure, or the table's range."""
    low, high = m.draft_range_deg
    if not m.pattern.draws:
        return "none"
    return degrees(low) if m.own_draft else f"{degrees(low)} to {degrees(high)}"


class MetalCard(Card):
    """What it is poured in, and how it shrinks."""

    stop = "metal"

    def fill(self) -> None:
        """Choices and the three ways to say a contraction."""
        self.metal, self.mould, self.kind, self.master = (chooser(one) for one in (METAL, MOULD, PATTERN, MASTER))
        for choice, control in ((METAL, self.metal), (MOULD, self.mould), (PATTERN, self.kind)):
            control.given.connect(self.giving(choice))
            self.body.addWidget(row(choice, control))
        self.master.given.connect(self.giving(MASTER))
        self._master_row = row(MASTER, self.master)
        self.body.addWidget(self._master_row)
        self.stated = segments(STATED)
        self.stated.chosen.connect(self.giving(STATED))
        self.body.addWidget(row(STATED, self.stated))
        three = QWidget()
        side = QHBoxLayout(three)
        side.setContentsMargins(0, 0, 0, 0)
        side.setSpacing(4)
        self.percent = figure(CONTRACTION)
        self.factor = Figure(" ×", 1.0, 1.12, 4, 0.001, "Pattern size over part size")
        self.inches = Figure(" in/ft", 0.0, 1.3, 4, 1 / 32, "Inches in a foot, as on a contraction rule")
        for field, width in ((self.percent, 72), (self.factor, 85), (self.inches, 103)):
            field.setFixedWidth(width)
            side.addWidget(field)
        self.percent.given.connect(self.giving(CONTRACTION))
        self.factor.given.connect(self._by_factor)
        self.inches.given.connect(lambda value: self._by_factor(1.0 + value / 12.0))
        self.body.addWidget(three)
        self.slider = BrassSlider("Contraction")
        self.slider.settled.connect(lambda value: self.document.edit(edits.set_contraction, round(value, 2)))
        self.slider.moved.connect(self.percent.show_value)
        self.body.addWidget(self.slider)
        self.rule = label("", "muted", wrap=True)
        self.range = label("", "muted", wrap=True)
        self.body.addWidget(self.rule)
        self.body.addWidget(self.range)
        self.table = button("Use the table's figure", "link", lambda: self.document.edit(edits.set_contraction, None))
        self.body.addWidget(self.table)
        self.follows = FigureTable([])
        self.body.addWidget(label("What follows", "section"))
        self.body.addWidget(self.follows)

    def _by_factor(self, factor: float) -> None:
        job = self.document.job
        if job is not None:
            self.document.edit(
                edits.set_contraction, round(contraction.percent(max(factor, 1.0), job.method.stated), 4)
            )

    def refresh_body(self) -> None:
        """Shows the method."""
        results, unit = self.document.results(), self.document.unit
        if results is None or results.metal is None or self.document.job is None:
            return
        m = results.metal
        self.metal.show_choice(m.metal_id)
        self.mould.show_choice(m.mould_id)
        self.kind.show_choice(m.pattern_id)
        self._master_row.setVisible(m.pattern_id == "metal-from-master")
        self.master.show_choice(self.document.job.method.master_metal or m.metal_id)
        self.stated.show_choice(m.stated)
        self.percent.show_value(m.contraction_percent)
        self.factor.show_value(m.casting_factor)
        self.inches.show_value(contraction.inches_in_a_foot(m.casting_factor))
        low, high, typical = (
            contraction.restate(value, "pattern", m.stated)
            for value in (m.metal.contraction.low, m.metal.contraction.high, m.metal.contraction.value)
        )
        self.slider.set_range(max(0.0, low - 0.5), high + 0.5, (low, high), typical)
        self.slider.show_value(m.contraction_percent)
        text, misses = contraction.nearest_rule(m.casting_factor)
        near = "" if abs(misses) < 5e-4 else f", {'over' if misses > 0 else 'under'} by {plain(abs(misses), 3)}"
        worked = contraction.formula(plain(m.contraction_percent, 2), m.stated)
        worked = worked[0].upper() + worked[1:]
        self.rule.setText(f"{worked}. Nearest contraction rule: {text} in. in a foot{near}.")
        source = tables.sources()[m.metal.contraction.source]
        self.range.setText(f"Range {plain(low, 2)} to {plain(high, 2)} %: {source.words()}.")
        self.table.setVisible(m.own_contraction)
        rows = [
            ("Draft asked", _draft_words(m)),
            ("Least wall that fills", length(m.metal.least_wall.value, unit)),
            ("Pour between", f"{m.metal.pouring.low:.0f} and {m.metal.pouring.high:.0f} °C"),
            ("Freezes between", f"{m.metal.liquidus.value:.0f} and {m.metal.solidus.value:.0f} °C"),
        ]
        if results.part is not None and results.part.closed:
            rows.append(("Casting weighs", mass(m.mass_kg(results.part.volume_mm3))))
        self.follows.show_rows(rows)
