"""Headings and rows of the sheet's pages."""

from reportlab.pdfgen.canvas import Canvas

from pounce.sheet.drawing import HAIR, INK, fitted

MARGIN = 40.0
ROW = 14.5


def wide(page: Canvas) -> float:
    """Width of the paper, points."""
    return float(page._pagesize[0])


def high(page: Canvas) -> float:
    """Height of the paper, points."""
    return float(page._pagesize[1])


def heading(page: Canvas, y: float, text: str) -> float:
    """A heading under y; returns where it ends."""
    page.setFillColor(INK)
    page.setFont("Semi", 12)
    page.drawString(MARGIN, y - 14, fitted(text, "Semi", 12, wide(page) - 2 * MARGIN))
    return y - 18


def row(page: Canvas, y: float, title: str, about: str, figure: str) -> float:
    """A row under y: title, a few words, a figure; returns its own y."""
    y -= ROW
    page.setStrokeColor(HAIR)
    page.setLineWidth(0.3)
    page.line(MARGIN, y + 10.5, wide(page) - MARGIN, y + 10.5)
    page.setFillColor(INK)
    page.setFont("Semi", 10)
    page.drawString(MARGIN, y, fitted(title, "Semi", 10, 138.0))
    page.setFont("Body", 10)
    page.drawString(MARGIN + 144, y, fitted(about, "Body", 10, 262.0))
    page.setFont("Semi", 10)
    page.drawRightString(wide(page) - MARGIN, y, figure)
    return y
