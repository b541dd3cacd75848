"""Files written whole or not at all."""

import os
import signal
import subprocess
import sys
from pathlib import Path

import pytest

from pounce.base.dying import own_folder
from pounce.base.files import write_whole

# A pid beyond what the kernel gives out.
NOBODY = 2**22 + 1


def test_a_file_is_replaced_and_what_the_dead_left_of_it_is_swept(tmp_path: Path) -> None:
    path = tmp_path / "a.json"
    left = tmp_path / f".a.json.{NOBODY}.x1.tmp"
    under_way, others = tmp_path / f".a.json.{os.getpid()}.x2.tmp", tmp_path / f".b.json.{NOBODY}.x3.tmp"
    for one in (path, left, under_way, others):
        one.write_bytes(b"old")
    write_whole(path, b"new")
    assert path.read_bytes() == b"new"
    assert not left.exists() and under_way.exists() and others.exists()


def test_what_cannot_be_written_leaves_the_old_file_and_nothing_else(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "a.json"
    write_whole(path, b"old")

    def full(_: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(OSError, match="space"):
        write_whole(path, b"new")
    assert path.read_bytes() == b"old" and [one.name for one in tmp_path.iterdir()] == ["a.json"]


def test_a_name_as_long_as_names_may_be_is_written(tmp_path: Path) -> None:
    path = tmp_path / ("x" * 250 + ".json")
    write_whole(path, b"new")
    assert path.read_bytes() == b"new"


def test_a_folder_of_a_process_that_was_killed_goes_with_the_next(tmp_path: Path) -> None:
    code = (
        "import os, signal, sys\nfrom pathlib import Path\nfrom pounce.base.dying import own_folder\n"
        "with own_folder('x', Path(sys.argv[1])):\n    os.kill(os.getpid(), signal.SIGKILL)\n"
    )
    done = subprocess.run([sys.executable, "-c", code, str(tmp_path)])
    assert done.returncode == -signal.SIGKILL and len(list(tmp_path.iterdir())) == 1
    with own_folder("y", tmp_path) as mine:
        assert list(tmp_path.iterdir()) == [mine]
    assert not list(tmp_path.iterdir())
