"""The window's side of the worker: asks, hears, cancels, and starts a new worker when one dies."""

import contextlib
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QSocketNotifier, QTimer, pyqtSignal
from PyQt6.sip import voidptr

from pounce.bench import launch
from pounce.bench.launch import Begun

# A worker that has not answered a cancel by then is ended: cancel must answer within half a second.
PATIENCE_MS = 400
# A worker that dies so often without a word will not come up at all.
MOST_DEATHS = 3
# A killed process is waited for so long, s.
ENDED_S = 10.0


@dataclass
class Request:
    """Something asked of the worker. ``on_answer`` gets the answer; ``on_result`` each stop's result, ``on_early`` a
    rougher one that comes before it; ``on_cancel`` is called when it was cancelled. One that ``yields`` is cancelled as
    soon as anything else that the user should see is asked: it is long, and can be asked again.
    """

    ticket: int
    verb: str
    arguments: tuple[Any, ...]
    text: str
    on_answer: Callable[[Any], None] | None = None
    on_result: Callable[..., None] | None = None
    on_early: Callable[..., None] | None = None
    on_fault: Callable[[str, str], None] | None = None
    on_stop_fault: Callable[..., None] | None = None
    on_cancel: Callable[[], None] | None = None
    quiet: bool = False
    yields: bool = False
    cancelled: bool = False
    notes: dict[str, Any] = field(default_factory=dict)


