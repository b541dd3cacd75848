"""The Draw card: direction and the draft asked, with every place that is tight or locks."""

import numpy as np

from pounce.base.units import area, degrees
from pounce.bench.stops.card import Card, FigureTable
from pounce.bench.widgets.parts import Figure, Row, Segments, button, label
from pounce.job import edits
from pounce.solid.frame import axis_name


class DrawCard(Card):
    """How the pattern leaves the sand."""

    stop = "draw"

    def fill(self) -> None:
        """Direction and draft."""
        self.axis = Segments([("z", "z"), ("y", "y"), ("x", "x")], "Draw along")
        self.axis.chosen.connect(lambda letter: self._turn(f"+{letter}"))
        self.body.addWidget(Row("Draw along", self.axis, "The model's own axis that the cope lifts along"))
        self.over = button("Turn over", "", self._turn_over, "Draw the other way along the same axis")
        self.search = button(
            "Best of three", "", lambda: self.desk.edit(edits.set_draw, None), "Take the axis that locks least"
        )
        self.body.addWidget(Row("Cope and drag", self.over))
        self.body.addWidget(Row("Search", self.search))
        self.draft = Figure(" °", 0.0, 15.0, 1, 0.5, "Draws clean from")
        self.draft.given.connect(lambda value: self.desk.edit(edits.set_draft, value))
        self.body.addWidget(Row("Clean from", self.draft, "Faces with less draft than this are tight"))
        self.usual = button("Use the usual draft", "link", lambda: self.desk.edit(edits.set_draft, None))
        self.body.addWidget(self.usual)
        self.body.addWidget(label("Locked along each axis", "section"))
        self.table = FigureTable([])
        self.body.addWidget(self.table)

    def _turn(self, name: str) -> None:
        self.desk.edit(edits.set_draw, edits.AXES[name])

    def _turn_over(self) -> None:
        results = self.desk.results()
        if results is not None and results.draw is not None:
            x, y, z = (-float(value) + 0.0 for value in results.draw.direction)
            self.desk.edit(edits.set_draw, (x, y, z))

    def refresh_body(self) -> None:
        """Shows the draw."""
        results = self.desk.results()
        if results is None:
            return
        if results.metal is not None:
            self.draft.show_value(results.metal.required_draft_deg)
            self.draft.setEnabled(results.metal.pattern.draws)
            self.usual.setVisible(results.metal.own_draft)
            self.usual.setText(f"Use the usual {degrees(results.metal.pattern.draft.value)}")
        if results.draw is not None:
            name = axis_name(results.draw.direction)
            self.axis.show_choice(name[1] if name else "")
            rows = []
            for candidate in results.draw.candidates:
                letter = (axis_name(np.array(candidate.direction)) or "own way").lstrip("+-")
                best = ", locks least" if candidate is results.draw.candidates[0] else ""
                rows.append((f"Along {letter}{best}", f"about {area(candidate.locked_mm2, self.desk.unit)}"))
            self.table.show_rows(rows)
