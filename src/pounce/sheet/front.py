"""The front page of the shop sheet, for the moulding bench: the mould opened, a section at true size, sizes, sand and
metal, six steps, what stood in the way with its cure, cautions, and room for a pencil.
"""

from collections.abc import Callable

import numpy as np
from PIL import Image
from reportlab.lib.utils import ImageReader, simpleSplit
from reportlab.pdfgen.canvas import Canvas

from pounce.base.paper import POINTS_PER_MM
from pounce.base.units import count_words, from_mm, length, mass, plain, volume
from pounce.metals.contraction import formula
from pounce.metals.method import cautions_of
from pounce.metals.tables import mix, sources
from pounce.pattern.values import Role
from pounce.sheet.causes import causes_rows
from pounce.sheet.content import Content
from pounce.sheet.drawing import EMBER, HAIR, INK, MUTED, RULE, VERDIGRIS, WHITE, fitted
from pounce.sheet.rows import MARGIN, high, wide
from pounce.sheet.steps import steps_of, then_words
from pounce.sheet.trueview import BARE, LEFT, draw_true

# Where the right-hand columns begin, points; the height of picture and section.
RIGHT, STEPS = 352.0, 366.0
PICTURE, SECTION = 236.0, 270.0
WIDE = STEPS - 18.0 - MARGIN
# Rows of both tables at the right together.
MOST_ROWS = 11
FOOT = 28.0
BAR_MM = 50.0


def front_page(page: Canvas, c: Content, turn: Callable[[], tuple[float, float]]) -> tuple[float, float]:
    """Draws the page; ``turn`` begins another and says its top and floor. Returns where what follows may begin and how
    far down it may go, on whichever page it ended.
    """
    y = _head(page, c)
    lowest = min(_picture(page, c, y), _figures(page, c, y))
    _line_across(page, lowest - 6)
    lowest = min(_section(page, c, lowest - 12), _steps(page, c, lowest - 12))
    _line_across(page, lowest - 4)
    floor = _foot(page, c)
    return _causes(page, c, lowest - 8, floor, turn)


def _head(page: Canvas, c: Content) -> float:
    y = high(page) - MARGIN - 12
    box = 142.0
    page.setFillColor(INK)
    page.setFont("Semi", 20)
    page.drawString(MARGIN, y, fitted(c.name, "Semi", 20, wide(page) - 2 * MARGIN - box - 10))
    page.setFont("Body", 10.5)
    page.setFillColor(MUTED)
    page.drawString(MARGIN, y - 17, fitted(_about(c), "Body", 10.5, wide(page) - 2 * MARGIN - box - 10))
    page.setStrokeColor(HAIR)
    page.setLineWidth(0.7)
    left, right, low, top = wide(page) - MARGIN - box, wide(page) - MARGIN, y - 22, y + 18
    path = page.beginPath()
    path.moveTo(left, top)
    for corner in ((right, top), (right, low), (left + 10, low), (left, low + 10)):
        path.lineTo(*corner)
    path.close()
    page.drawPath(path)
    page.setFillColor(INK)
    page.setFont("Body", 9.5)
    for row, text in enumerate(("Moulder", "Date")):
        at = top - 14 - 18 * row
        page.drawString(left + 9, at, text)
        page.line(left + 48, at - 2, right - 8, at - 2)
    page.setStrokeColor(INK)
    page.setLineWidth(1.2)
    page.line(MARGIN, y - 30, wide(page) - MARGIN, y - 30)
    return float(y - 36)


def _about(c: Content) -> str:
    """Metal, sand, pattern, cores."""
    pattern = f"{c.method.pattern.short} pattern"
    pieces = (
        0 if c.pattern is None else sum(piece.role in (Role.COPE_HALF, Role.DRAG_HALF) for piece in c.pattern.pieces)
    )
    halves = " in two halves" if pieces >= 2 else ""
    cores = {0: "", 1: ", one core"}.get(len(c.cores.cores), f", {count_words(len(c.cores.cores))} cores")
    return f"{c.method.metal.name} in {c.method.mould.name.lower()}. {pattern[:1].upper()}{pattern[1:]}{halves}{cores}."


