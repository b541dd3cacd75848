"""The desk: the job on the bench, its history, and what is known of it. Everything the window does goes through here."""

import functools
from collections import OrderedDict
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from pounce.base.errors import UserFault
from pounce.base.finding import Finding, Remedy
from pounce.bench.cuts import Cut2D, CutAsked
from pounce.bench.hands import Hands
from pounce.bench.memory import Memory
from pounce.bench.wire import unpack
from pounce.export.sheets import SheetPage
from pounce.job import core_edits, edits, pattern_edits
from pounce.job.edits import Edit
from pounce.job.history import History
from pounce.job.job import Job
from pounce.job.stock_edits import take_any
from pounce.metals.method import MethodChoices, resolve
from pounce.route.keys import keys
from pounce.route.results import Results
from pounce.route.stops import ids, stop_of

# Results at hand, and the shared memory they may take together.
KEPT, KEPT_BYTES = 60, 1_500_000_000
# An edit is put aside this long after the hands rest, so that a power cut costs seconds of work.
ASIDE_MS = 3000


class Desk(QObject):
    """Signals: ``job_changed`` after every edit, ``results_changed`` when a result came or went, ``opened`` a job was put

    on the bench, ``said`` a sentence for the status line, ``fault`` one that needs the eye.
    """

    job_changed = pyqtSignal()
    results_changed = pyqtSignal(str)
    opened = pyqtSignal()
    cut_ready = pyqtSignal(object)
    said = pyqtSignal(str)
    fault = pyqtSignal(str)
    built = pyqtSignal(object, str)
    shelf_changed = pyqtSignal()
    tilted = pyqtSignal(object)
    mould_ready = pyqtSignal(str)
    looks_ready = pyqtSignal()
    sheets_ready = pyqtSignal()

    def __init__(self, hands: Hands, folder: Path, memory: Memory, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.hands = hands
        self.memory = memory
        self._folder = folder
        self.history: History | None = None
        self.path: Path | None = None
        self.folder = memory.last_folder
        self.unit = memory.unit
        self.source = ""
        self._kept: OrderedDict[str, tuple[Any, str]] = OrderedDict()
        self._faults: dict[str, UserFault] = {}
        self._results: Results | None = None
        self._cut_asked = CutAsked()
        self._looks: tuple[str, list[bytes]] = ("", [])
        self._sheets: tuple[str, tuple[SheetPage, ...]] = ("", ())
        self._aside_job: Job | None = None
        self._aside = QTimer(self)
        self._aside.setSingleShot(True)
        self._aside.setInterval(ASIDE_MS)
        self._aside.timeout.connect(self.put_aside)
        self._cut_later = QTimer(self)
        self._cut_later.setSingleShot(True)
        self._cut_later.setInterval(40)
        self._cut_later.timeout.connect(self._ask_cut)

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

    def remedy(self, remedy: Remedy) -> None:
        """Takes the remedy of a finding."""
        edit = remedy.edit or ""
        if edit.startswith("pattern_"):
            self.edit(pattern_edits.take_pattern, remedy)
        elif edit.startswith(("hollow_", "cores_")):
            self.edit(core_edits.take_any, remedy)
        else:
            self.edit(take_any if edit.startswith("stock_") else edits.take_remedy, remedy)

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
        self._aside.start()
        self.job_changed.emit()
        self.results_changed.emit("")
        self.work()

    # --- opening and keeping -------------------------------------------------------------------------------------

    def open(self, path: Path) -> None:
        """Opens a job or a model; the job on the bench stays until the new one is there, and is put aside unsaved."""
        self.put_aside()
        self.hands.replace("open", str(path), text=f"Reading {path.name}", on_answer=functools.partial(self._opened, path))

    def _opened(self, path: Path, answer: tuple[Job, str, str]) -> None:
        job, source, _ = answer
        is_job = path.suffix.lower() == ".pounce" and path.parent != self.memory.aside_folder
        self.history = History(job, saved=job if is_job else None)
        self.path = path if is_job else None
        self.folder = path.parent
        self.source = source
        self._faults.clear()
        self._results = None
        self._aside_job = job if path.parent == self.memory.aside_folder else None
        self.memory.remember(path, job.name)
        self.shelf_changed.emit()
        self.opened.emit()
        self.job_changed.emit()
        self.results_changed.emit("")
        self.work()

    def measure(self, asked: Any, of_metal: str | None = None) -> None:
        """Opens a new job on a part that is built from its measures."""
        self.put_aside()
        method = MethodChoices(pattern="original-part") if self.job is None else self.job.method
        self.hands.replace(
            "measure", asked, method, of_metal, text="Building the part from its measures", on_answer=self._measured
        )

    def _measured(self, answer: tuple[Job, str, str]) -> None:
        job, source, _ = answer
        # nothing of it is kept anywhere yet: it is put aside like an edited job
        self.history = History(job, saved=Job())
        self.path, self.source, self._aside_job = None, source, None
        self._faults.clear()
        self._results = None
        self.opened.emit()
        self.job_changed.emit()
        self.results_changed.emit("")
        self._aside.start()
        self.work()

    def save(self, path: Path) -> None:
        """Saves the job into this file."""
        if self.history is None:
            return
        job = self.history.job
        self.hands.ask(
            "save", job, str(path), text=f"Saving {path.name}", on_answer=functools.partial(self._saved, job, path)
        )

    def _saved(self, job: Job, path: Path, _: Any) -> None:
        if self.history is not None:
            self.history.saved = job
        self.path = path
        self._drop_aside(job)
        self.memory.remember(path, job.name)
        self.said.emit(f"Saved as {path.name}")
        self.shelf_changed.emit()
        self.job_changed.emit()

    # --- unsaved work --------------------------------------------------------------------------------------------

    @property
    def unsaved(self) -> bool:
        """Whether there are edits that neither the job's file nor the copy put aside holds."""
        if self.history is None or not self.history.dirty or not self.history.job.part.model:
            return False
        touched = bool(self.history.before) or self.history.saved is not None
        return touched and self.history.job != self._aside_job

    def put_aside(self) -> None:
        """Keeps a copy of an unsaved job in the user's data, where the shelf finds it again."""
        self._aside.stop()
        if not self.unsaved or self.history is None:
            return
        job = self.history.job
        self._aside_job = job
        target = self.memory.aside_file(job.part.model)
        self.hands.ask(
            "save", job, str(target), quiet=True,
            on_answer=lambda _: self._remember_aside(target, job), on_fault=lambda what, _: self.said.emit(what),
        )  # fmt: skip

    def _remember_aside(self, target: Path, job: Job) -> None:
        self.memory.remember(target, f"{job.name} (unsaved)", folder=False)
        self.shelf_changed.emit()

    def _drop_aside(self, job: Job) -> None:
        if job.part.model:
            self.memory.aside_file(job.part.model).unlink(missing_ok=True)

    def build(self, out: Path) -> None:
        """Writes all files into the folder."""
        if self.history is not None:
            self.hands.ask(
                "build", self.history.job, str(out), self.unit, text="Building",
                on_answer=lambda manifest: self.built.emit(manifest, str(out)),
            )  # fmt: skip

    def sheet(self, path: Path) -> None:
        """Writes the shop sheet."""
        if self.history is not None:
            self.hands.ask(
                "sheet", self.history.job, str(path), self.unit, text="Drawing the shop sheet",
                on_answer=lambda _: self.said.emit(f"Shop sheet written: {path.name}"),
            )  # fmt: skip

    def set_unit(self, unit: str) -> None:
        """Shows lengths in mm or inches."""
        self.unit = unit
        self.memory.unit = unit
        self.memory.save()
        self.job_changed.emit()
        self.results_changed.emit("")

    # --- results -------------------------------------------------------------------------------------------------

    def work(self) -> None:
        """Asks the worker for what is missing; what is kept is shown at once."""
        job = self.job
        if job is None:
            return
        names = keys(job)
        missing = [stop for stop in ids() if names[stop] not in self._kept and names[stop] not in self._faults]
        if missing:
            self.hands.replace(
                "run", job, text="Looking at the part", on_result=self._result, on_stop_fault=self._stop_fault,
                on_answer=lambda _: self.results_changed.emit("all"),
            )  # fmt: skip
        self.cut(self._cut_asked)

    def _result(self, stop: str, key: str, path: str) -> None:
        self._kept[key] = (unpack(Path(path)), path)
        self._kept.move_to_end(key)
        self._tidy()
        self._results = None
        self.results_changed.emit(stop)

    def _tidy(self) -> None:
        """Lets the oldest results go, those of the current job never."""
        job = self.job
        needed = set() if job is None else set(keys(job).values())
        sizes = {key: Path(path).stat().st_size for key, (_, path) in self._kept.items() if Path(path).exists()}
        for key in [key for key in self._kept if key not in needed]:
            if len(self._kept) <= KEPT and sum(sizes.values()) <= KEPT_BYTES:
                return
            _, old = self._kept.pop(key)
            Path(old).unlink(missing_ok=True)
            sizes.pop(key, None)

    def _stop_fault(self, stop: str, key: str, what: str, try_this: str) -> None:
        self._faults[key] = UserFault(what, try_this)
        self._results = None
        self.results_changed.emit(stop)

    def results(self) -> Results | None:
        """What is known of the current job."""
        job = self.job
        if job is None:
            return None
        if self._results is None or self._results.job != job:
            names = keys(job)
            found = {stop: self._kept[key][0] for stop, key in names.items() if key in self._kept}
            found.setdefault("metal", resolve(job.method))
            faults = {stop: self._faults[key] for stop, key in names.items() if key in self._faults}
            self._results = Results(job, found, faults)
        return self._results

    def paths(self) -> dict[str, str]:
        """Where the packed results of the current job lie, for the render server."""
        job = self.job
        if job is None:
            return {}
        return {stop: self._kept[key][1] for stop, key in keys(job).items() if key in self._kept}

    def findings(self, stop: str) -> tuple[Finding, ...]:
        """The findings of a stop as far as they are known."""
        results = self.results()
        return () if results is None else stop_of(stop).findings(results)

    # --- turning the draw by hand, the trial, pictures of the candidates -------------------------------------------

    def tilt(self, direction: tuple[float, float, float]) -> None:
        """Asks what the part does along this draw; nothing of the job changes until it is let go."""
        if self.job is not None:
            self.hands.replace("live", self.job, direction, quiet=True, on_answer=self.tilted.emit)

    def ask_mould(self, toward: tuple[float, float, float]) -> None:
        """Asks for the blocks of sand of the trial draw."""
        if self.job is not None:
            self.hands.replace(
                "mould", self.job, toward, text="Making the mould for the trial",
                on_answer=lambda path: self.mould_ready.emit(path or ""),
            )  # fmt: skip

    def looks(self) -> list[bytes]:
        """Pictures of the candidate draws, as far as they are there; asks for them when they are not."""
        results = self.results()
        if results is None or results.draw is None or self.job is None:
            return []
        key = keys(self.job)["draw"]
        if self._looks[0] != key:
            self._looks = (key, [])
            self.hands.replace("looks", self.job, quiet=True, on_answer=functools.partial(self._looks_came, key))
        return self._looks[1]

    def _looks_came(self, key: str, pictures: list[bytes]) -> None:
        if self._looks[0] == key:
            self._looks = (key, pictures)
            self.looks_ready.emit()

    def sheets(self) -> tuple[SheetPage, ...]:
        """The sheets of the templates, as far as they are there; asks for them when they are not."""
        results = self.results()
        if results is None or results.pattern is None or self.job is None:
            return ()
        key = keys(self.job)["pattern"]
        if self._sheets[0] != key:
            self._sheets = (key, ())
            self.hands.replace("sheets", self.job, quiet=True, on_answer=functools.partial(self._sheets_came, key))
        return self._sheets[1]

    def _sheets_came(self, key: str, sheets: tuple[SheetPage, ...]) -> None:
        if self._sheets[0] == key:
            self._sheets = (key, sheets)
            self.sheets_ready.emit()

    # --- the section ---------------------------------------------------------------------------------------------

    def cut(self, asked: CutAsked) -> None:
        """Asks for a section; many asks in a row become one."""
        self._cut_asked = asked
        if not self._cut_later.isActive():
            self._cut_later.start()

    @property
    def cut_asked(self) -> CutAsked:
        """The section asked for last."""
        return self._cut_asked

    def _ask_cut(self) -> None:
        job = self.job
        if job is not None:
            self.hands.replace(
                "cut",
                job,
                self._cut_asked,
                quiet=True,
                on_answer=self._cut_came,
                on_fault=lambda *_: self.cut_ready.emit(None),
            )

    def _cut_came(self, cut: Cut2D | None) -> None:
        self.cut_ready.emit(cut)
