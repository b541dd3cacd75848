"""The contour plan at 1:1: how deep and how wide the drag is cut down to a parting line that is no plane."""

import io
from dataclasses import dataclass

import numpy as np
from reportlab.lib.colors import HexColor
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas

from pounce.base.pdf import new_pdf
from pounce.base.units import length, plain, volume
from pounce.export.pages import CHECK_MM, FOOT_MM, HEAD_MM, INK, MARGIN_MM, MM, MUTED, SAND, check_line, page_for, path
from pounce.parting.values import CutDown
from pounce.solid.mesh import Floats

STEPS_MM = (1.0, 2.0, 5.0, 10.0, 20.0, 50.0)
MOST_LINES = 12
LINE = HexColor("#8A7143")


@dataclass(frozen=True, eq=False)
class CutPlan:
    """What is drawn: contours (depth mm, lines (n, 2)), the parting line seen from above (n, 2), and the box (2, 2)
    in mm.
    """

    name: str
    done: CutDown
    step_mm: float
    contours: list[tuple[float, tuple[Floats, ...]]]
    line: tuple[Floats, ...]
    box: Floats


def usual_step(depth_mm: float) -> float:
    """The contour step that gives at most a dozen lines."""
    return next((step for step in STEPS_MM if depth_mm / step <= MOST_LINES), depth_mm / MOST_LINES)


def cut_plan_pdf(plan: CutPlan, paper: str = "A4") -> bytes:
    """One page, as large as the plan needs, at 1:1 with a 100 mm check line."""
    span = plan.box[1] - plan.box[0]
    need = np.array([max(span[0], CHECK_MM) + 2 * MARGIN_MM, span[1] + HEAD_MM + FOOT_MM + MARGIN_MM])
    page_mm = page_for(need, paper)
    buffer = io.BytesIO()
    page = new_pdf(buffer, (float(page_mm[0]), float(page_mm[1])))
    page.setTitle(f"{plan.name}, cutting the drag down")
    page.setAuthor("Pounce")
    left = (page_mm[0] - span[0]) / 2.0
    bottom = FOOT_MM + (page_mm[1] - HEAD_MM - FOOT_MM - span[1]) / 2.0

    def at(points: Floats) -> Floats:
        return np.asarray((points - plan.box[0] + np.array([left, bottom])) * MM)

    page.setFillColor(SAND)
    page.rect(left * MM, bottom * MM, span[0] * MM, span[1] * MM, stroke=0, fill=1)
    for depth, lines in plan.contours:
        page.setStrokeColor(LINE)
        page.setLineWidth(0.8 if round(depth / plan.step_mm) % 5 else 1.4)
        for line in lines:
            path(page, at(line), close=True)
        _figure(page, at, lines, depth)
    page.setStrokeColor(INK)
    page.setLineWidth(1.6)
    page.setDash(8, 4)
    for line in plan.line:
        path(page, at(line), close=False)
    page.setDash()
    _words(page, plan, page_mm)
    page.showPage()
    page.save()
    return buffer.getvalue()


def _figure(page: Canvas, at: object, lines: tuple[Floats, ...], depth: float) -> None:
    if not lines or not callable(at):
        return
    longest = max(lines, key=len)
    x, y = at(longest[np.argmax(longest[:, 0] + 0.3 * longest[:, 1])][None])[0]
    page.setFont("Semi", 7.5)
    text = plain(depth, 1)
    wide = pdfmetrics.stringWidth(text, "Semi", 7.5)
    page.setFillColor(SAND)
    page.rect(x - wide / 2 - 1.5, y - 4, wide + 3, 8, stroke=0, fill=1)
    page.setFillColor(INK)
    page.drawCentredString(x, y - 2.6, text)


def _words(page: Canvas, plan: CutPlan, page_mm: Floats) -> None:
    page.setFillColor(INK)
    page.setFont("Semi", 15)
    page.drawString(MARGIN_MM * MM, (page_mm[1] - 13) * MM, f"{plan.name}: cutting the drag down")
    page.setFont("Body", 9.5)
    page.setFillColor(MUTED)
    done = plan.done
    page.drawString(
        MARGIN_MM * MM,
        (page_mm[1] - 19) * MM,
        f"Seen from above at 1:1. Lines every {plain(plan.step_mm, 1)} mm, figures are mm under the rammed "
        "face. Dashed: the parting line.",
    )
    page.drawString(
        MARGIN_MM * MM,
        15 * MM,
        f"Cut {length(done.depth_mm)} deep at most, slope it up within {length(done.width_mm)} of the pattern; "
        f"{volume(done.volume_mm3)} of sand goes.",
    )
    check_line(page)
