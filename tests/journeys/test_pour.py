"""The Pour stop in the real window: a simulated pour on the clock, from lighting the furnace to opening the mould."""

import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from pounce.bench.app import Session
from pounce.bench.cards.pour import PourCard
from pounce.bench.pour.board import PourBoard
from pounce.bench.pour.under_way import LAPSE
from pounce.bench.settings import Settings
from pounce.bench.widgets.things import ThingsDialog
from pounce.job import file, pour_edits
from pounce.pour.clock import State
from pounce.pour.devices.reader import Line
from pounce.pour.devices.standins import MeltShape, StandIn
from pounce.pour.meter import Say
from pounce.pour.run import Did, Run, load, run_file, save
from pounce.pour.things import Crucible, Furnace, Ingot, Things, own_things, write_things
from pounce.pour.values import PourResult
from tests.journeys.windows import click, opened, settled
from tests.unit.pour.made import block
from tests.waits import LONG

SPEED = 60.0
HOLDS = 12.0


@pytest.fixture
def job_file(tmp_path: Path) -> Path:
    job, model = block()
    path = tmp_path / "block.pounce"
    file.save(path, job, model, None)
    return path


@pytest.fixture(autouse=True)
def quick_clock(monkeypatch: pytest.MonkeyPatch) -> None:
    """The pour's clock runs some times as fast."""
    monkeypatch.setenv(LAPSE, str(SPEED))


def at_pour(qtbot: QtBot, session: Session, path: Path) -> tuple[PourCard, PourBoard]:
    window = opened(qtbot, session, path)
    window.go("pour")
    card, board = window.cards["pour"], window.boards["pour"]
    assert isinstance(card, PourCard) and isinstance(board, PourBoard)
    qtbot.waitUntil(lambda: board.under_way.made is not None, timeout=LONG)
    settled(qtbot, window)
    board.refresh()
    return card, board


def test_a_simulated_pour_from_lighting_the_furnace_to_opening_the_mould(
    qtbot: QtBot, session: Session, job_file: Path
) -> None:
    """Sixty times as fast as the clock, with a melt on a pseudo-terminal that is lifted when the bench says so."""
    # a small quick furnace: what is tried is the order, not the wait
    write_things(
        Things(
            (Crucible("pot", "Pot", 0.5),),
            (Furnace("quick", "Quick furnace", "burner", 60.0, 2.0, 1.0),),
            (Ingot("bar", "Bar", 40.0, 6),),
        )
    )
    _, board = at_pour(qtbot, session, job_file)
    way, rung = board.under_way, list[str]()
    way.rang.connect(rung.append)
    made = way.made
    assert made is not None
    steps = {one.id: one for one in made.steps}
    for one in made.placed:  # the mould was rammed before
        if one.step.id not in ("light", "melt", "treat", "pour", "open", "shake"):
            way.press(one.step)
            way.press(one.step)

    def rings(step: str) -> None:
        way.press(steps[step])
        text = steps[step].text
        qtbot.waitUntil(lambda: any(text in said for said in rung), timeout=round(LONG / 2) + 20_000)
        way.press(steps[step])

    rings("light")
    way.press(steps["melt"])
    kg = made.charged.kg
    stand = StandIn(MeltShape("aluminium-silicon", kg, kg * 1.9, cools=0.0008), hertz=12.0, speed=SPEED)
    try:
        way.listen(stand.port)
        qtbot.waitUntil(lambda: way.line is Line.READING, timeout=LONG)
        qtbot.waitUntil(lambda: way.advice().say is Say.LIFT, timeout=LONG)
        found = way.arrest()
        assert found is not None and found.at_c == pytest.approx(made.liquidus_c, abs=8.0)
        assert (way.curve.now or 0.0) >= made.lift_c and "Hot enough" in board.curve.accessibleDescription()
        way.press(steps["melt"])
        stand.lift()
        qtbot.waitUntil(lambda: way.advice().say is not Say.LIFT, timeout=LONG)
    finally:
        stand.unplug()
    qtbot.waitUntil(lambda: way.line in (Line.LOST, Line.SILENT), timeout=LONG)
    assert "hand" in session.window.notice.text.text()
    way.listen("")
    for step in ("treat", "pour"):
        way.press(steps[step])
        way.press(steps[step])
    rings("open")
    way.press(steps["shake"])
    way.press(steps["shake"])
    times = way.times()
    assert times is not None and all(one.state is State.DONE for one in times.steps)
    # in this order, and all of it on the disk
    kept = load("Block")
    order = [kept.steps[key].start for key in ("light", "melt", "treat", "pour", "open", "shake")]
    assert order == sorted(order) and len(kept.readings) > 10 and {one.by for one in kept.readings} == {"meter"}
    waited = kept.steps["open"].end
    assert waited is not None and (waited - kept.steps["open"].start).total_seconds() >= 60.0 * made.open_min - 1.0


