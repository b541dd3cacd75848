"""Stock from end to end: by the command to files that measure what the table says, and by hand on the bench."""

import csv
import io
import json
import re
from collections.abc import Iterator
from pathlib import Path

import manifold3d as m3
import numpy as np
import pypdf
import pytest
import trimesh
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from pounce.bench.app import Session
from pounce.bench.cards.stock import StockCard
from pounce.bench.view3d.asks import FEATURE_FROM, Spot
from pounce.stock.values import Draft, Fill, Lettering, Machining
from tests.conftest import mesh_of, write_stl
from tests.journeys.test_command import pounce
from tests.journeys.windows import opened, settled
from tests.waits import LONG

M = m3.Manifold


@pytest.fixture(scope="module")
def bracket(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A block with a boss, a bore to machine and two bolt holes."""
    part = M.cube([90, 50, 24]) + M.cylinder(36, 16, 16, 128).translate([45, 25, 0])
    part -= M.cylinder(60, 9, 9, 128).translate([45, 25, -5])
    for x in (12, 78):
        part -= M.cylinder(60, 3.5, 3.5, 48).translate([x, 25, -5])
    return write_stl(tmp_path_factory.mktemp("part") / "bracket.stl", mesh_of(part))


WORDS = (
    "--unit",
    "mm",
    "--draw",
    "+z",
    "--parting",
    "flat:0",
    "--add",
    "fill",
    "--add",
    "machine@20,10,0:2",
    "--add",
    "machine@36,25,12:1.5",
    "--add",
    "draft:2",
)


def test_what_is_built_measures_what_the_table_says(bracket: Path, tmp_path: Path) -> None:
    """Measured by trimesh on the files: overall sizes to a hundredth, the bore by a circle through its cut."""
    table = json.loads(pounce("stock", bracket, *WORDS, "--json").stdout)
    assert table["schema"] == "pounce.stock/1"
    assert [line["kind"] for line in table["lines"]] == ["Machining", "Machining", "Fill", "Draft"]
    assert all(line["trouble"] == "" for line in table["lines"])
    out = tmp_path / "out"
    manifest = json.loads(pounce("build", bracket, *WORDS, "--out", out, "--json").stdout)
    pieces = [entry for entry in manifest["files"] if entry["format"] == "3mf" and entry["role"] != "former"]
    assert [entry["role"] for entry in pieces] == ["pattern"]
    other = trimesh.load_mesh(out / pieces[0]["file"])
    rows = {row["name"]: row for row in table["dimensions"]}
    for axis, name in enumerate("xyz"):
        assert other.extents[axis] == pytest.approx(rows[f"Overall, {name}"]["made_mm"], abs=0.01)
    # upside down in the sand: the machined foot lies 2 mm lower, walls lean 2 degrees over 26 mm from it
    assert rows["Overall, z"]["made_mm"] == pytest.approx((36 + 2.0) * (100 / 98.8), abs=0.01)
    # both ends of the drafted bore stand in the table, and which of them the cutter meets
    near, bore = rows["Bore at the joint"], rows["Bore at the far end"]
    assert bore["wanted_mm"] == pytest.approx(18.0, abs=0.01)
    assert bore["pattern_mm"] == pytest.approx(15.0 * (100 / 98.8), abs=0.01)
    assert near["note"] and not bore["note"]
    ends = [other.bounds[0][2] + 0.02, other.bounds[1][2] - 0.02]
    cuts = [other.section(plane_origin=[0, 0, z], plane_normal=[0, 0, 1]) for z in ends]
    wide = [float(np.ptp(loop[:, 0])) for cut in cuts for loop in cut.discrete]
    # it keeps its size at the end its sand leaves by, and is narrower at the other by 2 x 38 mm x tan 2
    assert min(abs(one - bore["made_mm"]) for one in wide) < 0.03
    narrow = bore["made_mm"] - 2 * 38 * (100 / 98.8) * np.tan(np.radians(2.0))
    assert min(abs(one - narrow) for one in wide) < 0.06
    assert near["made_mm"] == pytest.approx(narrow, abs=0.03)


def test_the_drilling_plan_is_at_full_size_and_agrees_with_its_table(bracket: Path, tmp_path: Path) -> None:
    out = tmp_path / "out"
    pounce("build", bracket, *WORDS, "--out", out)
    rows = list(csv.DictReader(io.StringIO((out / "drilling-plan.csv").read_text())))
    assert [row["hole"] for row in rows] == ["A", "B"]
    assert sorted(float(row["x_mm"]) for row in rows) == pytest.approx([12.0, 78.0], abs=0.01)
    assert all(float(row["diameter_mm"]) == pytest.approx(7.0, abs=0.01) and row["through"] == "yes" for row in rows)
    page = pypdf.PdfReader(out / "drilling-plan.pdf").pages[0]
    text = page.extract_text()
    assert "drilling plan" in text and "Ø 7 mm" in text and "100 mm" in text
    # the crosses: lines level through a hole's middle; two holes 66 mm apart
    content = page.get_contents()
    assert content is not None
    found = re.findall(r"([-\d.]+) ([-\d.]+) m ([-\d.]+) ([-\d.]+) l", content.get_data().decode("latin-1"))
    level = [
        (float(a) + float(c)) / 2
        for a, b, c, d in found
        if abs(float(b) - float(d)) < 1e-6 and 10 < abs(float(c) - float(a)) < 60
    ]
    assert max(level) - min(level) == pytest.approx(66.0 / 25.4 * 72.0, abs=0.05)
    check = [abs(float(c) - float(a)) for a, b, c, d in found if abs(float(b) - float(d)) < 1e-6]
    assert any(abs(length - 100.0 / 25.4 * 72.0) < 0.01 for length in check)
    sheet = "".join(one.extract_text() for one in pypdf.PdfReader(out / "shop-sheet.pdf").pages)
    assert "what is added" in sheet and "Main dimensions" in sheet and "To drill" in sheet


def test_an_addition_that_cannot_be_is_said_in_one_sentence(bracket: Path) -> None:
    done = pounce("stock", bracket, "--unit", "mm", "--add", "shave:3", code=2)
    assert "'shave:3' is no addition" in done.stderr
    said = pounce("stock", bracket, "--unit", "mm", "--add", "machine@45,9,12:F").stdout
    assert "Bore left small" in said


@pytest.fixture
def card(qtbot: QtBot, session: Session, bracket: Path) -> Iterator[StockCard]:
    """The bench at Stock with the bracket on it."""
    window = opened(qtbot, session, bracket)
    settled(qtbot, window)
    window.go("stock")
    made = window.cards["stock"]
    assert isinstance(made, StockCard)
    yield made


def test_lines_are_added_pointed_at_switched_and_moved(qtbot: QtBot, session: Session, card: StockCard) -> None:
    window, document = session.window, session.window.document
    assert "Nothing is added yet" in window.bench.accessibleDescription()
    # what is found is offered, one button each
    assert {f.code for f in card.shown_findings()} >= {"draft-wanted", "small-holes", "corners-sharp"}
    document.remedy(next(f for f in card.shown_findings() if f.code == "draft-wanted").remedies[0])
    settled(qtbot, window)
    assert isinstance(document.job.stock.lines[0], Draft)
    # a face is clicked on the bench
    stock = document.results().stock
    number = next(k for k, f in enumerate(stock.features) if f.kind == "plane" and f.axis[2] < -0.9)
    card.point_at(Spot(FEATURE_FROM + number, (20.0, 10.0, 0.0), (0.0, 0.0, -1.0), 0, 0.0, 24.0))
    assert "face 90 mm by 50 mm" in card.place_words.text().replace("\u00a0", " ")
    card._place(Machining((20.0, 10.0, 0.0), own_mm=2.0))
    settled(qtbot, window)
    assert [type(line) for line in document.job.stock.lines] == [Machining, Draft]
    assert len(card._rows) == 2 and card._rows[0].figure.value() == pytest.approx(2.0)
    before = document.results().stock.added_mm3
    card._rows[0].figure.setValue(3.0)
    settled(qtbot, window)
    assert document.results().stock.added_mm3 > before + 1.0 * 90 * 50 * 0.9
    # hovering a line lights its metal on the bench, the section and the legend
    card._rows[1].enterEvent(None)
    assert window.bench._lit == 1 and window.section.sketch._lit == 1
    assert [chip.mark for chip in window.bench.labels.chips] == ["steelFlat", "added", "pointed"]
    card._rows[1].leaveEvent(None)
    assert window.bench._lit == -1
    # left out, worked again, undone
    card._rows[1].on.click()
    settled(qtbot, window)
    assert not document.job.stock.lines[1].on and "1 line" in session.window.route.accessibleName() + _line_of(session)
    document.undo()
    settled(qtbot, window)
    assert document.job.stock.lines[1].on
    # contraction along one axis, an own figure and then held by a core again; the bed's measured error
    card.percents["x"].setValue(1.5)
    settled(qtbot, window)
    assert document.results().stock.factors == pytest.approx((100 / 98.5, (100 / 98.8), (100 / 98.8)))
    card.axes["x"].given.emit("core")
    settled(qtbot, window)
    assert document.results().stock.factors[0] == pytest.approx(100 / 99.2)
    assert card.percents["x"].value() == pytest.approx(0.8)
    card.beds["y"].setValue(0.4)
    settled(qtbot, window)
    assert document.results().stock.made_factors[1] == pytest.approx((100 / 98.8) / 1.004)
    # order, where it matters
    names = [text for text, _ in card.choices_for(0)]
    assert "Work it later" in names and "Work it earlier" not in names
    dict(card.choices_for(0))["Work it later"]()
    settled(qtbot, window)
    assert [type(line) for line in document.job.stock.lines] == [Draft, Machining]
    dict(card.choices_for(1))["Take this line away"]()
    settled(qtbot, window)
    assert len(document.job.stock.lines) == 1


def _line_of(session: Session) -> str:
    from pounce.bench.headlines import route_line  # noqa: PLC0415  only this word of it

    return route_line("stock", session.window.document.results(), "mm")


def test_the_bench_names_what_is_under_the_pointer_and_the_section_shows_bands(
    qtbot: QtBot, session: Session, card: StockCard
) -> None:
    window, document = session.window, session.window.document
    card._add(Fill())
    settled(qtbot, window)
    qtbot.waitUntil(lambda: window.bench.drawn, timeout=LONG)
    seen: list[object] = []
    window.bench.clicked.connect(seen.append)
    middle = QPoint(window.bench.width() // 2, window.bench.height() // 2)
    for step in range(6):
        at = middle + QPoint(12 * step, 6 * step)
        qtbot.mouseClick(window.bench, Qt.MouseButton.LeftButton, pos=at)
        qtbot.wait(250)
        if seen and seen[-1] is not None:
            break
    assert isinstance(seen[-1], Spot)
    assert card.place.isVisible() and card.place_words.text().startswith("Pointed at: ")
    if card.words.isVisible():
        card.words.setText("B 12")
        qtbot.keyClick(card.words, Qt.Key.Key_Return)
        settled(qtbot, window)
        assert any(isinstance(line, Lettering) for line in document.job.stock.lines)
    # the cut through the middle meets the filled bolt holes
    qtbot.waitUntil(
        lambda: window.section.sketch._cut is not None and window.section.sketch._cut.asked.stock, timeout=LONG
    )
    qtbot.waitUntil(lambda: bool(window.section.sketch._cut.bands), timeout=LONG)
    cut = window.section.sketch._cut
    line, rings = cut.bands[0]
    spot = cut.band_labels[0]
    place = window.section.sketch._frame.map(QPointF(spot[1], spot[2]))
    qtbot.mouseMove(window.section.sketch, place.toPoint())
    QApplication.processEvents()
    assert line == 0 and len(rings) >= 1
    card.view.button("before").click()
    assert window.bench._scene.kind == "part"
    card.view.button("after").click()
    assert window.bench._scene.kind == "stock"
