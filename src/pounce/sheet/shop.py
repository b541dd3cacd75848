"""The shop sheet, first form: one page to take to the bench."""

import io
from dataclasses import dataclass, replace

import numpy as np
from PIL import Image
from reportlab.lib.utils import ImageReader, simpleSplit
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from pounce.base.finding import Finding, filled
from pounce.base.fonts import font_file
from pounce.base.paper import PAPERS, POINTS_PER_MM
from pounce.base.units import area, degrees, length, mass, plain, volume
from pounce.causes.values import CausesResult
from pounce.cores.values import CoresResult
from pounce.draw.values import DrawResult
from pounce.metals.contraction import formula
from pounce.metals.margins import SandRound
from pounce.metals.method import Method, cautions_of
from pounce.metals.tables import mix, sources
from pounce.part.model import PartResult
from pounce.parting.values import PartingResult, tears
from pounce.pattern.values import PatternChoices, PatternResult
from pounce.sheet.causes import causes_rows
from pounce.sheet.corepage import core_page
from pounce.sheet.drawing import (
    EMBER,
    HAIR,
    INK,
    MUTED,
    common_scale,
    draw_mark,
    draw_section,
    fitted,
    scale_words,
    sketch,
)
from pounce.sheet.makingpage import making_page
from pounce.sheet.rows import heading, high, row, wide
from pounce.sheet.stockpage import stock_page
from pounce.solid.frame import across, axis_name
from pounce.solid.picture import render, standing_view
from pounce.stock.values import StockResult

MARGIN = 40.0
FOOT = 64.0


@dataclass(frozen=True, eq=False)
class Content:
    """What goes on the sheet.

    ``parting`` is that of the pattern as it is rammed, where it is proved; ``verdict`` in a sentence; ``causes`` stand
    for the findings where they are known. ``pattern`` is None when it cannot be made; the sheet then says why in
    ``fault``.
    """

    name: str
    file: str
    part: PartResult
    method: Method
    draw: DrawResult
    parting: PartingResult
    stock: StockResult
    cores: CoresResult
    mix: str
    pattern: PatternResult | None
    choices: PatternChoices
    fault: str | None
    findings: tuple[Finding, ...]
    sand: SandRound
    unit: str
    causes: CausesResult | None = None
    verdict: str = ""
    more: tuple[tuple[str, tuple[tuple[str, str], ...]], ...] = ()


def shop_sheet(content: Content, paper: str = "A4") -> bytes:
    """The sheet as a PDF: one page, one for what is added, one for how the pattern is made, and one for every core."""
    for name, style in (("Body", "Regular"), ("Semi", "Semibold"), ("Bold", "Bold"), ("Slant", "It")):
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, str(font_file(style))))
    buffer = io.BytesIO()
    page = Canvas(
        buffer, pagesize=tuple(side * POINTS_PER_MM for side in PAPERS[paper]), pageCompression=1, invariant=1
    )
    page.setTitle(f"{content.name}, shop sheet")
    page.setAuthor("Pounce")
    y = _head(page, content)
    lowest = min(_picture(page, content, y), _figures(page, content, y))
    y = _sections(page, content, lowest - 14)
    _findings(page, content, y - 8, _cautions(page, content))
    _foot(page, content)
    page.showPage()
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


def _head(page: Canvas, c: Content) -> float:
    y = high(page) - MARGIN - 12
    page.setFillColor(INK)
    page.setFont("Semi", 20)
    page.drawString(MARGIN, y, fitted(c.name, "Semi", 20, wide(page) - 2 * MARGIN))
    page.setFont("Body", 10.5)
    page.setFillColor(MUTED)
    kind = c.method.pattern.name.lower()
    words = f"{c.method.metal.name} poured in {c.method.mould.name.lower()}. Pattern: {kind}. From {c.file}."
    page.drawString(MARGIN, y - 16, fitted(words, "Body", 10.5, wide(page) - 2 * MARGIN))
    page.setStrokeColor(INK)
    page.setLineWidth(1.2)
    page.line(MARGIN, y - 24, wide(page) - MARGIN, y - 24)
    return float(y - 34)


