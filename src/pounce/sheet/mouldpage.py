"""The sheet's page of the mould: the plan with its measures, sections of the metal's way, weights, and the steps."""

from collections.abc import Callable

import numpy as np
from reportlab.lib.colors import HexColor
from reportlab.lib.utils import simpleSplit
from reportlab.pdfgen.canvas import Canvas

from pounce.base.units import count_words, from_mm, length, mass, plain, quantity, sizes
from pounce.rig.flow import G
from pounce.rig.values import RigResult, gate_kinds
from pounce.sheet.drawing import HAIR, INK, MUTED, across_size, fitted, upright_size
from pounce.sheet.rows import MARGIN, heading, high, row, wide
from pounce.solid.mesh import Floats

HIGH, SIDE = 262.0, 70.0
# A sprue no further off the middle than this stands in it, mm.
NEAR_MM = 1.0
SAND, STEEL, GATING, CORE, WHITE = (HexColor(one) for one in ("#F1E5CB", "#B7C2C6", "#B9D3C9", "#EBD7AC", "#FFFFFF"))
FEEDER = HexColor("#8FA3AD")
FILLS = {
    "print": CORE,
    "casting": STEEL,
    "well": GATING,
    "runner": GATING,
    "gate": GATING,
    "feeder": FEEDER,
    "sprue": WHITE,
}
ORDER = ("well", "runner", "gate", "print", "casting", "feeder", "sprue")


def mould_page(page: Canvas, name: str, rig: RigResult, unit: str) -> None:
    """Draws the page on the canvas as it stands."""
    y = high(page) - MARGIN - 12
    page.setFillColor(INK)
    page.setFont("Semi", 16)
    page.drawString(MARGIN, y, fitted(f"{name}: mould", "Semi", 16, wide(page) - 2 * MARGIN))
    y = _plan(page, rig, y - 12, unit)
    y = heading(page, y, "Flask and the metal's way in")
    for title, about, figure in _rows(rig, unit):
        y = row(page, y, title, about, figure)
    y = heading(page, y - 8, "In this order")
    _steps(page, rig, y - 6, unit)


def _plan(page: Canvas, rig: RigResult, top: float, unit: str) -> float:
    """The mould from above; returns the lowest y used."""
    f = rig.flask
    scale = min((wide(page) - 2 * MARGIN - 2 * SIDE) / f.long_mm, (HIGH - 34.0) / f.wide_mm)
    middle = np.array([wide(page) / 2.0, top - (HIGH - 30.0) / 2.0])

    def on(points: Floats) -> Floats:
        return np.asarray(points * scale + middle)

    page.setStrokeColor(INK)
    page.setLineWidth(1.4)
    page.setFillColor(SAND)
    x0, y0 = on(np.array([-f.long_mm / 2.0, -f.wide_mm / 2.0])).tolist()
    if f.shape == "box":
        page.rect(x0, y0, f.long_mm * scale, f.wide_mm * scale, stroke=1, fill=1)
    else:
        page.circle(float(middle[0]), float(middle[1]), f.long_mm * scale / 2.0, stroke=1, fill=1)
    page.setLineWidth(0.7)
    for kind in ORDER:
        for shape in rig.shapes:
            if shape.kind == kind:
                page.setFillColor(FILLS[kind])
                path = page.beginPath()
                for ring in shape.rings:
                    points = on(ring)
                    path.moveTo(*points[0])
                    for point in points[1:]:
                        path.lineTo(*point)
                    path.close()
                page.drawPath(path, stroke=1, fill=1, fillMode=0)
    page.setDash(1, 2)
    for lead in rig.leads:
        if lead.way == "joint":
            page.line(*on(np.array(lead.at_mm)).tolist(), *on(np.array(lead.to_mm)).tolist())
    page.setDash()
    for key in rig.keys:
        page.circle(*on(np.array(key.at_mm)).tolist(), key.wide_mm / 2.0 * scale, stroke=1, fill=0)
    page.setFillColor(WHITE)
    for x, y, _ in rig.vents:
        vx, vy = on(np.array([x, y])).tolist()
        page.circle(vx, vy, 1.8, stroke=1, fill=1)
    across_size(page, x0, x0 + f.long_mm * scale, y0 - 12.0, f.long_mm, unit)
    upright_size(page, x0 - 14.0, y0, y0 + f.wide_mm * scale, f.wide_mm, unit)
    _names(page, rig, on)
    return float(min(top - HIGH, y0 - 22.0))


