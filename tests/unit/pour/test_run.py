"""A pour under way outlives the program: steps, ticks, readings, and what is due."""

from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from pounce.base.errors import UserFault
from pounce.pour.run import LapseClock, Reading, Run, due, load, run_file, save, under_way
from pounce.pour.values import Kind, Step

NOW = datetime(2026, 11, 30, 14, 0, tzinfo=UTC)
WAIT = Step("open", "Leave it in the sand", 20.0, (), Kind.WAIT)


@pytest.fixture(autouse=True)
def own_data(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))


def test_it_is_all_there_after_a_restart() -> None:
    run = Run("Bearing").begun(WAIT, NOW).ticked("cores", NOW).read(Reading(NOW, 742.5, "meter"))
    save(run)
    again = load("Bearing")
    assert again == run and again.done == {"open": (NOW, None)}
    assert load("Another") == Run("Another") and under_way() == (run,)
    # its time is up while the program was closed: it rings once
    late = NOW + timedelta(minutes=21)
    assert due(again, NOW + timedelta(minutes=19)) == {} and set(due(again, late)) == {"open"}
    save(again.rung(["open"]))
    assert due(load("Bearing"), late) == {}
    done = load("Bearing").ended(WAIT, late)
    assert done.done == {"open": (NOW, late)} and due(done, late + timedelta(hours=9)) == {}
    # taken back, ticked off: with nothing left the file goes
    empty = done.undone("open").ticked("cores", None)
    assert empty.steps == {} and empty.checks == {}
    save(Run("Bearing"))
    assert not run_file("Bearing").exists()


def test_a_step_done_without_being_begun_is_done_now() -> None:
    assert Run("A").ended(WAIT, NOW).done == {"open": (NOW, NOW)}


def test_a_file_that_cannot_be_read_says_so_and_is_not_written_over() -> None:
    path = run_file("Bearing")
    path.parent.mkdir(parents=True)
    path.write_text("{half", encoding="utf-8")
    with pytest.raises(UserFault, match="cannot be read"):
        load("Bearing")
    # what is pressed next is kept beside it
    save(load("Bearing").begun(WAIT, NOW))
    assert path.with_suffix(".unreadable").read_text(encoding="utf-8") == "{half" and len(under_way()) == 1


def test_a_folder_that_takes_nothing_is_told(tmp_path: Path) -> None:
    (tmp_path / "pounce").write_text("", encoding="utf-8")
    with pytest.raises(UserFault, match="cannot be kept"):
        save(Run("Bearing").begun(WAIT, NOW))


def test_the_lapse_clock_runs_as_fast_as_it_is_told() -> None:
    clock = LapseClock(3600.0)
    before, seconds = clock.now(), clock.seconds
    while clock.seconds < seconds + 60.0:
        pass
    assert timedelta(seconds=50) < clock.now() - before < timedelta(minutes=10)
    assert abs(LapseClock().now() - datetime.now(UTC)) < timedelta(seconds=2)
