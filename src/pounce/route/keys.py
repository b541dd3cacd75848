"""Under which key a result is kept: a digest of stop version, its choices, what it was made from, and the tables.

Keys come from the job alone, so the bench can tell at once whether a result it holds is still true.
"""

from typing import Final

import msgspec

from pounce.base.digest import digest
from pounce.base.errors import UserFault
from pounce.cores import VERSION as CORES_VERSION
from pounce.draw import VERSION as DRAW_VERSION
from pounce.job.job import Job
from pounce.metals import method as method_stop
from pounce.metals.tables import tables_digest
from pounce.part import VERSION as PART_VERSION
from pounce.parting import VERSION as PARTING_VERSION
from pounce.pattern import VERSION as PATTERN_VERSION
from pounce.stock import VERSION as STOCK_VERSION
from pounce.stock.values import Cored

STOPS: Final = ("part", "metal", "draw", "parting", "stock", "cores", "pattern")


def cored(job: Job) -> Cored:
    """What cores were asked for: Stock casts their hollows solid while it leans the walls."""
    asked = [one.at_mm for one in job.cores.hollows if one.make == "core"]
    wished = [one.at_mm for one in job.parting.wishes if one.kind == "core"]
    kept = [one.at_mm for one in job.cores.hollows if one.make != "core"]
    return Cored(tuple(asked + wished), job.cores.every, tuple(kept))


def keys(job: Job) -> dict[str, str]:
    """The key of every stop's result for this job."""
    tables = tables_digest()
    try:
        method = method_stop.resolve(job.method)
        draft, splits = method.required_draft_deg, method.pattern.splits
    except UserFault:
        draft, splits = -1.0, False
    # what the scale says is held beside the part and changes nothing of it
    part = digest("part", PART_VERSION, tables, msgspec.structs.replace(job.part, scale_kg=None, scale_metal=None))
    metal = digest("metal", method_stop.VERSION, tables, job.method)
    draw = digest("draw", DRAW_VERSION, tables, part, job.draw)
    parting = digest(
        "parting",
        PARTING_VERSION,
        draw,
        part,
        job.parting,
        draft,
        job.method.draft_deg is None,
        job.method.pattern,
        job.method.mould,
    )
    stock = digest("stock", STOCK_VERSION, parting, metal, job.stock, cored(job))
    cores = digest("cores", CORES_VERSION, stock, job.cores)
    pattern = digest("pattern", PATTERN_VERSION, cores, job.pattern, splits)
    return {
        "part": part, "metal": metal, "draw": draw, "parting": parting, "stock": stock, "cores": cores, "pattern": pattern,
    }  # fmt: skip
