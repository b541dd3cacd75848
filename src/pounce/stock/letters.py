"""A line of text raised on a plane or sunk into it, with draft on every stroke, in the bundled open typeface."""

from dataclasses import dataclass

import manifold3d
import numpy as np
import shapely
from fontTools.pens.recordingPen import DecomposingRecordingPen
from fontTools.ttLib import TTFont

from pounce.base.errors import UserFault
from pounce.base.fonts import font_file
from pounce.metals.tables import limits
from pounce.solid.features.values import Feature
from pounce.solid.frame import unit
from pounce.solid.mesh import Bools, Floats, Mesh
from pounce.solid.pick import on_plane
from pounce.solid.polygons import triangulated
from pounce.solid.sets import is_among
from pounce.stock.body import joined_to
from pounce.stock.machining import near_of
from pounce.stock.values import Lettering

STEPS = 5
ROOT_MM = 0.02
MOST_LETTERS = 60
# A letter may stand out over its plane by so much, mm: the rounding of its edge.
EDGE_MM = 0.02
# A plane that lines have leaned is still the same face within this cosine.
LOOKS_ALIKE = 0.9
# Notches are filled by the width at the foot, or so many times it where a letter still runs into itself; corners are
# mitred no farther than so many times the move, and outlines smoothed by so little, mm.
MORE = (1.02, 1.3, 1.7, 2.5)
MITRE = 10.0
SMOOTH_MM = 0.01
# Facets of a whole turn of an inner corner.
ROUND = 24


@dataclass(frozen=True, eq=False)
class Written:
    """The body with its text, how wide the strokes are and how long the line is, mm, and how much of the letters'
    area was filled in their notches and counters for the draft, as a share.
    """

    body: Mesh
    stroke_mm: float
    long_mm: float
    filled: float


def outlines(text: str) -> list[Floats]:
    """Outlines (n, 2) of a line of text at a capital height of 1, centred; UserFault for a letter the typeface
    lacks.
    """
    font = TTFont(font_file("Bold"))
    glyphs, table = font.getGlyphSet(), font.getBestCmap()
    capital = float(font["OS/2"].sCapHeight)
    loops: list[Floats] = []
    along = 0.0
    for letter in text:
        name = table.get(ord(letter))
        if name is None:
            raise UserFault(f"The typeface has no '{letter}'.", "Leave it out, or write it another way.")
        pen = DecomposingRecordingPen(glyphs)
        glyphs[name].draw(pen)
        loops += [loop + np.array([along, 0.0]) for loop in _flattened(pen.value)]
        along += float(glyphs[name].width)
    if not loops:
        raise UserFault("There is nothing to write.", "Type a word, a date or a number.")
    points = np.concatenate(loops)
    middle = (points.min(axis=0) + points.max(axis=0)) / 2.0
    return [(loop - middle) / capital for loop in loops]


def _flattened(strokes: list[tuple[str, tuple[object, ...]]]) -> list[Floats]:
    """Outlines of one letter with its curves as short straight steps."""
    loops: list[Floats] = []
    now: list[Floats] = []
    for kind, raw in strokes:
        points = [np.array(point, np.float64) for point in raw if point is not None]
        if kind == "moveTo":
            now = [points[0]]
        elif kind == "lineTo":
            now.append(points[0])
        elif kind == "qCurveTo":
            controls, end = points[:-1], points[-1]
            for index, control in enumerate(controls):
                stop = end if index == len(controls) - 1 else (control + controls[index + 1]) / 2.0
                t = np.arange(1, STEPS + 1)[:, None] / STEPS
                now += list((1 - t) ** 2 * now[-1] + 2 * t * (1 - t) * control + t * t * stop)
        if kind in ("closePath", "endPath") and len(now) > 2:
            loop = np.array(now)
            keep = np.linalg.norm(loop - np.roll(loop, 1, axis=0), axis=1) > 1e-6
            loops.append(loop[keep])
    return loops


def stroke_of(loops: list[Floats]) -> float:
    """Mean stroke: twice the area over the outline's length, as for any long narrow shape."""
    section = manifold3d.CrossSection([np.ascontiguousarray(loop) for loop in loops], manifold3d.FillRule.NonZero)
    clean = section.to_polygons()
    size = sum(float(np.linalg.norm(loop - np.roll(loop, 1, axis=0), axis=1).sum()) for loop in map(np.asarray, clean))
    return 2.0 * float(section.area()) / max(size, 1e-9)


