"""The pour card: one page to carry to the furnace, readable at arm's length, with room for readings by pencil."""

import io
from dataclasses import dataclass

from reportlab.lib.utils import simpleSplit
from reportlab.pdfgen.canvas import Canvas

from pounce.base.paper import PAPERS
from pounce.base.pdf import new_pdf
from pounce.base.units import heat_words, mass, quantity
from pounce.pour.values import Placed, PourResult
from pounce.sheet.drawing import EMBER, HAIR, INK, MUTED, SAND, fitted
from pounce.sheet.rows import MARGIN, high, wide

BIG, BAND_HIGH = 23.0, 62.0
GAP = 14.0
# Sizes of type tried for steps and list, the largest that fits.
SIZES = (12.0, 11.0, 10.0, 9.0, 8.0, 7.2)
READINGS = 10
BOX = 8.0
# Where the logbook's line stands, points over the edge of the paper.
LOW = 18.0


@dataclass(frozen=True)
class Line:
    """A line of a column: what stands before it, its words, and whether a box to tick stands there."""

    before: str
    words: str
    box: bool = True


def pour_card(name: str, made: PourResult, paper: str = "A4", at: str = "", kept: str = "") -> bytes:
    """The card as a PDF of one page; ``at`` the wanted time of day, ``kept`` what the logbook will know it by."""
    buffer = io.BytesIO()
    page = new_pdf(buffer, PAPERS[paper])
    page.setTitle(f"{name}, pour card")
    page.setAuthor("Pounce")
    pour_page(page, name, made, at, kept)
    page.showPage()
    page.save()
    return buffer.getvalue()


def pour_page(page: Canvas, name: str, made: PourResult, at: str = "", kept: str = "") -> None:
    """Draws the card on the canvas as it stands."""
    y = high(page) - MARGIN + 6
    page.setFillColor(INK)
    page.setFont("Semi", 18)
    page.drawString(MARGIN, y - 14, fitted(name, "Semi", 18, wide(page) - 2 * MARGIN - 180))
    page.setFont("Semi", 13)
    when = f"pour at {at}" if at else "pour at ____ : ____"
    page.drawRightString(wide(page) - MARGIN, y - 14, f"{made.metal}, {when}")
    y = _bands(page, made, y - 24)
    y = _moulds(page, made, y - 4)
    foot = _foot_height(page, made)
    _columns(page, made, y - 6, MARGIN - 8 + foot, at)
    _foot(page, made, MARGIN - 8 + foot)
    if kept:
        page.setFont("Body", 8)
        page.setFillColor(MUTED)
        page.drawRightString(wide(page) - MARGIN, LOW, f"in the logbook: {kept}")


def _bands(page: Canvas, made: PourResult, top: float) -> float:
    """The four figures that are asked for at the furnace."""
    first = made.first.mould
    pot = f"{made.pot.name}{'' if made.fills == 1 else f', {made.fills} fills'}"
    ingots = f"{made.charged.ingots} ingots of {mass(made.charged.ingot_kg)}" if made.charged.ingots else "by weight"
    pieces = f"{mass(made.charged.pieces_kg)} of pieces, " if made.charged.pieces_kg else ""
    lift, aim, most = made.lift_c, first.aim_c, made.most_c
    cells = (
        ("Melt", mass(made.charged.kg), f"{pieces}{ingots}", pot),
        ("Lift at", quantity("c_c", lift), f"{round(lift * 1.8 + 32)} °F", f"never over {quantity('c_c', most)}"),
        (
            "Pour at",
            quantity("c_c", aim),
            f"{round(aim * 1.8 + 32)} °F",
            f"{quantity('c_c', first.low_c)} to {quantity('c_c', first.high_c)}",
        ),
        ("Open after", quantity("t_min", made.open_min), "not before", f"casting under {quantity('c_c', made.open_c)}"),
    )
    each = (wide(page) - 2 * MARGIN) / len(cells)
    page.setStrokeColor(INK)
    page.setLineWidth(1.0)
    for k, (title, figure, under, more) in enumerate(cells):
        x = MARGIN + k * each
        page.setFillColor(SAND)
        page.rect(x, top - BAND_HIGH - 14, each, BAND_HIGH + 14, stroke=1, fill=1)
        page.setFillColor(MUTED)
        page.setFont("Semi", 10)
        page.drawString(x + 8, top - 14, title)
        page.setFillColor(EMBER if k == 1 else INK)
        page.setFont("Bold", BIG)
        page.drawString(x + 8, top - 39, fitted(figure, "Bold", BIG, each - 12))
        page.setFillColor(INK)
        page.setFont("Body", 10)
        page.drawString(x + 8, top - 54, fitted(under, "Body", 10, each - 12))
        page.drawString(x + 8, top - 67, fitted(more, "Body", 10, each - 12))
    return top - BAND_HIGH - 14


def _moulds(page: Canvas, made: PourResult, top: float) -> float:
    """Moulds in their order, where there are several."""
    if len(made.turns) < 2:
        return top
    y = top
    for k, turn in enumerate(made.turns, 1):
        y -= 14
        page.setFillColor(INK)
        page.setFont("Semi", 10)
        fill = f"fill {turn.fill}, " if made.fills > 1 else ""
        page.drawString(MARGIN, y, fitted(f"{k}  {turn.mould.name}", "Semi", 10, 240))
        page.setFont("Body", 10)
        page.drawString(MARGIN + 250, y, f"{fill}{mass(turn.mould.kg)}, after {turn.after_s:.0f} s")
        page.setFillColor(EMBER if turn.cold else INK)
        page.drawRightString(wide(page) - MARGIN, y, f"gets {heat_words(turn.at_c)}")
    return y - 4


