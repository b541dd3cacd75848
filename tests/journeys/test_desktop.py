"""The real window, driven as a user drives it."""

import os
import signal
import time
from pathlib import Path

import manifold3d
import numpy as np
import pytest
import trimesh
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QTimer, QUrl
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QApplication, QFileDialog, QLabel, QPushButton
from pytestqt.qtbot import QtBot

from pounce.base.errors import UserFault
from pounce.bench.app import Session
from pounce.bench.cards.draw import CandidateRow, DrawCard
from pounce.bench.cards.metal import MetalCard
from pounce.bench.cards.part import PartCard
from pounce.bench.cards.parting import PartingCard
from pounce.bench.cards.pattern import PatternCard
from pounce.bench.headlines import headline
from pounce.bench.settings import Settings
from pounce.bench.stops.view import title_of
from pounce.bench.widgets.causes import CauseRow, CuredRow
from pounce.bench.widgets.parts import Figure
from pounce.bench.window import Window
from pounce.job import edits
from pounce.job.unsaved import edits_file
from pounce.route.opening import open_any
from pounce.route.stops import MOULD, ids
from tests.conftest import box, mesh_of, write_stl
from tests.journeys.windows import click, cut_off, opened, settled
from tests.waits import LONG, slowness


def test_from_a_part_to_files_and_back(
    qtbot: QtBot, session: Session, bearing: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = opened(qtbot, session, bearing)
    document = window.document
    assert window.stop == "part"
    card = window.cards["part"]
    assert isinstance(card, PartCard)
    answer = next(b for b in card.findChildren(QPushButton) if b.text() == "Millimetres")
    click(qtbot, answer)
    assert document.job is not None
    assert document.job.part.unit == "mm"
    settled(qtbot, window)

    window.go("metal")
    metal = window.cards["metal"]
    assert isinstance(metal, MetalCard)
    chip = window.ticket.metal.menu()
    assert chip is not None
    next(action for action in chip.actions() if action.text() == "Grey iron").trigger()
    settled(qtbot, window)
    assert document.results().metal.metal_id == "grey-iron"  # type: ignore[union-attr]
    assert metal.percent.value() == pytest.approx(1.0)
    metal.inches.setValue(5 / 32)
    assert document.job.method.contraction_percent == pytest.approx(
        100 * 5 / 389, abs=1e-3
    )  # r inches in a foot: 100 r / (12 + r)
    settled(qtbot, window)

    window.go("draw")
    draw = window.cards["draw"]
    assert isinstance(draw, DrawCard)
    click(qtbot, draw.axis.button("y"))
    settled(qtbot, window)
    results = document.results()
    assert results is not None and results.draw is not None
    assert list(results.draw.direction) == [0.0, 1.0, 0.0]
    assert "along +y" in headline("draw", results, "mm").head
    document.undo()
    settled(qtbot, window)
    assert document.results().draw.direction[2] == 1.0  # type: ignore[union-attr]

    window.go("parting")
    parting = window.cards["parting"]
    assert isinstance(parting, PartingCard)
    parting.joint.setValue(5.0)
    settled(qtbot, window)
    assert document.results().parting.height_mm == 5.0  # type: ignore[union-attr]
    click(qtbot, parting.how.button("auto"))
    settled(qtbot, window)
    assert document.results().parting.height_mm == pytest.approx(0.0, abs=1e-6)  # type: ignore[union-attr]

    out = tmp_path / "out"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(out), ""))
    window.go("pattern")
    with qtbot.waitSignal(document.built, timeout=LONG):
        click(qtbot, window.cards["pattern"].foot)
    half = trimesh.load_mesh(out / "cope-half.3mf")
    assert half.extents[0] == pytest.approx(120 * (1 + 5 / 32 / 12), abs=0.005)
    assert window.notice.isVisible()
    assert "read back" in window.notice.text.text()

    kept = tmp_path / "bearing.pounce"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(kept), ""))
    window.actions_by_name["Save the job as"].trigger()
    qtbot.waitUntil(lambda: kept.exists() and not document.history.dirty, timeout=LONG)  # type: ignore[union-attr]
    assert window.status.saved.text() == "Saved"
    before = document.job
    while document.history is not None and document.history.before:
        document.undo()
    assert document.job.part.unit is None
    opened(qtbot, session, kept)
    assert document.job.method == before.method
    assert document.job.parting == before.parting


