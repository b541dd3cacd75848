"""A pour under way: steps begun and done, lines ticked, readings kept; on the disk at every change, so that nothing of
it is lost when the program closes.
"""

import time
from collections.abc import Iterable
from datetime import UTC, datetime, timedelta
from pathlib import Path

import msgspec
import platformdirs

from pounce.base.digest import digest
from pounce.base.errors import UserFault
from pounce.base.files import write_whole
from pounce.pour.values import Step

FOLDER, ASIDE = "pours", ".unreadable"


class Did(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """When a step was begun, when its time is up and when it ended (None: it is under way), UTC; what it is, and
    whether its end was rung.
    """

    start: datetime
    due: datetime
    text: str
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

    def begun(self, step: Step, now: datetime) -> "Run":
        """A step is begun."""
        return self._with(step.id, Did(now, now + timedelta(minutes=step.minutes), step.text))

    def ended(self, step: Step, now: datetime) -> "Run":
        """A step is done; one that was never begun is taken to be begun and done now."""
        own = self.steps.get(step.id, Did(now, now, step.text))
        return self._with(step.id, msgspec.structs.replace(own, end=now))

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
    """The pour of a job that is under way; an empty one where none is. UserFault for one that cannot be read: it is put
    aside under another name, so that nothing is written over it.
    """
    path = run_file(job)
    if not path.exists():
        return Run(job)
    try:
        return msgspec.json.decode(path.read_bytes(), type=Run)
    except OSError as error:
        raise UserFault(f"The pour under way cannot be read ({error.strerror}).", "Check your folders.") from error
    except msgspec.DecodeError as error:
        aside = path.with_suffix(ASIDE)
        path.replace(aside)
        raise UserFault(
            f"The pour that was under way cannot be read ({error}).", f"It is kept as {aside.name}; begin it again."
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


def due(run: Run, now: datetime) -> dict[str, Did]:
    """Steps under way whose time is up and that were not rung."""
    return {key: one for key, one in run.steps.items() if one.end is None and not one.rung and one.due <= now}


def under_way() -> tuple[Run, ...]:
    """All pours that are kept; one that cannot be read is left where it is."""
    out = []
    for path in sorted(run_file("").parent.glob("*.json")):
        try:
            out.append(msgspec.json.decode(path.read_bytes(), type=Run))
        except (OSError, msgspec.DecodeError):
            continue  # opening its job says what is wrong with it
    return tuple(out)


class LapseClock:
    """Now, UTC; ``speed`` times as fast as the wall's, for a pour that is only tried."""

    def __init__(self, speed: float = 1.0) -> None:
        self.speed = speed
        self._began, self._at = time.monotonic(), datetime.now(UTC)

    def now(self) -> datetime:
        """By this clock."""
        if self.speed == 1.0:
            return datetime.now(UTC)
        return self._at + timedelta(seconds=self.speed * (time.monotonic() - self._began))

    @property
    def seconds(self) -> float:
        """The same in seconds from its beginning, never backwards."""
        return self.speed * (time.monotonic() - self._began)


def utc_now() -> datetime:
    """Now, UTC."""
    return datetime.now(UTC)