class WorkerClient(QObject):
    """One worker process and the queue of what is asked of it."""

    progress = pyqtSignal(float, str)
    idle = pyqtSignal()
    trouble = pyqtSignal(str)

    def __init__(self, folder: Path, begun: Begun | None = None, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._folder = folder
        self._ticket = 0
        self._queue: list[Request] = []
        self._current: Request | None = None
        self._closing = False
        self._deaths = 0
        self._gone: list[Any] = []
        self._patience = QTimer(self)
        self._patience.setSingleShot(True)
        self._patience.timeout.connect(self._lose_patience)
        self._start(begun)

    def _start(self, begun: Begun | None = None) -> None:
        begun = begun or launch.worker(self._folder)
        self._link, self._stopped, self._process = begun.link, begun.stopped, begun.process
        self._notifier = QSocketNotifier(voidptr(self._link.fileno()), QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(self._hear)

    @property
    def busy(self) -> bool:
        """Whether something the user should see is running."""
        return self._current is not None and not self._current.quiet

    def ask(self, verb: str, *arguments: Any, text: str = "", **answers: Any) -> Request:
        """Queues a request; ``answers`` the fields of :class:`Request` that say what is done with what it answers."""
        self._ticket += 1
        request = Request(self._ticket, verb, arguments, text, **answers)
        self._queue.append(request)
        if self._current is not None and self._current.yields and not request.quiet:
            self.cancel(self._current)
        self._next()
        return request

    def replace(self, verb: str, *arguments: Any, **answers: Any) -> Request:
        """Like :meth:`ask`, but what was asked of this verb before is dropped or cancelled: only the newest counts.

        A quiet request under way is short: it is left to end, since ending a worker costs more than its answer.
        """
        self._queue = [request for request in self._queue if request.verb != verb]
        if self._current is not None and self._current.verb == verb and not self._current.quiet:
            self.cancel(self._current)
        return self.ask(verb, *arguments, **answers)

    def cancel(self, request: Request | None = None) -> None:
        """Cancels what runs and waits (all that the user sees when no request is named); late answers are dropped.

        A job on its way to the disk is short and is never stopped unless it is named: who presses Esc or closes the
        window means the work, not what keeps it.
        """
        waiting = [one for one in self._queue if (one is request if request is not None else not one.quiet)]
        self._queue = [one for one in self._queue if one not in waiting]
        current = self._current if request is None or request is self._current else None
        if request is None and current is not None and current.verb == "save":
            current = None
        for one in [*waiting, *([current] if current is not None and not current.cancelled else [])]:
            if one.on_cancel is not None:
                one.on_cancel()
        if current is None:
            return
        current.cancelled = True
        self._stopped.value = current.ticket
        self._patience.start(PATIENCE_MS)

    def _next(self) -> None:
        if self._current is not None or not self._queue or self._closing:
            return
        self._current = self._queue.pop(0)
        try:
            self._link.send((self._current.ticket, self._current.verb, self._current.arguments))
        except OSError:
            self._died()
            return
        if not self._current.quiet:
            self.progress.emit(0.0, self._current.text)

    def _hear(self) -> None:
        try:
            while self._link.poll():
                self._take(self._link.recv())
        except (EOFError, OSError):
            self._died()

    def _take(self, message: tuple[Any, ...]) -> None:
        ticket, kind, *content = message
        self._deaths = 0
        request = self._current
        if request is None or request.ticket != ticket:
            return
        if kind == "tick":
            if not request.quiet and not request.cancelled:
                self.progress.emit(*content)
            return
        if not request.cancelled:
            if kind == "result" and request.on_result:
                request.on_result(*content)
            elif kind == "early" and request.on_early:
                request.on_early(*content)
            elif kind == "stop-fault" and request.on_stop_fault:
                request.on_stop_fault(*content)
            elif kind == "answer" and request.on_answer:
                request.on_answer(*content)
            elif kind == "fault":
                self._fault(request, content[0], content[1])
            elif kind == "broken":
                self._fault(
                    request, f"Something went wrong inside ({content[0]}).", "The job is safe. Please report it."
                )
        if kind in ("done", "cancelled", "fault", "broken"):
            self._finish()

    def _fault(self, request: Request, what: str, try_this: str) -> None:
        if request.on_fault:
            request.on_fault(what, try_this)
        else:
            self.trouble.emit(f"{what} {try_this}")

    def _finish(self) -> None:
        self._patience.stop()
        self._current = None
        self._next()
        if not self.busy:
            self.idle.emit()

    def _lose_patience(self) -> None:
        if self._current is not None and self._current.cancelled:
            self._restart()

    def _died(self) -> None:
        if self._closing:
            return
        lost = self._current
        self._deaths += 1
        if self._deaths > MOST_DEATHS:
            self._end_process()
            self._closing, self._current, self._queue = True, None, []
            self.idle.emit()
            self.trouble.emit(
                "The geometry process does not start on this system. Start Pounce from a terminal to see why."
            )
            return
        self._restart()
        if lost is not None and not lost.cancelled:
            self._fault(lost, "The work stopped unexpectedly and was ended.", "The job is safe. Try the step again.")

    def _restart(self) -> None:
        self._patience.stop()
        self._end_process()
        # a large process takes a while to go; it is not waited for here, where hands would feel it
        self._gone = [process for process in self._gone if process.is_alive()]
        self._gone.append(self._process)
        self._current = None
        self._start()
        self._next()
        if not self.busy:
            self.idle.emit()

    def _end_process(self) -> None:
        self._notifier.setEnabled(False)
        self._notifier.deleteLater()
        self._process.kill()
        with contextlib.suppress(OSError):
            self._link.close()

    def finish(self, limit_ms: int) -> None:
        """Hears the worker out on saving, in this call, for so long at most; other quiet requests are dropped."""
        self._queue = [waiting for waiting in self._queue if waiting.verb == "save"]
        until = time.monotonic() + limit_ms / 1000.0
        while (self._queue or self._saving()) and time.monotonic() < until and not self._closing:
            if self._link.poll(0.05):
                self._hear()
            elif not self._process.is_alive():
                self._died()

    def _saving(self) -> bool:
        return self._current is not None and (self._current.verb == "save" or bool(self._queue))

    def shutdown(self) -> None:
        """Ends the worker; nothing more is heard."""
        self._closing = True
        self._patience.stop()
        self._end_process()
        for process in (*self._gone, self._process):
            process.join(ENDED_S)
