"""Unsaved work is put aside in the user's data, where the shelf finds it again: a power cut costs seconds.

The edits alone are written by a thread that waits for nobody; the copy with the part in it by the worker, when it is
free.
"""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from pounce.bench.settings import Settings
from pounce.bench.workerclient import WorkerClient
from pounce.job.history import History
from pounce.job.job import Job
from pounce.job.unsaved import edits_file, write_edits

# The copy is written this long after the hands rest; the edits this long after the first that is not kept, rest or not.
ASIDE_MS, EDITS_MS = 3000, 1500


class Aside(QObject):
    """Copies of the job on the bench that no file of the user's holds."""

    # edits could not be kept: in words
    failed = pyqtSignal(str)

    def __init__(
        self,
        worker: WorkerClient,
        settings: Settings,
        history: Callable[[], History | None],
        said: Callable[[str], None],
        shelf_changed: Callable[[], None],
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self._worker, self._settings, self._history, self._said, self._shelf = (
            worker,
            settings,
            history,
            said,
            shelf_changed,
        )
        # the job that the copy put aside holds
        self.holds: Job | None = None
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(ASIDE_MS)
        self._later.timeout.connect(self.put)
        # the file that the part on the bench was opened from
        self.source: Path | None = None
        # the copy that the shelf knows of
        self._known: Path | None = None
        # one thread, so that the last edits are the last written
        self._writer = ThreadPoolExecutor(1, "edits")
        self._edits_soon = QTimer(self)
        self._edits_soon.setSingleShot(True)
        self._edits_soon.setInterval(EDITS_MS)
        self._edits_soon.timeout.connect(self.keep_edits)
        self.failed.connect(said)

    def soon(self) -> None:
        """Puts the job aside when the hands rest, and its edits anyway."""
        self._later.start()
        if not self._edits_soon.isActive():
            self._edits_soon.start()

    def keep_edits(self) -> None:
        """Writes the edits beside the copy, by a thread: it waits for neither the worker nor the disk."""
        self._edits_soon.stop()
        history = self._history()
        if history is not None and history.job == self.holds and history.job.part.model:
            # undone to what the copy holds: later edits must not stand before it
            self._writer.submit(edits_file(self._settings.aside_file(history.job.part.model)).unlink, missing_ok=True)
        if not self.unsaved or history is None:
            return
        job, source, target = history.job, self.source, self._settings.aside_file(history.job.part.model)
        if self._known != target:
            self._known = target
            self._settings.remember(target, f"{job.name} (unsaved)", folder=False)

        def write() -> None:
            try:
                write_edits(target, job, source)
            except OSError as error:
                # older edits would stand before a newer copy
                edits_file(target).unlink(missing_ok=True)
                self.failed.emit(f"The edits could not be put aside ({error.strerror}): save the job yourself.")

        self._writer.submit(write)

    def finish(self) -> None:
        """Waits until what is under way is on the disk; nothing more is taken on."""
        self._later.stop()
        self._edits_soon.stop()
        self._writer.shutdown(wait=True)

    @property
    def unsaved(self) -> bool:
        """Whether there are edits that neither the job's file nor the copy put aside holds."""
        history = self._history()
        if history is None or not history.dirty or not history.job.part.model:
            return False
        return (bool(history.before) or history.saved is not None) and history.job != self.holds

    def put(self) -> None:
        """Keeps a copy of an unsaved job in the user's data."""
        self._later.stop()
        history = self._history()
        if not self.unsaved or history is None:
            return
        self.keep_edits()
        job = self.holds = history.job
        target = self._settings.aside_file(job.part.model)
        self._worker.ask(
            "save",
            job,
            str(target),
            quiet=True,
            on_answer=lambda _: self._kept(target, job),
            on_fault=lambda what, _: self._lost(what),
        )

    def drop(self, job: Job) -> None:
        """The job is saved: no copy of it is wanted."""
        if job.part.model:
            target = self._settings.aside_file(job.part.model)
            for one in (target, edits_file(target)):
                self._writer.submit(one.unlink, missing_ok=True)

    def _lost(self, what: str) -> None:
        """No copy was written: the job still counts as unsaved."""
        self.holds = None
        self._said(what)

    def _kept(self, target: Path, job: Job) -> None:
        self._settings.remember(target, f"{job.name} (unsaved)", folder=False)
        history = self._history()
        if history is None or history.job == job or history.job.part.model != job.part.model:
            # the copy holds all that the edits do
            self._writer.submit(edits_file(target).unlink, missing_ok=True)
        self._shelf()
