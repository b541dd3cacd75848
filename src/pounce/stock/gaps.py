"""A gap between walls filled: a slot of sand too slender to stand and too thin for a core is cast solid, and sawn or
milled after casting.

The walls are cut across just under the lower of their rims. There the gap is what a disc that just does not pass
between them cannot reach (a closing of the section, Serra 1982), straight across where it opens at its ends; the metal
stands on it from rim to floor, or from rim to rim of a gap that goes through. Gaps of the same make are one piece of
work, so that those like the one pointed at are filled with it.
"""

from dataclasses import dataclass, replace

import manifold3d
import numpy as np
import shapely
from shapely.errors import GEOSException
from shapely.geometry.base import BaseGeometry

from pounce.base.errors import UserFault
from pounce.metals.tables import limits
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.evenodd import outline_of
from pounce.solid.facing import narrowest
from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.pick import nearest_face
from pounce.solid.section import cut
from pounce.solid.tree import tree_of

# Said where nothing lies that can be filled, and what to do about it.
NOTHING_TO_FILL = "Only round holes, grooves, undercuts and gaps between walls are filled.", "Point at the wall of one."
NO_RIM = "The gap at that place has no clear rim.", "Fill it where it is drawn, or make a core."
# Heights at which walls are looked for, at most.
LEVELS = 240
# Up to its rim a gap may widen by draft: to this share of its width at the place pointed at.
WIDENS = 1.6
# Less than this share of its width, squared, is a corner that the disc rounds.
LEAST = 0.5
# A place on a wall is moved off it by this share of the diagonal.
NEAR = 1e-4
# How far under a rim it is cut across, as a share of its depth; how deep the metal roots in its walls and floor, mm.
UNDER, ROOT_MM = 1e-4, 0.01
# The disc is so much wider than the gap.
CLOSES = 1.05
# The disc has four times so many corners.
ROUND = 24
# The floor is looked for at so many places a side.
LOOKS = 24
# Corners off the walls by more than this are of the disc's own round, mm; facets of a hollow wall that it does not
# reach into are filled with a disc of this share of the width.
OFF_MM, FACETS = 1e-6, 0.1
# Its corners are those of the walls when they lie within this share of the width.
SNAP = 3e-3
# Lengths are the same within this share.
SAME = 1e-3


@dataclass(frozen=True, eq=False)
class Gap:
    """A gap across the draw: its outline (in the draw's u and v), from ``low_mm`` to ``high_mm`` along the draw,
    ``wide_mm`` across at its middle, and whether a ``floor`` or a ``roof`` closes an end of it.
    """

    outline: shapely.Polygon
    low_mm: float
    high_mm: float
    wide_mm: float
    floor: bool
    roof: bool

    @property
    def deep_mm(self) -> float:
        """From end to end."""
        return self.high_mm - self.low_mm


@dataclass(frozen=True)
class _Stretch:
    """Along the draw through a place in the air, where walls stand on both sides: from, to, whether there is a floor
    under it and a ceiling over it, and how wide it is at the place.
    """

    low_mm: float
    high_mm: float
    floor: bool
    roof: bool
    wide_mm: float


def gaps_at(body: Mesh, at_mm: tuple[float, float, float], direction: Floats) -> list[Gap]:
    """The gap in whose air a place lies, or on a wall of it, and those of its make, it first. UserFault where no two
    walls look at each other there, it is shut in, or so wide that it is a hollow.
    """
    place = _in_air(body, at_mm)
    seen = _stretch(body, place, direction)
    if seen is None:
        raise UserFault(*NOTHING_TO_FILL)
    most = limits()["bore_solid"].high
    if seen.wide_mm > most:
        raise UserFault(
            f"What lies there is {seen.wide_mm:.0f} mm wide: a hollow, no gap to be cast solid.",
            "Make a core there, or let the green sand make it.",
        )
    try:
        return _found(body, place, seen, direction)
    except GEOSException:
        raise UserFault(*NO_RIM) from None


