"""Results kept on the disk: the same as worked, never another's, never torn, never too many."""

import os
import time
from pathlib import Path

import numpy as np
import pytest

from pounce.base.log import log_file
from pounce.job import edits
from pounce.job.job import Job
from pounce.route import store as room
from pounce.route.keys import keys
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Given, Results
from pounce.route.stops import CAUSES, DRAW, PART, PATTERN, STOCK, steps
from pounce.route.store import LARGEST, NAMED, ResultStore, program_stamp, result_store
from pounce.solid.mesh import Mesh
from tests.conftest import box, mesh_of, model_of
from tests.shapes import SHAPES


@pytest.fixture
def store(tmp_path: Path) -> ResultStore:
    (tmp_path / "mine").mkdir()
    return ResultStore(tmp_path / "mine")


def test_what_is_put_is_taken_and_arrays_are_read_only(store: ResultStore) -> None:
    mesh = mesh_of(box(10, 20, 30))
    value = {"mesh": mesh, "more": (np.arange(7, dtype=np.int32), "words", None, 3.5)}
    store.put("key", value)
    found = store.take("key")
    assert isinstance(found["mesh"], Mesh) and (found["mesh"].vertices == mesh.vertices).all()
    assert found["more"][0].dtype == np.int32 and found["more"][1:] == ("words", None, 3.5)
    with pytest.raises(ValueError, match="read-only"):
        found["mesh"].vertices[0, 0] = 1.0
    assert found["mesh"].vertices.flags.aligned and found["mesh"].vertices.ctypes.data % 8 == 0
    assert store.take("another") is None


