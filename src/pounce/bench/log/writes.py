"""What is written into the logbook, in a thread of its own: a disk that is slow stops no window."""

from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from functools import partial
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from pounce.base.errors import UserFault
from pounce.base.log import note_fault
from pounce.logbook.keeping import book_file
from pounce.logbook.values import Event, Line, Photo, Pour
from pounce.route import entry


class Writes(QObject):
    """One thing after the other; ``fault`` says in a sentence what could not be done."""

    fault = pyqtSignal(str)
    _done = pyqtSignal(object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._thread = ThreadPoolExecutor(1, "logbook")
        self._closed = False
        self._done.connect(lambda answer: answer())

    def do(self, work: Callable[[], Any], then: Callable[[Any], object] | None = None) -> None:
        """Does something in the thread; what comes after it, with its answer, in the window's own."""

        def came(future: "Future[Any]") -> None:
            self._done.emit(partial(self._answer, future, then))

        self._thread.submit(work).add_done_callback(came)

    def close(self) -> None:
        """What is being written is written first; nobody is there any more who hears that it was."""
        self._thread.shutdown(wait=True)
        self._closed = True

    def _answer(self, future: "Future[Any]", then: Callable[[Any], object] | None) -> None:
        try:
            answer = future.result()
        except UserFault as fault:
            if self._closed:
                note_fault("logbook", fault)
            else:
                self.fault.emit(str(fault))
            return
        if then is not None and not self._closed:
            then(answer)


# The logbook's library takes its time to load: in the thread, when something is first written.


def put(pour: Pour, moulds: int) -> None:
    """Keeps an entry."""
    from pounce.logbook.book import Book  # noqa: PLC0415

    with Book() as book:
        entry.keep(book, pour, moulds)


def drop(pour_id: str) -> None:
    """Takes an entry out."""
    from pounce.logbook.book import Book  # noqa: PLC0415

    with Book() as book:
        book.drop(pour_id)


def attach(paths: list[Path]) -> tuple[Photo, ...]:
    """Keeps photos."""
    from pounce.logbook.book import Book  # noqa: PLC0415

    with Book() as book:
        return tuple(book.attach(one) for one in paths)


def export(path: Path) -> int:
    """Writes the book into a file; how many pours."""
    from pounce.logbook.book import Book  # noqa: PLC0415
    from pounce.logbook.carry import write  # noqa: PLC0415

    with Book() as book:
        return write(book, path)


def take_in(path: Path) -> int:
    """Takes a book in; how many pours."""
    from pounce.logbook import carry  # noqa: PLC0415
    from pounce.logbook.book import Book  # noqa: PLC0415

    with Book() as book:
        return carry.take_in(book, path)


def note(event: Event) -> None:
    """Something was done to a pattern."""
    from pounce.logbook.book import Book  # noqa: PLC0415

    with Book() as book:
        book.note(event)


def stands() -> dict[str, tuple[int, Line]]:
    """How often each job was poured, and its last pour; nothing where there is no book yet."""
    if not book_file().exists():
        return {}
    from pounce.logbook.book import Book  # noqa: PLC0415

    with Book() as book:
        return book.stands()
