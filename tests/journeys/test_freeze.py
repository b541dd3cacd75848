"""Freeze from the command and in the window: what sets last, one press that feeds it, and a moment to slide to."""

import io
import json
from pathlib import Path

import manifold3d
import pytest
from pypdf import PdfReader
from pytestqt.qtbot import QtBot

from pounce.bench.app import Session
from pounce.bench.freeze import ramp
from pounce.bench.freeze.board import FreezeBoard
from pounce.part.formats import read_3mf
from pounce.route.opening import open_any
from pounce.route.stops import FREEZE
from tests.conftest import box, mesh_of, write_stl
from tests.journeys.test_command import pounce
from tests.journeys.windows import opened, settled
from tests.waits import LONG


@pytest.fixture
def part(tmp_path: Path) -> Path:
    boss = manifold3d.Manifold.cylinder(24.0, 11.0, 11.0, 48).translate([40.0, 35.0, 0.0])
    return write_stl(tmp_path / "bossed.stl", mesh_of(box(110, 70, 8) + boss))


def test_command_freeze_and_the_feeder_that_it_finds(part: Path, tmp_path: Path) -> None:
    """The keys of the contract; what is found is set, kept in the job, built as a former and told on the sheet."""
    said = json.loads(pounce("freeze", part, "--unit", "mm", "--json").stdout)
    assert said["schema"] == "pounce.freeze/1" and said["cure"]["proved"] and said["energy_error"] < 1e-4
    assert said["findings"][0]["code"] == "hollow-1"
    words = pounce("freeze", part, "--unit", "mm").stdout
    assert "tried: feeder Ø" in words and "sets last" in words
    kept = tmp_path / "fed.pounce"
    pounce("new", part, "--unit", "mm", "--feeder", "found", "-o", kept)
    job, _ = open_any(kept)
    assert len(job.rig.feeders) == 1
    again = json.loads(pounce("freeze", kept, "--json").stdout)
    assert all(one["holds"] for one in again["feeders"]) and not any(one["wants"] for one in again["places"])
    pounce("build", kept, "--out", tmp_path / "out")
    names = {one["file"] for one in json.loads((tmp_path / "out" / "manifest.json").read_text())["files"]}
    assert "former-feeder-1.3mf" in names and read_3mf(tmp_path / "out" / "former-feeder-1.3mf").bodies
    pounce("sheet", kept, "-o", tmp_path / "sheet.pdf")
    pages = [one.extract_text() for one in PdfReader(io.BytesIO((tmp_path / "sheet.pdf").read_bytes())).pages]
    page = next(text for text in pages if "what sets last" in text)
    assert "Feeder 1" in page and "holds out" in page and "In this order it sets" in page
    cold = pounce("freeze", part, "--unit", "mm", "--pour", 500, code=2).stderr
    assert "no longer liquid" in cold


def test_the_window_shows_what_sets_last_and_feeds_it(qtbot: QtBot, session: Session, part: Path) -> None:
    looks: list[bool] = []

    def came(stop: str) -> None:
        results = session.document.results() if stop == "freeze" else None
        made = None if results is None else results.get(FREEZE)
        looks.extend([] if made is None else [made.rough])

    session.document.results_changed.connect(came)
    window = opened(qtbot, session, part)
    window.actions_by_name["Go to Freeze"].trigger()
    settled(qtbot, window, whole=True)
    qtbot.waitUntil(lambda: window.document.results().get(FREEZE) is not None, timeout=LONG)
    window.refresh()
    # a quick look stood in until the fine grid was worked
    assert looks[0] and not looks[-1]
    # the metal cut open, and the strip with its moment and its order
    assert window.bench.isVisible() and window.freezing.isVisible()
    assert "may draw hollow" in window.bench.accessibleDescription()
    assert any("sets last" in tag.text for tag in window.bench.labels.tags)
    # a moment is looked at in the picture too, and its scale says so
    assert window.bench.labels.scale is not None and window.bench.labels.scale.at_s is None
    window.freezing.time.moved.emit(8.0)
    assert window.bench.labels.scale.at_s == 8.0
    board, card = window.boards["freeze"], window.cards["freeze"]
    card.seen.chosen.emit("above")
    assert isinstance(board, FreezeBoard) and board.isVisible() and not window.bench.isVisible()
    assert "may draw hollow" in board.plan.accessibleDescription()
    first = window.document.results().need(FREEZE)
    # cut through the hot place; a moment is looked at, then filling
    assert abs(board.section.slider.value() - first.wanting[0].at_mm[1]) < 8.0
    board.section.time.moved.emit(0.5 * ramp.last_s(first, "sets"))
    assert board.section.telling().at_s is not None and "after the pour" in board.section._moment.text()
    board.section.what.chosen.emit("fills")
    assert board.section.telling().shown == "fills" and board.section.telling().at_s is None
    board.section.what.chosen.emit("sets")
    assert not board.grab().isNull() and "boss" in board.section.order.accessibleDescription()
    remedy = first.findings[0].remedies[0]
    window.document.remedy(remedy)
    settled(qtbot, window, whole=True)
    qtbot.waitUntil(lambda: window.document.results().get(FREEZE) is not None, timeout=LONG)
    window.refresh()
    after = window.document.results().need(FREEZE)
    assert not after.wanting and all(one.holds for one in after.feeders)
    assert "holds out" in board.plan.accessibleDescription()
    assert "one feeder" in window.route.buttons["freeze"].accessibleName()
    window.actions_by_name["Undo"].trigger()
    assert window.document.job.rig.feeders == ()
