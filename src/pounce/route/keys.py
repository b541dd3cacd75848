"""Under which key a result is kept: a digest of stop version, its choices, what it was made from, and the tables.

Keys come from the job alone, so the bench can tell at once whether a result it holds is still true.
"""

from pounce.base.digest import digest
from pounce.job.job import Job
from pounce.metals.tables import tables_digest
from pounce.route.stops import steps


def keys(job: Job) -> dict[str, str]:
    """The key of every stop's result for this job, by the stop's id."""
    tables = tables_digest()
    out: dict[str, str] = {}
    for stop in steps():
        before = list(out.values()) if stop.hangs_on_all else [out[one.id] for one in stop.keyed_by]
        out[stop.id] = digest(stop.id, stop.version, tables, *before, *stop.reads(job))
    return out
