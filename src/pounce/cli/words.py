"""How the command speaks: results on standard output, messages and progress on standard error."""

import sys
from typing import Any

import msgspec
from rich.console import Console
from rich.progress import BarColumn, TaskProgressColumn, TextColumn
from rich.progress import Progress as Bar

from pounce.base.progress import Progress, silent


def say_json(content: Any) -> None:
    """The content as JSON on standard output."""
    sys.stdout.write(msgspec.json.format(msgspec.json.encode(content), indent=2).decode() + "\n")


class Watch:
    """A progress bar on a terminal's standard error; nothing when it is no terminal or JSON was asked for."""

    def __init__(self, quiet: bool) -> None:
        console = Console(stderr=True)
        self._bar = (
            None
            if quiet or not console.is_terminal
            else Bar(
                TextColumn("{task.description}"), BarColumn(), TaskProgressColumn(), console=console, transient=True
            )
        )
        self.progress: Progress = silent

    def __enter__(self) -> "Watch":
        if self._bar is not None:
            bar = self._bar
            bar.start()
            task = bar.add_task("Starting", total=1.0)

            def progress(fraction: float, text: str) -> None:
                bar.update(task, completed=fraction, description=text or None)

            self.progress = progress
        return self

    def __exit__(self, *_: object) -> None:
        if self._bar is not None:
            self._bar.stop()
