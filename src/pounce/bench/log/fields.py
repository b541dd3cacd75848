"""Fields of an entry: a table of sizes read on a casting, the defects of a casting."""

from collections.abc import Callable
from functools import partial

import msgspec
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from pounce.base.units import from_mm, plain, to_mm
from pounce.bench.log.desk import LogDesk
from pounce.bench.widgets.parts import Choice, Figure, Row, Segments, button, emptied, label
from pounce.logbook.said import Row as MeasuredRow
from pounce.logbook.said import Size
from pounce.logbook.values import Casting, Defect, Way
from pounce.metals.defects import defects

FIELD, PATTERN = 92, 88
MOST_MM = 20000.0
WAYS = {Way.ACROSS: "Across", Way.ALONG: "Along", Way.JOINT: "Over joint"}


class SizesTable(QWidget):
    """Each size with what the pattern has, and a field for the casting. ``chosen`` with the size that was typed."""

    chosen = pyqtSignal(str)

    def __init__(self, desk: LogDesk, caliper: Callable[[], float]) -> None:
        super().__init__()
        self._desk, self._caliper = desk, caliper
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(4)
        self.fields: dict[str, Figure] = {}
        self.patterns: dict[str, Figure] = {}
        self._typed: dict[str, float] = {}
        self._built: tuple[tuple[str, ...], str] = ((), "")

    def show_sizes(self, sizes: tuple[Size, ...], unit: str) -> None:
        """The sizes of the job, and what was read of them on this casting."""
        names = tuple(one.name for one in sizes)
        if self._built != (names, unit):
            self._built = (names, unit)
            self._build(sizes, unit)
        for size in sizes:
            had = self._desk.measure_of(size.name)
            self.fields[size.name].show_value(0.0 if had is None else from_mm(had.casting_mm, unit))
            worked = self._typed.get(size.name, size.pattern_mm) if had is None else had.pattern_mm
            self.patterns[size.name].show_value(from_mm(worked, unit))
            self.fields[size.name].setToolTip("Nothing is learned from it" if had and had.left_out else _about(size))

    def take(self, size_mm: float) -> None:
        """A caliper has spoken: into the field that has the focus, else the first that is empty."""
        unit = self._built[1]
        fields = list(self.fields.items())
        at = next((k for k, (_, one) in enumerate(fields) if one.hasFocus()), None)
        if at is None:
            at = next((k for k, (_, one) in enumerate(fields) if one.value() == 0.0), None)
        if at is None:
            return
        name, field = fields[at]
        field.show_value(from_mm(size_mm, unit))
        self._desk.measure(name, size_mm, self._caliper())
        if at + 1 < len(fields):
            fields[at + 1][1].setFocus()

    def _build(self, sizes: tuple[Size, ...], unit: str) -> None:
        emptied(self._grid)
        self.fields, self.patterns = {}, {}
        digits = 3 if unit == "in" else 2
        for column, text in enumerate((f"{unit}, cold", "pattern", "casting")):
            head = label(text, "muted")
            side = Qt.AlignmentFlag.AlignLeft if column == 0 else Qt.AlignmentFlag.AlignRight
            self._grid.addWidget(head, 0, column, side)
        for k, size in enumerate(sizes, 1):
            name = label(size.name)
            pattern = Figure("", 0.0, MOST_MM, digits, 0.05, f"{size.name} of the pattern")
            pattern.setFixedWidth(PATTERN)
            pattern.setToolTip("As it was worked out; type what the pattern itself measures")
            pattern.given.connect(partial(self._pattern_given, size.name, unit))
            self.patterns[size.name] = pattern
            field = Figure("", 0.0, MOST_MM, digits, 0.05, f"{size.name} of the casting")
            field.setSpecialValueText(" ")
            field.setFixedWidth(FIELD)
            field.given.connect(partial(self._given, size.name, unit))
            self.fields[size.name] = field
            self._grid.addWidget(name, k, 0)
            self._grid.addWidget(pattern, k, 1, Qt.AlignmentFlag.AlignRight)
            self._grid.addWidget(field, k, 2, Qt.AlignmentFlag.AlignRight)
        self._grid.setColumnStretch(0, 1)

    def _given(self, name: str, unit: str, value: float) -> None:
        self._desk.measure(name, to_mm(value, unit), self._caliper(), self._typed.pop(name, None))
        self.chosen.emit(name)

    def _pattern_given(self, name: str, unit: str, value: float) -> None:
        """The pattern itself was measured: before the casting it is kept until that is there."""
        had = self._desk.measure_of(name)
        if had is None:
            self._typed[name] = to_mm(value, unit)
        else:
            self._desk.remeasure(name, pattern_mm=to_mm(value, unit), pattern_read=True)
        self.chosen.emit(name)


def _about(size: Size) -> str:
    ways = {"across": "across the draw", "along": "along the draw", "joint": "along the draw, across the joint"}
    return f"{plain(size.wanted_mm, 2)} mm are expected, measured unground, {ways[size.way.value]}"


