"""The Parting card: the flat joint and its height."""

from pounce.base.units import area, from_mm, length, to_mm
from pounce.bench.stops.card import Card, FigureTable
from pounce.bench.widgets.parts import BrassSlider, Figure, Row, Segments, label
from pounce.job import edits


class PartingCard(Card):
    """Where cope and drag come apart."""

    stop = "parting"

    def fill(self) -> None:
        """Joint and height."""
        self.how = Segments([("best", "Best found"), ("own", "Own height")], "Joint")
        self.how.chosen.connect(self._how)
        self.body.addWidget(Row("Flat joint", self.how))
        self.joint = Figure(" mm", -1e5, 1e5, 2, 1.0, "Height of the joint along the draw")
        self.joint.given.connect(lambda value: self._own(to_mm(value, self.desk.unit)))
        self.body.addWidget(Row("Height", self.joint, "Along the draw, from the model's own zero"))
        self.slider = BrassSlider("Height of the joint")
        self.slider.moved.connect(lambda value: self.joint.show_value(from_mm(value, self.desk.unit)))
        self.slider.settled.connect(self._own)
        self.body.addWidget(self.slider)
        self.body.addWidget(label("What follows", "section"))
        self.table = FigureTable([])
        self.body.addWidget(self.table)

    def _own(self, height_mm: float) -> None:
        self.desk.edit(edits.set_height, round(height_mm, 4))

    def _how(self, key: str) -> None:
        results = self.desk.results()
        if key == "best":
            self.desk.edit(edits.set_height, None)
        elif results is not None and results.parting is not None:
            self._own(results.parting.height_mm)

    def refresh_body(self) -> None:
        """Shows the joint."""
        results, unit, job = self.desk.results(), self.desk.unit, self.desk.job
        if results is None or job is None:
            return
        self.how.show_choice("best" if job.parting.height_mm is None else "own")
        self.joint.setSuffix(f" {unit}")
        self.joint.setDecimals(3 if unit == "in" else 2)
        self.joint.setSingleStep(0.05 if unit == "in" else 1.0)
        if results.draw is None:
            return
        low, high = results.draw.low_mm, results.draw.high_mm
        self.joint.blockSignals(True)
        self.joint.setRange(from_mm(low, unit) - 1e-3, from_mm(high, unit) + 1e-3)
        self.joint.blockSignals(False)
        if results.parting is None:
            return
        p = results.parting
        self.joint.show_value(from_mm(p.height_mm, unit))
        self.slider.set_range(low, high, None, p.best_height_mm)
        self.slider.show_value(p.height_mm)
        self.table.show_rows(
            [
                ("Best height", length(p.best_height_mm, unit, 2)),
                ("Deep in the cope", length(p.cope_depth_mm, unit)),
                ("Deep in the drag", length(p.drag_depth_mm, unit)),
                ("Draws clean", area(p.clean_mm2, unit)),
                ("Tight", area(p.tight_mm2, unit)),
                ("Locks", area(p.locked_mm2, unit)),
                ("Locks at any height", area(p.locked_any_mm2, unit)),
                ("Parting line", length(p.length_mm, unit, 0)),
            ]
        )
