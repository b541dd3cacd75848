"""Entries that the logbook's tests put in."""

import random
from datetime import UTC, datetime, timedelta

from pounce.logbook.values import Casting, Defect, Event, Measure, Outcome, Photo, Pour, Recipe, Side, Way, new_id

BEGIN = datetime(2020, 1, 1, 9, 30, tzinfo=UTC)


def some_pour(k: int, rng: random.Random) -> Pour:
    """An entry with a bit of everything."""
    measures = (
        Measure("Length", 121.6, round(120.0 + rng.gauss(0, 0.1), 2)),
        Measure("Bore", 22.3, 22.0, 22.1, 25.0, Way.JOINT, Side.INSIDE, True, 0.05, 3, True, True, 22.4),
    )
    defects = (
        Defect("sink", "thick", "cut", (1.5, -2.25, 3.0), 'said "so", twice\nindeed', False, "hot"),
        Defect("fin"),
    )
    return Pour(
        new_id(),
        BEGIN + timedelta(hours=9.37 * k),
        f"Job {k % 37}",
        f"id-{k % 37}",
        metal=("aluminium-silicon", "gunmetal")[k % 2],
        mould="green-sand",
        charge=("ingot", "scrap", "turnings", "")[k % 4],  # type: ignore[arg-type]
        charged_kg=1.5,
        returns_kg=0.6,
        planned_c=715.0,
        poured_c=None if k % 5 == 0 else 700.0 + k % 40,
        core_dry=(None, True, False)[k % 3],
        sand_uses=k % 9 or None,
        broken=k % 11 == 0,
        note=f"Füße, {k}" if k % 2 else "",
        minutes={"ram": 12.5, "melt": 41.0},
        chosen={"Metal: Draft": "2"},
        castings=(
            Casting(1, rng.choice(list(Outcome)), 0.47, "first", defects, measures),
            Casting(2, Outcome.SOUND, 0.4),
        ),
        photos=(Photo("a.jpg", "ab12"),) if k % 7 == 0 else (),
    )


def events_and_recipes() -> tuple[tuple[Event, ...], tuple[Recipe, ...]]:
    """Two of each."""
    coat = Event(new_id(), BEGIN, "Job 3", "coat", 1, "abc", 'two coats, "thin"')
    mix = Recipe(new_id(), BEGIN, "Cores", "core", {"sand": 10.0, "oil": 0.2})
    return (
        (coat, Event(new_id(), BEGIN, "Job 4", "pulled", 6)),
        (mix, Recipe(new_id(), BEGIN, "Sand", "sand", {"sand": 1.0})),
    )
