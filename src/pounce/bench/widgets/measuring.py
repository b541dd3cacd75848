"""Start from measures: the sizes of a part that has no model, and its weight."""

from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from pounce.base.errors import UserFault
from pounce.base.units import to_mm
from pounce.bench.widgets.parts import Choice, Figure, Row, button, label
from pounce.metals.tables import metals
from pounce.part.measures import Measures, holes_of, points_of

SHAPES = (
    ("block", "Block, solid"),
    ("round", "Round, solid"),
    ("tube", "Tube or ring"),
    ("tray", "Tray or cup, open on top"),
    ("angle", "Angle, two legs"),
    ("outline", "Sketched outline"),
)
WALLED = ("tube", "tray", "angle")


class MeasureDialog(QDialog):
    """The measures of a part, asked one under the other; ``wanted`` says them with the metal that was weighed."""

    wanted = pyqtSignal(object, str)

    def __init__(self, parent: QWidget, unit: str, metal: str) -> None:
        super().__init__(parent)
        self._unit = unit
        self.setWindowTitle("Measure a part you have")
        self.resize(430, 480)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(18, 14, 18, 14)
        layout.setSpacing(8)
        layout.addWidget(label("Measure a part you have", "title"))
        layout.addWidget(
            label(
                "A plain solid is built from its sizes. A worn original can serve as its own pattern.",
                "muted",
                wrap=True,
            )
        )
        self.name = QLineEdit("Measured part")
        self.name.setFixedWidth(200)
        self.shape = Choice("Shape", SHAPES)
        self.shape.setFixedWidth(200)
        self.shape.given.connect(lambda _: self._show())
        self._sizes(unit)
        self.holes, self.points = QLineEdit(), QLineEdit()
        self.holes.setPlaceholderText("-40,0,8 40,0,8")
        self.points.setPlaceholderText("0,0 120,0 120,40 0,40")
        for one in (self.holes, self.points):
            one.setFixedWidth(200)
        self.weight = Figure(" kg", 0.0, 9999.0, 3, 0.1, "Weight on the scale")
        self.weight.setSpecialValueText("not weighed")
        self.weight.setFixedWidth(130)
        self.metal = Choice("It is made of", [(key, one.name) for key, one in metals().items()])
        self.metal.setFixedWidth(200)
        self.metal.show_choice(metal)
        self.rows["points"] = Row("Corners", self.points, "x,y of every corner, round the part")
        for row in (
            Row("Name", self.name),
            Row("Shape", self.shape),
            *self.rows.values(),
            Row("Round holes", self.holes, "x,y,width from the middle"),
            Row("On the scale", self.weight),
            Row("It is made of", self.metal),
        ):
            layout.addWidget(row)
        self.trouble = label("", "strong", wrap=True)
        layout.addWidget(self.trouble)
        layout.addStretch(1)
        foot = QHBoxLayout()
        foot.addStretch(1)
        foot.addWidget(button("Leave it", "", self.reject))
        self.build = button("Build it", "primary", self._build)
        foot.addWidget(self.build)
        layout.addLayout(foot)
        self._show()

    def _sizes(self, unit: str) -> None:
        """A field for each size, in the reader's unit."""
        digits = 3 if unit == "in" else 1
        scale = 25.4 if unit == "in" else 1.0
        self.figures: dict[str, Figure] = {}
        self.rows: dict[str, Row] = {}
        for key, name, value, tip in (
            ("long_mm", "Length", 100.0, "Over all"),
            ("wide_mm", "Width", 60.0, "Over all"),
            ("high_mm", "Height", 30.0, "Over all"),
            ("wall_mm", "Wall", 0.0, "0: worked out from the weight"),
        ):
            figure = Figure(f" {unit}", 0.0, 3000.0 / scale, digits, 1.0, name)
            figure.show_value(value / scale)
            self.figures[key], self.rows[key] = figure, Row(name, figure, tip)
        self.figures["wall_mm"].setSpecialValueText("from weight")
        self.figures["wall_mm"].setFixedWidth(130)

    def _show(self) -> None:
        kind = str(self.shape.currentData())
        self.rows["wall_mm"].setVisible(kind in WALLED)
        self.rows["points"].setVisible(kind == "outline")
        self.rows["wide_mm"].setVisible(kind in ("block", "tray", "angle"))
        self.rows["long_mm"].setVisible(kind != "outline")

    def _mm(self, value: float) -> float:
        return round(to_mm(value, self._unit), 4)

    def measures(self) -> Measures:
        """What was given, in mm. UserFault for words that cannot be read."""
        sizes: dict[str, Any] = {key: self._mm(figure.value()) for key, figure in self.figures.items()}
        holes = tuple((self._mm(x), self._mm(y), self._mm(wide)) for x, y, wide in holes_of(self.holes.text()))
        points = tuple((self._mm(x), self._mm(y)) for x, y in points_of(self.points.text()))
        name = self.name.text().strip() or "Measured part"
        return Measures(
            shape=self.shape.currentData(),
            name=name,
            holes=holes,
            points=points,
            weight_kg=self.weight.value(),
            **sizes,
        )

    def _build(self) -> None:
        try:
            asked = self.measures()
        except UserFault as fault:
            self.trouble.setText(str(fault))
            return
        self.wanted.emit(asked, str(self.metal.currentData()))
        self.accept()
