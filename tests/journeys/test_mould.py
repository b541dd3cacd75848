"""Mould from the command and in the window: a plan, a hand that moves a casting, files that a moulder carries."""

import io
import json
from pathlib import Path

import msgspec
import numpy as np
import pytest
import shapely
from pypdf import PdfReader
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QWheelEvent
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from pounce.bench.app import Session
from pounce.bench.look.style import dress
from pounce.bench.mould.board import MouldBoard
from pounce.bench.widgets.flasks import FlasksDialog
from pounce.bench.window import Window
from pounce.job import file, rig_edits
from pounce.part.formats import read_3mf
from pounce.rig.flasks import SAMPLE, own_flasks
from pounce.rig.hands import to_part
from pounce.route.demo_jobs import DEMOS, job_file
from pounce.route.opening import open_any
from pounce.route.stops import MOULD
from pounce.solid.boolean import closed_solid
from pounce.solid.mesh import Mesh
from tests.conftest import box, mesh_of, write_stl
from tests.journeys.test_command import pounce
from tests.journeys.windows import opened, settled
from tests.waits import LONG


@pytest.fixture
def part(tmp_path: Path) -> Path:
    return write_stl(tmp_path / "block.stl", mesh_of(box(80, 50, 30)))


def test_command_rig_and_its_files(part: Path, tmp_path: Path) -> None:
    """Two castings: the keys of the contract, and every file of a build is closed and holds what was said."""
    said = json.loads(pounce("rig", part, "--unit", "mm", "--count", 2, "--json").stdout)
    assert said["schema"] == "pounce.rig/1" and len(said["castings"]) == 2 and len(said["gates"]) >= 2
    kg = said["mass_kg"]
    assert kg["total"] == pytest.approx(kg["castings"] + kg["gating"] + kg["basin"])
    assert all(one["sand_mm"] >= one["wanted_mm"] - 0.1 for one in said["margins_mm"]["measured"])
    words = pounce("rig", part, "--unit", "mm", "--flask", "deep-box").stdout
    assert "Deep flask" in words and "Pour" in words
    refused = pounce("rig", part, "--unit", "mm", "--flask", "barrel", code=2).stderr
    assert "there is no 'barrel'" in refused and "bench-box" in refused
    pounce("build", part, "--unit", "mm", "--count", 2, "--out", tmp_path / "out")
    manifest = json.loads((tmp_path / "out" / "manifest.json").read_text())
    formers = [one for one in manifest["files"] if one["role"] == "former"]
    assert {one["file"] for one in formers} >= {"former-sprue.3mf"} and all(one["closed"] for one in formers)
    for one in formers:
        body = read_3mf(tmp_path / "out" / one["file"]).bodies[0]
        assert closed_solid(Mesh.of(body.vertices, body.faces)) is not None
    pages = PdfReader(io.BytesIO((tmp_path / "out" / "mould-plan.pdf").read_bytes())).pages
    text = "".join(page.extract_text() for page in pages)
    assert "Mould from above" in text and "turned over, for the cope" in text and "vent" in text


def test_command_two_jobs_in_one_mould(part: Path, tmp_path: Path) -> None:
    """Another job goes into the same pour by its file, and is missed in a sentence when that is gone."""
    other = tmp_path / "small-plate.pounce"
    job, model = open_any(write_stl(tmp_path / "plate.stl", mesh_of(box(60, 40, 10))))
    file.save(other, msgspec.structs.replace(job, name="Small plate"), model)
    job, model = open_any(part)
    both = tmp_path / "block.pounce"
    job = rig_edits.also(job, f"{other}=2").job
    file.save(both, job, model)
    said = json.loads(pounce("rig", both, "--json").stdout)
    assert [one["name"] for one in said["castings"]][1:] == ["Small plate 1", "Small plate 2"]
    assert {gate["casting"] for gate in said["gates"]} == {0, 1, 2}
    again = json.loads(pounce("rig", part, "--unit", "mm", "--also", f"{other}=2", "--json").stdout)
    assert len(again["castings"]) == 3
    bare = pounce("rig", part, "--unit", "mm", "--also", tmp_path / "plate.stl", code=2).stderr
    assert "'plate.stl' is no saved job" in bare
    other.unlink()
    missed = pounce("rig", both, code=2).stderr
    assert "Small plate, which is to go into the same mould, is not where it was" in missed


