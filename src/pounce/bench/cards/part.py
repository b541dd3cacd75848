"""The Part card: unit, bodies, health."""

from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from pounce.base.units import area, length, mass, volume
from pounce.bench.cards.card import Card, FigureTable
from pounce.bench.cards.rows import chooser, figure, row
from pounce.bench.widgets.parts import emptied, label
from pounce.job import edits
from pounce.part.choices import UNIT, WEIGHED, WEIGHT
from pounce.part.model import BodyLine

MOST_LISTED = 40


class PartCard(Card):
    """What is wanted, and what will be hard."""

    stop = "part"

    def fill(self) -> None:
        """Unit, bodies and health."""
        self.unit = chooser(UNIT, 140)
        self.unit.given.connect(self.giving(UNIT))
        self.body.addWidget(row(UNIT, self.unit))
        self._bodies = QWidget()
        self._list = QVBoxLayout(self._bodies)
        self._list.setContentsMargins(0, 0, 0, 0)
        self._list.setSpacing(2)
        self.body.addWidget(self._bodies)
        self._lines: tuple[BodyLine, ...] = ()
        self.checks: list[QCheckBox] = []
        self.health = FigureTable([])
        self.body.addWidget(self.health)
        self.scale = figure(WEIGHT)
        self.scale.setSpecialValueText("not weighed")
        self.scale.setFixedWidth(120)
        self.scale.given.connect(self._weigh)
        self.body.addWidget(row(WEIGHT, self.scale))
        self.made_of = chooser(WEIGHED)
        self.made_of.given.connect(lambda _: self._weigh(self.scale.value()))
        self._made_row = row(WEIGHED, self.made_of)
        self.body.addWidget(self._made_row)

    def _weigh(self, value: float) -> None:
        metal = str(self.made_of.currentData()) if value > 0.0 else None
        self.document.edit(edits.set_scale, value if value > 0.0 else None, metal)

    def refresh_body(self) -> None:
        """Shows the part's health."""
        results, unit = self.document.results(), self.document.unit
        part = None if results is None else results.part
        if part is None or results is None:
            return
        self.unit.show_choice(part.unit)
        choices = results.job.part
        self.scale.show_value(choices.scale_kg or 0.0)
        self._made_row.setVisible(choices.scale_kg is not None)
        self.made_of.show_choice(choices.scale_metal or results.job.method.metal)
        self._show_bodies(part.bodies)
        size = part.mesh.size
        weight = "open shell"
        if part.closed and results.metal:
            weight = mass(results.metal.mass_kg(part.volume_mm3))
        metal = results.metal.metal.name.lower() if results.metal else "metal"
        self.health.show_rows(
            [
                ("Size along x", length(float(size[0]), unit, 2)),
                ("Size along y", length(float(size[1]), unit, 2)),
                ("Size along z", length(float(size[2]), unit, 2)),
                ("Volume", volume(part.volume_mm3, unit) if part.closed else "open shell"),
                ("Surface", area(part.area_mm2, unit)),
                (f"Weighs in {metal}", weight),
                ("Thinnest wall", "none" if part.least_wall_mm is None else length(part.least_wall_mm, unit)),
                ("Triangles", f"{len(part.mesh.faces):,}"),
            ]
        )

    def _show_bodies(self, lines: tuple[BodyLine, ...]) -> None:
        if len(lines) == len(self._lines) and all(
            (a.name, a.taken, a.volume_mm3) == (b.name, b.taken, b.volume_mm3)
            for a, b in zip(lines, self._lines, strict=True)
        ):
            return
        self._lines = lines
        emptied(self._list)
        self.checks = []
        self._bodies.setVisible(len(lines) > 1)
        if len(lines) < 2:
            return
        taken = sum(line.taken for line in lines)
        self._list.addWidget(_row(label("Bodies", "section"), label(f"{taken} of {len(lines)} cast", "muted")))
        for index, body in enumerate(lines[:MOST_LISTED]):
            check = QCheckBox(body.name if len(body.name) < 26 else body.name[:25] + "…")
            check.setToolTip(body.name)
            check.setChecked(body.taken)
            check.toggled.connect(lambda on, index=index: self._take(index, on))
            self.checks.append(check)
            size = volume(body.volume_mm3, self.document.unit) if body.closed else "open"
            self._list.addWidget(_row(check, label(size, "value")))
        if len(lines) > MOST_LISTED:
            self._list.addWidget(label(f"and {len(lines) - MOST_LISTED} smaller ones", "muted"))

    def _take(self, index: int, on: bool) -> None:
        taken = {nth for nth, line in enumerate(self._lines) if line.taken}
        taken = taken | {index} if on else taken - {index}
        everything = len(taken) == len(self._lines)
        if not self.document.edit(edits.set_bodies, None if everything else tuple(sorted(taken))):
            lines, self._lines = self._lines, ()
            self._show_bodies(lines)


def _row(left: QWidget, right: QWidget) -> QWidget:
    out = QWidget()
    layout = QHBoxLayout(out)
    layout.setContentsMargins(0, 0, 0, 0)
    layout.addWidget(left)
    layout.addStretch(1)
    layout.addWidget(right)
    return out
