"""The Pattern stop by command and by hand: ways, boards, sheets, measures; what is written is read back."""

import json
import time
from pathlib import Path

import manifold3d
import numpy as np
import pypdf
import pytest
import trimesh
from PyQt6.QtCore import QUrl
from PyQt6.QtGui import QDesktopServices
from PyQt6.QtWidgets import QFileDialog, QPushButton
from pytestqt.qtbot import QtBot

from pounce.bench.app import Session
from pounce.bench.cards.part import PartCard
from pounce.bench.cards.pattern import PatternCard
from pounce.bench.section.making import LargeSheet
from pounce.bench.widgets.measuring import MeasureDialog
from pounce.bench.window import Window
from pounce.job import edits
from pounce.job.pattern_edits import with_word
from pounce.part.measures import Measures
from pounce.route.build import build
from pounce.route.demo_jobs import DEMOS, part_file
from pounce.route.files import model_files, paper_files
from pounce.route.opening import open_any
from pounce.route.pipeline import Pipeline
from pounce.route.stops import stops
from tests.conftest import mesh_of, write_stl
from tests.journeys.test_command import pounce
from tests.journeys.windows import click, cut_off, opened, settled
from tests.waits import LONG, slowness

M = manifold3d.Manifold


@pytest.fixture
def block(tmp_path: Path) -> Path:
    """A plain block that parts flat."""
    return write_stl(
        tmp_path / "block.stl", mesh_of(M.cube([120.0, 80.0, 50.0], True) - M.cylinder(80, 6, 6, 48, True))
    )


def test_boards_and_hollow_halves_by_command(block: Path, tmp_path: Path) -> None:
    out = tmp_path / "out"
    words = [f"--make={word}" for word in ("mount=boards", "copies=2", "hollow", "rapping-plate", "screw=M6")]
    manifest = json.loads(
        pounce(
            "build", block, "--unit", "mm", "--draw", "+z", "--parting", "flat:0", "--out", out, "--json", *words
        ).stdout
    )
    roles = [entry["role"] for entry in manifest["files"]]
    assert roles.count("board") == 2 and {"cope-half", "drag-half", "template"} <= set(roles)
    for entry in manifest["files"]:
        if entry["format"] == "3mf":
            mesh = trimesh.load_mesh(out / entry["file"])
            assert mesh.is_watertight and mesh.volume == pytest.approx(entry["volume_mm3"], rel=1e-4), entry["file"]
    words = pypdf.PdfReader(out / "templates.pdf").pages[0].extract_text()
    assert "Cope board" in words
    made = json.loads(
        pounce(
            "make", block, "--unit", "mm", "--parting", "flat:0", "--draw", "+z", "--make=mount=match-plate", "--json"
        ).stdout
    )
    assert (
        made["schema"] == "pounce.make/1"
        and made["mount"]["kind"] == "match-plate"
        # both halves, and gates and runner of either side
        and len(made["mount"]["placed"]) == 4
    )
    assert {way["way"] for way in made["ways"]} == {"printed", "wood", "foam"}


def test_the_bench_end_frame_is_cut_from_sheets_in_time(tmp_path: Path) -> None:
    frame = part_file(next(demo for demo in DEMOS if demo.part.startswith("bench-end")))
    begun = time.monotonic()
    manifest = json.loads(
        pounce(
            "build", frame, "--pattern", "foam-burned-out", "--metal", "grey-iron", "--out", tmp_path / "out", "--json"
        ).stdout
    )
    assert time.monotonic() - begun < 40.0 * slowness()
    assert {"templates.pdf", "outlines.dxf", "outlines.svg", "cut-list.csv"} <= {
        entry["file"] for entry in manifest["files"]
    }
    pages = pypdf.PdfReader(tmp_path / "out" / "templates.pdf").pages
    assert len(pages) > 40 and all("100 mm" in page.extract_text() for page in pages)
    codes = {finding["code"] for finding in manifest["findings"]}
    assert {"sheets-are-joined", "foam-gas", "foam-bows", "glue-burns-slowly"} <= codes


