"""Holes filled flush or proud with a centre mark, and worn places levelled."""

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from pounce.base.errors import UserFault
from pounce.metals.tables import limits
from pounce.solid import boolean
from pounce.solid.features.patches import bends_of, flat_groups
from pounce.solid.features.values import Feature
from pounce.solid.frame import across
from pounce.solid.hollow import capped, rims
from pounce.solid.mesh import Bools, Floats, Ints, Mesh
from pounce.solid.pick import nearest_face, touching
from pounce.solid.polygons import bulged, triangulated
from pounce.solid.rim import rim_loops, shell
from pounce.solid.sets import distinct, is_among
from pounce.solid.tags import FaceTags
from pounce.solid.tree import tree_of
from pounce.stock.body import ROOT, joined_to
from pounce.stock.keyway import OpenAlongSide, keyed_hole
from pounce.stock.machining import near_of

# A centre mark is a cone of 90 degrees; on a mouth that leans more than this from the draw it would lock.
MARK_LEAN = limits()["centre_mark_lean"].value
# A centre mark wants metal so many of its widths about its middle, asked by so many rays.
MARK_ROOM, MARK_RAYS = 0.75, 12
# How far the hole's wall may stand off its round where stock carries it on.
STOCK_LEANS_MM = 0.15
# Corners this near to a plane, as a share of the diagonal, lie in it.
LEVEL_SHARE = 2e-5
# Worn faces look this much toward the plane they are levelled to (cosine).
LOOKS_UP = 0.2
# Sides of a broken place are no steeper than this (cosine).
STEEP = -0.2
# A plug of less than this share of its hole has closed something else.
LEAST_FILL = 0.1
# A rim that rises and falls by less than this share of the diagonal is flat.
FLAT_RIM = 1e-5
# A flat patch of less than this share of the radius squared is a facet of a curve.
FLAT_PATCH = 0.05
# A hole's wall that comes to less than this share of its area across the axis goes all the way round.
LACKS = 0.02
# An edge of a rim that runs along the hole (cosine), and how far such edges run at least where a side lacks, in radii.
ALONG_RIM, LEAST_RUN = 0.97, 0.25
# Rays that ask what stands before the side that lacks.
SIDE_RAYS = 5


@dataclass(frozen=True, eq=False)
class Filled:
    """A body with a hole filled: the plug's mouths (middle, outward normal), and the features that went with it;
    ``keyed`` whether a keyway or a flat in its wall went too, which is cut after the hole.
    """

    body: Mesh
    mouths: tuple[tuple[Floats, Floats], ...]
    members: tuple[int, ...]
    keyed: bool = False


def coaxial(feature: Feature, features: tuple[Feature, ...]) -> tuple[float, list[int]]:
    """The greatest radius of the hole this bore belongs to, and the features it is made of.

    Countersinks and counterbores share its axis and touch its ends.
    """
    radius, members = feature.radius_mm, [index for index, one in enumerate(features) if one is feature]
    low, high = feature.low_mm, feature.high_mm
    for _ in range(4):
        before = len(members)
        for index, other in enumerate(features):
            # the tapered outside of a boss is a cone about the same axis too, and none of the hole
            sunk = other.kind in ("bore", "cone") and other.concave
            if index in members or not sunk or abs(float(other.axis @ feature.axis)) < 0.9999:
                continue
            rel = other.centre - feature.centre
            along = float(rel @ feature.axis)
            if float(np.linalg.norm(rel - feature.axis * along)) > 0.02 * feature.radius_mm + 0.01:
                continue
            ends = sorted((along + other.low_mm, along + other.high_mm))
            if float(other.axis @ feature.axis) < 0.0:
                ends = sorted((along - other.low_mm, along - other.high_mm))
            touches = ends[0] <= high + 0.05 and ends[1] >= low - 0.05
            if touches and other.radius_mm <= 2.6 * feature.radius_mm:
                members.append(index)
                radius = max(radius, other.radius_mm)
                low, high = min(low, ends[0]), max(high, ends[1])
        if len(members) == before:
            break
    return radius, members


