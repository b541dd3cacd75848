"""Files that are written whole or not at all."""

import contextlib
import os
import tempfile
from pathlib import Path


def write_whole(path: Path, data: bytes) -> None:
    """Writes the file in one go or not at all: unique temporary file beside it, flush, fsync, replace. Temporary files
    that a process killed on its way left beside it go first.
    """
    _sweep(path)
    handle, temporary = tempfile.mkstemp(prefix=f".{path.name[:80]}.{os.getpid()}.", suffix=".tmp", dir=path.parent)
    try:
        with os.fdopen(handle, "wb") as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
        umask = os.umask(0)
        os.umask(umask)
        os.chmod(temporary, 0o666 & ~umask)
        os.replace(temporary, path)
    except BaseException:
        with contextlib.suppress(FileNotFoundError):
            os.unlink(temporary)
        raise


def _sweep(path: Path) -> None:
    """Takes away what processes that are no more left of this file."""
    mine = f".{path.name[:80]}."
    with contextlib.suppress(OSError), os.scandir(path.parent) as found:
        for one in found:
            if one.name.startswith(mine) and one.name.endswith(".tmp"):
                pid = one.name[len(mine) :].split(".")[0]
                if pid.isdigit() and not Path(f"/proc/{pid}").exists():
                    with contextlib.suppress(OSError):
                        os.unlink(one.path)
