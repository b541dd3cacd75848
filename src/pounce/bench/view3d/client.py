"""The window's side of the render server: asks for frames and hears of them; never more than one frame under way.

A server that dies is replaced and told again what was on the bench. One that dies again and again over one scene is
left until another scene is asked for.
"""

import contextlib
import mmap
from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QSocketNotifier, pyqtSignal
from PyQt6.QtGui import QImage
from PyQt6.sip import voidptr

from pounce.base.log import note
from pounce.bench import launch
from pounce.bench.launch import Begun
from pounce.bench.view3d.asks import ALL_OF_IT, FrameAsked, PickAsked, SceneAsked, Spot, Tinted, Told
from pounce.bench.view3d.camera import Camera

Picked = Callable[[Spot | None], None]

# A server that dies so often without a frame between will not draw this scene.
MOST_DEATHS = 3
# A killed process is waited for so long, s.
ENDED_S = 10.0


class RenderClient(QObject):
    """One render server for the session."""

    framed = pyqtSignal(QImage, object, int, object)
    sorry = pyqtSignal(str)

    def __init__(self, folder: Path, begun: Begun | None = None, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._folder = folder
        self._maps: dict[int, mmap.mmap] = {}
        self._number = 0
        self._scene = 0
        self._under_way: FrameAsked | None = None
        self._waiting: FrameAsked | None = None
        self._picks: dict[int, Picked] = {}
        self._shown: SceneAsked | None = None
        self._tinted: Tinted | None = None
        self._deaths = 0
        self._drew = False
        self._why = ""
        self._gone: list[Any] = []
        self._start(begun)

    def _start(self, begun: Begun | None = None) -> None:
        begun = begun or launch.view(self._folder)
        self._link, self._process = begun.link, begun.process
        self._alive = True
        self._notifier = QSocketNotifier(voidptr(self._link.fileno()), QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(self._hear)

    def scene(self, asked: SceneAsked) -> None:
        """Shows another scene; ask for a frame to see it."""
        self._scene += 1
        self._shown, self._tinted = asked, None
        if not self._alive and self._drew:  # it gave up on a scene before this one
            self._deaths = 0
            self._start()
        self._send("scene", asked)

    @property
    def scene_number(self) -> int:
        """Which scene was asked for last."""
        return self._scene

    def tint(self, tinted: Tinted | None) -> None:
        """Shows live states on the part, or the judged ones again."""
        self._tinted = tinted
        self._send("tint", tinted)

    def frame(
        self,
        camera: Camera,
        width: int,
        height: int,
        moving: bool,
        lit: int,
        lift: float = 0.0,
        drawn: float = 0.0,
        told: Told = ALL_OF_IT,
    ) -> None:
        """Asks for a frame; while one is under way only the newest ask is kept."""
        self._number += 1
        asked = FrameAsked(
            self._number, camera, max(width, 16), max(height, 16), moving, lit, self._scene, lift, drawn, told
        )
        if self._under_way is not None:
            self._waiting = asked
        else:
            self._under_way = asked
            self._send("frame", asked)

    def pick(self, camera: Camera, width: int, height: int, x: float, y: float, answer: Picked) -> None:
        """Asks what lies under a pixel."""
        self._number += 1
        self._picks = {self._number: answer}
        self._send("pick", PickAsked(self._number, camera, width, height, x, y))

    def _send(self, kind: str, asked: Any) -> None:
        if not self._alive:
            return
        try:
            self._link.send((kind, asked))
        except OSError:
            self._lost()

    def _hear(self) -> None:
        try:
            while self._alive and self._link.poll():
                self._take(self._link.recv())
        except (EOFError, OSError):
            self._lost()

    def _take(self, message: tuple[Any, ...]) -> None:
        if message[0] == "frame":
            _, _, width, height, slot, camera, scene, anchors = message
            self._deaths, self._drew = 0, True
            self.framed.emit(self._image(slot, width, height), camera, scene, anchors)
            self._under_way, self._waiting = self._waiting, None
            if self._under_way is not None:
                self._send("frame", self._under_way)
        elif message[0] == "picked":
            answer = self._picks.pop(message[1], None)
            if answer is not None:
                answer(message[2])
        else:
            self._why = str(message[1])

    def _image(self, slot: int, width: int, height: int) -> QImage:
        needed = width * height * 4
        if slot not in self._maps or len(self._maps[slot]) < needed:
            with (self._folder / f"frame-{slot}.bin").open("rb") as stream:
                self._maps[slot] = mmap.mmap(stream.fileno(), 0, access=mmap.ACCESS_READ)
        data = self._maps[slot][:needed]
        return QImage(data, width, height, 4 * width, QImage.Format.Format_RGBA8888).copy()

    def _lost(self) -> None:
        """A server is gone: another one, told what was shown last, or a sentence when that does not help."""
        if not self._alive:
            return
        self._deaths += 1
        why = self._why or "the render process ended"
        note(f"render: {why}; death {self._deaths} in a row")
        self._put_away()
        if self._deaths > MOST_DEATHS:
            self._under_way, self._waiting = None, None
            self.sorry.emit(why)
            return
        again, self._under_way, self._waiting, self._why = self._waiting or self._under_way, None, None, ""
        self._start()
        if self._shown is not None:
            self._send("scene", self._shown)
        if self._tinted is not None:
            self._send("tint", self._tinted)
        if again is not None:
            self._under_way = again
            self._send("frame", again)

    def _put_away(self) -> None:
        """Ends the server without waiting for it; nobody hears of what was pointed at."""
        self._alive = False
        self._notifier.setEnabled(False)
        self._notifier.deleteLater()
        self._process.kill()
        self._gone = [process for process in self._gone if process.is_alive()]
        self._gone.append(self._process)
        with contextlib.suppress(OSError):
            self._link.close()
        self._maps.clear()
        picks, self._picks = self._picks, {}
        for answer in picks.values():
            answer(None)

    def shutdown(self) -> None:
        """Ends the render process."""
        if self._alive:
            self._alive = False
            with contextlib.suppress(OSError):
                self._link.send(("close",))
            self._notifier.setEnabled(False)
            self._process.join(1.0)
            if self._process.is_alive():
                self._process.kill()
                # killed, it ends as soon as the system has taken its memory back: on a busy machine that takes a while
                self._process.join(ENDED_S)
            with contextlib.suppress(OSError):
                self._link.close()
        for process in self._gone:
            process.join(ENDED_S)
