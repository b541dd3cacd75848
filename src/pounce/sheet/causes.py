"""What stood in the way and its cure, on the shop sheet: open causes first, then cured ones, each with a tick box."""

from collections.abc import Callable

from reportlab.lib.utils import simpleSplit
from reportlab.pdfgen.canvas import Canvas

from pounce.causes.values import Cause, CausesResult
from pounce.sheet.drawing import HAIR, INK, MUTED, VERDIGRIS, draw_mark
from pounce.sheet.rows import wide

MARGIN = 40.0
# Where the figure ends and the cure begins, of the page's width.
FIGURE_AT, CURE_AT = 0.555, 0.57
LINE = 10.5
# Room over the text before the figure, points.
FIGURE = 62.0


def causes_rows(
    page: Canvas, causes: CausesResult, unit: str, top: float, floor: float, turn: Callable[[], tuple[float, float]]
) -> float:
    """Every cause with its cure; ``turn`` begins another page and says its top and floor. Returns the lowest y used."""
    y = top
    for cause in (*causes.open, *causes.cured):
        text = simpleSplit(cause.words(unit), "Body", 9, FIGURE_AT * wide(page) - MARGIN - 30 - FIGURE)
        cure = simpleSplit(_cure(cause, unit), "Body", 9, (1.0 - CURE_AT) * wide(page) - MARGIN - 36)
        if y - LINE * max(len(text), len(cure)) < floor:
            y, floor = turn()
        y = _row(page, cause, unit, text, cure, y)
    return y


def _cure(cause: Cause, unit: str) -> str:
    if cause.cured_by is not None:
        return cause.cured_by
    if not cause.remedies:
        return "still open"
    words = cause.remedy_words(cause.remedies[0], unit)
    return f"still open: {words[:1].lower()}{words[1:]}"


def _row(page: Canvas, cause: Cause, unit: str, text: list[str], cure: list[str], y: float) -> float:
    cured = cause.cured_by is not None
    page.setFont("Bold", 9.5)
    page.setFillColor(INK)
    page.drawString(MARGIN, y, str(cause.rank))
    draw_mark(page, cause.mark if not cured else None, cured, MARGIN + 16, y - 1)
    page.setFillColor(INK)
    page.setFont("Body", 9)
    for nth, line in enumerate(text):
        page.drawString(MARGIN + 30, y - nth * LINE, line)
    page.setFont("Semi", 9)
    page.drawRightString(FIGURE_AT * wide(page), y, cause.main_words(unit))
    at = CURE_AT * wide(page)
    page.setFont("Body" if cured else "Slant", 9)
    page.setFillColor(INK if cured else MUTED)
    if cured:
        page.setFillColor(VERDIGRIS)
        page.circle(at + 3.5, y + 3, 3.2, stroke=0, fill=1)
        page.setFillColor(INK)
    for nth, line in enumerate(cure):
        page.drawString(at + 12, y - nth * LINE, line)
    page.setStrokeColor(INK)
    page.setLineWidth(0.8)
    page.rect(wide(page) - MARGIN - 9, y - 1.5, 9, 9, stroke=1, fill=0)
    lowest = y - LINE * max(len(text), len(cure))
    page.setStrokeColor(HAIR)
    page.setLineWidth(0.3)
    page.line(MARGIN, lowest + 6, wide(page) - MARGIN, lowest + 6)
    return lowest - 5
