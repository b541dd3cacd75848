"""The drilling plan: a 1:1 template of the casting's face with the holes, and a table of where they lie after
contraction.
"""

import csv
import io
from dataclasses import dataclass

import numpy as np
from reportlab.pdfgen.canvas import Canvas

from pounce.base.pdf import new_pdf
from pounce.base.units import percent, plain
from pounce.export.pages import CHECK_MM, FOOT_MM, HEAD_MM, INK, MARGIN_MM, MM, MUTED, SAND, check_line, page_for, path
from pounce.solid.frame import across, axis_name
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.section import cut
from pounce.stock.values import DrillPoint

TABLE_ROW_MM = 5.0


@dataclass(frozen=True, eq=False)
class Face:
    """Holes drilled the same way: ``way`` into the metal, the outline (n, 2) of the casting there, and places (k,
    2).
    """

    way: Floats
    outline: tuple[Floats, ...]
    places: Floats
    points: tuple[DrillPoint, ...]


def faces_of(casting: Mesh, points: tuple[DrillPoint, ...]) -> list[Face]:
    """Points gathered by the way they are drilled. ``casting`` at the size it comes out."""
    out: list[Face] = []
    groups: list[tuple[Floats, list[DrillPoint]]] = []
    for point in points:
        way = np.array(point.way)
        for known, held in groups:
            if float(known @ way) > 0.9998:
                held.append(point)
                break
        else:
            groups.append((way, [point]))
    for way, held in groups:
        u, v = across(-way)
        at = np.array([point.at_mm for point in held])
        level = float((at @ -way).max())
        # a little under the mouths, where the face is whole
        loops = cut(casting, u, v, level - 0.5).loops
        out.append(Face(way, loops, np.stack([at @ u, at @ v], axis=1), tuple(held)))
    return out


# A casting this much smaller than wanted is worth a word on its plan, per cent.
WORTH_PERCENT = 0.05


def drill_plan_pdf(
    name: str, casting: Mesh, points: tuple[DrillPoint, ...], smaller_percent: float = 0.0, paper: str = "A4"
) -> bytes:
    """One page a way of drilling, as large as it needs, at 1:1 with a 100 mm check line.

    Holes stand at their final places; ``smaller_percent`` how much smaller than wanted the casting comes out, as
    from an original.
    """
    buffer = io.BytesIO()
    page: Canvas | None = None
    for face in faces_of(casting, points):
        shapes = np.concatenate([*face.outline, face.places])
        low, high = shapes.min(axis=0), shapes.max(axis=0)
        span = high - low
        tall = TABLE_ROW_MM * (len(face.points) + 1)
        size = page_for(
            np.array([max(span[0], CHECK_MM, 150.0) + 2 * MARGIN_MM, span[1] + HEAD_MM + FOOT_MM + tall + MARGIN_MM]),
            paper,
        )
        if page is None:
            page = new_pdf(buffer, (float(size[0]), float(size[1])))
            page.setTitle(f"{name}, drilling plan")
            page.setAuthor("Pounce")
        page.setPageSize(tuple(size * MM))
        _draw(page, name, face, size, low, span, tall, smaller_percent)
        page.showPage()
    if page is None:
        raise ValueError("there is nothing to drill")
    page.save()
    return buffer.getvalue()


def _draw(
    page: Canvas, name: str, face: Face, size: Floats, low: Floats, span: Floats, tall: float, smaller: float
) -> None:
    left = (size[0] - span[0]) / 2.0
    bottom = FOOT_MM + tall + (size[1] - HEAD_MM - FOOT_MM - tall - span[1]) / 2.0

    def at(points: Floats) -> Floats:
        return np.asarray((points - low + np.array([left, bottom])) * MM)

    page.setFillColor(SAND)
    page.setStrokeColor(INK)
    page.setLineWidth(0.9)
    for loop in face.outline:
        path(page, at(loop), close=True)
    for point, place in zip(face.points, at(face.places), strict=True):
        _cross(page, place, point)
    page.setFillColor(INK)
    page.setFont("Semi", 15)
    page.drawString(MARGIN_MM * MM, (size[1] - 13) * MM, f"{name}: drilling plan")
    page.setFont("Body", 9.5)
    page.setFillColor(MUTED)
    way = axis_name(-face.way) or ", ".join(f"{value:.2f}" for value in -face.way)
    said = f"Seen from {way} at 1:1. Holes at their final sizes and places: prick through the crosses."
    if smaller > WORTH_PERCENT:
        said += (
            f" The casting comes out {percent(smaller)} smaller: its outline is drawn so, and centre marks in it "
            "are that much too close."
        )
    page.drawString(MARGIN_MM * MM, (size[1] - 19) * MM, said)
    y = (FOOT_MM + tall - TABLE_ROW_MM) * MM
    columns = (MARGIN_MM, MARGIN_MM + 14, MARGIN_MM + 50, MARGIN_MM + 72, MARGIN_MM + 94, MARGIN_MM + 116)
    page.setFont("Body", 8.5)
    for x, text in zip(columns, ("hole", "drill", "x", "y", "z", "depth"), strict=True):
        page.drawString(x * MM, y, text)
    page.setFillColor(INK)
    for point in face.points:
        y -= TABLE_ROW_MM * MM
        deep = point.deep_words(f"{plain(point.depth_mm, 1)} mm")
        cells = (point.name, f"Ø {plain(point.diameter_mm, 2)} mm", *(plain(value, 2) for value in point.at_mm), deep)
        for x, text in zip(columns, cells, strict=True):
            page.drawString(x * MM, y, text)
    check_line(page)


def _cross(page: Canvas, place: Floats, point: DrillPoint) -> None:
    x, y = float(place[0]), float(place[1])
    radius = point.diameter_mm / 2.0 * MM
    reach = radius + 3.0 * MM
    page.setLineWidth(0.5)
    page.circle(x, y, radius, stroke=1, fill=0)
    page.line(x - reach, y, x + reach, y)
    page.line(x, y - reach, x, y + reach)
    page.setFillColor(INK)
    page.setFont("Semi", 10)
    page.drawString(x + radius + 2.0, y + radius + 2.0, point.name)


def drill_csv(points: tuple[DrillPoint, ...]) -> bytes:
    """The table as CSV, mm."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(
        [
            "hole",
            "diameter_mm",
            "x_mm",
            "y_mm",
            "z_mm",
            "way_x",
            "way_y",
            "way_z",
            "depth_mm",
            "through",
            "centre_marked",
            "keyway",
        ]
    )
    for point in points:
        row = [point.name, *(f"{value:.4f}" for value in (point.diameter_mm, *point.at_mm, *point.way, point.depth_mm))]
        writer.writerow([*row, *("yes" if told else "no" for told in (point.through, point.marked, point.keyed))])
    return out.getvalue().encode()


def dimensions_csv(rows: tuple[object, ...]) -> bytes:
    """The table of dimensions as CSV, mm."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(
        ["dimension", "wanted_mm", "pattern_mm", "made_mm", "casting_mm", "other_metal_mm", "plus_minus_mm"]
    )
    for row in rows:
        values = [getattr(row, key) for key in ("wanted_mm", "pattern_mm", "made_mm", "casting_mm", "other_mm")]
        total = getattr(row, "tolerance_mm", None)
        values.append(None if total is None else total / 2.0)
        writer.writerow([getattr(row, "name", ""), *("" if value is None else f"{value:.4f}" for value in values)])
    return out.getvalue().encode()
