"""Faults of the program itself: kept with their traceback where Help says, never lost, and the command says where."""

import sys
from pathlib import Path

import pytest

from pounce.base import log
from pounce.cli import main


@pytest.fixture(autouse=True)
def state(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    log._logger.cache_clear()


def broken() -> None:
    raise ZeroDivisionError("a figure was nought")


def test_a_fault_is_kept_with_its_traceback() -> None:
    try:
        broken()
    except ZeroDivisionError as error:
        log.note_fault("worker", error)
    kept = log.log_file().read_text(encoding="utf-8")
    assert "worker: ZeroDivisionError: a figure was nought" in kept and "in broken" in kept
    log.note("the other library said so")
    assert "the other library said so" in log.log_file().read_text(encoding="utf-8")


def test_old_logs_go() -> None:
    for k in range(40):
        log.note(f"{k} " + "x" * 40_000)
    files = sorted(log.log_file().parent.iterdir())
    assert len(files) == 1 + log.OLDER and all(one.stat().st_size <= log.MOST_BYTES + 50_000 for one in files)


def test_the_command_says_where_and_leaves_with_70(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setattr(main, "app", lambda **_: broken())
    with pytest.raises(SystemExit) as left:
        main.run()
    assert left.value.code == 70
    said = capsys.readouterr().err
    assert "a figure was nought" in said and str(log.log_file()) in said and "Traceback" not in said
    assert "in broken" in log.log_file().read_text(encoding="utf-8")
    monkeypatch.setenv("POUNCE_DEBUG", "1")
    with pytest.raises(ZeroDivisionError):
        main.run()


def test_where_nothing_can_be_written_the_terminal_tells(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    blocked = tmp_path / "file"
    blocked.write_text("no folder")
    monkeypatch.setenv("XDG_STATE_HOME", str(blocked))
    monkeypatch.setattr(sys, "stderr", sys.stderr)
    log._logger.cache_clear()
    log.note("heard")
    assert "heard" in capsys.readouterr().err
