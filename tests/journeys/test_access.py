"""Access, held by measure: every control of every stop has a name, a role and a place in the tab order, and no text is
cut off: on a small window and with the system's text twice as large.
"""

import json
import os
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QEvent, QSize, Qt
from PyQt6.QtGui import QFontMetricsF
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QAbstractSlider,
    QAbstractSpinBox,
    QApplication,
    QCheckBox,
    QComboBox,
    QLabel,
    QLineEdit,
    QPushButton,
    QTextEdit,
    QWidget,
)
from pytestqt.qtbot import QtBot

from pounce.bench.app import Session
from pounce.bench.look.style import LEAST, dress, zoom_for
from pounce.bench.look.tokens import set_scale
from pounce.bench.settings import Settings
from pounce.bench.widgets.parts import Figure
from pounce.bench.window import Window
from pounce.route.stops import ids
from tests.waits import LONG, slowness

ROOT = Path(__file__).parents[2]
# Pixels that a text may seem to lack: metrics of a whole line are rounded up.
ROUNDED = 2


@pytest.fixture(scope="module")
def session(qapp: QApplication, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Session]:
    """One desktop with the demo's bearing on it, for all tests here."""
    dress(qapp)
    made = Session(Settings(tmp_path_factory.mktemp("settings")))
    made.window.show()
    yield made
    made.close()
    set_scale(1.0)
    made.window.deleteLater()
    qapp.sendPostedEvents(made.window, QEvent.Type.DeferredDelete.value)
    qapp.setStyleSheet("")


@pytest.fixture
def window(qtbot: QtBot, session: Session, arm: Path) -> Window:
    """The window with the arm worked through."""
    if session.document.job is None:
        session.window.open(arm)
        within = round(3 * LONG * slowness())
        qtbot.waitUntil(lambda: session.document.job is not None, timeout=within)
        qtbot.waitUntil(lambda: _worked(session), timeout=within)
    return session.window


def _worked(session: Session) -> bool:
    results = session.document.results()
    return results is not None and results.proof is not None and not session.document.worker.busy


def shown(window: QWidget) -> list[QWidget]:
    return [one for one in window.findChildren(QWidget) if one.isVisibleTo(window) and one.width() > 1]


def controls(window: QWidget) -> list[QWidget]:
    """What the keyboard can go to."""
    return [one for one in shown(window) if one.focusPolicy() & Qt.FocusPolicy.TabFocus and one.isEnabled()]


def named(one: QWidget) -> str:
    """What a screen reader says of it: its own name, its text, or that of the label that is its buddy."""
    text = getattr(one, "text", None)
    own = one.accessibleName() or (text() if callable(text) and isinstance(one, QAbstractButton) else "")
    if own:
        return str(own)
    labels = [label for label in one.window().findChildren(QLabel) if label.buddy() is one]  # type: ignore[union-attr]
    return labels[0].text() if labels else ""


def has_role(one: QWidget) -> bool:
    """Qt tells the role of its own kinds of control; a control of ours is one of them, or says what it does."""
    kinds = (QAbstractButton, QAbstractSlider, QAbstractItemView, QComboBox, QLineEdit, QAbstractSpinBox, QTextEdit)
    return isinstance(one, kinds) or bool(one.accessibleName())


@pytest.mark.parametrize("stop", [*ids(), "start"])
def test_every_control_has_a_name_a_role_and_a_place_in_the_tab_order(window: Window, stop: str) -> None:
    _go(window, stop)
    chain: set[QWidget] = set()
    at: QWidget | None = window
    while at is not None and at not in chain:
        chain.add(at)
        at = at.nextInFocusChain()
    found = controls(window)
    assert len(found) > 12
    for one in found:
        if isinstance(one.parent(), QAbstractSpinBox | QComboBox):
            continue  # the field in it speaks for it
        assert has_role(one), one
        assert named(one), f"{type(one).__name__} {one.objectName()} in {type(one.parent()).__name__} says nothing"
        assert one in chain


def _go(window: Window, stop: str) -> None:
    if stop == "start":
        window.show_start()
    else:
        window.go(stop)
    for _ in range(4):
        QApplication.processEvents()


def cut_off(window: QWidget) -> list[str]:
    """Texts that have less room than they want, by their own metrics."""
    out = []
    for one in shown(window):
        if isinstance(one, QLabel) and one.text() and one.pixmap().isNull():
            if one.wordWrap():
                if one.heightForWidth(one.width()) > one.height() + ROUNDED:
                    out.append(f"label '{one.text()}' wants {one.heightForWidth(one.width())} has {one.height()}")
            elif one.sizeHint().width() > one.width() + ROUNDED:
                out.append(f"label '{one.text()}' wants {one.sizeHint().width()} has {one.width()}")
        elif isinstance(one, QPushButton | QCheckBox) and one.text():
            wants = QFontMetricsF(one.font()).horizontalAdvance(one.text().replace("&", ""))
            if wants > one.width() + ROUNDED:
                out.append(f"button '{one.text()}' wants {wants:.0f} has {one.width()}")
        elif isinstance(one, QComboBox):
            wants = QFontMetricsF(one.font()).horizontalAdvance(one.currentText())
            if wants + 24 > one.width() + ROUNDED:
                out.append(f"choice '{one.currentText()}' wants {wants + 24:.0f} has {one.width()}")
        elif isinstance(one, QLineEdit) and not one.isReadOnly():
            wants = QFontMetricsF(one.font()).horizontalAdvance(one.text())
            if one.text() and wants > one.width() + ROUNDED:
                out.append(f"field '{one.text()}' wants {wants:.0f} has {one.width()}")
    return out