def _picture(page: Canvas, c: Content, top: float) -> float:
    """The pattern at pattern size with its parting line; returns the lowest y used."""
    width, height = 262.0, 196.0
    factor = c.stock.uniform
    mesh = c.cores.mesh.scaled(np.array(c.stock.made_factors))
    view = standing_view(mesh, c.draw.direction, 786, 588)
    lines = [np.stack([loop[:-1], loop[1:]], axis=1) * factor for loop in c.parting.outline if len(loop) > 1]
    pixels = render(mesh, view, lines=np.concatenate(lines) if lines else None)
    image = ImageReader(Image.fromarray(pixels[:, :, :3]))
    page.drawImage(image, MARGIN, top - height, width, height)
    if c.verdict:
        page.setFont("Semi", 10.5)
        page.setFillColor(INK)
        page.drawString(MARGIN, top - height - 23, c.verdict)
    page.setFont("Slant", 8.5)
    page.setFillColor(MUTED)
    way = axis_name(c.draw.direction) or ", ".join(f"{v:.2f}" for v in c.draw.direction)
    page.drawString(MARGIN, top - height - 10, f"The pattern with its parting line. It draws along {way}, upward here.")
    return float(top - height - (28 if c.verdict else 12))


def _figures(page: Canvas, c: Content, top: float) -> float:
    """Sizes side by side and the figures under them; returns the lowest y used."""
    x0, x1, x2, x3 = 322.0, 430.0, 492.0, wide(page) - MARGIN
    y = top - 10
    page.setFillColor(MUTED)
    page.setFont("Body", 9)
    page.drawString(x0, y, f"Sizes, {c.unit}")
    for x, text in ((x1, "part"), (x2, "pattern"), (x3, "more")):
        page.drawRightString(x, y, text)
    part = c.part.mesh.size
    laid = c.cores.mesh.size * np.array(c.stock.made_factors)
    digits = 3 if c.unit == "in" else 2
    divisor = 25.4 if c.unit == "in" else 1.0
    for name, value, pattern in zip("xyz", part, laid, strict=True):
        y -= 15
        _rule(page, x0, x3, y + 11)
        page.setFillColor(INK)
        page.setFont("Body", 10)
        page.drawString(x0, y, f"Along {name}")
        page.drawRightString(x1, y, plain(value / divisor, digits))
        page.setFont("Bold", 10)
        page.drawRightString(x2, y, plain(pattern / divisor, digits))
        page.setFont("Body", 10)
        page.drawRightString(x3, y, plain((pattern - value) / divisor, digits))
    y -= 8
    for name, text in _rows(c):
        y -= 15
        _rule(page, x0, x3, y + 11)
        page.setFont("Body", 10)
        page.setFillColor(INK)
        page.drawString(x0, y, name)
        page.setFont("Semi", 10)
        page.drawRightString(x3, y, text)
    return y - 4


def _rows(c: Content) -> list[tuple[str, str]]:
    """Names and figures under the sizes."""
    clean, tight, locked = c.parting.shown_areas
    factor = c.stock.uniform
    stated = formula(plain(c.method.contraction_percent, 2), c.method.stated)
    joint = "flat back" if c.parting.kind == "flat-back" else f"split at {length(c.parting.height_mm * factor, c.unit)}"
    if c.parting.ringed is not None and c.parting.ringed.cheek_mm > 0.0:
        joint += f", with a cheek {length(c.parting.ringed.cheek_mm * factor, c.unit)} high"
    if not c.parting.joint.level:
        joint = f"{c.parting.moulded.replace('-', ' ')}, {length(c.parting.relief_mm * factor, c.unit)} up and down"
    rows = [
        ("Contraction", stated),
        ("Pattern over part", f"× {factor:.4f}, {c.method.rule_text} in. in a foot"),
        ("Joint", f"{joint} on the pattern"),
        (
            "Deep in cope and drag",
            f"{length(c.parting.cope_depth_mm * factor, c.unit)} and "
            f"{length(c.parting.drag_depth_mm * factor, c.unit)}",
        ),
        ("Draft asked, least found", f"{_draft_words(c.method)}, {degrees(c.parting.least_draft_deg)}"),
        (
            "Sand beside, over, under",
            " ".join([f"{plain(c.sand.beside_mm, 0)}, {plain(c.sand.over_mm, 0)}, {plain(c.sand.under_mm, 0)}", "mm"]),
        ),
        ("Draws clean", area(clean, c.unit)),
        ("Tight", area(tight, c.unit)),
        ("Locks", area(locked, c.unit) if locked > 0.0 else "none"),
        ("Sand that tears", volume(c.parting.trial.torn_mm3 * factor**3, c.unit) if tears(c.parting) else "none"),
        (
            "Casting",
            f"{volume(c.part.volume_mm3, c.unit)}, {mass(c.method.mass_kg(c.part.volume_mm3))}"
            if c.part.closed
            else "open shell, not weighed",
        ),
    ]
    if c.pattern is not None and c.pattern.dowel_mm:
        rows.append(("Dowels, fit one way", " and ".join(f"Ø {plain(d, 1)}" for d in c.pattern.dowel_mm) + " mm"))
    return rows