def _found(body: Mesh, place: Floats, seen: _Stretch, direction: Floats) -> list[Gap]:
    turn = turn_to_z(direction)
    x, y, _ = (turn @ place).tolist()
    at_rim = np.array([x, y, _cut_at(seen)]) @ turn
    wide = float(narrowest(body, at_rim[None], direction)[0][0])
    metal = outline_of(cut(body, turn[0], turn[1], _cut_at(seen)).loops)
    # one that opens like a wedge is filled to where it is so wide that it is no longer cast solid
    radius = 0.5 * max(CLOSES * (wide if np.isfinite(wide) else seen.wide_mm), limits()["slot_solid"].value)
    closed = metal.buffer(radius, ROUND).buffer(-radius, ROUND)
    pieces = [one for one in shapely.get_parts(closed.difference(metal)) if one.area > LEAST * seen.wide_mm**2]
    here = shapely.Point(x, y)
    pieces.sort(key=lambda one: float(one.distance(here)))
    if not pieces or float(pieces[0].distance(here)) > SAME * seen.wide_mm:
        raise UserFault(*NO_RIM)
    out = []
    for nth, piece in enumerate(pieces):
        own: _Stretch | None = seen
        if nth:
            inner = piece.representative_point()
            own = _stretch(body, np.array([inner.x, inner.y, 0.5 * (seen.low_mm + seen.high_mm)]) @ turn, direction)
            if own is None or (own.floor, own.roof) != (seen.floor, seen.roof) or not _alike(own, seen):
                continue
        assert own is not None
        outline = _outline(piece, metal, seen.wide_mm)
        if not outline.is_empty:
            own = _lowest(body, outline, own, turn)
            out.append(Gap(outline, own.low_mm, own.high_mm, own.wide_mm, own.floor, own.roof))
        elif not nth:
            raise UserFault(*NO_RIM)
    return out


def in_metal(body: Mesh, place: Floats, direction: Floats) -> bool:
    """Whether a place (3,) lies in the metal of a closed body, as in a gap that is filled already."""
    hit = int(tree_of(body).nearest(place[None], direction)[1][0])
    return hit >= 0 and float(body.normals[hit] @ direction) > 0.0


def metal_for(body: Mesh, gap: Gap, direction: Floats) -> Mesh:
    """The metal that fills a gap, as a closed mesh rooted in its walls and floor."""
    turn = turn_to_z(direction)
    shape = shapely.geometry.polygon.orient(gap.outline)
    rings = [np.asarray(ring.coords)[:-1] for ring in (shape.exterior, *shape.interiors)]
    prism = manifold3d.CrossSection(rings, manifold3d.FillRule.EvenOdd).extrude(gap.deep_mm)
    prism = prism.translate([0.0, 0.0, gap.low_mm]).transform(np.column_stack([turn.T, np.zeros(3)]))
    out = boolean.closed_solid(body)
    if out is None:
        raise UserFault("The part's shell is open, so nothing can be added to it.", "Close it where it is drawn.")
    # where the floor is thinner than it is uneven the prism would stand out under it
    under = [one for one in (prism - out).decompose() if not _reaches(one, gap, direction)]
    return boolean.bare_mesh(boolean.without(prism, under) if under else prism)


def _reaches(piece: Solid, gap: Gap, direction: Floats) -> bool:
    """Whether a piece of a gap reaches a mouth of it."""
    along = np.asarray(piece.to_mesh64().vert_properties)[:, :3] @ direction
    slack = SAME * gap.deep_mm
    above, below = float(along.max()) > gap.high_mm - slack, float(along.min()) < gap.low_mm + slack
    return (above and not gap.roof) or (below and not gap.floor)


def _in_air(body: Mesh, at_mm: tuple[float, float, float]) -> Floats:
    """(3,) the place, off the wall that it lies on."""
    place, off = np.array(at_mm), NEAR * body.diagonal
    face = nearest_face(body, at_mm)
    away = float((place - body.corners[face, 0]) @ body.normals[face])
    return place + (off - away) * body.normals[face] if abs(away) < off else place


