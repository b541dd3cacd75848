"""What of an entry is completed later: masses, sand, words, photos."""

from pathlib import Path
from typing import Any, Literal

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QLineEdit, QVBoxLayout, QWidget

from pounce.base.units import count_words
from pounce.bench.cards.card import FigureTable
from pounce.bench.log.desk import LogDesk
from pounce.bench.widgets.parts import Choice, Figure, Fold, Row, Segments, button, label
from pounce.logbook.compare import differs_of
from pounce.logbook.said import LogResult
from pounce.logbook.values import Pour
from pounce.route import entry

# Figures: field, title, unit, least and most, digits.
FIGURES = (
    ("poured_kg", "Poured", "kg", (0.0, 500.0), 2),
    ("charged_kg", "Charged", "kg", (0.0, 500.0), 2),
    ("returns_kg", "Goes back", "kg", (0.0, 500.0), 2),
    ("moisture_percent", "Water in the sand", "%", (0.0, 30.0), 1),
    ("sand_uses", "Sand used before", "", (0.0, 9999.0), 0),
    ("weighted_kg", "Weight on the cope", "kg", (0.0, 500.0), 1),
    ("ram_min_l", "A litre rammed in", "min", (0.0, 10.0), 2),
    ("melt_min", "Melted in", "min", (0.0, 1440.0), 0),
    ("falls_c_min", "The crucible fell", "K/min", (0.0, 600.0), 1),
    ("left_mm", "Left after machining", "mm", (-20.0, 20.0), 2),
    ("growth_percent", "Print larger by", "%", (-5.0, 5.0), 2),
    ("cost", "Cost", "", (0.0, 1e6), 2),
)
WORDS = (
    ("charge_from", "Charge from"),
    ("batch", "Batch"),
    ("coat", "Coat"),
    ("dust", "Parting dust"),
    ("weather", "Weather"),
)
FIELD = 178
MOST_EVENTS, MOST_ROWS = 4, 12


