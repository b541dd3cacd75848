"""The render server: a process that draws frames into shared memory, so that the window never waits for a picture.

In: ``("scene", SceneAsked)``, ``("frame", FrameAsked)``, ``("pick", PickAsked)``, ``("tint", Tinted)``,
``("close",)``. Out: ``("frame", number, width, height, slot, camera, scene, anchors)``, ``("picked", number,
spot)``, ``("sorry", text)``. Only the newest frame asked for is drawn.
"""

import contextlib
import mmap
import signal
import traceback
from multiprocessing.connection import Connection
from pathlib import Path

import numpy as np

from pounce.base.log import note_fault
from pounce.bench.view3d.asks import FrameAsked
from pounce.bench.view3d.painter import Painter

SLOTS = 3


def main(link: Connection, folder: str) -> None:
    """Entry of the render process."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    try:
        _serve(link, Path(folder))
    except (EOFError, BrokenPipeError, ConnectionResetError):  # the window is gone
        return
    except Exception as error:  # noqa: BLE001  the process's outermost handler: it ends, and the window starts another
        traceback.print_exc()
        note_fault("render", error)
        with contextlib.suppress(OSError):
            link.send(("sorry", f"{type(error).__name__}: {error}"))


def _serve(link: Connection, folder: Path) -> None:
    """Draws what is asked for until the window closes."""
    painter = Painter()
    slots: dict[int, mmap.mmap] = {}
    number = 0
    try:
        while True:
            waiting = [link.recv()]
            while link.poll():
                waiting.append(link.recv())
            frames = [message for message in waiting if message[0] == "frame"]
            for message in waiting:
                if message[0] == "close":
                    return
                if message[0] == "scene":
                    painter.show(message[1])
                elif message[0] == "pick":
                    link.send(("picked", message[1].number, painter.pick(message[1])))
                elif message[0] == "tint":
                    painter.tint(message[1])
            if frames:
                asked: FrameAsked = frames[-1][1]
                pixels = painter.frame(asked)
                slot = number % SLOTS
                number += 1
                _into(slots, folder / f"frame-{slot}.bin", slot, pixels)
                link.send(
                    ("frame", asked.number, asked.width, asked.height, slot, asked.camera, asked.scene, painter.anchors)
                )
    finally:
        painter.close()


def _into(slots: dict[int, mmap.mmap], path: Path, slot: int, pixels: np.ndarray) -> None:
    data = pixels.tobytes()
    if slot not in slots or len(slots[slot]) < len(data):
        with path.open("w+b") as stream:
            stream.truncate(max(len(data), 1 << 20))
            slots[slot] = mmap.mmap(stream.fileno(), 0)
    slots[slot][: len(data)] = data
