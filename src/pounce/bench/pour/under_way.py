"""The pour that is under way: its clock, steps begun and done, lines ticked, the meter; kept at every change."""

import os
import queue
from datetime import timedelta
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from pounce.base.errors import UserFault
from pounce.bench.document import Document
from pounce.bench.pour.notify import notify
from pounce.pour.clock import Times, on_clock
from pounce.pour.devices.reader import Line, Reader
from pounce.pour.meter import Advice, Arrest, Curve, Sample, advice, arrest, steady
from pounce.pour.pace import rammed_pace
from pounce.pour.run import LapseClock, Reading, Run, due, load, save, under_way
from pounce.pour.values import PourResult, Step
from pounce.route.stops import POUR

TICK_MS = 500
# The clock runs so many times as fast, where a pour is only tried.
LAPSE = "POUNCE_LAPSE"
# A reading of a meter is kept so often, s.
KEEP_S = 15.0
# A pour that nobody touched for so long is asked about, hours.
LEFT_LYING_H = 36.0
# Pours of other jobs are looked at every so many ticks.
OTHERS = 10


class UnderWay(QObject):
    """One for the window. ``changed`` when the pour changed, ``ticked`` with the clock, ``rang`` with what is due."""

    changed = pyqtSignal()
    ticked = pyqtSignal()
    rang = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__(document)
        self.document = document
        self.clock = LapseClock(float(os.environ.get(LAPSE, "1") or "1"))
        self.run = Run("")
        self.trouble, self.large = "", False
        self.curve, self.weights = Curve(), Curve()
        self.line = Line.CLOSED
        self._reader: Reader | None = None
        self._came: queue.SimpleQueue[tuple[float, Sample] | Line] = queue.SimpleQueue()
        self._kept, self._ticks = 0.0, 0
        self._timer = QTimer(self)
        self._timer.setInterval(TICK_MS)
        self._timer.timeout.connect(self.tick)
        self._timer.start()

    # --- what it knows -----------------------------------------------------------------------------------------------

    @property
    def made(self) -> PourResult | None:
        """The pour as it is planned."""
        results = self.document.results()
        return None if results is None else results.get(POUR)

    def times(self) -> Times | None:
        """The steps at the clock now."""
        made, job = self.made, self.document.job
        if made is None or job is None:
            return None
        return on_clock(made, job.pour.at, self.clock.now(), self.run.done)

    def advice(self) -> Advice:
        """What the last readings ask for."""
        made = self.made
        if made is None:
            return Advice(advice(Curve(), 0.0, 0.0, 0.0).say)
        return advice(self.curve, made.liquidus_c, made.lift_c, made.most_c)

    def arrest(self) -> Arrest | None:
        """The stall at the liquidus, where one was seen."""
        made = self.made
        stall = 8.0 * max(self.clock.speed / 10.0, 1.0)
        return None if made is None else arrest(self.curve, made.solidus_c, made.liquidus_c, stall)

    @property
    def core_steady(self) -> bool:
        """Whether the core on the scale loses no more weight."""
        return steady(self.weights)

    @property
    def pace(self) -> float | None:
        """Minutes in which a litre was rammed today; None while none was."""
        made = self.made
        return None if made is None else rammed_pace(made.steps, self.run.done)

    # --- what is done ------------------------------------------------------------------------------------------------

    def look(self) -> None:
        """Takes up the pour of the job on the bench."""
        job = self.document.job
        name = "" if job is None else job.name
        if name == self.run.job:
            return
        try:
            self.run, self.trouble = load(name), ""
        except UserFault as fault:
            self.run, self.trouble = Run(name), str(fault)
            self.document.fault.emit(str(fault))
        self._take_up()
        self.changed.emit()

    def _take_up(self) -> None:
        """The curve again from what was read before, and a word about a pour that was left lying."""
        self.curve, self.weights, self._kept = Curve(), Curve(), 0.0
        now = self.clock.now()
        for one in self.run.readings:
            self.curve.add(self.clock.seconds + (one.at - now).total_seconds(), one.c, sure=True)
        last = max((did.end or did.start for did in self.run.steps.values()), default=now)
        if now - last > timedelta(hours=LEFT_LYING_H):
            said = f"A pour of this job was begun on {last.astimezone():%d %B} and left."
            self.document.fault.emit(f"{said} Begin another pour of this job (Ctrl+K), or go on with it.")

    def press(self, step: Step) -> None:
        """A step is begun; one under way is done; one that is done is taken back."""
        own = self.run.steps.get(step.id)
        now = self.clock.now()
        if own is None:
            made = self.run.begun(step, now)
        elif own.end is None:
            made = self.run.ended(step, now)
        else:
            made = self.run.undone(step.id)
        self._keep(made)

    def tick_off(self, check: str, on: bool) -> None:
        """A line of the list is seen to, or not."""
        self._keep(self.run.ticked(check, self.clock.now() if on else None))

    def read_by_hand(self, c: float) -> None:
        """A reading that was typed."""
        self.curve.add(self.clock.seconds, c, sure=True)
        self._keep(self.run.read(Reading(self.clock.now(), c)))

    def begin_anew(self) -> None:
        """All of it forgotten: another pour of the same job."""
        self.curve, self.weights = Curve(), Curve()
        self._keep(Run(self.run.job))

    def listen(self, port: str) -> None:
        """Reads this line; none is "" and lets it go."""
        if self._reader is not None:
            self._reader.close()
            self._reader = None
        self.line = Line.CLOSED
        if port:
            self._reader = Reader(port, self._took, self._came.put, clock=lambda: self.clock.seconds)
        self.changed.emit()

    @property
    def port(self) -> str:
        """The line that is read."""
        return "" if self._reader is None else self._reader.port

    def write_card(self, path: Path) -> None:
        """Writes the pour card of the job on the bench."""
        if self.document.job is not None:
            self.document.worker.ask(
                "sheet",
                self.document.job,
                str(path),
                self.document.unit,
                True,
                text="Drawing the pour card",
                on_answer=lambda _: self.document.said.emit(f"Pour card written: {path.name}"),
            )

    def show_large(self, on: bool) -> None:
        """Large figures for the shed, or the steps."""
        self.large = on
        self.changed.emit()

    def close(self) -> None:
        """Lets the line and the clock go."""
        self._timer.stop()
        self.listen("")

    def _took(self, seconds: float, sample: Sample) -> None:
        self._came.put((seconds, sample))

    def _keep(self, made: Run) -> None:
        if not made.job:
            return
        try:
            save(made)
            self.trouble = ""
        except UserFault as fault:  # it goes on, and says that nothing of it is kept
            self.trouble = str(fault)
            self.document.fault.emit(str(fault))
        self.run = made
        self.changed.emit()

    def tick(self) -> None:
        """Takes what the line said, rings what is due."""
        self.look()
        self._drain()
        self._ring()
        self.ticked.emit()

    def _drain(self) -> None:
        before = self.line
        kept: list[Reading] = []
        while not self._came.empty():
            came = self._came.get()
            if isinstance(came, Line):
                self.line = came
                continue
            seconds, sample = came
            if sample.size:
                continue  # a caliper on the line has nothing to say of a melt
            curve = self.weights if sample.weight else self.curve
            if curve.add(seconds, sample.value) and not sample.weight and seconds - self._kept >= KEEP_S:
                self._kept = seconds
                kept.append(Reading(self.clock.now(), sample.value, "meter"))
        if kept:
            made = self.run
            for one in kept:
                made = made.read(one)
            self._keep(made)
        if self.line is not before:
            if self.line in (Line.LOST, Line.SILENT):
                self.document.fault.emit("The meter says nothing any more. Look at its plug; go on by hand meanwhile.")
            self.changed.emit()

    def _ring(self) -> None:
        now, self._ticks = self.clock.now(), self._ticks + 1
        # pours of other jobs are read from the disk, not at every tick
        others = under_way() if self._ticks % OTHERS == 1 else ()
        for run in (self.run, *(one for one in others if one.job != self.run.job)):
            over = due(run, now)
            if not over:
                continue
            for did in over.values():
                text = f"{did.text}: the time is up."
                notify(run.job, text)
                self.rang.emit(f"{run.job}. {text}")
            done = run.rung(over)
            if run.job == self.run.job:
                self._keep(done)
            else:
                try:
                    save(done)
                except UserFault as fault:
                    self.document.fault.emit(str(fault))


def under_way_of(document: Document) -> UnderWay:
    """The pour of a document's window: board and card look at the same."""
    found = document.findChild(UnderWay)
    return UnderWay(document) if found is None else found
