"""Printed: pieces that fit the bed, cut where it hurts least where they do not, laid out, with plastic and time from
volume and settings.
"""

from dataclasses import dataclass, replace

import manifold3d
import numpy as np
import rectpack
import shapely

from pounce.base.errors import UserFault
from pounce.metals.tables import limits, series
from pounce.pattern import numbers
from pounce.pattern.dowels import BEHIND_MM, Face, face_of, pair, room, thickness
from pounce.pattern.making.layers import outline_at
from pounce.pattern.making.printed.hollow import Hollow
from pounce.pattern.making.printed.tongue import tongued
from pounce.pattern.making.values import Printed
from pounce.pattern.values import PLYWOOD, Hole, Piece
from pounce.solid import boolean
from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.section import cut
from pounce.solid.tree import build
from pounce.stock.letters import block, drafted

# Turns about the upright that are tried, degrees; places tried for a cut; how near the middle it must stay, as a share
# of the bed.
TURNS, PLACES = 5.0, 41
MOST_PIECES = 24
# So many cuts more are tried where fewer would run through text or a machined face.
MORE_CUTS = 1
# Dowels in a cut: their sizes, tried in turn, mm, and how far from an edge.
ENOUGH_POINTS = 200
CUT_DOWELS, CUT_EDGE = series()["bed_dowels"].sizes[::-1], limits()["bed_dowel_edge"].value


@dataclass(frozen=True)
class Settings:
    """The printer and its settings: ``bed_mm`` x, y and height, layer mm, walls (lines), inside %; ``tongue`` whether
    parts cut for the bed are joined by a tongue (else by dowels), ``numbers`` whether the cuts are numbered,
    ``solid`` whether all is filled, as resin is.
    """

    bed_mm: tuple[float, float, float]
    layer_mm: float
    walls: int
    inside_percent: float
    tongue: bool = False
    numbers: bool = True
    solid: bool = False


def prints_of(
    pieces: tuple[Piece, ...],
    settings: Settings,
    avoid: tuple[tuple[Floats, float], ...] = (),
    hollow: Hollow | None = None,
) -> tuple[Printed, ...]:
    """Every piece as it goes to the printer. ``avoid`` places (3,) of a piece's own frame and radii that no cut may
    come near to.

    UserFault where the bed takes nothing of use.
    """
    if min(settings.bed_mm) < 40.0:
        raise UserFault("A bed under 40 mm takes no pattern.", "Give the bed of the printer, 100 to 1000 mm.")
    out: list[Printed] = []
    for number, piece in enumerate(pieces):
        if piece.role in PLYWOOD:
            continue
        near = tuple((piece.on_laid(at), radius) for at, radius in avoid)
        near += tuple((piece.on_laid(hole.at_mm), hole.radius_mm + 4.0) for hole in piece.holes)
        parts = _parted(piece.laid, settings, near)
        for share, (mesh, turn) in enumerate(parts):
            name = piece.name if len(parts) == 1 else f"{piece.name}, part {share + 1} of {len(parts)}"
            role = piece.role if len(parts) == 1 else f"{piece.role}-part-{share + 1}"
            full = mesh.volume
            drains = 0
            if hollow is not None:  # after cutting, so that the cut keeps a face to glue
                mesh, drains = hollow.of(piece, mesh)
            turned = _turned(mesh, turn)
            plastic = plastic_mm3(turned, settings)
            minutes = minutes_for(plastic, float(turned.size[2]), settings)
            out.append(
                Printed(
                    name,
                    role,
                    number,
                    share + 1 if len(parts) > 1 else 0,
                    turned,
                    turn,
                    plastic,
                    minutes,
                    overhang_mm2(turned),
                    _outline(turned),
                    _upright(turned),
                    mesh,
                    full - mesh.volume,
                    drains,
                )
            )
    return _on_beds(out, settings)


def estimated(pieces: tuple[Piece, ...], settings: Settings) -> tuple[float, float, int]:
    """Plastic (mm3), minutes and beds that these pieces would take whole: enough to hold the printed way beside
    another.
    """
    plastic = minutes = area = 0.0
    for piece in pieces:
        own = plastic_mm3(piece.laid, settings)
        plastic += own
        minutes += minutes_for(own, float(piece.laid.size[2]), settings)
        area += float(piece.laid.size[0]) * float(piece.laid.size[1])
    return plastic, minutes, max(1, int(np.ceil(area / (settings.bed_mm[0] * settings.bed_mm[1]))))


