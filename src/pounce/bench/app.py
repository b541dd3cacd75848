"""Starting the desktop: arguments, processes, window; and rendering each main view into a folder."""

import os
import shutil
import signal
import sys
import time
from pathlib import Path
from types import TracebackType

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QIcon, QSurfaceFormat
from PyQt6.QtWidgets import QApplication

from pounce.base.log import note_fault
from pounce.bench.document import Document
from pounce.bench.launch import Start
from pounce.bench.look.icon import window_icon
from pounce.bench.look.style import ZOOM, dress, zoom_for
from pounce.bench.settings import Settings
from pounce.bench.shots import Shots
from pounce.bench.view3d.client import RenderClient
from pounce.bench.window import Window
from pounce.bench.wire import session_folder
from pounce.bench.workerclient import WorkerClient
from pounce.route.demos import DEMOS

# One line about each demo job, for the shelf.
DEMO_ABOUT = {Path(demo.part).stem: demo.about for demo in DEMOS}


class Session:
    """Everything one start of the desktop owns."""

    def __init__(self, settings: Settings | None = None, start: Start | None = None) -> None:
        self.folder = start.folder if start else session_folder()
        self.settings = settings or Settings()
        self.worker = WorkerClient(self.folder, start.worker if start else None)
        self.client = RenderClient(self.folder, start.view if start else None)
        self.document = Document(self.worker, self.folder, self.settings)
        self.window = Window(self.document, self.client, DEMO_ABOUT)
        self.window.start.demo.connect(self._lay_demo)

    def open(self, path: Path | None, demo: bool) -> None:
        """Opens what was asked for on the command line, and warms the tools in the background."""
        if path is not None:
            self.window.open(path)
        elif demo:
            self.worker.ask("demo", text="Laying out the demo jobs", on_answer=self._demo_laid)
        else:  # whoever opens something waits for that alone; it makes the tools ready by itself
            self.worker.ask("warm", text="Getting the tools ready", yields=True)

    def _lay_demo(self) -> None:
        """Puts the demo jobs on the shelf, and opens none."""
        self.worker.ask("demo", text="Laying out the demo jobs", on_answer=self._remember)

    def _remember(self, jobs: list[str]) -> None:
        for job in reversed(jobs):
            name = Path(job).stem.replace("-", " ")
            self.settings.remember(Path(job), name[:1].upper() + name[1:], folder=False)
        self.document.shelf_changed.emit()

    def _demo_laid(self, jobs: list[str]) -> None:
        self._remember(jobs[1:])
        self.window.stop = "draw"
        self.window.open(Path(jobs[0]))

    def close(self) -> None:
        """Ends processes and removes the session's folder."""
        self.window.close()
        shutil.rmtree(self.folder, ignore_errors=True)


def _noted(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
    """A fault in the window goes to the log as well as to the terminal."""
    if not issubclass(kind, KeyboardInterrupt):
        note_fault("window", error)
    sys.__excepthook__(kind, error, trace)


def main(start: Start) -> None:
    """The desktop's entry, with its processes on their way."""
    if sys.platform.startswith("linux") and not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")):
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    QSurfaceFormat.setDefaultFormat(QSurfaceFormat())
    sys.excepthook = _noted
    app = QApplication(["pounce"])
    _larger(app, start)
    app.setApplicationName("Pounce")
    app.setDesktopFileName("pounce")
    settings = Settings()
    dress(app, settings.values.contrast)
    app.setWindowIcon(QIcon(window_icon()))
    session = Session(settings, start)
    session.window.show()
    if os.environ.get("POUNCE_TIME_START"):
        _tell_start(session)
    if start.file is None and settings.values.section_folded:
        session.window.actions_by_name["Fold the section away"].trigger()
    session.open(start.file, start.demo)
    # lets Ctrl+C in the terminal through, which Qt's loop would sit on
    beat = QTimer()
    beat.timeout.connect(lambda: None)
    beat.start(200)
    signal.signal(signal.SIGINT, lambda *_: session.window.close())
    signal.signal(signal.SIGTERM, lambda *_: session.window.close())
    code = 0
    if start.pictures is not None:
        shots = Shots(session.window, start.pictures)
        shots.finished.connect(app.exit)
        shots.start()
    code = app.exec()
    session.close()
    sys.exit(code)


def _larger(app: QApplication, start: Start) -> None:
    """Where the desktop's text is larger than the design's, the whole window is drawn larger by as much: it begins
    anew with Qt told so, which only counts before Qt is there. Nothing is cut off that way, at any size of text.
    """
    zoom = zoom_for(app)
    if zoom == 1.0 or ZOOM in os.environ:
        return
    for one in (start.worker, start.view):
        one.process.kill()
        one.process.join()
    shutil.rmtree(start.folder, ignore_errors=True)
    os.environ[ZOOM] = f"{zoom:g}"
    os.environ["QT_SCALE_FACTOR"] = f"{zoom * float(os.environ.get('QT_SCALE_FACTOR') or 1.0):g}"
    sys.stdout.flush()
    os.execv(sys.executable, [sys.executable, "-m", "pounce.bench", *sys.argv[1:]])


def _tell_start(session: Session) -> None:
    """For `make bench`: prints the seconds from the process's start to a usable window, then to the demo's first
    picture.
    """
    begun = float(os.environ["POUNCE_TIME_START"])
    QTimer.singleShot(0, lambda: print(f"window {time.time() - begun:.2f}", flush=True))
    watch = QTimer(session.window)

    def look() -> None:
        if session.window.bench.shown:
            watch.stop()
            print(f"demo {time.time() - begun:.2f}", flush=True)
            session.window.close()

    watch.timeout.connect(look)
    watch.start(10)