def test_every_stop_says_one_true_sentence_and_draws(qtbot: QtBot, session: Session, arm: Path) -> None:
    window = opened(qtbot, session, arm)
    for stop in ids():
        action = window.actions_by_name[f"Go to {title_of(stop)}"]
        # ten stops have a digit
        assert action.shortcut().toString() == "1234567890"[ids().index(stop) :][:1]
        action.trigger()
        assert window.stop == stop
        qtbot.waitUntil(lambda: window.bench.drawn, timeout=LONG)
        said = headline(stop, window.document.results(), "mm")  # type: ignore[arg-type]
        assert said.head.endswith(".")
        picture = window.bench.grab().toImage()
        colours = {
            picture.pixel(x, y) for x in range(40, picture.width(), 9) for y in range(80, picture.height() - 60, 9)
        }
        assert len(colours) > 20
        assert not cut_off(window.cards[stop])
    assert "flat back" in headline("parting", window.document.results(), "mm").head  # type: ignore[arg-type]


def test_bad_input_is_said_and_the_job_stays(qtbot: QtBot, session: Session, arm: Path, tmp_path: Path) -> None:
    window = opened(qtbot, session, arm)
    job = window.document.job
    (tmp_path / "letter.stl").write_text("Dear foundry,\n" * 9)
    window.open(tmp_path / "letter.stl")
    qtbot.waitUntil(window.notice.isVisible, timeout=LONG)
    assert "letter.stl" in window.notice.text.text()
    assert window.document.job is job
    assert window.document.results().pattern is not None  # type: ignore[union-attr]


def test_an_open_shell_is_shown_and_said(qtbot: QtBot, session: Session, tmp_path: Path) -> None:
    mesh = mesh_of(manifold3d.Manifold.cylinder(30, 20, 15, 64))
    cup = write_stl(tmp_path / "cup.stl", mesh.part(np.flatnonzero(mesh.normals[:, 2] < 0.9)))
    window = opened(qtbot, session, cup)
    assert window.document.results().parting is not None  # type: ignore[union-attr]
    window.go("pattern")
    card = window.cards["pattern"]
    assert isinstance(card, PatternCard)
    assert not card.foot.isEnabled()
    assert "open" in headline("pattern", window.document.results(), "mm").head  # type: ignore[arg-type]


def test_a_model_dropped_on_the_window_opens(qtbot: QtBot, session: Session, arm: Path) -> None:
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(arm))])
    actions, buttons, keys = Qt.DropAction.CopyAction, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    enter = QDragEnterEvent(QPoint(300, 300), actions, data, buttons, keys)
    session.window.dragEnterEvent(enter)
    assert enter.isAccepted()
    with qtbot.waitSignal(session.document.opened, timeout=LONG):
        session.window.dropEvent(QDropEvent(QPointF(300, 300), actions, data, buttons, keys))
    assert session.document.job is not None
    assert [name for _, name in session.settings.recent()] == ["Vent quadrant arm"]


def test_units_switch_everywhere(qtbot: QtBot, session: Session, arm: Path) -> None:
    window = opened(qtbot, session, arm)
    document = window.document
    click(qtbot, window.status.units["in"])
    assert "in." in headline("part", window.document.results(), session.document.unit).head  # type: ignore[arg-type]
    assert Settings(session.settings._file.parent).unit == "in"
    window.go("parting")
    window.refresh()
    shown = [label.text() for label in window.cards["parting"].findChildren(QLabel)]
    assert any(text.endswith("\u00a0in") for text in shown)
    assert not any(text.endswith("\u00a0mm") for text in shown)
    # fields too, within their ranges: a bed of 220 mm is neither 9 inches nor the least in mm
    settled(qtbot, window, whole=True)
    for stop in ("parting", "pattern", "mould"):
        window.go(stop)
        window.refresh()
        fields = [one for one in window.cards[stop].findChildren(Figure) if one.isVisible()]
        assert fields and not any(one.suffix() == " mm" for one in fields), stop
    assert document.job is not None
    bed, flask = document.job.pattern.bed_mm, document.results().need(MOULD).flask  # type: ignore[union-attr]
    shown_bed = [one.value() for one in window.cards["pattern"].bed]  # type: ignore[attr-defined]
    assert shown_bed == pytest.approx([bed[0] / 25.4, bed[1] / 25.4], abs=6e-4)
    card = window.cards["mould"]
    assert card.long.value() == pytest.approx(flask.long_mm / 25.4, abs=6e-4)  # type: ignore[attr-defined]
    card.drag.setValue(5.0)  # type: ignore[attr-defined]
    assert document.job.rig.drag_mm == pytest.approx(127.0)


