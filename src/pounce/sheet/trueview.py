"""The section of the front page: sand, metal, cores with their vents, what is added, the joint, and sizes."""

from collections.abc import Callable

import numpy as np
from reportlab.lib.colors import Color
from reportlab.pdfgen.canvas import Canvas
from reportlab.pdfgen.pathobject import PDFPathObject

from pounce.parting.insection import Cut2D
from pounce.sheet.content import Content
from pounce.sheet.drawing import DOTS, HAIR, INK, MM, SAND, SCALES, STEEL, WHITE, At, across_size, fitted, upright_size
from pounce.sheet.steps import machined_words
from pounce.solid.mesh import Floats
from pounce.stock.values import LineKind

CORE = Color(0xE6 / 255, 0xCB / 255, 0x8C / 255)
# Room beside the section for its sizes and names, points.
LEFT, ASIDE, BARE, UNDER, OVER = 40.0, 92.0, 24.0, 22.0, 8.0
KEY = 10.0
SLASH, LADDER = 4.0, 2.2
# Heights that stand apart have room for their figure, points.
LEAST_UPRIGHT = 16.0
MOST_NAMES = 5


def draw_true(page: Canvas, c: Content, x: float, y: float, width: float, height: float) -> float:
    """The section in the box at x, y (points, lower left); returns its scale, 1 where it is at true size."""
    cut, k = c.cut, c.factor
    names = _names(c)
    loops = [*cut.mould, *cut.loops, *(loop for core in cut.cores for loop in core)]
    if not loops:
        return 1.0
    # as it lies while it is poured: a pattern that hangs in the drag is turned over
    turn = -1.0 if c.parting.joint.turned else 1.0
    points = np.concatenate(loops) * k * turn
    low, high = points.min(axis=0), points.max(axis=0)
    span = np.maximum(high - low, 1e-6)
    scale, aside, under = _fit(span, width, height, bool(names))
    keyed = bool(names) and aside < ASIDE
    room = np.array([width - LEFT - aside, height - under - OVER])
    left = x + LEFT + (room[0] - span[0] * scale * MM) / 2.0
    bottom = y + under + (room[1] - span[1] * scale * MM) / 2.0

    def at(point: Floats) -> tuple[float, float]:
        return (
            float(left + (point[0] * k * turn - low[0]) * scale * MM),
            float(bottom + (point[1] * k * turn - low[1]) * scale * MM),
        )

    right, top = left + span[0] * scale * MM, bottom + span[1] * scale * MM
    floor = y + under - UNDER
    _sand(page, (x + 12, floor, x + width - (aside - BARE), y + height))
    _metal(page, cut, at, c)
    _cores(page, cut, at)
    _joint(page, cut, at, x + 8, x + width - (aside - BARE - 4.0))
    joint = at(np.array([0.0, cut.joint]))[1]
    across_size(page, left, right, floor + 12, span[0], c.unit)
    heights = [(bottom, joint), (joint, top)]
    if any(0.5 < end - start < LEAST_UPRIGHT for start, end in heights):
        heights = [(bottom, top)]
    for start, end in heights:
        if end - start > 0.5:
            upright_size(page, left - 14, start, end, (end - start) / (scale * MM), c.unit)
    if keyed:
        _number(page, names, at, x + 12, x + width, y)
    else:
        _tell(page, names, at, right + 16, x + width, floor, y + height)
    return scale


def _fit(span: Floats, width: float, height: float, named: bool) -> tuple[float, float, float]:
    """Scale, room at the right and room under the section, points: names stand beside it, or as numbers with a key
    under it where only so it is drawn at true size.
    """
    ways = [(ASIDE, UNDER), (BARE, UNDER + 2 * KEY)] if named else [(BARE, UNDER)]
    fits = []
    for aside, under in ways:
        room = np.array([width - LEFT - aside, height - under - OVER])
        fits.append((next((one for one in SCALES if (span * one * MM <= room).all()), SCALES[-1]), aside, under))
    true = [one for one in fits if one[0] >= 1.0]
    return true[0] if true else max(fits, key=lambda one: one[0])