@pytest.mark.parametrize("harm", ["cut", "bit", "empty", "zeros", "other"])
def test_a_torn_file_is_nothing_and_goes(store: ResultStore, tmp_path: Path, harm: str) -> None:
    store.put("key", np.arange(5000))
    path = tmp_path / "mine" / "key.bin"
    data = bytearray(path.read_bytes())
    if harm == "cut":
        data = data[: len(data) // 2]
    elif harm == "bit":
        data[-9] ^= 1
    elif harm == "empty":
        data = bytearray()
    elif harm == "zeros":
        data = bytearray(len(data))
    else:
        data = bytearray(b"something else altogether, " * 20)
    path.write_bytes(bytes(data))
    assert store.take("key") is None and not path.exists()


def test_a_disk_that_takes_nothing_costs_only_the_keeping(
    store: ResultStore, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(*_: object, **__: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(room, "_written_whole", full)
    store.put("key", 1)
    assert store.take("key") is None and not list((tmp_path / "mine").iterdir())


def test_what_cannot_be_packed_is_noted_and_stops_nothing(store: ResultStore, tmp_path: Path) -> None:
    store.put("key", {"a": np.arange(9), "b": lambda: None})
    assert store.take("key") is None and list((tmp_path / "mine").iterdir()) == []
    assert "results: " in log_file().read_text(encoding="utf-8")


def test_what_is_larger_than_a_result_may_be_is_not_kept(store: ResultStore, tmp_path: Path) -> None:
    store.put("large", np.zeros(LARGEST // 8 + 10))
    assert not list((tmp_path / "mine").iterdir())


def test_the_oldest_used_go_first(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    folder = tmp_path / "mine"
    folder.mkdir()
    monkeypatch.setattr(room, "LOOK_AFTER", 0)
    few = ResultStore(folder, 3 * 9000)
    for k in range(3):
        few.put(f"{k}", np.arange(1000) + k)
        os.utime(folder / f"{k}.bin", (time.time() - 100 + k,) * 2)
    assert few.take("0") is not None  # used again, so the newest now
    few.put("3", np.arange(1000))
    assert few.take("1") is None
    assert few.take("0") is not None and few.take("3") is not None


def test_stores_of_other_versions_and_what_a_killed_process_left_go(tmp_path: Path) -> None:
    """And nothing else: the folder may be one that the user named, with things of his own in it."""
    mine, other = tmp_path / f"{'a' * 16}-0", tmp_path / f"{'d' * 16}-0"
    same, shared = tmp_path / f"{'a' * 16}-20000", tmp_path / f"{'e' * 16}-0"
    his = tmp_path / "Patterns"
    for folder in (mine, other, same, shared, his):
        folder.mkdir()
    (other / "key.bin").write_bytes(b"old")
    letters = [his / "arm.stl", shared / "letter.txt", mine / "notes"]
    for letter in letters:
        letter.write_text("mine")
    (mine / ".999999999.x.part").write_bytes(b"half")
    (mine / f".{os.getpid()}.x.part").write_bytes(b"under way")
    ResultStore(mine).put("key", 1)
    assert not other.exists() and same.exists()
    assert all(letter.read_text() == "mine" for letter in letters)
    assert not (mine / ".999999999.x.part").exists() and (mine / f".{os.getpid()}.x.part").exists()


def test_the_users_own_folder_and_no_other(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv(NAMED, str(tmp_path / "results"))
    assert result_store() is not None
    assert (tmp_path / "results").stat().st_mode & 0o077 == 0
    os.chmod(tmp_path / "results", 0o777)
    assert result_store() is None  # anybody could have put something there
    monkeypatch.setenv(NAMED, "0")
    assert result_store() is None
    (tmp_path / "file").write_text("")
    monkeypatch.setenv(NAMED, str(tmp_path / "file" / "results"))
    assert result_store() is None


def test_the_stamp_is_of_the_program_and_the_grid_parts_the_folders(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv(NAMED, str(tmp_path / "results"))
    assert len(program_stamp()) == 16
    for cells in ("20000", "120000"):
        monkeypatch.setenv("POUNCE_CELLS", cells)
        result_store()
    assert {one.name for one in (tmp_path / "results").iterdir()} == {f"{program_stamp()}-{n}" for n in (20000, 120000)}


def bush() -> tuple[Job, object]:
    model = model_of(SHAPES["bush"]())
    return edits.set_draw(with_model(Job(), model), (0.0, 0.0, 1.0)).job, model


def test_a_job_opened_again_is_there_at_once_and_the_same(store: ResultStore) -> None:
    """Another session: what took time is taken, and a check says the same to the last figure."""
    from pounce.route.check import check  # noqa: PLC0415

    job, model = bush()
    first = Pipeline(store=store)
    one = first.run(job, model)  # type: ignore[arg-type]
    begun = time.perf_counter()
    second = Pipeline(store=store)
    two = second.run(job, model)  # type: ignore[arg-type]
    took = time.perf_counter() - begun
    assert took < 0.5 * sum(Pipeline.took.get(stop.id, 0.0) for stop in steps())
    assert check(one, model) == check(two, model)  # type: ignore[arg-type]
    assert (one.need(PATTERN).pieces[0].mesh.vertices == two.need(PATTERN).pieces[0].mesh.vertices).all()


def test_another_choice_is_another_result(store: ResultStore) -> None:
    job, model = bush()
    line = Pipeline(store=store)
    line.run(job, model, until=STOCK)  # type: ignore[arg-type]
    turned = edits.set_draw(job, (1.0, 0.0, 0.0)).job
    found = Pipeline(store=store).run(turned, model, until=STOCK)  # type: ignore[arg-type]
    assert found.need(DRAW).direction.tolist() == [1.0, 0.0, 0.0]
    assert keys(job)["draw"] != keys(turned)["draw"] and keys(job)["part"] == keys(turned)["part"]


def test_a_light_line_keeps_to_itself(store: ResultStore, tmp_path: Path) -> None:
    """What it leaves out must not be taken for the whole."""
    job, model = bush()
    Pipeline(light=True, store=store).run(job, model)  # type: ignore[arg-type]
    assert not list((tmp_path / "mine").iterdir())


def test_further_stops_of_others_are_not_kept(store: ResultStore, tmp_path: Path) -> None:
    """Their sources are in no stamp."""
    asked: list[str] = []

    def slow(given: Given) -> str:
        asked.append(given.job.name)
        time.sleep(2 * room.QUICK_S)
        return "made"

    assert slow.__module__.startswith("tests")
    line = Pipeline(store=store)
    from dataclasses import replace  # noqa: PLC0415

    foreign = replace(CAUSES, run=slow)
    for _ in range(2):
        line._work(foreign, "foreign", Given(Job(), None, Results(Job()), lambda *_: None))
    assert len(asked) == 2 and not list((tmp_path / "mine").iterdir())
    line._work(replace(PART, run=PART.run), "part", Given(*bush(), Results(bush()[0]), lambda *_: None))  # type: ignore[arg-type]
