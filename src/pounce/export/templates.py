"""The templates of a making: every board or sheet with its lines, and all of it as PDF at 1:1 over sheets of paper."""

import io

import numpy as np
import shapely
from reportlab.pdfgen.canvas import Canvas

from pounce.base.pdf import new_pdf
from pounce.export.drawing import Drawing, Line, rings_of
from pounce.export.pages import INK, MM, MUTED, check_line
from pounce.export.plandrawings import board_drawings, clay_drawing, segment_drawing, turning_drawing
from pounce.export.sheets import SheetPage, pages_of
from pounce.pattern.making.foam.sheets import is_straight, marks_of
from pounce.pattern.making.layers import upright_cut
from pounce.pattern.making.values import HotCut, Layer, Making
from pounce.pattern.values import BESIDE, Mount, Piece
from pounce.solid.mesh import Floats

CROSS_MM = 4.0
# Pens of the styles of line, points.
PENS = {"solid": 0.9, "dashed": 0.6, "fine": 0.4}
# Profile templates of a piece, evenly along it.
PROFILES = 5


def drawings_of(making: Making, pieces: tuple[Piece, ...], mount: Mount | None = None) -> tuple[Drawing, ...]:
    """The templates of a making: every board or sheet with its lines, hot-wire profiles in step, profiles to offer up
    and to turn to, the boards it is mounted on and the plan of a clay mould.
    """
    beside = (() if mount is None else board_drawings(mount)) + (
        () if making.clay is None else (clay_drawing(making.clay),)
    )
    if making.kind not in ("wood", "foam"):
        return beside
    shaped = [piece for piece in pieces if piece.role not in BESIDE] or list(pieces)
    counts = np.bincount([one.piece for one in making.layers], minlength=len(shaped))
    out: list[Drawing] = []
    for layer in making.layers:
        piece = shaped[layer.piece]
        material = "board" if making.kind == "wood" else "sheet"
        title = f"{piece.name}, {material} {layer.number} of {int(counts[layer.piece])}"
        out.append(_layer(layer, piece, title, making.kind))
    for hot in making.cuts:
        if not is_straight(hot):
            out += _hot(hot, shaped[hot.piece])
    for piece in shaped:
        if making.kind == "wood":
            out += [one for one in (turning_drawing(piece), profiles(piece)) if one is not None]
    return (*out, *[segment_drawing(ring) for ring in making.segments], *beside)


def _layer(layer: Layer, piece: Piece, title: str, kind: str) -> Drawing:
    lines = [Line(points) for points in rings_of(layer.saw)]
    for shape in (layer.lower, layer.upper):
        if shape.symmetric_difference(layer.saw).area > 0.002 * layer.saw.area:
            lines += [Line(points, "dashed") for points in rings_of(shape)]
    for joint in layer.joints:
        runs = layer.saw.intersection(shapely.LineString([joint[:2], joint[2:]]))
        lines += [
            Line(np.array(run.coords), "fine", False) for run in getattr(runs, "geoms", [runs]) if run.length > 0.0
        ]
    words: tuple[tuple[float, float, str], ...] = ()
    if layer.joints:
        spots = [part.representative_point() for part in layer.parts]
        words = tuple((float(spot.x), float(spot.y), f"part {k}") for k, spot in enumerate(spots, 1))
    holes: list[tuple[float, float, float]] = []
    if layer.number == 1:
        holes = [(*piece.on_laid(hole.at_mm)[:2].tolist(), 2.0 * hole.radius_mm) for hole in piece.holes]
    tilt = f" Table tilted {abs(layer.lean_deg):.1f}°." if 0.2 < abs(layer.lean_deg) < 15.0 else ""
    about = f"{layer.thick_mm:.2f} mm thick. Saw outside the full line; dashed: the faces of it.{tilt}"
    middle = shapely.Point(layer.saw.representative_point())
    arrows: tuple[tuple[float, float, float, float], ...] = ()
    if kind == "wood":
        turn = np.radians(layer.grain_deg)
        reach = min(25.0, 0.2 * float(np.linalg.norm(np.ptp(np.concatenate(rings_of(layer.saw)), axis=0))))
        x, y = float(middle.x), float(middle.y)
        arrows = (
            (x - reach * np.cos(turn), y - reach * np.sin(turn), x + reach * np.cos(turn), y + reach * np.sin(turn)),
        )
    return Drawing(title, about, tuple(lines), words, tuple(holes), arrows)


def _hot(hot: HotCut, piece: Piece) -> list[Drawing]:
    """Both end profiles of a hot-wire cut with their numbered marks."""
    kind = "opening" if hot.inside else "outside"
    out = []
    for face, points, marks in zip(("lower", "upper"), (hot.lower, hot.upper), marks_of(hot), strict=True):
        words = tuple((float(x), float(y), str(k + 1)) for k, (x, y) in enumerate(marks))
        holes = tuple((float(x), float(y), 0.0) for x, y in marks)
        out.append(
            Drawing(
                f"{piece.name}, sheet {hot.layer}, {kind}, {face} profile",
                "Pin to the face; the wire is at the same number on both at once. The kerf is allowed for.",
                (Line(points),),
                words,
                holes,
            )
        )
    return out