def test_command_flasks() -> None:
    """A flask of one's own is listed, taken first where it fits, and taken away again."""
    assert "bench-box" in pounce("flasks").stdout
    pounce("flasks", "--add", "shed=240x200x80x80:3.1")
    kept = json.loads(pounce("flasks", "--json").stdout)["flasks"]
    assert next(one for one in kept if one["id"] == "shed")["kg"] == 3.1
    pounce("flasks", "--add", "rings=180x60x60:1.2:snap")
    assert "round, snap" in next(one for one in pounce("flasks").stdout.splitlines() if one.startswith("rings"))
    assert "is no flask" in pounce("flasks", "--add", "shed=240", code=2).stderr
    pounce("flasks", "--remove", "shed")
    assert "shed" not in pounce("flasks").stdout
    assert "no flask 'shed'" in pounce("flasks", "--remove", "shed", code=2).stderr


def test_the_window_lays_out_and_a_hand_moves(qtbot: QtBot, session: Session, part: Path, tmp_path: Path) -> None:
    window = opened(qtbot, session, part)
    window.actions_by_name["Go to Mould"].trigger()
    settled(qtbot, window)
    qtbot.waitUntil(lambda: window.document.results().get(MOULD) is not None, timeout=LONG)
    window.refresh()
    board = window.boards["mould"]
    assert isinstance(board, MouldBoard) and board.isVisible() and not window.bench.isVisible()
    assert "One casting in the" in board.plan.accessibleDescription()
    before = window.document.results().need(MOULD)
    assert window.route.buttons["mould"].accessibleName().startswith("Mould: 1 up")
    _drag(board, before.castings[0].at_mm, 4.0)
    settled(qtbot, window)
    qtbot.waitUntil(lambda: window.document.results().get(MOULD) is not None, timeout=LONG)
    after = window.document.results().need(MOULD)
    assert after.pinned and after.flask == before.flask
    moved = np.array(after.castings[0].at_mm) - np.array(before.castings[0].at_mm)
    assert moved[0] == pytest.approx(4.0, abs=0.6) and moved[1] == pytest.approx(0.0, abs=0.6)
    # the same by keys: an arrow moves it by a millimetre, Tab goes on to the sprue
    window.refresh()
    _press(board, Qt.Key.Key_Right)
    assert window.document.job.rig.placed[0].at_mm[0] == pytest.approx(after.castings[0].at_mm[0] + 1.0)
    settled(qtbot, window)
    qtbot.waitUntil(lambda: window.document.results().get(MOULD) is not None, timeout=LONG)
    window.refresh()
    _press(board, Qt.Key.Key_Tab)
    _press(board, Qt.Key.Key_Up)
    assert window.document.job.rig.sprue_mm[1] == pytest.approx(after.sprue.at_mm[1] + 1.0)
    settled(qtbot, window)
    qtbot.waitUntil(lambda: window.document.results().get(MOULD) is not None, timeout=LONG)
    window.refresh()
    turned = window.document.job.rig.placed[0].turn_deg
    _wheel(board, window.document.job.rig.placed[0].at_mm)
    assert (window.document.job.rig.placed[0].turn_deg - turned) % 360.0 == pytest.approx(5.0)
    for _ in range(4):
        window.actions_by_name["Undo"].trigger()
    assert window.document.job.rig.placed == ()
    _slide_a_gate(qtbot, window, board)
    # a job of the shelf goes into the same mould, and out again
    other = tmp_path / "other.pounce"
    job, model = open_any(part)
    file.save(other, msgspec.structs.replace(job, name="Other block"), model)
    session.settings.remember(other, "Other block")
    card = window.cards["mould"]
    assert (other, "Other block") in card.guests.choices()
    card.guests.added.emit(str(other), "Other block")
    settled(qtbot, window)
    qtbot.waitUntil(lambda: window.document.results().get(MOULD) is not None, timeout=LONG)
    assert [one.name for one in window.document.results().need(MOULD).castings][1] == "Other block"
    window.refresh()
    assert not card.guests.choices()
    card.guests.counted.emit(0, 2)
    assert window.document.job.rig.guests[0].count == 2
    card.guests.gone.emit(0)
    assert window.document.job.rig.guests == ()


