"""Cases run in forked processes, many in each, so that one that crashes or hangs is one line and not the end."""

import faulthandler
import os
import resource
import signal
import struct
import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import NoReturn

# A case of a child: seed, and what came of it ("" well, else what was wrong).
Case = Callable[[int], str]
_HEAD = struct.Struct("<qi")


@dataclass(frozen=True)
class Broken:
    """A seed that broke something, and what it did."""

    seed: int
    what: str


def campaign(case: Case, seeds: range, limit_s: float, most_bytes: int, say: Callable[[str], None]) -> list[Broken]:
    """Runs every seed; those that raise, return words, die, hang over ``limit_s`` or want more than ``most_bytes``."""
    out: list[Broken] = []
    at, began, last = seeds.start, time.monotonic(), 0.0
    while at < seeds.stop:
        at, broken = _run(case, range(at, seeds.stop), limit_s, most_bytes)
        out += broken
        for one in broken:
            say(f"  seed {one.seed}: {one.what}")
        if time.monotonic() - last > 20.0:
            last = time.monotonic()
            say(f"  {at - seeds.start} of {len(seeds)} in {last - began:.0f} s, {len(out)} broken")
    return out


def _run(case: Case, seeds: range, limit_s: float, most_bytes: int) -> tuple[int, list[Broken]]:
    """The seed to go on with, and what broke; the child ends after a while so that leaks do not add up."""
    reading, writing = os.pipe()
    child = os.fork()
    if not child:
        os.close(reading)
        _child(case, seeds[:200], writing, limit_s, most_bytes)
    os.close(writing)
    out: list[Broken] = []
    done = seeds.start
    with os.fdopen(reading, "rb") as stream:
        while head := stream.read(_HEAD.size):
            seed, size = _HEAD.unpack(head)
            words = stream.read(size).decode("utf-8", "replace")
            done = seed + 1
            if words:
                out.append(Broken(seed, words))
    status = os.waitstatus_to_exitcode(os.waitpid(child, 0)[1])
    if status:
        why = f"hangs over {limit_s:g} s" if status == -signal.SIGALRM else f"ends the process ({status})"
        return done + 1, [*out, Broken(done, why)]
    return done, out


def _child(case: Case, seeds: range, writing: int, limit_s: float, most_bytes: int) -> NoReturn:
    code = 1
    try:
        faulthandler.disable()
        signal.signal(signal.SIGALRM, signal.SIG_DFL)
        resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
        with os.fdopen(writing, "wb", buffering=0) as stream:
            for seed in seeds:
                signal.setitimer(signal.ITIMER_REAL, limit_s)
                try:
                    words = case(seed)
                except Exception as error:  # noqa: BLE001  any that gets out is what the campaign looks for
                    words = f"{type(error).__name__}: {error} {_where(error)}"
                signal.setitimer(signal.ITIMER_REAL, 0.0)
                peak = 1024 * resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
                words = words or (f"took {peak / 1e9:.1f} GB" if peak > most_bytes else "")
                told = words.encode("utf-8", "backslashreplace")[:2000]
                stream.write(_HEAD.pack(seed, len(told)) + told)
                if peak > most_bytes:
                    break
        code = 0
    finally:
        os._exit(code)


def _where(error: BaseException) -> str:
    trace, last = error.__traceback__, ""
    while trace is not None:
        name = trace.tb_frame.f_code.co_filename
        if "pounce" in name:
            last = f"{name.rsplit('pounce/', 1)[-1]}:{trace.tb_lineno}"
        trace = trace.tb_next
    return f"at {last}"