def _draft_words(method: Method) -> str:
    low, high = method.draft_range_deg
    return degrees(low) if high - low < 1e-9 else f"{degrees(low)} to {degrees(high)}"


def _rule(page: Canvas, x0: float, x1: float, y: float) -> None:
    page.setStrokeColor(HAIR)
    page.setLineWidth(0.3)
    page.line(x0, y, x1, y)


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
    return y - 16


def _findings(page: Canvas, c: Content, top: float, floor: float) -> None:
    """Every finding in full, what is open first, with its cures; carried on over as many pages as it takes."""
    items = sorted((f for f in c.findings if f.code != "caution"), key=lambda finding: finding.informational)
    if c.causes is not None:
        top, floor = _causes(page, c, c.causes, top, floor)
        items = [one for one in items if one.informational and one.cured_by is None]
    y = _heading(page, "What was found" if c.causes is None else "Good to know", top)
    if c.fault:
        page.setFont("Semi", 10)
        for line in simpleSplit(f"No pattern yet: {c.fault}", "Semi", 10, wide(page) - 2 * MARGIN):
            page.drawString(MARGIN, y, line)
            y -= 13
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


def _causes(page: Canvas, c: Content, causes: CausesResult, top: float, floor: float) -> tuple[float, float]:
    """The causes with their cures; where what follows begins, and how far down it may go."""
    y, edge = _heading(page, "What stood in the way, and its cure", top), floor

    def turn() -> tuple[float, float]:
        nonlocal edge
        _foot(page, c)
        page.showPage()
        edge = FOOT + 8
        return _heading(page, f"{c.name}: what stood in the way, carried on", high(page) - MARGIN), edge

    if not (causes.open or causes.cured):
        page.setFont("Body", 9.5)
        page.drawString(MARGIN, y, "Nothing stands in the way.")
        y -= 12
    else:
        y = causes_rows(page, causes, c.unit, y, floor, turn)
    return y, edge


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


def _caution_lines(page: Canvas, c: Content) -> list[str]:
    """All cautions of metal, mould, pattern and core sand, set to the width of their box."""
    sand = [mix(c.mix)] if c.cores.cores else []
    text = "  ·  ".join(cautions_of(c.method.metal, c.method.mould, c.method.pattern, *sand))
    return list(simpleSplit(text, "Body", 8.5, wide(page) - 2 * MARGIN - 20))


def _cautions(page: Canvas, c: Content) -> float:
    """The box of cautions at the foot of the first page; returns its top."""
    lines = _caution_lines(page, c)
    top = FOOT + 8 + 11 * len(lines) + 12
    page.setStrokeColor(EMBER)
    page.setLineWidth(1.2)
    page.rect(MARGIN, FOOT + 4, wide(page) - 2 * MARGIN, top - FOOT - 4)
    page.setFillColor(INK)
    page.setFont("Body", 8.5)
    y = top - 13
    for line in lines:
        page.drawString(MARGIN + 10, y, line)
        y -= 11
    return top