def test_hovering_a_finding_lights_its_place_and_back(qtbot: QtBot, session: Session, bearing: Path) -> None:
    window = opened(qtbot, session, bearing)
    settled(qtbot, window, whole=True)
    window.go("draw")
    window.refresh()
    row = next(r for r in window.cards["draw"].findChildren(CauseRow) if r.cause.regions)
    region = min(row.cause.regions)
    row.enterEvent(None)
    assert window.bench._lit == region
    assert window.section.sketch._lit == region
    row.leaveEvent(None)
    assert window.bench._lit == -1
    window.bench.hovered.emit(region)
    assert row.autoFillBackground()


def test_a_plan_is_shown_taken_and_undone_line_by_line(qtbot: QtBot, session: Session, tmp_path: Path) -> None:
    hole = manifold3d.Manifold.cylinder(100, 5, 5, 64, True).rotate([90, 0, 0]).translate([30, 20, 15])
    window = opened(qtbot, session, write_stl(tmp_path / "block.stl", mesh_of(box(60, 40, 30) - hole)))
    document = window.document
    before = document.job
    window.route.flag.click()
    planning = window.planning
    qtbot.waitUntil(lambda: bool(planning.plans) and not session.worker.busy, timeout=LONG)
    assert window._middle.currentWidget() is planning.bench and window.route.flag.isChecked()
    best = planning.plans[0]
    assert best.title.split(",")[0] in planning.bench.head.text() and best.proof.verdict == "clean"
    told = [one.text() for one in planning.card.findChildren(QLabel)]
    assert any("cures it" in text or "cure it" in text for text in told)
    # a line that is left out is not taken
    planning.bench.ticked.emit(best.lines[-1].id, False)
    planning.bench.ticked.emit(best.lines[-1].id, True)
    planning.card.foot.click()
    assert document.job == best.job and window.stop == "draw"
    assert window.route.flag.accessibleName() == f"Plan, taken, {len(best.lines)} lines"
    settled(qtbot, window)
    qtbot.waitUntil(lambda: document.results() is not None and document.results().causes is not None, timeout=LONG)  # type: ignore[union-attr]
    window.refresh()
    assert window.bench._saying.head == "Proved: the pattern leaves the sand clean."
    assert window.cards["draw"].findChildren(CuredRow)
    # the bare part can be looked at, and the pattern again
    window.cards["draw"].judged.button("wanted").click()
    window.refresh()
    assert "Proved" not in window.bench._saying.head
    window.cards["draw"].judged.button("pattern").click()
    _proved_at_the_pattern(qtbot, window)
    document.undo()
    assert window.route.flag.accessibleName() == "Plan, taken, then changed"
    for _ in best.lines[1:]:
        document.undo()
    assert document.job == before and window.route.flag.accessibleName() == "Plan it for me"


