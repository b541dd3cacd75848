"""Reads a meter or a scale on a serial line in a thread of its own; a lost line says so and is looked for again."""

import glob
import os
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

import serial
from serial.tools import list_ports

from pounce.pour.meter import Sample, sample_of

BAUD, SILENT_S, AGAIN_S, LONGEST = 9600, 4.0, 1.0, 80


class Line(StrEnum):
    """How the line stands."""

    OPENING = "opening"
    READING = "reading"
    SILENT = "silent"
    LOST = "lost"
    CLOSED = "closed"


@dataclass(frozen=True)
class Port:
    """A serial line that is there: its path and what it calls itself."""

    path: str
    name: str


def ports() -> tuple[Port, ...]:
    """Serial lines of this machine that something is plugged into."""
    found = [one for one in sorted(list_ports.comports()) if one.hwid not in ("", "n/a")]
    return tuple(Port(one.device, one.description or one.device) for one in found)


def standin_ports(marks: str) -> tuple[Port, ...]:
    """Stand-ins that another `pounce devices --simulate` has opened, by the marks it left in a folder."""
    out = []
    for path in sorted(glob.glob(f"{marks}/*.port")):
        try:
            with open(path, encoding="utf-8") as mark:
                port, _, name = mark.read().strip().partition(" ")
        except OSError:
            continue
        if os.path.exists(port):  # one that was killed left its mark
            out.append(Port(port, name))
    return tuple(out)


class Reader:
    """Reads one line until it is closed. ``took`` gets each figure with its time (s, by ``clock``), ``told`` how the
    line stands; both are called from the reader's thread.
    """

    def __init__(
        self,
        port: str,
        took: Callable[[float, Sample], None],
        told: Callable[[Line], None],
        baud: int = BAUD,
        silent_s: float = SILENT_S,
        clock: Callable[[], float] = time.monotonic,
    ) -> None:
        self.port, self.garbled = port, 0
        self._took, self._told, self._baud, self._silent_s = took, told, baud, silent_s
        self._clock = clock
        self._stop = threading.Event()
        self._state = Line.CLOSED
        self._thread = threading.Thread(target=self._run, name="meter", daemon=True)
        self._thread.start()

    def close(self) -> None:
        """Lets the line go."""
        self._stop.set()
        if threading.current_thread() is not self._thread:
            self._thread.join(2.0)

    def _tell(self, state: Line) -> None:
        if state is not self._state:
            self._state = state
            self._told(state)

    def _run(self) -> None:
        self._tell(Line.OPENING)
        while not self._stop.is_set():
            try:
                with serial.Serial(self.port, self._baud, timeout=0.25) as line:
                    self._read(line)
            except (serial.SerialException, OSError):
                # unplugged, or not there yet: it says so and looks again, and hand entry goes on meanwhile
                self._tell(Line.LOST)
                self._stop.wait(AGAIN_S)
        self._tell(Line.CLOSED)

    def _read(self, line: serial.Serial) -> None:
        line.reset_input_buffer()  # what was said before anybody listened has no time
        heard, rest = time.monotonic(), b""
        while not self._stop.is_set():
            rest += line.read(LONGEST)
            *whole, rest = rest.replace(b"\r", b"\n").split(b"\n")
            rest = rest[-LONGEST:]
            for one in whole:
                if not one.strip():
                    continue
                found = sample_of(one.decode("ascii", "replace"))
                if found is None:
                    self.garbled += 1
                    continue
                heard = time.monotonic()
                self._tell(Line.READING)
                self._took(self._clock(), found)
            if time.monotonic() - heard > self._silent_s:
                self._tell(Line.SILENT)