def test_a_part_is_measured_by_command(tmp_path: Path) -> None:
    job = tmp_path / "cup.pounce"
    pounce(
        "measure",
        "-o",
        job,
        "--shape",
        "tray",
        "--size",
        "120x60x40",
        "--weight",
        "0.45",
        "--of",
        "grey-iron",
        "--hole",
        "0,0,8",
    )
    content = json.loads(pounce("check", job, "--json").stdout)
    assert content["part"]["size_mm"] == pytest.approx([120.0, 60.0, 40.0]) and content["pattern"] == "original-part"
    assert "weight-agrees" in {finding["code"] for finding in content["findings"]}
    assert content["part"]["volume_mm3"] == pytest.approx(0.45 / 7150e-9, rel=0.02)
    assert content["make"]["way"] == "original"


def card_of(window: Window) -> PatternCard:
    """The Pattern card, in front."""
    window.go("pattern")
    card = window.cards["pattern"]
    assert isinstance(card, PatternCard)
    return card


def test_the_ways_are_chosen_side_by_side(qtbot: QtBot, session: Session, block: Path) -> None:
    window = opened(qtbot, session, block)
    card = card_of(window)
    assert [kind for kind, tile in card.tiles.items() if tile.isVisible()] == ["printed", "wood", "foam"]
    assert window.making.bed.isVisible() and window.making.layers.isVisible()
    window.go("pattern")
    for kind in ("foam", "wood"):
        click(qtbot, card.tiles[kind])
        settled(qtbot, window)
        assert not cut_off(card)
    qtbot.waitUntil(lambda: bool(window.document.sheets()), timeout=LONG)
    window.refresh()
    assert window.making.sheet.isVisible() and "boards" in window.bench.accessibleDescription().lower()
    count = len(window.document.sheets())
    click(qtbot, window.making.larger)
    (large,) = window.making.findChildren(LargeSheet)
    for _ in range(count - 1):
        click(qtbot, large.next)
    assert large.at == count - 1 and not large.next.isEnabled()
    large.close()
    # the slider opens the stack without asking the worker for anything
    card.slider.show_value(0.0)
    card.slider.moved.emit(0.0)
    assert not window.document.worker.busy
    for back in ("foam-drawn", "printed-filament"):
        window.document.undo()
        settled(qtbot, window)
        job = window.document.job
        assert job is not None and job.method.pattern == back


def test_boards_are_mounted_and_shown_by_hand(qtbot: QtBot, session: Session, block: Path) -> None:
    window = opened(qtbot, session, block)
    card = card_of(window)
    window.document.edit(edits.set_parting, *edits.parse_parting("flat:0"))
    settled(qtbot, window)
    card.mounting.kind.setCurrentIndex(card.mounting.kind.findData("boards"))
    card.mounting.kind.activated.emit(card.mounting.kind.currentIndex())
    settled(qtbot, window)
    results = window.document.results()
    assert results is not None and results.pattern is not None and results.pattern.mount is not None
    assert "flask" in window.bench.accessibleDescription()
    qtbot.waitUntil(lambda: bool(window.document.sheets()), timeout=LONG)
    window.refresh()
    click(qtbot, window.making.kind.button("sheets"))
    assert window.making.sheet.isVisible()
    card.hollow.click()
    settled(qtbot, window)
    assert results is not window.document.results()
    names = [row[0] for row in card.files._now]
    assert "cope-board.3mf" in names and "templates.pdf" in names


@pytest.mark.parametrize("kind", ["printed-filament", "wood", "foam-burned-out", "original-part", "metal-from-master"])
def test_the_list_of_files_is_what_is_written(kind: str, block: Path, tmp_path: Path) -> None:
    job, model = open_any(block)
    job = edits.set_parting(
        edits.set_draw(edits.set_unit(job, "mm").job, (0.0, 0.0, 1.0)).job, *edits.parse_parting("flat:0")
    ).job
    job = with_word(with_word(edits.set_pattern_kind(job, kind).job, "mount=boards"), "test-piece")
    results = Pipeline().run(job, model)
    told = [f"{one.stem}.3mf" for one in model_files(results)] + [paper.file for paper in paper_files(results)]
    manifest = build(results, model, tmp_path / "out")
    assert [entry["file"] for entry in manifest["files"]] == told
    assert {path.name for path in (tmp_path / "out").iterdir()} == {*told, "manifest.json"}
    pages = pypdf.PdfReader(tmp_path / "out" / "shop-sheet.pdf").pages
    text = " ".join(" ".join(page.extract_text() for page in pages).split())
    # every cause, with what follows from it folded in, and all that is good to know
    assert results.causes is not None and results.causes.open
    notes = [
        finding
        for stop in stops()
        for finding in stop.findings(results)
        if finding.informational and finding.cured_by is None and finding.code != "caution"
    ]
    said = [" ".join(one.words().split()[:4]) for one in (*results.causes.open, *results.causes.cured, *notes)]
    assert notes and [words for words in said if words not in text] == []


