"""The guided first pattern in the real window, by keyboard alone, from the first screen to the files."""

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from pounce.bench.app import Session
from pounce.bench.view3d.asks import Spot
from pounce.guide.steps import STEPS
from tests.waits import slowness

LONG = round(120_000 * slowness())


def answered(qtbot: QtBot, session: Session, wants: Callable[[str], bool] = lambda _: True) -> None:
    """Waits for the step's question and takes the first fitting answer by Return."""
    guide = session.window.guide
    qtbot.waitUntil(lambda: bool(guide.strip.answers) and guide._told is None, timeout=LONG)
    one = next(one for one in guide.strip.answers if wants(one.text()))
    one.setFocus(Qt.FocusReason.TabFocusReason)
    qtbot.keyClick(one, Qt.Key.Key_Space)
    assert guide._told is not None


def test_a_first_pattern_by_keyboard_alone(
    qtbot: QtBot, session: Session, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window, guide = session.window, session.window.guide
    assert window.start_card.begin.isVisible() and not window.start_card.go_on.isVisible()
    out = tmp_path / "first"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(out), ""))
    window.start_card.begin.setFocus()
    qtbot.keyClick(window.start_card.begin, Qt.Key.Key_Space)
    qtbot.waitUntil(lambda: guide.under_way, timeout=LONG)
    for at, step in enumerate(STEPS):
        qtbot.waitUntil(lambda at=at: guide.at == at, timeout=LONG)
        assert window.stop == step.stop
        if step.id == "faces":  # a face that is pointed at answers too
            qtbot.waitUntil(lambda: bool(guide.strip.answers), timeout=LONG)
            window.bench.clicked.emit(Spot(-1, (0.0, 0.0, 0.0), (0.0, 0.0, 1.0), 0, 90.0, 5.0))
            assert guide._told is not None and not guide._told.right
        else:
            answered(qtbot, session, lambda text, step=step: step.id != "walls" or "lean" in text)
        if step.trial:
            qtbot.waitUntil(lambda: window.trial.under_way, timeout=LONG)
        assert guide.strip.says.text().startswith(("Right. ", "Not quite. "))
        go_on = guide.strip.answers[0]
        assert window.focusWidget() is go_on  # who answers by the keyboard goes on by it
        qtbot.keyClick(go_on, Qt.Key.Key_Space)
    qtbot.waitUntil(lambda: not guide.under_way, timeout=LONG)
    assert (out / "manifest.json").exists() or any(out.glob("*.3mf"))
    kept = session.settings.values
    assert kept.guide == "done" and not guide.offered and not guide.waits
    job = session.document.job
    assert job is not None and job.stock.lines, "what it leaves behind is an ordinary job"
    window.show_start()
    assert not window.start_card.begin.isVisible(), "it is never shown twice unasked"


def test_it_can_be_left_and_taken_up_again(qtbot: QtBot, session: Session, arm: Path) -> None:
    window, guide = session.window, session.window.guide
    window.open(arm)
    qtbot.waitUntil(lambda: session.document.job is not None, timeout=LONG)
    window.actions_by_name["A guided first pattern, on a part of your own"].trigger()
    answered(qtbot, session)
    guide.strip.answers[0].click()
    answered(qtbot, session)
    guide.strip.leave.click()
    assert not guide.under_way and not guide.strip.isVisible()
    assert session.settings.values.guide == "left" and not guide.offered
    qtbot.waitUntil(lambda: guide.waits, timeout=LONG)  # the unsaved job is on the disk within two seconds
    window.actions_by_name["Go on with the first pattern"].trigger()
    qtbot.waitUntil(lambda: guide.under_way, timeout=LONG)
    assert guide.at == 1


def test_a_file_that_is_not_chosen_begins_nothing_later(
    qtbot: QtBot, session: Session, arm: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """It is never shown unasked: not by the next model that is opened either."""
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: ("", ""))
    session.window.guide.on_own()
    session.window.open(arm)
    qtbot.waitUntil(lambda: session.document.job is not None, timeout=LONG)
    assert not session.window.guide.under_way