def _outline(mesh: Mesh) -> Floats:
    """What is seen of it from above, by sections at a few heights."""
    heights = mesh.bounds[0, 2] + float(mesh.size[2]) * np.array([0.002, 0.1, 0.3, 0.6, 0.9])
    shape = shapely.unary_union([outline_at(mesh, float(height)) for height in heights])
    if shape.geom_type == "MultiPolygon":
        shape = max(shape.geoms, key=lambda one: one.area)
    if shape.geom_type != "Polygon" or shape.is_empty:
        shape = shapely.MultiPoint(mesh.vertices[:, :2]).convex_hull
    return np.array(shape.simplify(0.05).exterior.coords)


def _upright(mesh: Mesh) -> tuple[Floats, ...]:
    """The cut through its middle along its longest way, z up."""
    axis = int(np.argmax(mesh.size[:2]))
    u = np.eye(3)[axis] if axis == 0 else -np.eye(3)[axis]
    v = np.array([0.0, 0.0, 1.0])
    normal = np.cross(u, v)
    middle = float(normal @ mesh.bounds.mean(axis=0)) + 1e-4
    return tuple(loop for loop in cut(mesh, u, v, middle).loops if len(loop) > 3)


def _turned(mesh: Mesh, degrees: float) -> Mesh:
    turn = np.radians(degrees)
    c, s = float(np.cos(turn)), float(np.sin(turn))
    made = mesh.moved(np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]]), np.zeros(3))
    low, high = made.bounds
    return made.moved(np.eye(3), np.array([-(low[0] + high[0]) / 2.0, -(low[1] + high[1]) / 2.0, -low[2]]))


def turn_that_fits(mesh: Mesh, bed: Floats) -> float | None:
    """By how many degrees a piece is turned on the bed so that it fits: as it lies, else the least turn; None where
    none does.
    """
    if float(mesh.size[2]) > bed[2]:
        return None
    hull = np.array(shapely.MultiPoint(mesh.vertices[:, :2]).convex_hull.exterior.coords)
    for degrees in np.arange(0.0, 180.0, TURNS).tolist():
        turn = np.radians(degrees)
        x = hull @ np.array([np.cos(turn), -np.sin(turn)])
        y = hull @ np.array([np.sin(turn), np.cos(turn)])
        if float(np.ptp(x)) <= bed[0] and float(np.ptp(y)) <= bed[1]:
            return float(degrees)
    return None


def _parted(mesh: Mesh, settings: Settings, near: tuple[tuple[Floats, float], ...]) -> list[tuple[Mesh, float]]:
    """The piece whole with its turn, or cut across until every part fits."""
    margin = 2.0 * limits()["print_margin"].value
    bed = np.array([settings.bed_mm[0] - margin, settings.bed_mm[1] - margin, settings.bed_mm[2]])
    waiting, done = [mesh], []
    while waiting:
        one = waiting.pop(0)
        turn = turn_that_fits(one, bed)
        if turn is not None:
            done.append((one, turn))
            continue
        if len(waiting) + len(done) + 2 > MOST_PIECES:
            raise UserFault(
                "On this bed the pattern would fall into more than 24 parts.", "Give a larger bed, or build it in wood."
            )
        waiting = [*_cut(one, bed, near, settings, str(len(waiting) + len(done) + 1)), *waiting]
    return done


def _cut(
    mesh: Mesh, bed: Floats, near: tuple[tuple[Floats, float], ...], settings: Settings, number: str
) -> list[Mesh]:
    """The parts of a piece that is too large, cut square to the way it is too large in, with dowels or a tongue
    across.
    """
    over = mesh.size / bed
    axis = int(np.argmax(over))
    low, high = mesh.bounds
    # only what lies on this piece can be hurt by cutting it
    here = tuple((at, radius) for at, radius in near if ((at > low - radius) & (at < high + radius)).all())
    count = int(np.ceil(float(over[axis]) - 1e-9))
    best: tuple[float, float, int] | None = None
    for parts in range(count, count + MORE_CUTS + 1):
        found = _place(mesh, axis, float(bed[axis]), parts, here)
        if found is not None and (best is None or found[2] < best[2]):
            best = found
        if best is not None and best[2] == 0:
            break  # a cut more is only worth it where fewer would hurt something
    if best is None:
        raise UserFault(
            "The pattern is too large for the bed and could not be cut.", "Give a larger bed, or build it in wood."
        )
    normal = np.eye(3)[axis]
    solid = boolean.closed_solid(mesh)
    if solid is None:
        raise UserFault("A piece of the pattern came out open, so it cannot be cut for the bed.", "Part it elsewhere.")
    place = best[1]
    upper, lower = boolean.split(solid, normal, place)
    face = face_of(mesh, normal, place, 0.0)
    holes = [] if settings.tongue and axis < 2 else _cut_dowels(face, mesh)
    for hole in holes:
        pin = boolean.rod(hole.at_mm - normal * hole.depth_mm, normal, 2.0 * hole.depth_mm, hole.radius_mm)
        upper, lower = upper - pin, lower - pin
    if settings.tongue and axis < 2:
        upper, lower = tongued(upper, lower, solid, mesh, axis, place)
    if settings.numbers:
        spot = numbers.place_for(face, build(mesh), holes)
        if spot is not None:
            upper = upper - numbers.tool(face, spot[0], spot[1], number, normal)
            lower = lower - numbers.tool(face, spot[0], spot[1], number, -normal)
    out = []
    for half in (lower, upper):
        out += [boolean.as_mesh(part, mesh.tags) for part in boolean.checked(half, "Cutting for the bed").decompose()]
    return [one for one in out if one.volume > 1.0]