def _picture(page: Canvas, c: Content, top: float) -> float:
    """The opened mould with its names; returns the lowest y used."""
    width = RIGHT - MARGIN - 14
    if c.opened.pixels is None:
        page.setFont("Slant", 9.5)
        page.setFillColor(MUTED)
        y = top - 20
        for line in simpleSplit(c.opened.why, "Slant", 9.5, width):
            page.drawString(MARGIN, y, line)
            y -= 12
        return float(y)
    image = ImageReader(Image.fromarray(c.opened.pixels[:, :, :3]))
    height = min(width * c.opened.pixels.shape[0] / c.opened.pixels.shape[1], PICTURE)
    width = height * c.opened.pixels.shape[1] / c.opened.pixels.shape[0]
    page.drawImage(image, MARGIN + 14, top - height, width, height)
    page.setFillColor(INK)
    for words, x, y in c.opened.labels:
        _name(page, words, MARGIN + 14 + x * width, top - y * height, MARGIN, RIGHT - 8)
    return float(top - height)


def _name(page: Canvas, words: str, x: float, y: float, left: float, right: float) -> None:
    """A name at its place: halves left of their edge, the pattern and cores on a leader to the right."""
    page.setFont("Semi", 9)
    if words in ("cope", "drag"):
        page.drawString(max(left, x - page.stringWidth(words, "Semi", 9) - 6), y - 3, words)
        return
    size = page.stringWidth(words, "Semi", 9)
    at = min(x + 56, right - size - 2)
    page.setStrokeColor(INK)
    page.setLineWidth(0.6)
    page.line(x, y, at - 3, y + 8)
    page.setFillColor(WHITE)
    page.circle(x, y, 1.8, stroke=1, fill=1)
    page.rect(at - 2, y + 3, size + 4, 11, stroke=0, fill=1)
    page.setFillColor(INK)
    page.drawString(at, y + 5.5, words)


def _figures(page: Canvas, c: Content, top: float) -> float:
    """Sizes, then sand, core and metal; returns the lowest y used."""
    right = wide(page) - MARGIN
    columns = (right - 118, right - 82, right - 34, right)
    y = _heading(page, RIGHT, f"Sizes, {c.unit}", top) + 2
    page.setFillColor(MUTED)
    page.setFont("Body", 8.5)
    for x, text in zip(columns, ("wanted", "pattern", "then", "cold"), strict=True):
        page.drawRightString(x, y + 2, text)
    digits = 3 if c.unit == "in" else 2
    for row in c.stock.dimensions[: MOST_ROWS - len(_quantities(c))]:
        y = _rule(page, RIGHT, right, y)
        page.setFont("Body", 9)
        page.drawString(RIGHT, y, fitted(row.name, "Body", 9, columns[0] - 34 - RIGHT))
        page.drawRightString(columns[0], y, plain(from_mm(row.wanted_mm, c.unit), digits))
        page.drawRightString(columns[2], y, then_words(row, c))
        page.setFont("Bold", 9)
        page.drawRightString(columns[1], y, plain(from_mm(row.made_mm, c.unit), digits))
        page.line(columns[3] - 28, y - 2, columns[3], y - 2)
    page.setFont("Body", 8)
    page.setFillColor(MUTED)
    words = f"{formula(plain(c.method.contraction_percent, 2), c.method.stated)[:1].upper()}"
    words += f"{formula(plain(c.method.contraction_percent, 2), c.method.stated)[1:]}: × {c.factor:.4f}."
    if any(line.on for line in c.stock.lines):
        words += " Pattern sizes hold stock and draft."
    for text in simpleSplit(words, "Body", 8, right - RIGHT)[:2]:
        y -= 10
        page.drawString(RIGHT, y, text)
    y = _heading(page, RIGHT, "Sand, core and metal", y - 6)
    for name, figure in _quantities(c):
        y = _rule(page, RIGHT, right, y)
        page.setFont("Body", 9)
        page.drawString(RIGHT, y, name)
        page.setFont("Semi", 9)
        page.drawRightString(right, y, figure)
    if not c.verdict:
        return y - 4
    page.setFont("Semi", 9.5)
    page.setFillColor(VERDIGRIS if c.parting.shown_areas[2] <= 0.0 else EMBER)
    y -= 8
    for text in simpleSplit(c.verdict, "Semi", 9.5, right - RIGHT)[:2]:
        y -= 12
        page.drawString(RIGHT, y, text)
    return y - 4