def _proved_at_the_pattern(qtbot: QtBot, window: Window) -> None:
    """The proof stands at the Pattern stop, beside how it is made: what is cured at every stop, and its trial draw."""
    window.actions_by_name["The proof of the pattern"].trigger()
    card, results = window.cards["pattern"], window.document.results()
    assert results is not None and results.causes is not None
    assert window.stop == "pattern" and window.bench._saying.head == "Proved: the pattern leaves the sand clean."
    assert len(card.findChildren(CuredRow)) == len(results.causes.cured) > 0
    assert card.foot.text().startswith("Write") and window._strips.currentWidget() is window.section
    card.play()
    qtbot.waitUntil(lambda: window.trial.mould_shown and window.trial.under_way, timeout=LONG)
    assert window.lift_scale.isVisible() and "no sand tears" in window.bench._saying.head
    card.mode.button("making").click()  # type: ignore[attr-defined]
    assert not window.trial.under_way and "Proved" not in window.bench._saying.head


def test_the_command_search_finds_and_acts(qtbot: QtBot, session: Session, arm: Path) -> None:
    window = opened(qtbot, session, arm)
    window.actions_by_name["Find a command"].trigger()
    dialog = window.learning.palette
    qtbot.keyClicks(dialog.field, "go to pattern")
    assert dialog.list.count() == 1
    qtbot.keyClick(dialog.field, Qt.Key.Key_Return)
    assert window.stop == "pattern"
    window.actions_by_name["The craft behind this stop"].trigger()
    assert "Pattern" in window.learning.page.windowTitle()
    window.learning.page.close()


@pytest.mark.alone
def test_work_is_cancelled_within_half_a_second_and_can_be_asked_again(
    qtbot: QtBot, session: Session, tmp_path: Path
) -> None:
    big = write_stl(tmp_path / "big.stl", mesh_of(manifold3d.Manifold.sphere(50, 440)))
    window = session.window
    window.open(big)
    qtbot.waitUntil(lambda: session.worker.busy and session.worker._current.verb == "open", timeout=LONG)  # type: ignore[union-attr]
    begun = time.perf_counter()
    session.worker.cancel()
    qtbot.waitUntil(lambda: not session.worker.busy, timeout=LONG)
    took = time.perf_counter() - begun
    print(f"cancelled in {took:.2f} s")
    assert took < 0.5 * slowness()
    assert window.document.job is None
    opened(qtbot, session, big)
    assert window.document.results().pattern is not None  # type: ignore[union-attr]


def test_a_worker_that_dies_is_replaced_and_said(qtbot: QtBot, session: Session, arm: Path) -> None:
    window = opened(qtbot, session, arm)
    qtbot.waitUntil(lambda: session.worker._current is None, timeout=LONG)
    worker = session.worker._process
    os.kill(worker.pid, signal.SIGSTOP)  # it must not finish before it dies
    session.worker.ask("run", window.document.job, text="Looking")
    worker.kill()
    qtbot.waitUntil(window.notice.isVisible, timeout=LONG)
    assert "job is safe" in window.notice.text.text()
    window.document.edit(edits.set_draw, (1.0, 0.0, 0.0))
    settled(qtbot, window)
    assert window.document.results().draw.direction[0] == 1.0  # type: ignore[union-attr]


@pytest.mark.alone
def test_the_window_never_stalls_during_a_check_of_half_a_million_triangles(
    qtbot: QtBot, session: Session, tmp_path: Path
) -> None:
    """A heartbeat of 5 ms on the event loop: no two beats lie more than 100 ms apart.

    Shared machines stop all their processes for a moment now and then (a sampler beside the loop stopped with it), so
    the best of six tries counts: a stall of the window's own would be there every time.
    """
    window = session.window
    qtbot.waitUntil(lambda: not session.worker.busy, timeout=LONG)
    longest: list[float] = []
    for attempt in range(6):
        ball = manifold3d.Manifold.sphere(50 + attempt, 1010)
        bore = manifold3d.Manifold.cylinder(200, 9, 9, 200, True).rotate([90, 0, 0])
        path = write_stl(tmp_path / f"large-{attempt}.stl", mesh_of(ball - bore))
        longest.append(_longest_gap(qtbot, session, path))
        assert len(window.document.results().part.mesh.faces) > 450_000  # type: ignore[union-attr]
        if longest[-1] < 0.1:
            break
    print(f"longest gaps {[round(gap * 1000) for gap in longest]} ms")
    assert min(longest) < 0.1


