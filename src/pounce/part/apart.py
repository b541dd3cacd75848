"""Model files read in a process apart, within limits of memory and time: their readers may crash, hang or ask for all
the memory there is, and the bench must not.

The child is a fork, which is there in milliseconds; it hands the arrays back through memory that both see.
"""

import faulthandler
import mmap
import os
import resource
import signal
import time
from collections.abc import Callable
from pathlib import Path
from typing import NoReturn

import msgspec
import numpy as np

from pounce.base.dying import die_with_parent
from pounce.base.errors import UserFault
from pounce.base.log import note
from pounce.base.progress import Progress
from pounce.part.formats import BROKEN, RawBody, RawModel

# Memory a reader may take over what is taken already: so much, and so many times the size of the file.
MOST_BYTES, TIMES = 1 << 30, 40
# Processor time it may take, s: so much, and so much a megabyte.
LEAST_S, PER_MB_S = 20.0, 1.0
# Times the processor time that may pass on the clock, for a machine that is busy.
PATIENCE = 3.0
POLL_S = 0.005


class _Body(msgspec.Struct):
    name: str
    vertices: int
    faces: int
    imported: bool


class _Told(msgspec.Struct):
    """What the child says: the bodies of the file, or what is wrong with it."""

    format: str = ""
    unit: str | None = None
    bodies: tuple[_Body, ...] = ()
    fault: tuple[str, str] | None = None
    broken: str | None = None
    too_large: bool = False


def read_apart(read: Callable[[Path], RawModel], path: Path, progress: Progress) -> RawModel:
    """What ``read`` makes of the file. UserFault where it cannot be read, in one sentence, whatever the reader does to
    its process; Cancelled passes through and ends it.
    """
    shared = os.memfd_create("pounce-model")
    try:
        size = path.stat().st_size
        allowed = LEAST_S + PER_MB_S * size / 1e6
        child = os.fork()
        if not child:
            _child(read, path, shared, size, allowed)
        code = _waited(child, path, PATIENCE * allowed, progress)
        if code:
            raise _ended(path, code)
        return _taken(shared, path)
    finally:
        os.close(shared)


def _child(read: Callable[[Path], RawModel], path: Path, shared: int, size: int, allowed_s: float) -> NoReturn:
    """The fork: never returns, and never runs what its parent would run at its end."""
    code = 1
    try:
        die_with_parent()
        faulthandler.disable()
        # what the readers print is for nobody
        quiet = os.open(os.devnull, os.O_RDWR)
        for stream in (0, 1, 2):
            os.dup2(quiet, stream)
        for number in (signal.SIGTERM, signal.SIGINT):
            signal.signal(number, signal.SIG_DFL)
        taken = int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize()
        most = taken + MOST_BYTES + TIMES * size
        resource.setrlimit(resource.RLIMIT_AS, (most, most))
        resource.setrlimit(resource.RLIMIT_CPU, (int(allowed_s) + 1, int(allowed_s) + 1))
        resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
        _hand_over(shared, read, path)
        code = 0
    finally:
        os._exit(code)


def _hand_over(shared: int, read: Callable[[Path], RawModel], path: Path) -> None:
    arrays: list[np.ndarray] = []
    try:
        raw = read(path)
        bodies = []
        for one in raw.bodies:
            bodies.append(_Body(one.name, len(one.vertices), len(one.faces), one.imported is not None))
            arrays += [np.ascontiguousarray(one.vertices, np.float64), np.ascontiguousarray(one.faces, np.int64)]
            if one.imported is not None:
                arrays.append(np.ascontiguousarray(one.imported, np.int64))
        told = _Told(raw.format, raw.unit, tuple(bodies))
    except UserFault as fault:
        told = _Told(fault=(fault.what, fault.try_this))
    except MemoryError:
        told = _Told(too_large=True)
    except BROKEN as error:
        told = _Told(broken=f"{type(error).__name__}: {error}"[:400])
    head = msgspec.msgpack.encode(told)
    with os.fdopen(os.dup(shared), "wb") as stream:
        stream.write(len(head).to_bytes(8, "little"))
        stream.write(head)
        stream.write(b"\0" * (-stream.tell() % 8))
        for array in arrays if told.bodies else ():
            stream.write(array.data)


def _waited(child: int, path: Path, most_s: float, progress: Progress) -> int:
    """How the child ended: 0 well, under 0 by a signal."""
    started, ended = time.monotonic(), False
    try:
        while True:
            done, status = os.waitpid(child, os.WNOHANG)
            if done:
                ended = True
                return os.waitstatus_to_exitcode(status)
            passed = time.monotonic() - started
            if passed > most_s:
                raise _slow(path, most_s)
            progress(min(0.95, passed / most_s), "Reading the model")
            time.sleep(POLL_S)
    finally:
        if not ended:
            os.kill(child, signal.SIGKILL)
            os.waitpid(child, 0)


def _slow(path: Path, most_s: float) -> UserFault:
    return UserFault(f"'{path.name}' took longer than {most_s:.0f} s to read.", "Make a coarser export, or write STL.")


def _ended(path: Path, code: int) -> UserFault:
    if code == -signal.SIGXCPU or code == -signal.SIGKILL:
        return UserFault(f"'{path.name}' took too long to read.", "Make a coarser export, or write STL.")
    note(f"the reader of {path.name!r} ended by itself ({code})")
    return UserFault(f"'{path.name}' is broken: its reader gave up on it.", "Export the model again.")


def _taken(shared: int, path: Path) -> RawModel:
    """What the child left. Arrays are copied out, so that the memory goes with the descriptor."""
    if not os.fstat(shared).st_size:
        raise _ended(path, 1)
    with mmap.mmap(shared, 0, access=mmap.ACCESS_READ) as seen:
        size = int.from_bytes(seen[:8], "little")
        told = msgspec.msgpack.decode(seen[8 : 8 + size], type=_Told)
        if told.fault is not None:
            raise UserFault(*told.fault)
        if told.too_large:
            raise UserFault(f"'{path.name}' is too large for this machine.", "Make a coarser export.")
        if told.broken is not None:
            note(f"the reader of {path.name!r}: {told.broken}")
            raise UserFault(f"'{path.name}' is broken or cut short and cannot be read.", "Export the model again.")
        at, bodies = 8 + size + (-(8 + size) % 8), []
        for one in told.bodies:
            vertices = np.frombuffer(seen, np.float64, 3 * one.vertices, at).reshape(-1, 3).copy()
            at += vertices.nbytes
            faces = np.frombuffer(seen, np.int64, 3 * one.faces, at).reshape(-1, 3).copy()
            at += faces.nbytes
            imported = None
            if one.imported:
                imported = np.frombuffer(seen, np.int64, one.faces, at).copy()
                at += imported.nbytes
            bodies.append(RawBody(one.name, vertices, faces, imported))
    return RawModel(told.format, told.unit, tuple(bodies))
