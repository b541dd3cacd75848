"""The line of stops: computes what is missing and keeps what was computed."""

from collections import OrderedDict
from collections.abc import Callable
from typing import Any

from pounce.base.errors import UserFault
from pounce.base.tick import Tick, silent, span
from pounce.cores.stop import cores_stop
from pounce.draw.stop import draw_stop
from pounce.job.job import Job
from pounce.metals.method import resolve
from pounce.part.model import Model
from pounce.part.stop import part_stop
from pounce.parting.stop import parting_stop
from pounce.pattern.stop import pattern_stop
from pounce.route.keys import STOPS, cored, keys
from pounce.route.results import Results
from pounce.stock.stop import stock_stop

# Results kept: many of small parts, few of large ones, some eight million triangles in all.
KEPT, LEAST_KEPT, KEPT_TRIANGLES = 40, 8, 8_000_000
_SHARES = {
    "part": (0.0, 0.12), "metal": (0.12, 0.13), "draw": (0.13, 0.45), "parting": (0.45, 0.6), "stock": (0.6, 0.75),
    "cores": (0.75, 0.9), "pattern": (0.9, 1.0),
}  # fmt: skip


Watcher = Callable[[str, str, Any, UserFault | None], None]


class Line:
    """Keeps the results of the last jobs and computes what is missing."""

    def __init__(self) -> None:
        self._kept: OrderedDict[str, Any] = OrderedDict()

    def run(
        self, job: Job, model: Model | None, tick: Tick = silent, watch: Watcher | None = None, until: str = STOPS[-1]
    ) -> Results:
        """All stops of the job in order. A stop that raises UserFault leaves the rest that need it out.

        ``watch(stop, key, result, fault)`` is called as soon as each is there. ``until`` is the last stop
        worked. Cancelled passes through.
        """
        names = keys(job)
        found: dict[str, Any] = {}
        faults: dict[str, UserFault] = {}
        for stop in STOPS[: STOPS.index(until) + 1]:
            key = names[stop]
            start, end = _SHARES[stop]
            try:
                if key in self._kept:
                    self._kept.move_to_end(key)
                elif stop != "metal" and model is None:
                    continue
                else:
                    made = self._make(stop, job, model, found, span(tick, start, end))
                    if made is None:
                        continue
                    self._kept[key] = made
                    while len(self._kept) > self._most(found):
                        self._kept.popitem(last=False)
                found[stop] = self._kept[key]
                if watch:
                    watch(stop, key, found[stop], None)
            except UserFault as fault:
                faults[stop] = fault
                if watch:
                    watch(stop, key, None, fault)
            tick(end, "")
        return Results(job, faults=faults, **found)

    def _most(self, found: dict[str, Any]) -> int:
        faces = len(found["part"].mesh.faces) if "part" in found else 1
        return max(LEAST_KEPT, min(KEPT, KEPT_TRIANGLES // max(faces, 1)))

    def keep(self, key: str, result: Any) -> None:
        """Takes a result that was computed before, by another line of this session."""
        self._kept[key] = result

    def holds(self, key: str) -> bool:
        """Whether the result with this key is kept."""
        return key in self._kept

    def known(self, job: Job) -> Results:
        """What is kept of this job; nothing is computed."""
        found = {stop: self._kept[key] for stop, key in keys(job).items() if key in self._kept}
        return Results(job, **found)

    def _make(self, stop: str, job: Job, model: Model | None, found: dict[str, Any], tick: Tick) -> Any:
        """The result of one stop, or None when something it needs is missing."""
        needs = {
            "draw": ("part",), "parting": ("part", "metal", "draw"), "stock": ("part", "metal", "draw", "parting"),
            "cores": ("part", "metal", "draw", "parting", "stock"),
            "pattern": ("part", "metal", "draw", "parting", "stock", "cores"),
        }  # fmt: skip
        if any(need not in found for need in needs.get(stop, ())):
            return None
        if stop == "part" and model is not None:
            return part_stop(job.part, model, tick)
        if stop == "metal":
            return resolve(job.method)
        if stop == "draw":
            return draw_stop(job.draw, found["part"], tick)
        if stop == "parting":
            return parting_stop(job.parting, found["part"], found["metal"], found["draw"], tick)
        if stop == "stock":
            return stock_stop(job.stock, found["part"], found["metal"], found["draw"], found["parting"], tick, cored(job))
        if stop == "cores":
            return cores_stop(
                job.cores, found["stock"], found["part"], found["metal"], found["draw"], found["parting"], tick
            )
        return pattern_stop(
            job.pattern,
            found["stock"],
            found["cores"],
            found["part"],
            found["metal"],
            found["draw"],
            found["parting"],
            tick,
        )
