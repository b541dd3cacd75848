"""The Logbook stop in the real window and on the command line: a pour kept, measured, learned from, explained."""

import json
from pathlib import Path

import pypdf
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QPushButton
from pytestqt.qtbot import QtBot

from pounce.bench.app import Session
from pounce.bench.cards.logbook import LogCard
from pounce.bench.log.board import LogBoard
from pounce.job import file
from pounce.logbook import draft
from pounce.logbook.book import Book
from pounce.logbook.keeping import NAMED
from pounce.logbook.values import Casting, Measure, Outcome, PairKind, Pour
from pounce.pour.devices.standins import CaliperShape, StandIn, marked
from tests.journeys.test_command import pounce
from tests.journeys.windows import click, opened, settled
from tests.unit.logbook.made import BEGIN
from tests.unit.pour.made import block
from tests.waits import LONG

ALU, SAND = "aluminium-silicon", "green-sand"


@pytest.fixture(autouse=True)
def book_file(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    path = tmp_path / "book" / "logbook.sqlite"
    monkeypatch.setenv(NAMED, str(path))
    return path


@pytest.fixture
def job_file(tmp_path: Path) -> Path:
    job, model = block()
    path = tmp_path / "block.pounce"
    file.save(path, job, model, None)
    return path


def other_pours() -> tuple[Pour, ...]:
    """What this bench cast before: 0.9 % and 0.3 mm of rapping."""
    out = []
    for k, sizes in enumerate([(210.0, 60.0), (150.0, 40.0), (236.0, 41.0)]):
        measures = tuple(Measure(f"{p:g}", p, round(p * 0.991 + 0.3, 1)) for p in sizes)
        out.append(
            Pour(
                f"{k:032x}",
                BEGIN,
                f"Lever {k}",
                metal=ALU,
                mould=SAND,
                castings=(Casting(1, kg=0.4, measures=measures),),
            )
        )
    return tuple(out)


def at_book(qtbot: QtBot, session: Session, path: Path) -> tuple[LogCard, LogBoard]:
    window = opened(qtbot, session, path)
    window.go("logbook")
    card, board = window.cards["logbook"], window.boards["logbook"]
    assert isinstance(card, LogCard) and isinstance(board, LogBoard)
    qtbot.waitUntil(lambda: card.desk.made is not None and card.desk.pour is not None, timeout=LONG)
    settled(qtbot, window)
    window.refresh()
    return card, board


def test_a_pour_is_kept_measured_and_the_next_pattern_takes_what_it_taught(
    qtbot: QtBot, session: Session, job_file: Path, book_file: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    with Book(book_file) as book:
        book.keep(*other_pours())
    card, board = at_book(qtbot, session, job_file)
    window, desk = session.window, card.desk
    assert desk.pour is not None and desk.pour.metal == ALU and desk.pour.planned_c is not None
    assert desk.pour.castings == (Casting(1),) and desk.new and not board.pours.isHidden()
    assert board.pours.table.rowCount() == 3

    # six fields, by keys; nothing of it is lost if the program dies here
    card.poured.setFocus()
    card.poured.selectAll()
    qtbot.keyClicks(card.poured, "731")
    qtbot.keyClick(card.poured, Qt.Key.Key_Return)
    click(qtbot, card.outcome.button("flawed"))
    card.weighs.setValue(0.131)
    click(qtbot, card.squeeze.button("wet"))
    card.note.setText("rough on top")
    card.note.editingFinished.emit()
    job = window.document.job
    assert job is not None
    qtbot.waitUntil(lambda: (kept := draft.load(job.name)) is not None and kept.note == "rough on top", timeout=LONG)
    kept = draft.load(job.name)
    assert kept is not None and kept.poured_c == 731.0 and kept.squeeze == "wet" and kept.read_by == "hand"
    assert kept.castings[0].outcome is Outcome.FLAWED and kept.castings[0].kg == 0.131

    # a size that cannot be is refused in a sentence, a good one is kept
    length = card.sizes.fields["Length"]
    length.setValue(40.0)
    assert "cannot be right" in window.notice.text.text() and length.value() == 0.0
    card.sizes.patterns["Length"].setValue(80.9)  # the pattern first, as it was measured
    length.setValue(80.4)
    card.sizes.fields["Width"].setValue(50.3)
    assert [one.casting_mm for one in desk.casting.measures] == [80.4, 50.3]
    assert (desk.casting.measures[0].pattern_mm, desk.casting.measures[0].pattern_read) == (80.9, True)
    assert not desk.casting.measures[1].pattern_read
    card.sizes.chosen.emit("Width")
    click(qtbot, card.detail.held.button("yes"))
    assert desk.casting.measures[1].hindered and "expected" in card.detail.about.text()
    click(qtbot, card.detail.held.button(""))

    # a defect, and the place of it pointed at on the part
    card.flaws.seen.show_choice("hole-smooth")
    card.flaws.where.show_choice("top")
    click(qtbot, card.flaws.place)
    assert window.stop == "logbook" and not card.on_board and window.bench.picks
    qtbot.waitUntil(lambda: window.bench.drawn, timeout=LONG)
    area = window.bench._area()
    qtbot.mouseClick(window.bench, Qt.MouseButton.LeftButton, pos=area.center().toPoint())
    qtbot.waitUntil(lambda: card.on_board, timeout=LONG)
    click(qtbot, card.flaws.note)
    assert desk.casting.defects[0].seen == "hole-smooth" and desk.casting.defects[0].at_mm is not None

    with qtbot.waitSignal(desk.kept, timeout=LONG):
        click(qtbot, card.foot)
    job = window.document.job
    assert job is not None and job.log.id and draft.load(job.name) is None
    with Book(book_file) as book:
        (entry,) = book.pours(job_id=job.log.id)
        assert entry == desk.pour and entry.chosen == {} and entry.revision
        assert [(one.kind, one.count) for one in book.events(job.name)] == [("pulled", 1)]
    qtbot.waitUntil(lambda: bool(desk.made and desk.made.pours), timeout=LONG)
    settled(qtbot, window)
    window.refresh()
    made = desk.made
    assert made is not None and len(made.contraction.says) == 4 and board.pours.table.rowCount() == 4
    assert made.seen[0].diagnosis.suspects[0].cause == "damp-sand" and "wet" in made.seen[0].diagnosis.suspects[0].word
    assert "damp sand" in board.head.accessibleName() and window.route.buttons["logbook"].text() == "Logbook"
    qtbot.waitUntil(lambda: board.suspects.pictured, timeout=LONG)

    # one press: the next pattern is made for what this bench really contracts; one press back
    assert made.contraction.free.low < 0.9 < made.contraction.free.high < 1.2
    take = next(one for one in card.findChildren(QPushButton) if one.text().startswith("Make the next pattern for"))
    click(qtbot, take)
    job = window.document.job
    assert job is not None and job.method.contraction_percent == pytest.approx(made.contraction.free.value, abs=0.006)
    settled(qtbot, window)
    window.document.undo()
    assert window.document.job.method.contraction_percent is None
    settled(qtbot, window)

    # changed later, and its story
    desk.select(entry.id)
    assert not desk.new and desk.pour == entry
    desk.give(moisture_percent=6.5)
    with qtbot.waitSignal(desk.kept, timeout=LONG):
        card.act()
    with Book(book_file) as book:
        again = book.pour(entry.id)
        assert again is not None and again.moisture_percent == 6.5 and len(book.pours()) == 4
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "story.pdf"), ""))
    settled(qtbot, window)
    card.ask_story()
    qtbot.waitUntil(lambda: (tmp_path / "story.pdf").exists(), timeout=LONG)
    text = pypdf.PdfReader(tmp_path / "story.pdf").pages[0].extract_text()
    assert "Block" in text and "damp" in text.lower() and "Sizes of the last pour" in text


