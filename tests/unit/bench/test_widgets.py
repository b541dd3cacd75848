"""The house's own widgets, one by one."""

import zipfile
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication, QLabel, QWidget
from pytestqt.qtbot import QtBot

from pounce.base.finding import Finding, Remedy, Severity
from pounce.base.units import count_words
from pounce.bench.cards.pattern import usual_folder
from pounce.bench.look.icon import window_icon
from pounce.bench.look.marks import Mark
from pounce.bench.look.style import dress
from pounce.bench.settings import Settings
from pounce.bench.stops.view import title_of
from pounce.bench.stops.words import way
from pounce.bench.widgets.craft import craft_text
from pounce.bench.widgets.findings import FindingRow, Findings
from pounce.bench.widgets.parts import BrassSlider, Choice, Figure, Segments
from pounce.bench.widgets.start import StartBench, StartCard
from pounce.draw.changes import SetDraw
from pounce.part.changes import SetUnit
from pounce.route.demo_jobs import lay_out
from pounce.route.demos import DEMOS
from pounce.route.stops import ids


@pytest.fixture(autouse=True)
def dressed(qapp: QApplication) -> None:
    dress(qapp)


def colours(widget: QWidget) -> set[int]:
    """Every colour on a widget."""
    picture = widget.grab().toImage()
    return {picture.pixel(x, y) for x in range(picture.width()) for y in range(picture.height())}


def test_brass_slides_by_mouse_and_by_key(qtbot: QtBot) -> None:
    slider = BrassSlider("Height")
    qtbot.addWidget(slider)
    slider.resize(218, 30)
    slider.set_range(0.0, 100.0, (20.0, 40.0), 30.0)
    moved: list[float] = []
    settled: list[float] = []
    slider.moved.connect(moved.append)
    slider.settled.connect(settled.append)
    qtbot.mousePress(slider, Qt.MouseButton.LeftButton, pos=QPoint(9, 15))
    qtbot.mouseMove(slider, QPoint(109, 15))
    qtbot.mouseRelease(slider, Qt.MouseButton.LeftButton, pos=QPoint(109, 15))
    assert moved[0] == pytest.approx(0.0)
    assert settled == [pytest.approx(50.0)]
    qtbot.keyClick(slider, Qt.Key.Key_Right)
    assert slider.value() == pytest.approx(52.0)
    qtbot.keyClick(slider, Qt.Key.Key_End)
    assert settled[-1] == pytest.approx(100.0)
    slider.show_value(250.0)
    assert slider.value() == 100.0
    assert len(settled) == 3


def test_showing_a_value_says_nothing_and_giving_one_does(qtbot: QtBot) -> None:
    figure, choice, segments = (
        Figure(" mm", 0, 10, 1, 1, "F"),
        Choice("C", [("a", "A"), ("b", "B")]),
        Segments([("x", "X"), ("y", "Y")]),
    )
    said: list[object] = []
    for widget, signal in ((figure, figure.given), (choice, choice.given), (segments, segments.chosen)):
        qtbot.addWidget(widget)
        signal.connect(said.append)
    figure.show_value(3.0)
    choice.show_choice("b")
    segments.show_choice("y")
    assert said == []
    figure.setValue(4.0)
    qtbot.mouseClick(segments.button("x"), Qt.MouseButton.LeftButton)
    assert said == [4.0, "x"]
    segments.show_choice("neither")
    assert not segments.button("x").isChecked() and not segments.button("y").isChecked()


@pytest.mark.parametrize(
    ("low", "high", "digits", "step"), [(1.0, 30.0, 1, 0.5), (40.0, 3000.0, 0, 5.0), (0.02, 1.0, 2, 0.04)]
)
def test_a_length_is_shown_in_inches_within_its_own_range(
    qtbot: QtBot, low: float, high: float, digits: int, step: float
) -> None:
    figure = Figure(" mm", low, high, digits, step, "F")
    qtbot.addWidget(figure)
    said: list[float] = []
    figure.given.connect(said.append)
    value = low + 0.1 * (high - low)
    figure.show_length(value, "in")
    assert said == [] and figure.suffix() == " in"
    assert figure.value() == pytest.approx(value / 25.4, abs=5.1e-4)
    # neither end lies outside what the choice takes
    assert low <= 25.4 * figure.minimum() <= low + 0.03 and high - 0.03 <= 25.4 * figure.maximum() <= high
    assert 0.3 < 25.4 * figure.singleStep() / step < 3.0
    before = figure.value()
    figure.stepUp()
    assert said == [pytest.approx(before + figure.singleStep(), abs=1e-9)]
    figure.show_length(value, "mm")
    assert figure.suffix() == " mm" and figure.value() == pytest.approx(value, abs=0.51 * 10.0**-digits)
    assert (figure.minimum(), figure.maximum(), figure.singleStep()) == (low, high, step) and len(said) == 1