def _path(page: Canvas, loops: tuple[Floats, ...], at: At) -> PDFPathObject:
    path = page.beginPath()
    for loop in loops:
        path.moveTo(*at(loop[0]))
        for point in loop[1:]:
            path.lineTo(*at(point))
        path.close()
    return path


def _sand(page: Canvas, box: tuple[float, float, float, float]) -> None:
    """A ragged field of sand with one tone of dots, and the names of the halves."""
    x0, y0, x1, y1 = box
    noise = np.random.default_rng(3)
    path = page.beginPath()
    path.moveTo(x0, y0)
    sides = (((x0, y0), (x0, y1)), ((x0, y1), (x1, y1)), ((x1, y1), (x1, y0)), ((x1, y0), (x0, y0)))
    for start, end in sides:
        steps = int(max(abs(end[0] - start[0]), abs(end[1] - start[1])) / 5.0)
        for nth in range(1, steps + 1):
            dx, dy = noise.normal(size=2) * 0.9
            share = nth / steps
            path.lineTo(start[0] + share * (end[0] - start[0]) + dx, start[1] + share * (end[1] - start[1]) + dy)
    path.close()
    page.setFillColor(SAND)
    page.drawPath(path, stroke=0, fill=1)
    page.setFillColor(DOTS)
    spots = noise.random((int((x1 - x0) * (y1 - y0) / 34.0), 2)) * [x1 - x0 - 6, y1 - y0 - 6] + [x0 + 3, y0 + 3]
    dots = page.beginPath()
    for (px, py), size in zip(spots, noise.choice([0.35, 0.35, 0.6], len(spots)), strict=True):
        dots.rect(px, py, 2.0 * float(size), 2.0 * float(size))
    page.drawPath(dots, stroke=0, fill=1)
    page.setFillColor(INK)
    page.setFont("Semi", 7.5)
    upper, lower = ("COPE", "DRAG")
    page.drawRightString(x1 - 6, y1 - 13, upper)
    page.drawRightString(x1 - 6, y0 + 7, lower)


def _metal(page: Canvas, cut: Cut2D, at: At, c: Content) -> None:
    """The hollow that the pattern leaves, the casting in it, and what is filled to be drilled."""
    page.setStrokeColor(INK)
    page.setLineWidth(0.9)
    page.setFillColor(WHITE)
    page.drawPath(_path(page, cut.mould, at), stroke=1, fill=1, fillMode=0)
    page.setFillColor(STEEL)
    page.drawPath(_path(page, cut.loops, at), stroke=1, fill=1, fillMode=0)
    for number, loops in cut.bands:
        if c.stock.lines[number].kind is LineKind.FILL:
            _ladder(page, loops, at)


def _ladder(page: Canvas, loops: tuple[Floats, ...], at: At) -> None:
    """Hatched across: metal that is cast here and drilled away."""
    path = _path(page, loops, at)
    page.saveState()
    page.setFillColor(WHITE)
    page.setLineWidth(0.5)
    page.drawPath(path, stroke=1, fill=1, fillMode=0)
    page.clipPath(_path(page, loops, at), stroke=0, fill=0)
    points = np.concatenate([np.array([at(point) for point in loop]) for loop in loops])
    (x0, y0), (x1, y1) = points.min(axis=0), points.max(axis=0)
    along = x1 - x0 > y1 - y0
    for place in np.arange(x0 if along else y0, x1 if along else y1, LADDER):
        page.line(*((place, y0, place, y1) if along else (x0, place, x1, place)))
    page.restoreState()


