"""Templates at 1:1 over as many sheets of paper as they take: overlap, register crosses, a 100 mm check line on every sheet.

Each drawing is laid on a strip of its own grid of sheets. Sheets overlap by 10 mm and carry a cross where four of them meet, so that
they are pasted by laying cross on cross.
"""

import io
from dataclasses import dataclass, field

import numpy as np
import shapely
from reportlab.lib.pagesizes import A3, A4, letter
from reportlab.pdfgen.canvas import Canvas
from shapely.geometry.base import BaseGeometry

from pounce.export.pages import CHECK_MM, INK, MM, MUTED, check_line, faces_ready
from pounce.pattern.making.foam import is_straight, marks_of
from pounce.pattern.making.values import HotCut, Layer, Making
from pounce.pattern.values import Piece
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.section import cut

PAPERS = {"A4": A4, "A3": A3, "letter": letter}
EDGE_MM, HEAD_MM, FOOT_MM, LAP_MM = 10.0, 16.0, 16.0, 10.0
CROSS_MM = 4.0
MOST_SHEETS = 400
# Profile templates of a piece, evenly along it.
PROFILES = 5


@dataclass(frozen=True, eq=False)
class Line:
    """A line of a drawing: ``points`` (k, 2) mm, ``style`` solid, dashed or fine, ``closed``."""

    points: Floats
    style: str = "solid"
    closed: bool = True


@dataclass(frozen=True, eq=False)
class Drawing:
    """One template at 1:1 in mm: its lines, words at places, crosses at holes with their diameter."""

    title: str
    about: str
    lines: tuple[Line, ...]
    words: tuple[tuple[float, float, str], ...] = ()
    holes: tuple[tuple[float, float, float], ...] = ()
    arrows: tuple[tuple[float, float, float, float], ...] = field(default=())

    @property
    def box(self) -> Floats:
        """(2, 2) its low and high corner."""
        points = np.concatenate([line.points for line in self.lines])
        return np.array([points.min(axis=0), points.max(axis=0)])


def drawings_of(making: Making, pieces: tuple[Piece, ...]) -> tuple[Drawing, ...]:
    """The templates of a making: every board or sheet with its lines, hot-wire profiles in step, and profiles to offer up."""
    if making.kind not in ("wood", "foam"):
        return ()
    shaped = [piece for piece in pieces if piece.role not in ("follow-board", "false-pattern")] or list(pieces)
    counts = np.bincount([one.piece for one in making.layers], minlength=len(shaped))
    out: list[Drawing] = []
    for layer in making.layers:
        piece = shaped[layer.piece]
        stuff = "board" if making.kind == "wood" else "sheet"
        title = f"{piece.name}, {stuff} {layer.number} of {int(counts[layer.piece])}"
        out.append(_layer(layer, piece, title, making.kind))
    for hot in making.cuts:
        if not is_straight(hot):
            out += _hot(hot, shaped[hot.piece])
    for piece in shaped:
        found = profiles(piece.laid, piece.name)
        if found is not None and making.kind == "wood":
            out.append(found)
    return tuple(out)


def rings_of(shape: BaseGeometry) -> list[Floats]:
    """Every outline of a shape as (k, 2) points, the last not repeated."""
    parts = (
        [shape]
        if shape.geom_type == "Polygon"
        else [one for one in getattr(shape, "geoms", ()) if one.geom_type == "Polygon"]
    )
    rings = [ring for part in parts if not part.is_empty for ring in (part.exterior, *part.interiors)]
    return [np.array(ring.coords)[:-1] for ring in rings]


def _layer(layer: Layer, piece: Piece, title: str, kind: str) -> Drawing:
    lines = [Line(points) for points in rings_of(layer.saw)]
    for shape in (layer.lower, layer.upper):
        if shape.symmetric_difference(layer.saw).area > 0.002 * layer.saw.area:
            lines += [Line(points, "dashed") for points in rings_of(shape)]
    holes: list[tuple[float, float, float]] = []
    if layer.number == 1:
        holes = [_hole(piece, k) for k in range(len(piece.holes))]
    tilt = f" Table tilted {abs(layer.lean_deg):.1f}°." if 0.2 < abs(layer.lean_deg) < 15.0 else ""
    about = f"{layer.thick_mm:.2f} mm thick. Saw outside the full line; dashed: the faces of it.{tilt}"
    middle = shapely.Point(layer.saw.representative_point())
    arrows: tuple[tuple[float, float, float, float], ...] = ()
    if kind == "wood":
        turn = np.radians(layer.grain_deg)
        reach = min(25.0, 0.2 * float(np.linalg.norm(np.ptp(np.concatenate(rings_of(layer.saw)), axis=0))))
        x, y = float(middle.x), float(middle.y)
        arrows = ((x - reach * np.cos(turn), y - reach * np.sin(turn), x + reach * np.cos(turn), y + reach * np.sin(turn)),)
    return Drawing(title, about, tuple(lines), (), tuple(holes), arrows)