def _longest_gap(qtbot: QtBot, session: Session, path: Path) -> float:
    """The longest time between two beats while a file is opened, judged and looked at."""
    window = session.window
    gaps: list[float] = []
    last = [time.perf_counter()]

    def beat() -> None:
        now = time.perf_counter()
        gaps.append(now - last[0])
        last[0] = now

    heart = QTimer()
    heart.setTimerType(Qt.TimerType.PreciseTimer)
    heart.timeout.connect(beat)
    heart.start(5)
    with qtbot.waitSignal(session.document.opened, timeout=LONG):
        window.open(path)
    for stop in ("draw", "metal", "parting", "draw"):
        window.go(stop)
        qtbot.wait(150)
    # the whole line of so large a part, to the heat in its mould, takes half a minute of the quickest core here; the
    # time itself is held by the benches, this test only hears the heart beat through it
    settled(qtbot, window, 6 * LONG)
    qtbot.waitUntil(lambda: window.bench.drawn, timeout=LONG)
    heart.stop()
    assert len(gaps) > 200
    return max(gaps)


@pytest.mark.parametrize("under_way", [False, True], ids=["on closing", "while it is under way"])
def test_an_unsaved_job_is_put_aside_and_found_on_the_shelf(
    qtbot: QtBot, session: Session, arm: Path, under_way: bool
) -> None:
    window = opened(qtbot, session, arm)
    window.document.edit(edits.set_metal, "pewter")
    window.document.aside._later.stop()
    settled(qtbot, window)
    if under_way:
        qtbot.waitUntil(lambda: session.worker._current is None, timeout=LONG)
        window.document.aside.put()
        assert session.worker._current is not None and session.worker._current.verb == "save"
    window.close()
    path, name = session.settings.recent()[0]
    assert name == "Vent quadrant arm (unsaved)"
    job, _ = open_any(path)
    assert job.method.metal == "pewter"


@pytest.mark.fresh
def test_edits_made_while_the_worker_is_busy_are_on_the_disk_at_once(
    qtbot: QtBot, session: Session, tmp_path: Path
) -> None:
    """The copy with the part in it waits for the run; the edits do not, and open with the part's own file."""
    big = write_stl(tmp_path / "big.stl", mesh_of(manifold3d.Manifold.sphere(50, 440)))
    with qtbot.waitSignal(session.document.opened, timeout=LONG):
        session.window.open(big)
    qtbot.waitUntil(lambda: session.worker._current is not None and session.worker._current.verb == "run", timeout=LONG)
    session.document.edit(edits.set_metal, "pewter")
    aside = session.settings.aside_file(session.document.job.part.model)  # type: ignore[union-attr]
    qtbot.waitUntil(edits_file(aside).exists, timeout=3000)
    assert session.worker.busy and not aside.exists()
    # what a power cut would leave
    path, name = session.settings.recent()[0]
    assert path == aside and name == "Big (unsaved)"
    job, model = open_any(path)
    assert job.method.metal == "pewter" and model.triangles == 96_800
    big.unlink()
    with pytest.raises(UserFault):
        open_any(path)


@pytest.mark.fresh
def test_a_check_that_was_stopped_says_so_and_goes_on_when_asked(
    qtbot: QtBot, session: Session, tmp_path: Path
) -> None:
    big = write_stl(tmp_path / "big.stl", mesh_of(manifold3d.Manifold.sphere(50, 440)))
    window = session.window
    with qtbot.waitSignal(session.document.opened, timeout=LONG):
        window.open(big)
    qtbot.waitUntil(lambda: session.worker._current is not None and session.worker._current.verb == "run", timeout=LONG)
    session.worker.cancel()
    qtbot.waitUntil(lambda: not session.worker.busy, timeout=LONG)
    window.go("pattern")
    said = headline("pattern", session.document.results(), "mm", session.worker.busy)  # type: ignore[arg-type]
    assert said.head == "Stopped before this was worked out."
    window.actions_by_name["Look at the part again"].trigger()
    settled(qtbot, window)
    assert session.document.results().pattern is not None  # type: ignore[union-attr]