def written(body: Mesh, feature: Feature, asked: Lettering, at: Floats, grain_mm: float, line: int) -> Written:
    """The body with the text on the plane of this feature. UserFault where the sand cannot show it or the place is
    no plane.
    """
    if feature.kind != "plane":
        raise UserFault("Text wants a flat face.", "Point at a plane.")
    if not asked.text.strip() or len(asked.text) > MOST_LETTERS:
        raise UserFault(f"Text of 1 to {MOST_LETTERS} letters can be written.", "Shorten it, or write two lines.")
    loops = [loop * asked.high_mm for loop in outlines(asked.text.strip())]
    stroke = stroke_of(loops)
    finest = limits()["grains_across_detail"].value * grain_mm
    if stroke < finest or abs(asked.proud_mm) < finest:
        raise UserFault(
            f"The sand shows nothing finer than {finest:.1f} mm; these strokes are {stroke:.1f} mm wide and "
            f"{abs(asked.proud_mm):.1f} mm high.",
            f"Make the letters {asked.high_mm * max(finest / stroke, 1.0):.0f} mm high and "
            f"{max(finest, abs(asked.proud_mm)):.1f} mm proud.",
        )
    section = manifold3d.CrossSection([np.ascontiguousarray(loop) for loop in loops], manifold3d.FillRule.NonZero)
    tall = abs(asked.proud_mm)
    raised = asked.proud_mm > 0.0
    bare = [np.asarray(loop) for loop in section.simplify(0.01).to_polygons()]
    letters = drafted(bare, tall, finest if raised else 0.0)
    if asked.mirrored:
        letters = [[loop[::-1] * np.array([-1.0, 1.0]) for loop in letter] for letter in letters]
    clean = [loop for letter in letters for loop in letter]
    normal, level, faces = _plane_now(body, feature)
    right = _right(normal)
    turn = np.radians(asked.turn_deg)
    ahead = np.cross(normal, right)
    u = right * np.cos(turn) + ahead * np.sin(turn)
    v = np.cross(normal, u)
    at = at + feature.axis * ((level - float(at @ normal)) / float(feature.axis @ normal))
    frame = np.stack([u, v, normal])
    blocks = [block(letter, tall, raised) for letter in letters]
    feet = [_offset(loop, _foot_mm(tall)) for loop in clean]
    _on_face(body, at, feet, u, v)
    _clear_of_holes(body, faces, at, feet, np.stack([u, v]))
    tools = [Mesh.of(at + block.vertices @ frame, block.faces) for block in blocks]
    made = joined_to(body, tools, line, cut=not raised)
    points = np.concatenate(clean)
    # round corners fill a little too, and nobody reads them otherwise
    filled = sum(shapely.Polygon(one[0], one[1:]).area for one in drafted(bare, tall)) / float(section.area()) - 1.0
    return Written(made, stroke, float(np.ptp(points[:, 0])), filled)


def _plane_now(body: Mesh, feature: Feature) -> tuple[Floats, float, Bools]:
    """Where earlier lines (finish, draft) have left the plane of a feature: its normal (3,), its place along it (mm)
    and its (m,) faces. UserFault where it is gone or bent.
    """
    own = is_among(body.tags.face, feature.faces) & (body.normals @ feature.axis > LOOKS_ALIKE)
    if not own.any():
        raise UserFault("That face is no longer there to be written on.", "Choose a face that the other lines leave.")
    normal = unit(body.areas[own] @ body.normals[own])
    heights = body.corners[own] @ normal
    level = float(body.areas[own] @ heights.mean(axis=1) / body.areas[own].sum())
    if float(np.abs(heights - level).max()) > near_of(body) + 2.0 * feature.misfit_mm:
        raise UserFault("That face is no longer flat.", "Choose another face, or write before the line that bent it.")
    return normal, level, own | on_plane(body, normal, level, near_of(body))


def _on_face(body: Mesh, at: Floats, loops: list[Floats], u: Floats, v: Floats) -> None:
    points = np.concatenate(loops)
    for x, y in ((points[:, 0].min(), points[:, 1].min()), (points[:, 0].max(), points[:, 1].max())):
        corner = at + u * x + v * y
        low, high = body.bounds
        if ((corner < low - EDGE_MM) | (corner > high + EDGE_MM)).any():
            raise UserFault("The text is longer than its face.", "Make it smaller, turn it, or move it.")


def _clear_of_holes(body: Mesh, faces: Bools, at: Floats, loops: list[Floats], across: Floats) -> None:
    """UserFault where a letter's foot runs out over the edge of its plane, the (m,) ``faces``, or over a hole in it: it
    would hang in the air.
    """
    triangles = shapely.polygons((body.corners[faces] - at) @ across.T)
    plane = shapely.union_all(triangles).buffer(EDGE_MM)
    if not all(plane.covers(shapely.LinearRing(loop)) for loop in loops):
        raise UserFault("The text runs over a hole or an edge of its face.", "Make it smaller, turn it, or move it.")


def _right(normal: Floats) -> Floats:
    """The way a line of text runs on a face with this normal: level where it can be, along x on a level face."""
    up = np.array([0.0, 0.0, 1.0])
    across = np.cross(up, normal)
    return np.array([1.0, 0.0, 0.0]) if float(np.linalg.norm(across)) < 1e-6 else unit(across)


