"""Times of day over midnight and summer time, what was really done, and what that puts at risk."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest

from pounce.pour.clock import State, next_time, on_clock
from pounce.pour.critical import placed
from pounce.pour.values import Kind, Limit, PourResult, Step
from tests.unit.pour.made import pour_result

BERLIN = ZoneInfo("Europe/Berlin")
STEPS = (
    Step("mix", "Mix sand", 5.0, ()),
    Step("ram", "Ram it", 15.0, ("mix",)),
    Step("melt", "Melt", 40.0, (), Kind.FIRE),
    Step("treat", "Skim", 5.0, ("melt", "ram")),
    Step("pour", "Pour", 2.0, ("treat",)),
    Step("open", "Wait", 30.0, ("pour",), Kind.WAIT),
    Step("shake", "Knock out", 8.0, ("open",)),
)
LIMITS = (Limit("mix", "ram", 25.0, "resin sand goes off before the drag is rammed"),)


@pytest.fixture(scope="module")
def result() -> PourResult:
    return replace(pour_result(), steps=STEPS, limits=LIMITS, placed=placed(STEPS))


def at(text: str, zone: ZoneInfo = BERLIN) -> datetime:
    return datetime.fromisoformat(text).replace(tzinfo=zone).astimezone(UTC)


def test_as_soon_as_it_can_be_and_at_a_time(result: PourResult) -> None:
    now = at("2026-11-30T14:00")
    soon = on_clock(result, "", now, zone=BERLIN)
    assert soon.pour == now + timedelta(minutes=45) and soon.of("melt").start == now
    later = on_clock(result, "15:30", now, zone=BERLIN)
    assert later.pour == at("2026-11-30T15:30") and later.missed is None and later.warning(BERLIN) == ""
    assert later.of("ram").end == at("2026-11-30T15:25") and later.of("shake").end == at("2026-11-30T16:10")
    # too late for that: it says which is the soonest
    late = on_clock(result, "14:20", now, zone=BERLIN)
    assert late.pour == soon.pour and late.missed == at("2026-11-30T14:20")
    assert late.warning(BERLIN) == "14:20 cannot be kept any more: 14:45 is the soonest."


def test_over_midnight(result: PourResult) -> None:
    times = on_clock(result, "00:10", at("2026-11-30T22:00"), zone=BERLIN)
    assert times.pour == at("2026-12-01T00:10") and times.of("melt").start == at("2026-11-30T23:25")
    # a time that is past today is tomorrow's
    assert next_time("09:00", at("2026-11-30T22:00"), BERLIN) == at("2026-12-01T09:00")


def test_summer_time(result: PourResult) -> None:
    """In 2026 Europe's clocks skip 02:00 to 03:00 on 29 March, and show it twice on 25 October."""
    spring = on_clock(result, "03:30", at("2026-03-29T01:00"), zone=BERLIN)
    assert spring.pour - at("2026-03-29T01:00") == timedelta(minutes=90)
    assert spring.of("melt").start.astimezone(BERLIN).strftime("%H:%M") == "01:45"  # three quarters of an hour before
    autumn = on_clock(result, "03:30", at("2026-10-25T01:00"), zone=BERLIN)
    assert autumn.pour - at("2026-10-25T01:00") == timedelta(minutes=210)
    # a time that is skipped comes an hour later; one shown twice is the first
    assert next_time("02:30", at("2026-03-29T01:00"), BERLIN).astimezone(BERLIN).strftime("%H:%M") == "03:30"
    assert next_time("02:30", at("2026-10-25T01:00"), BERLIN) - at("2026-10-25T01:00") == timedelta(minutes=90)


def test_late_steps_move_what_hangs_on_them_and_say_what_is_at_risk(result: PourResult) -> None:
    begin = at("2026-11-30T14:00")
    done = {"melt": (begin, None), "mix": (at("2026-11-30T14:20"), at("2026-11-30T14:25"))}
    now = at("2026-11-30T14:40")
    moved = on_clock(result, "14:45", now, done, BERLIN)
    # nobody has begun to ram: it begins now, fifteen minutes late, and the pour with it
    assert moved.of("ram").start == now and moved.of("melt").state is State.RUNNING
    assert moved.of("treat").start == at("2026-11-30T14:55") and moved.pour == at("2026-11-30T15:00")
    assert moved.of("open").start == at("2026-11-30T15:02")
    assert moved.of("mix").state is State.DONE and moved.of("treat").late_min == pytest.approx(15.0)
    (risk,) = moved.risks
    assert risk.over_min == pytest.approx(10.0)
    assert moved.warning(BERLIN) == (
        "Resin sand goes off before the drag is rammed: it keeps until 14:45, 10 min too short."
    )
    # once it is poured the rest follows at once
    done |= {"ram": (now, now), "treat": (now, now), "melt": (begin, now), "pour": (now, now + timedelta(minutes=1))}
    poured = on_clock(result, "14:45", now + timedelta(minutes=3), done, BERLIN)
    assert poured.pour == now and poured.of("shake").start >= now + timedelta(minutes=31)


def test_a_step_that_is_not_there(result: PourResult) -> None:
    with pytest.raises(KeyError):
        on_clock(result, "", at("2026-11-30T14:00")).of("dance")