def filled(body: Mesh, feature: Feature, features: tuple[Feature, ...], line: int, proud_mm: float) -> Filled:
    """The hole of this bore filled along its own rims, exact to its facets.

    UserFault when its rims cannot be closed.
    """
    wide, members = coaxial(feature, features)
    radius = wide + near_of(body)
    rel = body.vertices - feature.centre
    out = rel - np.outer(rel @ feature.axis, feature.axis)
    gap = np.linalg.norm(out, axis=1)
    inside, nearly = (gap < radius)[body.faces].all(axis=1), (gap < radius + STOCK_LEANS_MM)[body.faces].all(axis=1)
    # stock was laid on along its face's normal, which may lean a little to the hole
    among = inside | (nearly & (body.tags.face < 0))
    faces = touching(body, among, is_among(body.tags.face, feature.faces))
    if not len(faces):
        raise UserFault(
            "That hole is no longer there to be filled.", "It was filled already, or covered by another line."
        )
    closing = _closing(body, faces, feature, [features[one] for one in members], proud_mm)
    rest = np.ones(len(body.faces), bool)
    rest[closing.faces] = False
    # mouths lie on the hole's axis: the middle of rim corners depends on how the rim is cut up
    mouths = [
        (feature.centre + feature.axis * float((at - feature.centre) @ feature.axis), normal)
        for at, normal in [*closing.mouths, *closing.open_ends]
    ]
    new = [*closing.caps, *closing.sides]
    made = Mesh.of(
        body.vertices,
        np.concatenate([body.faces[rest], *new]),
        FaceTags.joined([body.tags.at(rest), FaceTags.of(sum(len(cap) for cap in new), line=line)]),
    )
    made = made.part(np.ones(len(made.faces), bool))
    if closing.tools:
        made = joined_to(made, closing.tools, line)
    if made.volume <= body.volume:
        raise UserFault("Filling the hole added nothing.", "Point at the hole's own wall.")
    own = np.pi * feature.radius_mm**2 * (feature.high_mm - feature.low_mm)
    if feature.is_hole and made.volume - body.volume < LEAST_FILL * own:
        raise UserFault(
            "Another hole runs into that one, so its rims do not close it.",
            "Fill the hole that runs into it first, or fill it where it is drawn.",
        )
    if proud_mm > 0.0:
        made = joined_to(made, [_proud(body, cap, way, proud_mm) for cap, way in closing.ends], line)
    return Filled(made, tuple(mouths), tuple(members), closing.keyed)


@dataclass
class _Closing:
    """What fills the faces of a hole: ``faces`` of the body to be left out, ``caps`` and ``sides`` that take their
    place with the ``mouths`` that the caps close; solids (``tools``) laid in where it is open along its side,
    ``proud_mm`` at their own ``open_ends``.
    """

    proud_mm: float
    faces: Ints
    caps: list[Ints]
    sides: list[Ints]
    mouths: list[tuple[Floats, Floats]]
    tools: list[Mesh]
    open_ends: list[tuple[Floats, Floats]]
    keyed: bool = False

    @property
    def ends(self) -> list[tuple[Ints, Floats]]:
        """The caps with the way that each looks."""
        return [(cap, way) for cap, (_, way) in zip(self.caps, self.mouths, strict=True)]


