"""The Pattern card: the ways of making side by side, what the chosen one wants, and what to write."""

from functools import partial
from pathlib import Path
from typing import Any

from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from pounce.base.choice import FigureChoice, Flag
from pounce.base.units import from_mm, length, plain, to_mm, volume
from pounce.bench.cards.card import Card, FigureTable
from pounce.bench.cards.joinery import Joinery, Mounting, deepest
from pounce.bench.cards.lifting import Lifting
from pounce.bench.cards.rows import check, chooser, figure, segments
from pounce.bench.cards.rows import row as row_of
from pounce.bench.cards.wayrows import FIGURES, WAYS, WayTile
from pounce.bench.stops.view import Shown, StopView
from pounce.bench.widgets.parts import BrassSlider, Choice, Figure, Row, Segments, label
from pounce.job import edits, pattern_edits
from pounce.metals.tables import limits
from pounce.pattern.choices import BACK, BED, BED_JOINT, FUNNEL, HOLLOW, NUMBERS, PAPER, RULE, STL, TEST_PIECE, TIMBER
from pounce.pattern.making.values import Making
from pounce.pattern.values import PatternChoices, PatternResult, Role
from pounce.route.files import model_files, paper_files

# So many ways stand side by side; the one chosen is always among them.
MOST_WAYS = 3
# The material of a way is printed where its master is.
PRINTED = ("printed", "metal")