def test_a_caliper_on_the_line_and_sizes_taken_on_the_part(
    qtbot: QtBot, session: Session, job_file: Path, book_file: Path
) -> None:
    card, _ = at_book(qtbot, session, job_file)
    caliper = StandIn(CaliperShape((80.3, 50.2, 12.1), 0.6), 10.0)
    with marked({"simulated caliper": caliper}):
        card.refresh()
        assert card.line.findData(caliper.port) > 0
        card.line.setCurrentIndex(card.line.findData(caliper.port))
        card.line.given.emit(caliper.port)
        qtbot.waitUntil(lambda: len(card.desk.casting.measures) >= 3, timeout=LONG)
        card.leave()
    assert {round(one.casting_mm, 1) for one in card.desk.casting.measures} == {80.3, 50.2, 12.1}

    # across two faces, taken on the model: the job holds it, and it is measured like the others
    card._ask_pair(PairKind.FACES.value)
    for x in (0.0, 80.0):
        card.point_at(type("At", (), {"point": (x, 25.0, 6.0)})())
    settled(qtbot, session.window)
    job = session.window.document.job
    assert job is not None and job.log.pairs[0].kind is PairKind.FACES
    qtbot.waitUntil(lambda: card.desk.made is not None and len(card.desk.made.sizes) == 4, timeout=LONG)
    size = card.desk.made.sizes[-1]
    assert size.finished_mm == pytest.approx(80.0) and size.pattern_mm == pytest.approx(80.0 / 0.988, abs=0.01)
    assert not book_file.exists() or Book(book_file).pours() == ()


