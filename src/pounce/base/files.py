"""Files that are written whole or not at all."""

import contextlib
import os
import tempfile
from pathlib import Path


def write_whole(path: Path, data: bytes) -> None:
    """Writes the file in one go or not at all: unique temporary file beside it, flush, fsync, replace."""
    handle, temporary = tempfile.mkstemp(prefix=f".{path.name}.", dir=path.parent)
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
