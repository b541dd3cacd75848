"""Stand-ins for a thermocouple meter, a bench scale and a caliper, on pseudo-terminals: a melt that warms, stalls at
the liquidus and cools when it is lifted; a core that dries until its weight is steady; sizes one after the other. With
noise on the line, dropouts, wrong units and unplugging, on demand.
"""

import math
import os
import pty
import random
import threading
import time
import tty
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import platformdirs

from pounce.metals.heat import heat
from pounce.metals.melt import melt
from pounce.metals.tables import metal

# A core's water goes with this time constant, s; it holds so much of its weight.
DRY_S, WATER = 1800.0, 0.05


@dataclass(frozen=True)
class MeltShape:
    """A melt: the metal, how much (kg), what reaches it (kW), when it is lifted (s; None: never), and Newton's k once
    it is (1/s).
    """

    metal_id: str
    kg: float
    kw: float
    lifted_s: float | None = None
    cools: float = 0.0012

    def at(self, seconds: float) -> float:
        """Its temperature (C): by its heat while it is in the fire, by Newton once it is lifted."""
        if self.lifted_s is not None and seconds > self.lifted_s:
            room = melt().common.room.value
            top = self.at(self.lifted_s)
            return room + (top - room) * math.exp(-self.cools * (seconds - self.lifted_s))
        return self._heated(1000.0 * self.kw * max(seconds, 0.0) / self.kg)

    def _heated(self, joules_kg: float) -> float:
        """Temperature for so much heat: solid, freezing range with most latent heat near the liquidus, liquid."""
        own, alloy, room = heat().metal[self.metal_id], metal(self.metal_id), melt().common.room.value
        solidus, liquidus = alloy.solidus.value, alloy.liquidus.value
        left = joules_kg - own.solid_heat.value * (solidus - room)
        if left <= 0.0:
            return room + joules_kg / own.solid_heat.value
        latent = 1000.0 * own.latent.value
        if left <= latent:
            # the last half of the melting lies within a few degrees of the liquidus
            return solidus + (liquidus - solidus) * math.sqrt(min(1.0, 2.0 * left / latent))
        return liquidus + (left - latent) / own.liquid_heat.value


@dataclass(frozen=True)
class CoreShape:
    """A core that dries: its weight damp, g."""

    grams: float = 640.0

    def at(self, seconds: float) -> float:
        """Its weight, g."""
        return self.grams * (1.0 - WATER + WATER * math.exp(-seconds / DRY_S))


@dataclass(frozen=True)
class CaliperShape:
    """A caliper whose button is pressed every ``every_s``: it says these sizes, mm, one after the other."""

    sizes_mm: tuple[float, ...] = (119.9, 79.9, 56.2, 22.0)
    every_s: float = 4.0

    def at(self, seconds: float) -> float:
        """What it is shut on, mm."""
        return self.sizes_mm[int(max(seconds, 0.0) / self.every_s) % len(self.sizes_mm)]

    def press(self, seconds: float) -> int:
        """How often its button was pressed by then."""
        return int(max(seconds, 0.0) / self.every_s)


@dataclass
class Manners:
    """How badly the line behaves: share of lines garbled, left out, and in another unit; a seed makes it repeatable."""

    garbled: float = 0.0
    dropped: float = 0.0
    other_unit: float = 0.0
    seed: int = 1


class StandIn:
    """A pseudo-terminal that says lines like a meter at ``hertz``; its clock runs ``speed`` times as fast."""

    def __init__(
        self,
        shape: MeltShape | CoreShape | CaliperShape,
        hertz: float = 2.0,
        speed: float = 1.0,
        manners: Manners | None = None,
        clock: Callable[[], float] = time.monotonic,
    ) -> None:
        self.shape, self.manners = shape, manners or Manners()
        self._hertz, self._speed, self._clock = hertz, speed, clock
        self._random = random.Random(self.manners.seed)
        self._ours, self._theirs = pty.openpty()
        tty.setraw(self._theirs)
        os.set_blocking(self._ours, False)
        self.port = os.ttyname(self._theirs)
        self._stop, self._pressed = threading.Event(), 0
        self._begun = clock()
        self._thread = threading.Thread(target=self._say, name="stand-in", daemon=True)
        self._thread.start()

    @property
    def seconds(self) -> float:
        """Its own time, s."""
        return (self._clock() - self._begun) * self._speed

    def lift(self) -> None:
        """The crucible is lifted now."""
        if isinstance(self.shape, MeltShape):
            self.shape = MeltShape(self.shape.metal_id, self.shape.kg, self.shape.kw, self.seconds, self.shape.cools)

    def unplug(self) -> None:
        """The line goes dead."""
        if self._stop.is_set():
            return
        self._stop.set()
        self._thread.join(2.0)
        for end in (self._theirs, self._ours):
            os.close(end)

    def _say(self) -> None:
        while not self._stop.wait(1.0 / self._hertz):
            try:
                os.write(self._ours, self._line().encode())
            except (BlockingIOError, OSError):
                continue  # nobody reads: a meter does not mind

    def _line(self) -> str:
        m, pick = self.manners, self._random.random()
        value = self.shape.at(self.seconds)
        if pick < m.dropped:
            return ""
        if isinstance(self.shape, CaliperShape):
            pressed = self.shape.press(self.seconds)
            if pressed == self._pressed:  # it says nothing by itself
                return ""
            self._pressed = pressed
            text = f"L {self.shape.at(self.seconds - self.shape.every_s):.2f} mm"
        elif isinstance(self.shape, CoreShape):
            text = f"W {value + self._random.gauss(0.0, 0.05):.1f} g"
        elif pick > 1.0 - m.other_unit:
            text = f"T {(value + self._random.gauss(0.0, 0.4)) * 1.8 + 32.0:.1f} F"
        else:
            text = f"T {value + self._random.gauss(0.0, 0.4):.1f} C"
        if m.dropped <= pick < m.dropped + m.garbled:
            cut = self._random.randrange(1, len(text))
            text = text[:cut] + chr(self._random.randrange(33, 126)) * 2
        return text + "\r\n"


def marks_folder() -> str:
    """Where stand-ins that are open leave their marks, so that another program finds them."""
    return str(Path(platformdirs.user_cache_dir("pounce")) / "stand-ins")


@contextmanager
def marked(made: Mapping[str, StandIn]) -> Iterator[None]:
    """Their marks while they are open; they are unplugged after it."""
    folder = Path(marks_folder())
    folder.mkdir(parents=True, exist_ok=True)
    marks = []
    try:
        for k, (name, one) in enumerate(made.items()):
            mark = folder / f"{os.getpid()}-{k}.port"
            mark.write_text(f"{one.port} {name}", encoding="utf-8")
            marks.append(mark)
        yield
    finally:
        for mark in marks:
            mark.unlink(missing_ok=True)
        for one in made.values():
            one.unplug()
