"""The window's side of the render server: a server that dies is replaced, and one that cannot draw a scene says so."""

import os
import signal
from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtGui import QImage
from pytestqt.qtbot import QtBot

from pounce.base import log
from pounce.bench.view3d.asks import SceneAsked
from pounce.bench.view3d.camera import Camera
from pounce.bench.view3d.client import RenderClient
from tests.waits import LONG

EMPTY = SceneAsked("part")


@pytest.fixture
def client(
    qtbot: QtBot,  # noqa: ARG001  torn down after the client
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> Iterator[RenderClient]:
    """A render server of its own, with a log of its own; none of its processes may be left."""
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    made = RenderClient(tmp_path)
    yield made
    made.shutdown()
    assert not any(process.is_alive() for process in (*made._gone, made._process))


def frame_of(qtbot: QtBot, client: RenderClient) -> QImage:
    """Asks for a frame and waits for it."""
    with qtbot.waitSignal(client.framed, timeout=LONG) as drawn:
        client.frame(Camera(), 64, 48, False, -1)
    return drawn.args[0]


def test_a_server_that_is_killed_is_replaced_and_draws_the_same(qtbot: QtBot, client: RenderClient) -> None:
    client.scene(EMPTY)
    before = frame_of(qtbot, client)
    first = client._process.pid
    assert first is not None
    os.kill(first, signal.SIGKILL)
    assert frame_of(qtbot, client) == before
    assert client._process.pid != first


def test_a_frame_under_way_is_drawn_by_the_next_server(qtbot: QtBot, client: RenderClient) -> None:
    client.scene(EMPTY)
    frame_of(qtbot, client)
    os.kill(client._process.pid or 0, signal.SIGSTOP)
    with qtbot.waitSignal(client.framed, timeout=LONG):
        client.frame(Camera(), 64, 48, False, -1)
        os.kill(client._process.pid or 0, signal.SIGKILL)


def test_a_scene_that_cannot_be_drawn_is_said_and_the_next_one_is_drawn(
    qtbot: QtBot, client: RenderClient, tmp_path: Path
) -> None:
    client.scene(EMPTY)
    frame_of(qtbot, client)
    with qtbot.waitSignal(client.sorry, timeout=LONG) as said:
        client.scene(SceneAsked("part", str(tmp_path / "gone")))
    assert "FileNotFoundError" in said.args[0]
    assert "FileNotFoundError" in log.log_file().read_text()
    client.scene(EMPTY)
    assert frame_of(qtbot, client).width() == 64