def _slide_a_gate(qtbot: QtBot, window: Window, board: MouldBoard) -> None:
    """A gate is dragged along its casting, and moved on by keys; undone, the program sets it again."""
    settled(qtbot, window)
    qtbot.waitUntil(lambda: window.document.results().get(MOULD) is not None, timeout=LONG)
    window.refresh()
    gate = window.document.results().need(MOULD).gates[0]
    turn = np.radians(gate.way_deg)
    held = np.array(gate.at_mm[:2]) + 5.0 * np.array([np.cos(turn), np.sin(turn)])
    along = np.array([-np.sin(turn), np.cos(turn)])
    along *= 1.0 if along[np.argmax(np.abs(along))] > 0.0 else -1.0
    _drag_by(board, (float(held[0]), float(held[1])), tuple((6.0 * along).tolist()))
    assert len(window.document.job.rig.gates_mm) == 1
    settled(qtbot, window)
    qtbot.waitUntil(lambda: window.document.results().get(MOULD) is not None, timeout=LONG)
    window.refresh()
    made = window.document.results().need(MOULD)
    assert made.pinned and window.cards["mould"].anew.isVisible()
    put = window.document.job.rig.gates_mm[0]
    there = to_part(made, made.castings[0], np.array(made.gates[0].at_mm))
    assert there[:2] == pytest.approx(put[:2], abs=1.0)
    turn = np.radians(made.gates[0].way_deg)
    sideways = abs(np.sin(turn)) > abs(np.cos(turn))  # its casting's side runs left and right
    before = window.document.job.rig.gates_mm
    _press(board, Qt.Key.Key_Left if sideways else Qt.Key.Key_Down)
    assert window.document.job.rig.gates_mm != before
    for _ in range(2):
        window.actions_by_name["Undo"].trigger()
    assert window.document.job.rig.gates_mm == ()


def test_a_tree_stands_in_its_pail_and_a_hand_moves_both_tiers(qtbot: QtBot, session: Session) -> None:
    window = opened(qtbot, session, job_file(DEMOS[-1]))
    window.actions_by_name["Go to Mould"].trigger()
    qtbot.waitUntil(lambda: window.document.results().get(MOULD) is not None, timeout=LONG)
    window.refresh()
    board, card = window.boards["mould"], window.cards["mould"]
    assert isinstance(board, MouldBoard)
    assert "Four castings, two tiers of a tree, in the steel pail" in board.plan.accessibleDescription()
    assert card.tree.isVisible() and card.tiers.value() == 2.0
    before = window.document.results().need(MOULD)
    seen = next(one for one in before.shapes if one.kind == "casting" and one.casting == 0)
    _drag(board, shapely.Polygon(seen.rings[0]).representative_point().coords[0], 3.0)
    assert len(window.document.job.rig.placed) == 2, "a place by hand is every tier's"
    qtbot.waitUntil(lambda: window.document.results().get(MOULD) is not None, timeout=LONG)
    after = window.document.results().need(MOULD)
    assert after.tiers == 2 and after.castings[0].at_mm == after.castings[2].at_mm != before.castings[0].at_mm
    card.tiers.given.emit(1.0)
    assert window.document.job.rig.tiers == 1 and window.document.job.rig.placed == ()
    qtbot.waitUntil(lambda: window.document.results().get(MOULD) is not None, timeout=LONG)
    window.refresh()
    assert "tree" not in board.plan.accessibleDescription() and card.tree.isVisible()
    card.count.given.emit(1.0)
    window.refresh()
    assert not card.tree.isVisible(), "one casting is no tree"


