"""The sheet's page of how the pattern is made: the ways side by side, what to cut or print, boards, clay, and the
order of work.
"""

import numpy as np
from reportlab.pdfgen.canvas import Canvas

from pounce.base.finding import filled
from pounce.base.units import from_mm, length, mass, plain, quantity, sizes, volume
from pounce.pattern.making.values import Making, Printed
from pounce.pattern.values import Mount, PatternChoices, PatternResult
from pounce.sheet.drawing import HAIR, INK, MUTED, STEEL, fitted
from pounce.sheet.rows import MARGIN, heading, high, row, wide

WAYS = {
    "original": "The original",
    "metal": "Metal, from a master",
    "printed": "Printed",
    "wood": "Wood",
    "foam": "Foam",
}
# Lines of the cut list that a page holds beside the rest, and how large a bed is drawn, points.
MOST_LINES, BED_PT = 22, 150.0


def making_page(page: Canvas, name: str, pattern: PatternResult, choices: PatternChoices, unit: str) -> None:
    """Draws the page on the canvas as it stands."""
    made = pattern.making
    y = high(page) - MARGIN - 12
    page.setFillColor(INK)
    page.setFont("Semi", 16)
    page.drawString(MARGIN, y, fitted(f"{name}: how the pattern is made", "Semi", 16, wide(page) - 2 * MARGIN))
    y = heading(page, y - 6, "The ways side by side")
    for way in made.ways:
        title = WAYS[way.kind] + (", chosen" if way.kind == made.kind else "")
        y = row(
            page, y, title, f"{filled(way.takes, way.figures, unit)}. {way.minds}", quantity("all_hours", way.hours)
        )
    if made.prints:
        y = _prints(page, y - 8, made, choices, unit)
    if made.blanks:
        y = _cut_list(page, y - 8, made, unit)
    if pattern.mount is not None:
        y = _mount(page, y - 8, pattern.mount, unit)
    if made.clay is not None:
        y = heading(page, y - 8, "Pressed into clay")
        y = row(
            page,
            y,
            "Depth",
            "under the joint, and over it",
            f"{length(made.clay.under_mm, unit)}, {length(made.clay.over_mm, unit)}",
        )
        y = row(
            page,
            y,
            "Funnel",
            f"{len(made.clay.breathers)} breathers, {len(made.clay.keys)} keys",
            length(made.clay.throat_mm, unit),
        )
    y = heading(page, y - 8, "Order of work")
    for nth, step in enumerate(made.steps, 1):
        y = row(page, y, str(nth), step, "")


def _prints(page: Canvas, y: float, made: Making, choices: PatternChoices, unit: str) -> float:
    y = heading(page, y, "What is printed")
    for one in made.prints:
        about = f"{sizes(tuple(float(v) for v in one.mesh.size), unit)}, {volume(one.plastic_mm3, unit)}"
        y = row(page, y, one.name, about, quantity("print_hours", one.minutes / 60.0))
    figures = made.figures
    words = (
        f"layers {length(figures['layer_mm'], unit, 2)}, {choices.walls} walls, {plain(choices.inside_percent, 0)} "
        "% inside"
    )
    y = row(page, y, "Settings", words, f"{plain(figures['beds'], 0)} {'bed' if figures['beds'] == 1 else 'beds'}")
    if "lap_mm" in figures:
        y = row(
            page,
            y,
            "Metal pattern",
            f"stock on the joint {length(figures['lap_mm'], unit, 2)}, back "
            f"{quantity('back_litres', figures['back_litres'])}",
            mass(figures["metal_kg"]),
        )
    beds = int(figures["beds"])
    for bed in range(min(beds, 3)):
        _bed(
            page,
            MARGIN + bed * (BED_PT + 14.0),
            y - 10.0,
            [core_print for core_print in made.prints if core_print.bed == bed],
            choices.bed_mm[:2],
        )
    return y - BED_PT - 16.0


def _bed(page: Canvas, x: float, top: float, prints: list[Printed], bed: tuple[float, float]) -> None:
    """A bed from above with its prints."""
    k = BED_PT / max(bed)
    page.setStrokeColor(HAIR)
    page.setLineWidth(0.8)
    page.rect(x, top - k * bed[1], k * bed[0], k * bed[1])
    page.setFillColor(STEEL)
    page.setStrokeColor(INK)
    for core_print in prints:
        points = (np.array(core_print.at_mm) + core_print.outline) * k + np.array([x, top - k * bed[1]])
        path = page.beginPath()
        path.moveTo(*points[0])
        for point in points[1:]:
            path.lineTo(*point)
        path.close()
        page.drawPath(path, stroke=1, fill=1)
    page.setFillColor(INK)


def _cut_list(page: Canvas, y: float, made: Making, unit: str) -> float:
    material = "board" if made.kind == "wood" else "sheet"
    y = heading(page, y, f"Cut list: {made.boards} {material}{'' if made.boards == 1 else 's'} at hand")
    digits = 2 if unit == "in" else 1
    for blank in made.blanks[:MOST_LINES]:
        size = " × ".join(plain(from_mm(v, unit), digits) for v in (blank.long_mm, blank.wide_mm, blank.thick_mm))
        where = "to be glued up" if blank.board < 0 else f"from {material} {blank.board + 1}"
        y = row(
            page, y, blank.name, where if blank.grain == "any" else f"{where}, grain {blank.grain}", f"{size} {unit}"
        )
    if len(made.blanks) > MOST_LINES:
        page.setFillColor(MUTED)
        page.setFont("Slant", 9)
        page.drawString(MARGIN, y - 11, f"and {len(made.blanks) - MOST_LINES} more in cut-list.csv")
        y -= 12
    for ring in made.segments:
        about = f"{ring.count} segments a course, {length(ring.long_mm, unit)} long, mitred {ring.mitre_deg:.1f}°"
        y = row(
            page,
            y,
            f"Ring Ø {plain(from_mm(2 * ring.outer_mm, unit), digits)}",
            about,
            f"{length(ring.wide_mm, unit)} wide",
        )
    return y


def _mount(page: Canvas, y: float, mount: Mount, unit: str) -> float:
    y = heading(page, y, "What it is mounted on")
    for board in mount.boards:
        y = row(page, y, board.name, "bored by its template", sizes(tuple(float(v) for v in board.laid.size), unit))
    y = row(
        page,
        y,
        "Flask, inside",
        f"{mount.castings} {'casting' if mount.castings == 1 else 'castings'} a mould",
        sizes(mount.flask_mm, unit),
    )
    apart = float(mount.pins_mm[1, 0] - mount.pins_mm[0, 0])
    return row(
        page,
        y,
        "Pins",
        f"Ø {plain(from_mm(mount.pin_mm, unit), 2)} {unit}, the far one in a slot",
        f"{length(apart, unit)} apart",
    )