def _place(
    mesh: Mesh, axis: int, bed: float, count: int, near: tuple[tuple[Floats, float], ...]
) -> tuple[float, float, int] | None:
    """What the best cut toward ``count`` parts costs, where it lies, and how many places it hurts; None where
    nothing can be cut.
    """
    low, high = float(mesh.bounds[0, axis]), float(mesh.bounds[1, axis])
    share = (high - low) / count
    middle = low + share if count > 2 else (low + high) / 2.0
    reach = min(0.35 * share, bed - share) if bed > share else 0.1 * share
    u, v = np.eye(3)[(axis + 1) % 3], np.eye(3)[(axis + 2) % 3]
    best: tuple[float, float, int] | None = None
    for place in (middle + np.linspace(-reach, reach, PLACES)).tolist():
        loops = [loop for loop in cut(mesh, u, v, place).loops if len(loop) > 3]
        area = abs(sum(_area(loop) for loop in loops))
        if area <= 1.0:
            continue
        length = sum(float(np.linalg.norm(np.diff(loop, axis=0), axis=1).sum()) for loop in loops)
        hurts = sum(abs(float(at[axis]) - place) < radius for at, radius in near)
        # a long outline for its area is detail that is cut through; a small area glues badly; so do holes in the way
        cost = (
            length / np.sqrt(area)
            + 2.0 * abs(place - middle) / max(reach, 1e-9)
            + 20.0 * hurts
            + 200.0 / max(np.sqrt(area), 1.0)
        )
        if best is None or cost < best[0]:
            best = (cost, place, hurts)
    return best


