"""Sizes that are measured: the overall ones, and those taken on the model by two places; what each has on the part, the
pattern and the casting.
"""

from dataclasses import dataclass

import numpy as np

from pounce.base.errors import UserFault
from pounce.logbook.said import Size
from pounce.logbook.values import Pair, PairKind, Point, Side, Way
from pounce.solid.features.values import Feature
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.pick import nearest_face
from pounce.solid.tree import tree_of
from pounce.stock.values import Dimension, LineKind, StockResult

# Past a face by so much of the diagonal a ray begins, so that it does not meet the face it comes from.
STEP = 1e-6
MOST_ROUNDS = 3
ALONG = 0.9
# Diameters that differ by less are the same round.
SAME_MM = 0.05
# Faces that lean more to each other have no one distance.
PARALLEL_DEG = 5.0
NAMES = ("Length", "Width", "Height")


@dataclass(frozen=True, eq=False)
class On:
    """What sizes are taken of: the part, what Stock made of it, pattern over casting along x, y, z, the draw, whether
    each axis is held back, the holes that cores make (by their middles), and whether the joint cuts the part.
    """

    part: Mesh
    stock: StockResult
    factors: tuple[float, float, float]
    direction: Floats
    held: tuple[bool, bool, bool]
    cored_mm: tuple[Point, ...]
    split: bool

    @property
    def machined(self) -> tuple[Feature, ...]:
        """The part's faces that a line of Stock leaves metal on."""
        places = [one.at_mm for one in self.stock.lines if one.kind is LineKind.MACHINING and one.at_mm is not None]
        faces = [nearest_face(self.part, place) for place in places]
        return tuple(one for one in self.stock.features if any(face in one.faces for face in faces))


def usual_sizes(on: On) -> tuple[Size, ...]:
    """The sizes that any job has: over all along x, y, z, the longest first, and its largest rounds."""
    overall = [one for one in on.stock.dimensions if one.axis is not None]
    rounds = [one for one in on.stock.dimensions if one.axis is None and not one.note][:MOST_ROUNDS]
    out, machined = [], on.machined
    order = sorted(overall, key=lambda one: -one.wanted_mm)
    for name, one in zip(NAMES, order, strict=False):
        assert one.axis is not None
        axis = np.eye(3)[one.axis]
        cut = any(each.kind == "plane" and abs(float(each.axis @ axis)) > ALONG for each in machined)
        out.append(_size(name, one, _way(on, axis), Side.OUTSIDE, on.held[one.axis], cut))
    for one in rounds:
        side = Side.OUTSIDE if one.kind == "boss" else Side.CENTRES if on.cored_mm else Side.INSIDE
        cut = any(each.kind == one.kind and abs(2.0 * each.radius_mm - one.wanted_mm) < SAME_MM for each in machined)
        out.append(_size(one.name, one, Way.ACROSS, side, False, cut))
    return tuple(out)


def _size(name: str, one: Dimension, way: Way, side: Side, hindered: bool, cut: bool) -> Size:
    return Size(name, one.wanted_mm, one.casting_mm, one.pattern_mm, way, side, hindered, one.tolerance_mm, cut)


def taken(pair: Pair, on: On, tolerance: float | None = None) -> Size:
    """A size taken on the model. UserFault for places between which there is none."""
    features = on.stock.features
    a, b = np.array(pair.a_mm), np.array(pair.b_mm)
    if pair.kind is PairKind.CENTRES:
        one, two = _round_at(on.part, features, a), _round_at(on.part, features, b)
        if one is None or two is None or one is two:
            raise UserFault(f"{pair.name}: two bores or bosses are wanted.", "Take one place on each.")
        between = _between(one, two)
        size = float(np.linalg.norm(between))
        grown = float(np.linalg.norm(between * np.array(on.factors)))
        lies = _way(on, between / max(size, 1e-9))
        return Size(pair.name, size, size, grown, lies, Side.CENTRES, pair.hindered, tolerance)
    if pair.kind is PairKind.DIAMETER:
        round_ = _round_at(on.part, features, a)
        if round_ is None:
            raise UserFault(f"{pair.name}: there is no bore or boss there.", "Take a place on a round face.")
        middle, out = _across(round_, a)
        a, b = middle + out * round_.radius_mm, middle - out * round_.radius_mm
        hole = round_.kind == "bore"
        cored = hole and any(np.linalg.norm(np.array(one) - middle) < 2.0 * round_.length_mm for one in on.cored_mm)
        side = Side.OUTSIDE if not hole else Side.CENTRES if cored else Side.INSIDE
    else:
        a, b, hole = _faces(pair, on.part, a, b)
        side = Side.INSIDE if hole else Side.OUTSIDE
    way = (b - a) / max(float(np.linalg.norm(b - a)), 1e-9)
    finished, cast = float(np.linalg.norm(b - a)), _on_body(on.stock.mesh, a, b)
    grown = cast * float(np.linalg.norm(way * np.array(on.factors)))
    cut = any(_cuts(each, pair.kind, way, finished) for each in on.machined)
    return Size(pair.name, finished, cast, grown, _way(on, way), side, pair.hindered, tolerance, cut)


