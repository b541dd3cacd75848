"""What holds a pattern together and what it is mounted on: groups of rows on the Pattern card."""

from typing import Any

from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from pounce.base.units import from_mm, to_mm
from pounce.bench.widgets.parts import Choice, Figure, Row, Segments
from pounce.job import edits, pattern_edits
from pounce.metals.tables import limits, screws
from pounce.pattern.values import PatternChoices, PatternResult


class _Group(QWidget):
    """Rows under one another that edit the job's pattern; quiet while they are shown."""

    def __init__(self, desk: Any) -> None:
        super().__init__()
        self.desk = desk
        self._quiet = False
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(6)

    def _row(self, name: str, control: QWidget, tip: str) -> Row:
        row = Row(name, control, tip)
        self.column.addWidget(row)
        return row

    def _check(self, words: str) -> QCheckBox:
        box = QCheckBox(words)
        self.column.addWidget(box)
        return box

    def _edit(self, make: Any, *arguments: Any) -> None:
        if not self._quiet:
            self.desk.edit(make, *arguments)

    def _set(self, **changes: Any) -> None:
        self._edit(lambda job: pattern_edits.set_making(job, **changes))

    def _mm(self, figure: Figure) -> float:
        return round(to_mm(figure.value(), self.desk.unit), 4)


class Joinery(_Group):
    """Dowels, draw screw and rapping plate."""

    def __init__(self, desk: Any) -> None:
        super().__init__(desk)
        self.dowels = Segments([("loose", "Loose"), ("pins", "Short pins"), ("none", "None")], "Dowels")
        self.dowels.chosen.connect(lambda kind: self._edit(edits.set_dowels, kind))
        self._kind = self._row(
            "Dowels", self.dowels, "Loose: holes in both halves, so both print flat. Pins stand 3 mm proud of the cope half"
        )
        self.thick = Figure(" mm", 1.0, 50.0, 1, 1.0, "Diameter of the thicker dowel")
        self.thick.given.connect(lambda value: self._edit(edits.set_dowel_size, value))
        self.count = Figure("", 2, 6, 0, 1, "How many dowels")
        self.count.given.connect(lambda value: self._set(dowel_count=int(value)))
        self.proud = Figure(" mm", 0.5, 50.0, 1, 0.5, "How far dowels stand out of the joint")
        self.proud.given.connect(lambda _: self._set(proud_mm=self._mm(self.proud)))
        self._sizes = [
            self._row("Thicker dowel", self.thick, "The other is a size thinner, so the halves fit one way only"),
            self._row("How many", self.count, "Two place the halves; long joints want more"),
            self._row(
                "Stand out", self.proud, "3 mm clears when the cope is tilted in lifting; long ones lift the other half out of the sand"
            ),
        ]  # fmt: skip
        self.guide = self._check("Holes through one half as a guide")
        self.guide.toggled.connect(lambda on: self._set(guide=on))
        self.screw = self._check("Hole for a draw screw")
        self.screw.toggled.connect(lambda on: self._edit(edits.set_draw_screw, on))
        self.screw_kind = Choice("Draw screw", [(key, one.name) for key, one in screws().items()])
        self.screw_kind.given.connect(lambda key: self._set(screw=key))
        self.screw_kind.setFixedWidth(150)
        self._screw_row = self._row("Draw screw", self.screw_kind, "Cut its own thread, or set an insert in")
        self.rapping = self._check("Rapping plate let into the joint")
        self.rapping.toggled.connect(lambda on: self._set(rapping=on))

    def show_pattern(self, choices: PatternChoices, pattern: PatternResult, halves: bool, screwed: bool, unit: str) -> None:
        """``halves``: it is split flat; ``screwed``: it is drawn from a flat joint, so a screw may go in."""
        self._quiet = True
        self.dowels.show_choice(choices.dowels)
        self.screw.setChecked(choices.draw_screw)
        self.guide.setChecked(choices.guide)
        self.rapping.setChecked(choices.rapping)
        self._quiet = False
        bored = halves and pattern.making.kind != "metal"
        self._kind.setVisible(bored)
        for row in self._sizes:
            row.setVisible(bored and choices.dowels != "none")
        self.guide.setVisible(bored and choices.dowels == "loose")
        self.screw.setVisible(screwed)
        self._screw_row.setVisible(screwed and choices.draw_screw)
        self.rapping.setVisible(screwed and choices.draw_screw)
        self.screw_kind.show_choice(choices.screw)
        self.count.show_value(choices.dowel_count)
        if pattern.dowel_mm:
            self.thick.show_value(pattern.dowel_mm[0])
        usual = limits()["dowel_proud"].value if choices.dowels == "pins" else deepest(pattern)
        self.proud.setSuffix(f" {unit}")
        self.proud.show_value(from_mm(usual if choices.proud_mm is None else choices.proud_mm, unit))


def deepest(pattern: PatternResult) -> float:
    """How far a dowel reaches into the drag half at most, mm; 0 where there is none."""
    holes = [hole for piece in pattern.pieces if piece.role == "drag-half" for hole in piece.holes]
    return max((hole.depth_mm for hole in holes if hole.purpose == "dowel"), default=0.0)


class Mounting(_Group):
    """What the pieces are mounted on."""

    KINDS = (
        ("none", "Nothing"), ("boards", "Boards, cope and drag"), ("one-side", "One board for both"), ("match-plate", "A match plate"),
    )  # fmt: skip

    def __init__(self, desk: Any) -> None:
        super().__init__(desk)
        self.kind = Choice("Mounted on", self.KINDS)
        self.kind.given.connect(lambda key: self._set(mount=key))
        self._row(
            "Mounted on", self.kind, "A board with holes for the flask's pins saves bedding the pattern for every mould"
        )
        self.copies = Figure("", 1, 24, 0, 1, "How many patterns on the board")
        self.copies.given.connect(lambda value: self._set(copies=int(value)))
        ways = ("along", "across")
        self.flask = [Figure(" mm", 60.0, 3000.0, 0, 10.0, f"Inside of the flask, {way} its pins") for way in ways]
        both = QWidget()
        row = QHBoxLayout(both)
        row.setContentsMargins(0, 0, 0, 0)
        for figure in self.flask:
            figure.given.connect(lambda _: self._set(flask_mm=(self._mm(self.flask[0]), self._mm(self.flask[1]))))
            figure.setFixedWidth(92)
            row.addWidget(figure)
        self.pin = Figure(" mm", 3.0, 40.0, 1, 1.0, "Width of the flask's pins")
        self.pin.given.connect(lambda _: self._set(pin_mm=self._mm(self.pin)))
        self._more = [
            self._row("Patterns on it", self.copies, "Several at once, with sand for gates between them"),
            self._row("Flask inside", both, "Along and across its pins; as large as the sand wants unless you say"),
            self._row("Its pins", self.pin, "One gets a round hole, the other a slot"),
        ]

    def show_pattern(self, choices: PatternChoices, pattern: PatternResult, may: bool, unit: str) -> None:
        """``may``: its joint lies on a board."""
        self.setVisible(may)
        self.kind.show_choice(choices.mount)
        for row in self._more:
            row.setVisible(pattern.mount is not None)
        self.copies.show_value(choices.copies)
        self.pin.setSuffix(f" {unit}")
        self.pin.show_value(from_mm(choices.pin_mm, unit))
        if pattern.mount is not None:
            for figure, side in zip(self.flask, pattern.mount.flask_mm, strict=True):
                figure.setSuffix(f" {unit}")
                figure.show_value(from_mm(side, unit))
