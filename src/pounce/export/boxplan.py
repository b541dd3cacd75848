"""Core boxes for the wood shop at 1:1: the joint with its hollow, dowels and vent grooves, and sections across the
core as templates.
"""

import io
from collections.abc import Callable

import numpy as np
from reportlab.pdfgen.canvas import Canvas

from pounce.base.pdf import new_pdf
from pounce.cores.values import Core, CoreBox
from pounce.export.pages import CHECK_MM, FOOT_MM, HEAD_MM, INK, MARGIN_MM, MM, MUTED, SAND, check_line, page_for, path
from pounce.solid.mesh import Floats
from pounce.solid.section import cut

# Sections across a core, evenly along it; and how far under the joint its plan is taken, mm.
SECTIONS, UNDER = 5, 0.02
GAP_MM = 12.0


def box_plan_pdf(name: str, cores: tuple[Core, ...], factors: Floats, paper: str = "A4") -> bytes:
    """Two pages a box, as large as they need, with a 100 mm check line. ``factors`` (3,) the box over part."""
    buffer = io.BytesIO()
    page = new_pdf(buffer)
    page.setTitle(f"{name}, core boxes")
    page.setAuthor("Pounce")
    for core in cores:
        for number, box in enumerate(core.boxes):
            title = core.name if len(core.boxes) == 1 else f"{core.name}, piece {number + 1}"
            _plan(page, name, title, box, factors, paper)
            _sections(page, name, title, box, factors, paper)
    page.save()
    return buffer.getvalue()


def frame_of(box: CoreBox) -> tuple[Floats, Floats]:
    """The two directions across the pull: toward the ramming end, and across it."""
    u = box.ram if abs(float(box.ram @ box.pull)) < 0.5 else np.eye(3)[int(np.argmin(np.abs(box.pull)))]
    u = u - float(u @ box.pull) * box.pull
    u = u / np.linalg.norm(u)
    return np.asarray(u), np.asarray(np.cross(box.pull, u))


def _level(box: CoreBox, factors: Floats) -> float:
    return float((box.pull * box.height_mm * factors) @ box.pull)


def _plan(page: Canvas, name: str, title: str, box: CoreBox, factors: Floats, paper: str) -> None:
    u, v = frame_of(box)
    lower = box.parts[0].mesh.scaled(factors)
    loops = cut(lower, u, v, _level(box, factors) - UNDER if box.style != "tube" else _level(box, factors) + 1.0).loops
    dowels = [(np.array(at) * factors, thick) for at, thick in box.dowels]
    places = [np.array([float(at @ u), float(at @ v)]) for at, _ in dowels]
    heading = "The joint of the box at 1:1: saw to the outline, cut the hollow, bore the dowels through both."
    put = _page(page, name, f"{title.lower()}, core box", heading, loops, paper)
    page.setFillColor(SAND)
    for index, loop in enumerate(sorted(loops, key=lambda one: -abs(_area(one)))):
        page.setFillColor(SAND if index == 0 else (1, 1, 1))
        path(page, put(loop), close=True, fill=True)
    page.setLineWidth(0.5)
    for place, (_, thick) in zip(places, dowels, strict=True):
        x, y = put(place[None])[0].tolist()
        page.line(x - 4 * MM, y, x + 4 * MM, y)
        page.line(x, y - 4 * MM, x, y + 4 * MM)
        page.setFillColor(INK)
        page.setFont("Body", 8.5)
        page.drawString(x + 3 * MM, y + 2 * MM, f"Ø {thick:g} mm")
    check_line(page)
    page.showPage()


def _sections(page: Canvas, name: str, title: str, box: CoreBox, factors: Floats, paper: str) -> None:
    """Sections across the core, side by side at 1:1, each with its distance from the ramming end."""
    u, v = frame_of(box)
    core = box.core.scaled(factors)
    along = core.vertices @ u
    low, high = float(along.min()), float(along.max())
    stations = low + (high - low) * (np.arange(SECTIONS) + 0.5) / SECTIONS
    found: list[tuple[float, tuple[Floats, ...]]] = [
        (high - float(at), cut(core, v, box.pull, float(at)).loops) for at in stations
    ]
    x = 0.0
    placed: list[tuple[Floats, float, float, float]] = []
    for off, loops in found:
        if not loops:
            continue
        points = np.concatenate(loops)
        wide = float(np.ptp(points[:, 0]))
        shift = np.array([x - float(points[:, 0].min()), 0.0])
        placed += [(loop + shift, off, x, wide) for loop in loops]
        x += wide + GAP_MM
    if not placed:
        return
    heading = "Sections across the core at 1:1, as templates. Under each: how far it lies from the ramming end."
    put = _page(page, name, f"{title.lower()}, sections", heading, tuple(one[0] for one in placed), paper)
    page.setFillColor(SAND)
    base = min(float(loop[:, 1].min()) for loop, *_ in placed)
    said: set[float] = set()
    for loop, off, left, wide in placed:
        page.setFillColor(SAND)
        path(page, put(loop), close=True, fill=True)
        if off not in said:
            said.add(off)
            spot = put(np.array([[left + wide / 2.0, base]]))[0]
            page.setFillColor(INK)
            page.setFont("Body", 8.5)
            page.drawCentredString(float(spot[0]), float(spot[1]) - 5 * MM, f"{off:.1f} mm")
    check_line(page)
    page.showPage()


def _page(
    page: Canvas, name: str, title: str, heading: str, loops: tuple[Floats, ...], paper: str
) -> Callable[[Floats], Floats]:
    """Sets the page up and gives where points (k, 2), mm, lie on it."""
    points = np.concatenate(loops)
    low, high = points.min(axis=0), points.max(axis=0)
    span = high - low
    size = page_for(
        np.array(
            [
                max(float(span[0]), CHECK_MM, 150.0) + 2 * MARGIN_MM,
                float(span[1]) + HEAD_MM + FOOT_MM + 12.0 + MARGIN_MM,
            ]
        ),
        paper,
    )
    page.setPageSize(tuple(size * MM))
    left = (size[0] - span[0]) / 2.0
    bottom = FOOT_MM + 10.0 + (size[1] - HEAD_MM - FOOT_MM - 10.0 - span[1]) / 2.0
    page.setFillColor(INK)
    page.setFont("Semi", 15)
    page.drawString(MARGIN_MM * MM, (size[1] - 13) * MM, f"{name}: {title}")
    page.setFont("Body", 9.5)
    page.setFillColor(MUTED)
    page.drawString(MARGIN_MM * MM, (size[1] - 19) * MM, heading)
    page.setStrokeColor(INK)
    page.setLineWidth(0.9)

    def put(at: Floats) -> Floats:
        return np.asarray((at - low + np.array([left, bottom])) * MM)

    return put


def _area(points: Floats) -> float:
    x, y = points[:, 0], points[:, 1]
    return 0.5 * float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y))
