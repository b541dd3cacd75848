"""Entering a process of ours by name, so that the window need not load what only that process uses."""

import importlib
from typing import Any


def enter(module: str, *arguments: Any) -> None:
    """Imports the module in the new process and calls its ``main``."""
    importlib.import_module(module).main(*arguments)
