"""Section sketches with dimensions, and the three marks of the draw, as PDF vectors."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from reportlab.lib.colors import HexColor
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas

from pounce.base.units import from_mm, plain
from pounce.parting.insection import joint_line, locked_sand
from pounce.parting.joint import Joint
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.section import cut

INK, MUTED, HAIR, EMBER = HexColor("#22303C"), HexColor("#56646A"), HexColor("#8F8268"), HexColor("#AE4017")
STEEL, SAND, DOTS = HexColor("#B7C2C6"), HexColor("#F1E5CB"), HexColor("#8A7143")
RULE, WHITE = HexColor("#DCD2BC"), HexColor("#FFFFFF")
OCHRE, DAMSON, WASH, VERDIGRIS = HexColor("#E2A63C"), HexColor("#7A2E5D"), HexColor("#B9D3C9"), HexColor("#1F665F")
MM = 72.0 / 25.4
# Scales a draughtsman would use, paper over real.
SCALES = (5.0, 2.0, 1.0, 0.5, 0.4, 0.2, 0.1, 0.05, 0.04, 0.02, 0.01)


@dataclass(frozen=True, eq=False)
class Sketch:
    """A section to draw: loops (n, 2) with the draw upward, and the joint's height in the same frame.

    ``halves`` names of the halves above and below the joint, ``line`` (k, 2) the joint as it runs, ``locked`` (k, 5)
    strips of sand that cannot leave (see parting.insection).
    """

    title: str
    loops: tuple[Floats, ...]
    joint_mm: float
    low: Floats
    high: Floats
    line: Floats
    locked: Floats
    halves: tuple[str, str]


def sketch(mesh: Mesh, across_axis: Floats, joint: Joint, title: str) -> Sketch | None:
    """The cut through the middle of the mesh that shows ``across_axis`` to the right and the draw upward."""
    direction = joint.direction
    normal = np.cross(across_axis, direction)
    middle = float(mesh.bounds.mean(axis=0) @ normal)
    # a hair off the middle: a cut exactly in a face of the mesh says nothing of either side
    found = cut(mesh, across_axis, direction, middle + 1e-4 * mesh.diagonal)
    if not found.loops:
        return None
    points = np.concatenate(found.loops)
    low, high = points.min(axis=0), points.max(axis=0)
    line = joint_line(joint, across_axis, normal, middle + 1e-4 * mesh.diagonal, float(low[0]), float(high[0]))
    return Sketch(
        title,
        found.loops,
        joint.height_mm,
        low,
        high,
        line,
        locked_sand(found.loops, line),
        (joint.half(True).upper(), joint.half(False).upper()),
    )


def common_scale(sketches: list[Sketch], width_pt: float, height_pt: float) -> float:
    """The largest usual scale at which every sketch fits its box (points)."""
    for scale in SCALES:
        if all(
            (s.high - s.low)[0] * scale * MM <= width_pt and (s.high - s.low)[1] * scale * MM <= height_pt
            for s in sketches
        ):
            return scale
    return SCALES[-1]


def scale_words(scale: float) -> str:
    """1:2 or 2:1."""
    return f"{plain(scale, 0)}:1" if scale > 1 else f"1:{plain(1.0 / scale, 1)}"


def draw_section(
    page: Canvas, s: Sketch, x: float, y: float, width: float, height: float, scale: float, unit: str
) -> None:
    """The sketch in the box at x, y (points, lower left) with the joint as a bold dash and its dimensions."""
    k = scale * MM
    span = (s.high - s.low) * k
    left, bottom = x + (width - span[0]) / 2.0 + 8, y + (height - span[1]) / 2.0 - 2

    def at(point: Floats) -> tuple[float, float]:
        return left + (point[0] - s.low[0]) * k, bottom + (point[1] - s.low[1]) * k

    _sand(page, s, at, (left - 24, bottom - 4, left + span[0] + 24, bottom + span[1] + 8))
    path = page.beginPath()
    for loop in s.loops:
        path.moveTo(*at(loop[0]))
        for point in loop[1:]:
            path.lineTo(*at(point))
        path.close()
    page.setFillColor(STEEL)
    page.setStrokeColor(INK)
    page.setLineWidth(0.9)
    page.drawPath(path, stroke=1, fill=1, fillMode=0)
    _locked(page, s, at)
    page.setLineWidth(1.6)
    page.setStrokeColor(INK)
    page.setDash(8, 4)
    edge = [at(point) for point in s.line]
    inner = [(px, py) for px, py in edge if left - 22 < px < left + span[0] + 22]
    run = [(left - 22, edge[0][1] if not inner else inner[0][1]), *inner]
    run.append((left + span[0] + 22, edge[-1][1] if not inner else inner[-1][1]))
    course = page.beginPath()
    course.moveTo(*run[0])
    for point in run[1:]:
        course.lineTo(*point)
    page.drawPath(course, stroke=1, fill=0)
    page.setDash()
    page.setFillColor(INK)
    page.setFont("Semi", 6.5)
    page.drawRightString(left + span[0] + 22, run[-1][1] + 4, s.halves[0])
    page.drawRightString(left + span[0] + 22, run[-1][1] - 9, s.halves[1])
    across_size(page, left, left + span[0], bottom - 15, s.high[0] - s.low[0], unit)
    for low, high in ((s.low[1], s.joint_mm), (s.joint_mm, s.high[1])):
        if high - low > 0.02 * (s.high[1] - s.low[1]):
            upright_size(
                page, left - 12, bottom + (low - s.low[1]) * k, bottom + (high - s.low[1]) * k, high - low, unit
            )
    page.setFillColor(MUTED)
    page.setFont("Body", 8)
    page.drawString(x, y + height - 2, s.title)


At = Callable[[Floats], tuple[float, float]]


def _sand(page: Canvas, s: Sketch, at: At, box: tuple[float, float, float, float]) -> None:
    """Sand round the part: a wash with one tone of dots, denser at the pattern."""
    x0, y0, x1, y1 = box
    page.setFillColor(SAND)
    page.rect(x0, y0, x1 - x0, y1 - y0, stroke=0, fill=1)
    page.setFillColor(DOTS)
    noise = np.random.default_rng(2)
    for x, y in noise.random((int((x1 - x0) * (y1 - y0) / 45.0), 2)) * [x1 - x0, y1 - y0] + [x0, y0]:
        page.circle(x, y, 0.4, stroke=0, fill=1)
    outline = np.concatenate(s.loops)
    for point in outline[noise.integers(0, len(outline), min(260, 4 * len(outline)))]:
        x, y = at(point)
        x, y = x + noise.normal() * 3.0, y + noise.normal() * 3.0
        if x0 < x < x1 and y0 < y < y1:
            page.circle(x, y, 0.4, stroke=0, fill=1)


def _locked(page: Canvas, s: Sketch, at: At) -> None:
    """Sand that cannot leave, cross-hatched."""
    if not len(s.locked):
        return
    page.saveState()
    path = page.beginPath()
    boxes = []
    for a, b, low, high, _ in s.locked:
        (x0, y0), (x1, y1) = at(np.array([a, low])), at(np.array([b, high]))
        path.rect(x0 - 0.1, y0, x1 - x0 + 0.2, y1 - y0)
        boxes.append((x0, y0, x1, y1))
    page.clipPath(path, stroke=0, fill=0)
    page.setStrokeColor(DAMSON)
    page.setLineWidth(0.5)
    left, bottom, right, top = (f(side) for f, side in zip((min, min, max, max), zip(*boxes, strict=True), strict=True))
    span = top - bottom
    x = left - span
    while x < right:
        page.line(x, bottom, x + span, top)
        page.line(x, top, x + span, bottom)
        x += 3.0
    page.restoreState()


def _figure(value_mm: float, unit: str) -> str:
    return plain(from_mm(value_mm, unit), 3 if unit == "in" else 2)


def _tick(page: Canvas, x: float, y: float) -> None:
    page.line(x - 2.2, y - 2.2, x + 2.2, y + 2.2)


def across_size(page: Canvas, x0: float, x1: float, y: float, value: float, unit: str) -> None:
    """A size under a section, between two places."""
    page.setStrokeColor(INK)
    page.setFillColor(INK)
    page.setLineWidth(0.5)
    page.line(x0 - 3, y, x1 + 3, y)
    for x in (x0, x1):
        page.line(x, y - 3, x, y + 10)
        _tick(page, x, y)
    page.setFont("Semi", 8)
    page.drawCentredString((x0 + x1) / 2, y - 9, _figure(value, unit))


def upright_size(page: Canvas, x: float, y0: float, y1: float, value: float, unit: str) -> None:
    """A size beside a section, between two heights."""
    page.setStrokeColor(INK)
    page.setFillColor(INK)
    page.setLineWidth(0.5)
    page.line(x, y0, x, y1)
    for y in (y0, y1):
        page.line(x - 3, y, x + 8, y)
        _tick(page, x, y)
    page.setFont("Semi", 8)
    page.drawRightString(x - 4, (y0 + y1) / 2 - 3, _figure(value, unit))


def draw_mark(page: Canvas, mark: str | None, informational: bool, x: float, y: float, size: float = 8.0) -> None:
    """A cup, box or dovetail for the draw; else a filled ring when settled and a half ring when open."""
    page.setLineWidth(0.8)
    page.setStrokeColor(INK)
    if mark in ("tight", "locked"):
        page.setFillColor(OCHRE if mark == "tight" else DAMSON)
        path = page.beginPath()
        inset = 0.0 if mark == "tight" else size * 0.24
        path.moveTo(x, y)
        path.lineTo(x + size, y)
        path.lineTo(x + size - inset, y + size)
        path.lineTo(x + inset, y + size)
        path.close()
        page.drawPath(path, stroke=1, fill=1)
        return
    radius = size / 2.0
    page.setFillColor(VERDIGRIS if informational else HexColor("#FFFFFF"))
    page.circle(x + radius, y + radius, radius, stroke=1, fill=1)
    if not informational:
        page.setFillColor(OCHRE)
        path = page.beginPath()
        path.moveTo(x + radius, y)
        path.arcTo(x, y, x + size, y + size, 90, 180)
        path.close()
        page.drawPath(path, stroke=1, fill=1)


def fitted(text: str, font: str, size: float, width: float) -> str:
    """The text, cut with an ellipsis where it is wider than ``width`` points."""
    if pdfmetrics.stringWidth(text, font, size) <= width:
        return text
    while text and pdfmetrics.stringWidth(text + "…", font, size) > width:
        text = text[:-1]
    return text + "…"