class SizeDetail(QWidget):
    """What is said of one size: free or held back, how it lies, how often it was read; how it stands to its grade."""

    def __init__(self, desk: LogDesk) -> None:
        super().__init__()
        self._desk, self._name = desk, ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.about = label("", "muted", wrap=True)
        column.addWidget(self.about)
        self.held = Segments((("", "Free"), ("yes", "Held back")), "As it shrinks")
        self.held.chosen.connect(lambda how: desk.remeasure(self._name, hindered=bool(how)))
        column.addWidget(Row("As it shrinks", self.held, "A core or flanges hold it, or nothing does"))
        self.way = Segments([(one.value, WAYS[one]) for one in Way], "It lies")
        self.way.chosen.connect(lambda how: desk.remeasure(self._name, way=Way(how)))
        column.addWidget(Row("It lies", self.way, "Across the draw, along it in one half, or over the joint"))
        self.repeats = Figure("", 1.0, 100.0, 0, 1.0, "Read so often")
        self.repeats.given.connect(lambda many: desk.remeasure(self._name, repeats=int(many)))
        column.addWidget(Row("Read so often", self.repeats))
        self.out = button("Leave it out of what is learned", "link", self._turn)
        column.addWidget(self.out)
        self.hide()

    def choose(self, name: str) -> None:
        """Another size."""
        self._name = name
        self.show_size((), "")

    def show_size(self, rows: tuple[MeasuredRow, ...], grade: str) -> None:
        """What is known of it; nothing while it was not measured."""
        had = self._desk.measure_of(self._name)
        self.setVisible(had is not None)
        if had is None:
            return
        self.held.show_choice("yes" if had.hindered else "")
        self.way.show_choice(had.way.value)
        self.repeats.show_value(float(had.repeats))
        self.out.setText("Learn from it again" if had.left_out else "Leave it out of what is learned")
        row = next((one for one in rows if one.name == self._name), None)
        said = f"{had.name}: {plain(had.casting_mm, 2)} of {plain(had.wanted_mm, 2)} mm expected"
        if row is not None and row.half_mm is not None:
            said += f", {grade} ± {plain(row.half_mm, 2)}"
        if row is not None and row.left_mm is not None:
            said += f", {plain(row.left_mm, 2)} mm left to machine"
        self.about.setText(f"{said}.")

    def _turn(self) -> None:
        had = self._desk.measure_of(self._name)
        if had is not None:
            self._desk.remeasure(self._name, left_out=not had.left_out)


class FlawFields(QWidget):
    """What is seen, where and when; noted with one press. ``pointing`` asks for the place on the part."""

    pointing = pyqtSignal()

    def __init__(self, desk: LogDesk) -> None:
        super().__init__()
        self._desk = desk
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        table = defects()
        self.seen = _list("What is seen", table.seen)
        self.where = _list("Where", {"": "Not said", **table.where})
        self.when = _list("When", {"": "Not said", **table.when})
        for title, field in (("Seen", self.seen), ("Where", self.where), ("When", self.when)):
            column.addWidget(Row(title, field))
        line = QWidget()
        inner = QHBoxLayout(line)
        inner.setContentsMargins(0, 0, 0, 0)
        self.place = button("Point at it", "", self.pointing.emit, "Press, then click the place on the part")
        inner.addWidget(self.place)
        inner.addStretch(1)
        self.note = button("Note this defect", "", self._note)
        inner.addWidget(self.note)
        column.addWidget(line)
        self._had = QVBoxLayout()
        self._had.setSpacing(2)
        column.addLayout(self._had)
        self._at: tuple[float, float, float] | None = None
        self._shown: tuple[Defect, ...] = ()

    def pointed(self, at_mm: tuple[float, float, float]) -> None:
        """The place on the part."""
        self._at = at_mm
        self.place.setText("Place noted")

    def show_casting(self, casting: Casting) -> None:
        """The defects of a casting."""
        if casting.defects == self._shown:
            return
        self._shown = casting.defects
        emptied(self._had)
        for k, one in enumerate(casting.defects):
            self._had.addWidget(self._row(k, one))

    def _row(self, k: int, one: Defect) -> QWidget:
        table = defects()
        row = QWidget()
        inner = QVBoxLayout(row)
        inner.setContentsMargins(0, 2, 0, 0)
        inner.setSpacing(2)
        what = table.noun[one.seen]
        inner.addWidget(label(f"{what[0].upper()}{what[1:]}. {table.where.get(one.where, '')}".strip(), "", wrap=True))
        line = QHBoxLayout()
        settle = _list(
            "It was", {"": "Cause not settled", **{key: cause.name for key, cause in table.cause.items()}}, 168
        )
        settle.show_choice(one.cause)
        settle.given.connect(lambda cause: self._desk.change_flaw(k, msgspec.structs.replace(one, cause=cause)))
        line.addWidget(settle)
        line.addStretch(1)
        words = "A fault" if not one.fault else "Not a fault"
        line.addWidget(
            button(words, "link", lambda: self._desk.change_flaw(k, msgspec.structs.replace(one, fault=not one.fault)))
        )
        line.addWidget(button("Take out", "link", lambda: self._desk.change_flaw(k, None)))
        inner.addLayout(line)
        return row

    def _note(self) -> None:
        seen, where, when = (one.currentData() or "" for one in (self.seen, self.where, self.when))
        self._desk.flaw(Defect(seen, where, when, self._at))
        self._at = None
        self.place.setText("Point at it")


def _list(name: str, options: dict[str, str], wide: int = 196) -> Choice:
    out = Choice(name, list(options.items()))
    out.setFixedWidth(wide)
    return out
