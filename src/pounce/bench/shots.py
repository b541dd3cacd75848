"""Rendering each main view of the demo into a folder, one after the other, then ending."""

from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from pounce.bench.stops.parting import PartingCard
from pounce.bench.window import Window
from pounce.route.keys import STOPS

LIMIT_MS = 180_000


class Shots(QObject):
    """Waits until the desktop has settled at each stop and keeps a picture of it. ``finished`` says 0 or 1."""

    finished = pyqtSignal(int)

    def __init__(self, window: Window, folder: Path) -> None:
        super().__init__(window)
        self._window, self._folder = window, folder
        self._left: list[str] = [*STOPS, "start", "trial"]
        self._count = len(self._left)
        self._waited = 0
        self._calm = 0
        self._timer = QTimer(self)
        self._timer.setInterval(100)
        self._timer.timeout.connect(self._look)

    def start(self) -> None:
        """Begins as soon as the demo job is there."""
        self._folder.mkdir(parents=True, exist_ok=True)
        self._timer.start()

    def _look(self) -> None:
        self._waited += self._timer.interval()
        if self._waited > LIMIT_MS:
            print("The views took too long to draw; some are missing.", flush=True)
            self._end(1)
            return
        window = self._window
        results = window.desk.results()
        if results is None or results.pattern is None or window.desk.hands.busy:
            self._calm = 0
            return
        wanted = self._left[0]
        if wanted == "trial":
            if not self._lifted(window):
                self._calm = 0
                return
        elif wanted != "start" and window.stop != wanted:
            window.go(wanted)
            self._calm = 0
            return
        if wanted != "start" and not window.bench.drawn:
            self._calm = 0
            return
        if wanted == "start" and self._calm == 0:
            window.show_start()
        self._calm += 1
        if self._calm < 12:
            return
        self._keep(wanted)

    def _lifted(self, window: Window) -> bool:
        """The trial draw half way up, with the mould drawn; says whether it is there."""
        card = window.cards["parting"]
        if not isinstance(card, PartingCard):
            return True
        if window.stop != "parting" or not card.trial:
            window.go("parting")
            card.set_lift(0.5 * card.most())
            return False
        return window.mould_shown

    def _keep(self, name: str) -> None:
        number = self._count - len(self._left) + 1
        path = self._folder / f"{number}-{name}.png"
        self._window.grab().save(str(path))
        self._left.pop(0)
        self._calm = 0
        if not self._left:
            print(f"Each main view was drawn into the folder {self._folder}.", flush=True)
            self._end(0)

    def _end(self, code: int) -> None:
        self._timer.stop()
        self.finished.emit(code)