class PatternCard(Card):
    """How it is made, and what to write."""

    stop = "pattern"

    def __init__(self, document: Any) -> None:
        self.apart = 1.0
        self._count = 0
        self.proving = False
        super().__init__(document)
        self.mode = Segments([("making", "Making"), ("proof", "Proof")], "What is shown of the pattern")
        self.mode.show_choice("making")
        self.mode.chosen.connect(lambda which: self.prove(which == "proof"))
        self.top.addWidget(self.mode)

    def fill(self) -> None:
        """How it is made, or its proof."""
        whole, self._making, self._proof = self.body, QWidget(), QWidget()
        self.body = QVBoxLayout(self._making)
        self._fill_making()
        column = QVBoxLayout(self._proof)
        self.lifting: Lifting = self.add_lifting(column)
        for inner in (self.body, column):
            inner.setContentsMargins(0, 0, 0, 0)
            inner.setSpacing(whole.spacing())
        self.body = whole
        self.body.addWidget(self._making)
        self.body.addWidget(self._proof)
        self._proof.hide()

    def _fill_making(self) -> None:
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
        self.joinery = Joinery(self.document)
        self.body.addWidget(self.joinery)
        self.mounting = Mounting(self.document)
        self.numbers, self.test_piece, self.rule, self.stl = (
            self._check(one) for one in (NUMBERS, TEST_PIECE, RULE, STL)
        )
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
        self.bed = [
            Figure(" mm", BED.low, BED.high, 0, 10.0, f"Bed of the printer, {way}") for way in ("across", "deep")
        ]
        for one in self.bed:
            one.given.connect(self._give_bed)
        both = QWidget()
        row = QHBoxLayout(both)
        row.setContentsMargins(0, 0, 0, 0)
        for one in self.bed:
            one.setFixedWidth(92)
            row.addWidget(one)
        self._add("printed", row_of(BED, both))
        self.beds = Choice("Beds used before")
        self.beds.given.connect(self._take_bed)
        self.beds.setFixedWidth(150)
        self._beds_row = Row("Your printers", self.beds, "Beds you have used before")
        self.body.addWidget(self._beds_row)
        self.bed_joint = segments(BED_JOINT)
        self.bed_joint.chosen.connect(self.giving(BED_JOINT))
        self._cut_row = row_of(BED_JOINT, self.bed_joint)
        self.body.addWidget(self._cut_row)
        self.hollow, self.back = self._check(HOLLOW), self._check(BACK)
        self._add("printed", self.hollow)
        self._add("metal", self.back)
        self.funnel = figure(FUNNEL)
        self.funnel.given.connect(self.giving(FUNNEL))
        self._add("clay", row_of(FUNNEL, self.funnel))
        self.timber = chooser(TIMBER, 150)
        self.timber.given.connect(self.giving(TIMBER))
        self._add("wood", row_of(TIMBER, self.timber))
        self.leaves = Segments(
            [("foam-drawn", "Drawn"), ("foam-burned-out", "Burned out"), ("foam-dug-out", "Dug out")], "Foam"
        )
        self.leaves.chosen.connect(lambda kind: self.document.edit(edits.set_pattern_kind, kind))
        self._add(
            "foam",
            Row("Foam", self.leaves, "Drawn like wood; left in the sand to burn; or dug out of a mould that hardened"),
        )
        self.figures: dict[str, Figure] = {}
        for choice, kind in FIGURES:
            control = figure(choice)
            control.given.connect(partial(self._give, choice))
            self.figures[choice.field] = control
            self._add(kind, row_of(choice, control))
        self.paper = segments(PAPER)
        self.paper.chosen.connect(self.giving(PAPER))
        self._paper_row = row_of(PAPER, self.paper)
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
        self.document.edit(pattern_edits.set_way, kind)
        self.refresh()

    def _check(self, choice: Flag) -> QCheckBox:
        box = check(choice)
        box.toggled.connect(lambda on: None if self._quiet else self.giving(choice)(on))
        return box

    def _give(self, choice: FigureChoice, value: float) -> None:
        stored = round(to_mm(value, self.document.unit), 4) if choice.unit == "mm" else value
        self.giving(choice)(int(stored) if choice.whole else stored)

    def _give_bed(self, _value: float) -> None:
        job = self.document.job
        if job is not None:
            wide, deep = (round(to_mm(one.value(), self.document.unit), 3) for one in self.bed)
            self.giving(BED)((wide, deep, job.pattern.bed_mm[2]))
            self.document.settings.remember_bed((wide, deep, job.pattern.bed_mm[2]))

    def _take_bed(self, key: str) -> None:
        wide, deep, high = (float(side) for side in key.split("x"))
        self.giving(BED)((wide, deep, high))

    def _spread(self, value: float) -> None:
        self.apart = value
        self.shown.emit()

    def scene_shown(self) -> Shown:
        """How far the layers are moved apart."""
        return Shown(apart=self.apart)

    # --- the proof ---------------------------------------------------------------------------------------------------

    @property
    def stop_view(self) -> StopView:
        """The pattern as it is made, or proved."""
        return proof_view() if self.proving else super().stop_view

    def prove(self, on: bool = True) -> None:
        """Shows the proof of the pattern, or how it is made."""
        self.leave()
        if on and self.document.judging.as_wanted:  # the proof is of the pattern, whatever Draw was looking at
            self.document.judging.show_wanted(False)
        self.proving = on
        self.mode.show_choice("proof" if on else "making")
        self._making.setVisible(not on)
        self._proof.setVisible(on)
        self.turned.emit()

    def _show_said(self) -> int:
        """In the proof what is open and what is cured at every stop."""
        known = self.document.judging.causes(None) if self.proving else None
        if known is None:
            return super()._show_said()
        opened, cured, _ = known
        self.findings.hide()
        self.causes.show()
        self.causes.show_causes(opened, cured, (), self.document.unit, False, "Still open")
        return len(opened)

    def foot_is_primary(self) -> bool:
        """Writing is what is left to do."""
        results = self.document.results()
        return results is not None and results.pattern is not None

    # --- showing -----------------------------------------------------------------------------------------------------

    def refresh_body(self) -> None:
        """Shows the pattern."""
        job, results, unit = self.document.job, self.document.results(), self.document.unit
        if job is None or results is None:
            return
        self.lifting.show_choices(results, job.parting, unit)
        self._quiet = True
        self.numbers.setChecked(job.pattern.numbers)
        self.test_piece.setChecked(job.pattern.test_piece)
        self.rule.setChecked(job.pattern.rule)
        self.stl.setChecked(job.pattern.stl)
        self._quiet = False
        self.foot.setProperty("kind", "wideprimary" if results.pattern is not None else "wide")
        style = self.foot.style()
        if style is not None:
            style.unpolish(self.foot)
            style.polish(self.foot)
        pattern = results.pattern
        if pattern is None:
            return
        self._show_way(pattern, unit)
        shaped = results.parting is not None and not results.parting.joint.level
        halves = any(piece.role == Role.COPE_HALF for piece in pattern.pieces) and not shaped
        draws = results.metal is not None and results.metal.pattern.draws
        screwed = draws and not shaped
        self.joinery.show_pattern(job.pattern, pattern, halves, screwed, unit)
        self.numbers.setVisible(halves)
        self.test_piece.setVisible(pattern.making.kind == "printed")
        self.rule.setVisible("rule" in pattern.making.drawings)
        self.mounting.show_pattern(job.pattern, pattern, screwed, unit)
        self._show_pieces(unit)
        self._show_files(unit)

    def _show_way(self, pattern: PatternResult, unit: str) -> None:
        job, making = self.document.job, pattern.making
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
        self._paper_row.setVisible(
            making.kind in ("wood", "foam") or pattern.mount is not None or making.clay is not None
        )
        self._slider_row.setVisible(
            bool(making.layers) or pattern.mount is not None or any(core_print.part for core_print in making.prints)
        )
        for field, side in zip(self.bed, job.pattern.bed_mm[:2], strict=True):
            field.show_length(side, unit)
        self.timber.show_choice(job.pattern.timber)
        self.leaves.show_choice(job.method.pattern)
        self.paper.show_choice(job.pattern.paper)
        usual = {
            "lap_mm": making.figures.get("lap_mm", 0.0),
            "wall_mm": limits()["hollow_wall"].value,
            "layer_mm": making.figures.get("layer_mm", 0.2),
        }
        for choice, _ in FIGURES:
            name, own = choice.field, getattr(job.pattern, choice.field)
            value = float(usual[name] if own is None else own)
            if choice.unit == "mm":
                self.figures[name].show_length(value, unit)
            else:
                self.figures[name].show_value(value)

    def _show_printer(self, choices: PatternChoices, making: Making, printed: bool) -> None:
        beds = self.document.settings.values.beds
        self._beds_row.setVisible(printed and len(beds) > 1)
        if self.beds.count() != len(beds):
            self.beds.clear()
            for bed in beds:
                text = "x".join(plain(side, 1) for side in bed)
                self.beds.addItem(text.replace("x", " × "), text)
        self.beds.show_choice("x".join(plain(side, 1) for side in choices.bed_mm))
        self._cut_row.setVisible(printed and any(core_print.part for core_print in making.prints))
        self.bed_joint.show_choice(choices.bed_joint)
        self.hollow.setVisible(making.kind == "printed")
        self._quiet = True
        self.hollow.setChecked(choices.hollow)
        self.back.setChecked(choices.back)
        self._quiet = False
        if making.clay is not None:
            self.funnel.show_value((making.clay.way_deg + 180.0) % 360.0 - 180.0)

    def _show_pieces(self, unit: str) -> None:
        results = self.document.results()
        pattern = None if results is None else results.pattern
        if pattern is None:
            return
        making = pattern.making
        if making.kind in ("wood", "foam"):
            self._pieces_head.setText("Cut list, planed" if making.kind == "wood" else "Cut list")
            digits = 2 if unit == "in" else 1
            rows = [
                (
                    _short(blank.name),
                    " × ".join(plain(from_mm(v, unit), digits) for v in (blank.long_mm, blank.wide_mm, blank.thick_mm))
                    + (f" {blank.grain}" if making.kind == "wood" else ""),
                )
                for blank in making.blanks
            ]
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
        job, results = self.document.job, self.document.results()
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

    def _refresh_foot(self, _opened: int) -> None:
        results = self.document.results()
        ready = results is not None and results.pattern is not None
        count = self._count
        self.foot.setEnabled(ready)
        self.foot.setText(f"Write {count} files" if ready else "Nothing to write yet")

    def act(self) -> None:
        """Asks for a folder and writes."""
        self.write.emit()


def proof_view() -> StopView:
    """The other view of the stop."""
    from pounce.bench.stops.proof import PROOF_VIEW  # noqa: PLC0415  a view names its card

    return PROOF_VIEW


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
