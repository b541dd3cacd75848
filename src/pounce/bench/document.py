"""The document: the job on the bench, its history, and what is known of it. Everything the window does goes through
here.
"""

import functools
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from pounce.base.errors import UserFault
from pounce.base.finding import Finding, Remedy
from pounce.bench.aside import Aside
from pounce.bench.asking import Once, Sections
from pounce.bench.at_hand import AtHand
from pounce.bench.judging import Judging
from pounce.bench.settings import Settings
from pounce.bench.workerclient import WorkerClient
from pounce.export.sheets import SheetPage
from pounce.job.changes import take_remedy
from pounce.job.edits import Edit
from pounce.job.history import History
from pounce.job.job import Job
from pounce.metals.method import MethodChoices, resolve
from pounce.route.keys import keys
from pounce.route.proof import as_wanted
from pounce.route.results import Results
from pounce.route.stops import DRAW, PATTERN, stop_of


class Document(QObject):
    """Signals: ``job_changed`` after every edit, ``results_changed`` when a result came or went, ``opened`` a job was
    put on the bench, ``said`` a sentence for the status line, ``fault`` one that needs the eye.
    """

    job_changed = pyqtSignal()
    results_changed = pyqtSignal(str)
    opened = pyqtSignal()
    said = pyqtSignal(str)
    fault = pyqtSignal(str)
    built = pyqtSignal(object, str)
    shelf_changed = pyqtSignal()
    looks_ready = pyqtSignal()
    sheets_ready = pyqtSignal()

    def __init__(self, worker: WorkerClient, folder: Path, settings: Settings, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.worker = worker
        self.settings = settings
        self._folder = folder
        self.history: History | None = None
        self.path: Path | None = None
        self.folder = settings.last_folder
        self.unit = settings.unit
        self.source = ""
        self.at_hand = AtHand()
        self._results: Results | None = None
        self.sections = Sections(worker, lambda: self.job, self)
        self.judging = Judging(self.results, lambda: self.at_hand.paths(self.job), self.sections, self)
        self.judging.changed.connect(self.results_changed)
        self.results_changed.connect(self.judging.came)
        self._looks: Once[list[bytes]] = Once(worker, "looks", [], self.looks_ready.emit)
        self._sheets: Once[tuple[SheetPage, ...]] = Once(worker, "sheets", (), self.sheets_ready.emit)
        self.aside = Aside(worker, settings, lambda: self.history, self.said.emit, self.shelf_changed.emit, self)

    # --- the job -------------------------------------------------------------------------------------------------

    @property
    def job(self) -> Job | None:
        """The job on the bench, or None."""
        return None if self.history is None else self.history.job

    def edit(self, make: Any, *arguments: Any) -> bool:
        """Makes an edit of the current job; a fault is said and the job stays as it was."""
        if self.history is None:
            return False
        try:
            made: Edit = make(self.history.job, *arguments)
            resolve(made.job.method)
        except UserFault as fault:
            self.fault.emit(str(fault))
            self.job_changed.emit()
            return False
        if not self.history.push(made):
            return False
        self._changed(made.label)
        return True

    def take(self, edits: tuple[Edit, ...], label: str) -> None:
        """Makes several edits, each of which can be undone by itself, and works them once."""
        if self.history is not None and any([self.history.push(one) for one in edits]):
            self._changed(label)

    def remedy(self, remedy: Remedy) -> None:
        """Takes the remedy of a finding."""
        self.edit(take_remedy, remedy)

    def undo(self) -> None:
        """Takes the last edit back."""
        label = None if self.history is None else self.history.undo()
        if label:
            self._changed(f"Undone: {label}")

    def redo(self) -> None:
        """Does the last undone edit again."""
        label = None if self.history is None else self.history.redo()
        if label:
            self._changed(f"Done again: {label}")

    def _changed(self, label: str) -> None:
        self._results = None
        self.said.emit(label)
        self.aside.soon()
        self.job_changed.emit()
        self.results_changed.emit("")
        self.work()

    # --- opening and keeping -------------------------------------------------------------------------------------

    def open(self, path: Path) -> None:
        """Opens a job or a model; the job on the bench stays until the new one is there, and is put aside unsaved."""
        self.aside.put()
        self.worker.replace(
            "open", str(path), text=f"Reading {path.name}", on_answer=functools.partial(self._opened, path)
        )

    def _opened(self, path: Path, answer: tuple[Job, str, str]) -> None:
        job, source, _ = answer
        was_aside = path.parent == self.settings.aside_folder
        is_job = path.suffix.lower() == ".pounce" and not was_aside
        self.folder = path.parent
        self.aside.holds, self.aside.source = (job if was_aside else None), path
        self.settings.remember(path, job.name)
        self.shelf_changed.emit()
        self._put_on(History(job, saved=job if is_job else None), path if is_job else None, source)

    def measure(self, asked: Any, of_metal: str | None = None) -> None:
        """Opens a new job on a part that is built from its measures."""
        self.aside.put()
        method = MethodChoices(pattern="original-part") if self.job is None else self.job.method
        self.worker.replace(
            "measure", asked, method, of_metal, text="Building the part from its measures", on_answer=self._measured
        )

    def _measured(self, answer: tuple[Job, str, str]) -> None:
        job, source, _ = answer
        self.aside.holds = self.aside.source = None
        # nothing of it is kept anywhere yet: it is put aside like an edited job
        self._put_on(History(job, saved=Job()), None, source)
        self.aside.soon()

    def _put_on(self, history: History, path: Path | None, source: str) -> None:
        """Another job on the bench."""
        self.history, self.path, self.source = history, path, source
        self.at_hand.forget_faults()
        self._results = None
        self.opened.emit()
        self.job_changed.emit()
        self.results_changed.emit("")
        self.work()

    def save(self, path: Path) -> None:
        """Saves the job into this file."""
        if self.history is None:
            return
        job = self.history.job
        self.worker.ask(
            "save", job, str(path), text=f"Saving {path.name}", on_answer=functools.partial(self._saved, job, path)
        )

    def _saved(self, job: Job, path: Path, _: Any) -> None:
        if self.history is not None:
            self.history.saved = job
        self.path = path
        self.aside.drop(job)
        self.settings.remember(path, job.name)
        self.said.emit(f"Saved as {path.name}")
        self.shelf_changed.emit()
        self.job_changed.emit()

    def build(self, out: Path) -> None:
        """Writes all files into the folder."""
        if self.history is not None:
            self.worker.ask(
                "build",
                self.history.job,
                str(out),
                self.unit,
                text="Building",
                on_answer=lambda manifest: self.built.emit(manifest, str(out)),
            )

    def sheet(self, path: Path) -> None:
        """Writes the shop sheet."""
        if self.history is not None:
            self.worker.ask(
                "sheet",
                self.history.job,
                str(path),
                self.unit,
                text="Drawing the shop sheet",
                on_answer=lambda _: self.said.emit(f"Shop sheet written: {path.name}"),
            )

    def set_unit(self, unit: str) -> None:
        """Shows lengths in mm or inches."""
        self.unit = unit
        self.settings.unit = unit
        self.settings.save()
        self.job_changed.emit()
        self.results_changed.emit("")

    # --- results -------------------------------------------------------------------------------------------------

    def work(self) -> None:
        """Asks the worker for what is missing; what is kept is shown at once."""
        job = self.job
        if job is None:
            return
        if self.at_hand.lacks(job):
            self.worker.replace(
                "run",
                job,
                text="Looking at the part",
                on_result=self._result,
                on_early=functools.partial(self._result, rough=True),
                on_stop_fault=self._stop_fault,
                on_answer=lambda _: self.results_changed.emit("all"),
            )
        self.sections.again()

    def _result(self, stop: str, key: str, path: str, rough: bool = False) -> None:
        if rough:
            self.at_hand.take_early(key, path)
        else:
            self.at_hand.take(key, path, self.job)
        self._results = None
        self.results_changed.emit(stop)

    def _stop_fault(self, stop: str, key: str, what: str, try_this: str) -> None:
        self.at_hand.fault(key, what, try_this)
        self._results = None
        self.results_changed.emit(stop)

    def results(self) -> Results | None:
        """What is known of the current job."""
        job = self.job
        if job is None:
            return None
        if self._results is None or self._results.job != job:
            self._results = self.at_hand.results(job)
        return self._results

    def findings(self, stop: str) -> tuple[Finding, ...]:
        """The findings of a stop as far as they are known."""
        results = self.results()
        if results is None:
            return ()
        return stop_of(stop).findings(as_wanted(results) if self.judging.as_wanted else results)

    def looks(self) -> list[bytes]:
        """Pictures of the candidate draws, as far as they are there; asks for them when they are not."""
        results = self.results()
        return (
            [] if results is None or results.draw is None else self._looks.get(keys(results.job)[DRAW.id], results.job)
        )

    def sheets(self) -> tuple[SheetPage, ...]:
        """The sheets of the templates, as far as they are there; asks for them when they are not."""
        results = self.results()
        if results is None or results.pattern is None:
            return ()
        return self._sheets.get(keys(results.job)[PATTERN.id], results.job)
