"""The focus ring is for the keyboard: a press by the mouse shows none, Tab does, and so does the next key."""

from collections.abc import Iterator

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from pounce.bench.look.focus import KeyboardFocus, ringed
from pounce.bench.look.style import dress


@pytest.fixture
def pair(qtbot: QtBot, qapp: QApplication) -> Iterator[tuple[QPushButton, QPushButton]]:
    dress(qapp)
    window = QWidget()
    row = QHBoxLayout(window)
    one, two = QPushButton("One"), QPushButton("Two")
    row.addWidget(one)
    row.addWidget(two)
    qtbot.addWidget(window)
    window.show()
    window.activateWindow()
    yield one, two
    window.close()


def test_the_application_is_watched_once(qapp: QApplication) -> None:
    dress(qapp)
    dress(qapp)
    assert len(qapp.findChildren(KeyboardFocus)) == 1


def test_a_press_shows_no_ring_and_a_key_does(qtbot: QtBot, pair: tuple[QPushButton, QPushButton]) -> None:
    one, two = pair
    one.setFocus(Qt.FocusReason.MouseFocusReason)
    qtbot.waitUntil(one.hasFocus)
    assert not ringed(one)
    qtbot.keyClick(one, Qt.Key.Key_Tab)
    assert ringed(two) and not ringed(one)
    one.setFocus(Qt.FocusReason.MouseFocusReason)
    assert not ringed(two)
    qtbot.keyClick(one, Qt.Key.Key_Shift)
    assert ringed(one)


def test_another_window_between_changes_nothing(qtbot: QtBot, pair: tuple[QPushButton, QPushButton]) -> None:
    one, two = pair
    two.setFocus(Qt.FocusReason.MouseFocusReason)
    one.setFocus(Qt.FocusReason.TabFocusReason)
    qtbot.waitUntil(lambda: ringed(one))
    one.clearFocus()
    one.setFocus(Qt.FocusReason.ActiveWindowFocusReason)
    assert ringed(one)
