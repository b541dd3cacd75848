"""Pages at 1:1: the sheet that holds a plan, its typeface, and the line by which it is checked."""

import numpy as np
from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A0, A1, A2, A3, A4, letter
from reportlab.pdfgen.canvas import Canvas

from pounce.solid.mesh import Floats

MM = 72.0 / 25.4
MARGIN_MM, HEAD_MM, FOOT_MM = 12.0, 24.0, 22.0
CHECK_MM = 100.0
INK, MUTED, SAND = HexColor("#22303C"), HexColor("#56646A"), HexColor("#F1E5CB")


def page_for(need: Floats, paper: str = "A4") -> Floats:
    """(2,) the smallest usual sheet from ``paper`` up that holds ``need`` (2,) mm, or one of just that size."""
    first = {"A4": (A4, A3), "A3": (A3,), "letter": (letter, A3)}[paper]
    for size in (*first, A2, A1, A0):
        page = np.array(size) / MM
        for turned in (page, page[::-1]):
            if (turned >= need).all():
                return turned
    return np.ceil(need)


def path(page: Canvas, points: Floats, close: bool, fill: bool = False) -> None:
    """Draws a line through points (n, 2) in the page's own units, filled where asked."""
    path = page.beginPath()
    path.moveTo(*points[0])
    for point in points[1:]:
        path.lineTo(*point)
    if close:
        path.close()
    page.drawPath(path, stroke=1, fill=int(fill))


def check_line(page: Canvas) -> None:
    """The 100 mm line at the foot by which a print is checked."""
    page.setStrokeColor(INK)
    page.setLineWidth(0.8)
    y, x = 8 * MM, MARGIN_MM * MM
    page.line(x, y, x + CHECK_MM * MM, y)
    for end in (x, x + CHECK_MM * MM):
        page.line(end, y - 4, end, y + 4)
    page.setFont("Semi", 8)
    page.setFillColor(INK)
    page.drawCentredString(x + CHECK_MM * MM / 2, y + 3, "100 mm: measure this line before you use the plan")
