"""The shop sheet: the page to take to the moulding bench, and what stands behind it on further pages."""

import io
from dataclasses import replace

import numpy as np
from reportlab.lib.utils import simpleSplit
from reportlab.pdfgen.canvas import Canvas

from pounce.base.finding import filled
from pounce.base.paper import PAPERS
from pounce.base.pdf import new_pdf
from pounce.metals.tables import mix, sources
from pounce.sheet.content import Content
from pounce.sheet.corepage import core_page
from pounce.sheet.drawing import (
    HAIR,
    INK,
    MM,
    MUTED,
    common_scale,
    draw_mark,
    draw_section,
    fitted,
    scale_words,
    sketch,
)
from pounce.sheet.freezepage import freeze_page
from pounce.sheet.front import front_page
from pounce.sheet.makingpage import making_page
from pounce.sheet.mouldpage import mould_page
from pounce.sheet.pourpage import pour_page
from pounce.sheet.rows import heading, high, row, wide
from pounce.sheet.stockpage import stock_page
from pounce.solid.frame import across

MARGIN = 40.0
FOOT = 64.0


def shop_sheet(content: Content, paper: str = "A4") -> bytes:
    """The sheet as a PDF: the front, what was found, the mould, what is added, how it is made, every core."""
    buffer = io.BytesIO()
    page = new_pdf(buffer, PAPERS[paper])
    page.setTitle(f"{content.name}, shop sheet")
    page.setAuthor("Pounce")
    first = True

    def turn() -> tuple[float, float]:
        nonlocal first
        if not first:
            _foot(page, content)
        first = False
        page.showPage()
        return high(page) - MARGIN, FOOT + 8

    y, floor = front_page(page, content, turn)
    if first:
        y, floor = turn()
    y = _sections(page, content, y)
    _findings(page, content, y - 8, floor)
    _foot(page, content)
    page.showPage()
    _mould_pages(page, content)
    if content.stock.lines:
        stock_page(page, content.name, content.stock, content.unit)
        _foot(page, content)
        page.showPage()
    if content.pattern is not None and content.pattern.making.kind:
        making_page(page, content.name, content.pattern, content.choices, content.unit)
        _foot(page, content)
        page.showPage()
    for core in content.cores.cores:
        core_page(
            page,
            content.name,
            core,
            mix(content.mix),
            np.array(content.stock.rammed_factors),
            np.array(content.stock.box_factors),
            content.unit,
        )
        _foot(page, content)
        page.showPage()
    for title, rows in content.more:
        y = heading(page, high(page) - MARGIN, f"{content.name}: {title.lower()}")
        for name, figure in rows:
            y = row(page, y, name, "", figure)
        _foot(page, content)
        page.showPage()
    page.save()
    return buffer.getvalue()


def _mould_pages(page: Canvas, c: Content) -> None:
    """The mould, what sets last in it, and how it is poured."""
    if c.rig is None:
        return
    mould_page(page, c.name, c.rig, c.unit)
    _foot(page, c)
    page.showPage()
    if c.freeze is not None:
        freeze_page(page, c.name, c.freeze, c.rig, c.unit)
        _foot(page, c)
        page.showPage()
    if c.pour is not None:
        pour_page(page, c.name, c.pour, c.pour_at, c.kept)
        page.showPage()


def _sections(page: Canvas, c: Content, top: float) -> float:
    """Two cuts through the middle of the pattern, at one usual scale; returns the lowest y used."""
    mesh = c.cores.mesh.scaled(np.array(c.stock.made_factors))
    u, v = across(c.draw.direction)
    level = replace(c.parting.joint, height_mm=c.stock.joint_mm) if c.parting.joint.level else c.parting.joint
    joint = level.scaled(c.stock.uniform)
    found = [
        sketch(mesh, u, joint, "Cut through the middle, seen from the front"),
        sketch(mesh, v, joint, "Cut through the middle, seen from the side"),
    ]
    sketches = [item for item in found if item is not None]
    width, height = (wide(page) - 2 * MARGIN - 16) / 2, 178.0
    scale = common_scale(sketches, width - 64, height - 46)
    height = min(height, 60.0 + max((float((one.high - one.low)[1]) for one in sketches), default=0.0) * scale * MM)
    y = top - height
    for index, item in enumerate(sketches):
        draw_section(page, item, MARGIN + index * (width + 16), y, width, height, scale, c.unit)
    page.setFont("Slant", 8.5)
    page.setFillColor(MUTED)
    page.drawString(
        MARGIN,
        y - 10,
        f"Pattern sizes in {c.unit}, drawn {scale_words(scale)}. The bold dash is the joint; hatched sand "
        "cannot leave.",
    )
    return float(y - 16)


def _findings(page: Canvas, c: Content, top: float, floor: float) -> None:
    """Every finding in full, what is open first, with its cures; carried on over as many pages as it takes."""
    items = sorted((f for f in c.findings if f.code != "caution"), key=lambda finding: finding.informational)
    if c.causes is not None:
        items = [one for one in items if one.informational and one.cured_by is None]
    y = _heading(page, "What was found" if c.causes is None else "Good to know", top)
    for finding in items:
        lines = simpleSplit(finding.words(c.unit), "Body", 9.5, wide(page) - 2 * MARGIN - 92)
        cures = " · ".join(filled(remedy.text, finding.figures, c.unit) for remedy in finding.remedies)
        more = simpleSplit(cures, "Slant", 9, wide(page) - 2 * MARGIN - 30) if cures else []
        if y - 12 * (len(lines) + len(more)) < floor:
            _foot(page, c)
            page.showPage()
            floor = FOOT + 8
            y = _heading(page, f"{c.name}: what was found, carried on", high(page) - MARGIN)
        draw_mark(page, finding.mark, finding.informational, MARGIN, y - 1)
        page.setFillColor(INK)
        page.setFont("Semi", 9.5)
        page.drawRightString(wide(page) - MARGIN, y, finding.main_words(c.unit))
        page.setFont("Body", 9.5)
        for line in lines:
            page.drawString(MARGIN + 14, y, line)
            y -= 12
        page.setFont("Slant", 9)
        page.setFillColor(MUTED)
        for line in more:
            page.drawString(MARGIN + 14, y, line)
            y -= 12
        y -= 2
    if not items:
        page.setFont("Body", 9.5)
        page.drawString(MARGIN, y, "Nothing stands in the way." if c.causes is None else "Nothing more.")


def _heading(page: Canvas, text: str, top: float) -> float:
    page.setFillColor(INK)
    page.setFont("Semi", 12)
    page.drawString(MARGIN, top - 10, fitted(text, "Semi", 12, wide(page) - 2 * MARGIN))
    return top - 26


def _foot(page: Canvas, c: Content) -> None:
    page.setStrokeColor(HAIR)
    page.setLineWidth(0.5)
    page.line(MARGIN, FOOT - 4, wide(page) - MARGIN, FOOT - 4)
    page.setFont("Body", 8)
    page.setFillColor(MUTED)
    source = sources()[c.method.metal.contraction.source].words()
    own = "the maker's own figure" if c.method.own_contraction else source
    text = (
        f"Contraction: {own}. All cautions stand on the first page. Follow local rules and the makers' safety sheets."
    )
    y = FOOT - 14
    for line in simpleSplit(text, "Body", 8, wide(page) - 2 * MARGIN)[:3]:
        page.drawString(MARGIN, y, line)
        y -= 9.5