def _cores(page: Canvas, cut: Cut2D, at: At) -> None:
    """Cores hatched, with their vents."""
    for loops in filter(None, cut.cores):  # the cut may pass beside one
        path = _path(page, loops, at)
        page.saveState()
        page.setFillColor(CORE)
        page.drawPath(path, stroke=0, fill=1, fillMode=0)
        page.clipPath(_path(page, loops, at), stroke=0, fill=0)
        points = np.concatenate([np.array([at(point) for point in loop]) for loop in loops])
        (x0, y0), (x1, y1) = points.min(axis=0), points.max(axis=0)
        page.setStrokeColor(DOTS)
        page.setLineWidth(0.4)
        for start in np.arange(x0 - (y1 - y0), x1, SLASH):
            page.line(start, y0, start + (y1 - y0), y1)
        page.restoreState()
        page.setStrokeColor(INK)
        page.setLineWidth(1.1)
        page.drawPath(_path(page, loops, at), stroke=1, fill=0)
    for ax, ay, bx, by, wide in cut.vents:
        one, two = at(np.array([ax, ay])), at(np.array([bx, by]))
        size = max(float(at(np.array([wide, 0.0]))[0] - at(np.zeros(2))[0]), 1.2)
        for colour, more in ((INK, 0.9), (WHITE, 0.0)):
            page.setStrokeColor(colour)
            page.setLineWidth(size + more)
            page.line(*one, *two)


def _joint(page: Canvas, cut: Cut2D, at: At, left: float, right: float) -> None:
    """The joint as a bold dash, over sand only."""
    page.setStrokeColor(INK)
    page.setLineWidth(1.6)
    page.setDash(7, 4)
    run = sorted(at(point) for point in cut.line)
    inner = [(px, py) for px, py in run if left < px < right]
    course = page.beginPath()
    course.moveTo(left, inner[0][1] if inner else run[0][1])
    for point in inner:
        course.lineTo(*point)
    course.lineTo(right, inner[-1][1] if inner else run[-1][1])
    page.drawPath(course, stroke=1, fill=0)
    page.setDash()


def _names(c: Content) -> list[tuple[str, float, float]]:
    """Prints, vent and clearance of the cores, then what is added, by name and place in the cut."""
    out = [*c.cut.core_labels]
    for _, along, height, number in c.cut.band_labels:
        line = c.stock.lines[number]
        if line.kind is LineKind.FILL:
            out.append((f"filled, {'drill' if 'holes' in line.figures else 'cut'} later", along, height))
        elif line.kind is LineKind.MACHINING:
            out.append((machined_words(c, number), along, height))
    return list({one[0]: one for one in out}.values())[:MOST_NAMES]


Place = Callable[[Floats], tuple[float, float]]


def _tell(
    page: Canvas, names: list[tuple[str, float, float]], at: Place, left: float, right: float, low: float, high: float
) -> None:
    """Names at the right on leaders, from the top down, none over another."""
    spots = sorted(
        ((words, at(np.array([along, height]))) for words, along, height in names), key=lambda one: -one[1][1]
    )
    y = high - 2.0
    for nth, (words, spot) in enumerate(spots):
        y = min(y - 14.0, max(spot[1], low + 12.0 + 14.0 * (len(spots) - 1 - nth)))
        page.setStrokeColor(INK)
        page.setLineWidth(0.5)
        page.line(*spot, left, y + 2.5)
        page.setFillColor(WHITE)
        page.circle(*spot, 1.6, stroke=1, fill=1)
        page.setFillColor(INK)
        page.setFont("Body", 8)
        page.drawString(left + 3, y, fitted(words, "Body", 8, right - left - 3))
    page.setStrokeColor(HAIR)


def _number(
    page: Canvas, names: list[tuple[str, float, float]], at: Place, left: float, right: float, low: float
) -> None:
    """Numbers at their places, and what they stand for in two lines under the section."""
    page.setLineWidth(0.6)
    x, y = left, low + KEY + 1.0
    for number, (words, along, height) in enumerate(names, 1):
        px, py = at(np.array([along, height]))
        page.setFillColor(WHITE)
        page.setStrokeColor(INK)
        page.circle(px, py, 4.6, stroke=1, fill=1)
        page.setFillColor(INK)
        page.setFont("Semi", 7)
        page.drawCentredString(px, py - 2.4, str(number))
        wide = page.stringWidth(f"{number}  {words}", "Body", 8) + 12
        if x + wide > right and x > left:
            x, y = left, y - KEY
        page.setFont("Semi", 8)
        page.drawString(x, y, str(number))
        page.setFont("Body", 8)
        page.drawString(x + 8, y, fitted(words, "Body", 8, right - x - 8))
        x += wide
    page.setStrokeColor(HAIR)
