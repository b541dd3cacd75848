"""The entry that is written: its draft, what is typed into it, and keeping it."""

from datetime import UTC, datetime
from functools import partial
from pathlib import Path
from typing import Any, Literal

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from pounce.base.errors import UserFault
from pounce.bench.document import Document
from pounce.bench.log import writes
from pounce.job import log_edits
from pounce.logbook import draft
from pounce.logbook.said import LogResult, Seen
from pounce.logbook.values import Casting, Defect, Event, Measure, Outcome, Photo, Pour, new_id
from pounce.pour.run import Run
from pounce.pour.run import load as load_run
from pounce.route import entry
from pounce.route.log import Effect, log_of


class LogDesk(QObject):
    """One for the window. ``changed`` when the entry, the pointed casting or what is known changed; ``kept`` when an
    entry is in the book.
    """

    changed = pyqtSignal()
    kept = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__(document)
        self.document = document
        self.pour: Pour | None = None
        self.number, self.charts = 1, False
        self.effect: tuple[Effect, ...] = ()
        self._job, self._touched, self._old = "", False, False
        self.writes = writes.Writes(self)
        self.writes.fault.connect(document.fault)

    # --- what it knows -----------------------------------------------------------------------------------------------

    @property
    def made(self) -> LogResult | None:
        """What the logbook says to the job."""
        results = self.document.results()
        return None if results is None else log_of(results)

    @property
    def new(self) -> bool:
        """Whether the entry is not in the book yet."""
        return not self._old

    @property
    def casting(self) -> Casting:
        """The casting that is pointed at."""
        mine = () if self.pour is None else self.pour.castings
        return next((one for one in mine if one.number == self.number), Casting(self.number))

    @property
    def seen(self) -> tuple[Seen, ...]:
        """Defects of the job's last pour, with their causes, those that are no fault left out."""
        made = self.made
        return () if made is None else tuple(one for one in made.seen if one.defect.fault)

    def look(self) -> None:
        """Takes up the job on the bench: its draft, else an entry with what its card and its meter know."""
        job, results = self.document.job, self.document.results()
        if job is None or results is None:
            return
        if job.name != self._job:
            self._job, self._old, self.number, self.effect = job.name, False, 1, ()
            self.pour = _begun(self.document, job.name)
            self._touched = self.pour is not None
        if self.pour is None or not (self._touched or self._old):
            made = entry.new_pour(results, _run_of(job.name), datetime.now(UTC))
            if self.pour is not None:  # it keeps its number while it is only looked at
                made = msgspec.structs.replace(made, id=self.pour.id)
            self.pour = made

    # --- what is typed -----------------------------------------------------------------------------------------------

    def give(self, **fields: Any) -> None:
        """Fields of the entry."""
        if self.pour is None:
            return
        try:
            self._have(entry.checked(msgspec.structs.replace(self.pour, **fields)))
        except UserFault as fault:
            self.document.fault.emit(str(fault))
            self.changed.emit()

    def give_casting(self, **fields: Any) -> None:
        """Fields of the casting that is pointed at."""
        if self.pour is not None:
            self._have(entry.changed(self.pour, self.number, **fields))

    def point(self, number: int) -> None:
        """Another casting."""
        self.number = number
        self.changed.emit()

    def measure(self, name: str, casting_mm: float, step_mm: float, pattern_mm: float | None = None) -> None:
        """A size read on this casting; nothing takes it out."""
        made = self.made
        if made is None or self.pour is None:
            return
        size = next((one for one in made.sizes if one.name == name), None)
        left = tuple(one for one in self.casting.measures if one.name != name)
        if casting_mm <= 0.0:
            self.give_casting(measures=left)
            return
        try:
            new = entry.measured(size, name, casting_mm, step_mm, 1, pattern_mm)
        except UserFault as fault:
            self.document.fault.emit(str(fault))
            self.changed.emit()
            return
        had = next((one for one in self.casting.measures if one.name == name), None)
        if had is not None and had.casting_mm == casting_mm:
            return
        self.give_casting(measures=(*left, new))

    def remeasure(self, name: str, **fields: Any) -> None:
        """A size that was read is said otherwise: how it lies, what its pattern measured, left out or not."""
        mine = self.casting.measures
        self.give_casting(
            measures=tuple(msgspec.structs.replace(one, **fields) if one.name == name else one for one in mine)
        )

    def flaw(self, defect: Defect) -> None:
        """A defect of this casting."""
        outcome = Outcome.FLAWED if self.casting.outcome is Outcome.SOUND else self.casting.outcome
        self.give_casting(defects=(*self.casting.defects, defect), outcome=outcome)

    def change_flaw(self, number: int, defect: Defect | None) -> None:
        """A defect otherwise, or taken out."""
        mine = list(self.casting.defects)
        mine[number : number + 1] = [] if defect is None else [defect]
        self.give_casting(defects=tuple(mine))

    def measure_of(self, name: str) -> Measure | None:
        """What was read of a size on this casting."""
        return next((one for one in self.casting.measures if one.name == name), None)

    def _have(self, pour: Pour) -> None:
        if pour == self.pour:
            return
        self.pour, self._touched = pour, True
        if not self._old:
            self.writes.do(partial(draft.save, self._job, pour))
        self.changed.emit()

    # --- keeping -----------------------------------------------------------------------------------------------------

    def select(self, pour_id: str) -> None:
        """Another entry of this job; "" a new one."""
        made = self.made
        found = next((one for one in made.pours if one.id == pour_id), None) if made is not None else None
        self._old, self._touched, self.number = found is not None, False, 1
        self.pour = found or _begun(self.document, self._job)
        self._touched = found is None and self.pour is not None
        self.look()
        self.changed.emit()

    def keep(self) -> None:
        """Puts the entry into the book; the job is told its number there."""
        pour, job = self.pour, self.document.job
        if pour is None or job is None:
            return
        if self.new:
            self.writes.do(partial(draft.save, self._job, None))
        self.writes.do(partial(writes.put, pour, job.pour.moulds), lambda _: self._is_kept(pour))

    def drop(self) -> None:
        """Takes the entry out of the book."""
        pour = self.pour
        if pour is not None and not self.new:
            self.writes.do(partial(writes.drop, pour.id), lambda _: self._is_gone(pour))

    def attach(self, paths: list[Path]) -> None:
        """Photos of this pour."""

        def there(kept: tuple[Photo, ...]) -> None:
            if self.pour is not None:
                self._have(msgspec.structs.replace(self.pour, photos=(*self.pour.photos, *kept)))

        self.writes.do(partial(writes.attach, paths), there)

    def try_effect(self, change: Any) -> None:
        """Asks what a change would do."""
        if self.document.job is not None:
            self.document.worker.ask(
                "log-effect", self.document.job, change, text="Working out what that would do", on_answer=self._effects
            )

    def show_charts(self, on: bool) -> None:
        """Charts of many pours, or what this bench learned."""
        self.charts = on
        self.changed.emit()

    def done_to_pattern(self, kind: Literal["coat", "repair"], note: str) -> None:
        """The pattern was coated or repaired."""
        if note:
            made = Event(new_id(), datetime.now(UTC), self._job, kind, note=note)
            self.writes.do(partial(writes.note, made), lambda _: self.document.work())

    def _effects(self, found: tuple[Effect, ...]) -> None:
        self.effect = found
        self.changed.emit()

    def _is_kept(self, pour: Pour) -> None:
        job = self.document.job
        if job is not None and job.name == pour.job and (job.log.id != pour.job_id or job.log.change):
            self.document.edit(log_edits.link, pour.job_id)
        self._old, self._touched = True, False
        self.document.said.emit("Kept in the logbook")
        self.document.work()
        self.kept.emit(pour.id)
        self.changed.emit()

    def _is_gone(self, pour: Pour) -> None:
        self.document.said.emit(f"Taken out of the logbook: {pour.at.astimezone():%d %B %Y}")
        self._old, self._touched, self.pour = False, False, None
        self.look()
        self.document.work()
        self.changed.emit()


def _begun(document: Document, job: str) -> Pour | None:
    """The draft of a job; one that cannot be read is said."""
    try:
        return draft.load(job)
    except UserFault as fault:
        document.fault.emit(str(fault))
        return None


def _run_of(job: str) -> Run:
    """The pour under way; an empty one where it cannot be read, which Pour says."""
    try:
        return load_run(job)
    except UserFault:
        return Run(job)


def log_desk_of(document: Document) -> LogDesk:
    """The logbook of a document's window: board and card write the same entry."""
    found = document.findChild(LogDesk)
    return LogDesk(document) if found is None else found
