"""Pages of Mould in a build."""

import csv
import io

from pounce.export.mouldplan import mould_drawings
from pounce.export.templates import templates_pdf
from pounce.part.model import Model
from pounce.route.results import Results
from pounce.route.stops import MOULD


def mould_plan_page(results: Results, _model: Model, _unit: str) -> bytes:
    """The mould from above at 1:1, over as many sheets as it takes."""
    return templates_pdf(results.job.name, mould_drawings(results.need(MOULD)), results.job.pattern.paper)[0]


def flask_boards_table(results: Results, _model: Model, _unit: str) -> bytes:
    """What the box is sawn from, as CSV."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(["board", "count", "long_mm", "wide_mm", "thick_mm"])
    for one in results.need(MOULD).boards:
        table.writerow([one.name, one.count, *(f"{side:.0f}" for side in one.size_mm)])
    return out.getvalue().encode()
