"""Progress and cancelling, without a window.

A ``Progress`` is called with the share of the work done (0 to 1) and a short text. It raises
:class:`pounce.base.errors.Cancelled` when the user wants the work to stop, so every call is also a
safe place to leave.
"""

from collections.abc import Callable

Progress = Callable[[float, str], None]


def silent(fraction: float, text: str) -> None:
    """A tick for callers who watch nothing."""


def span(progress: Progress, start: float, end: float) -> Progress:
    """A tick whose 0 to 1 runs from ``start`` to ``end`` of the outer one."""

    def inner(fraction: float, text: str) -> None:
        progress(start + (end - start) * min(max(fraction, 0.0), 1.0), text)

    return inner