def _quantities(c: Content) -> list[tuple[str, str]]:
    """What has to be at hand, by name."""
    flask, sand_kg = flask_of(c)
    name = "Flask inside, at least"
    if c.rig is not None:  # the one that the mould is laid out in
        f, w = c.rig.flask, c.rig.weights
        flask, sand_kg = (f.long_mm, f.wide_mm, f.cope_mm, f.drag_mm), w.cope_sand_kg + w.drag_sand_kg
        name = f.name if c.rig.own else "Flask inside"
    along, across, over, under = (plain(from_mm(side, c.unit), 0 if c.unit == "mm" else 1) for side in flask)
    out = [(name, f"{along} × {across}, {over} + {under} {c.unit}"), (f"{c.method.mould.name}, rammed", mass(sand_kg))]
    cores = c.cores.cores
    if cores:
        mixed = mix(c.mix)
        for name, kg in (
            ("Core sand, dry", sum(core.sand_kg for core in cores)),
            (mixed.binder.capitalize(), sum(core.binder_kg for core in cores)),
        ):
            if kg > 0.0:
                out.append((name, mass(kg)))
        water = sum(core.water_kg for core in cores)
        if water > 0.0:
            out[-1] = (f"{out[-1][0]}, water", f"{out[-1][1]}, {mass(water)}")
    cast = c.stock.cast
    figure = f"{volume(cast.volume_mm3, c.unit)}, {mass(cast.mass_kg)}" if c.part.closed else "open shell, not weighed"
    out.append(("Casting", figure))
    if c.rig is not None:
        many = "" if len(c.rig.castings) == 1 else f", {len(c.rig.castings)} castings"
        out.append((f"To pour{many}", mass(c.rig.weights.poured_kg)))
    if c.pattern is not None and c.pattern.dowel_mm:
        out.append(("Dowels, fit one way", " and ".join(f"Ø {plain(d, 1)}" for d in c.pattern.dowel_mm) + " mm"))
    return out


def flask_of(c: Content) -> tuple[tuple[float, float, float, float], float]:
    """The least flask inside: along, across, cope and drag high (mm, to the next 5), and its rammed sand (kg): the
    flask less what the pattern with its prints takes. Sprue and riser are not taken off.
    """
    joint, k = c.parting.joint, c.factor
    flat = joint.flat_points(c.cores.mesh.vertices) * k
    low, high_ = flat.min(axis=0), flat.max(axis=0)
    beside, over, under = c.sand.beside_mm, c.sand.over_mm, c.sand.under_mm
    bottom, top = (float(value) * k for value in joint.range_mm())
    above, below = max(high_[2] - top, 0.0), max(bottom - low[2], 0.0)
    if joint.turned:
        above, below = below, above
    sides = (*(float(value) + 2.0 * beside for value in (high_ - low)[:2]), above + over, below + under)
    if c.pattern is not None and c.pattern.mount is not None:
        sides = (*c.pattern.mount.flask_mm, sides[2], sides[3])
    along, across, cope, drag = (float(np.ceil(side / 5.0) * 5.0) for side in sides)
    inside = along * across * (cope + drag + top - bottom)
    taken = abs(float(c.cores.mesh.volume)) * k**3
    return (along, across, cope, drag), (inside - taken) * 1e-9 * c.method.mould.density.value


def _section(page: Canvas, c: Content, top: float) -> float:
    """The section with its sizes, at true size where it fits; returns the lowest y used."""
    width, height = WIDE, SECTION - 22
    scale = draw_true(page, c, MARGIN, top - 22 - height, width, height)
    said = "true size" if abs(scale - 1.0) < 1e-9 else f"drawn {_scale(scale)}"
    _heading(page, MARGIN, f"Through {c.through}, {said}", top)
    return top - SECTION


def true_room_mm() -> float:
    """How wide a section may be to stand at true size."""
    return (WIDE - LEFT - BARE) / POINTS_PER_MM


def _scale(scale: float) -> str:
    return f"{plain(scale, 0)}:1" if scale > 1.0 else f"1:{plain(1.0 / scale, 1)}"


def _steps(page: Canvas, c: Content, top: float) -> float:
    """The six steps with a box to tick each; returns the lowest y used."""
    right = wide(page) - MARGIN
    steps = steps_of(c)
    y = _heading(page, STEPS, f"{count_words(len(steps)).capitalize()} steps", top)
    for number, step in enumerate(steps, 1):
        page.setStrokeColor(RULE)
        page.setLineWidth(0.6)
        page.line(STEPS, y - 2, right, y - 2)
        y -= 14
        page.setStrokeColor(INK)
        page.roundRect(STEPS, y - 3, 11, 11, 1.5)
        page.setFillColor(INK)
        page.setFont("Bold", 9.5)
        page.drawString(STEPS + 18, y, f"{number}  {step.title}")
        page.setFont("Body", 8.3)
        for line in simpleSplit(step.text, "Body", 8.3, right - STEPS - 18)[:3]:
            y -= 9.6
            page.drawString(STEPS + 18, y, line)
        y -= 3
    return y - 2