def _press(board: MouldBoard, key: Qt.Key) -> None:
    QApplication.sendEvent(board.plan, QKeyEvent(QEvent.Type.KeyPress, key, Qt.KeyboardModifier.NoModifier))


def _wheel(board: MouldBoard, at_mm: tuple[float, float]) -> None:
    """A notch of the wheel over a casting."""
    spot = board.plan._frame.map(QPointF(*at_mm))
    event = QWheelEvent(
        spot,
        board.plan.mapToGlobal(spot),
        QPoint(0, 0),
        QPoint(0, 120),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    QApplication.sendEvent(board.plan, event)


def _drag(board: MouldBoard, at_mm: tuple[float, float], by_mm: float) -> None:
    """Presses on a casting, moves it sideways and lets go."""
    _drag_by(board, at_mm, (by_mm, 0.0))


def _drag_by(board: MouldBoard, at_mm: tuple[float, float], by_mm: tuple[float, ...]) -> None:
    plan = board.plan
    start = plan._frame.map(QPointF(*at_mm))
    end = plan._frame.map(QPointF(at_mm[0] + by_mm[0], at_mm[1] + by_mm[1]))
    left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    for kind, spot in (
        (QEvent.Type.MouseButtonPress, start),
        (QEvent.Type.MouseMove, end),
        (QEvent.Type.MouseButtonRelease, end),
    ):
        QApplication.sendEvent(plan, QMouseEvent(kind, spot, plan.mapToGlobal(spot), left, left, none))


def test_your_flasks_are_a_table(qtbot: QtBot, qapp: QApplication) -> None:
    dress(qapp)
    dialog = FlasksDialog(None)  # type: ignore[arg-type]
    qtbot.addWidget(dialog)
    assert dialog.table.rowCount() == len(SAMPLE)
    dialog.table.item(0, 0).setText("My box")
    dialog.table.item(0, 2).setText("250,5")
    dialog.table.selectRow(1)
    dialog._remove()
    with qtbot.waitSignal(dialog.written):
        dialog._save()
    own = own_flasks()
    assert (own[0].id, own[0].long_mm) == ("my-box", 250.5) and len(own) == len(SAMPLE) - 1
    dialog.table.item(0, 2).setText("wide")
    dialog._save()
    assert "is no figure" in dialog.trouble.text() and own_flasks() == own
    qapp.setStyleSheet("")


def test_a_job_keeps_what_was_put_by_hand(part: Path, tmp_path: Path) -> None:
    pounce("new", part, "--unit", "mm", "--count", 2, "--cup", "cut", "-o", tmp_path / "kept.pounce")
    kept = file.load(tmp_path / "kept.pounce").job.rig
    assert (kept.count, kept.cup) == (2, "cut")
    assert msgspec.to_builtins(kept)["placed"] in ((), [])


def test_the_gate_stands_on_the_outline(part: Path) -> None:
    """A block of 80 x 50 or whichever of its sides lies in the joint, 1.2 % over: the gate is as far from its middle as
    an outline of those sizes lets it be.
    """
    said = json.loads(pounce("rig", part, "--unit", "mm", "--json").stdout)
    at, gate = (np.array(said[what][0]["at_mm"][:2]) for what in ("castings", "gates"))
    assert 15.0 < float(np.linalg.norm(at - gate)) < 0.5 * np.hypot(80.0, 50.0) * 1.02