def test_it_is_worked_by_keyboard_and_outlives_the_program(
    qtbot: QtBot, session: Session, job_file: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    card, board = at_pour(qtbot, session, job_file)
    way, rows = board.under_way, board.chart.steps
    window = session.window
    assert window._middle.currentWidget() is board and rows.accessibleDescription()
    rows.setFocus()
    first = way.times().steps[0].step  # type: ignore[union-attr]
    qtbot.keyClick(rows, Qt.Key.Key_Home)
    qtbot.keyClick(rows, Qt.Key.Key_Space)
    assert way.times().of(first.id).state is State.RUNNING  # type: ignore[union-attr]
    qtbot.keyClick(rows, Qt.Key.Key_Return)
    assert way.times().of(first.id).state is State.DONE  # type: ignore[union-attr]
    qtbot.keyClick(rows, Qt.Key.Key_Down)
    assert rows.chosen == 1
    # a line of the list, a reading by hand
    box = next(iter(card._boxes.values()))
    box.click()
    assert len(next(iter(card._seen_at.values())).text()) == 5  # ticked with its time
    card.reading.setValue(640.0)
    click(qtbot, next(one for one in card.findChildren(type(card.foot)) if one.text() == "Note it"))
    assert way.curve.now == 640.0 and len(way.run.readings) == 1
    assert "see to" in card.before.title
    # another program takes it up where it is
    kept = load("Block")
    assert first.id in kept.steps and len(kept.checks) == 1 and kept.readings[0].by == "hand"
    again = Session(Settings(tmp_path / "again"))
    try:
        again.window.show()
        _, second = at_pour(qtbot, again, job_file)
        qtbot.waitUntil(lambda: second.under_way.run == kept, timeout=LONG)
        assert second.under_way.times().of(first.id).state is State.DONE  # type: ignore[union-attr]
        assert second.under_way.curve.now == 640.0  # its curve too
    finally:
        again.close()
    # large figures, the heat, and back
    window.actions_by_name["Large figures for the shed"].trigger()
    assert board.stack.currentIndex() == 1 and board.large.accessibleDescription()
    window.grab()
    click(qtbot, card.seen.button("freeze"))
    assert not card.on_board and window._middle.currentWidget() is not board
    click(qtbot, card.seen.button("clock"))
    assert window._middle.currentWidget() is board and board.stack.currentIndex() == 0
    window.grab()
    # the card as a file
    out = tmp_path / "card.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(out), ""))
    window.actions_by_name["Write the pour card"].trigger()
    qtbot.waitUntil(out.exists, timeout=LONG)
    window.actions_by_name["Begin another pour of this job"].trigger()
    assert way.run.steps == {} and not run_file("Block").exists()


def test_choices_change_the_plan_and_are_undone(qtbot: QtBot, session: Session, job_file: Path) -> None:
    card, board = at_pour(qtbot, session, job_file)
    window, way = session.window, board.under_way

    def after(act: Callable[[], object], there: Callable[[PourResult], bool]) -> None:
        act()
        qtbot.waitUntil(lambda: way.made is not None and there(way.made), timeout=LONG)
        settled(qtbot, window)

    assert way.made is not None
    warm = way.made.first.mould.aim_c
    after(lambda: card.moulds.setValue(3), lambda made: len(made.turns) == 3)
    qtbot.waitUntil(lambda: "at the first mould" in board.head.accessibleName(), timeout=LONG)
    after(lambda: click(qtbot, card.school.button("hot")), lambda made: made.first.mould.aim_c > warm)
    card.at.setText("25:99")
    card._at()
    assert "no time of day" in window.notice.text.text()
    # at whatever time of day this runs, a time that can still be met
    wanted = f"{datetime.now().astimezone() + timedelta(hours=9):%H:%M}"
    card.at.setText(wanted)
    after(card._at, lambda _made: window.document.job is not None and window.document.job.pour.at == wanted)
    times = way.times()
    assert times is not None and f"{times.pour.astimezone():%H:%M}" == wanted
    card.fall.setText("760:740:60")
    after(card._fall, lambda made: made.pot.own)
    for _ in range(4):
        window.document.undo()
    assert window.document.job is not None and window.document.job.pour == block()[0].pour
    after(window.refresh, lambda made: len(made.turns) == 1 and made.first.mould.aim_c == warm)


def test_own_things_are_changed_in_their_tables(
    qtbot: QtBot, session: Session, job_file: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    card, board = at_pour(qtbot, session, job_file)
    dialog = ThingsDialog(card)
    qtbot.addWidget(dialog)
    dialog.show()
    dialog._add()
    row = dialog.crucibles.rowCount() - 1
    dialog.crucibles.item(row, 0).setText("Garden pot")  # type: ignore[union-attr]
    dialog.crucibles.item(row, 1).setText("lots")  # type: ignore[union-attr]
    dialog._save()
    assert "'lots' is no figure" in dialog.trouble.text()
    dialog.crucibles.item(row, 1).setText("0,35")  # type: ignore[union-attr]
    dialog.written.connect(session.document.work)
    dialog._save()
    assert [one.brim_l for one in own_things().crucibles if one.id == "garden-pot"] == [0.35]
    settled(qtbot, session.window)
    began = time.monotonic()
    while board.under_way.made is None and time.monotonic() - began < HOLDS:
        qtbot.wait(50)
    card.refresh()
    assert card.crucible.findData("garden-pot") > 0
    assert dialog.things() == own_things()
    # what is chosen is taken for the job on the bench
    job = session.document.job
    assert job is not None
    dialog.taken.connect(lambda thing: session.document.edit(pour_edits.take_thing, thing))
    dialog.tabs.setCurrentWidget(dialog.weights)
    dialog._use()
    assert "first" in dialog.trouble.text() and session.document.job == job
    dialog.tabs.setCurrentWidget(dialog.printers)
    dialog.printers.selectRow(1)
    dialog._use()
    dialog.tabs.setCurrentWidget(dialog.crucibles)
    dialog.crucibles.selectRow(row)
    dialog._use()
    dialog.tabs.setCurrentWidget(dialog.sands)
    dialog._add()
    dialog.sands.item(0, 1).setText("0.9")  # type: ignore[union-attr]
    dialog.sands.item(0, 2).setText("1100")  # type: ignore[union-attr]
    dialog._use()
    now = session.document.job
    assert now is not None and now.pour.crucible == "garden-pot" and now.pattern.bed_mm == (130.0, 80.0, 150.0)
    assert (now.freeze.sand_conducts, now.freeze.sand_heat) == (0.9, 1100.0)
    bench = tmp_path / "bench.json"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(bench), ""))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: (str(bench), ""))
    dialog._export()
    dialog.sands.removeRow(0)
    dialog._import()
    assert dialog.sands.rowCount() == 1 and "Read from" in dialog.trouble.text()


def test_a_pour_that_was_left_lying_is_asked_about(qtbot: QtBot, session: Session, job_file: Path) -> None:
    long_ago = datetime.now(UTC) - timedelta(days=4)
    save(Run("Block", {"temper": Did(long_ago, long_ago + timedelta(minutes=15), "Riddle the sand", rung=True)}))
    at_pour(qtbot, session, job_file)
    qtbot.waitUntil(lambda: "begun on" in session.window.notice.text.text(), timeout=LONG)
    assert f"{long_ago.astimezone():%B}" in session.window.notice.text.text()
