"""Starting a process of ours by name, so that the window need not load what only that process uses."""

import argparse
import importlib
import multiprocessing
import os
from dataclasses import dataclass
from multiprocessing.connection import Connection
from multiprocessing.context import SpawnProcess
from pathlib import Path
from typing import Any

from pounce.bench.wire import session_folder
from pounce.logbook.keeping import NAMED
from pounce.route.demos import demo_book

NICE = 8
CONTEXT = multiprocessing.get_context("spawn")


@dataclass
class Begun:
    """A process of ours and the window's end of its link; ``stopped`` is the number of the last ticket cancelled."""

    link: Connection
    stopped: Any
    process: SpawnProcess


@dataclass
class Start:
    """What was asked for on the command line, the session's folder, and the processes that are on their way."""

    file: Path | None
    demo: bool
    pictures: Path | None
    folder: Path
    worker: Begun
    view: Begun


def worker(folder: Path) -> Begun:
    """Starts a worker."""
    ours, theirs = CONTEXT.Pipe()
    stopped = CONTEXT.Value("q", 0)
    return _begun(Begun(ours, stopped, _process("pounce.bench.worker", theirs, stopped, str(folder))), theirs)


def view(folder: Path) -> Begun:
    """Starts a render server."""
    ours, theirs = CONTEXT.Pipe()
    return _begun(Begun(ours, None, _process("pounce.bench.view3d.server", theirs, str(folder))), theirs)


def _process(module: str, *arguments: Any) -> SpawnProcess:
    name = module.removeprefix("pounce.bench.").replace(".", "-")
    return CONTEXT.Process(target=enter, args=(module, *arguments), name=f"pounce-{name}", daemon=True)


def _begun(begun: Begun, theirs: Connection) -> Begun:
    begun.process.start()
    theirs.close()
    return begun


def begin() -> Start:
    """Reads the command line and starts both processes. Done before the window's own libraries are loaded: the three
    load side by side.
    """
    parser = argparse.ArgumentParser(prog="pounce open")
    parser.add_argument("file", nargs="?", type=Path)
    parser.add_argument("--demo", action="store_true")
    parser.add_argument("--pictures", type=Path)
    given = parser.parse_args()
    if given.demo:  # the demo's season stays out of the user's own book
        os.environ.setdefault(NAMED, str(demo_book()))
    folder = session_folder()
    return Start(given.file, given.demo, given.pictures, folder, worker(folder), view(folder))


def enter(module: str, *arguments: Any) -> None:
    """Imports the module in the new process and calls its ``main``.

    Such a process stands back a little when the processor is short: the window's hands come first.
    """
    os.nice(NICE)
    importlib.import_module(module).main(*arguments)
