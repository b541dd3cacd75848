"""The Cores card: each hollow and how it is made, the figures of its core, the sand for it."""

from functools import partial
from typing import Any

from PyQt6.QtWidgets import QWidget

from pounce.base.units import length, mass, quantity, to_mm
from pounce.bench.cards.card import Card, FigureTable
from pounce.bench.cards.rows import chooser, figure, segments
from pounce.bench.cards.rows import row as row_of
from pounce.bench.stops.view import Shown
from pounce.bench.view3d.asks import Spot
from pounce.bench.widgets.parts import BrassSlider, Choice, Figure, Row, Segments, label
from pounce.cores.choices import BOX, CLEARANCE, COPE, DRAG, MAKE, MIX, ON_END, SIDE, VENT
from pounce.cores.values import HOWS, Core, CoresResult, Offer
from pounce.job import core_edits
from pounce.metals.tables import baking_words, cautions, mixes

# Figures of a core on the card: name, field, suffix, least, most, decimals, step, and what it is.
_LENGTHS = (DRAG, COPE, SIDE, CLEARANCE, VENT)
_KINDS = {"drag_mm": ("drag",), "cope_mm": ("cope",), "side_mm": ("side", "tail", "ring")}


class CoresCard(Card):
    """What the sand cannot make by itself. ``shown`` tells that another core, or another way of showing it, is
    wanted.
    """

    stop = "cores"

    def __init__(self, document: Any) -> None:
        self.chosen, self.apart = 0, 1.0
        super().__init__(document)

    def fill(self) -> None:
        """Hollow, way, prints, clearance, vent, box, sand, loads."""
        self.which = Choice("Which hollow")
        self.which.given.connect(self._choose)
        self.which.setFixedWidth(212)  # its names are the longest of the card
        self._which_row = Row(
            "Hollow", self.which, "Every hollow that locks, would make a slender cone of sand, or was pointed at"
        )
        self.body.addWidget(self._which_row)
        self.how = Choice("How it is made", [("", "not decided"), *HOWS.items()])
        self.how.given.connect(self._make)
        self.how.setFixedWidth(180)
        self._how_row = row_of(MAKE, self.how)
        self.body.addWidget(self._how_row)
        self.hint = label(
            "Click the wall of a bore or pocket on the bench to ask for a core there.", "muted", wrap=True
        )
        self.body.addWidget(self.hint)
        self.figures: dict[str, Figure] = {}
        self._rows: dict[str, Row] = {}
        for one in _LENGTHS:
            control = figure(one)
            control.given.connect(partial(self._give, one.field))
            self.figures[one.field] = control
            self._rows[one.field] = row_of(one, control)
            self.body.addWidget(self._rows[one.field])
        self.box = segments(BOX)
        self.box.chosen.connect(lambda style: self._change(box=style))
        self._box_row = row_of(BOX, self.box)
        self.body.addWidget(self._box_row)
        self.slider = BrassSlider("How far core and box are moved apart")
        self.slider.set_range(0.0, 1.0)
        self.slider.show_value(1.0)
        self.slider.moved.connect(self._spread)
        self._slider_row = Row("Apart", self.slider, "Moves core and box out of the part")
        self.body.addWidget(self._slider_row)
        self._sand_title = label("Sand for this core", "section")
        self.body.addWidget(self._sand_title)
        self.mix = chooser(MIX, 180)
        self.mix.given.connect(self.giving(MIX))
        self._mix_row = row_of(MIX, self.mix)
        self.body.addWidget(self._mix_row)
        self.sand = FigureTable([])
        self.body.addWidget(self.sand)
        self.steps = label("", "muted", wrap=True)
        self.body.addWidget(self.steps)
        self.end = Segments([("lying", "Joint level"), ("on-end", "On end")], "How the mould stands when poured")
        self.end.chosen.connect(lambda key: self.giving(ON_END)(key == "on-end"))
        self._end_row = Row("Poured", self.end, ON_END.help)
        self.body.addWidget(self._end_row)

    # --- edits -------------------------------------------------------------------------------------------------------

    def _result(self) -> CoresResult | None:
        results = self.document.results()
        return None if results is None else results.cores

    def offer(self) -> Offer | None:
        """The hollow that is chosen."""
        cores = self._result()
        if cores is None or not cores.offers:
            return None
        return cores.offers[min(self.chosen, len(cores.offers) - 1)]

    def core(self) -> Core | None:
        """The core of the hollow that is chosen."""
        cores, offer = self._result(), self.offer()
        if cores is None or offer is None or offer.core < 0:
            return None
        return cores.cores[offer.core]

    def scene_shown(self) -> Shown:
        """Which core stands out, and how far apart."""
        return Shown(core=self.core_number(), apart=self.apart)

    def core_number(self) -> int:
        """Which core stands out on the bench: that of the chosen hollow, else the first."""
        offer = self.offer()
        return offer.core if offer is not None and offer.core >= 0 else 0

    def _choose(self, key: Any) -> None:
        self.chosen = int(key)
        self.refresh()
        self.shown.emit()

    def choose(self, number: int) -> None:
        """Another hollow, by its number."""
        cores = self._result()
        if cores is not None and 0 <= number < len(cores.offers) and number != self.chosen:
            self._choose(number)

    def _make(self, how: str) -> None:
        offer = self.offer()
        if offer is None:
            return
        if how == "drill":
            self.document.edit(core_edits.fill_instead, offer.at_mm)
        else:
            self.document.edit(core_edits.set_hollow, offer.at_mm, how)

    def _change(self, **changes: Any) -> None:
        offer = self.offer()
        if offer is not None:
            self.document.edit(lambda job: core_edits.change_at(job, offer.at_mm, **changes))

    def _give(self, field: str, value: float) -> None:
        stored = round(to_mm(value, self.document.unit), 4)
        self._change(**{field: stored if stored > 0.0 or field in ("clearance_mm", "vent_mm") else None})

    def _spread(self, value: float) -> None:
        self.apart = value
        self.shown.emit()

    def point_at(self, spot: Spot | None) -> None:
        """A place was clicked on the bench: the hollow there is chosen, or a core is asked for."""
        if spot is None:
            return
        if spot.region >= 0:
            self.choose(spot.region)
            return
        results = self.document.results()
        if results is None or results.stock is None:
            return
        x, y, z = spot.point
        self.document.edit(core_edits.set_hollow, (round(x, 4), round(y, 4), round(z, 4)), "core")

    def name_of(self, region: int) -> str:
        """What the bench says of a hollow under the pointer."""
        cores = self._result()
        if cores is None or not 0 <= region < len(cores.offers):
            return ""
        offer = cores.offers[region]
        return offer.words(self.document.unit) + (f", {HOWS[offer.make].lower()}" if offer.make in HOWS else "")

    # --- showing -----------------------------------------------------------------------------------------------------

    def refresh_body(self) -> None:
        """Shows the hollow that is chosen and its core."""
        cores, unit, job = self._result(), self.document.unit, self.document.job
        if job is None:
            return
        offers = () if cores is None else cores.offers
        names = [f"{k + 1}  {offer.words(unit)}" for k, offer in enumerate(offers)]
        self.which.blockSignals(True)
        if [self.which.itemText(k) for k in range(self.which.count())] != names:
            self.which.clear()
            for k, name in enumerate(names):
                self.which.addItem(name, k)
        self.which.setCurrentIndex(min(self.chosen, len(names) - 1))
        self.which.blockSignals(False)
        offer, core = self.offer(), self.core()
        for row in (self._which_row, self._how_row):
            row.setVisible(bool(offers))
        if offer is not None:
            self.how.show_choice(offer.make)
        shown: tuple[QWidget, ...] = (
            *self._rows.values(),
            self._box_row,
            self._slider_row,
            self._sand_title,
            self._mix_row,
            self.sand,
            self.steps,
            self._end_row,
        )
        for each in shown:
            each.setVisible(core is not None)
        self.mix.show_choice(job.cores.mix)
        self.end.show_choice("on-end" if job.cores.on_end else "lying")
        if core is not None:
            self._show_core(core, unit)

    def _show_core(self, core: Core, unit: str) -> None:
        for field, control in self.figures.items():
            kinds = _KINDS.get(field)
            if kinds is None:
                value = core.vent_mm if field == "vent_mm" else max(one.clearance_mm for one in core.prints)
            else:
                mine = [core_print.length_mm for core_print in core.prints if core_print.kind in kinds]
                self._rows[field].setVisible(bool(mine))
                value = max(mine, default=0.0)
            control.show_length(value, unit)
        self.box.show_choice(core.boxes[0].style)
        load, sand = core.loads, mixes()[self.document.job.cores.mix]  # type: ignore[union-attr]
        rows = [("Make", mass(core.make_kg)), ("Dry sand", mass(core.sand_kg)), (sand.binder, mass(core.binder_kg))]
        if core.water_kg > 0.0:
            rows.append(("Water", mass(core.water_kg)))
        rows += [
            ("Lift when poured", quantity("lift_n", max(load.lift_n, 0.0))),
            ("Its own weight", quantity("weight_n", load.weight_n)),
            ("Wall beside it", "none" if load.wall_mm is None else length(load.wall_mm, unit)),
        ]
        self.sand.show_rows(rows)
        keeps = f"Keeps {sand.bench_life.value:g} min; strip after {sand.strip.value:g} min."
        said = [cautions()[key].text for key in sand.cautions]
        self.steps.setText(" ".join([keeps + baking_words(sand), *said]))
