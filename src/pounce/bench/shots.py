"""Rendering each main view of the demo into a folder, one after the other, then ending."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject, QPoint, QTimer, pyqtSignal
from PyQt6.QtGui import QPainter

from pounce.bench.log.board import LogBoard
from pounce.bench.log.desk import log_desk_of
from pounce.bench.pour.under_way import under_way_of
from pounce.bench.window import Window
from pounce.job import edits
from pounce.pour.devices.standins import MeltShape
from pounce.route.stops import ids

LIMIT_MS = 300_000
# The demo job that is made of foam.
FOAM_JOB = "bench-end-frame"
# The simulated melt is read so often, s.
MELT_STEP_S = 5.0
# The step of the guided first pattern that is shown, from 0.
GUIDED_STEP = 2
# Numbers of the views that do not stand in the order they are drawn in; 17 is the sheet, no view of the window.
BESIDE = {"wood": 15, "foam": 16, "craft": 18, "guide": 19}


class Shots(QObject):
    """Waits until the desktop has settled at each stop and keeps a picture of it. ``finished`` says 0 or 1."""

    finished = pyqtSignal(int)

    def __init__(self, window: Window, folder: Path) -> None:
        super().__init__(window)
        self._window, self._folder = window, folder
        self._left: list[str] = [*ids(), "start", "proof", "plan", "craft", "wood", "foam", "guide"]
        self._count = len(self._left)
        # views that take more than going to a stop: what brings each about, and says whether it is there
        self._makers: dict[str, Callable[[Window], bool]] = {
            "proof": self._lifted,
            "plan": self._planned,
            "wood": partial(self._made, way="wood"),
            "foam": partial(self._made, way="foam"),
            "craft": self._opened,
            "guide": self._guided,
        }
        self._waited = 0
        self._calm = 0
        self._begun = False
        self._asked: Path | None = None
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
        results = window.document.results()
        if results is None or results.pattern is None or window.document.worker.busy:
            self._calm = 0
            return
        wanted = self._left[0]
        if wanted in self._makers:
            if not self._makers[wanted](window):
                self._calm = 0
                return
        elif wanted != "start" and window.stop != wanted:
            window.go(wanted)
            self._calm = 0
            return
        if wanted == "logbook" and not self._read(window):
            self._calm = 0
            return
        if wanted not in ("start", "plan") and not window.bench.drawn:
            self._calm = 0
            return
        if wanted == "pour" and self._calm == 0:
            self._warmed(window)
        if wanted == "start" and self._calm == 0:
            window.show_start()
        self._calm += 1
        if self._calm < 12:
            return
        self._keep(wanted)

    def _lifted(self, window: Window) -> bool:
        """The proof, with the cope half way up and the mould drawn; says whether it is there."""
        card = window.cards["pattern"]
        if window.stop != "pattern" or card.lifting is None or not card.lifting.under_way:
            window.go("pattern")
            card.prove()
            card.set_lift(0.5 * card.most())
            return False
        return window.trial.mould_shown

    def _planned(self, window: Window) -> bool:
        """The plans of the demo job; says whether they are there."""
        if not window.planning.shown:
            window.actions_by_name["Plan it for me"].trigger()
            return False
        return bool(window.planning.plans)

    def _made(self, window: Window, way: str) -> bool:
        """The demo job in wood, or the bench end frame in foam, at the Pattern stop; says whether it is there."""
        job = window.document.job
        if job is None:
            return False
        if way == "wood" and job.method.pattern != "wood":
            window.document.edit(edits.set_pattern_kind, "wood")
            return False
        if way == "foam" and job.method.pattern != "foam-burned-out":
            frame = next((path for path, _ in window.document.settings.recent() if path.stem == FOAM_JOB), None)
            if frame is not None and self._asked != frame:
                self._asked = frame
                window.open(frame)
            return False
        if window.stop != "pattern":
            window.go("pattern")
            return False
        return bool(window.document.sheets())

    def _opened(self, window: Window) -> bool:
        """The craft behind Draw, over the bench."""
        page = window.learning.page
        if page is None or not page.isVisible():
            window.go("draw")
            window.learning.craft("draw")
            return False
        return True

    def _guided(self, window: Window) -> bool:
        """The guided first pattern, asking which face holds the sand; says whether it does."""
        guide = window.guide
        if not self._begun:
            self._begun = True
            guide.on_the_demo()
        elif guide.under_way and guide.strip.answers and guide.at < GUIDED_STEP:
            guide.strip.answers[-1].click()
        return guide.at == GUIDED_STEP and bool(guide.strip.answers) and window.bench.drawn

    def _read(self, window: Window) -> bool:
        """The last pour of the demo job, its second casting; says whether the part's picture is there."""
        desk, board = log_desk_of(window.document), window.boards["logbook"]
        if desk.new and desk.made is not None and desk.made.pours:
            desk.select(desk.made.pours[0].id)
            desk.point(2)
        return isinstance(board, LogBoard) and (board.suspects.pictured or not desk.seen)

    def _warmed(self, window: Window) -> None:
        """A simulated melt that is nearly hot enough, on the bench only: nothing of it is kept."""
        way = under_way_of(window.document)
        job = window.document.job
        if job is None or way.made is None or way.curve.values:
            return
        shape = MeltShape(job.method.metal, way.made.charged.kg, 0.5 * way.made.charged.kg)
        at = 0.0
        while shape.at(at) < way.made.first.mould.low_c:
            way.curve.add(at, shape.at(at))
            at += MELT_STEP_S
        way.changed.emit()

    def _keep(self, name: str) -> None:
        number = BESIDE.get(name, self._count - len(self._left) + 1)
        picture = self._window.grab()
        page = self._window.learning.page
        if name == "craft" and page is not None:
            painter = QPainter(picture)
            painter.drawPixmap(self._window.mapFromGlobal(page.mapToGlobal(QPoint(0, 0))), page.grab())
            painter.end()
            page.close()
        picture.save(str(self._folder / f"{number}-{name}.png"))
        self._left.pop(0)
        self._calm = 0
        if not self._left:
            print(f"Each main view was drawn into the folder {self._folder}.", flush=True)
            self._end(0)

    def _end(self, code: int) -> None:
        self._timer.stop()
        self.finished.emit(code)