def test_every_mark_has_a_shape_and_a_name_of_its_own(qtbot: QtBot) -> None:
    pictures = []
    for name in ("clean", "tight", "locked", "open", "half", "filled"):
        mark = Mark(name)
        qtbot.addWidget(mark)
        assert mark.accessibleName() == name
        image = mark.grab().toImage()
        pictures.append(bytes(image.constBits().asarray(image.sizeInBytes())))  # type: ignore[union-attr]
    assert len(set(pictures)) == 6
    assert not window_icon(64).isNull()


def test_a_finding_shows_one_bold_noun_one_figure_and_three_actions_at_most(qtbot: QtBot) -> None:
    finding = Finding(
        "locked",
        Severity.WARN,
        "The hole <Ø 6> lies across.",
        "hole <Ø 6>",
        (0.0, 0.0, 0.0),
        {"area_mm2": 640.0},
        "area_mm2",
        tuple(Remedy(f"r{k}", f"Do {k}", SetDraw((1.0, 0.0, 0.0))) for k in range(5)),
        region=0,
        mark="locked",
    )
    row = FindingRow(finding, 1, "mm", True)
    qtbot.addWidget(row)
    texts = [label.text() for label in row.findChildren(QLabel)]
    assert any("<b>hole &lt;Ø 6&gt;</b>" in text for text in texts)
    assert "6.4\u00a0cm²" in texts
    from_actions = [
        b for b in row.findChildren(type(Segments([("a", "b")]).button("a"))) if b.text().startswith(("Do", "Show"))
    ]
    assert [b.text() for b in from_actions] == ["Do 0", "Do 1", "Show"]
    assert [b.property("kind") for b in from_actions] == ["primary", None, None]


def test_only_one_button_is_primary(qtbot: QtBot) -> None:
    many = tuple(
        Finding("unit", Severity.WARN, f"Thing {k}.", remedies=(Remedy("a", f"Answer {k}", SetUnit("mm")),))
        for k in range(3)
    )
    findings = Findings()
    qtbot.addWidget(findings)
    findings.show_findings(many, True, "mm", True)
    kinds = [
        b.property("kind")
        for row in findings.findChildren(FindingRow)
        for b in row.findChildren(QWidget)
        if b.property("kind")
    ]
    assert kinds == ["primary"]


def test_the_shelf_is_searched_and_says_when_it_is_empty(qtbot: QtBot, tmp_path: Path) -> None:
    start = StartBench()
    qtbot.addWidget(start)
    start.show_shelf(
        [(tmp_path / "a.pounce", "Ridge finial", "irregular"), (tmp_path / "b.pounce", "Gutter elbow", "core")]
    )
    assert [card.accessibleName() for card in start.cards] == ["Open Ridge finial", "Open Gutter elbow"]
    start.finder.setText("elbow")
    assert len(start.cards) == 1
    start.finder.setText("anvil")
    assert not start.cards
    assert any("No job" in label.text() for label in start.findChildren(QLabel))


def test_hints_are_put_away_once(qtbot: QtBot) -> None:
    card = StartCard(True)
    qtbot.addWidget(card)
    with qtbot.waitSignal(card.put_away):
        card._away()
    assert card._hints.isHidden()
    again = StartCard(False)
    qtbot.addWidget(again)
    assert again._hints.isHidden()


def test_the_desktop_remembers_and_survives_a_broken_settings_file(tmp_path: Path) -> None:
    settings = Settings(tmp_path)
    settings.unit = "in"
    (tmp_path / "a.stl").write_text("x")
    settings.remember(tmp_path / "a.stl", "A")
    settings.remember(tmp_path / "gone.stl", "B")
    again = Settings(tmp_path)
    assert again.unit == "in"
    assert again.recent() == [(tmp_path / "a.stl", "A")]
    assert again.last_folder == tmp_path
    (tmp_path / "desktop.json").write_text("{broken")
    fresh = Settings(tmp_path)
    assert fresh.unit == "mm"
    assert (tmp_path / "desktop.broken").exists()


@pytest.mark.parametrize("stop", ids())
def test_every_stop_has_a_title_and_a_craft_page_with_sources(stop: str) -> None:
    text = craft_text(stop)
    assert text.startswith(f"# {title_of(stop)}")
    assert "Source" in text and len(text) > 600


def test_words() -> None:
    assert (count_words(0), count_words(3), count_words(14)) == ("no", "three", "14")
    assert way((0, 0, 1)) == "straight up"
    assert way((0, -1, 0)) == "along −y"
    assert usual_folder("Vent-shaft: bearing!", Path("/x")).name == "vent-shaft--bearing-build"


def test_every_demo_job_has_a_picture_of_its_own_part(tmp_path: Path) -> None:
    """Demo jobs are laid out by one line of stops: results of one must never stand in for another's."""
    pictures = []
    for path in lay_out(tmp_path):
        with zipfile.ZipFile(path) as archive:
            pictures.append(archive.read("preview.png"))
    assert len(set(pictures)) == len(DEMOS)