def _cuts(feature: Feature, kind: PairKind, way: Floats, size_mm: float) -> bool:
    """Whether a machined face is an end of a size."""
    if kind is PairKind.DIAMETER:
        return feature.kind != "plane" and abs(2.0 * feature.radius_mm - size_mm) < SAME_MM
    return feature.kind == "plane" and abs(float(feature.axis @ way)) > ALONG


def _faces(pair: Pair, part: Mesh, a: Floats, b: Floats) -> tuple[Floats, Floats, bool]:
    """The first place and the one across from it on the second face, square to the first; whether it is a gap."""
    normals = part.normals
    one, two = (normals[nearest_face(part, (float(p[0]), float(p[1]), float(p[2])))] for p in (a, b))
    lean = float(np.degrees(np.arccos(np.clip(abs(float(one @ two)), 0.0, 1.0))))
    if lean > PARALLEL_DEG:
        raise UserFault(
            f"{pair.name}: the two faces lean {lean:.0f}° to each other and have no one distance.",
            "Take two faces that look the same way, or away from each other.",
        )
    across = float((b - a) @ one)
    if abs(across) < 1e-3:
        raise UserFault(f"{pair.name}: both places lie on one face.", "Take the second on another face.")
    # metal lies behind a face: a gap is where its normal looks at the other
    hole = across > 0.0 and float(one @ two) < 0.0
    return a, a + across * one, hole


def _on_body(body: Mesh, a: Floats, b: Floats) -> float:
    """The same size of the body with all additions: along the same line, to the nearest faces that look as the ends."""
    way = (b - a) / max(float(np.linalg.norm(b - a)), 1e-9)
    hits = _hits(body, a, way)
    if len(hits) < 2:
        return float(np.linalg.norm(b - a))
    length = float(np.linalg.norm(b - a))
    first = hits[int(np.argmin(np.abs(hits)))]
    last = hits[int(np.argmin(np.abs(hits - length)))]
    return float(abs(last - first))


def _hits(body: Mesh, a: Floats, way: Floats) -> Floats:
    """Where the line through ``a`` meets the body, mm from ``a`` along ``way``, in order."""
    start, step = a - way * 2.0 * body.diagonal, STEP * body.diagonal
    out, at = [], 0.0
    tree = tree_of(body)
    for _ in range(200):
        gap, face = tree.nearest((start + way * at)[None], way[None])
        if face[0] < 0:
            break
        at += float(gap[0])
        out.append(at - 2.0 * body.diagonal)
        at += step
    return np.array(out)


def _round_at(part: Mesh, features: tuple[Feature, ...], place: Floats) -> Feature | None:
    """The bore or boss whose face lies nearest to a place."""
    face = nearest_face(part, (float(place[0]), float(place[1]), float(place[2])))
    for one in features:
        if one.kind in ("bore", "boss") and face in one.faces:
            return one
    return None


def _across(one: Feature, place: Floats) -> tuple[Floats, Floats]:
    """The middle of a round at the height of a place, and the way out to it."""
    along = float((place - one.centre) @ one.axis)
    middle = one.centre + along * one.axis
    out = place - middle
    return middle, out / max(float(np.linalg.norm(out)), 1e-9)


def _between(one: Feature, two: Feature) -> Floats:
    """From axis to axis, square to the first."""
    gap = two.centre - one.centre
    return np.asarray(gap - (gap @ one.axis) * one.axis)


def _way(on: On, way: Floats) -> Way:
    """How a direction lies in the mould."""
    if abs(float(way @ on.direction)) < ALONG:
        return Way.ACROSS
    return Way.JOINT if on.split else Way.ALONG
