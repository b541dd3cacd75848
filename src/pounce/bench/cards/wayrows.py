"""What the ways of making have on the Pattern card: a tile each, and the figures each wants."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton, QVBoxLayout

from pounce.base.finding import filled
from pounce.base.units import quantity
from pounce.bench.widgets.parts import label
from pounce.pattern.choices import (
    BOARD,
    BOARD_LONG,
    BOARD_WIDE,
    INSIDE,
    KERF,
    LAP,
    LAYER,
    ROOM,
    SHEET,
    SHEET_LONG,
    SHEET_WIDE,
    WALL,
    WALLS,
)
from pounce.pattern.making.values import Way

WAYS = {"original": "Original", "metal": "Metal", "printed": "Printed", "wood": "Wood", "foam": "Foam"}
# Figures of a way on the card, and the way they are of.
FIGURES = (
    (LAP, "metal"),
    (LAYER, "printed"),
    (WALLS, "printed"),
    (INSIDE, "printed"),
    (BOARD, "wood"),
    (ROOM, "wood"),
    (WALL, "hollow"),
    (BOARD_WIDE, "wood"),
    (BOARD_LONG, "wood"),
    (SHEET_WIDE, "foam"),
    (SHEET_LONG, "foam"),
    (SHEET, "foam"),
    (KERF, "foam"),
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
