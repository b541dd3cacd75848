"""The room inside a hollow piece: what a printed half saves, and the hollow back of a metal pattern.

Worked on level cuts of the laid piece: at every height the outline is taken in by the wall, over as much height as
the wall reaches, and ribs and bosses are left standing. A printed piece gets chambers that roof over by themselves;
a metal one a hollow that its own green sand draws from.
"""

from dataclasses import dataclass
from typing import Any, TypeAlias

import manifold3d
import numpy as np

from pounce.metals.tables import limits
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.weld import welded

Section: TypeAlias = Any  # manifold3d.CrossSection, which has no types
_Section = manifold3d.CrossSection
# Steps of height a cavity is built of: no finer than this, and no more of them.
FINEST_MM, MOST_STEPS = 1.0, 48
# Steps overlap by so much, or their faces would leave films, mm.
LAP_MM = 0.01
# Lines of a room may be moved so far to be rid of points; the wall is more than that, mm.
PLAIN_MM, GRID = 0.02, 3
# Corners nearer than this are one in a file of single precision.
WELD_MM = 1e-4
# A drain hole keeps so far from its chamber's walls: touching them it would leave edges of four faces.
ASIDE_MM = 0.3
# A chamber smaller than this gains nothing, mm3; narrower than this it is left full, mm.
LEAST_MM3, NARROW_MM = 400.0, 4.0
ARC = 24
ROUND = manifold3d.JoinType.Round


@dataclass(frozen=True, eq=False)
class Shape:
    """How a piece is hollowed: ``wall_mm``; ribs of ``rib_mm`` every ``pitch_mm`` (0: none); ``floor_mm`` left over the
    joint (0: open); ``lean`` the least a wall leans in for every mm of height (0: none), ``roofs`` whether it must
    print without support inside; ``keep`` (k, 3) x, y and radius of bosses that stay full.
    """

    wall_mm: float
    rib_mm: float
    pitch_mm: float
    floor_mm: float
    lean: float
    roofs: bool
    keep: Floats


def rib_pitch(wall_mm: float, modulus_mpa: float) -> float:
    """How far ribs may stand apart, mm, so that the wall between them gives way no more than the table allows while it
    is rammed.

    A square plate held all round: w = k p a^4 / D with D = E t^3 / (12 (1 - nu^2)), nu 0.3 (Timoshenko; k stands in
    the table).
    """
    figures = limits()
    stiff = modulus_mpa * wall_mm**3 / (12.0 * (1.0 - 0.3**2))
    pressure = figures["ram_pressure"].value * 1e-3
    return float((figures["hollow_flex"].value * stiff / (figures["plate_flex"].value * pressure)) ** 0.25)


def chambers(mesh: Mesh, shape: Shape) -> list[Solid]:
    """The chambers of a laid piece (joint at z = 0), each a solid; none where there is no room."""
    solid = boolean.closed_solid(mesh)
    if solid is None:
        return []
    high = float(mesh.bounds[1, 2])
    low = max(shape.floor_mm, float(mesh.bounds[0, 2]))
    top = high - shape.wall_mm
    if top - low < FINEST_MM:
        return []
    step = max(FINEST_MM, (high - low) / MOST_STEPS)
    count = max(1, int((top - low) / step))
    heights = low + step * np.arange(count)
    sections = _sections(solid, mesh, low, step, count, shape)
    keep = _kept(mesh, shape)
    rooms = [_plain(_room(sections, index, step, shape.wall_mm) - keep) for index in range(count)]
    rooms = _roofed(rooms, step) if shape.roofs else _leaned(rooms, step * shape.lean)
    prisms = []
    for height, room in zip(heights.tolist(), rooms, strict=True):
        if room.area() < NARROW_MM**2:
            continue
        start, tall = (height, step + LAP_MM)
        if shape.floor_mm <= 0.0 and height <= low + 1e-9:
            start, tall = height - 1.0, tall + 1.0
        prisms.append(room.extrude(tall).translate([0.0, 0.0, start]))
    if not prisms:
        return []
    whole = manifold3d.Manifold.batch_boolean(prisms, manifold3d.OpType.Add)
    return [one for one in whole.decompose() if one.volume() > LEAST_MM3]


def hollowed(mesh: Mesh, shape: Shape, drains: bool) -> tuple[Mesh, int]:
    """The laid piece without its chambers, and how many drain holes through its joint they got.

    ``drains``: every chamber gets two holes far apart, so that resin runs out through one while air comes in by the
    other. They pierce the joint, which is no moulding face.
    """
    found = chambers(mesh, shape)
    solid = boolean.closed_solid(mesh)
    if not found or solid is None:
        return mesh, 0
    holes: list[Solid] = []
    if drains:
        places = [_far_apart(found_one, shape.floor_mm) for found_one in found]
        # a chamber that nothing would run out of is left full
        found = [one for one, spots in zip(found, places, strict=True) if spots]
        holes = [
            boolean.rod(
                np.array([x, y, -1.0]),
                np.array([0.0, 0.0, 1.0]),
                shape.floor_mm + 2.0,
                limits()["drain_hole"].value / 2.0,
            )
            for spots in places
            for x, y in spots
        ]
        if not found:
            return mesh, 0
    made = boolean.without(solid, [*found, *holes])
    return welded(boolean.as_mesh(made, mesh.tags), WELD_MM), len(holes)