@pytest.mark.parametrize("stop", [*ids(), "start"])
def test_no_text_is_cut_off_in_a_small_window(window: Window, stop: str) -> None:
    window.resize(QSize(1100, 700))
    _go(window, stop)
    assert window.width() == 1100 and window.height() == 700, "it does not become so small"
    assert cut_off(window) == []
    window.resize(QSize(1280, 800))


def _lengths(window: Window, stop: str) -> dict[str, tuple[str, float]]:
    """Suffix and value of every field on the stop's card that shows a length, by its name."""
    window.refresh()
    fields = [one for one in window.cards[stop].findChildren(Figure) if one.isVisible()]
    return {one.accessibleName(): (one.suffix(), one.value()) for one in fields if one.suffix() in (" mm", " in")}


@pytest.mark.parametrize("stop", ids())
def test_every_length_is_the_same_in_inches_and_has_room(window: Window, stop: str) -> None:
    _go(window, stop)
    metric = _lengths(window, stop)
    window.status.units["in"].click()
    try:
        _go(window, stop)
        inches = _lengths(window, stop)
        assert inches.keys() == metric.keys()
        for name, (suffix, value) in inches.items():
            # as far as either is rounded
            assert suffix == " in" and 25.4 * value == pytest.approx(metric[name][1], abs=0.52), name
            assert 25.4 * value == pytest.approx(metric[name][1], rel=0.02, abs=0.06), name
        assert cut_off(window) == []
    finally:
        window.status.units["mm"].click()
    assert _lengths(window, stop) == metric


def test_the_window_is_never_larger_than_the_screen_has_room_for(window: Window) -> None:
    """A desktop of 1366x768 with a panel leaves some 1366x730."""
    least = window.centralWidget()
    assert least is not None
    small = least.minimumSizeHint()
    assert small.width() <= LEAST[0] and small.height() <= LEAST[1]
    screen = window.screen()
    assert screen is not None
    room = screen.availableGeometry()
    window.resize(room.width() + 500, room.height() + 500)
    window.move(room.right() - 20, room.bottom() - 20)
    window._keep_on_screen()
    assert room.contains(window.geometry())


def test_at_twice_the_size_nothing_is_cut_off(tmp_path: Path, arm: Path) -> None:
    """As on a desktop that draws everything at 200 %, in a process of its own, since Qt is told before it begins."""
    code = (
        "import sys, json; sys.path.insert(0, sys.argv[1])\n"
        "from tests.journeys import test_access\n"
        "if __name__ == '__main__': test_access.at_twice(sys.argv[2], sys.argv[3])\n"
    )
    script = tmp_path / "twice.py"
    script.write_text(code, encoding="utf-8")
    env = {**os.environ, "QT_SCALE_FACTOR": "2", "QT_QPA_PLATFORM": "offscreen"}
    words = [sys.executable, str(script), str(ROOT), str(arm), str(tmp_path)]
    done = subprocess.run(words, capture_output=True, text=True, env=env, timeout=200 * slowness(), check=False)
    assert done.returncode == 0, done.stderr[-2000:]
    told = json.loads(done.stdout.splitlines()[-1])
    assert told["ratio"] == 2.0 and set(told["cut"]) == {*ids(), "start"}
    assert {stop: texts for stop, texts in told["cut"].items() if texts} == {}


def at_twice(part: str, folder: str) -> None:
    """Prints what is cut off at each stop (for the test above)."""
    app = QApplication([])
    dress(app)
    made = Session(Settings(Path(folder) / "settings"))
    made.window.show()
    made.window.open(Path(part))
    while made.document.job is None or not _worked(made):
        app.processEvents()
        time.sleep(0.01)
    cut = {}
    for stop in (*ids(), "start"):
        _go(made.window, stop)
        cut[stop] = cut_off(made.window)
    print(json.dumps({"ratio": made.window.devicePixelRatioF(), "cut": cut}), flush=True)
    made.close()
    os._exit(0)  # in no order but this: Qt's own objects may outlive the application otherwise


def test_large_text_draws_the_whole_window_larger(qapp: QApplication) -> None:
    before = qapp.font()
    try:
        assert zoom_for(qapp) == 1.0
        large = qapp.font()
        large.setPointSizeF(20.0)
        qapp.setFont(large)
        zoom = zoom_for(qapp)
        screen = qapp.primaryScreen()
        assert screen is not None
        room = screen.availableSize()
        assert 1.0 <= zoom <= 2.0 and zoom * LEAST[0] <= max(room.width(), LEAST[0])
    finally:
        qapp.setFont(before)