def _cut_dowels(face: Face, mesh: Mesh) -> list[Hole]:
    """Two glued dowels in a cut where there is room; their depth holds each way."""
    tree = build(mesh)
    glue = limits()["dowel_glue_clearance"].value
    for thick in CUT_DOWELS:
        points = room(face, thick / 2.0, CUT_EDGE)
        if not len(points):
            continue
        deep = np.minimum(
            thickness(face, tree, points, thick / 2.0, 1.0), thickness(face, tree, points, thick / 2.0, -1.0)
        )
        fits = deep > limits()["bed_dowel_deep"].low * thick + BEHIND_MM
        points, deep = points[fits], deep[fits]
        # the pairs of a few hundred points are as good as those of thousands, and are found at once
        some = slice(None, None, max(1, len(points) // ENOUGH_POINTS))
        points, deep = points[some], deep[some]
        chosen = pair(points, face.shape)
        if chosen is None or float(np.linalg.norm(points[chosen[0]] - points[chosen[1]])) < 2.5 * thick:
            continue
        return [
            Hole(
                "dowel",
                face.space(points[k : k + 1])[0],
                face.direction,
                (thick + glue) / 2.0,
                float(min(limits()["bed_dowel_deep"].value * thick, deep[k] - BEHIND_MM)),
            )
            for k in chosen.tolist()
        ]
    return []


def plastic_mm3(mesh: Mesh, settings: Settings) -> float:
    """Material used: walls all round at the line's width, the rest filled by the share; never more than the solid."""
    if settings.solid:
        return float(abs(mesh.volume))
    skin = mesh.area * settings.walls * limits()["print_line"].value
    inner = max(abs(mesh.volume) - skin, 0.0)
    return float(min(abs(mesh.volume), skin + inner * settings.inside_percent / 100.0))


def minutes_for(plastic_mm3: float, tall_mm: float, settings: Settings) -> float:
    """Printing time: the material at the mean flow, and a pause at each layer."""
    layers = np.ceil(tall_mm / settings.layer_mm)
    return float(
        plastic_mm3 / limits()["print_flow"].value / 60.0 + layers * limits()["print_layer_pause"].value / 60.0
    )


def overhang_mm2(mesh: Mesh) -> float:
    """Area that hangs over more than prints without support, clear of the bed. Holes and chambers, made by tools,
    roof themselves.
    """
    steep = mesh.normals[:, 2] < -np.sin(np.radians(90.0 - limits()["print_overhang"].value))
    clear = mesh.corners[:, :, 2].max(axis=1) > 0.5
    return float(mesh.areas[steep & clear & ~mesh.tags.made_by_tools].sum())


def on_end(prints: tuple[Printed, ...], settings: Settings) -> tuple[float, float]:
    """What hangs over (mm2) and the minutes it takes when every print stands on the end of its longest way instead."""
    over = minutes = 0.0
    for core_print in prints:
        axis = int(np.argmax(core_print.mesh.size[:2]))
        stood = core_print.mesh.moved(turn_to_z(np.eye(3)[axis]), np.zeros(3))
        stood = stood.moved(np.eye(3), np.array([0.0, 0.0, -float(stood.bounds[0, 2])]))
        over += overhang_mm2(stood)
        minutes += minutes_for(core_print.plastic_mm3, float(stood.size[2]), settings)
    return over, minutes


def stair_mm(layer_mm: float, draft_deg: float) -> float:
    """Tread of the stair that layers of this height leave on a wall of this draft, when the layers lie across the
    draw.
    """
    return float(layer_mm * np.tan(np.radians(draft_deg)))


def _on_beds(prints: list[Printed], settings: Settings) -> tuple[Printed, ...]:
    """The prints set out on as few beds as hold them."""
    margin = limits()["print_margin"].value
    packer = rectpack.newPacker(rotation=False)
    for k, one in enumerate(prints):
        packer.add_rect(*[int(np.ceil(10.0 * (float(v) + margin))) for v in one.mesh.size[:2]], k)
    packer.add_bin(*[int(10.0 * (side - margin)) for side in settings.bed_mm[:2]], count=float("inf"))
    packer.pack()
    out = list(prints)
    for bed, x, y, w, h, k in packer.rect_list():
        at = ((x + w / 2.0) / 10.0 + margin / 2.0, (y + h / 2.0) / 10.0 + margin / 2.0)
        out[k] = replace(out[k], bed=int(bed), at_mm=at)
    return tuple(out)


def test_piece(draft_deg: float, fillet_mm: float, grain_mm: float, letters: list[Floats]) -> Mesh:
    """A small block to try in the user's own sand: drafted sides, an inside corner with the fillet, and letters on top.

    ``letters`` outlines of the word at a capital height of 1, from the typeface.
    """
    lean = float(np.tan(np.radians(draft_deg)))
    base, step = _frustum(60.0, 40.0, 10.0, lean, 0.0), _frustum(26.0, 34.0, 14.0, lean, 9.9)
    step = step.translate([-14.0, 0.0, 0.0])
    made = base + step + _corner_fillet(step_side=-14.0 + 13.0, width=30.0, floor=10.0, radius=fillet_mm)
    tall = max(5.0 * grain_mm, 0.6)
    for letter in drafted([loop * 9.0 for loop in letters], tall):
        letterform = block(letter, tall, raised=True)
        made = made + boolean.tool_solid(letterform.vertices, letterform.faces).translate([15.0, 0.0, 10.0])
    return boolean.bare_mesh(boolean.checked(made, "Making the test piece"))


def _frustum(long: float, wide: float, tall: float, lean: float, at: float) -> boolean.Solid:
    less = 2.0 * lean * tall
    return manifold3d.Manifold.extrude(
        manifold3d.CrossSection.square((long, wide), True), tall, 0, 0.0, ((long - less) / long, (wide - less) / wide)
    ).translate([0.0, 0.0, at])


def _corner_fillet(step_side: float, width: float, floor: float, radius: float) -> boolean.Solid:
    """The material of an inside corner between a floor and an upright wall at x = ``step_side``."""
    block = manifold3d.Manifold.cube([radius + 1.0, width, radius + 1.0]).translate(
        [step_side - 1.0, -width / 2.0, floor - 1.0]
    )
    round_off = boolean.rod(
        np.array([step_side + radius, -width, floor + radius]), np.array([0.0, 1.0, 0.0]), 2.0 * width, radius
    )
    return block - round_off


def upright(mesh: Mesh, up: Floats) -> Mesh:
    """A mesh turned so that ``up`` looks along z."""
    return mesh.moved(turn_to_z(up), np.zeros(3))


def _area(points: Floats) -> float:
    x, y = points[:, 0], points[:, 1]
    return 0.5 * float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y))
