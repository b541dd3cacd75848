"""Work beside this process, on another core: a fork has all that is known here, and hands its answer back through
memory that both see.

The solid library holds the interpreter while it works, so threads would only take turns.
"""

import faulthandler
import mmap
import os
import resource
import signal
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any, Generic, NoReturn, TypeVar, cast

from pounce.base.dying import die_with_parent
from pounce.base.log import note, note_fault
from pounce.base.packing import pack_into, unpacked
from pounce.base.progress import Progress

Answer = TypeVar("Answer")
# The fork may take so many s after it is waited for, and so many times as long as it has worked by then.
LEAST_S, TIMES = 30.0, 6.0
POLL_S = 0.004
# Memory that must be free beside what this process holds, bytes.
SPARE_BYTES = 256 << 20


class Lost(Exception):
    """The fork ended without an answer: what it was to do has to be done here."""


def second_core() -> bool:
    """Whether there is a core, and memory, for a second process as large as this one. ``POUNCE_BESIDE=0`` says no."""
    if os.environ.get("POUNCE_BESIDE") == "0" or len(os.sched_getaffinity(0)) < 2:
        return False
    held = int(Path("/proc/self/statm").read_text().split()[1]) * resource.getpagesize()
    lines = Path("/proc/meminfo").read_text().splitlines()
    free = next((int(line.split()[1]) * 1024 for line in lines if line.startswith("MemAvailable:")), 0)
    return free > held + SPARE_BYTES


class Beside(Generic[Answer]):
    """One piece of work in a fork, begun at once. A context: what was not waited for by its end is ended. OSError
    where the system gives no process.
    """

    def __init__(self, work: Callable[[], Answer]) -> None:
        self._shared, self._began = os.memfd_create("pounce-beside"), time.monotonic()
        try:
            self._child = os.fork()
        except OSError:
            os.close(self._shared)
            raise
        if not self._child:
            _work(work, self._shared)

    def __enter__(self) -> "Beside[Answer]":
        return self

    def __exit__(self, *_: object) -> None:
        if self._child:
            os.kill(self._child, signal.SIGKILL)
            os.waitpid(self._child, 0)
            self._child = 0
        if self._shared >= 0:
            os.close(self._shared)
            self._shared = -1

    def answer(self, progress: Progress, doing: str) -> Answer:
        """What came of it, waited for. Lost where it ended without an answer; Cancelled passes through."""
        waits = time.monotonic()
        most = LEAST_S + TIMES * (waits - self._began)
        progress(0.0, doing)
        while not (done := os.waitpid(self._child, os.WNOHANG))[0]:
            passed = time.monotonic() - waits
            if passed > most:
                note(f"work beside took longer than {most:.0f} s")
                raise Lost
            progress(passed / most, "")  # whether it is cancelled: said once is enough
            time.sleep(POLL_S)
        self._child = 0
        code = os.waitstatus_to_exitcode(done[1])
        if code or not os.fstat(self._shared).st_size:
            note(f"work beside ended by itself ({code})")
            raise Lost
        seen = mmap.mmap(self._shared, 0, access=mmap.ACCESS_READ)
        return cast(Answer, unpacked(memoryview(seen)))


class Task(Generic[Answer]):
    """Another process that does some work, if any, while this one does other work: ``there`` is done in it and
    ``heard`` makes of what it tells what ``here`` would have come to. A context: what nobody waits for is ended.
    """

    def __init__(
        self,
        here: Callable[[Progress], Answer] | None,
        there: Callable[[], Any] | None,
        heard: Callable[[Any, Progress], Answer],
        doing: str,
    ) -> None:
        self._here, self._heard, self._doing = here, heard, doing
        self._there: Beside[Any] | None = None
        if there is not None:
            try:
                self._there = Beside(there)
            except OSError:
                note("no second process: its part is done afterwards")

    @property
    def busy(self) -> bool:
        """Whether it has something to do."""
        return self._here is not None

    def __enter__(self) -> "Task[Answer]":
        return self

    def __exit__(self, *_: object) -> None:
        if self._there is not None:
            self._there.__exit__()

    def answer(self, progress: Progress) -> Answer:
        """What came of it; done here where the other process was lost."""
        assert self._here is not None
        if self._there is not None:
            try:
                told = self._there.answer(progress, self._doing)
            except Lost:
                note("the other process is lost: its part is done here")
            else:
                return self._heard(told, progress)
        return self._here(progress)


def _work(work: Callable[[], object], shared: int) -> NoReturn:
    """The fork: never returns, and never runs what its parent would run at its end."""
    code = 1
    try:
        die_with_parent()
        faulthandler.disable()
        for number in (signal.SIGTERM, signal.SIGINT):
            signal.signal(number, signal.SIG_DFL)
        with os.fdopen(os.dup(shared), "wb") as stream:
            pack_into(stream, work())
        code = 0
    except Exception as error:  # noqa: BLE001  the parent does the work itself then, and meets it
        note_fault("beside", error)
    finally:
        os._exit(code)
