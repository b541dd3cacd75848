"""A pour under way: steps begun and done, lines ticked, readings kept; on the disk at every change, so that nothing of
it is lost when the program closes.
"""

from collections.abc import Iterable
from datetime import UTC, datetime, timedelta
from pathlib import Path

import msgspec
import platformdirs

from pounce.base.digest import digest
from pounce.base.errors import UserFault
from pounce.base.files import write_whole
from pounce.pour.clock import Clocked, State, Times

FOLDER = "pours"


class Did(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """When a step was begun and when it ended (None: it is under way), UTC; whether its end was rung."""

    start: datetime
    end: datetime | None = None
    rung: bool = False


class Reading(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A temperature: when (UTC), C, and where it came from."""

    at: datetime
    c: float
    by: str = "hand"


class Run(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A pour of a job under way."""

    job: str
    steps: dict[str, Did] = {}
    checks: dict[str, datetime] = {}
    readings: tuple[Reading, ...] = ()

    @property
    def done(self) -> dict[str, tuple[datetime, datetime | None]]:
        """As the clock takes it."""
        return {key: (one.start, one.end) for key, one in self.steps.items()}

    def begun(self, step: str, now: datetime) -> "Run":
        """A step is begun."""
        return self._with(step, Did(now))

    def ended(self, step: str, now: datetime) -> "Run":
        """A step is done; one that was never begun is taken to be begun and done now."""
        own = self.steps.get(step, Did(now))
        return self._with(step, msgspec.structs.replace(own, end=now))

    def undone(self, step: str) -> "Run":
        """A step is not begun yet."""
        return msgspec.structs.replace(self, steps={key: one for key, one in self.steps.items() if key != step})

    def rung(self, steps: Iterable[str]) -> "Run":
        """The ends of these were rung."""
        names = set(steps)
        made = {k: msgspec.structs.replace(one, rung=True) if k in names else one for k, one in self.steps.items()}
        return msgspec.structs.replace(self, steps=made)

    def ticked(self, check: str, now: datetime | None) -> "Run":
        """A line of the list is seen to, or not (None)."""
        left = {key: at for key, at in self.checks.items() if key != check}
        return msgspec.structs.replace(self, checks=left if now is None else {**left, check: now})

    def read(self, reading: Reading) -> "Run":
        """One reading more."""
        return msgspec.structs.replace(self, readings=(*self.readings, reading))

    def _with(self, step: str, did: Did) -> "Run":
        return msgspec.structs.replace(self, steps={**self.steps, step: did})


def run_file(job: str) -> Path:
    """Where the pour of a job is kept."""
    return Path(platformdirs.user_data_dir("pounce")) / FOLDER / f"{digest(job)[:16]}.json"


def load(job: str) -> Run:
    """The pour of a job that is under way; an empty one where none is. UserFault for one that cannot be read."""
    path = run_file(job)
    if not path.exists():
        return Run(job)
    try:
        return msgspec.json.decode(path.read_bytes(), type=Run)
    except (OSError, msgspec.DecodeError) as error:
        raise UserFault(
            f"The pour that was under way ({path.name}) cannot be read ({error}).", "Move it away and begin again."
        ) from None


def save(run: Run) -> Path:
    """Keeps it; one with nothing in it is taken away. UserFault for a folder that takes none."""
    path = run_file(run.job)
    try:
        if not run.steps and not run.checks and not run.readings:
            path.unlink(missing_ok=True)
            return path
        path.parent.mkdir(parents=True, exist_ok=True)
        write_whole(path, msgspec.json.encode(run))
    except OSError as error:
        raise UserFault(f"The pour cannot be kept ({error.strerror}).", "Check your folders.") from error
    return path


def due(run: Run, times: Times, now: datetime) -> tuple[Clocked, ...]:
    """Steps under way whose time is up and that were not rung."""
    return tuple(
        one
        for one in times.steps
        if one.state is State.RUNNING
        and not run.steps[one.step.id].rung
        and one.start + timedelta(minutes=one.step.minutes) <= now
    )


def utc_now() -> datetime:
    """Now, UTC."""
    return datetime.now(UTC)
