"""What holds a pattern together and what it is mounted on: groups of rows on the Pattern card."""

from functools import partial
from typing import Any

from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from pounce.base.choice import Choice, Flag
from pounce.base.units import to_mm
from pounce.bench.cards.rows import check, chooser, figure, row, segments
from pounce.bench.widgets.parts import Figure, Row
from pounce.job.choose import choose
from pounce.metals.tables import limits
from pounce.pattern.choices import (
    COPIES,
    DOWEL,
    DOWEL_COUNT,
    DOWELS,
    DRAW_SCREW,
    FLASK,
    GUIDE,
    MOUNT,
    PIN,
    PROUD,
    RAPPING,
    SCREW,
)
from pounce.pattern.values import PatternChoices, PatternResult, Role


class _Group(QWidget):
    """Rows under one another that edit the job's pattern; quiet while they are shown."""

    def __init__(self, document: Any) -> None:
        super().__init__()
        self.document = document
        self._quiet = False
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(6)

    def _row(self, choice: Choice, control: QWidget) -> Row:
        made = row(choice, control)
        self.column.addWidget(made)
        return made

    def _check(self, choice: Flag) -> QCheckBox:
        box = check(choice)
        box.toggled.connect(lambda on: self._give(choice, on))
        self.column.addWidget(box)
        return box

    def _give(self, choice: Choice, value: Any) -> None:
        if not self._quiet:
            self.document.edit(choose, "pattern", choice, value)

    def _mm(self, figure: Figure) -> float:
        return round(to_mm(figure.value(), self.document.unit), 4)


class Joinery(_Group):
    """Dowels, draw screw and rapping plate."""

    def __init__(self, document: Any) -> None:
        super().__init__(document)
        self.dowels = segments(DOWELS)
        self.dowels.chosen.connect(partial(self._give, DOWELS))
        self._kind = self._row(DOWELS, self.dowels)
        self.thick, self.count, self.proud = figure(DOWEL), figure(DOWEL_COUNT), figure(PROUD)
        self.thick.given.connect(lambda _: self._give(DOWEL, self._mm(self.thick)))
        self.count.given.connect(lambda value: self._give(DOWEL_COUNT, int(value)))
        self.proud.given.connect(lambda _: self._give(PROUD, self._mm(self.proud)))
        self._sizes = [self._row(DOWEL, self.thick), self._row(DOWEL_COUNT, self.count), self._row(PROUD, self.proud)]
        self.guide, self.screw = self._check(GUIDE), self._check(DRAW_SCREW)
        self.screw_kind = chooser(SCREW, 150)
        self.screw_kind.given.connect(partial(self._give, SCREW))
        self._screw_row = self._row(SCREW, self.screw_kind)
        self.rapping = self._check(RAPPING)

    def show_pattern(
        self, choices: PatternChoices, pattern: PatternResult, halves: bool, screwed: bool, unit: str
    ) -> None:
        """``halves``: it is split flat; ``screwed``: it is drawn from a flat joint, so a screw may go in."""
        self._quiet = True
        self.dowels.show_choice(choices.dowels)
        self.screw.setChecked(choices.draw_screw)
        self.guide.setChecked(choices.guide)
        self.rapping.setChecked(choices.rapping)
        self._quiet = False
        bored = halves and pattern.making.kind != "metal"
        self._kind.setVisible(bored)
        for shown in self._sizes:
            shown.setVisible(bored and choices.dowels != "none")
        self.guide.setVisible(bored and choices.dowels == "loose")
        self.screw.setVisible(screwed)
        self._screw_row.setVisible(screwed and choices.draw_screw)
        self.rapping.setVisible(screwed and choices.draw_screw)
        self.screw_kind.show_choice(choices.screw)
        self.count.show_value(choices.dowel_count)
        if pattern.dowel_mm:
            self.thick.show_length(pattern.dowel_mm[0], unit)
        usual = limits()["dowel_proud"].value if choices.dowels == "pins" else deepest(pattern)
        self.proud.show_length(usual if choices.proud_mm is None else choices.proud_mm, unit)


def deepest(pattern: PatternResult) -> float:
    """How far a dowel reaches into the drag half at most, mm; 0 where there is none."""
    holes = [hole for piece in pattern.pieces if piece.role == Role.DRAG_HALF for hole in piece.holes]
    return max((hole.depth_mm for hole in holes if hole.purpose == "dowel"), default=0.0)


class Mounting(_Group):
    """What the pieces are mounted on."""

    def __init__(self, document: Any) -> None:
        super().__init__(document)
        self.kind = chooser(MOUNT)
        self.kind.given.connect(partial(self._give, MOUNT))
        self._row(MOUNT, self.kind)
        self.copies, self.pin = figure(COPIES), figure(PIN)
        self.copies.given.connect(lambda value: self._give(COPIES, int(value)))
        self.pin.given.connect(lambda _: self._give(PIN, self._mm(self.pin)))
        ways = ("along", "across")
        self.flask = [
            Figure(" mm", FLASK.low, FLASK.high, 0, 10.0, f"Inside of the flask, {way} its pins") for way in ways
        ]
        both = QWidget()
        side = QHBoxLayout(both)
        side.setContentsMargins(0, 0, 0, 0)
        for one in self.flask:
            one.given.connect(lambda _: self._give(FLASK, (self._mm(self.flask[0]), self._mm(self.flask[1]))))
            one.setFixedWidth(92)
            side.addWidget(one)
        self._more = [self._row(COPIES, self.copies), self._row(FLASK, both), self._row(PIN, self.pin)]

    def show_pattern(self, choices: PatternChoices, pattern: PatternResult, may: bool, unit: str) -> None:
        """``may``: its joint lies on a board."""
        self.setVisible(may)
        self.kind.show_choice(choices.mount)
        for shown in self._more:
            shown.setVisible(pattern.mount is not None)
        self.copies.show_value(choices.copies)
        self.pin.show_length(choices.pin_mm, unit)
        if pattern.mount is not None:
            for one, side in zip(self.flask, pattern.mount.flask_mm, strict=True):
                one.show_length(side, unit)
