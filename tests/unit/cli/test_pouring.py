"""`pounce pour`, `pounce things` and `pounce devices` as their users call them."""

import json
from pathlib import Path

import pytest

from pounce.job import file
from tests.journeys.test_command import pounce
from tests.unit.pour.made import block


@pytest.fixture(scope="module")
def job_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    job, model = block()
    path = tmp_path_factory.mktemp("jobs") / "block.pounce"
    file.save(path, job, model, None)
    return path


def test_the_pour_is_told_and_its_card_written(job_file: Path, tmp_path: Path) -> None:
    card = tmp_path / "card.pdf"
    said = pounce("pour", job_file, "--at", "15:30", "-o", card).stdout
    assert "lift at" in said and "°F" in said and "15:30" in said and "[ ] Charge dry" in said
    assert card.read_bytes().startswith(b"%PDF")
    keys = json.loads(pounce("pour", job_file, "--moulds", "2", "--crucible", "litre", "--json").stdout)
    assert keys["schema"] == "pounce.pour/1" and keys["crucible"]["id"] == "litre" and len(keys["moulds_c"]) == 2
    assert [one["id"] for one in keys["clock"]["steps"]][-1] == "shake" and keys["clock"]["at_risk"] == []
    assert set(keys) >= {"charge_kg", "fills", "window_c", "lift_c", "steps", "open_after_min", "checklist", "cautions"}


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (("--at", "25:00"), "no time of day"),
        (("--crucible", "bucket"), "no crucible 'bucket'"),
        (("--scrap", "heavy"), "no weighed pieces"),
        (("--fall", "700:760:60"), "no fall of a crucible"),
        (("--same-melt", "nowhere.pounce"), "no job file"),
        (("--charge", "cans"), "there is no 'cans'"),
    ],
)
def test_what_makes_no_sense_is_one_sentence(job_file: Path, words: tuple[str, str], said: str) -> None:
    done = pounce("pour", job_file, *words, code=2)
    assert said in done.stderr and done.stdout == ""


def test_own_things_are_listed_added_timed_and_carried(tmp_path: Path) -> None:
    assert "kiln" in pounce("things").stdout
    pounce("things", "--crucible", "mine=1.4:0.75:steel", "--ingot", "pig=250:4", "--furnace", "hot=9:3:burner:1500")
    pounce("things", "--printer", "big=300x310x400", "--sand", "old=0.9:1100", "--weight", "5", "--weight", "7.5")
    pounce("things", "--melt", "hot=aluminium-silicon:1:22", "--melt", "hot=aluminium-silicon:2.5:40")
    pounce("things", "--remove", "ladle", "--export", tmp_path / "bench.json")
    own = json.loads(pounce("things", "--json").stdout)["things"]
    assert own == json.loads((tmp_path / "bench.json").read_text(encoding="utf-8"))["things"]
    (mine,) = [one for one in own["crucibles"] if one["id"] == "mine"]
    assert (mine["brim_l"], mine["fill"], mine["material"]) == (1.4, 0.75, "steel")
    assert [one["y_mm"] for one in own["printers"] if one["id"] == "big"] == [310.0]
    assert own["sands"] == [{"id": "old", "name": "Old", "conducts": 0.9, "heat": 1100.0}]
    assert own["weights_kg"] == [5.0, 7.5] and "Old" in pounce("things").stdout
    assert "ladle" not in [one["id"] for one in own["crucibles"]]
    assert "by two melts" in " ".join(pounce("things").stdout.split())
    (tmp_path / "other.json").write_text(
        '{"things": {"ingots": [{"id": "a", "name": "A", "cm3": 90}]}}', encoding="utf-8"
    )
    other = json.loads(pounce("things", "--import", tmp_path / "other.json", "--json").stdout)["things"]
    assert [one["id"] for one in other["ingots"]] == ["a"]
    for words in (
        ("--crucible", "mine"),
        ("--crucible", "mine=large"),
        ("--furnace", "hot=9:3:coal"),
        ("--melt", "cold=aluminium-silicon:1:22"),
        ("--remove", "nothing"),
        ("--ingot", "huge=9e9"),
        ("--printer", "flat=300x300"),
        ("--sand", "old=wet:1100"),
        ("--weight", "heavy"),
    ):
        assert pounce("things", *words, code=2).stderr.startswith("pounce: ")


def test_stand_ins_open_and_are_listed(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path))
    said = pounce("devices", "--simulate", "--for", "0.4", "--speed", "60").stdout
    assert "simulated melt of aluminium-silicon" in said and "simulated core on a scale" in said
    assert "simulated" not in pounce("devices").stdout  # they ended with the command
    assert json.loads(pounce("devices", "--json").stdout)["schema"] == "pounce.devices/1"
    assert "cannot be simulated" in pounce("devices", "--simulate", "--kg", "0", code=2).stderr