def profiles(piece: Piece) -> Drawing | None:
    """Sections square to the longest way of a laid piece, side by side, as templates to offer up to the carving."""
    mesh = piece.laid
    axis = int(np.argmax(mesh.size[:2]))
    # u x z looks along the longest way
    u = np.eye(3)[1] if axis == 0 else -np.eye(3)[0]
    low, high = float(mesh.bounds[0, axis]), float(mesh.bounds[1, axis])
    lines: list[Line] = []
    words: list[tuple[float, float, str]] = []
    x = 0.0
    for share in (np.arange(PROFILES) + 0.5) / PROFILES:
        at = low + float(share) * (high - low)
        rings = rings_of(upright_cut(mesh, u, at, piece.bored))
        if not rings:
            continue
        points = np.concatenate(rings)
        shift = np.array([x - float(points[:, 0].min()), -float(points[:, 1].min())])
        lines += [Line(ring + shift) for ring in rings]
        words.append((x, -5.0, f"{at - low:.1f} mm from the end"))
        x += float(np.ptp(points[:, 0])) + 15.0
    if not lines:
        return None
    return Drawing(
        f"{piece.name}, profiles",
        "Sections across it, to offer up to the carving. Cut the outside away.",
        tuple(lines),
        tuple(words),
    )


def templates_pdf(name: str, drawings: tuple[Drawing, ...], paper: str) -> tuple[bytes, int]:
    """All drawings as PDF at 1:1, and how many sheets that is."""
    buffer = io.BytesIO()
    page = new_pdf(buffer)
    page.setTitle(f"{name}, templates")
    page.setAuthor("Pounce")
    sheets = pages_of(name, drawings, paper)
    for sheet in sheets:
        _sheet(page, sheet)
    page.save()
    return buffer.getvalue(), len(sheets)


def _sheet(page: Canvas, sheet: SheetPage) -> None:
    """One sheet on the canvas."""
    width, height = sheet.size_mm
    page.setPageSize((width * MM, height * MM))
    page.saveState()
    x0, y0, x1, y1 = sheet.room_mm
    frame = page.beginPath()
    frame.rect(x0 * MM, y0 * MM, (x1 - x0) * MM, (y1 - y0) * MM)
    page.clipPath(frame, stroke=0, fill=0)
    page.setStrokeColor(INK)
    for points, style, closed in sheet.runs:
        page.setLineWidth(PENS[style])
        page.setDash(*(([4, 3],) if style == "dashed" else ([],)))
        _drawn(page, points * MM, closed)
    page.setDash([])
    page.setLineWidth(0.5)
    for x, y, thick in sheet.holes:
        px, py = x * MM, y * MM
        arm = 4.0 if thick else 1.2
        page.line(px - arm * MM, py, px + arm * MM, py)
        page.line(px, py - arm * MM, px, py + arm * MM)
        if thick:
            page.circle(px, py, thick / 2.0 * MM)
    page.setFillColor(INK)
    page.setFont("Body", 8)
    for x, y, word in sheet.words:
        page.drawString((x + 1.5) * MM, (y + 1.0) * MM, word)
    page.setLineWidth(1.1)
    for arrow in sheet.arrows:
        _arrow(page, np.array(arrow).reshape(2, 2) * MM)
    page.restoreState()
    page.setStrokeColor(MUTED)
    page.setLineWidth(0.4)
    arm = CROSS_MM * MM
    for x, y in sheet.crosses:
        px, py = x * MM, y * MM
        page.line(px - arm, py, px + arm, py)
        page.line(px, py - arm, px, py + arm)
        page.circle(px, py, arm / 2.0)
    page.setFillColor(INK)
    page.setFont("Semi", 11)
    page.drawString(x0 * MM, (height - 9.0) * MM, sheet.title)
    page.setFont("Body", 8)
    page.setFillColor(MUTED)
    page.drawString(x0 * MM, (height - 13.5) * MM, sheet.about)
    page.drawRightString(x1 * MM, (height - 9.0) * MM, sheet.of_many)
    check_line(page)
    page.showPage()


def _drawn(page: Canvas, points: Floats, closed: bool) -> None:
    path = page.beginPath()
    path.moveTo(*points[0])
    for x, y in points[1:]:
        path.lineTo(x, y)
    if closed:
        path.close()
    page.drawPath(path, stroke=1, fill=0)


def _arrow(page: Canvas, ends: Floats) -> None:
    """A line with a barb at both ends: the way of the grain."""
    page.line(*ends[0], *ends[1])
    way = (ends[1] - ends[0]) / max(float(np.linalg.norm(ends[1] - ends[0])), 1e-9)
    side = np.array([-way[1], way[0]])
    for end, sign in ((ends[1], -1.0), (ends[0], 1.0)):
        for hand in (1.0, -1.0):
            page.line(*end, *(end + sign * way * 2.2 * MM + hand * side * 1.2 * MM))


__all__ = ["drawings_of", "profiles", "templates_pdf"]
