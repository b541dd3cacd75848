"""The desktop as every journey has it, and its processes, begun from one that has loaded what they use."""

import multiprocessing
import os
from collections.abc import Iterator
from multiprocessing.context import ForkServerProcess
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QEvent
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from pounce.bench import launch
from pounce.bench.app import Session
from pounce.bench.look.style import dress
from pounce.bench.settings import Settings
from tests.journeys import loaded

# Some hundred windows of the suite would each load the libraries of two processes for two seconds. The tests marked
# ``alone`` begin them as a user's desktop does.
FORKS = multiprocessing.get_context("forkserver")
FORKS.set_forkserver_preload([loaded.__name__])


@pytest.fixture(autouse=True)
def quick_processes(request: pytest.FixtureRequest, monkeypatch: pytest.MonkeyPatch) -> None:
    """Worker and render server are forked from a process that has loaded both; each sees this test's environment."""
    if request.node.get_closest_marker("alone"):
        return

    def process(module: str, *arguments: Any) -> ForkServerProcess:
        name = module.removeprefix("pounce.bench.").replace(".", "-")
        words = (dict(os.environ), module, *arguments)
        return FORKS.Process(target=loaded.enter, args=words, name=f"pounce-{name}", daemon=True)

    monkeypatch.setattr(launch, "_process", process)


@pytest.fixture
def session(
    qtbot: QtBot,  # noqa: ARG001  torn down after the session
    qapp: QApplication,
    tmp_path: Path,
) -> Iterator[Session]:
    """A desktop of its own, closed again; no process, timer or folder may be left."""
    dress(qapp)
    made = Session(Settings(tmp_path / "settings"))
    made.window.show()
    yield made
    made.close()
    assert not made.folder.exists()
    assert not made.worker._process.is_alive()
    assert not made.client._process.is_alive()
    made.window.deleteLater()
    qapp.sendPostedEvents(made.window, QEvent.Type.DeferredDelete.value)