def _closing(body: Mesh, faces: Ints, bore: Feature, members: list[Feature], proud_mm: float) -> _Closing:
    """How the faces of a hole are closed: each piece of its wall by its own rims, with a keyway beside it, or, where
    the hole breaks through an edge, by a solid between its rims. UserFault where none of it serves.
    """
    out = _Closing(proud_mm, np.zeros(0, np.int64), [], [], [], [], [])
    left = np.zeros(len(body.faces), bool)
    left[faces] = True
    while left.any():
        seed = np.zeros(len(body.faces), bool)
        seed[int(np.argmax(left))] = True
        piece = touching(body, left, seed)
        left[piece] = False
        if _through_an_edge(body, piece, bore):
            _closed_by_solids(out, body, piece, bore, members)
            continue
        caps, mouths, sides = _caps(body, piece, bore)
        if not caps:  # the rim runs along the wall and back: a keyway, or a slot that the hole opens into
            try:
                hollow = keyed_hole(body, piece, bore)
            except OpenAlongSide:
                _closed_by_solids(out, body, piece, bore, members)
                continue
            out.keyed, piece, sides = True, hollow.faces, []
            caps, mouths = [one.caps for one in hollow.openings], [(one.centre, one.normal) for one in hollow.openings]
            left[piece] = False  # with two keyways its wall is of two pieces
        out.caps, out.mouths, out.sides = [*out.caps, *caps], [*out.mouths, *mouths], [*out.sides, *sides]
        out.faces = np.concatenate([out.faces, piece])
    return out


def _through_an_edge(body: Mesh, piece: Ints, bore: Feature) -> bool:
    """Whether a piece of a hole's wall lacks a side, its rim runs along it there, and nothing stands before it: the rim
    of one that ends in a slanting or a round face lies across it all the way.
    """
    ran = 0.0
    for ids in rim_loops(body.faces[piece])[0]:
        edges = np.roll(body.vertices[ids], -1, axis=0) - body.vertices[ids]
        along_it = np.abs(edges @ bore.axis)
        ran += float(along_it[along_it > ALONG_RIM * np.linalg.norm(edges, axis=1)].sum())
    if ran < LEAST_RUN * bore.radius_mm:
        return False
    areas, normals = body.areas[piece], body.normals[piece]
    # what the wall of a whole round comes to across its axis is nothing; else it looks out of the side that lacks
    way = (areas[:, None] * (normals - np.outer(normals @ bore.axis, bore.axis))).sum(axis=0)
    size = float(np.linalg.norm(way))
    if size < LACKS * float(areas.sum()):
        return False
    along = (body.vertices[distinct(body.faces[piece])] - bore.centre) @ bore.axis
    places = along.min() + np.ptp(along) * (np.arange(SIDE_RAYS) + 0.5) / SIDE_RAYS
    starts = bore.centre + np.outer(places, bore.axis)
    return bool((tree_of(body).nearest(starts, np.broadcast_to(way / size, starts.shape))[1] < 0).any())


def _closed_by_solids(out: _Closing, body: Mesh, piece: Ints, bore: Feature, members: list[Feature]) -> None:
    """A hole that breaks through an edge filled from rim to rim, and ``out.proud_mm`` beyond its ends: flush with the
    edge where that is flat, and all of it is drilled away, for none of it lies beyond the round.
    """
    lifts = [bore.axis * by for by in ((0.0, out.proud_mm, -out.proud_mm) if bore.through else (0.0, out.proud_mm))]
    for member in members:
        wall = piece[is_among(body.tags.face[piece], member.faces)]
        if len(wall):
            points = body.vertices[distinct(body.faces[wall])]
            out.tools.append(boolean.bare_mesh(boolean.hull_tool(np.concatenate([points + lift for lift in lifts]))))
    along = (body.vertices[distinct(body.faces[piece])] - bore.centre) @ bore.axis
    ends = [(float(along.max()), bore.axis)]
    if bore.through:
        ends.append((float(along.min()), -bore.axis))
    out.open_ends += [(bore.centre + bore.axis * at, way) for at, way in ends]


def _proud(body: Mesh, cap: Ints, way: Floats, proud_mm: float) -> Mesh:
    """A lid of so much over the cap of a hole."""
    used, inverse = np.unique(cap, return_inverse=True)
    points = body.vertices[used]
    return shell(inverse.reshape(-1, 3), points + way * proud_mm, points - way * ROOT * 10.0 * body.diagonal)


def may_be_marked(normal: Floats, direction: Floats | None) -> bool:
    """Whether a centre mark on a mouth that looks along ``normal`` leaves the sand (None: nothing has to)."""
    return direction is None or abs(float(normal @ direction)) > MARK_LEAN