def drafted(loops: list[Floats], tall_mm: float, slit_mm: float = 0.0) -> list[list[Floats]]:
    """Outlines (n, 2) of each letter, so that they may be widened by their draft without running into themselves.

    A notch or a counter narrower than the draft takes at its foot would close there before it is deep, and its walls
    would hang over: such are filled (a closing, by the width at the foot, in mathematical morphology). Beyond that, no
    inner corner is narrower at the foot than ``slit_mm``, the finest that the sand keeps: it is rounded as a cutter
    would leave it.
    """
    lean = _foot_mm(tall_mm)
    section = manifold3d.CrossSection([np.ascontiguousarray(loop) for loop in loops], manifold3d.FillRule.NonZero)
    return [found for letter in section.decompose() for found in _closed(letter, lean, slit_mm / 2.0)]


def _closed(letter: manifold3d.CrossSection, lean: float, corner: float) -> list[list[Floats]]:
    """The letter's outlines with what is too narrow filled, by no more than it takes to keep them from crossing, its
    inner corners round by ``corner`` at the foot. UserFault where nothing does.
    """
    for more in MORE:
        wide = letter.offset(lean * more + corner, manifold3d.JoinType.Miter, MITRE)
        if corner > 0.0:
            wide = wide.offset(-corner, manifold3d.JoinType.Round, 2.0, ROUND)
        smooth = wide.offset(-lean * more, manifold3d.JoinType.Miter, MITRE).simplify(SMOOTH_MM)
        found = [_outer_first(piece) for piece in smooth.decompose()]
        if all(_stays_simple(one, lean) for one in found):
            return found
    raise UserFault("A letter ran into itself when it was given its draft.", "Make the letters higher, or less proud.")


def _outer_first(piece: manifold3d.CrossSection) -> list[Floats]:
    """The outline of one piece counter-clockwise, then its holes clockwise."""
    loops = [np.asarray(loop, np.float64) for loop in piece.to_polygons()]
    return sorted(loops, key=_counts_up, reverse=True)


def _counts_up(loop: Floats) -> bool:
    return bool(shapely.LinearRing(loop).is_ccw)


def _stays_simple(loops: list[Floats], by: float) -> bool:
    """Whether the outlines, each moved out by so much, neither cross nor turn over."""
    wide = [_offset(loop, by) for loop in loops]
    pairs = zip(loops, wide, strict=True)
    same = all(float((_runs(a) * _runs(b)).sum(axis=1).min()) > 0.0 for a, b in pairs)
    return same and bool(shapely.Polygon(wide[0], wide[1:]).is_valid)


def _runs(loop: Floats) -> Floats:
    return np.asarray(np.roll(loop, -1, axis=0) - loop)


def _foot_mm(tall_mm: float) -> float:
    """How much wider a letter is at its foot, a side."""
    return (tall_mm + ROOT_MM) * float(np.tan(np.radians(limits()["letter_draft"].value)))


def block(loops: list[Floats], tall: float, raised: bool) -> Mesh:
    """One letter of :func:`drafted` from just under the face z = 0 (or just over it, when sunk) to its top, wider
    toward the face.
    """
    wide = [_offset(loop, _foot_mm(tall)) for loop in loops]
    triangles = triangulated(loops)
    count = sum(len(loop) for loop in loops)
    low, high = (-ROOT_MM, tall) if raised else (-tall, ROOT_MM)
    lower, upper = (wide, loops) if raised else (loops, wide)
    points = np.concatenate(
        [
            np.column_stack([np.concatenate(lower), np.full(count, low)]),
            np.column_stack([np.concatenate(upper), np.full(count, high)]),
        ]
    )
    faces = [triangles[:, ::-1], triangles + count]
    start = 0
    for loop in loops:
        a = np.arange(start, start + len(loop))
        b = np.roll(a, -1)
        faces += [np.stack([a, b, b + count], 1), np.stack([a, b + count, a + count], 1)]
        start += len(loop)
    return Mesh.of(points, np.concatenate(faces))


def _offset(loop: Floats, by: float) -> Floats:
    """The loop moved outward (to the right of its run), corners mitred, none farther than ``MITRE`` times ``by``."""
    step = np.roll(loop, -1, axis=0) - loop
    normal = np.stack([step[:, 1], -step[:, 0]], axis=1)
    normal /= np.maximum(np.linalg.norm(normal, axis=1), 1e-300)[:, None]
    both = normal + np.roll(normal, 1, axis=0)
    size = np.maximum(np.einsum("ij,ij->i", both, both), (2.0 / MITRE) ** 2)
    return np.asarray(loop + both * (2.0 * by / size)[:, None])
