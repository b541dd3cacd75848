"""Turning the draw by hand: the part is judged roughly along with the hand, and as a whole when it lets go."""

from typing import Any

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal

from pounce.bench.document import Document
from pounce.bench.stops.trialwords import live_chips
from pounce.bench.stops.view import Headline
from pounce.bench.stops.words import way
from pounce.bench.view3d.asks import Tinted
from pounce.bench.widgets.benchview import BenchView
from pounce.job import edits
from pounce.route.keys import keys
from pounce.route.stops import DRAW

TILT_DEG = 2.0
# A live answer within this of where the hand let go is the draw that was meant.
SNAP_DEG = 6.0


class Tilting(QObject):
    """The arrow of the draw on the bench. ``let_go`` when nothing came of it and the bench is to be shown as it was."""

    let_go = pyqtSignal()
    answered = pyqtSignal(object)

    def __init__(self, document: Document, bench: BenchView) -> None:
        super().__init__(bench)
        self.document, self.bench = document, bench
        self._ready = ""
        self._live_way: tuple[float, float, float] | None = None
        bench.tilted.connect(self._ask)
        bench.tilt_done.connect(self._done)
        bench.tilt_near.connect(self._near)
        self.answered.connect(self._tilted)

    def _ask(self, direction: tuple[float, float, float]) -> None:
        """Asks what the part does along this draw; nothing of the job changes until it is let go."""
        if self.document.job is not None:
            self.document.worker.replace("live", self.document.job, direction, quiet=True, on_answer=self.answered.emit)

    def a_little(self, right: float, nearer: float) -> None:
        """Two degrees, from the card or the keyboard; the whole part is judged at once."""
        results = self.document.results()
        if results is None or results.draw is None or not self.bench.can_tilt:
            return
        step = float(np.tan(np.radians(TILT_DEG)))
        x, y, z = self.bench.leaned(results.draw.direction, right * step, nearer * step)
        self.document.edit(edits.set_draw, (round(x, 9), round(y, 9), round(z, 9)))

    def _near(self, direction: tuple[float, float, float]) -> None:
        """The pointer came to the arrow: what tilting needs is made ready, once a draw."""
        key = "" if self.document.job is None else keys(self.document.job)[DRAW.id]
        if key and key != self._ready and self.document.results() is not None:
            self._ready = key
            self._ask(direction)

    def _tilted(self, found: dict[str, Any] | None) -> None:
        if found is None:
            return
        if not self.bench.tilting:
            self.bench.ready_live(Tinted(found["among"], found["states"], ready_only=True))
            return
        self._live_way = found["direction"]
        self.bench.show_live(Tinted(found["among"], found["states"]))
        self.bench.live_chips(live_chips(found, self.document.unit))
        way_said = way(np.array(found["direction"]))
        self.bench.say(Headline(f"Draws {way_said} while you hold it.", "Let go, and the whole part is judged."))

    def _done(self, direction: tuple[float, float, float]) -> None:
        """Let go: the draw is what was shown last, snapped to an own axis where that was near."""
        near = self._live_way is not None and float(np.dot(self._live_way, direction)) > np.cos(np.radians(SNAP_DEG))
        taken = self._live_way if near and self._live_way is not None else direction
        self._live_way = None
        self.bench.show_live(None)
        if not self.document.edit(edits.set_draw, taken):
            self.let_go.emit()