def test_the_draw_is_turned_by_hand_and_judged_on_release(qtbot: QtBot, session: Session, bearing: Path) -> None:
    window = opened(qtbot, session, bearing)
    window.document.edit(edits.set_unit, "mm")
    settled(qtbot, window)
    window.go("draw")
    qtbot.waitUntil(lambda: window.bench.drawn, timeout=LONG)
    # pictures and sections of the card come first: while they are made only the last place of the hand is answered
    qtbot.waitUntil(lambda: session.worker._current is None and not session.worker._queue, timeout=LONG)
    before = window.bench.labels.chips
    hold = window.bench.labels.pictogram_box().center().toPoint()
    answers: list[dict[str, object]] = []
    window.tilting.answered.connect(answers.append)
    qtbot.mousePress(window.bench, Qt.MouseButton.LeftButton, pos=hold)
    for step in range(8):
        qtbot.mouseMove(window.bench, hold + QPoint(4 * step, 0))
        qtbot.wait(60)
    qtbot.waitUntil(lambda: len(answers) >= 2, timeout=LONG)
    assert window.bench.tilting
    assert window.bench.labels.chips != before  # the areas count along
    assert "while you hold it" in window.bench._saying.head
    assert window.document.job is not None and window.document.job.draw.direction is None  # nothing is changed yet
    total = sum(float(answers[-1][key]) for key in ("clean_mm2", "tight_mm2", "locked_mm2"))  # type: ignore[arg-type]
    assert total == pytest.approx(window.document.results().part.area_mm2, rel=1e-6)  # type: ignore[union-attr]
    qtbot.mouseRelease(window.bench, Qt.MouseButton.LeftButton, pos=hold + QPoint(28, 0))
    settled(qtbot, window)
    direction = window.document.job.draw.direction
    assert direction is not None and 0.9 < direction[2] < 0.999
    window.document.undo()
    settled(qtbot, window)
    window.actions_by_name["Tilt the draw right"].trigger()
    settled(qtbot, window)
    tilted = window.document.job.draw.direction
    assert tilted is not None and np.degrees(np.arccos(tilted[2])) == pytest.approx(2.0, abs=0.01)


def test_choosing_a_candidate_redraws_everything(qtbot: QtBot, session: Session, bearing: Path) -> None:
    window = opened(qtbot, session, bearing)
    window.document.edit(edits.set_unit, "mm")
    settled(qtbot, window)
    window.go("draw")
    rows = window.cards["draw"].findChildren(CandidateRow)
    assert len(rows) == 3 and rows[0].isChecked()
    assert all("Costs" in row.accessibleName() for row in rows)
    qtbot.waitUntil(lambda: len(window.document.looks()) >= 3, timeout=LONG)
    rows = window.cards["draw"].findChildren(CandidateRow)
    click(qtbot, rows[1])
    settled(qtbot, window)
    results = window.document.results()
    assert results is not None and results.draw is not None and results.draw.chosen_by == "user"
    assert abs(results.draw.direction[1]) == pytest.approx(1.0)


def test_the_trial_draw_lifts_the_cope_and_shows_the_sand_that_stays(
    qtbot: QtBot, session: Session, bearing: Path
) -> None:
    window = opened(qtbot, session, bearing)
    window.document.edit(edits.set_unit, "mm")
    settled(qtbot, window)
    window.go("parting")
    card = window.cards["parting"]
    assert isinstance(card, PartingCard)
    click(qtbot, card.lifting.lift_button)
    assert card.lifting.under_way and window.lift_scale.isVisible()
    qtbot.waitUntil(lambda: window.trial.mould_shown and card.lifting.lift_mm >= card.most(), timeout=LONG)
    qtbot.waitUntil(lambda: window.bench.drawn, timeout=LONG)
    assert "of sand stays behind" in window.bench._saying.head
    qtbot.keyClick(window.lift_scale, Qt.Key.Key_Down)
    assert card.lifting.lift_mm < card.most()
    click(qtbot, card.lifting.draw_button)
    qtbot.waitUntil(lambda: card.lifting.drawn_mm > 0.5 * card.most(), timeout=LONG)
    assert card.foot.text() == "End the trial"
    click(qtbot, card.foot)
    assert not card.lifting.under_way and not window.lift_scale.isVisible()
    assert "Trial draw" not in window.bench._saying.head


