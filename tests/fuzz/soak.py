"""The real window for hours: random hands on it, a heartbeat beside it, and at the end nothing may be left.

``python -m tests.fuzz soak MINUTES SEED``: opens the demo's jobs and random solids, visits stops, sets choices, undoes,
turns the view, plans, closes pages, kills the worker or the picture now and then. Told are the longest gap of the
event loop, the memory of all processes, faults of ours, and what was left behind.
"""

import os
import random
import tempfile
import time
from collections import Counter
from collections.abc import Callable
from pathlib import Path

import manifold3d
import numpy as np
import trimesh
from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from pounce.base.log import log_file
from pounce.bench.app import Session
from pounce.bench.look.style import dress
from pounce.bench.settings import Settings
from pounce.job.choose import choose_word
from pounce.route.demo_jobs import lay_out
from pounce.route.stops import ids, stops
from tests.fuzz.lines import solid_of, word_for

BEAT_MS = 10
# Gaps of the event loop that are told, s; memory that is too much of all processes together, bytes.
GAP_S, MOST_BYTES = 0.1, 6 << 30
Say = Callable[[str], None]


class Soak:
    """One run on one session."""

    def __init__(self, session: Session, jobs: list[Path], folder: Path, seed: int) -> None:
        self.session, self.window, self.jobs, self.folder = session, session.window, jobs, folder
        self.dice = random.Random(seed)
        self.done: Counter[str] = Counter()
        self.gaps: list[tuple[float, str]] = []
        self.most_bytes = 0
        self.doing = "start"
        self._last = time.perf_counter()
        self._beat = QTimer()
        self._beat.timeout.connect(self._heard)
        self._beat.start(BEAT_MS)
        self._hands: dict[str, tuple[int, Callable[[], object]]] = {
            "visit": (8, self._visit),
            "choose": (10, self._choose),
            "undo": (3, lambda: self.window.document.undo()),
            "redo": (2, lambda: self.window.document.redo()),
            "turn": (6, self._turn),
            "open": (1, self._open),
            "solid": (1, self._solid),
            "plan": (1, lambda: self.window.actions_by_name["Plan it for me"].trigger()),
            "page": (1, self._page),
            "cancel": (2, lambda: self.window.document.worker.cancel()),
            "kill": (1, self._kill),
            "size": (1, lambda: self.window.resize(self.dice.randrange(1100, 1500), self.dice.randrange(700, 950))),
        }

    def _heard(self) -> None:
        now = time.perf_counter()
        gap, self._last = now - self._last - BEAT_MS / 1000.0, now
        if gap > GAP_S:
            self.gaps.append((gap, self.doing))

    def hand(self) -> None:
        """One thing that a hand does."""
        names = list(self._hands)
        name = self.dice.choices(names, [self._hands[one][0] for one in names])[0]
        self.doing = f"{name} at {self.window.stop}"
        self.done[name] += 1
        self._hands[name][1]()

    def _visit(self) -> None:
        self.window.go(self.dice.choice(ids()))

    def _choose(self) -> None:
        stop = self.dice.choice(stops())
        if stop.choices and self.window.document.job is not None:
            choice = self.dice.choice(stop.choices)
            self.doing = f"choose {stop.id} {choice.key}"
            self.window.document.edit(choose_word, stop.id, choice, word_for(choice.key, choice, self.dice))

    def _turn(self) -> None:
        bench = self.window.bench
        if bench.isVisible():
            keys = (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down)
            QTest.keyClick(bench, self.dice.choice(keys))
            QTest.mouseMove(bench, QPoint(self.dice.randrange(50, 400), self.dice.randrange(80, 280)))
            QTest.mouseClick(bench, Qt.MouseButton.LeftButton, pos=QPoint(200, 200))

    def _open(self) -> None:
        self.window.open(self.dice.choice(self.jobs))

    def _solid(self) -> None:
        made: manifold3d.Manifold = solid_of(self.dice)
        mesh = made.to_mesh64()
        path = self.folder / f"solid-{self.done['solid']}.stl"
        points = np.asarray(mesh.vert_properties)[:, :3]
        trimesh.Trimesh(points, np.asarray(mesh.tri_verts), process=False).export(path)
        self.window.open(path)

    def _page(self) -> None:
        learning = self.window.learning
        if learning.page is not None and learning.page.isVisible():
            learning.page.close()
        else:
            learning.craft(self.dice.choice(ids()))

    def _kill(self) -> None:
        one = self.dice.choice((self.session.worker, self.session.client))
        self.doing = f"kill {type(one).__name__}"
        one._process.kill()

    def look(self) -> None:
        """Adds up the memory of this process and its children."""
        own = [os.getpid(), self.session.worker._process.pid, self.session.client._process.pid]
        total = 0
        for pid in own:
            try:
                lines = Path(f"/proc/{pid}/status").read_text(encoding="utf-8").splitlines()
            except OSError:
                continue
            total += sum(int(line.split()[1]) * 1024 for line in lines if line.startswith("RssAnon"))
        self.most_bytes = max(self.most_bytes, total)


def campaign(minutes: float, seed: int, say: Say) -> int:
    """Runs it; how much was wrong."""
    wrong = 0
    with tempfile.TemporaryDirectory(prefix="pounce-soak-") as name:
        folder = Path(name)
        for key in ("CONFIG", "DATA", "STATE"):
            os.environ[f"XDG_{key}_HOME"] = str(folder / key.lower())
        os.environ["POUNCE_LOGBOOK"] = str(folder / "log.sqlite")
        jobs = lay_out(folder / "demo")
        app = QApplication.instance() or QApplication(["soak"])
        assert isinstance(app, QApplication)
        dress(app)
        session = Session(Settings(folder / "settings"))
        session.window.show()
        run = Soak(session, jobs, folder, seed)
        session.window.open(jobs[0])
        until, next_hand, next_look = time.time() + 60.0 * minutes, 0.0, 0.0
        while time.time() < until:
            app.processEvents()
            if time.time() > next_hand:
                run.hand()
                next_hand = time.time() + run.dice.choice((0.05, 0.3, 1.0, 3.0))
            if time.time() > next_look:
                run.look()
                next_look = time.time() + 1.0
            time.sleep(0.002)
        run.doing = "close"
        shared, pids = session.folder, [session.worker._process.pid, session.client._process.pid]
        session.close()
        left = [pid for pid in pids if pid and Path(f"/proc/{pid}").exists()]
        faults = log_file().read_text(encoding="utf-8") if log_file().exists() else ""
        say(f"seed {seed}, {minutes:g} min: {sum(run.done.values())} hands {dict(run.done)}")
        worst = sorted(run.gaps, reverse=True)[:8]
        say(f"gaps over {GAP_S:g} s: {len(run.gaps)}; the longest {[f'{gap:.2f} s {what}' for gap, what in worst]}")
        say(f"memory of all processes at most {run.most_bytes / (1 << 20):.0f} MB")
        for what, bad in (
            ("processes left", left),
            ("shared memory left", [str(shared)] if shared.exists() else []),
            ("faults of ours", [line for line in faults.splitlines() if "Error" in line][:20]),
            ("too much memory", [run.most_bytes] if run.most_bytes > MOST_BYTES else []),
        ):
            if bad:
                wrong += len(bad)
                say(f"{what}: {bad}")
    return wrong