def before_words(minutes: float) -> str:
    """So long before or after the pour: ``-1 h 43``, ``+20 min``."""
    whole = round(abs(minutes))
    said = f"{whole} min" if whole < 60 else f"{whole // 60} h {whole % 60:02d}"
    return "pour" if whole == 0 else f"{'-' if minutes < 0 else '+'}{said}"


def _columns(page: Canvas, made: PourResult, top: float, floor: float, at: str) -> None:
    """Steps to the left, the list to the right, in the largest type that fits."""
    steps = [_step(one, at) for one in made.placed]
    checks = [Line("", one.text) for one in made.checks]
    half = (wide(page) - 2 * MARGIN - GAP) / 2.0
    for size in SIZES:
        fits = all(_tall(lines, size, half, room) <= top - floor - 18 for lines, room in ((steps, 58.0), (checks, 0.0)))
        if fits or size == SIZES[-1]:
            _column(page, "By the clock", steps, MARGIN, top, half, size, 58.0)
            _column(page, "Before the pour", checks, MARGIN + half + GAP, top, half, size, 0.0)
            return


def clock_words(at: str, minutes: float) -> str:
    """The time of day so many minutes from HH:MM; a day before or after is said."""
    hours, low = (int(one) for one in at.split(":"))
    whole = hours * 60 + low + round(minutes)
    days, left = divmod(whole, 24 * 60)
    day = "" if days == 0 else f" {days:+d} d"
    return f"{left // 60:02d}:{left % 60:02d}{day}"


def _step(one: Placed, at: str) -> Line:
    when = clock_words(at, one.start) if at else before_words(one.start)
    return Line(when, f"{one.step.text}, {quantity('t_min', one.step.minutes)}")


def _set(line: Line, size: float, width: float, room: float) -> list[str]:
    return list(simpleSplit(line.words, "Body", size, width - room - BOX - 8))


def _tall(lines: list[Line], size: float, width: float, room: float) -> float:
    return sum(len(_set(line, size, width, room)) * (size + 1.5) + 2.5 for line in lines)


def _column(
    page: Canvas, title: str, lines: list[Line], x: float, top: float, width: float, size: float, room: float
) -> None:
    page.setFillColor(INK)
    page.setFont("Semi", 12)
    page.drawString(x, top - 12, title)
    y = top - 18
    for line in lines:
        words = _set(line, size, width, room)
        page.setStrokeColor(HAIR)
        page.setLineWidth(0.4)
        page.line(x, y - 1, x + width, y - 1)
        y -= size + 1.5
        page.setStrokeColor(INK)
        page.setLineWidth(0.8)
        page.rect(x, y - 0.5, BOX, BOX, stroke=1, fill=0)
        page.setFillColor(INK)
        if line.before:
            page.setFont("Semi", size)
            page.drawString(x + BOX + 5, y, line.before)
        page.setFont("Body", size)
        for nth, part in enumerate(words):
            page.drawString(x + BOX + 5 + room, y - nth * (size + 1.5), part)
        y -= (len(words) - 1) * (size + 1.5) + 2.5


def _cautions(page: Canvas, made: PourResult) -> list[str]:
    text = "  ·  ".join(made.cautions)
    said = f"{text}  ·  Local rules, the makers' safety sheets and licensed practice go first."
    return list(simpleSplit(said, "Body", 8, wide(page) - 2 * MARGIN))


def _foot_height(page: Canvas, made: PourResult) -> float:
    return 52.0 + 14.0 * (len(made.wrong) + 1) + 9.5 * len(_cautions(page, made)) + 12.0


def _foot(page: Canvas, made: PourResult, top: float) -> None:
    """Readings by pencil, what to do when it goes wrong, cautions."""
    y = top - 12
    page.setFillColor(INK)
    page.setFont("Semi", 11)
    page.drawString(MARGIN, y, "Readings")
    each = (wide(page) - 2 * MARGIN - 70) / READINGS
    page.setStrokeColor(INK)
    page.setLineWidth(0.6)
    page.setFont("Body", 8)
    for k, title in enumerate(("time", "°C")):
        bottom = y - 1 - 15 * k
        page.drawRightString(MARGIN + 66, bottom - 1, title)
        for n in range(READINGS):
            page.rect(MARGIN + 70 + n * each, bottom - 5, each, 15, stroke=1, fill=0)
    y -= 40
    page.setFont("Semi", 11)
    page.setFillColor(EMBER)
    page.drawString(MARGIN, y, "If it goes wrong")
    page.setFont("Body", 10)
    page.setFillColor(INK)
    for line in made.wrong:
        y -= 13.5
        page.drawString(MARGIN, y, fitted(line, "Body", 10, wide(page) - 2 * MARGIN))
    y -= 13
    page.setFont("Body", 8)
    page.setFillColor(MUTED)
    for line in _cautions(page, made):
        page.drawString(MARGIN, y, line)
        y -= 9.5
