"""The sheet's page of a core: core and box, prints, what bears on it, and how its sand is made."""

import numpy as np
from PIL import Image
from reportlab.lib.utils import ImageReader, simpleSplit
from reportlab.pdfgen.canvas import Canvas

from pounce.base.units import degrees, length, mass, quantity, sizes
from pounce.cores.values import Core
from pounce.metals.tables import Mix, baking_words
from pounce.metals.tables import cautions as caution_table
from pounce.sheet.drawing import INK, MUTED, fitted
from pounce.sheet.rows import MARGIN, heading, high, row, wide
from pounce.solid.mesh import Floats, joined
from pounce.solid.picture import render, standing_view

KINDS = {
    "side": "Print in the joint",
    "tail": "Print with a tail",
    "cope": "Cope print",
    "drag": "Drag print",
    "ring": "Belt round the outside",
}


def core_page(page: Canvas, name: str, core: Core, mix: Mix, factors: Floats, boxed: Floats, unit: str) -> None:
    """Draws the page on the canvas as it stands. ``factors`` (3,) what is rammed up over part, ``boxed`` (3,) the
    core box over part.
    """
    y = high(page) - MARGIN - 12
    page.setFillColor(INK)
    page.setFont("Semi", 16)
    page.drawString(MARGIN, y, fitted(f"{name}: {core.name.lower()}", "Semi", 16, wide(page) - 2 * MARGIN))
    y = _pictures(page, core, factors, y - 14)
    y = heading(page, y, "Prints")
    for core_print in core.prints:
        keyed = ", keyed" if core_print.keyed else ""
        taper = (
            f"taper {degrees(core_print.taper_deg)}"
            if core_print.kind in ("cope", "drag")
            else f"lean {degrees(core_print.taper_deg)}"
        )
        share = float(factors.mean())
        about = (
            f"{length(core_print.width_mm * share, unit)} wide, {taper}, clearance "
            f"{length(core_print.clearance_mm * share, unit, 2)}{keyed}"
        )
        y = row(page, y, KINDS[core_print.kind], about, length(core_print.length_mm * share, unit))
    for number, box in enumerate(core.boxes, 1):
        across, along, tall = (value * float(boxed.mean()) for value in box.size_mm)
        title = "Core box" if len(core.boxes) == 1 else f"Core box, piece {number}"
        y = row(page, y, title, ", ".join(part.name.lower() for part in box.parts), sizes((across, along, tall), unit))
    y = heading(page, y - 8, "What bears on it")
    load = core.loads
    rows = [
        ("Its own weight", quantity("weight_n", load.weight_n)),
        ("Lift when poured", quantity("lift_n", max(load.lift_n, 0.0))),
        ("Pressure of the prints", quantity("pressure_kpa", load.pressure_kpa)),
        ("The sand bears", "no figure" if load.allowed_kpa is None else quantity("allowed_kpa", load.allowed_kpa)),
        ("Sag", length(load.sag_mm, unit, 2)),
        ("Vent", length(core.vent_mm, unit)),
    ]
    for title, figure in rows:
        y = row(page, y, title, "", figure)
    y = heading(page, y - 8, f"Sand for it: {mix.name.lower()}")
    for title, kg in (("Dry sand", core.sand_kg), (mix.binder, core.binder_kg), ("Water", core.water_kg)):
        if kg > 0.0:
            y = row(page, y, title, "", mass(kg))
    timing = f"Keeps {mix.bench_life.value:g} min; strip after {mix.strip.value:g} min.{baking_words(mix)}"
    cautions = (caution_table()[key].text for key in mix.cautions)
    text = " ".join([timing, *mix.steps, *cautions, "The maker's sheet and local rules go before this page."])
    page.setFont("Body", 9.5)
    page.setFillColor(MUTED)
    y -= 14
    for line in simpleSplit(text, "Body", 9.5, wide(page) - 2 * MARGIN):
        page.drawString(MARGIN, y, line)
        y -= 12


def _pictures(page: Canvas, core: Core, factors: Floats, top: float) -> float:
    """The core, and its box opened beside it."""
    width, height = 250.0, 170.0
    box = core.boxes[0]
    lift = 0.55 * float(np.linalg.norm(core.mesh.size))
    opened = [part.mesh.moved(np.eye(3), box.pull * (lift if k else 0.0)) for k, part in enumerate(box.parts)]
    up = box.pull if abs(float(box.pull[2])) > 0.5 else np.eye(3)[2]
    for index, (mesh, towards) in enumerate(((core.mesh, np.eye(3)[2]), (joined(opened), up))):
        scaled = mesh.scaled(factors)
        pixels = render(scaled, standing_view(scaled, towards, 750, 510))
        image = ImageReader(Image.fromarray(pixels[:, :, :3]))
        page.drawImage(image, MARGIN + index * (width + 14), top - height, width, height)
    page.setFont("Slant", 8.5)
    page.setFillColor(MUTED)
    page.drawString(MARGIN, top - height - 11, "The core with its prints, and its box opened. Not to one scale.")
    return top - height - 20
