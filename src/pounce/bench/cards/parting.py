"""The Parting card: the joint, how it is made in the shed, and the trial draw."""

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QHBoxLayout, QStyle, QWidget

from pounce.base.units import area, from_mm, length, to_mm, volume
from pounce.bench.cards.card import Card, FigureTable
from pounce.bench.cards.rows import chooser, figure, segments
from pounce.bench.cards.rows import row as row_of
from pounce.bench.document import Document
from pounce.bench.section.sketch import Lifted
from pounce.bench.widgets.parts import BrassSlider, Choice, Row, button, label
from pounce.job import edits
from pounce.parting.choices import GROOVE, HEIGHT, KEYED, KIND, MOULDED, OPEN, RAMMED, RAP, TILT
from pounce.parting.values import Kind, PartingResult, tears
from pounce.route.results import sand_of

PLAY_MS, PLAY_STEPS = 60, 46


class PartingCard(Card):
    """Where cope and drag come apart. ``lifted`` tells how far the trial is, None when there is none."""

    stop = "parting"

    def __init__(self, document: Document) -> None:
        self._lift, self._drawn, self._trial = 0.0, 0.0, False
        super().__init__(document)
        self._play = QTimer(self)
        self._play.setInterval(PLAY_MS)
        self._play.timeout.connect(self._step)
        self._phase = "lift"

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
        self.rap, self.rock = figure(RAP), figure(TILT)
        self.rap.given.connect(lambda value: self.giving(RAP)(to_mm(value, self.document.unit)))
        self.rock.given.connect(self.giving(TILT))
        self.body.addWidget(row_of(RAP, self.rap))
        self.body.addWidget(row_of(TILT, self.rock))
        self._buttons()
        self.body.addWidget(label("What follows", "section"))
        self.table = FigureTable([])
        self.body.addWidget(self.table)

    def _buttons(self) -> None:
        holder = QWidget()
        row = QHBoxLayout(holder)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        self.lift_button = button(
            "Lift slowly", "", self.lift_slowly, "Lifts the cope and shows the sand that stays behind"
        )
        self.draw_button = button("Draw the pattern", "", self.draw_slowly, "Draws what lies in the drag")
        self.lower_button = button("Lower", "", self.lower, "Back to the closed mould")
        for one in (self.lift_button, self.draw_button, self.lower_button):
            row.addWidget(one)
        self.body.addWidget(holder)

    # --- the trial -----------------------------------------------------------------------------------------------

    @property
    def trial(self) -> bool:
        """Whether the trial draw is under way."""
        return self._trial

    def most(self) -> float:
        """The greatest lift, mm."""
        results = self.document.results()
        return 0.0 if results is None or results.draw is None else 1.5 * results.draw.depth_mm

    def leave(self) -> None:
        """The trial ends with the visit."""
        if self._trial:
            self.lower()

    def play(self) -> None:
        """Lifts the cope, where there is a trial; else says why there is none."""
        if self.lift_button.isEnabled():
            self.lift_slowly()
        else:
            self.document.fault.emit(
                "There is no trial draw: it needs a closed part and a pattern that is drawn from the sand."
            )

    def lift_slowly(self) -> None:
        """Plays the lift from where it is, or from the start when it is up."""
        if self._lift >= self.most():
            self._lift = 0.0
        self._drawn = 0.0
        self._start("lift")

    def draw_slowly(self) -> None:
        """Plays the drawing of the pattern, the cope already up."""
        self._lift = self.most()
        if self._drawn >= self.most() * 0.6:
            self._drawn = 0.0
        self._start("draw")

    def _start(self, phase: str) -> None:
        self._phase, self._trial = phase, True
        style = self.style()
        still = style is not None and not style.styleHint(QStyle.StyleHint.SH_Widget_Animate)
        if still:  # the system asks for no motion
            self.set_lift(self.most()) if phase == "lift" else self._tell(drawn=0.6 * self.most())
        else:
            self._play.start()
            self._tell()
        self.refresh()

    def _step(self) -> None:
        step = self.most() / PLAY_STEPS
        if self._phase == "lift":
            self._lift = min(self._lift + step, self.most())
        else:
            self._drawn = min(self._drawn + step * 0.6, 0.6 * self.most())
        if self._lift >= self.most() and (self._phase == "lift" or self._drawn >= 0.6 * self.most()):
            self._play.stop()
        self._tell()

    def set_lift(self, lift_mm: float) -> None:
        """The cope at this lift, by hand."""
        self._play.stop()
        self._trial, self._lift = True, min(max(lift_mm, 0.0), self.most())
        self._tell()

    def _tell(self, drawn: float | None = None) -> None:
        if drawn is not None:
            self._drawn = drawn
        self.lifted.emit(Lifted(self._lift, self._drawn) if self._trial else None)

    def lower(self) -> None:
        """Ends the trial: the mould is closed again."""
        self._play.stop()
        self._lift, self._drawn, self._trial = 0.0, 0.0, False
        self._tell()
        self.refresh()

    def act(self) -> None:
        """The wide button ends a trial under way, else settles and goes on."""
        if self._trial:
            self.lower()
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
        self.rap.setSuffix(f" {unit}")
        self.rap.setDecimals(3 if unit == "in" else 2)
        self.rap.show_value(from_mm(job.parting.rap_mm, unit))
        self.rock.show_value(job.parting.tilt_deg)
        self.keyed.show_choice(job.parting.keyed)
        self._keyed_row.setVisible(bool(job.parting.loose))
        draws = results.metal is not None and results.metal.pattern.draws
        for one in (self.lift_button, self.draw_button, self.lower_button):
            one.setEnabled(draws and results.parting is not None and results.part is not None and results.part.closed)
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
        self._made_row.setVisible(shaped)
        self._free_row.setVisible(shaped and self._place() in nudges)
        if shaped:
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
        rows = [
            ("Deep in the cope", length(seen.cope_depth_mm, unit)),
            ("Deep in the drag", length(seen.drag_depth_mm, unit)),
        ]
        if shaped:
            rows = [("Rises and falls", length(p.relief_mm, unit)), ("Steepest sand", f"{p.slope_deg:.0f}°")]
            if p.cut_down is not None:
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
        if self._trial:
            self.foot.setText("End the trial")
