"""Things that are asked of the worker once a state of the job, and the section, which is asked for many times in a
row.
"""

import functools
from collections.abc import Callable
from typing import Generic, TypeVar

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from pounce.bench.workerclient import WorkerClient
from pounce.job.job import Job
from pounce.parting.insection import Cut2D, CutAsked

T = TypeVar("T")
# Many asks for a section within this become one, ms.
SOON_MS = 40


class Once(Generic[T]):
    """What a verb of the worker answers for a key; asked for the first time it is wanted. ``came`` is called when it
    is there.
    """

    def __init__(self, worker: WorkerClient, verb: str, empty: T, came: Callable[[], None]) -> None:
        self._worker, self._verb, self._empty, self._came = worker, verb, empty, came
        self._key, self._answer = "", empty

    def get(self, key: str, job: Job) -> T:
        """The answer, empty while it has not come."""
        if self._key != key:
            self._key, self._answer = key, self._empty
            self._worker.replace(self._verb, job, quiet=True, on_answer=functools.partial(self._take, key))
        return self._answer

    def _take(self, key: str, answer: T) -> None:
        if self._key == key:
            self._answer = answer
            self._came()


class Sections(QObject):
    """The section under the bench. ``ready`` with the cut, or None where it could not be made."""

    ready = pyqtSignal(object)

    def __init__(self, worker: WorkerClient, job: Callable[[], Job | None], parent: QObject) -> None:
        super().__init__(parent)
        self._worker, self._job = worker, job
        self.asked = CutAsked()
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(SOON_MS)
        self._later.timeout.connect(self._ask)

    def cut(self, asked: CutAsked) -> None:
        """Asks for a section; many asks in a row become one."""
        self.asked = asked
        if not self._later.isActive():
            self._later.start()

    def again(self) -> None:
        """Asks for the same section of what has changed."""
        self.cut(self.asked)

    def _ask(self) -> None:
        job = self._job()
        if job is not None:
            self._worker.replace(
                "cut", job, self.asked, quiet=True, on_answer=self._came, on_fault=lambda *_: self.ready.emit(None)
            )

    def _came(self, cut: Cut2D | None) -> None:
        self.ready.emit(cut)
