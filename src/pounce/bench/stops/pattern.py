"""The Pattern card: dowels, draw screw, and what to write."""

from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox

from pounce.base.units import from_mm, length, plain, volume
from pounce.bench.stops.card import Card, FigureTable
from pounce.bench.widgets.parts import Figure, Row, Segments, label
from pounce.job import edits


class PatternCard(Card):
    """How it is made, and what to write."""

    stop = "pattern"
    write = pyqtSignal()

    def fill(self) -> None:
        """Dowels, screw and files."""
        self.dowels = Segments([("loose", "Loose"), ("pins", "Short pins"), ("none", "None")], "Dowels")
        self.dowels.chosen.connect(lambda kind: self.desk.edit(edits.set_dowels, kind))
        self._dowel_row = Row(
            "Dowels", self.dowels, "Loose: holes in both halves, so both print flat. Pins stand 3 mm proud of the cope half"
        )
        self.body.addWidget(self._dowel_row)
        self.thick = Figure(" mm", 1.0, 50.0, 1, 1.0, "Diameter of the thicker dowel")
        self.thick.given.connect(lambda value: self.desk.edit(edits.set_dowel_size, value))
        self._size_row = Row("Thicker dowel", self.thick, "The other is a size thinner, so the halves fit one way only")
        self.body.addWidget(self._size_row)
        self.screw = QCheckBox("Hole for a draw screw, M5")
        self.screw.toggled.connect(lambda on: self._toggle(edits.set_draw_screw, on))
        self.stl = QCheckBox("Write STL beside the 3MF")
        self.stl.toggled.connect(lambda on: self._toggle(edits.set_stl, on))
        self.body.addWidget(self.screw)
        self.body.addWidget(self.stl)
        self.pieces = FigureTable([])
        self.body.addWidget(label("Pieces", "section"))
        self.body.addWidget(self.pieces)
        self.files_head = label("Files to write", "section")
        self.body.addWidget(self.files_head)
        self.files = FigureTable([])
        self.body.addWidget(self.files)
        self._quiet = False

    def _toggle(self, make: object, on: bool) -> None:
        if not self._quiet:
            self.desk.edit(make, on)

    def foot_is_ember(self) -> bool:
        """Writing is what is left to do."""
        results = self.desk.results()
        return results is not None and results.pattern is not None

    def refresh_body(self) -> None:
        """Shows the pattern."""
        job, results, unit = self.desk.job, self.desk.results(), self.desk.unit
        if job is None or results is None:
            return
        self._quiet = True
        self.dowels.show_choice(job.pattern.dowels)
        self.screw.setChecked(job.pattern.draw_screw)
        self.stl.setChecked(job.pattern.stl)
        self._quiet = False
        self.foot.setProperty("kind", "wideember" if results.pattern is not None else "wide")
        style = self.foot.style()
        if style is not None:
            style.unpolish(self.foot)
            style.polish(self.foot)
        pattern = results.pattern
        if pattern is None:
            return
        shaped = results.parting is not None and not results.parting.joint.level
        halves = any(piece.role == "cope-half" for piece in pattern.pieces) and not shaped
        self.screw.setVisible(not shaped)
        self._dowel_row.setVisible(halves)
        self._size_row.setVisible(halves and job.pattern.dowels != "none")
        if pattern.dowel_mm:
            self.thick.show_value(pattern.dowel_mm[0])
        rows = [(piece.name, volume(piece.volume_mm3, unit)) for piece in pattern.pieces]
        if pattern.dowel_mm:
            rows.append(("Dowels", " and ".join(f"Ø {plain(size, 1)}" for size in pattern.dowel_mm) + " mm"))
        deepest = max(
            (hole.depth_mm for piece in pattern.pieces for hole in piece.holes if hole.purpose == "dowel"), default=0
        )
        if deepest:
            rows.append(("Dowel reaches in", length(deepest, unit)))
        self.pieces.show_rows(rows)
        suffixes = ("3mf", "stl") if job.pattern.stl else ("3mf",)
        files = [
            (
                f"{piece.role}.{suffix}",
                " × ".join(plain(from_mm(float(v), unit), 2 if unit == "in" else 1) for v in piece.laid.size),
            )
            for piece in pattern.pieces
            for suffix in suffixes
        ]
        stock = results.stock
        added = stock is not None and bool(stock.lines)
        if added:
            files.append(("dimensions.csv", "the table"))
        if stock is not None and stock.drill:
            files += [("drilling-plan.pdf", "at 1:1"), ("drilling-plan.csv", "the table")]
        files += [("shop-sheet.pdf", "two pages" if added else "one page"), ("manifest.json", "the list")]
        self.files.show_rows(files)

    def _refresh_foot(self, opened: int) -> None:
        results = self.desk.results()
        ready = results is not None and results.pattern is not None
        count = len(self.files._now)
        self.foot.setEnabled(ready)
        self.foot.setText(f"Write {count} files" if ready else "Nothing to write yet")

    def act(self) -> None:
        """Asks for a folder and writes."""
        self.write.emit()


def usual_folder(job_name: str, near: Path) -> Path:
    """Where a build goes unless the user says otherwise."""
    word = "".join(letter if letter.isalnum() else "-" for letter in job_name.lower()).strip("-")
    return near / f"{word or 'pattern'}-build"
