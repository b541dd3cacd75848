"""Cores from end to end: by the command to boxes that fit, and by hand on the bench."""

import json
from pathlib import Path

import manifold3d as m3
import numpy as np
import pypdf
import pytest
import trimesh
from pytestqt.qtbot import QtBot

from pounce.bench.app import Session
from pounce.bench.cards.cores import CoresCard
from pounce.bench.view3d.asks import Spot
from pounce.job import edits
from pounce.route.stops import DRAW
from tests.conftest import mesh_of, write_stl
from tests.journeys.test_command import pounce
from tests.journeys.windows import opened, settled
from tests.waits import LONG

M = m3.Manifold
WORDS = ("--unit", "mm", "--draw", "+z", "--parting", "flat:0", "--core", "all")


@pytest.fixture(scope="module")
def block(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A block of 80 x 50 x 50 bored right through along x."""
    part = M.cube([80, 50, 50], True) - M.cylinder(100, 10, 10, 64, True).rotate([0, 90, 0])
    return write_stl(tmp_path_factory.mktemp("part") / "block.stl", mesh_of(part))


def test_boxes_and_core_are_written_and_fit(block: Path, tmp_path: Path) -> None:
    """Read back by trimesh: closed, at pattern size, and halves and core fill the block of the box but for its
    grooves.
    """
    out = tmp_path / "out"
    manifest = json.loads(pounce("build", block, *WORDS, "--out", out, "--json").stdout)
    roles = [entry["role"] for entry in manifest["files"]]
    assert roles.count("core") == 1
    assert roles.count("core-box-a") == roles.count("core-box-b") == 1
    told = json.loads(pounce("cores", block, *WORDS, "--json").stdout)
    core = trimesh.load_mesh(out / "core.3mf")
    assert core.is_watertight
    prints = sum(p["length_mm"] - p["clearance_mm"] for p in told["cores"][0]["prints"])
    assert core.extents[0] == pytest.approx((80.0 + prints) * (100 / 98.8), abs=0.02)
    wide = [
        trimesh.load_mesh(out / entry["file"]) for entry in manifest["files"] if entry["role"].startswith("core-box-")
    ]
    for half in wide:
        assert half.is_watertight
        assert half.bounds[0][2] == pytest.approx(0.0, abs=1e-4)
    size = np.array(told["cores"][0]["boxes"][0]["size_mm"]) * (100 / 98.8)
    solid = sum(half.volume for half in wide) + core.volume
    assert 0.98 * size.prod() < solid <= size.prod() * (1.0 + 1e-4)
    pages = pypdf.PdfReader(out / "core-boxes.pdf").pages
    assert len(pages) == 2
    sheet = pypdf.PdfReader(out / "shop-sheet.pdf").pages
    assert "core" in sheet[-1].extract_text()
    assert "Sodium silicate" in sheet[-1].extract_text()


def test_words_about_cores_that_make_no_sense_are_said(block: Path) -> None:
    assert "says nothing about a core" in pounce("cores", block, *WORDS, "--core", "nonsense", code=2).stderr
    assert "there is no 'glue'" in pounce("cores", block, *WORDS, "--core", "mix=glue", code=2).stderr


def test_a_core_is_made_changed_and_refused_on_the_bench(qtbot: QtBot, session: Session, block: Path) -> None:
    window = opened(qtbot, session, block)
    document = window.document
    for edit in ((edits.set_unit, "mm"), (edits.set_draw, (0.0, 0.0, 1.0)), (edits.set_height, 0.0)):
        document.edit(*edit)
        settled(qtbot, window)
    window.go("cores")
    card = window.cards["cores"]
    assert isinstance(card, CoresCard)
    assert card.which.count() == 1
    assert card.how.currentText() == "not decided"
    locks = [f for f in DRAW.findings(document.results()) if f.code == "locked"]  # type: ignore[arg-type]
    assert locks and not locks[0].informational
    offer = next(f for f in document.findings("cores") if f.code == "hollow-0")
    document.remedy(next(r for r in offer.remedies if r.id == "core-it"))
    settled(qtbot, window)
    core = card.core()
    assert core is not None
    assert all(f.informational for f in DRAW.findings(document.results()) if f.code == "locked")  # type: ignore[arg-type]
    qtbot.waitUntil(lambda: window.bench.drawn, timeout=LONG)
    card.figures["side_mm"].given.emit(33.0)
    settled(qtbot, window)
    assert {one.length_mm for one in card.core().prints} == {33.0}  # type: ignore[union-attr]
    card.box.chosen.emit("half")
    settled(qtbot, window)
    assert card.core().boxes[0].style == "half"  # type: ignore[union-attr]
    card.box.chosen.emit("tube")
    settled(qtbot, window)
    made = card.core()
    assert made is not None  # a style that cannot be loses nothing
    assert made.boxes[0].style in ("tube", "split")
    # a cut that was asked for before the core was made may come first
    qtbot.waitUntil(lambda: bool(window.section.sketch._cut and window.section.sketch._cut.cores), timeout=LONG)
    assert window.section.sketch._cut.mould
    card.slider.moved.emit(0.2)
    qtbot.waitUntil(lambda: window.bench.drawn, timeout=LONG)
    card.how.given.emit("sand")
    settled(qtbot, window)
    assert not document.results().cores.cores  # type: ignore[union-attr]
    document.undo()
    settled(qtbot, window)
    assert document.results().cores.cores  # type: ignore[union-attr]
    assert card.name_of(0).startswith("bore")
    card.point_at(Spot(0, (0.0, 0.0, 10.0), (0.0, 0.0, -1.0), 0, 0.0, 5.0))
    assert card.chosen == 0
