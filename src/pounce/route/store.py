"""Results kept on the disk: a job that is opened again, or asked for again by a command, is there at once.

A result's key is a digest of all that it hangs on, so it is never out of date; results of another version of the
program, of its tables or of a library lie under another stamp and go. What lies there is only ever a copy: a store that
cannot be read or written costs the time to work anew, nothing else.
"""

import contextlib
import importlib.metadata
import os
import re
import struct
import tempfile
import zlib
from functools import cache
from pathlib import Path
from typing import Any

import platformdirs

from pounce.base.digest import digest
from pounce.base.log import note_fault
from pounce.base.packing import pack_into, unpacked

# Where they lie, in place of the user's cache; "0": nothing is kept.
NAMED = "POUNCE_RESULTS"
# Most that is kept in all and of one result, bytes; results that are worked this fast are not kept, s.
MOST, LARGEST, QUICK_S = 512 << 20, 96 << 20, 0.03
# Written, bytes, before the store is looked through again.
LOOK_AFTER = 32 << 20
# Libraries whose versions a result may hang on.
LIBRARIES = ("numpy", "scipy", "numba", "manifold3d", "shapely", "trimesh")
# What a folder of results is called: stamp and grid.
STORE = re.compile("[0-9a-f]{16}-[0-9]+")
# as long as arrays are aligned to, so that they lie aligned behind it
_HEAD = struct.Struct("<8sQI44x")
_MARK = b"pounce-1"


@cache
def program_stamp() -> str:
    """A digest of the program as it stands here: its sources by size and time, its libraries, the grid asked for."""
    package = Path(__file__).parents[1]
    sources = sorted(
        (str(path.relative_to(package)), stat.st_size, stat.st_mtime_ns)
        for path in package.rglob("*")
        if path.suffix in (".py", ".toml") and (stat := path.stat())
    )
    return digest(sources, [importlib.metadata.version(name) for name in LIBRARIES])[:16]


def result_store() -> "ResultStore | None":
    """The store of this user; None where nothing is to be kept, or where the folder is open to others."""
    named = os.environ.get(NAMED, "")
    if named == "0":
        return None
    folder = Path(named) if named else Path(platformdirs.user_cache_dir("pounce")) / "results"
    # the grid is asked for by the environment alone, so it is no part of a job's keys
    name = f"{program_stamp()}-{os.environ.get('POUNCE_CELLS', '0')}"
    try:
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        stat = folder.stat()
        if stat.st_uid != os.getuid() or stat.st_mode & 0o022:
            return None  # pickled values are taken from nobody else
        (folder / name).mkdir(exist_ok=True, mode=0o700)
    except OSError:
        return None
    return ResultStore(folder / name)


class ResultStore:
    """Packed results by their keys in one ``folder``; the oldest used go when there are too many."""

    def __init__(self, folder: Path, most: int = MOST) -> None:
        self._folder = folder
        self._most = most
        self._written = LOOK_AFTER  # what others left is looked through with the first that is written

    def take(self, key: str) -> Any:
        """The result with this key; None where it is not kept or not whole."""
        path = self._folder / f"{key}.bin"
        try:
            with path.open("rb") as stream:
                raw = bytearray(os.fstat(stream.fileno()).st_size)
                stream.readinto(raw)
            mark, size, sum_of = _HEAD.unpack_from(raw, 0)
            body = memoryview(raw)[_HEAD.size :]
            if mark != _MARK or size != len(body) or zlib.crc32(body) != sum_of:
                raise ValueError("not whole")
            os.utime(path)
            return unpacked(body.toreadonly())
        except FileNotFoundError:
            return None
        except (OSError, ValueError, struct.error):  # torn by a full disk or a lost machine: worked anew
            with contextlib.suppress(OSError):
                path.unlink()
            return None
        except Exception as error:  # noqa: BLE001  whatever a pickle raises: it is our bug, and costs only time
            note_fault("results", error)
            return None

    def put(self, key: str, result: Any) -> None:
        """Keeps a result. A disk that takes nothing costs only the keeping."""
        path = self._folder / f"{key}.bin"
        if path.exists():
            return
        temporary = ""
        try:
            handle, temporary = tempfile.mkstemp(prefix=f".{os.getpid()}.", suffix=".part", dir=self._folder)
            with os.fdopen(handle, "w+b") as stream:
                size = _written_whole(stream, result)
            if size <= LARGEST:
                os.replace(temporary, path)
                self._written += size
            if self._written > LOOK_AFTER:
                self._written = 0
                self._trim()
        except OSError:
            pass
        except Exception as error:  # noqa: BLE001  what cannot be packed is our bug, and costs only the keeping
            note_fault("results", error)
        finally:
            with contextlib.suppress(OSError):
                if temporary:
                    os.unlink(temporary)

    def _trim(self) -> None:
        """Takes away stores of other versions, what killed processes left, and the oldest used beyond the most."""
        for other in self._folder.parent.iterdir():
            # the folder may be one that the user named, with things of his own in it
            if STORE.fullmatch(other.name) and other.name.split("-")[0] != self._folder.name.split("-")[0]:
                for path in other.glob("*.bin"):
                    path.unlink(missing_ok=True)
                for path in other.glob(".*.part"):
                    path.unlink(missing_ok=True)
                with contextlib.suppress(OSError):  # something of another's lies in it: left
                    other.rmdir()
        for path in self._folder.glob(".*.part"):
            if not Path(f"/proc/{path.name.split('.')[1]}").exists():
                path.unlink(missing_ok=True)
        found = []
        for path in self._folder.glob("*.bin"):
            with contextlib.suppress(OSError):
                stat = path.stat()
                found.append((stat.st_mtime, stat.st_size, path))
        room = self._most
        for _, size, path in sorted(found, reverse=True):
            room -= size
            if room < 0:
                with contextlib.suppress(OSError):
                    path.unlink()


class _Counting:
    """A stream that sums what goes through it."""

    def __init__(self, stream: Any) -> None:
        self._stream = stream
        self.size, self.sum = 0, 0

    def write(self, data: Any) -> int:
        """Writes it on and counts it."""
        view = memoryview(data)
        self.size += view.nbytes
        self.sum = zlib.crc32(view, self.sum)
        self._stream.write(view)
        return view.nbytes


def _written_whole(stream: Any, result: Any) -> int:
    """Writes head and body; the body's size in bytes."""
    stream.write(bytes(_HEAD.size))
    body = _Counting(stream)
    pack_into(body, result)
    stream.seek(0)
    stream.write(_HEAD.pack(_MARK, body.size, body.sum))
    return body.size
