"""The schema of the job file, from the values that it holds and the tables of choices."""

from typing import Any

import msgspec

from pounce.base.choice import FigureChoice, OneOf
from pounce.cores.choices import EACH
from pounce.job.choose import HOLDERS
from pounce.job.file import Content
from pounce.job.job import Job
from pounce.route.stops import stops


def schema() -> dict[str, Any]:
    """The schema of the job file, with what the tables of choices say of each field."""
    out: dict[str, Any] = msgspec.json.schema(Content)
    structs = {stop: type(getattr(Job(), holder)).__name__ for stop, holder in HOLDERS.items()}
    rows = [(structs[stop.id], choice) for stop in stops() if stop.id in structs for choice in stop.choices]
    for struct, one in [*rows, *(("HollowChoice", one) for one in EACH)]:
        if not one.field:
            continue
        field = out["$defs"][struct]["properties"][one.field]
        field |= {"title": one.title, "description": f"{one.help}."}
        if isinstance(one, FigureChoice):
            field |= {"minimum": one.low, "maximum": one.high, "unit": one.unit}
        if isinstance(one, OneOf):
            field |= {"examples": [key for key in one.options() if key]}
        if one.source:
            field |= {"source": one.source}
    return out
