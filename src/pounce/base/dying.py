"""What must not outlive its process: children, and folders of files on their way."""

import ctypes
import os
import shutil
import signal
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

_SET_DEATH_SIGNAL = 1  # PR_SET_PDEATHSIG of prctl(2)
_libc = ctypes.CDLL(None)


def die_with_parent() -> None:
    """Called in a child: it is killed when its parent ends, however that ends."""
    _libc.prctl(_SET_DEATH_SIGNAL, int(signal.SIGKILL))


@contextmanager
def own_folder(purpose: str, within: Path | None = None) -> Iterator[Path]:
    """A new hidden folder for files on their way, ``within`` a folder or where such things go; gone afterwards. Those
    of processes that were killed go too. OSError where none can be made.
    """
    base = Path(tempfile.gettempdir()) if within is None else within
    for old in base.glob(".pounce-*-tmp"):
        pid = old.name.split("-")[-3]
        if pid.isdigit() and not Path(f"/proc/{pid}").exists():
            shutil.rmtree(old, ignore_errors=True)
    made = Path(tempfile.mkdtemp(prefix=f".pounce-{purpose}-{os.getpid()}-", suffix="-tmp", dir=base))
    try:
        yield made
    finally:
        shutil.rmtree(made, ignore_errors=True)