def test_measuring_thickness_distance_and_angle(qtbot: QtBot, session: Session, tmp_path: Path) -> None:
    window = opened(qtbot, session, write_stl(tmp_path / "block.stl", mesh_of(manifold3d.Manifold.cube([60, 40, 20]))))
    window.document.edit(edits.set_unit, "mm")
    settled(qtbot, window)
    window.go("draw")
    bench = window.bench
    qtbot.waitUntil(lambda: bench.drawn, timeout=LONG)
    window.actions_by_name["Measure on the part"].trigger()
    area = bench._area()

    def at(point: tuple[float, float, float]) -> QPoint:
        x, y, _ = bench._camera.project(np.array([point]), area.width(), area.height())[0]
        return QPoint(round(x + area.x()), round(y + area.y()))

    for count, point in enumerate(((10.0, 10.0, 20.0), (50.0, 10.0, 20.0), (50.0, 30.0, 20.0)), 1):
        qtbot.mouseClick(bench, Qt.MouseButton.LeftButton, pos=at(point))
        qtbot.waitUntil(lambda count=count: len(bench._spots) == count, timeout=LONG)
        if count == 1:
            assert bench.labels.said.startswith("20\u00a0mm thick here")
        if count == 2:
            assert float(bench.labels.said.split("\u00a0")[0]) == pytest.approx(40.0, abs=0.5)
    assert float(bench.labels.said.split("°")[0]) == pytest.approx(90.0, abs=1.5)
    window.actions_by_name["Measure on the part"].trigger()
    assert not bench.measuring and bench.labels.marks == ()


def test_a_joint_that_follows_the_part_is_nudged_and_let_go(qtbot: QtBot, session: Session, tmp_path: Path) -> None:
    plate = manifold3d.Manifold.cube([80, 50, 6], True).rotate([0, 10, 0])
    window = opened(qtbot, session, write_stl(tmp_path / "plate.stl", mesh_of(plate)))
    for make, *arguments in ((edits.set_unit, "mm"), (edits.set_draw, (0.0, 0.0, 1.0))):
        window.document.edit(make, *arguments)
    settled(qtbot, window)
    window.go("parting")
    card = window.cards["parting"]
    assert isinstance(card, PartingCard)
    click(qtbot, card.how.button("natural"))
    settled(qtbot, window)
    results = window.document.results()
    assert results is not None and results.parting is not None
    assert results.parting.kind == "natural" and results.parting.relief_mm > 5.0
    assert "follows the part" in window.bench._saying.head
    card.joint.setValue(2.0)
    settled(qtbot, window)
    assert window.document.job.parting.nudges == ((0, 2.0),)  # type: ignore[union-attr]
    assert window.document.results().parting.locked_mm2 > results.parting.locked_mm2  # type: ignore[union-attr]
    click(qtbot, card.free)
    settled(qtbot, window)
    assert window.document.job.parting.nudges == ()  # type: ignore[union-attr]


def test_the_shelf_shows_as_many_jobs_as_there_is_room_for(qtbot: QtBot, session: Session, tmp_path: Path) -> None:
    """Ten stops leave little room at 800 lines: what does not fit is left out, and nothing is squeezed."""
    window, route = session.window, session.window.route
    for k in range(8):
        path = tmp_path / f"job-{k}.pounce"
        path.write_bytes(b"")
        session.document.settings.remember(path, f"Job {k}")
    seen = {}
    for high in (800, 1100):
        window.resize(1280, high)
        session.document.shelf_changed.emit()
        qtbot.waitUntil(lambda high=high: window.height() <= high, timeout=LONG)  # type: ignore[misc]
        QApplication.processEvents()
        shown = [one for one in route._entries if one.isVisible()]
        seen[high] = len(shown)
        assert all(one.height() >= one.minimumSizeHint().height() for one in shown)
        assert all(one.mapTo(route, one.rect().bottomLeft()).y() <= route.height() for one in shown)
    assert 1 <= seen[800] <= seen[1100] <= 6
