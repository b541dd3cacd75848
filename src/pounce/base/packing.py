"""Values in one file, arrays out of band: how results cross between processes and stay on the disk.

A value is pickled with its arrays beside it; header and arrays lie in one file. In shared memory whoever opens it maps
it, so a result of 100 MB crosses in a millisecond and its arrays come out read-only.
"""

import mmap
import pickle
import struct
from collections.abc import Iterator
from pathlib import Path
from typing import Any, Protocol

_HEAD = struct.Struct("<QQ")
_ALIGN = 64


class Sink(Protocol):
    """What takes bytes."""

    def write(self, data: Any, /) -> int:
        """Takes them and tells how many."""


def pack(path: Path, value: Any) -> Path:
    """Writes the value to ``path`` for other processes; the file appears whole or not at all."""
    temporary = path.with_suffix(".part")
    with temporary.open("wb") as stream:
        pack_into(stream, value)
    temporary.replace(path)
    return path


def pack_into(stream: Sink, value: Any) -> None:
    """Writes the value to an open file, from where it stands."""
    buffers: list[pickle.PickleBuffer] = []
    header = pickle.dumps(value, protocol=5, buffer_callback=buffers.append)
    raws = [buffer.raw() for buffer in buffers]
    at = stream.write(_HEAD.pack(len(header), len(raws)))
    at += stream.write(struct.pack(f"<{len(raws)}Q", *[raw.nbytes for raw in raws]))
    at += stream.write(header)
    for raw in raws:
        at += stream.write(b"\0" * (-at % _ALIGN))
        at += stream.write(raw)


def unpack(path: Path) -> Any:
    """The value kept at ``path``; its arrays look straight into the file's pages."""
    with path.open("rb") as stream:
        return unpacked(memoryview(mmap.mmap(stream.fileno(), 0, access=mmap.ACCESS_READ)))


def unpacked(raw: memoryview) -> Any:
    """The value in these bytes; its arrays look straight into them, and can be written to where these can."""
    header_size, count = _HEAD.unpack_from(raw, 0)
    at = _HEAD.size + 8 * count
    sizes = struct.unpack_from(f"<{count}Q", raw, _HEAD.size)
    return pickle.loads(raw[at : at + header_size], buffers=_buffers(raw, at + header_size, sizes))


def _buffers(raw: memoryview, at: int, sizes: tuple[int, ...]) -> Iterator[memoryview]:
    for size in sizes:
        at += -at % _ALIGN
        yield raw[at : at + size]
        at += size