def test_the_command_keeps_lists_learns_reports_and_carries(job_file: Path, book_file: Path, tmp_path: Path) -> None:
    words = ("--at", "2026-09-05T13:15", "--poured", "735", "--casting", "1:sound:0.13", "--measure", "1:Length=80.3")
    kept = json.loads(pounce("log", "add", job_file, *words, "--set", "moisture-percent=4", "--json").stdout)["entry"]
    assert kept["poured_c"] == 735.0 and kept["castings"][0]["measures"][0]["pattern_mm"] == pytest.approx(
        80.972, abs=2e-3
    )
    assert file.load(job_file).job.log.id == kept["job_id"] and book_file.exists()
    lines = json.loads(pounce("log", "list", "block", "--json").stdout)["pours"]
    assert [one["id"] for one in lines] == [kept["id"]] and lines[0]["state"] == "sound"
    assert (
        "Block" in pounce("log", "list").stdout and pounce("log", "list", "nowhere", "--json").stdout.count("id") == 0
    )
    short = kept["id"][:8]
    pounce("log", "change", short, "--casting", "1:flawed:0.13", "--set", "batch=7")
    pounce("log", "change", short, "--defect", "1:pinholes:top:machining")
    shown = pounce("log", "show", short).stdout
    assert "batch: 7" in shown and "pinholes, top, machining" in shown and "80.3 mm" in shown
    learned = json.loads(pounce("log", "learn", "--json").stdout)
    assert learned["contraction"]["measures"] == 1
    pounce("log", "change", short, "--leave-out", "1:Length")
    assert json.loads(pounce("log", "learn", "--json").stdout)["contraction"]["measures"] == 0
    assert "1.1 %, give or take 0.4" in pounce("log", "learn", "--size", "1810:1790@10").stdout
    assert "impossible" in pounce("log", "learn", "--claim", "6").stdout
    content = json.loads(pounce("log", "report", job_file, "--json", "-o", tmp_path / "story.pdf").stdout)
    assert content["schema"] == "pounce.log/1" and content["defects"][0]["verdict"] == "tie"
    assert content["report"][0]["within"] is True and len(pypdf.PdfReader(tmp_path / "story.pdf").pages) == 1
    assert "CT" in pounce("log", "report", short).stdout
    said = pounce("log", "diagnose", job_file, "--defect", "1:lap:all:shake-out", "--set", "broken=true").stdout
    assert said.startswith("Likely: poured in two goes")
    pounce("log", "pattern", "Block", "--coat", "two of filler", "--repair", "a corner")
    assert "coat: two of filler" in pounce("log", "pattern", "Block").stdout
    pounce("log", "recipe", "Cores", "--core", "--part", "sand=10", "--part", "oil=0.2")
    assert "10 sand, 0.2 oil" in pounce("log", "recipe").stdout
    second = json.loads(pounce("log", "add", job_file, "--poured", "700", "--json").stdout)["entry"]
    assert second["job_id"] == kept["job_id"]
    differs = json.loads(pounce("log", "compare", short, second["id"][:8], "--json").stdout)["differs"]
    assert {"name": "poured, °C", "first": "735", "second": "700"} in differs
    for name in ("log.json", "log.zip"):
        assert "2 pours" in pounce("log", "export", tmp_path / name).stdout
        assert "2 pours" in pounce("log", "import", tmp_path / name).stdout
    pounce("log", "change", short, "--drop")
    assert len(json.loads(pounce("log", "list", "--json").stdout)["pours"]) == 1


@pytest.mark.parametrize(
    ("words", "why"),
    [
        (("add", "part.stl"), "no job file"),
        (("show", "zzz"), "No entry"),
        (("import", "gone.json"), "cannot be read"),
        (("learn", "--metal", "mud"), "no metal"),
        (("learn", "--size", "one"), "says no size"),
        (("recipe", "Cores", "--part", "sand"), "says no part"),
        (("recipe", "Cores"), "A mix has parts"),
    ],
)
def test_what_cannot_be_is_one_sentence(words: tuple[str, ...], why: str, book_file: Path) -> None:
    assert why in pounce("log", *words, code=2).stderr and book_file.parent.name == "book"
