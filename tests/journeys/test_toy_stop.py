"""A stop that only the tests have, named in the environment: seen in route, window, command, check, sheet and job
file with nothing else touched.
"""

import io
import json
import os
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from pypdf import PdfReader
from PyQt6.QtWidgets import QLabel
from pytestqt.qtbot import QtBot

from pounce.base.environment import MORE
from pounce.bench.app import Session
from pounce.bench.widgets.craft import craft_text
from pounce.job import file
from pounce.route.keys import keys
from pounce.route.opening import chosen, open_any
from pounce.route.pipeline import Pipeline
from pounce.route.stops import ids
from tests.conftest import box, mesh_of, write_stl
from tests.journeys.windows import opened, settled
from tests.toy.stop import CRATE
from tests.waits import LONG

ROOT = Path(__file__).parents[2]


@pytest.fixture
def toy(monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    monkeypatch.setenv(MORE, "tests.toy.stop:CRATE")
    yield


@pytest.fixture
def part(tmp_path: Path) -> Path:
    return write_stl(tmp_path / "block.stl", mesh_of(box(80, 50, 30)))


def pounce(*words: object) -> subprocess.CompletedProcess[str]:
    """The real command with the toy in its environment."""
    env = os.environ | {MORE: "tests.toy.stop:CRATE", "PYTHONPATH": str(ROOT)}
    return subprocess.run(
        [sys.executable, "-m", "pounce", *map(str, words)],
        capture_output=True,
        text=True,
        env=env,
        check=True,
        cwd=ROOT,
    )


def test_without_it_nothing_is_there() -> None:
    assert "crate" not in ids() and ids()[0] == "part" and len(ids()) == 11


@pytest.mark.usefixtures("toy")
def test_pipeline_keys_and_choices(part: Path) -> None:
    """80 x 50 x 30 with 20 mm of straw all round, and no crate under 50 high: 120 x 90 x 70; with 5 mm: 90 x 60 x
    50.
    """
    job, model = open_any(part)
    job = chosen(job, {"unit": "mm"})
    assert Pipeline().run(job, model).need(CRATE).size_mm == pytest.approx((120.0, 90.0, 70.0))
    less = chosen(job, {"crate_room": "5"})
    assert Pipeline().run(less, model).need(CRATE).size_mm == pytest.approx((90.0, 60.0, 50.0))
    one, two = keys(job), keys(less)
    assert {name for name in one if one[name] != two[name]} == {"crate", "logbook", "causes"}


def test_command_check_sheet_and_job_file(part: Path, tmp_path: Path) -> None:
    said = json.loads(pounce("check", part, "--unit", "mm", "--crate-room", 30, "--json").stdout)
    assert said["crate"]["size_mm"] == pytest.approx([140.0, 110.0, 90.0])
    assert any(one["code"] == "crate" for one in said["findings"])
    own = json.loads(pounce("crate", part, "--unit", "mm", "--json").stdout)
    assert own["schema"] == "pounce.crate/1" and own["size_mm"] == pytest.approx([120.0, 90.0, 70.0])
    assert own["findings"][0]["text"].startswith("It travels in a crate")
    assert "It travels in a crate" in pounce("crate", part, "--unit", "mm").stdout
    assert "Say what crate it travels in" in pounce("--help").stdout
    pounce("sheet", part, "--unit", "mm", "-o", tmp_path / "sheet.pdf")
    pages = PdfReader(io.BytesIO((tmp_path / "sheet.pdf").read_bytes())).pages
    assert "Inside the crate" in pages[-1].extract_text()
    pounce("new", part, "--unit", "mm", "--crate-room", 30, "-o", tmp_path / "kept.pounce")
    assert file.load(tmp_path / "kept.pounce").job.more == {"crate": {"room": 30.0}}
    again = json.loads(pounce("check", tmp_path / "kept.pounce", "--json").stdout)
    assert again["crate"]["size_mm"] == said["crate"]["size_mm"]


@pytest.mark.usefixtures("toy")
def test_the_window_shows_it(qtbot: QtBot, session: Session, part: Path) -> None:
    window = opened(qtbot, session, part)
    window.actions_by_name["Go to Crate"].trigger()
    settled(qtbot, window)
    qtbot.waitUntil(lambda: window.document.results().get(CRATE) is not None, timeout=LONG)
    window.refresh()
    assert window.stop == "crate" and window.route.buttons["crate"].accessibleName().startswith("Crate: A crate")
    card = window.cards["crate"]
    titles = [one.text() for one in card.findChildren(QLabel)]
    assert {"Crate", "What it travels in.", "Straw all round", "Least height", "Inside"} <= set(titles)
    before = window.document.results().need(CRATE).size_mm[0]
    room = next(figure for choice, figure in card.own if choice.key == "room")
    room.setValue(50.0)
    settled(qtbot, window)
    qtbot.waitUntil(lambda: window.document.results().get(CRATE) is not None, timeout=LONG)
    assert window.document.results().need(CRATE).size_mm[0] == pytest.approx(before + 60.0)
    assert window.document.job.more == {"crate": {"room": 50.0}}
    window.actions_by_name["Undo"].trigger()
    assert window.document.job.more == {}
    assert craft_text("crate").startswith("# Crate")
