"""The sheet's page of freezing: the mould from above and cut in bands of time, feeders and chills to ram by, and the
order of setting.
"""

from collections.abc import Iterable

import numpy as np
from reportlab.lib.colors import Color, HexColor
from reportlab.pdfgen.canvas import Canvas

from pounce.base.units import mass, plain, quantity, sizes
from pounce.feeding.values import FreezeResult, Picture
from pounce.freeze.bands import BANDS, tones
from pounce.rig.values import Cut, RigResult
from pounce.sheet.drawing import INK, MUTED, fitted
from pounce.sheet.rows import MARGIN, heading, high, row, wide
from pounce.solid.mesh import Floats

HIGH, CUT_HIGH, BAND_PT = 210.0, 120.0, 30.0
SAND, CORE = HexColor("#F1E5CB"), HexColor("#EBD7AC")
METAL = ("well", "runner", "gate", "casting", "feeder")
MOST_ROWS, MOST_ENDS = 10, 3
Rings = Iterable[Floats]


def freeze_page(page: Canvas, name: str, made: FreezeResult, rig: RigResult, unit: str) -> None:
    """Draws the page on the canvas as it stands."""
    y = high(page) - MARGIN - 12
    page.setFillColor(INK)
    page.setFont("Semi", 16)
    page.drawString(MARGIN, y, fitted(f"{name}: what sets last", "Semi", 16, wide(page) - 2 * MARGIN))
    most = float(np.nanmax(made.picture.sets_s))
    y = _plan(page, made, rig, y - 12, most)
    y = _section(page, made, rig, y - 8, most)
    y = _scale(page, y - 10, most)
    y = heading(page, y - 4, "Feeders, chills, temperature")
    for title, about, figure in _rows(made, rig, unit):
        y = row(page, y, title, about, figure)
    y = heading(page, y - 6, "In this order it sets")
    for what, seconds in made.order[-MOST_ROWS:]:
        y = row(page, y, what[0].upper() + what[1:], "", quantity("s_s", seconds))


def _tones() -> list[Color]:
    return [Color(*one) for one in tones().tolist()]


def _plan(page: Canvas, made: FreezeResult, rig: RigResult, top: float, most: float) -> float:
    f = rig.flask
    left, near, right, far = rig.seen_box()
    k = min((wide(page) - 2 * MARGIN) / (right - left), HIGH / (far - near))
    frame = (k, wide(page) / 2.0 - k * (left + right) / 2.0, top - HIGH / 2.0 - k * (near + far) / 2.0)
    page.setStrokeColor(INK)
    page.setLineWidth(0.8)
    page.setFillColor(SAND)
    x0, y0 = _on(frame, (-f.long_mm / 2.0, -f.wide_mm / 2.0))
    page.saveState()
    seen = page.beginPath()
    seen.rect(*_on(frame, (left, near)), (right - left) * k, (far - near) * k)
    page.clipPath(seen, stroke=0, fill=0)
    if f.shape == "box":
        page.rect(x0, y0, f.long_mm * k, f.wide_mm * k, stroke=1, fill=1)
    else:
        page.circle(frame[1], frame[2], f.long_mm * k / 2.0, stroke=1, fill=1)
    page.restoreState()
    field = np.where(np.isfinite(made.picture.sets_s), made.picture.sets_s, -np.inf).max(axis=0)
    rings = [one.rings for kind in METAL for one in rig.shapes if one.kind == kind]
    for one in rings:
        _bands(page, frame, one, made.picture, field, most, 1)
    page.setFillColor(CORE)
    for shape in rig.shapes:
        if shape.kind == "print":
            page.drawPath(_path(page, frame, shape.rings), stroke=1, fill=1, fillMode=0)
    _marks(page, frame, made)
    return top - HIGH


def _section(page: Canvas, made: FreezeResult, rig: RigResult, top: float, most: float) -> float:
    """Cut through the last place, or the first feeder."""
    spot = next((one for one in made.places if one.wants), made.places[0] if made.places else None)
    y_mm = made.feeders[0].at_mm[1] if made.feeders else 0.0 if spot is None else spot.at_mm[1]
    if not rig.cuts:
        return top
    cut: Cut = min(rig.cuts, key=lambda one: abs(one.y_mm - y_mm))
    f = rig.flask
    over = rig.extension_mm
    whole = f.cope_mm + over + f.drag_mm
    left, _, right, _ = rig.seen_box()
    k = min((wide(page) - 2 * MARGIN) / (right - left), CUT_HIGH / whole)
    frame = (k, wide(page) / 2.0 - k * (left + right) / 2.0, top - (over + f.cope_mm) * k)
    x0, x1 = frame[1] + k * left, frame[1] + k * right
    page.setFillColor(SAND)
    page.setStrokeColor(INK)
    page.setLineWidth(0.8)
    page.rect(x0, top - whole * k, x1 - x0, (whole - over) * k, stroke=1, fill=1)
    page.setFillColor(CORE)
    for of, ring in cut.rings:
        if of == "core":
            page.drawPath(_path(page, frame, (ring,)), stroke=1, fill=1, fillMode=0)
    c = made.picture.cells
    j = int(np.clip((cut.y_mm - c.low[1]) / c.step, 0, c.shape[1] - 1))
    field = np.where(np.isfinite(made.picture.sets_s[:, j]), made.picture.sets_s[:, j], -np.inf)
    holes = tuple(ring for of, ring in cut.rings if of == "hole")
    for kind in ("gating", "casting"):
        own = tuple(ring for of, ring in cut.rings if of == kind)
        if own:
            _bands(page, frame, own + (holes if kind == "casting" else ()), made.picture, field, most, 2)
    if not rig.loose:
        page.setDash(5, 3)
        page.line(x0, frame[2], x1, frame[2])
        page.setDash()
    return top - whole * k


