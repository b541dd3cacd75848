"""The Freeze card: how it is poured, what feeds it, and how sure the figures are."""

from functools import partial

from PyQt6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from pounce.base.choice import FigureChoice
from pounce.base.units import mass, plain, quantity
from pounce.bench.cards.card import Card, FigureTable
from pounce.bench.cards.rows import figure, row, segments
from pounce.bench.widgets.parts import Fold, Row, Segments, button, label
from pounce.feeding.choices import (
    CARBON,
    FEEDING,
    FORMERS,
    LATENT,
    MEASURED,
    METAL_CONDUCTS,
    POUR,
    SAND_CONDUCTS,
    WALLS,
)
from pounce.feeding.values import FreezeResult
from pounce.job import freeze_edits
from pounce.metals.heat import heat
from pounce.metals.method import Method
from pounce.rig.values import RigResult
from pounce.route.stops import FREEZE, METAL, MOULD

# What a bench may have measured itself.
OWN = (SAND_CONDUCTS, METAL_CONDUCTS, LATENT)


class FreezeCard(Card):
    """Temperature, school, feeders, figures."""

    stop = "freeze"
    _above = False

    @property
    def on_board(self) -> bool:
        """The mould from above stands on a board of its own."""
        return self._above

    def _see(self, how: str) -> None:
        self._above = how == "above"
        self.turned.emit()

    def fill(self) -> None:
        """Rows and tables."""
        self.pour = figure(POUR)
        self.pour.given.connect(self.giving(POUR))
        self.body.addWidget(row(POUR, self.pour))
        self.seen = Segments((("round", "Cut open"), ("above", "From above")), "How the mould is seen")
        self.seen.chosen.connect(self._see)
        self.seen.show_choice("round")
        self.body.addWidget(Row("Seen", self.seen, "The metal cut open, or the mould from above"))
        self.school = segments(FEEDING)
        self.school.chosen.connect(self.giving(FEEDING))
        self.body.addWidget(row(FEEDING, self.school))
        self.fed_title = label("Feeders and chills", "section")
        self.body.addWidget(self.fed_title)
        self.fed = QWidget()
        self._fed_rows = QVBoxLayout(self.fed)
        self._fed_rows.setContentsMargins(0, 0, 0, 0)
        self._fed_rows.setSpacing(2)
        self.body.addWidget(self.fed)
        self.body.addWidget(label("Setting and filling", "section"))
        self.figures = FigureTable([])
        self.body.addWidget(self.figures)
        self.carbon, self.walls = figure(CARBON), segments(WALLS)
        self.carbon.given.connect(self.giving(CARBON))
        self.walls.chosen.connect(self.giving(WALLS))
        self.iron = (row(CARBON, self.carbon), row(WALLS, self.walls))
        for one in self.iron:
            self.body.addWidget(one)
        own = Fold("Your own sand and metal", True)
        own.body.setSpacing(6)
        self.body.addWidget(own)
        self.measured, self.measures = figure(MEASURED), {one.key: figure(one) for one in OWN}
        for choice, field in ((MEASURED, self.measured), *((one, self.measures[one.key]) for one in OWN)):
            field.given.connect(self.giving(choice))
            field.setFixedWidth(132)
            own.body.addWidget(row(choice, field))
        self.formers = QLineEdit()
        self.formers.setFixedWidth(132)
        self.formers.setPlaceholderText("30, 40, 50")
        self.formers.setAccessibleName(FORMERS.title)
        self.formers.editingFinished.connect(self._formers)
        own.body.addWidget(row(FORMERS, self.formers))
        self.sure = label("", "muted", wrap=True)
        own.body.addWidget(self.sure)

    def refresh_body(self) -> None:
        """Shows choices and what came of them."""
        job, results = self.document.job, self.document.results()
        if job is None:
            return
        made: FreezeResult | None = None if results is None else results.get(FREEZE)
        rig: RigResult | None = None if results is None else results.get(MOULD)
        self.school.show_choice(job.freeze.feeding)
        method = None if results is None else results.get(METAL)
        if job.freeze.pour_c is not None or method is not None:
            usual = made.pour_c if made is not None else 0.0 if method is None else method.metal.pouring.value
            self.pour.show_value(usual if job.freeze.pour_c is None else job.freeze.pour_c)
        if not self.formers.hasFocus():
            self.formers.setText(_listed(job.freeze.formers))
        self._show_fed(rig)
        if made is None:
            return
        self.measured.show_value(made.solid_s)
        if method is not None:
            for one in OWN:
                given = getattr(job.freeze, one.field)
                self.measures[one.key].show_value(_usual(one, method) if given is None else given)
            unfed = heat().none.get(method.metal_id)
            iron = unfed is not None and unfed.carbon is not None
            for line in self.iron:
                line.setVisible(iron)
            if unfed is not None and unfed.carbon is not None:
                self.carbon.show_value(unfed.carbon.value if job.freeze.carbon_pct is None else job.freeze.carbon_pct)
            self.walls.show_choice(job.freeze.walls)
        self.figures.show_rows(_figures(made))
        self.sure.setText(_sure(made))

    def _formers(self) -> None:
        job = self.document.job
        if job is not None and self.formers.text() != _listed(job.freeze.formers):
            self.document.edit(freeze_edits.formers_word, self.formers.text())

    def _show_fed(self, rig: RigResult | None) -> None:
        while (item := self._fed_rows.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.deleteLater()
        rows: list[tuple[str, str, int]] = []
        if rig is not None:
            seen: set[int] = set()
            for one in rig.feeders:
                if one.number not in seen:
                    seen.add(one.number)
                    sleeve = ", sleeve" if one.sleeve_mm else ""
                    gate = ", on the gate" if one.contact_mm is not None else ""
                    how = f"{gate}{sleeve}{'' if one.open else ', blind'}"
                    text = f"{one.number + 1}  Ø {plain(one.wide_mm, 0)}, neck {plain(one.neck_mm, 0)}{how}, "
                    rows.append((text + mass(one.mass_kg), "feeder", one.number))
            cold: set[int] = set()
            for chill in rig.chills:
                if chill.number not in cold:
                    cold.add(chill.number)
                    size = f"{plain(chill.side_mm, 0)} × {plain(chill.thick_mm, 0)} mm"
                    rows.append((f"{chill.number + 1}  chill {size}", "chill", chill.number))
        self.fed_title.setVisible(bool(rows))
        self.fed.setVisible(bool(rows))
        for text, kind, number in rows:
            line = QWidget()
            self._fed_rows.addWidget(line)
            inner = QVBoxLayout(line)
            inner.setContentsMargins(0, 0, 0, 0)
            inner.setSpacing(0)
            inner.addWidget(label(text, "body", wrap=True))
            away = button("Take it away", "link", partial(self._drop, kind, number))
            away.setAccessibleName(f"Take {kind} {number + 1} away")
            inner.addWidget(away)

    def _drop(self, kind: str, number: int, _on: bool = False) -> None:
        edit = freeze_edits.drop_feeder if kind == "feeder" else freeze_edits.drop_chill
        self.document.edit(edit, number)


def _listed(formers: tuple[float, ...]) -> str:
    return ", ".join(f"{one:g}" for one in formers)


def _usual(one: FigureChoice, method: Method) -> float:
    """The table's figure of what the bench may have measured itself."""
    metal, sand = heat().metal[method.metal_id], heat().sand[method.mould_id]
    table = {SAND_CONDUCTS.key: sand.conducts, METAL_CONDUCTS.key: metal.conducts, LATENT.key: metal.latent}
    return table[one.key].value


def _figures(r: FreezeResult) -> list[tuple[str, str]]:
    rows = [
        ("Half of it set after", quantity("s_s", r.middle_s)),
        ("All of it solid after", quantity("s_s", r.solid_s)),
        ("Castings full after", quantity("s_s", r.fill.seconds)),
    ]
    first, last = r.fill.gates_m_s
    if first - last > 0.02:
        rows.append(("In the gates", f"{plain(first, 2)} to {plain(last, 2)}\u00a0m/s"))
    if r.fill.ends:
        rows.append(("Coldest end reached at", quantity("c_c", r.fill.ends[0].front_c)))
    if r.fill.fills_c is not None:
        rows.append(("Fills from", quantity("c_c", r.fill.fills_c)))
    if r.void_mm3[1] > 0.0:
        rows.append(("May be hollow, at most", quantity("v_mm3", r.void_mm3[1])))
    return rows


def _sure(r: FreezeResult) -> str:
    factor = plain(heat().common.seconds.value, 1)
    grid = f"{r.cells:,}".replace(",", "\u202f")
    if r.rough:
        return f"A quick look with {grid} cells: places are near, seconds rough; the fine grid tells what cures."
    if r.scaled != 1.0:
        return f"Seconds scaled by {plain(r.scaled, 2)} to the time you measured. {grid} cells."
    return f"The order is sure; seconds are held to within a factor of {factor}. {grid} cells."