def room_for_mark(body: Mesh, mouth: Floats, normal: Floats, mark_mm: float) -> bool:
    """Whether a centre mark at a mouth stands in metal all round: beside an edge it would break out of it."""
    u, v = across(normal)
    turns = 2.0 * np.pi * np.arange(MARK_RAYS) / MARK_RAYS
    rim = mouth + normal * mark_mm + MARK_ROOM * mark_mm * (np.outer(np.cos(turns), u) + np.outer(np.sin(turns), v))
    distance, _ = tree_of(body).nearest(rim, np.broadcast_to(-normal, rim.shape))
    return bool((distance < 2.0 * mark_mm).all())


def marked(body: Mesh, mouth: Floats, normal: Floats, mark_mm: float, line: int) -> Mesh:
    """The body with a centre mark sunk where the mouth's own line meets its surface now, whatever was laid on it
    since.
    """
    start = mouth + normal * body.diagonal
    distance, hit = tree_of(body).nearest(start[None], -normal[None])
    at = start - normal * float(distance[0]) if hit[0] >= 0 else mouth
    return joined_to(body, [_cone(at, normal, mark_mm / 2.0)], line, cut=True)


def _caps(body: Mesh, faces: Ints, bore: Feature) -> tuple[list[Ints], list[tuple[Floats, Floats]], list[Ints]]:
    """Triangles that close the rims of these faces, on the vertices there are, each cap's middle and outward normal,
    and triangles that close what is open beside the hole. No cap where the only rim runs along the hole's wall.
    """
    axis = bore.axis
    # a cap keeps the hole's own way round: the rest of the body runs against it
    loops, opened = rim_loops(body.faces[faces])
    if opened or not loops:
        raise UserFault(
            "The rim of that hole does not close.", "Mend the model there, or fill the hole where it is drawn."
        )
    u, v = across(axis)
    new: list[Ints] = []
    sides: list[Ints] = []
    mouths: list[tuple[Floats, Floats]] = []
    for ids in loops:
        points = body.vertices[ids]
        flat = np.stack([points @ u, points @ v], axis=1)
        area = 0.5 * float((flat[:, 0] * np.roll(flat[:, 1], -1) - np.roll(flat[:, 0], -1) * flat[:, 1]).sum())
        if abs(area) < 1e-9 * body.diagonal**2:  # forth and back along the wall, where the hole breaks out of it
            sides.append(_beside(ids, points, bore))
            continue
        order = ids if area > 0.0 else ids[::-1]
        ring = flat if area > 0.0 else flat[::-1]
        cap = order[_level_with(body, faces, order, ring, (points if area > 0.0 else points[::-1]) @ axis)]
        new.append(cap if area > 0.0 else cap[:, ::-1])
        crosses = np.cross(points - points.mean(axis=0), np.roll(points, -1, axis=0) - points.mean(axis=0)).sum(axis=0)
        mouths.append((points.mean(axis=0), crosses / max(float(np.linalg.norm(crosses)), 1e-300)))
    return new, mouths, sides


def _round(points: Floats, bore: Feature) -> tuple[Floats, Floats]:
    """Where points (n, 3) lie round the hole's axis, radians, and along it, mm."""
    u, v = across(bore.axis)
    rel = points - bore.centre
    return np.arctan2(rel @ v, rel @ u), np.asarray(rel @ bore.axis)


def _beside(ids: Ints, points: Floats, bore: Feature) -> Ints:
    """Triangles that close an opening in the hole's wall as the wall itself runs: cut up where it is unrolled."""
    turn, along = _round(points, bore)
    flat = np.stack([np.unwrap(turn) * bore.radius_mm, along], axis=1)
    area = 0.5 * float((flat[:, 0] * np.roll(flat[:, 1], -1) - np.roll(flat[:, 0], -1) * flat[:, 1]).sum())
    order, ring = (ids, flat) if area > 0.0 else (ids[::-1], flat[::-1])
    cap = order[triangulated([ring])]
    return cap if area > 0.0 else cap[:, ::-1]