def _hole(piece: Piece, index: int) -> tuple[float, float, float]:
    """Where a hole of a piece lies on its laid joint: by the rigid move between its two meshes."""
    hole = piece.holes[index]
    a, b = piece.mesh.vertices, piece.laid.vertices
    rows = np.linspace(0, len(a) - 1, min(len(a), 400)).astype(np.int64)
    ca, cb = a[rows].mean(axis=0), b[rows].mean(axis=0)
    u, _, vt = np.linalg.svd((a[rows] - ca).T @ (b[rows] - cb))
    turn = (u @ np.diag([1.0, 1.0, float(np.sign(np.linalg.det(u @ vt)))]) @ vt).T
    x, y, _ = turn @ (hole.at_mm - ca) + cb
    return float(x), float(y), 2.0 * hole.radius_mm


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
                "Pin to the face; the wire is at the same number on both at once. The kerf is allowed for.", (Line(points),), words, holes,
            )
        )  # fmt: skip
    return out


def profiles(mesh: Mesh, name: str) -> Drawing | None:
    """Sections square to the longest way of a laid piece, side by side, as templates to offer up to the carving."""
    axis = int(np.argmax(mesh.size[:2]))
    u, v = np.eye(3)[1 - axis], np.array([0.0, 0.0, 1.0])
    if axis == 0:  # keeps u x v along +x
        sign = 1.0
    else:
        u, sign = -u, 1.0
    low, high = float(mesh.bounds[0, axis]), float(mesh.bounds[1, axis])
    normal = np.cross(u, v)
    lines: list[Line] = []
    words: list[tuple[float, float, str]] = []
    x = 0.0
    for share in (np.arange(PROFILES) + 0.5) / PROFILES:
        at = low + float(share) * (high - low)
        loops = [loop for loop in cut(mesh, u, v, at * float(normal[axis]) * sign).loops if len(loop) > 3]
        if not loops:
            continue
        points = np.concatenate(loops)
        shift = np.array([x - float(points[:, 0].min()), -float(points[:, 1].min())])
        lines += [Line(loop[:-1] + shift) for loop in loops]
        words.append((x, -5.0, f"{at - low:.1f} mm from the end"))
        x += float(np.ptp(points[:, 0])) + 15.0
    if not lines:
        return None
    return Drawing(
        f"{name}, profiles",
        "Sections across it, to offer up to the carving. Cut the outside away.",
        tuple(lines),
        tuple(words),
    )


def sheets_of(drawing: Drawing, paper: str) -> tuple[int, int, Floats]:
    """Columns and rows of sheets a drawing takes, and (2,) the room on each, mm. The sheet is turned when that takes fewer."""
    page = np.array(PAPERS[paper]) / MM
    span = drawing.box[1] - drawing.box[0]
    best: tuple[int, int, Floats] | None = None
    for size in (page, page[::-1]):
        room = size - np.array([2.0 * EDGE_MM, HEAD_MM + FOOT_MM])
        columns, rows = (max(1, int(np.ceil((s - LAP_MM) / (r - LAP_MM) - 1e-9))) for s, r in zip(span, room, strict=True))
        if best is None or columns * rows < best[0] * best[1]:
            best = (columns, rows, room)
    assert best is not None
    return best


def templates_pdf(name: str, drawings: tuple[Drawing, ...], paper: str) -> tuple[bytes, int]:
    """All drawings as PDF at 1:1, and how many sheets that is."""
    faces_ready()
    buffer = io.BytesIO()
    page = Canvas(buffer, pageCompression=1, invariant=1)
    page.setTitle(f"{name}, templates")
    page.setAuthor("Pounce")
    count = 0
    for drawing in drawings:
        columns, rows, room = sheets_of(drawing, paper)
        shapes = [
            shapely.LineString(np.vstack([line.points, line.points[:1]]) if line.closed else line.points)
            for line in drawing.lines
        ]
        size = room + np.array([2.0 * EDGE_MM, HEAD_MM + FOOT_MM])
        for row in range(rows):
            for column in range(columns):
                if count >= MOST_SHEETS:
                    break
                if _sheet(page, name, drawing, shapes, size, room, (column, row, columns, rows)):
                    count += 1
    page.save()
    return buffer.getvalue(), count


