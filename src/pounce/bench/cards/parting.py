"""The Parting card: the joint, how it is made in the shed, and the trial draw."""

from pounce.base.units import area, from_mm, length, to_mm, volume
from pounce.bench.cards.card import Card, FigureTable
from pounce.bench.cards.lifting import Lifting
from pounce.bench.cards.rows import chooser, figure, segments
from pounce.bench.cards.rows import row as row_of
from pounce.bench.widgets.parts import BrassSlider, Choice, Row, button, label
from pounce.job import edits
from pounce.parting.choices import GROOVE, HEIGHT, KEYED, KIND, MOULDED, OPEN, RAMMED
from pounce.parting.values import Kind, PartingResult, tears
from pounce.route.results import sand_of


class PartingCard(Card):
    """Where cope and drag come apart."""

    stop = "parting"

    def fill(self) -> None:
        """Joint, height, making, trial."""
        self.how = segments(KIND)
        self.how.chosen.connect(self._how)
        self.body.addWidget(label("Joint", "section"))
        self.body.addWidget(self.how)
        self.joint = figure(HEIGHT)
        self.joint.given.connect(lambda value: self._own(to_mm(value, self.document.unit)))
        self._height_row = row_of(HEIGHT, self.joint)
        self.body.addWidget(self._height_row)
        self.slider = BrassSlider("Height of the joint")
        self.slider.moved.connect(lambda value: self.joint.show_value(from_mm(value, self.document.unit)))
        self.slider.settled.connect(self._own)
        self.body.addWidget(self.slider)
        self.which = Choice("Which part of the joint")
        self.which.given.connect(lambda _: self.refresh())
        self._which_row = Row("Part of it", self.which, "The ground outside, or one of the windows in the part")
        self.body.addWidget(self._which_row)
        self.free = button("Find its own", "", self._free, "Lets this part of the joint find its height again")
        self._free_row = Row("Held level", self.free)
        self.body.addWidget(self._free_row)
        self.made = chooser(MOULDED)
        self.made.given.connect(self.giving(MOULDED))
        self._made_row = row_of(MOULDED, self.made)
        self.body.addWidget(self._made_row)
        self.keyed, self.rammed, self.groove, self.opened = (segments(one) for one in (KEYED, RAMMED, GROOVE, OPEN))
        self._keyed_row, self._rammed_row, self._groove_row = (
            row_of(choice, control)
            for choice, control in ((KEYED, self.keyed), (RAMMED, self.rammed), (GROOVE, self.groove))
        )
        for choice, control in ((KEYED, self.keyed), (RAMMED, self.rammed), (GROOVE, self.groove), (OPEN, self.opened)):
            control.chosen.connect(self.giving(choice))
        for shown in (self._keyed_row, self._rammed_row, self._groove_row, row_of(OPEN, self.opened)):
            self.body.addWidget(shown)
        self.body.addWidget(label("Trial draw", "section"))
        self.lifting: Lifting = self.add_lifting(self.body)
        self.body.addWidget(label("What follows", "section"))
        self.table = FigureTable([])
        self.body.addWidget(self.table)

    # --- the trial -----------------------------------------------------------------------------------------------

    def act(self) -> None:
        """The wide button ends a trial under way, else settles and goes on."""
        if self.lifting.under_way:
            self.lifting.lower()
        else:
            super().act()

    # --- the joint -----------------------------------------------------------------------------------------------

    def _shaped(self) -> PartingResult | None:
        results = self.document.results()
        parting = None if results is None else results.parting
        return parting if parting is not None and not parting.joint.level else None

    def _own(self, height_mm: float) -> None:
        if self._shaped() is not None:
            self.document.edit(edits.nudge_joint, self._place(), round(height_mm, 4))
        else:
            self.document.edit(edits.set_height, round(height_mm, 4))

    def move_joint(self, by_mm: float) -> None:
        """Moves the joint, or the part of it that is chosen, along the draw; it stays within the part."""
        results, job = self.document.results(), self.document.job
        if results is None or results.parting is None or results.draw is None or job is None:
            return
        now = dict(job.parting.nudges).get(self._place(), results.parting.height_mm)
        self._own(min(max(now + by_mm, results.draw.low_mm), results.draw.high_mm))

    def _place(self) -> int:
        return int(self.which.currentData() or 0)

    def _free(self) -> None:
        self.document.edit(edits.nudge_joint, self._place(), None)

    def _how(self, key: str) -> None:
        results = self.document.results()
        if key == "flat" and results is not None and results.parting is not None:
            joint = results.parting
            self.document.edit(edits.set_height, joint.height_mm if joint.joint.level else joint.best_height_mm)
        else:
            self.document.edit(edits.set_joint, key)

    def refresh_body(self) -> None:
        """Shows the joint."""
        results, unit, job = self.document.results(), self.document.unit, self.document.job
        if results is None or job is None:
            return
        self.how.show_choice("flat" if job.parting.height_mm is not None else job.parting.kind)
        self.joint.setSuffix(f" {unit}")
        self.joint.setDecimals(3 if unit == "in" else 2)
        self.joint.setSingleStep(0.05 if unit == "in" else 1.0)
        self.lifting.show_choices(results, job.parting, unit)
        self.keyed.show_choice(job.parting.keyed)
        self._keyed_row.setVisible(bool(job.parting.loose))
        if results.draw is None:
            return
        low, high = results.draw.low_mm, results.draw.high_mm
        self.joint.blockSignals(True)
        self.joint.setRange(from_mm(low, unit) - 1e-3, from_mm(high, unit) + 1e-3)
        self.joint.blockSignals(False)
        judged = self.document.judging.results()
        if results.parting is not None:
            seen = None if judged is None else judged.parting
            self._refresh_joint(results.parting, seen or results.parting, low, high)

    def _refresh_joint(self, p: PartingResult, seen: PartingResult, low: float, high: float) -> None:
        unit, job = self.document.unit, self.document.job
        shaped = not p.joint.level
        nudges = dict(job.parting.nudges) if job is not None else {}
        self._which_row.setVisible(shaped and p.windows > 0)
        self._rammed_row.setVisible(p.kind == "flat-back")
        self._groove_row.setVisible(p.ringed is not None or any(region.kind is Kind.GROOVE for region in p.regions))
        self.groove.show_choice(job.parting.groove if job is not None else "")
        if job is not None:
            self.rammed.show_choice(job.parting.rammed)
            self.opened.show_choice("upside-down" if job.parting.upside_down else "usual")
        # what lies whole on its open side leaves nothing to choose
        self._made_row.setVisible(shaped and not p.on_plain_board)
        self._free_row.setVisible(shaped and self._place() in nudges)
        if shaped:
            if not p.on_plain_board:
                self.made.show_choice(p.moulded)
            if self.which.count() != p.windows + 1:
                self.which.blockSignals(True)
                self.which.clear()
                for place in range(p.windows + 1):
                    self.which.addItem("the ground" if place == 0 else f"window {place}", place)
                self.which.blockSignals(False)
        height = nudges.get(self._place(), p.height_mm) if shaped else p.height_mm
        self.joint.show_value(from_mm(height, unit))
        self.slider.set_range(low, high, None, p.best_height_mm)
        self.slider.show_value(height)
        rows = depths = [
            ("Deep in the cope", length(seen.cope_depth_mm, unit)),
            ("Deep in the drag", length(seen.drag_depth_mm, unit)),
        ]
        if shaped:
            rows = [("Rises and falls", length(p.relief_mm, unit)), ("Steepest sand", f"{p.slope_deg:.0f}°")]
            if p.on_plain_board:  # nothing is cut down to a level rim
                rows = [("Rim rises and falls", length(p.relief_mm, unit)), *depths]
            elif p.cut_down is not None:
                rows += [
                    ("Cut down at most", length(p.cut_down.depth_mm, unit)),
                    ("Sloped up over", length(p.cut_down.width_mm, unit)),
                    ("Sand cut away", volume(p.cut_down.volume_mm3, unit)),
                ]
        locks = seen.shown_areas[2] > 0.0
        rows += [
            ("Locks at any joint", area(seen.locked_any_mm2, unit) if locks else "none"),
            ("Parting line", length(seen.length_mm, unit, 0)),
            ("Sand that tears", volume(seen.trial.torn_mm3, unit) if tears(seen) else "none"),
        ]
        results = self.document.results()
        if results is not None and results.metal is not None and results.part is not None:
            sand = sand_of(results.metal, results)
            rows += [
                ("Sand beside it", length(sand.beside_mm, unit)),
                ("Sand over, under", f"{length(sand.over_mm, unit)}, {length(sand.under_mm, unit)}"),
            ]
        self.table.show_rows(rows)

    def refresh(self) -> None:
        """Shows the job as it is now; while the trial runs the wide button ends it."""
        super().refresh()
        if self.lifting.under_way:
            self.foot.setText("End the trial")
