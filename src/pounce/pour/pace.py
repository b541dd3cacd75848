"""How fast this bench rams, by what it really did."""

from collections.abc import Iterable, Mapping
from datetime import datetime

from pounce.metals.melt import melt
from pounce.pour.values import Step

# Half a minute and less was no ramming: a step ticked off after it was done.
LEAST_MIN, LEAST_PACE = 1.0, 0.05


def rammed_pace(steps: Iterable[Step], done: Mapping[str, tuple[datetime, datetime | None]]) -> float | None:
    """Minutes a litre over all halves that were rammed by the clock, without what a half takes besides its sand; None
    while none was.
    """
    besides = melt().work.ram_half.value
    minutes = litres = 0.0
    for step in steps:
        start, end = done.get(step.id, (None, None))
        if step.litres <= 0.0 or start is None or end is None:
            continue
        took = (end - start).total_seconds() / 60.0
        if took < LEAST_MIN:
            continue
        minutes += max(took - besides, 0.0)
        litres += step.litres
    return max(minutes / litres, LEAST_PACE) if litres > 0.0 else None