def _level_with(body: Mesh, faces: Ints, ring: Ints, flat: Floats, heights: Floats) -> Ints:
    """Triangles (k, 3) over the corners of a rim, at ``heights`` along the hole over their places ``flat`` (n, 2).

    Where the rim runs over a ridge, as of an end that leans to both halves, they are laid as the faces beside it lie.
    """
    plain = triangulated([flat])
    if float(np.ptp(heights)) < FLAT_RIM * body.diagonal:
        return plain
    beside = is_among(body.faces, ring).sum(axis=1) == 2
    beside[faces] = False
    # each edge of the rim with what the face beside it looks to
    normals = {
        frozenset(edge): body.normals[face]
        for face in np.flatnonzero(beside).tolist()
        for edge in [[vertex for vertex in body.faces[face].tolist() if vertex in ring]]
    }

    def bend(cut: Ints) -> float:
        """How far the faces beside the rim turn to those of the cap, over all of it, mm."""
        out = 0.0
        points = body.vertices[ring]
        for one in cut.tolist():
            way = np.cross(points[one[1]] - points[one[0]], points[one[2]] - points[one[0]])
            way /= max(float(np.linalg.norm(way)), 1e-300)  # a cap may hold triangles of no area
            for a, b in pairwise([*one, one[0]]):
                other = normals.get(frozenset((int(ring[a]), int(ring[b]))))
                if other is not None:
                    out += float(np.linalg.norm(points[a] - points[b])) * (1.0 - abs(float(way @ other)))
        return out

    cuts = [plain, bulged(flat, heights, plain, True), bulged(flat, heights, plain, False)]
    return min(cuts, key=bend)


def _cone(tip_from: Floats, normal: Floats, radius: float) -> Mesh:
    """A cone sunk into the surface: its mouth a hair outside, its tip inward."""
    u, v = across(normal)
    turns = 2.0 * np.pi * np.arange(24) / 24
    lift = 0.05 * radius
    rim = tip_from + normal * lift + (radius + lift) * (np.cos(turns)[:, None] * u + np.sin(turns)[:, None] * v)
    points = np.concatenate([rim, [tip_from - normal * radius], [tip_from + normal * lift]])
    k, following = np.arange(24), np.roll(np.arange(24), -1)
    sides = np.stack([following, k, np.full(24, 24)], axis=1)
    top = np.stack([k, following, np.full(24, 25)], axis=1)
    return Mesh.of(points, np.concatenate([sides, top]))


def levelled(body: Mesh, place: tuple[float, float, float], radius_mm: float, line: int) -> tuple[Mesh, float]:
    """A worn place filled up to the plane round it; returns the body and the greatest thickness of filler, mm.

    The place is all that lies below that plane and hangs together with the point; it is closed by its own rim, so
    that filler stays in the dent. UserFault where there is no such plane, nothing to fill, or a place that runs out
    over an edge or beyond the radius.
    """
    at = np.array(place)
    gap = np.linalg.norm(body.vertices - at, axis=1)
    seed = nearest_face(body, place)
    normal, level = _plane_round(body, gap, radius_mm, body.normals[seed])
    sunk = level - body.vertices @ normal
    fine = LEVEL_SHARE * body.diagonal
    lower = sunk > fine
    low_faces = lower[body.faces].any(axis=1) & (gap[body.faces].min(axis=1) < 2.0 * radius_mm)
    if not low_faces[seed]:
        raise UserFault("Nothing lies below the face round it there.", "Point at the worn place itself.")
    facing = body.normals @ normal
    # first what looks up, as wear does; then with its steep sides, as a broken place has them
    dish, _ = _place(body, low_faces & (facing > LOOKS_UP), seed, sunk, fine)
    whole, closed_in = _place(body, low_faces & (facing > STEEP), seed, sunk, fine)
    faces = whole if closed_in else dish
    inside = distinct(body.faces[faces])
    if not len(faces) or float(gap[inside][lower[inside]].max(initial=0.0)) > radius_mm:
        raise UserFault(
            f"The worn place reaches farther than {radius_mm:g} mm from that point.",
            "Give a larger radius, or level it by hand.",
        )
    if float(sunk[inside].max()) > radius_mm:
        raise UserFault(
            "That place lies deeper than it is wide: it is no wear.",
            "Fill it as a hole, or point at the worn place itself.",
        )
    if not closed_in:
        return _over_an_edge(body, faces, sunk, normal, line), float(sunk[inside].max())
    loops = rims(body.faces[faces])
    caps = np.concatenate([capped(body, [loop]).caps for loop in loops])
    keep = np.ones(len(body.faces), bool)
    keep[faces] = False
    closed = np.concatenate([body.faces[keep], caps])
    tags = FaceTags.joined([body.tags.at(keep), FaceTags.of(len(caps), line=line)])
    used, numbers = np.unique(closed, return_inverse=True)
    made = Mesh.of(body.vertices[used], numbers.reshape(-1, 3), tags)
    if boolean.closed_solid(made) is None or made.volume < body.volume:
        raise UserFault("The worn place could not be closed by its rim.", "Level it by hand, or mend the model.")
    return made, float(sunk[inside].max())


