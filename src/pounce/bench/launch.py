"""Entering a process of ours by name, so that the window need not load what only that process uses."""

import importlib
import os
from typing import Any

NICE = 8


def enter(module: str, *arguments: Any) -> None:
    """Imports the module in the new process and calls its ``main``.

    Such a process stands back a little when the processor is short: the window's hands come first.
    """
    os.nice(NICE)
    importlib.import_module(module).main(*arguments)
