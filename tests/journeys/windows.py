"""What the journeys do with the real window."""

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QPushButton, QScrollArea
from pytestqt.qtbot import QtBot

from pounce.bench.app import Session
from pounce.bench.cards.card import Card
from pounce.bench.window import Window
from pounce.route.stops import PROOF
from tests.waits import LONG


def settled(qtbot: QtBot, window: Window, within: int = LONG, *, whole: bool = False) -> None:
    """Waits until the pattern is worked out and proved; the ``whole``, until nothing runs, with mould, heat, pour and
    causes: an edit that follows sends them away half worked.
    """

    def check() -> bool:
        results, idle = window.document.results(), not window.document.worker.busy
        if results is None:
            return False
        if idle:
            return results.pattern is not None or bool(results.faults)
        return not whole and results.pattern is not None and results.get(PROOF) is not None

    qtbot.waitUntil(check, timeout=within)
    QApplication.processEvents()
    window.refresh()


def opened(qtbot: QtBot, session: Session, path: Path) -> Window:
    """Opens a file and waits for it."""
    with qtbot.waitSignal(session.document.opened, timeout=LONG):
        session.window.open(path)
    settled(qtbot, session.window)
    return session.window


def click(qtbot: QtBot, widget: QPushButton) -> None:
    """Clicks as a mouse does."""
    qtbot.mouseClick(widget, Qt.MouseButton.LeftButton)


def cut_off(card: Card) -> int:
    """How many pixels of a card's rows lie outside its column."""
    (scroll,) = card.findChildren(QScrollArea)
    inner, view = scroll.widget(), scroll.viewport()
    assert inner is not None and view is not None
    return max(inner.minimumSizeHint().width() - view.width(), 0)
