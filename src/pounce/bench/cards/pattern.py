"""The Pattern card: the ways of making side by side, what the chosen one wants, and what to write."""

from functools import partial
from pathlib import Path
from typing import Any

from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QWidget

from pounce.base.units import from_mm, length, plain, to_mm, volume
from pounce.bench.cards.card import Card, FigureTable
from pounce.bench.cards.joinery import Joinery, Mounting, deepest
from pounce.bench.cards.wayrows import FIGURES, WAYS, WayTile
from pounce.bench.stops.view import Shown
from pounce.bench.widgets.parts import BrassSlider, Choice, Figure, Row, Segments, label
from pounce.job import edits, pattern_edits
from pounce.metals.tables import limits, timbers
from pounce.pattern.making.values import Making
from pounce.pattern.values import PatternChoices, PatternResult
from pounce.route.files import model_files, paper_files

# So many ways stand side by side; the one chosen is always among them.
MOST_WAYS = 3
# The stuff of a way is printed where its master is.
PRINTED = ("printed", "metal")


class PatternCard(Card):
    """How it is made, and what to write."""

    stop = "pattern"

    def __init__(self, desk: Any) -> None:
        self.apart = 1.0
        self._count = 0
        super().__init__(desk)

    def fill(self) -> None:
        """Ways, figures, dowels, screw and files."""
        self._quiet = True
        holder = QWidget()
        row = QHBoxLayout(holder)
        row.setContentsMargins(0, 0, 0, 4)
        row.setSpacing(6)
        self.tiles = {kind: WayTile(kind) for kind in WAYS}
        for kind, tile in self.tiles.items():
            tile.clicked.connect(partial(self._way, kind))
            row.addWidget(tile, 1)
        self._ways = holder
        self.body.addWidget(holder)
        self._fill_ways()
        self.joinery = Joinery(self.desk)
        self.body.addWidget(self.joinery)
        self.mounting = Mounting(self.desk)
        self.numbers = QCheckBox("Pair numbers in the split faces")
        self.numbers.toggled.connect(lambda on: self._set(numbers=on))
        self.test_piece = QCheckBox("A test piece to try in the sand")
        self.test_piece.toggled.connect(lambda on: self._set(test_piece=on))
        self.rule = QCheckBox("A contraction rule")
        self.rule.toggled.connect(lambda on: self._set(rule=on))
        self.stl = QCheckBox("Write STL beside the 3MF")
        self.stl.toggled.connect(lambda on: self._toggle(edits.set_stl, on))
        self.body.addWidget(self.mounting)
        for box in (self.numbers, self.test_piece, self.rule, self.stl):
            self.body.addWidget(box)
        self._pieces_head = label("Pieces", "section")
        self.body.addWidget(self._pieces_head)
        self.pieces = FigureTable([])
        self.body.addWidget(self.pieces)
        self.files_head = label("Files to write", "section")
        self.body.addWidget(self.files_head)
        self.files = FigureTable([])
        self.body.addWidget(self.files)
        self._quiet = False

    def _fill_ways(self) -> None:
        """The figures each way wants."""
        self._rows: dict[str, list[QWidget]] = {kind: [] for kind in (*WAYS, "hollow", "clay")}
        self.bed = [Figure(" mm", 40.0, 5000.0, 0, 10.0, f"Bed of the printer, {way}") for way in ("across", "deep")]
        for figure in self.bed:
            figure.given.connect(self._give_bed)
        both = QWidget()
        row = QHBoxLayout(both)
        row.setContentsMargins(0, 0, 0, 0)
        for figure in self.bed:
            figure.setFixedWidth(92)
            row.addWidget(figure)
        self._add("printed", Row("Bed", both, "Size of the printer's bed; larger pieces are cut for it"))
        self.beds = Choice("Beds used before")
        self.beds.given.connect(self._take_bed)
        self.beds.setFixedWidth(150)
        self._beds_row = Row("Your printers", self.beds, "Beds you have used before")
        self.body.addWidget(self._beds_row)
        self.bed_joint = Segments([("dowels", "Dowels"), ("tongue", "Tongue")], "Joints of cut pieces")
        self.bed_joint.chosen.connect(lambda key: self._set(bed_joint=key))
        self._cut_row = Row("Cut pieces by", self.bed_joint, "What joins the parts of a piece that is larger than the bed")
        self.body.addWidget(self._cut_row)
        self.hollow = QCheckBox("Hollow, with ribs")
        self.hollow.toggled.connect(lambda on: self._set(hollow=on))
        self.body.addWidget(self.hollow)
        self.back = QCheckBox("Hollow back on the metal pattern")
        self.back.toggled.connect(lambda on: self._set(back=on))
        self._add("metal", self.back)
        self.funnel = Figure("°", -180.0, 180.0, 0, 15.0, "Which way the funnel looks in the plan")
        self.funnel.given.connect(lambda value: self._set(funnel_deg=value))
        self._add(
            "clay", Row("Funnel looks", self.funnel, "From the first axis of the plan; at the heavier end unless you say")
        )
        self.timber = Choice("Timber", [(key, one.name) for key, one in timbers().items()])
        self.timber.given.connect(lambda key: self._set(timber=key))
        self.timber.setFixedWidth(150)
        self._add("wood", Row("Timber", self.timber, "Lime is the default: even, mild, and it carves in every direction"))
        self.leaves = Segments(
            [("foam-drawn", "Drawn"), ("foam-burned-out", "Burned out"), ("foam-dug-out", "Dug out")], "Foam"
        )
        self.leaves.chosen.connect(lambda kind: self.desk.edit(edits.set_pattern_kind, kind))
        self._add(
            "foam",
            Row("Foam", self.leaves, "Drawn like wood; left in the sand to burn; or dug out of a mould that hardened"),
        )
        self.figures: dict[str, Figure] = {}
        for name, field, kind, unit, low, high, digits, step, tip in FIGURES:
            figure = Figure(f" {unit}" if unit else "", low, high, digits, step, tip)
            figure.given.connect(partial(self._give, field, unit))
            self.figures[field] = figure
            self._add(kind, Row(name, figure, tip))
        self.paper = Segments([("A4", "A4"), ("A3", "A3"), ("letter", "Letter")], "Paper")
        self.paper.chosen.connect(lambda key: self._set(paper=key))
        self._paper_row = Row("Templates on", self.paper, "Paper of the templates; they lap by 10 mm")
        self.body.addWidget(self._paper_row)
        self.slider = BrassSlider("How far the layers are moved apart")
        self.slider.set_range(0.0, 1.0)
        self.slider.show_value(1.0)
        self.slider.moved.connect(self._spread)
        self._slider_row = Row("Apart", self.slider, "Opens the stack, layer by layer")
        self.body.addWidget(self._slider_row)

    def _add(self, kind: str, row: QWidget) -> None:
        self._rows[kind].append(row)
        self.body.addWidget(row)

    # --- edits -------------------------------------------------------------------------------------------------------

    def _way(self, kind: str, _checked: bool = False) -> None:
        self.desk.edit(pattern_edits.set_way, kind)
        self.refresh()

    def _set(self, **changes: Any) -> None:
        if not self._quiet:
            self.desk.edit(lambda job: pattern_edits.set_making(job, **changes))

    def _give(self, field: str, unit: str, value: float) -> None:
        stored = round(to_mm(value, self.desk.unit), 4) if unit == "mm" else value
        self._set(**{field: int(stored) if field == "walls" else stored})

    def _give_bed(self, _value: float) -> None:
        job = self.desk.job
        if job is not None:
            wide, deep = (round(to_mm(one.value(), self.desk.unit), 3) for one in self.bed)
            self._set(bed_mm=(wide, deep, job.pattern.bed_mm[2]))
            self.desk.memory.remember_bed((wide, deep, job.pattern.bed_mm[2]))

    def _take_bed(self, key: str) -> None:
        wide, deep, high = (float(side) for side in key.split("x"))
        self._set(bed_mm=(wide, deep, high))

    def _toggle(self, make: object, on: bool) -> None:
        if not self._quiet:
            self.desk.edit(make, on)

    def _spread(self, value: float) -> None:
        self.apart = value
        self.shown.emit()

    def scene_shown(self) -> Shown:
        """How far the layers are moved apart."""
        return Shown(apart=self.apart)

    def foot_is_ember(self) -> bool:
        """Writing is what is left to do."""
        results = self.desk.results()
        return results is not None and results.pattern is not None

    # --- showing -----------------------------------------------------------------------------------------------------

    def refresh_body(self) -> None:
        """Shows the pattern."""
        job, results, unit = self.desk.job, self.desk.results(), self.desk.unit
        if job is None or results is None:
            return
        self._quiet = True
        self.numbers.setChecked(job.pattern.numbers)
        self.test_piece.setChecked(job.pattern.test_piece)
        self.rule.setChecked(job.pattern.rule)
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
        self._show_way(pattern, unit)
        shaped = results.parting is not None and not results.parting.joint.level
        halves = any(piece.role == "cope-half" for piece in pattern.pieces) and not shaped
        draws = results.metal is not None and results.metal.pattern.draws
        screwed = draws and not shaped
        self.joinery.show_pattern(job.pattern, pattern, halves, screwed, unit)
        self.numbers.setVisible(halves)
        self.test_piece.setVisible(pattern.making.kind == "printed")
        self.rule.setVisible(pattern.making.kind not in ("", "original"))
        self.mounting.show_pattern(job.pattern, pattern, screwed, unit)
        self._show_pieces(unit)
        self._show_files(unit)

    def _show_way(self, pattern: PatternResult, unit: str) -> None:
        job, making = self.desk.job, pattern.making
        if job is None:
            return
        self._ways.setVisible(bool(making.ways))
        known = {way.kind: way for way in making.ways[:MOST_WAYS]}
        for kind, tile in self.tiles.items():
            tile.setVisible(kind in known)
            tile.show_way(known.get(kind), kind == making.kind, unit)
        printed = making.kind in PRINTED
        of = {
            "printed": printed,
            "hollow": making.kind == "printed" and job.pattern.hollow,
            "clay": making.clay is not None,
        }
        for kind, rows in self._rows.items():
            for row in rows:
                row.setVisible(of.get(kind, kind == making.kind))
        self._show_printer(job.pattern, making, printed)
        self._paper_row.setVisible(making.kind in ("wood", "foam") or pattern.mount is not None or making.clay is not None)
        self._slider_row.setVisible(
            bool(making.layers) or pattern.mount is not None or any(one.part for one in making.prints)
        )
        for figure, side in zip(self.bed, job.pattern.bed_mm[:2], strict=True):
            figure.setSuffix(f" {unit}")
            figure.show_value(from_mm(side, unit))
        self.timber.show_choice(job.pattern.timber)
        self.leaves.show_choice(job.method.pattern)
        self.paper.show_choice(job.pattern.paper)
        usual = {
            "lap_mm": making.figures.get("lap_mm", 0.0), "wall_mm": limits()["hollow_wall"].value, "layer_mm": making.figures.get("layer_mm", 0.2),
        }  # fmt: skip
        for _, field, _, kind, *_ in FIGURES:
            own = getattr(job.pattern, field)
            value = float(usual[field] if own is None else own)
            if kind == "mm":
                self.figures[field].setSuffix(f" {unit}")
                self.figures[field].setDecimals(3 if unit == "in" else 2 if field == "layer_mm" else 1)
                value = from_mm(value, unit)
            self.figures[field].show_value(value)

    def _show_printer(self, choices: PatternChoices, making: Making, printed: bool) -> None:
        beds = self.desk.memory.values.beds
        self._beds_row.setVisible(printed and len(beds) > 1)
        if self.beds.count() != len(beds):
            self.beds.clear()
            for bed in beds:
                text = "x".join(plain(side, 1) for side in bed)
                self.beds.addItem(text.replace("x", " × "), text)
        self.beds.show_choice("x".join(plain(side, 1) for side in choices.bed_mm))
        self._cut_row.setVisible(printed and any(one.part for one in making.prints))
        self.bed_joint.show_choice(choices.bed_joint)
        self.hollow.setVisible(making.kind == "printed")
        self._quiet = True
        self.hollow.setChecked(choices.hollow)
        self.back.setChecked(choices.back)
        self._quiet = False
        if making.clay is not None:
            self.funnel.show_value((making.clay.way_deg + 180.0) % 360.0 - 180.0)

    def _show_pieces(self, unit: str) -> None:
        results = self.desk.results()
        pattern = None if results is None else results.pattern
        if pattern is None:
            return
        making = pattern.making
        if making.kind in ("wood", "foam"):
            self._pieces_head.setText("Cut list, planed" if making.kind == "wood" else "Cut list")
            digits = 2 if unit == "in" else 1
            rows = [
                (_short(one.name), " × ".join(plain(from_mm(v, unit), digits) for v in (one.long_mm, one.wide_mm, one.thick_mm))
                 + (f" {one.grain}" if making.kind == "wood" else ""))
                for one in making.blanks
            ]  # fmt: skip
            if making.boards:
                rows.append(("Boards at hand" if making.kind == "wood" else "Sheets at hand", plain(making.boards, 0)))
        else:
            self._pieces_head.setText("Pieces")
            rows = [(piece.name, volume(piece.volume_mm3, unit)) for piece in pattern.pieces]
        if pattern.dowel_mm:
            rows.append(("Dowels", " and ".join(f"Ø {plain(size, 1)}" for size in pattern.dowel_mm) + " mm"))
        reach = deepest(pattern)
        if reach:
            rows.append(("Dowel reaches in", length(reach, unit)))
        self.pieces.show_rows(rows)

    def _show_files(self, unit: str) -> None:
        job, results = self.desk.job, self.desk.results()
        pattern = None if results is None else results.pattern
        if job is None or results is None or pattern is None:
            return
        suffixes = ("3mf", "stl") if job.pattern.stl else ("3mf",)
        files: list[tuple[str, str]] = []
        for one in model_files(results):
            size = "to try in the sand"
            if one.mesh is not None:
                size = " × ".join(plain(from_mm(float(v), unit), 2 if unit == "in" else 1) for v in one.mesh.size)
            files += [(f"{one.stem}.{suffix}", size) for suffix in suffixes]
        cores, cored = results.cores, 0
        for number, core in enumerate(() if cores is None else cores.cores, 1):
            stem = "core" if cores is not None and len(cores.cores) == 1 else f"core-{number}"
            count = 1 + sum(len(box.parts) for box in core.boxes)
            files.append((f"{stem}*.{'3mf, stl' if job.pattern.stl else '3mf'}", f"{count * len(suffixes)} files"))
            cored += count * len(suffixes) - 1
        files += [(paper.file, paper.about) for paper in paper_files(results)]
        files.append(("manifest.json", "the list"))
        # the files of a core stand in one line
        self._count = len(files) + cored
        self.files.show_rows(files)

    def _refresh_foot(self, opened: int) -> None:
        results = self.desk.results()
        ready = results is not None and results.pattern is not None
        count = self._count
        self.foot.setEnabled(ready)
        self.foot.setText(f"Write {count} files" if ready else "Nothing to write yet")

    def act(self) -> None:
        """Asks for a folder and writes."""
        self.write.emit()


def _short(name: str) -> str:
    """A line of the cut list in a few letters: the half and the number of the board."""
    piece, _, rest = name.partition(", ")
    half = {"Cope half": "Cope", "Drag half": "Drag"}.get(piece, "")
    rest = rest.replace(", part ", ".")
    return f"{half} {rest.removeprefix('board ').removeprefix('sheet ')}" if half else rest.capitalize()


def usual_folder(job_name: str, near: Path) -> Path:
    """Where a build goes unless the user says otherwise."""
    word = "".join(letter if letter.isalnum() else "-" for letter in job_name.lower()).strip("-")
    return near / f"{word or 'pattern'}-build"