def test_what_was_written_opens_in_its_own_program(
    qtbot: QtBot, session: Session, block: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = opened(qtbot, session, block)
    out = tmp_path / "shed"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(out), ""))
    asked: list[QUrl] = []
    monkeypatch.setattr(QDesktopServices, "openUrl", lambda url: asked.append(url) or len(asked) < 2)
    with qtbot.waitSignal(window.document.built, timeout=LONG):
        window.filing.ask_build()
    buttons = {one.text(): one for one in window.notice.findChildren(QPushButton)}
    assert {"Open the folder", "Open the model", "Open the sheet"} <= set(buttons)
    click(qtbot, buttons["Open the folder"])
    click(qtbot, buttons["Open the model"])
    assert asked[0].toLocalFile() == str(out) and asked[1].toLocalFile().endswith(".3mf")
    assert "no program" in window.notice.text.text()


def test_start_from_measures_by_hand(qtbot: QtBot, session: Session) -> None:
    window = session.window
    click(qtbot, window.start.drop.measure)
    (dialog,) = window.findChildren(MeasureDialog)
    dialog.shape.show_choice("tray")
    dialog.shape.given.emit("tray")
    assert dialog.rows["wall_mm"].isVisible() and not dialog.rows["points"].isVisible()
    dialog.holes.setText("nonsense")
    click(qtbot, dialog.build)
    assert "cannot be read" in dialog.trouble.text() and dialog.isVisible()
    dialog.holes.setText("0,0,8")
    dialog.figures["wall_mm"].setValue(5.0)
    dialog.weight.setValue(0.4)
    with qtbot.waitSignal(window.document.opened, timeout=LONG):
        click(qtbot, dialog.build)
    settled(qtbot, window)
    results = window.document.results()
    assert results is not None and results.part is not None and results.pattern is not None
    assert results.part.mesh.size.tolist() == pytest.approx([100.0, 60.0, 30.0])
    assert results.pattern.making.kind == "original"
    window.go("part")
    card = window.cards["part"]
    assert isinstance(card, PartCard) and card.scale.value() == pytest.approx(0.4)
    card.scale.setValue(0.0)
    settled(qtbot, window)
    job = window.document.job
    assert job is not None and job.part.scale_kg is None


def test_measures_are_taken_in_the_readers_unit(qtbot: QtBot) -> None:
    dialog = MeasureDialog(None, "in", "grey-iron")  # type: ignore[arg-type]
    qtbot.addWidget(dialog)
    dialog.figures["long_mm"].setValue(4.0)
    dialog.holes.setText("1,0,0.5")
    found = dialog.measures()
    assert isinstance(found, Measures) and found.long_mm == pytest.approx(101.6) and found.holes == ((25.4, 0.0, 12.7),)


def test_a_bed_used_before_is_remembered(qtbot: QtBot, session: Session, block: Path) -> None:
    window = opened(qtbot, session, block)
    card = card_of(window)
    card.bed[1].setValue(100.0)
    card.bed[0].setValue(100.0)
    settled(qtbot, window)
    results = window.document.results()
    assert results is not None and results.pattern is not None
    assert any(one.part for one in results.pattern.making.prints)
    card.bed[0].setValue(300.0)
    settled(qtbot, window)
    window.refresh()
    assert card._beds_row.isVisible() and card.beds.count() == 3
    card._take_bed(str(card.beds.itemData(1)))
    settled(qtbot, window)
    job = window.document.job
    assert job is not None and job.pattern.bed_mm[0] == 100.0
    assert np.isclose(card.bed[0].value(), 100.0)
