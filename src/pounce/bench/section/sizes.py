"""The strip under the bench at Metal: wanted and pattern sizes side by side, and the same part in other metals."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from pounce.base.units import from_mm, mass, percent, plain
from pounce.bench.look.tokens import SECTION
from pounce.bench.widgets.parts import Panel, emptied, label, line
from pounce.metals import contraction, tables
from pounce.route.results import Results

OTHERS = ("aluminium-silicon", "grey-iron", "yellow-brass", "tin-bronze", "zinc-aluminium")


class SizesStrip(Panel):
    """Two tables."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(SECTION)
        self._layout = QHBoxLayout(self)
        self._layout.setContentsMargins(14, 8, 14, 6)
        self._layout.setSpacing(28)
        self._tables: list[QWidget] = []

    def show_sizes(self, results: Results | None, unit: str) -> None:
        """The tables for these results."""
        emptied(self._layout)
        if results is None or results.part is None or results.metal is None:
            return
        digits = 3 if unit == "in" else 2
        m, size = results.metal, results.part.mesh.size
        rows: list[tuple[str, ...]] = [
            (
                f"Along {axis}",
                plain(from_mm(v, unit), digits),
                percent(m.contraction_percent),
                plain(from_mm(v * m.factor, unit), digits),
                plain(from_mm(v * (m.factor - 1), unit), digits),
            )
            for axis, v in zip("xyz", size, strict=True)
        ]
        self._layout.addWidget(
            _table("Sizes", f"Wanted and pattern, {unit}", (unit, "wanted", "shrinks", "pattern", "more"), rows, 3), 3
        )
        longest = float(size.max())
        others: list[tuple[str, ...]] = []
        for key in OTHERS:
            if key == m.metal_id or len(others) == 4:
                continue
            metal = tables.metal(key)
            kilos = mass(results.part.volume_mm3 * 1e-9 * metal.density.value) if results.part.closed else ""
            factor = contraction.factor(metal.contraction.value)
            others.append((metal.name, plain(from_mm(longest * factor, unit), digits), kilos))
        self._layout.addWidget(
            _table("The same part in", "Table figures", ("", f"longest, {unit}", "weighs"), others, 9), 2
        )


def _table(title: str, under: str, heads: tuple[str, ...], rows: list[tuple[str, ...]], bold: int) -> QWidget:
    out = QWidget()
    column = QVBoxLayout(out)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(2)
    top = QHBoxLayout()
    top.addWidget(label(title, "section"))
    top.addWidget(label(under, "muted"))
    top.addStretch(1)
    column.addLayout(top)
    grid = QGridLayout()
    grid.setHorizontalSpacing(14)
    grid.setVerticalSpacing(3)
    for index, text in enumerate(heads):
        side = Qt.AlignmentFlag.AlignLeft if index == 0 else Qt.AlignmentFlag.AlignRight
        grid.addWidget(label(text, "muted"), 0, index, side)
    for nth, row in enumerate(rows):
        grid.addWidget(line(), 2 * nth + 1, 0, 1, len(heads))
        for index, text in enumerate(row):
            side = Qt.AlignmentFlag.AlignLeft if index == 0 else Qt.AlignmentFlag.AlignRight
            grid.addWidget(label(text, "value" if index == bold else ""), 2 * nth + 2, index, side)
    column.addLayout(grid)
    column.addStretch(1)
    return out
