"""Section sketches with dimensions, and the three marks of the draw, as PDF vectors."""

from dataclasses import dataclass

import numpy as np
from reportlab.lib.colors import HexColor
from reportlab.pdfgen.canvas import Canvas

from pounce.base.units import from_mm, plain
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.section import cut

INK, MUTED, HAIR = HexColor("#22303C"), HexColor("#56646A"), HexColor("#8F8268")
STEEL, SAND = HexColor("#B7C2C6"), HexColor("#F1E5CB")
OCHRE, DAMSON, WASH, VERDIGRIS = HexColor("#E2A63C"), HexColor("#7A2E5D"), HexColor("#B9D3C9"), HexColor("#1F665F")
MM = 72.0 / 25.4
# Scales a draughtsman would use, paper over real.
SCALES = (5.0, 2.0, 1.0, 0.5, 0.4, 0.2, 0.1, 0.05, 0.04, 0.02, 0.01)


@dataclass(frozen=True, eq=False)
class Sketch:
    """A section to draw: loops (n, 2) with the draw upward, and the joint's height in the same frame."""

    title: str
    loops: tuple[Floats, ...]
    joint_mm: float
    low: Floats
    high: Floats


def sketch(mesh: Mesh, across_axis: Floats, direction: Floats, joint_mm: float, title: str) -> Sketch | None:
    """The cut through the middle of the mesh that shows ``across_axis`` to the right and the draw upward."""
    normal = np.cross(across_axis, direction)
    middle = float(mesh.bounds.mean(axis=0) @ normal)
    # a hair off the middle: a cut exactly in a face of the mesh says nothing of either side
    found = cut(mesh, across_axis, direction, middle + 1e-4 * mesh.diagonal)
    if not found.loops:
        return None
    points = np.concatenate(found.loops)
    return Sketch(title, found.loops, joint_mm, points.min(axis=0), points.max(axis=0))


def common_scale(sketches: list[Sketch], width_pt: float, height_pt: float) -> float:
    """The largest usual scale at which every sketch fits its box (points)."""
    for scale in SCALES:
        if all(
            (s.high - s.low)[0] * scale * MM <= width_pt and (s.high - s.low)[1] * scale * MM <= height_pt for s in sketches
        ):
            return scale
    return SCALES[-1]


def scale_words(scale: float) -> str:
    """1:2 or 2:1."""
    return f"{plain(scale, 0)}:1" if scale > 1 else f"1:{plain(1.0 / scale, 1)}"


def draw_section(page: Canvas, s: Sketch, x: float, y: float, width: float, height: float, scale: float, unit: str) -> None:
    """The sketch in the box at x, y (points, lower left) with the joint as a bold dash and its dimensions."""
    k = scale * MM
    span = (s.high - s.low) * k
    left, bottom = x + (width - span[0]) / 2.0 + 8, y + (height - span[1]) / 2.0 - 2

    def at(point: Floats) -> tuple[float, float]:
        return left + (point[0] - s.low[0]) * k, bottom + (point[1] - s.low[1]) * k

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
    joint = bottom + (s.joint_mm - s.low[1]) * k
    page.setLineWidth(1.6)
    page.setDash(8, 4)
    page.line(left - 22, joint, left + span[0] + 22, joint)
    page.setDash()
    _across(page, left, left + span[0], bottom - 15, s.high[0] - s.low[0], unit)
    for low, high in ((s.low[1], s.joint_mm), (s.joint_mm, s.high[1])):
        if high - low > 0.02 * (s.high[1] - s.low[1]):
            _upright(page, left - 12, bottom + (low - s.low[1]) * k, bottom + (high - s.low[1]) * k, high - low, unit)
    page.setFillColor(MUTED)
    page.setFont("Body", 8)
    page.drawString(x, y + height - 2, s.title)


def _figure(value_mm: float, unit: str) -> str:
    return plain(from_mm(value_mm, unit), 3 if unit == "in" else 2)


def _tick(page: Canvas, x: float, y: float) -> None:
    page.line(x - 2.2, y - 2.2, x + 2.2, y + 2.2)


def _across(page: Canvas, x0: float, x1: float, y: float, value: float, unit: str) -> None:
    page.setStrokeColor(INK)
    page.setFillColor(INK)
    page.setLineWidth(0.5)
    page.line(x0 - 3, y, x1 + 3, y)
    for x in (x0, x1):
        page.line(x, y - 3, x, y + 10)
        _tick(page, x, y)
    page.setFont("Semi", 8)
    page.drawCentredString((x0 + x1) / 2, y - 9, _figure(value, unit))


def _upright(page: Canvas, x: float, y0: float, y1: float, value: float, unit: str) -> None:
    page.setStrokeColor(INK)
    page.setFillColor(INK)
    page.setLineWidth(0.5)
    page.line(x, y0, x, y1)
    for y in (y0, y1):
        page.line(x - 3, y, x + 8, y)
        _tick(page, x, y)
    page.setFont("Semi", 8)
    page.drawRightString(x - 4, (y0 + y1) / 2 - 3, _figure(value, unit))


def draw_mark(page: Canvas, mark: str | None, settled: bool, x: float, y: float, size: float = 8.0) -> None:
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
    page.setFillColor(VERDIGRIS if settled else HexColor("#FFFFFF"))
    page.circle(x + radius, y + radius, radius, stroke=1, fill=1)
    if not settled:
        page.setFillColor(OCHRE)
        path = page.beginPath()
        path.moveTo(x + radius, y)
        path.arcTo(x, y, x + size, y + size, 90, 180)
        path.close()
        page.drawPath(path, stroke=1, fill=1)