def _place(body: Mesh, among: Bools, seed: int, sunk: Floats, fine: float) -> tuple[Ints, bool]:
    """The faces of ``among`` that hang together with the seed, and whether their rim lies in the plane all round."""
    start = np.zeros(len(body.faces), bool)
    start[seed] = among[seed]
    faces = touching(body, among, start)
    if not len(faces):
        return faces, False
    loops, opened = rim_loops(body.faces[faces])
    return faces, not opened and bool(loops) and all(float(np.abs(sunk[loop]).max()) <= fine for loop in loops)


def _over_an_edge(body: Mesh, faces: Ints, sunk: Floats, normal: Floats, line: int) -> Mesh:
    """Wear that runs out over an edge built up straight over itself: no metal is laid beside it."""
    worn = faces[body.normals[faces] @ normal > LOOKS_UP]
    if not len(worn):
        raise UserFault(
            "The worn place runs out over an edge, so no rim holds the filler.", "Level it by hand, or mend the model."
        )
    top = body.vertices + np.maximum(sunk, 0.0)[:, None] * normal
    bottom = body.vertices - normal * (ROOT * 50.0 * body.diagonal)
    made = joined_to(body, [shell(body.faces[worn], top, bottom)], line)
    most = float((body.areas[worn] * np.maximum(sunk[body.faces[worn]], 0.0).mean(axis=1)).sum())
    if made.volume - body.volume > 1.01 * most + ROOT * body.volume:
        raise UserFault(
            "The worn place could not be built up without metal beside it.", "Level it by hand, or mend the model."
        )
    return made


def _plane_round(body: Mesh, gap: Floats, radius_mm: float, way: Floats) -> tuple[Floats, float]:
    """The sound plane round a worn place: its normal (3,), that looks about where ``way`` does, and its height along
    it.

    Of the flat patches that come near the place the one of most area; farther ones only where there is none near.
    UserFault where there is none at all.
    """
    group = flat_groups(body, bends_of(body))
    size = np.bincount(group, body.areas)
    flat = size[group] > FLAT_PATCH * radius_mm**2
    area: Floats = np.zeros(1)
    for reach in (1.25, 3.0):
        near = (gap[body.faces].min(axis=1) < reach * radius_mm) & (body.normals @ way > 0.3) & flat
        area = np.asarray(np.bincount(group[near], body.areas[near], int(group.max()) + 1), np.float64)
        if near.any():
            break
    best = int(np.argmax(area))
    if area[best] <= 0.0:
        raise UserFault(
            "There is no sound face round that place to level it to.", "Point nearer to one, or lower the radius."
        )
    mine = group == best
    normal = np.einsum("i,ij->j", body.areas[mine], body.normals[mine])
    normal = normal / float(np.linalg.norm(normal))
    heights = body.vertices[distinct(body.faces[mine])] @ normal
    return normal, float(np.median(heights))
