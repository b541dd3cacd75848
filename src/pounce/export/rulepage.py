"""Contraction rules at 1:1: a rule longer than true by the contraction, to measure a pattern with by the casting's
own sizes.
"""

import io
from dataclasses import dataclass

import numpy as np
from reportlab.pdfgen.canvas import Canvas

from pounce.base.paper import PAPERS
from pounce.base.pdf import new_pdf
from pounce.export.pages import INK, MM, MUTED, check_line
from pounce.solid.mesh import Floats

EDGE_MM, TALL_MM = 15.0, 26.0
# How long a rule is on one sheet, in mm of the casting.
LONG_MM = 250


@dataclass(frozen=True)
class Rule:
    """One rule: what it says, and pattern size over casting size."""

    name: str
    factor: float


def marks_mm(factor: float, count: int = LONG_MM) -> Floats:
    """(count + 1,) where the marks of 0, 1, 2 ... mm of the casting stand on the rule, mm."""
    return np.arange(count + 1, dtype=np.float64) * factor


def rules_pdf(rules: tuple[Rule, ...], paper: str = "A4") -> bytes:
    """Each rule as a strip to cut out and paste on a lath, millimetres on one edge and inches in sixteenths on the
    other.
    """
    buffer = io.BytesIO()
    page = new_pdf(buffer)
    page.setTitle("Contraction rules")
    page.setAuthor("Pounce")
    size = np.array(PAPERS[paper])[::-1]
    long = min(LONG_MM, int((float(size[0]) - 2.0 * EDGE_MM) / (10.0 * max(one.factor for one in rules))) * 10)
    page.setPageSize(tuple(size * MM))
    y = float(size[1]) - 30.0
    _head(page, size)
    for rule in rules:
        if y < 40.0:
            check_line(page)
            page.showPage()
            page.setPageSize(tuple(size * MM))
            _head(page, size)
            y = float(size[1]) - 30.0
        _strip(page, rule, y, long)
        y -= TALL_MM + 14.0
    check_line(page)
    page.showPage()
    page.save()
    return buffer.getvalue()


def _head(page: Canvas, size: Floats) -> None:
    page.setFillColor(INK)
    page.setFont("Semi", 14)
    page.drawString(EDGE_MM * MM, (size[1] - 13.0) * MM, "Contraction rules")
    page.setFont("Body", 9)
    page.setFillColor(MUTED)
    page.drawString(
        EDGE_MM * MM,
        (size[1] - 18.5) * MM,
        "Measure the pattern with it and read the casting. Paste it on a lath; paper moves with damp.",
    )


def _strip(page: Canvas, rule: Rule, top: float, count: int) -> None:
    x0, low = EDGE_MM, top - TALL_MM
    long = float(marks_mm(rule.factor, count)[-1])
    page.setStrokeColor(INK)
    page.setLineWidth(0.5)
    page.rect(x0 * MM, low * MM, (long + 6.0) * MM, TALL_MM * MM)
    page.setLineWidth(0.25)
    page.setFillColor(INK)
    page.setFont("Body", 7)
    for k, at in enumerate(marks_mm(rule.factor, count).tolist()):
        tall = 7.0 if k % 10 == 0 else (5.0 if k % 5 == 0 else 3.0)
        x = (x0 + 3.0 + at) * MM
        page.line(x, top * MM, x, (top - tall) * MM)
        if k % 10 == 0:
            page.drawCentredString(x, (top - 10.0) * MM, str(k))
    sixteenth = 25.4 / 16.0 * rule.factor
    for k in range(int(count * rule.factor / sixteenth) + 1):
        tall = 7.0 if k % 16 == 0 else (5.0 if k % 8 == 0 else (4.0 if k % 4 == 0 else 2.5))
        x = (x0 + 3.0 + k * sixteenth) * MM
        page.line(x, low * MM, x, (low + tall) * MM)
        if k % 16 == 0:
            page.drawCentredString(x, (low + 8.0) * MM, str(k // 16))
    page.setFont("Semi", 9)
    page.drawString((x0 + 6.0) * MM, (low + 12.0) * MM, f"{rule.name}: {100.0 * (rule.factor - 1.0):.2f} % over")
    page.setFont("Body", 7)
    page.drawRightString((x0 + long) * MM, (low + 12.0) * MM, "mm of the casting above, inches below")
