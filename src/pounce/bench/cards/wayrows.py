"""What the ways of making have on the Pattern card: a tile each, and the figures each wants."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton, QVBoxLayout

from pounce.base.finding import filled
from pounce.base.units import quantity
from pounce.bench.widgets.parts import label
from pounce.pattern.making.values import Way

WAYS = {"original": "Original", "metal": "Metal", "printed": "Printed", "wood": "Wood", "foam": "Foam"}
# Figures of a way on the card: name, field, what it is of, suffix, least, most, decimals, step, tip.
FIGURES = (
    (
        "Stock on the joint",
        "lap_mm",
        "metal",
        "mm",
        0.0,
        20.0,
        2,
        0.1,
        "To machine and lap the joint of the metal pattern; ISO 8062-3 unless you say",
    ),
    ("Layer", "layer_mm", "printed", "mm", 0.02, 1.0, 2, 0.04, "Height of a printed layer"),
    ("Walls", "walls", "printed", "", 1, 20, 0, 1, "Lines of plastic round every layer"),
    ("Inside", "inside_percent", "printed", "%", 0, 100, 0, 5, "How much is filled within the walls"),
    ("Boards at most", "board_mm", "wood", "mm", 3, 200, 1, 1, "The thickest planed board at hand"),
    ("Room to plane", "room_mm", "wood", "mm", 0, 20, 1, 0.5, "Left on every side of a board"),
    (
        "Wall when hollow",
        "wall_mm",
        "hollow",
        "mm",
        1.0,
        30.0,
        1,
        0.5,
        "Wall of a hollow piece; ribs stand as near as it needs to hold the ramming",
    ),
    ("Boards, wide", "board_wide_mm", "wood", "mm", 20, 3000, 0, 10, "How wide the boards at hand are"),
    ("Boards, long", "board_long_mm", "wood", "mm", 100, 6000, 0, 100, "How long the boards at hand are"),
    ("Sheets, wide", "sheet_wide_mm", "foam", "mm", 100, 3000, 0, 50, "How wide the sheets of foam at hand are"),
    ("Sheets, long", "sheet_long_mm", "foam", "mm", 100, 6000, 0, 50, "How long the sheets of foam at hand are"),
    ("Sheets at most", "sheet_mm", "foam", "mm", 5, 1000, 0, 10, "The thickest sheet of foam at hand"),
    ("Kerf of the wire", "kerf_mm", "foam", "mm", 0, 10, 1, 0.1, "What the hot wire melts away, both sides together"),
)


class WayTile(QPushButton):
    """One way of making: its name, hours, what it takes, what to mind."""

    def __init__(self, kind: str) -> None:
        super().__init__()
        self.kind = kind
        self.setCheckable(True)
        self.setProperty("kind", "way")
        self.setFixedHeight(136)
        column = QVBoxLayout(self)
        column.setContentsMargins(7, 7, 5, 5)
        column.setSpacing(1)
        self._name, self._hours = label(WAYS[kind], "strong"), label("", "value")
        self._takes, self._minds = label("", "muted", wrap=True), label("", "", wrap=True)
        for widget in (self._name, self._hours, self._takes, self._minds):
            widget.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
            column.addWidget(widget)
        column.addStretch(1)

    def show_way(self, way: Way | None, chosen: bool, unit: str) -> None:
        """What this way comes to."""
        self.setChecked(chosen)
        self.setEnabled(way is not None)
        if way is None:
            return
        self._hours.setText(quantity("all_hours", way.hours) if way.hours > 0.0 else "no")
        self._takes.setText(filled(way.takes, way.figures, unit))
        self._minds.setText(way.minds)
        self.setAccessibleName(f"{WAYS[self.kind]}, {self._hours.text()}, {self._takes.text()}. {way.minds}")