def _on(frame: tuple[float, float, float], at: tuple[float, float]) -> tuple[float, float]:
    return frame[1] + at[0] * frame[0], frame[2] + at[1] * frame[0]


def _path(page: Canvas, frame: tuple[float, float, float], rings: Rings) -> object:
    path = page.beginPath()
    for ring in rings:
        points = [_on(frame, (float(x), float(y))) for x, y in ring]
        path.moveTo(*points[0])
        for point in points[1:]:
            path.lineTo(*point)
        path.close()
    return path


def _bands(
    page: Canvas,
    frame: tuple[float, float, float],
    rings: tuple[Floats, ...],
    picture: Picture,
    field: Floats,
    most: float,
    up: int,
) -> None:
    """Rows of cells of one band, clipped to the outline; ``up`` the axis that goes up the page (1 y, 2 z)."""
    tones, c = _tones(), picture.cells
    page.saveState()
    page.clipPath(_path(page, frame, rings), stroke=0, fill=0, fillMode=0)
    page.setFillColor(HexColor("#B7C2C6"))
    page.drawPath(_path(page, frame, rings), stroke=0, fill=1, fillMode=0)
    band = np.where(np.isfinite(field), np.clip(field / max(most, 1e-9) * BANDS, 0, BANDS - 1), -1).astype(int)
    for j in range(band.shape[0]):
        edges = np.flatnonzero(np.diff(band[j])) + 1
        for a, b in zip([0, *edges.tolist()], [*edges.tolist(), band.shape[1]], strict=True):
            if band[j, a] < 0:
                continue
            # the metal's own outline may lie a little beyond its cells
            first = a - 1 if a == 0 or band[j, a - 1] < 0 else a
            last = b + 1 if b == band.shape[1] or band[j, min(b, band.shape[1] - 1)] < 0 else b
            x, y = _on(frame, (float(c.low[0]) + first * c.step, float(c.low[up]) + j * c.step))
            page.setFillColor(tones[band[j, a]])
            page.rect(x, y - 0.2, (last - first) * c.step * frame[0] + 0.2, c.step * frame[0] + 0.4, stroke=0, fill=1)
    page.restoreState()
    page.setStrokeColor(INK)
    page.setLineWidth(0.7)
    page.drawPath(_path(page, frame, rings), stroke=1, fill=0)


def _marks(page: Canvas, frame: tuple[float, float, float], made: FreezeResult) -> None:
    """Numbers of last places and feeders, on discs."""
    marks = [(f"{one.number}", one.at_mm) for one in made.places if one.wants]
    marks += [(f"F{one.number + 1}", one.at_mm) for one in made.feeders]
    page.setFont("Semi", 8)
    for text, at in marks:
        x, y = _on(frame, (at[0], at[1]))
        page.setFillColor(HexColor("#FFFFFF"))
        page.circle(x, y, 7.5, stroke=1, fill=1)
        page.setFillColor(INK)
        page.drawCentredString(x, y - 2.8, text)


def _scale(page: Canvas, top: float, most: float) -> float:
    digits = 0 if most >= BANDS else 1
    page.setFont("Body", 8)
    for k, tone in enumerate(_tones()):
        page.setFillColor(tone)
        page.rect(MARGIN + BAND_PT * k, top - 10.0, BAND_PT, 9.0, stroke=1, fill=1)
    page.setFillColor(MUTED)
    for k in range(BANDS + 1):
        text = plain(most * k / BANDS, digits) + (" s" if k == BANDS else "")
        page.drawCentredString(MARGIN + BAND_PT * k, top - 20.0, text)
    page.drawString(MARGIN + BAND_PT * BANDS + 18.0, top - 9.0, "dark sets first, bright sets last")
    return top - 24.0


def _rows(made: FreezeResult, rig: RigResult, unit: str) -> list[tuple[str, str, str]]:
    fill = made.fill
    out = [
        (
            "Pour at",
            "" if fill.fills_c is None else f"it fills from {quantity('c_c', fill.fills_c)} on",
            quantity("c_c", made.pour_c),
        )
    ]
    seen: set[int] = set()
    for one in rig.feeders:
        if one.number in seen:
            continue
        seen.add(one.number)
        time = next((t for t in made.feeders if t.number == one.number), None)
        holds = "" if time is None else f", holds out {quantity('s_s', time.seconds)}"
        sleeve = ", in an insulating sleeve" if one.sleeve_mm else ""
        neck = quantity("n_mm", one.neck_mm)
        if one.contact_mm is not None:
            neck = f"{neck} by {quantity('n_mm', one.neck_high_mm)}, on the gate"
        blind = "" if one.open else ", blind, with a vent"
        about = f"neck {neck}{sleeve}{blind}{holds}"
        out.append((f"Feeder {one.number + 1}, {mass(one.mass_kg)}", about, f"Ø {quantity('n_mm', one.wide_mm)}"))
    cold: set[int] = set()
    for chill in rig.chills:
        if chill.number not in cold:
            cold.add(chill.number)
            size = sizes((chill.side_mm, chill.side_mm, chill.thick_mm), unit)
            out.append((f"Chill {chill.number + 1}", "clean iron, dry, coated thin", size))
    for place in made.places:
        if place.wants:
            most = quantity("v_mm3", place.void_mm3[1])
            out.append((f"{place.number}  {place.name[0].upper()}{place.name[1:]}", "nothing feeds it", f"to {most}"))
    for end in fill.ends[:MOST_ENDS]:
        at = f"{plain(end.at_mm[0], 0)} along, {plain(end.at_mm[1], 0)} across: a vent there"
        out.append(("Fills late", at, f"at {quantity('c_c', end.front_c)}"))
    return out
