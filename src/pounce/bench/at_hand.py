"""Results the document has at hand: packed by the worker, unpacked here, kept while they may be wanted again."""

from collections import OrderedDict
from pathlib import Path

from pounce.base.errors import UserFault
from pounce.base.packing import unpack
from pounce.job.job import Job
from pounce.metals.method import resolve
from pounce.route.keys import keys
from pounce.route.results import Results
from pounce.route.stops import METAL, steps

# Results at hand, and the shared memory they may take together.
KEPT, KEPT_BYTES = 90, 1_500_000_000


class AtHand:
    """Results and faults by their keys."""

    def __init__(self) -> None:
        self._kept: OrderedDict[str, tuple[object, str]] = OrderedDict()
        self._faults: dict[str, UserFault] = {}
        # a rougher result of one stop, until its own comes
        self._early: tuple[str, object, str] | None = None

    def take(self, key: str, path: str, job: Job | None) -> None:
        """A packed result has come; the oldest go where there are too many, those of the current job never."""
        self._drop_early()
        # one packed result may stand under several keys: a pattern to which nothing was added is the part
        same = next((found for found, where in self._kept.values() if where == path), None)
        self._kept[key] = (unpack(Path(path)) if same is None else same, path)
        self._kept.move_to_end(key)
        needed = set() if job is None else set(keys(job).values())
        sizes = {key: Path(path).stat().st_size for key, (_, path) in self._kept.items() if Path(path).exists()}
        for old in [key for key in self._kept if key not in needed]:
            if len(self._kept) <= KEPT and sum(sizes.values()) <= KEPT_BYTES:
                return
            gone = self._kept.pop(old)[1]
            if all(where != gone for _, where in self._kept.values()):
                Path(gone).unlink(missing_ok=True)
            sizes.pop(old, None)

    def take_early(self, key: str, path: str) -> None:
        """A rougher result has come, which stands in until the stop's own is there."""
        self._drop_early()
        self._early = (key, unpack(Path(path)), path)

    def _drop_early(self) -> None:
        if self._early is not None:
            Path(self._early[2]).unlink(missing_ok=True)
            self._early = None

    def fault(self, key: str, what: str, try_this: str) -> None:
        """A stop could not work."""
        self._faults[key] = UserFault(what, try_this)

    def forget_faults(self) -> None:
        """Another job is on the bench: what could not be worked is tried anew."""
        self._faults.clear()

    def lacks(self, job: Job) -> bool:
        """Whether anything of the job is still to be worked out."""
        names = keys(job)
        wanted = [names[step.id] for step in steps()]
        return any(key not in self._kept and key not in self._faults for key in wanted)

    def results(self, job: Job) -> Results:
        """What is known of the job; a result whose needs went out of memory before it waits for them to come again."""
        names = keys(job)
        there = {stop: self._kept[key][0] for stop, key in names.items() if key in self._kept}
        if self._early is not None:
            there |= {stop: self._early[1] for stop, key in names.items() if key == self._early[0]}
        there.setdefault(METAL.id, resolve(job.method))
        found: dict[str, object] = {}
        for step in steps():
            if step.id in there and all(need.id in found for need in step.needs):
                found[step.id] = there[step.id]
        return Results(job, found, {stop: self._faults[key] for stop, key in names.items() if key in self._faults})

    def paths(self, job: Job | None) -> dict[str, str]:
        """Where the packed results of the job lie, for the render server."""
        if job is None:
            return {}
        out = {stop: self._kept[key][1] for stop, key in keys(job).items() if key in self._kept}
        if self._early is not None:
            out |= {stop: self._early[2] for stop, key in keys(job).items() if key == self._early[0]}
        return out