def _sheet(
    page: Canvas, name: str, drawing: Drawing, shapes: list[BaseGeometry], size: Floats, room: Floats, place: tuple[int, int, int, int]
) -> bool:  # fmt: skip
    """One sheet of a drawing's grid; False for one that no line runs over, which is left out."""
    column, row, columns, rows = place
    step = room - LAP_MM
    # a drawing of one sheet stands in its middle
    span = drawing.box[1] - drawing.box[0]
    spare = np.maximum((room - span) / 2.0, 0.0) * np.array([columns == 1, rows == 1])
    start = drawing.box[0] - spare + step * np.array([column, rows - 1 - row])
    shift = np.array([EDGE_MM, FOOT_MM]) - start

    def put(points: Floats) -> Floats:
        return np.asarray((points + shift) * MM)

    inside = (*start.tolist(), *(start + room).tolist())
    seen = [shapely.clip_by_rect(shape, *inside) for shape in shapes]
    if columns * rows > 1 and all(one.is_empty for one in seen):
        return False
    page.setPageSize(tuple(size * MM))
    page.saveState()
    frame = page.beginPath()
    frame.rect(EDGE_MM * MM, FOOT_MM * MM, room[0] * MM, room[1] * MM)
    page.clipPath(frame, stroke=0, fill=0)
    page.setStrokeColor(INK)
    for line, part in zip(drawing.lines, seen, strict=True):
        page.setLineWidth({"solid": 0.9, "dashed": 0.6, "fine": 0.4}[line.style])
        page.setDash(*(([4, 3],) if line.style == "dashed" else ([],)))
        if columns * rows == 1:
            _drawn(page, put(line.points), line.closed)
            continue
        for run in getattr(part, "geoms", [part]):
            if run.geom_type == "LineString" and not run.is_empty:
                _drawn(page, put(np.array(run.coords)), closed=False)
    page.setDash([])
    page.setLineWidth(0.5)
    for x, y, thick in drawing.holes:
        px, py = put(np.array([[x, y]]))[0].tolist()
        arm = 4.0 if thick else 1.2
        page.line(px - arm * MM, py, px + arm * MM, py)
        page.line(px, py - arm * MM, px, py + arm * MM)
        if thick:
            page.circle(px, py, thick / 2.0 * MM)
    page.setFillColor(INK)
    page.setFont("Body", 8)
    for x, y, word in drawing.words:
        px, py = put(np.array([[x, y]]))[0].tolist()
        page.drawString(px + 1.5 * MM, py + 1.0 * MM, word)
    page.setLineWidth(1.1)
    for x0, y0, x1, y1 in drawing.arrows:
        _arrow(page, put(np.array([[x0, y0], [x1, y1]])))
    page.restoreState()
    _crosses(page, room, place)
    page.setFillColor(INK)
    page.setFont("Semi", 11)
    page.drawString(EDGE_MM * MM, (size[1] - 9.0) * MM, drawing.title)
    page.setFont("Body", 8)
    page.setFillColor(MUTED)
    page.drawString(EDGE_MM * MM, (size[1] - 13.5) * MM, f"{name}. {drawing.about}")
    if columns * rows > 1:
        page.drawRightString(
            (size[0] - EDGE_MM) * MM,
            (size[1] - 9.0) * MM,
            f"sheet {column + 1} of {columns} across, {row + 1} of {rows} down",
        )
    check_line(page)
    page.showPage()
    return True


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


def _crosses(page: Canvas, room: Floats, place: tuple[int, int, int, int]) -> None:
    """A cross in the middle of every overlap, where the neighbour carries it too."""
    column, row, columns, rows = place
    page.setStrokeColor(MUTED)
    page.setLineWidth(0.4)
    x_ends = [LAP_MM / 2.0] * (column > 0) + [room[0] - LAP_MM / 2.0] * (column + 1 < columns)
    y_ends = [room[1] - LAP_MM / 2.0] * (row > 0) + [LAP_MM / 2.0] * (row + 1 < rows)
    places = [(x, y) for x in x_ends for y in (room[1] * 0.25, room[1] * 0.75)]
    places += [(x, y) for y in y_ends for x in (room[0] * 0.25, room[0] * 0.75)]
    for x, y in places:
        px, py, arm = (EDGE_MM + float(x)) * MM, (FOOT_MM + float(y)) * MM, CROSS_MM * MM
        page.line(px - arm, py, px + arm, py)
        page.line(px, py - arm, px, py + arm)
        page.circle(px, py, arm / 2.0)


__all__ = ["CHECK_MM", "Drawing", "Line", "drawings_of", "profiles", "rings_of", "sheets_of", "templates_pdf"]