def _names(page: Canvas, rig: RigResult, on: Callable[[Floats], Floats]) -> None:
    """Where the sprue stands from the middle of the flask, by what it is pricked on the board."""
    if rig.sprue is None:
        return
    x, y = on(np.array(rig.sprue.at_mm)).tolist()
    right = wide(page) - MARGIN - 62.0
    page.setStrokeColor(INK)
    page.setLineWidth(0.5)
    page.line(x, y, right, y)
    page.setFillColor(INK)
    page.setFont("Semi", 9)
    page.drawString(right + 3, y - 3, "sprue")


def _rows(rig: RigResult, unit: str) -> list[tuple[str, str, str]]:
    f, w = rig.flask, rig.weights
    digits = 2 if unit == "in" else 1

    def figure(value: float) -> str:
        return plain(from_mm(value, unit), digits)

    own = f.name if rig.own else "A box to build" if rig.boards else f.name
    high_words = (
        f"{length(f.cope_mm + f.drag_mm, unit)} deep"
        if rig.loose
        else (f"cope {length(f.cope_mm, unit)}, drag {length(f.drag_mm, unit)}")
    )
    out = [(own, high_words, sizes((f.long_mm, f.wide_mm), unit))]
    for one in rig.boards:
        out.append((one.name, f"{one.count} of them", sizes(one.size_mm, unit)))
    if rig.sprue is not None:
        s = rig.sprue
        at = f"{figure(s.at_mm[0])} along, {figure(s.at_mm[1])} across from the middle"
        if max(abs(s.at_mm[0]), abs(s.at_mm[1])) < NEAR_MM:
            at = "in the middle of the flask"
        if rig.extension_mm > NEAR_MM:
            at += f", {figure(rig.extension_mm)} over the cope"
        out.append(("Sprue", at, f"Ø {figure(s.foot_mm)} to {figure(s.top_mm)} {unit}"))
    if rig.runner is not None:
        half = "" if rig.loose else f"in the {rig.runner.half}, "
        about = f"{half}{length(rig.runner.long_mm, unit)} long"
        out.append(("Runner", about, sizes((rig.runner.wide_mm, rig.runner.high_mm), unit)))
    for gate, count in gate_kinds(rig.gates):
        half = "" if rig.loose else f" in the {gate.half}"
        many = "one" if count == 1 else count_words(count)
        out.append(("Gates", f"{many}{half}", sizes((gate.wide_mm, gate.thick_mm), unit)))
    speed = quantity("speed_m_s", rig.flow.gate_speed_m_s)
    out += [
        ("To pour", f"{round(100.0 * w.metal_yield)} % of it castings", mass(w.poured_kg)),
        ("Fills in", f"{speed} at the gates", quantity("fill_s", rig.flow.fill_s)),
        ("Sand", _sand(rig), mass(w.cope_sand_kg + w.drag_sand_kg)),
    ]
    if not rig.loose:
        what = "Metal drives the halves apart" if rig.on_end else "Metal and cores lift"
        weighs = f"the cope weighs {mass(w.cope_kg)}, the closed mould {mass(w.closed_kg)}"
        out.append((what, weighs, mass(w.lift_n / G)))
        where, by = ("Clamps", "before it is stood on end") if rig.on_end else ("On the cope", "weights, or clamps")
        out.append((where, by, mass(w.add_kg) if w.add_kg > 0.05 else "nothing"))
    return out


def _sand(rig: RigResult) -> str:
    """Litres, and what is mixed in."""
    x, said = rig.mixing, [quantity("sand_litres", rig.weights.sand_l)]
    said += [f"{mass(x.facing_kg)} of it facing"] * (x.facing_kg > 0.0)
    said += [f"{mass(x.water_kg)} of water if dry"] * (x.water_kg > 0.0)
    said += [f"{mass(x.binder_kg)} of {x.binder.partition(' and ')[0].lower()}"] * (x.binder_kg > 0.0)
    return ", ".join(said)


def _steps(page: Canvas, rig: RigResult, y: float, unit: str) -> None:
    width = wide(page) - 2 * MARGIN - 22
    for number, step in enumerate(rig.steps, 1):
        page.setStrokeColor(HAIR)
        page.setFillColor(WHITE)
        page.rect(MARGIN, y - 9, 8, 8, stroke=1, fill=0)
        page.setFillColor(MUTED)
        page.setFont("Semi", 9.5)
        page.drawString(MARGIN + 12, y - 8, str(number))
        page.setFillColor(INK)
        page.setFont("Body", 9.5)
        for line in simpleSplit(step.words(unit), "Body", 9.5, width):
            page.drawString(MARGIN + 24, y - 8, line)
            y -= 12
        y -= 3