def _stretch(body: Mesh, place: Floats, direction: Floats) -> _Stretch | None:
    """Where walls stand on both sides along the draw through a place in the air; None where they do not at the place
    itself, or a floor and a roof shut it in.
    """
    wide, _ = narrowest(body, place[None], direction)
    if not np.isfinite(wide[0]) or in_metal(body, place, direction):
        return None
    far, hit = tree_of(body).nearest(np.stack([place, place]), np.stack([-direction, direction]))
    floor, roof = (bool(one) for one in hit >= 0)
    here, heights = float(place @ direction), body.vertices @ direction
    low = here - float(far[0]) if floor else float(heights.min())
    high = here + float(far[1]) if roof else float(heights.max())
    between_them = heights[(heights > low) & (heights < high)]
    levels = np.unique(np.round(np.r_[low, between_them, high], 6)).astype(float)
    if len(levels) > LEVELS:
        levels = np.linspace(low, high, LEVELS)
    middles = 0.5 * (levels[1:] + levels[:-1])
    across_mm, _ = narrowest(body, place + np.outer(middles - here, direction), direction)
    stands = across_mm < WIDENS * float(wide[0])
    at = int(np.clip(np.searchsorted(levels, here) - 1, 0, len(middles) - 1))
    if not stands[at]:
        return None
    first = at - int(np.argmin(np.r_[stands[: at + 1][::-1], False])) + 1
    last = at + int(np.argmin(np.r_[stands[at:], False])) - 1
    floor, roof = floor and first == 0, roof and last == len(middles) - 1
    if floor and roof:
        return None
    return _Stretch(float(levels[first]), float(levels[last + 1]), floor, roof, float(wide[0]))


def _cut_at(seen: _Stretch) -> float:
    """The height just inside of its mouth."""
    under = UNDER * (seen.high_mm - seen.low_mm)
    return seen.low_mm + under if seen.roof else seen.high_mm - under


def _alike(one: _Stretch, other: _Stretch) -> bool:
    deep, near = other.high_mm - other.low_mm, limits()["gaps_alike"].value
    ends = abs(one.low_mm - other.low_mm) + abs(one.high_mm - other.high_mm)
    return ends < near * deep and abs(one.wide_mm - other.wide_mm) < near * other.wide_mm


def _lowest(body: Mesh, outline: BaseGeometry, seen: _Stretch, turn: Floats) -> _Stretch:
    """The stretch, down to the lowest floor within the outline, or up to the highest roof."""
    if not (seen.floor or seen.roof):
        return seen
    x, y = (np.linspace(low, high, LOOKS) for low, high in np.reshape(outline.bounds, (2, 2)).T)
    flat = np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)
    flat = flat[shapely.contains_xy(outline, flat[:, 0], flat[:, 1])]
    if not len(flat):
        return seen
    places = np.column_stack([flat, np.full(len(flat), _cut_at(seen))]) @ turn
    far, hit = tree_of(body).nearest(places, -turn[2] if seen.floor else turn[2])
    deep = float(far[hit >= 0].max(initial=0.0)) + ROOT_MM
    if seen.floor:
        return replace(seen, low_mm=min(seen.low_mm - ROOT_MM, _cut_at(seen) - deep))
    return replace(seen, high_mm=max(seen.high_mm + ROOT_MM, _cut_at(seen) + deep))


def _outline(piece: shapely.Polygon, metal: BaseGeometry, wide_mm: float) -> BaseGeometry:
    """A gap's outline rooted in its walls, and straight across from wall to wall where it opens; empty where it hardly
    touches them.
    """
    near = metal.intersection(piece.buffer(wide_mm))
    outer, *inner = (_on_walls(ring, metal) for ring in (piece.exterior, *piece.interiors))
    if outer is None:
        return shapely.Polygon()
    inner = [ring for ring in inner if ring is not None]
    # the disc has corners itself, and touches those of the walls nearly
    shape = shapely.snap(shapely.Polygon(outer, inner), near, SNAP * wide_mm).buffer(0.0)
    both = shape.union(near)
    slits = both.buffer(FACETS * wide_mm).buffer(-FACETS * wide_mm).difference(both)
    real = [one for one in shapely.get_parts(slits) if one.area > OFF_MM * one.length and one.distance(shape) < OFF_MM]
    thin = [slit for slit in real if slit.buffer(-0.5 * ROOT_MM).is_empty]
    shape = shapely.union_all([shape, *thin])
    rooted = shape.union(metal.intersection(shape.buffer(ROOT_MM)))
    return max(shapely.get_parts(rooted), key=lambda one: float(one.area), default=shapely.Polygon())


def _on_walls(ring: shapely.LinearRing, metal: BaseGeometry) -> Floats | None:
    """The corners of a ring that lie on the walls; None where fewer than three do."""
    points = np.asarray(ring.coords)[:-1]
    on = shapely.distance(metal.boundary, shapely.points(points)) < OFF_MM
    return points[on] if int(on.sum()) > 2 else None
