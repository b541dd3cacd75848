"""The sheet's second page: what is added, the main dimensions, and where to drill."""

from reportlab.pdfgen.canvas import Canvas

from pounce.base.units import length, mass, plain, volume
from pounce.metals.tables import sources
from pounce.sheet.drawing import HAIR, INK, MUTED, fitted
from pounce.sheet.rows import high, wide
from pounce.stock.values import Dimension, StockResult

MARGIN = 40.0
ROW = 15.0


def stock_page(page: Canvas, name: str, stock: StockResult, unit: str) -> None:
    """Draws the page on the canvas as it stands."""
    y = high(page) - MARGIN - 12
    page.setFillColor(INK)
    page.setFont("Semi", 16)
    page.drawString(MARGIN, y, fitted(f"{name}: what is added", "Semi", 16, wide(page) - 2 * MARGIN))
    y -= 14
    for line in stock.lines:
        if not line.on:
            continue
        y = _row(
            page,
            y,
            [(MARGIN, line.words(unit), "Semi"), (MARGIN + 150, line.about_words(unit), "Body")],
            volume(line.added_mm3 - line.taken_mm3, unit),
            250.0,
        )
        if line.source:
            page.setFillColor(MUTED)
            page.setFont("Slant", 8)
            page.drawString(MARGIN + 150, y - 8, fitted(sources()[line.source].words(), "Slant", 8, 330.0))
            y -= 10
        if line.trouble:
            page.setFillColor(INK)
            page.setFont("Slant", 9)
            page.drawString(MARGIN + 150, y - 9, fitted(line.trouble, "Slant", 9, 360.0))
            y -= 11
    if not any(line.on for line in stock.lines):
        y = _row(page, y, [(MARGIN, "Nothing is added.", "Body")], "", 300.0)
    y = _row(
        page,
        y,
        [(MARGIN, "Part as wanted", "Body")],
        _weighed(stock.finished.volume_mm3, stock.finished.mass_kg, unit),
        300.0,
    )
    y = _row(
        page,
        y,
        [(MARGIN, "Casting as poured", "Body")],
        _weighed(stock.cast.volume_mm3, stock.cast.mass_kg, unit),
        300.0,
    )
    y = _dimensions(page, y - 24, stock, unit)
    if stock.drill:
        _drill(page, y - 24, stock, unit)


def _weighed(volume_mm3: float, mass_kg: float, unit: str) -> str:
    return f"{volume(volume_mm3, unit)}, {mass(mass_kg)}"


def _row(page: Canvas, y: float, cells: list[tuple[float, str, str]], right: str, room: float) -> float:
    y -= ROW
    page.setStrokeColor(HAIR)
    page.setLineWidth(0.3)
    page.line(MARGIN, y + 11, wide(page) - MARGIN, y + 11)
    page.setFillColor(INK)
    for x, text, face in cells:
        page.setFont(face, 10)
        page.drawString(
            x, y, fitted(text, face, 10, room if x > MARGIN else max(room, 144.0) if len(cells) == 1 else 144.0)
        )
    page.setFont("Semi", 10)
    page.drawRightString(wide(page) - MARGIN, y, right)
    return y


def _dimensions(page: Canvas, y: float, stock: StockResult, unit: str) -> float:
    page.setFillColor(INK)
    page.setFont("Semi", 12)
    page.drawString(MARGIN, y, f"Main dimensions, {unit}")
    heads = ("wanted", "pattern", "made", "casting", "tolerance")
    columns = [MARGIN + 190 + 65 * index for index in range(len(heads))]
    page.setFont("Body", 9)
    page.setFillColor(MUTED)
    for x, text in zip(columns, heads, strict=True):
        page.drawRightString(x, y, text)
    for row in stock.dimensions:
        y -= ROW
        page.setStrokeColor(HAIR)
        page.line(MARGIN, y + 11, wide(page) - MARGIN, y + 11)
        page.setFillColor(INK)
        page.setFont("Body", 10)
        page.drawString(MARGIN, y, f"{row.name}, cut here" if row.note else row.name)
        for x, text in zip(columns, _cells(row, unit), strict=True):
            page.drawRightString(x, y, text)
    page.setFont("Slant", 8.5)
    page.setFillColor(MUTED)
    y -= 13
    words = (
        "Tolerance either way by ISO 8062 (from memory). The pattern carries the additions; machining brings the "
        "casting to what is wanted."
    )
    page.drawString(MARGIN, y, fitted(words, "Slant", 8.5, wide(page) - 2 * MARGIN))
    return y


def _cells(row: Dimension, unit: str) -> tuple[str, ...]:
    digits = 3 if unit == "in" else 2
    divisor = 25.4 if unit == "in" else 1.0
    values = (row.wanted_mm, row.pattern_mm, row.made_mm, row.casting_mm)
    spread = "" if row.tolerance_mm is None else f"± {plain(row.tolerance_mm / 2.0 / divisor, digits)}"
    return (*(f"{value / divisor:.{digits}f}" for value in values), spread)


def _drill(page: Canvas, y: float, stock: StockResult, unit: str) -> None:
    page.setFillColor(INK)
    page.setFont("Semi", 12)
    page.drawString(MARGIN, y, "To drill, at final places")
    for point in stock.drill:
        where = ", ".join(length(value, unit, 2) for value in point.at_mm)
        deep = point.deep_words(f"{length(point.depth_mm, unit)} deep")
        y = _row(
            page,
            y,
            [(MARGIN, f"{point.name}   Ø {length(point.diameter_mm, unit, 2)}", "Body"), (MARGIN + 150, where, "Body")],
            deep,
            250.0,
        )
