"""Work in a second process: its answer comes back whole; whatever becomes of it, nothing hangs, nothing is left."""

import os
import signal
import time
from pathlib import Path

import numpy as np
import pytest

from pounce.base import beside, log
from pounce.base.beside import Beside, Lost, Task, second_core
from pounce.base.errors import Cancelled
from pounce.base.progress import silent


@pytest.fixture(autouse=True)
def state(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    log._logger.cache_clear()


def test_an_answer_comes_back_with_its_arrays_from_another_process() -> None:
    known = np.arange(300_000, dtype=np.float64)

    def work() -> tuple[int, dict[str, object]]:
        time.sleep(0.1)
        return os.getpid(), {"twice": 2.0 * known, "of": "what was known"}

    said: list[str] = []
    with Beside(work) as there:
        pid, told = there.answer(lambda _share, text: said.append(text), "waits")
    # a window that looks on is told once, and asked all the while whether to stop
    assert said[0] == "waits" and len(said) > 4 and not any(said[1:])
    assert pid != os.getpid() and told["of"] == "what was known"
    assert np.array_equal(told["twice"], 2.0 * known)


def _fault() -> None:
    raise ValueError("it went wrong over there")


def _killed() -> None:
    os.kill(os.getpid(), signal.SIGKILL)


@pytest.mark.parametrize("work", [_fault, _killed, lambda: os._exit(0), lambda: lambda: None])
def test_a_process_that_ends_without_an_answer_is_lost(work: object) -> None:
    with Beside(work) as there, pytest.raises(Lost):  # type: ignore[arg-type]
        there.answer(silent, "waits")


def test_its_faults_stand_in_the_log() -> None:
    with Beside(_fault) as there, pytest.raises(Lost):
        there.answer(silent, "waits")
    assert "it went wrong over there" in log.log_file().read_text(encoding="utf-8")


def test_one_that_takes_too_long_is_lost_and_ended(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    monkeypatch.setattr(beside, "LEAST_S", 0.1)
    monkeypatch.setattr(beside, "TIMES", 0.0)

    def work() -> None:
        (tmp_path / "pid").write_text(str(os.getpid()))
        time.sleep(600.0)

    with Beside(work) as there:
        while not (tmp_path / "pid").exists() or not (tmp_path / "pid").read_text():
            time.sleep(0.005)
        with pytest.raises(Lost):
            there.answer(silent, "waits")
    assert not Path(f"/proc/{(tmp_path / 'pid').read_text()}").exists()


def test_a_cancel_while_it_is_waited_for_ends_it() -> None:
    def cancelled(_share: float, _text: str) -> None:
        raise Cancelled

    children = Path(f"/proc/self/task/{os.getpid()}/children")
    before = children.read_text()
    with pytest.raises(Cancelled), Beside(lambda: time.sleep(600.0)) as there:
        assert children.read_text() != before
        there.answer(cancelled, "waits")
    assert children.read_text() == before


def _no_process() -> int:
    raise BlockingIOError("no more processes")


@pytest.mark.parametrize("there", ["works", "fails", "no process", "not asked"])
def test_a_task_is_done_in_the_other_process_or_else_here(there: str, monkeypatch: pytest.MonkeyPatch) -> None:
    if there == "no process":
        monkeypatch.setattr(os, "fork", _no_process)

    def far() -> int:
        return 1 // (there == "works") * os.getpid()

    ask = None if there == "not asked" else far
    with Task(lambda _: ("here", os.getpid()), ask, lambda told, _: ("there", told), "waits") as task:
        assert task.busy
        where, pid = task.answer(silent)
    assert (where == "there") == (pid != os.getpid()) == (there == "works")


def test_a_task_that_is_none_is_not_busy() -> None:
    with Task(None, None, lambda told, _: told, "waits") as task:
        assert not task.busy


def test_there_is_no_second_core_where_the_user_says_so_or_memory_is_short(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(os, "sched_getaffinity", lambda _pid: {0, 1})
    monkeypatch.delenv("POUNCE_BESIDE", raising=False)
    assert second_core()
    monkeypatch.setenv("POUNCE_BESIDE", "0")
    assert not second_core()
    monkeypatch.delenv("POUNCE_BESIDE")
    monkeypatch.setattr(beside, "SPARE_BYTES", 1 << 50)
    assert not second_core()
    monkeypatch.setattr(beside, "SPARE_BYTES", 0)
    monkeypatch.setattr(os, "sched_getaffinity", lambda _pid: {0})
    assert not second_core()
