"""Unsaved work is put aside in the user's data, where the shelf finds it again: a power cut costs seconds."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer

from pounce.bench.settings import Settings
from pounce.bench.workerclient import WorkerClient
from pounce.job.history import History
from pounce.job.job import Job

# An edit is put aside this long after the hands rest.
ASIDE_MS = 3000


class Aside(QObject):
    """Copies of the job on the bench that no file of the user's holds."""

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

    def soon(self) -> None:
        """Puts the job aside when the hands rest."""
        self._later.start()

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
            self._settings.aside_file(job.part.model).unlink(missing_ok=True)

    def _lost(self, what: str) -> None:
        """No copy was written: the job still counts as unsaved."""
        self.holds = None
        self._said(what)

    def _kept(self, target: Path, job: Job) -> None:
        self._settings.remember(target, f"{job.name} (unsaved)", folder=False)
        self._shelf()
