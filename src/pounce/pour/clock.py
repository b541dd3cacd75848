"""Steps at the clock: forwards from now or backwards from a wanted time, moved by what was really done."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta, tzinfo
from enum import StrEnum

from pounce.pour.critical import POUR, broken, order
from pounce.pour.values import Limit, Placed, PourResult, Step


class State(StrEnum):
    """How a step stands."""

    PLANNED = "planned"
    RUNNING = "running"
    DONE = "done"


@dataclass(frozen=True)
class Clocked:
    """A step at the clock; times in UTC."""

    step: Step
    start: datetime
    end: datetime
    state: State
    critical: bool
    late_min: float = 0.0


@dataclass(frozen=True)
class AtRisk:
    """A limit that does not hold as things stand: what goes off, when (UTC), and how many minutes before what waits for
    it is done.
    """

    limit: Limit
    at: datetime
    over_min: float

    def words(self, zone: tzinfo | None = None) -> str:
        """In one sentence, with the time of the wall clock."""
        text = self.limit.text
        keeps = f"{self.at.astimezone(zone):%H:%M}"
        over = max(round(self.over_min), 1)
        return f"{text[0].upper()}{text[1:]}: it keeps until {keeps}, {over} min too short."


@dataclass(frozen=True)
class Times:
    """The pour at the clock: when it is poured (UTC), the wanted time that could not be kept (None: it can, or nobody
    asked), steps in order, what is at risk.
    """

    pour: datetime
    missed: datetime | None
    steps: tuple[Clocked, ...]
    risks: tuple[AtRisk, ...]

    def warning(self, zone: tzinfo | None = None) -> str:
        """What the eye must see: what is at risk, or the wanted time that cannot be kept; "" nothing."""
        if self.risks:
            return self.risks[0].words(zone)
        if self.missed is None:
            return ""
        wanted, soonest = (f"{one.astimezone(zone):%H:%M}" for one in (self.missed, self.pour))
        return f"{wanted} cannot be kept any more: {soonest} is the soonest."

    def of(self, step_id: str) -> Clocked:
        """One step. KeyError for none."""
        for one in self.steps:
            if one.step.id == step_id:
                return one
        raise KeyError(step_id)


def next_time(at: str, now: datetime, zone: tzinfo | None) -> datetime:
    """The next HH:MM of the wall clock from ``now`` on, as UTC. A time that the clock skips in spring counts as the
    same hour later, one that it shows twice as the first.
    """
    hour, minute = (int(one) for one in at.split(":"))
    local = now.astimezone(zone)
    for days in (0, 1, 2):
        day = local.date() + timedelta(days=days)
        wall = datetime(day.year, day.month, day.day, hour, minute)
        moment = (wall.astimezone() if zone is None else wall.replace(tzinfo=zone)).astimezone(UTC)
        if moment >= now:
            return moment
    raise AssertionError("a time of day comes round within two days")


def on_clock(
    result: PourResult,
    at: str,
    now: datetime,
    done: Mapping[str, tuple[datetime, datetime | None]] | None = None,
    zone: tzinfo | None = None,
) -> Times:
    """The steps at the clock. ``at`` the wanted time (empty: as soon as it can be); ``done`` when steps were begun and
    ended (None: still under way), UTC: what hangs on them moves with them.
    """
    known = dict(done or {})
    soon = now + timedelta(minutes=result.before_min)
    begun = [start for start, _ in known.values()]
    if begun:  # counted from when it was begun, so that a plan under way does not creep
        first = min(begun)
        soon = first + timedelta(minutes=result.before_min)
    asked = None if not at else next_time(at, min([now, *begun]), zone)
    pour = soon if asked is None else max(asked, soon)
    moved = _moved(result.placed, pour, now, known)
    real = moved[POUR][0]
    where = {key: (_minutes(a - real), _minutes(b - real)) for key, (a, b) in moved.items()}
    risks = tuple(
        AtRisk(limit, moved[limit.first][0] + timedelta(minutes=limit.minutes), over)
        for limit, over in broken(where, result.limits)
    )
    steps = tuple(_clocked(one, moved, known, pour) for one in result.placed)
    missed = asked if asked is not None and (real - asked) > timedelta(seconds=30) else None
    return Times(real, missed, tuple(sorted(steps, key=lambda one: one.start)), risks)


def _minutes(span: timedelta) -> float:
    return span.total_seconds() / 60.0


def _clocked(
    one: Placed,
    moved: Mapping[str, tuple[datetime, datetime]],
    known: Mapping[str, tuple[datetime, datetime | None]],
    pour: datetime,
) -> Clocked:
    start, end = moved[one.step.id]
    state = State.PLANNED
    if one.step.id in known:
        state = State.RUNNING if known[one.step.id][1] is None else State.DONE
    planned = pour + timedelta(minutes=one.end)
    return Clocked(one.step, start, end, state, one.critical, _minutes(end - planned))


def _moved(
    placed: tuple[Placed, ...], pour: datetime, now: datetime, known: Mapping[str, tuple[datetime, datetime | None]]
) -> dict[str, tuple[datetime, datetime]]:
    """Begins and ends: what is done stands, what is under way ends no sooner than now, what is not begun begins as it
    was planned, not before now and not before what it waits for.
    """
    out: dict[str, tuple[datetime, datetime]] = {}
    at = {one.step.id: one for one in placed}
    for step in order(tuple(one.step for one in placed)):
        length = timedelta(minutes=step.minutes)
        if step.id in known:
            start, end = known[step.id]
            out[step.id] = (start, max(start + length, now) if end is None else end)
            continue
        ready = [out[other][1] for other in step.after]
        wanted = pour + timedelta(minutes=at[step.id].start)
        if known or wanted < now:
            wanted = max(wanted, now)
        # after the pour a step follows what it waits for, sooner too
        late = at[step.id].start >= at[POUR].end and ready
        start = max(ready) if late and step.id != POUR else max([wanted, *ready])
        out[step.id] = (start, start + length)
    return out