class Later(QWidget):
    """A fold of fields; ``story`` asks for the part's story."""

    story = pyqtSignal()

    def __init__(self, desk: LogDesk) -> None:
        super().__init__()
        self._desk = desk
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        fold = Fold("Completed later", True)
        fold.body.setSpacing(5)
        column.addWidget(fold)
        self.figures = {}
        for key, title, unit, ends, digits in FIGURES:
            self.figures[key] = figure_of(desk, key, f" {unit}" if unit else "", ends, digits, title)
            fold.body.addWidget(Row(title, self.figures[key]))
        self.words = {}
        for key, title in WORDS:
            self.words[key] = line_of(desk, key, title)
            fold.body.addWidget(Row(title, self.words[key]))
        self.dry = Segments((("", "Not looked"), ("yes", "Dry")), "The core's weight stood")
        self.dry.chosen.connect(lambda how: desk.give(core_dry=True if how else None))
        fold.body.addWidget(Row("Core weighed", self.dry, "Its weight stood while it dried"))
        self.stream = Segments((("", "Whole"), ("yes", "Broken")), "The stream")
        self.stream.chosen.connect(lambda how: desk.give(broken=bool(how)))
        fold.body.addWidget(Row("The stream was", self.stream))
        self._fill_history(column)
        self.photos = button("Attach photos", "", self._attach)
        fold.body.addWidget(self.photos)
        fold.body.addWidget(button("The part's story on one page", "", self.story.emit))
        self.drop = button("Take this entry out of the book", "link", desk.drop)
        fold.body.addWidget(self.drop)

    def _fill_history(self, column: QVBoxLayout) -> None:
        """What was done to the pattern, and another pour beside this one."""
        history = Fold("The pattern, and another pour", True)
        history.body.setSpacing(5)
        column.addWidget(history)
        self.events = label("", "muted", wrap=True)
        history.body.addWidget(self.events)
        self.coat = self._done("Coated with", "coat")
        self.repair = self._done("Repaired", "repair")
        history.body.addWidget(Row("Coated with", self.coat, "Enter notes it"))
        history.body.addWidget(Row("Repaired", self.repair, "Enter notes it"))
        self.beside = Choice("Beside", [("", "No other pour")])
        self.beside.setFixedWidth(FIELD)
        self.beside.given.connect(lambda _: self._desk.changed.emit())
        history.body.addWidget(Row("Held beside", self.beside, "What differs between this pour and another of the job"))
        self.differs = FigureTable([])
        history.body.addWidget(self.differs)

    def _done(self, name: str, kind: Literal["coat", "repair"]) -> QLineEdit:
        field = QLineEdit()
        field.setFixedWidth(FIELD)
        field.setAccessibleName(name)

        def entered() -> None:
            self._desk.done_to_pattern(kind, field.text().strip())
            field.clear()

        field.returnPressed.connect(entered)
        return field

    def show_history(self, made: LogResult, pour: Pour) -> None:
        """The pattern's last coats and repairs, how often it was pulled; what differs from the pour beside."""
        done = [one for one in made.events if one.kind != "pulled"][-MOST_EVENTS:]
        said = [f"{one.at.astimezone():%d %b}: {one.kind}, {one.note}" for one in done]
        pulled = f"{count_words(made.pulls).capitalize()} mould{'s' if made.pulls != 1 else ''} made of it."
        self.events.setText("\n".join([pulled, *said]))
        others = [(one.id, f"{one.at.astimezone():%d %b %Y}") for one in made.pours if one.id != pour.id]
        listed(self.beside, [("", "No other pour"), *others], self.beside.currentData() or "")
        other = next((one for one in made.pours if one.id == self.beside.currentData()), None)
        rows = [] if other is None else [*entry.differ(other, pour), *differs_of(other.chosen, pour.chosen)]
        self.differs.show_rows([(one.name, f"{one.was} | {one.now}") for one in rows[:MOST_ROWS]])

    def show_pour(self, pour: Pour, new: bool) -> None:
        """What stands in the entry."""
        self.dry.show_choice("yes" if pour.core_dry else "")
        self.stream.show_choice("yes" if pour.broken else "")
        for key, field in self.figures.items():
            field.show_value(float(getattr(pour, key) or 0.0))
        for key, line in self.words.items():
            if not line.hasFocus():
                line.setText(getattr(pour, key))
        many = len(pour.photos)
        self.photos.setText(f"Attach photos ({many} there)" if many else "Attach photos")
        self.drop.setVisible(not new)

    def _attach(self) -> None:
        kinds = "Photos (*.jpg *.jpeg *.png *.webp)"
        names, _ = QFileDialog.getOpenFileNames(self, "Attach photos", str(self._desk.document.folder), kinds)
        if names:
            self._desk.attach([Path(one) for one in names])


def figure_of(desk: LogDesk, key: str, suffix: str, ends: tuple[float, float], digits: int, name: str) -> Figure:
    """A field for a figure of the entry; nothing is nothing."""
    field = Figure(suffix, *ends, digits, 0.1 if digits else 1.0, name)
    if ends[0] == 0.0:
        field.setSpecialValueText(" ")
    whole = key == "sand_uses"

    def gave(value: float) -> None:
        fields: dict[str, Any] = {key: (int(value) if whole else value) or None}
        if key == "poured_c":
            fields["read_by"] = "hand" if value else ""
        desk.give(**fields)

    field.given.connect(gave)
    return field


def line_of(desk: LogDesk, key: str, name: str) -> QLineEdit:
    """A field for words of the entry."""
    field = QLineEdit()
    field.setFixedWidth(FIELD)
    field.setAccessibleName(name)
    field.editingFinished.connect(lambda: desk.give(**{key: field.text().strip()}))
    return field


def listed(field: Choice, options: list[tuple[str, str]], chosen: str) -> None:
    """The options of a list, made anew only when they are others."""
    now = [(field.itemData(k), field.itemText(k)) for k in range(field.count())]
    if now != options:
        field.blockSignals(True)
        field.clear()
        for key, text in options:
            field.addItem(text, key)
        field.blockSignals(False)
    field.show_choice(chosen)
