"""The pipeline over the stops: computes what is missing and keeps what was computed."""

import time
from collections import OrderedDict
from collections.abc import Callable
from functools import partial
from typing import ClassVar

from pounce.base.errors import UserFault
from pounce.base.progress import Progress, silent, span
from pounce.job.job import Job
from pounce.part.model import Model
from pounce.route.keys import keys
from pounce.route.results import Given, Results, Stop
from pounce.route.stops import steps
from pounce.route.store import QUICK_S, ResultStore

# Results kept: many of small parts (a search for plans works the line a dozen times), few of large ones but always a
# whole line, some eight million triangles in all.
KEPT, LEAST_KEPT, KEPT_TRIANGLES = 160, 14, 8_000_000
# How long a stop that was never worked in this session is held to take, s, and how much the last time counts.
UNKNOWN_S, LAST = 1.0, 0.5

Watcher = Callable[[str, str, object, UserFault | None], None]
Early = Callable[[str, str, object], None]


class Pipeline:
    """Keeps the results of the last jobs and computes what is missing; a ``light`` one leaves out what only a pattern
    that is really made needs: boxes of cores, heavy places. A whole one takes from a ``store`` what was worked in
    another session, and leaves there what it works.
    """

    # seconds each stop took, over all lines of this process: the shares of progress
    took: ClassVar[dict[str, float]] = {}

    def __init__(self, light: bool = False, store: ResultStore | None = None) -> None:
        self._light = light
        self._store = None if light else store
        self._kept: OrderedDict[str, object] = OrderedDict()

    def run(
        self,
        job: Job,
        model: Model | None,
        progress: Progress = silent,
        watch: Watcher | None = None,
        until: Stop[object] | None = None,
        skip: frozenset[str] = frozenset(),
        early: Early | None = None,
    ) -> Results:
        """All stops of the job in order. A stop that raises UserFault leaves the rest that need it out.

        ``watch(stop id, key, result, fault)`` is called as soon as each is there. ``until`` is the last stop
        worked, ``skip`` the ids of steps that are left out. ``early(stop id, key, result)`` takes rougher results
        of stops that give one while they work; they are not kept. Cancelled passes through.
        """
        names = keys(job)
        found: dict[str, object] = {}
        faults: dict[str, UserFault] = {}
        wanted = [stop for stop in steps() if until is None or steps().index(stop) <= steps().index(until)]
        wanted = [stop for stop in wanted if stop.id not in skip]
        shares = self._shares([stop for stop in wanted if names[stop.id] not in self._kept])
        for stop in wanted:
            key = names[stop.id]
            start, end = shares.get(stop.id, (0.0, 0.0))
            try:
                if key in self._kept:
                    self._kept.move_to_end(key)
                elif any(need.id not in found for need in stop.needs) or (model is None and not stop.without_model):
                    continue
                else:
                    rough = None if early is None else partial(early, stop.id, key)
                    tick = span(progress, start, end)
                    self._work(stop, key, Given(job, model, Results(job, found), tick, self._light, rough))
                    while len(self._kept) > self._most(Results(job, found)):
                        self._kept.popitem(last=False)
                    progress(end, "")
                found[stop.id] = self._kept[key]
                if watch:
                    watch(stop.id, key, found[stop.id], None)
            except UserFault as fault:
                faults[stop.id] = fault
                if watch:
                    watch(stop.id, key, None, fault)
        return Results(job, found, faults)

    def _work(self, stop: Stop[object], key: str, given: Given) -> None:
        """Works one stop, or takes it from the store."""
        ours = self._store is not None and stop.run.__module__.startswith("pounce.")
        if self._store is not None and ours and (taken := self._store.take(key)) is not None:
            self._kept[key] = taken
            return
        began = time.perf_counter()
        self._kept[key] = stop.run(given)
        took = time.perf_counter() - began
        self._timed(stop, took)
        if self._store is not None and ours and took > QUICK_S:
            self._store.put(key, self._kept[key])

    def _shares(self, missing: list[Stop[object]]) -> dict[str, tuple[float, float]]:
        """Where in the progress each of these begins and ends, by what they took last."""
        took = [self.took.get(stop.id, UNKNOWN_S) for stop in missing]
        whole, out, at = max(sum(took), 1e-9), {}, 0.0
        for stop, seconds in zip(missing, took, strict=True):
            out[stop.id] = (at / whole, min((at + seconds) / whole, 1.0))
            at += seconds
        return out

    def _timed(self, stop: Stop[object], seconds: float) -> None:
        before = self.took.get(stop.id, seconds)
        self.took[stop.id] = (1.0 - LAST) * before + LAST * seconds

    def _most(self, results: Results) -> int:
        faces = 1 if results.part is None else len(results.part.mesh.faces)
        return max(LEAST_KEPT, min(KEPT, KEPT_TRIANGLES // max(faces, 1)))

    def keep(self, key: str, result: object) -> None:
        """Takes a result that was computed before, by another line of this session."""
        self._kept[key] = result

    def holds(self, key: str) -> bool:
        """Whether the result with this key is kept."""
        return key in self._kept

    def all_keys(self) -> frozenset[str]:
        """The keys of all that is kept."""
        return frozenset(self._kept)

    def known(self, job: Job) -> Results:
        """What is kept of this job; nothing is computed."""
        return Results(job, {stop: self._kept[key] for stop, key in keys(job).items() if key in self._kept})
