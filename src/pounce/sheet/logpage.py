"""A part's story on one page: its pours, what they taught, how its sizes came out, what went wrong and why."""

import io
from dataclasses import dataclass

from reportlab.pdfgen.canvas import Canvas

from pounce.base.paper import PAPERS
from pounce.base.pdf import new_pdf
from pounce.base.units import percent, plain, quantity
from pounce.logbook.said import Contraction, LogResult, Row
from pounce.logbook.values import Outcome, Pour
from pounce.metals.defects import defects
from pounce.sheet.drawing import EMBER, HAIR, INK, MUTED, SAND, fitted
from pounce.sheet.rows import MARGIN, heading, high, row, wide

MOST_POURS, MOST_SIZES, MOST_DEFECTS, MOST_EVENTS, MOST_BARS = 9, 10, 4, 5, 7
BAR = 13.0


@dataclass(frozen=True)
class Told:
    """Whose story it is: the job, its metal, mould and way of making, in words."""

    name: str
    metal: str
    mould: str
    pattern: str


def story_page(told: Told, made: LogResult, paper: str = "A4") -> bytes:
    """The story as a PDF of one page."""
    buffer = io.BytesIO()
    page = new_pdf(buffer, PAPERS[paper])
    page.setTitle(f"{told.name}, its story")
    page.setAuthor("Pounce")
    y = _head(page, told, made)
    y = _bars(page, made.contraction, y)
    y = _pours(page, made, y)
    y = _sizes(page, made, y)
    y = _defects(page, made, y)
    _events(page, made, y)
    page.showPage()
    page.save()
    return buffer.getvalue()


def _head(page: Canvas, told: Told, made: LogResult) -> float:
    y = high(page) - MARGIN + 6
    page.setFillColor(INK)
    page.setFont("Semi", 18)
    page.drawString(MARGIN, y - 14, fitted(told.name, "Semi", 18, wide(page) - 2 * MARGIN - 120))
    page.setFont("Body", 10)
    page.setFillColor(MUTED)
    page.drawRightString(wide(page) - MARGIN, y - 14, f"pattern {made.revision}")
    page.drawString(MARGIN, y - 29, f"{told.metal} in {told.mould.lower()}, {told.pattern.lower()}")
    castings = sum(len(one.castings) for one in made.pours)
    sound = sum(one.sound for one in made.pours)
    page.drawRightString(
        wide(page) - MARGIN, y - 29, f"{len(made.pours)} pours, {castings} castings, {sound} sound, {made.pulls} pulls"
    )
    return y - 40


def _bars(page: Canvas, c: Contraction, top: float) -> float:
    """What each pour says of the contraction, over the table's range."""
    y = heading(page, top, "Contraction of this bench")
    if not c.learned:
        page.setFont("Body", 10)
        page.drawString(MARGIN, y - 12, f"Nothing was measured yet: the table says {c.low:g} to {c.high:g} %.")
        return y - 22
    bars = [(one.job, one.percent.low, one.percent.value, one.percent.high) for one in c.says[:MOST_BARS]]
    low = min(c.low, *(one[1] for one in bars)) - 0.1
    wide_ = max(c.high, *(one[3] for one in bars)) + 0.1 - low
    left, right = MARGIN + 150.0, wide(page) - MARGIN - 80.0

    def at(value: float) -> float:
        return left + (value - low) / wide_ * (right - left)

    foot = y - BAR * (len(bars) + 1) - 6
    page.setFillColor(SAND)
    page.rect(at(c.low), foot, at(c.high) - at(c.low), y - 4 - foot, stroke=0, fill=1)
    learned = ("Learned", c.free.low, c.free.value, c.free.high)
    for k, (name, first, value, last) in enumerate([*bars, learned]):
        line = y - 13 - k * BAR
        strong = k == len(bars)
        page.setFillColor(INK)
        page.setFont("Semi" if strong else "Body", 9.5)
        page.drawRightString(left - 8, line - 3, fitted(name, "Semi", 9.5, 138))
        page.setStrokeColor(INK)
        page.setLineWidth(1.8 if strong else 0.9)
        page.line(at(first), line, at(last), line)
        page.circle(at(value), line, 2.4 if strong else 1.6, stroke=0, fill=1)
        page.drawString(right + 8, line - 3, f"{plain(value, 2)} ± {plain((last - first) / 2.0, 2)} %")
    page.setFont("Body", 8)
    page.setFillColor(MUTED)
    page.drawString(at(c.low), foot - 9, f"table, {c.low:g} to {c.high:g} %")
    return foot - 16


