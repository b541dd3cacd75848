"""The guided first pattern in the installed desktop, by the keyboard alone: `make deb-check` walks it in a bare Debian.

Run by the package's own Python: ``/opt/pounce/bin/python first_pattern.py FOLDER``. Prints the seconds of each step.
"""

import os
import sys
import time
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QApplication, QFileDialog, QWidget

from pounce.bench.app import Session
from pounce.bench.look.style import dress
from pounce.guide.steps import STEPS

MOST_S = 400.0


def main(folder: Path) -> None:
    """Walks all eight steps, to the files."""
    app = QApplication(["first-pattern"])
    dress(app)
    QFileDialog.getSaveFileName = lambda *_: (str(folder), "")  # type: ignore[assignment]
    session = Session()
    session.window.show()
    guide, began = session.window.guide, time.monotonic()

    def wait(until: Callable[[], bool]) -> None:
        end = time.monotonic() + MOST_S
        while not until():
            app.processEvents()
            time.sleep(0.01)
            if time.monotonic() > end:
                sys.exit(f"the first pattern stands still at step {guide.at + 1}")

    def press(button: QWidget) -> None:
        for kind in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
            QApplication.sendEvent(button, QKeyEvent(kind, Qt.Key.Key_Space, Qt.KeyboardModifier.NoModifier))

    press(session.window.start_card.begin)
    for at, step in enumerate(STEPS):
        wait(lambda at=at: guide.at == at and bool(guide.strip.answers))  # type: ignore[misc]
        asked = guide.strip.says.text()
        press(guide.strip.answers[-1] if step.id not in ("walls", "inside") else guide.strip.answers[1])
        print(f"{time.monotonic() - began:4.0f} s  {asked}\n        {guide.strip.says.text()}", flush=True)
        press(guide.strip.answers[0])
    wait(lambda: not guide.under_way and (folder / "manifest.json").exists())
    print(f"{time.monotonic() - began:4.0f} s  {len(list(folder.iterdir()))} files in {folder.name}", flush=True)
    session.close()
    os._exit(0)


if __name__ == "__main__":
    main(Path(sys.argv[1]).resolve())