def _causes(
    page: Canvas, c: Content, top: float, floor: float, turn: Callable[[], tuple[float, float]]
) -> tuple[float, float]:
    """What stood in the way with its cure, carried on over as many pages as it takes."""
    edge = floor
    y = _heading(page, MARGIN, "What stood in the way, and its cure", top) - 10

    def on() -> tuple[float, float]:
        nonlocal edge
        at, edge = turn()
        at = _heading(page, MARGIN, f"{c.name}: what stood in the way, carried on", at)
        return at - 12, edge

    page.setFont("Semi", 9.5)
    for sentence in c.failed:
        for line in simpleSplit(sentence, "Semi", 9.5, wide(page) - 2 * MARGIN):
            page.drawString(MARGIN, y, line)
            y -= 12
    if c.causes is None or not (c.causes.open or c.causes.cured):
        page.setFont("Body", 9.5)
        page.drawString(MARGIN, y, "Nothing stands in the way.")
        return y - 12, edge
    return causes_rows(page, c.causes, c.unit, y, edge, on), edge


def _foot(page: Canvas, c: Content) -> float:
    """Cautions, room for a pencil, a bar to check the printer by, and sources; returns the top of it."""
    right, split = wide(page) - MARGIN, 380.0
    lines = caution_lines(c, split - MARGIN - 20)
    bar = FOOT
    low = bar + 20
    top = low + 9.6 * len(lines) + 12
    page.setStrokeColor(EMBER)
    page.setFillColor(EMBER)
    page.setLineWidth(0.9)
    page.roundRect(MARGIN, low, split - MARGIN, top - low, 2)
    page.rect(MARGIN, low, 3.2, top - low, stroke=0, fill=1)
    page.setFillColor(INK)
    page.setFont("Body", 8)
    y = top - 12.0
    for line in lines:
        page.drawString(MARGIN + 11, y, line)
        y -= 9.6
    page.setFillColor(MUTED)
    page.setFont("Body", 8.5)
    page.drawString(split + 16, top - 9, "In pencil")
    page.setStrokeColor(RULE)
    page.setLineWidth(0.6)
    at = top - 26
    while at > low:
        page.line(split + 16, at, right, at)
        at -= 18
    _bar(page, bar, c)
    return top + 6


def _bar(page: Canvas, y: float, c: Content) -> None:
    """A bar of 50 mm, and where the contraction comes from."""
    mm = POINTS_PER_MM
    page.setStrokeColor(INK)
    page.setLineWidth(0.8)
    page.line(MARGIN, y, MARGIN + BAR_MM * mm, y)
    for tick in range(11):
        page.line(MARGIN + tick * 5.0 * mm, y, MARGIN + tick * 5.0 * mm, y + (7 if tick in (0, 10) else 4))
    page.setFillColor(INK)
    page.setFont("Body", 8.5)
    page.drawString(MARGIN + BAR_MM * mm + 8, y, f"This bar is {length(BAR_MM, 'mm', 0)}.")
    source = sources()[c.method.metal.contraction.source].words()
    own = "the maker's own figure" if c.method.own_contraction else source
    lines = simpleSplit(f"Contraction: {own}. From {c.file}.", "Body", 7.5, wide(page) - 2 * MARGIN - BAR_MM * mm - 92)
    page.setFillColor(MUTED)
    page.setFont("Body", 7.5)
    for nth, text in enumerate(lines[:2]):
        page.drawRightString(wide(page) - MARGIN, y + 8.0 - 8.5 * nth, text)


def caution_lines(c: Content, width: float) -> list[str]:
    """All cautions of metal, mould, pattern and core sand, set to a width."""
    sand = [mix(c.mix)] if c.cores.cores else []
    text = "  ·  ".join(cautions_of(c.method.metal, c.method.mould, c.method.pattern, *sand))
    return list(simpleSplit(f"{text}  ·  Local rules and the makers' safety sheets go first.", "Body", 8, width))


def _heading(page: Canvas, x: float, text: str, top: float) -> float:
    page.setFillColor(INK)
    page.setFont("Semi", 11)
    page.drawString(x, top - 11, fitted(text, "Semi", 11, wide(page) - MARGIN - x))
    return top - 15


def _rule(page: Canvas, left: float, right: float, y: float) -> float:
    """A row under y: its hair line; returns its own y."""
    y -= 14
    page.setStrokeColor(RULE)
    page.setLineWidth(0.5)
    page.line(left, y + 10, right, y + 10)
    page.setFillColor(INK)
    page.setStrokeColor(HAIR)
    return y


def _line_across(page: Canvas, y: float) -> None:
    page.setStrokeColor(RULE)
    page.setLineWidth(0.6)
    page.line(MARGIN, y, wide(page) - MARGIN, y)