def _sections(solid: Solid, mesh: Mesh, low: float, step: float, count: int, shape: Shape) -> list[Section]:
    """Cuts of the solid from one wall under the first step to one wall over the last, ``step`` apart; index 0 lies
    at the lowest.
    """
    reach = int(np.ceil(shape.wall_mm / step))
    inside = 1e-4
    heights = low + step * (np.arange(-reach, count + reach + 1))
    first, last = float(mesh.bounds[0, 2]) + inside, float(mesh.bounds[1, 2]) - inside
    # below the joint there is no face of the mould: the cut at the joint stands for it
    return [_Section() if h > last else _plain(solid.slice(float(max(h, first)))) for h in heights]


def _room(sections: list[Section], index: int, step: float, wall_mm: float) -> Section:
    """What lies at least a wall from every face, between the cuts ``index`` and ``index + 1``."""
    reach = int(np.ceil(wall_mm / step))
    out: Section | None = None
    for other in range(index, index + 2 * reach + 2):
        gap = max(index + reach - other, other - (index + reach + 1), 0) * step
        if gap >= wall_mm:
            continue
        taken = sections[other].offset(-float(np.sqrt(wall_mm**2 - gap**2)), ROUND, 2.0, ARC)
        out = taken if out is None else _plain(out ^ taken)
        if out.is_empty():
            break
    # too narrow to be worth it, or to let a nozzle pass
    out = _Section() if out is None else out
    return _plain(_plain(out.offset(-NARROW_MM / 2.0, ROUND, 2.0, ARC)).offset(NARROW_MM / 2.0, ROUND, 2.0, ARC) ^ out)


def _plain(section: Section) -> Section:
    """The same section without the points that offsets and cuts strew along its lines, on a grid: steps whose outlines
    coincide must do so exactly, or the faces between them come out doubled.
    """
    loops = [np.round(np.asarray(loop), GRID) for loop in section.simplify(PLAIN_MM).to_polygons()]
    return _Section(loops, manifold3d.FillRule.EvenOdd) if loops else _Section()


def _kept(mesh: Mesh, shape: Shape) -> Section:
    """Ribs and bosses, seen from above."""
    parts = []
    (x0, y0, _), (x1, y1, _) = mesh.bounds
    if shape.pitch_mm > 0.0:
        for at, long, across in ((0, x1 - x0, y1 - y0), (1, y1 - y0, x1 - x0)):
            count = int(np.ceil(long / shape.pitch_mm)) - 1
            for k in range(1, count + 1):
                middle = (x0 if at == 0 else y0) + long * k / (count + 1)
                size = (shape.rib_mm, across + 2.0) if at == 0 else (across + 2.0, shape.rib_mm)
                place = (middle, (y0 + y1) / 2.0) if at == 0 else ((x0 + x1) / 2.0, middle)
                parts.append(_Section.square(size, True).translate(place))
    parts += [
        _Section.circle(float(r) / float(np.cos(np.pi / ARC)), ARC).translate((float(x), float(y)))
        for x, y, r in shape.keep
    ]
    return _Section.batch_boolean(parts, manifold3d.OpType.Add) if parts else _Section()


def _roofed(rooms: list[Section], step: float) -> list[Section]:
    """The rooms so narrowed that each roofs itself at 45 degrees over the one below, but for a bridge the printer
    spans.
    """
    bridge = limits()["hollow_bridge"].value / 2.0
    out: list[Section] = [_Section()] * len(rooms)
    above = _Section()
    for index in range(len(rooms) - 1, -1, -1):
        grown = above.offset(step, ROUND, 2.0, ARC) if not above.is_empty() else _Section()
        allowed = rooms[index] ^ grown
        for part in rooms[index].decompose():
            if (part ^ above).is_empty():
                allowed = allowed + part.offset(-max(_inner(part) - bridge, 0.0), ROUND, 2.0, ARC)
        out[index] = _plain(allowed)
        above = out[index]
    return out


def _inner(part: Section) -> float:
    """Half the width of a part where it is widest, mm, to a tenth."""
    low, high = 0.0, float(np.sqrt(part.area() / np.pi)) + 0.1
    while high - low > 0.1:
        middle = (low + high) / 2.0
        if part.offset(-middle, ROUND, 2.0, ARC).is_empty():
            high = middle
        else:
            low = middle
    return low


def _leaned(rooms: list[Section], lean: float) -> list[Section]:
    """The rooms so narrowed that each lies within the one below, less what the wall leans over a step."""
    out: list[Section] = []
    for room in rooms:
        below = out[-1].offset(-lean, ROUND, 2.0, ARC) if out else room
        out.append(_plain(room ^ below))
    return out


def _far_apart(chamber: Solid, floor_mm: float) -> list[tuple[float, float]]:
    """Two places in the floor of a chamber, far apart; one where it is small, none where it is narrower than a hole."""
    figures = limits()
    floor = chamber.slice(float(floor_mm) + LAP_MM).offset(
        -figures["drain_hole"].value / 2.0 - ASIDE_MM, ROUND, 2.0, ARC
    )
    points = [np.asarray(loop) for loop in floor.to_polygons()]
    if not points:
        return []
    every = np.concatenate(points)
    gap = np.linalg.norm(every[:, None] - every[None], axis=2)
    i, j = np.unravel_index(int(np.argmax(gap)), gap.shape)
    two = [(float(every[i][0]), float(every[i][1]))]
    if gap[i, j] > 2.0 * figures["drain_hole"].value:
        two.append((float(every[j][0]), float(every[j][1])))
    return two
