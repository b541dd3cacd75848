"""From results to paper and pictures."""

import io

from PIL import Image

from pounce.part.model import Model, PartResult
from pounce.route.keys import STOPS
from pounce.route.results import Results, findings_at
from pounce.sheet.shop import Content, shop_sheet
from pounce.solid.mesh import Floats
from pounce.solid.picture import render, standing_view


def sheet_bytes(results: Results, model: Model, unit: str = "mm") -> bytes:
    """The shop sheet as PDF. Raises the fault of a stop that it cannot do without; a pattern may be missing."""
    fault = results.faults.get("pattern")
    return shop_sheet(
        Content(
            name=results.job.name,
            file=model.file,
            part=results.need("part"),
            method=results.need("metal"),
            draw=results.need("draw"),
            parting=results.need("parting"),
            pattern=results.pattern,
            fault=None if fault is None else str(fault),
            findings=tuple(f for stop in STOPS for f in findings_at(stop, results)),
            unit=unit,
        )
    )


def preview_png(part: PartResult, up: Floats, width: int = 472, height: int = 220) -> bytes:
    """A small picture of the part on no paper, for the job file and the shelf."""
    pixels = render(part.mesh, standing_view(part.mesh, up, width, height), background=None)
    packed = io.BytesIO()
    Image.fromarray(pixels).save(packed, "PNG", optimize=True)
    return packed.getvalue()