def _pours(page: Canvas, made: LogResult, top: float) -> float:
    y = heading(page, top, "Pours")
    for one in made.pours[:MOST_POURS]:
        y = row(page, y, f"{one.at.astimezone():%d %b %Y}", _about(one), _figure(one))
    if len(made.pours) > MOST_POURS:
        y = row(page, y, "and before", f"{len(made.pours) - MOST_POURS} more", "")
    return y - 8


def _about(one: Pour) -> str:
    flawed = sum(each.outcome is not Outcome.SOUND for each in one.castings)
    said = [f"{one.sound} sound" if not flawed else f"{one.sound} sound, {flawed} not"]
    if one.poured_c is not None:
        plan = "" if one.planned_c is None else f" ({round(one.planned_c)} planned)"
        said.append(f"{round(one.poured_c)} °C{plan}")
    if one.work_min:
        each = one.work_min / max(len(one.castings), 1)
        said.append(f"{quantity('each_min', each)} a piece")
    return ", ".join([*said, one.note] if one.note else said)


def _figure(one: Pour) -> str:
    said = [] if one.yield_share is None else [f"yield {round(100.0 * one.yield_share)} %"]
    if one.cost and one.castings:
        said.append(f"{one.cost / len(one.castings):.2f} a piece")
    return ", ".join(said)


def _sizes(page: Canvas, made: LogResult, top: float) -> float:
    rows = [(number, one) for number, rows in made.rows for one in rows][:MOST_SIZES]
    if not rows:
        return top
    y = heading(page, top, f"Sizes of the last pour, {made.grade} of ISO 8062")
    for number, one in rows:
        y = row(page, y, f"{one.name}, casting {number}", _size_words(one), f"{plain(one.off_mm, 2)} mm")
    return y - 8


def _size_words(one: Row) -> str:
    half = "" if one.half_mm is None else f" ± {plain(one.half_mm, 2)}"
    left = "" if one.left_mm is None else f", {plain(one.left_mm, 2)} left to machine"
    within = "" if one.within is not False else ", outside"
    return f"{plain(one.measured_mm, 2)} of {plain(one.expected_mm, 2)}{half}{within}{left}"


def _defects(page: Canvas, made: LogResult, top: float) -> float:
    if not made.seen:
        return top
    table = defects()
    y = heading(page, top, "What went wrong")
    for one in made.seen[:MOST_DEFECTS]:
        cause = one.defect.cause or one.diagnosis.suspects[0].cause
        share = "settled" if one.defect.cause else percent(round(100.0 * one.diagnosis.suspects[0].share))
        what = table.noun[one.defect.seen]
        y = row(page, y, f"Casting {one.casting}: {what}", table.cause[cause].name, share)
        page.setFillColor(EMBER)
    return y - 8


def _events(page: Canvas, made: LogResult, top: float) -> None:
    if not made.events or top < MARGIN + 60.0:
        return
    y = heading(page, top, "The pattern")
    for one in made.events[-MOST_EVENTS:]:
        what = f"{one.count} pulled" if one.kind == "pulled" else one.kind
        y = row(page, y, f"{one.at.astimezone():%d %b %Y}", f"{what} {one.note}".strip(), one.revision)
    page.setStrokeColor(HAIR)
