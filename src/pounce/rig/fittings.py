"""What goes into a mould besides metal: vents led out of the flask, vents at far ends, keys of a block without one."""

from dataclasses import replace

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from pounce.metals.pouring import pouring
from pounce.rig.flasking import Rigged
from pounce.rig.item import Item, placed, polygons, turned_point
from pounce.rig.lines import wall_of
from pounce.rig.solids import LAP_MM
from pounce.rig.values import Key, Lead, LeadKind, Spot
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.tree import tree_of

# An end lies at least this share of the farthest way from every gate; ends, and ends and high points, this share of
# the casting's size apart; at most so many to a casting.
FAR_SHARE, APART_SHARE, MOST_ENDS = 0.5, 0.25, 3
# What lies this far inside an end is looked at from above, mm; prints smaller than this are none, mm2.
INSIDE_MM, LEAST_PRINT_MM2 = 1.5, 4.0
# A core's end lies beyond the metal when it stands out by this much, mm.
BEYOND_MM = 0.5
# Ways out of a print are looked for all round in so many directions.
WAYS = 72
# A key is tapered to this share of its foot; one of them stands this many diameters off its corner.
KEY_TOP, KEY_HIGH, KEY_OFF = 0.7, 0.45, 1.6
# An offset basin reaches so far behind the sprue, in its width.
SHELF = 0.6


def ends_of(item: Item, gates: Floats, tops: Floats) -> Floats:
    """(k, 3) far ends of the metal in the item's frame, each on top of it: farthest from the gates (n, 2) first,
    without those near a high point (m, 3).
    """
    shape = item.metal_plan
    corners = shapely.get_coordinates(shape.buffer(-INSIDE_MM).convex_hull)
    if not len(corners) or not len(gates):
        return np.zeros((0, 3))
    x0, y0, x1, y1 = shape.bounds
    size = float(np.hypot(x1 - x0, y1 - y0))
    far = np.linalg.norm(corners[:, None] - gates[None], axis=2).min(axis=1)
    held = [np.asarray(top[:2]) for top in tops]
    out: list[Floats] = []
    for k in np.argsort(-far, kind="stable").tolist():
        if far[k] < FAR_SHARE * far.max() or len(out) == MOST_ENDS:
            break
        near = [*held, *out]
        if near and min(float(np.linalg.norm(corners[k] - one[:2])) for one in near) < APART_SHARE * size:
            continue
        top = _top(item.metal_mesh, corners[k])
        if top is not None:
            out.append(np.array([*corners[k], top]))
    return np.array(out).reshape(-1, 3)


def _top(mesh: Mesh, at: Floats) -> float | None:
    high = float(mesh.bounds[1, 2]) + 1.0
    far, face = tree_of(mesh).nearest(np.array([[*at, high]]), np.array([[0.0, 0.0, -1.0]]))
    return high - float(far[0]) if face[0] >= 0 else None


def core_leads(items: tuple[Item, ...], rig: Rigged) -> tuple[Lead, ...]:
    """Where each core's vent leaves the mould: at prints in the joint along it to the wall, else up through the cope
    or down through the drag; the item of each casting.
    """
    barred, inside = _barred(rig), wall_of(rig.flask)
    if rig.stand is not None:  # gas rises: out of the upper print, at the upper end
        x = rig.flask.long_mm / 2.0
        return tuple(
            replace(lead, to_mm=(x, lead.at_mm[1]))
            for lead in _leads(items[0], rig.laid.castings[0], 0, shapely.box(-1e4, -1e4, x, 1e4), barred)
            if lead.way == "joint" and lead.to_mm[0] > x - 1.0 and not _crosses(lead, barred)
        )
    return tuple(
        lead
        for k, (item, one) in enumerate(zip(items, rig.laid.castings, strict=True))
        for lead in _leads(item, one, k, inside, barred)
    )


def _crosses(lead: Lead, barred: BaseGeometry) -> bool:
    """Whether a vent straight up from its print would run through metal."""
    return bool(shapely.LineString([lead.at_mm, (lead.to_mm[0], lead.at_mm[1])]).intersection(barred).length > 1.0)


def _barred(rig: Rigged) -> BaseGeometry:
    """What no vent in the joint may cross: metal, gates and runner."""
    laid = list(zip(rig.fits, rig.laid.castings, strict=True))
    wide = rig.sections.runner_wide / 2.0
    return shapely.unary_union(
        [
            *(placed(shape, *one) for fit, one in laid for shape in (fit.block.metal, fit.block.foot)),
            *(shapely.LineString(line[:, :2]).buffer(wide) for line in rig.lines.lines),
        ]
    )


def _leads(item: Item, put: tuple[Spot, float], k: int, inside: BaseGeometry, barred: BaseGeometry) -> list[Lead]:
    # a bore seen from above is within the metal, and its print over or under it
    shape = item.metal_plan
    round_it = shapely.unary_union([shapely.Polygon(one.exterior) for one in getattr(shape, "geoms", [shape])])
    low, high = float(item.metal_mesh.bounds[0, 2]), float(item.metal_mesh.bounds[1, 2])
    out: list[Lead] = []
    at, turn = put
    for core in item.cores:
        plan = polygons(core.project())
        prints = plan.difference(round_it.buffer(BEYOND_MM))
        parts = [one for one in getattr(prints, "geoms", [prints]) if one.area > LEAST_PRINT_MM2]
        box = core.bounding_box()
        if parts:
            out += [_past(placed(part, at, turn), inside, barred, k) for part in parts]
            continue
        middle = plan.representative_point().coords[0]
        x, y = turned_point(np.array(middle), at, turn)
        spot = (float(x), float(y))
        up = box[5] > high + BEYOND_MM or box[2] >= low - BEYOND_MM
        out.append(Lead("core", spot, spot, "cope" if up else "drag", k))
    return out


def breathers(items: tuple[Item, ...], rig: Rigged, ends: tuple[Floats, ...]) -> tuple[Lead, ...]:
    """Scratches in the joint from the far ends (k, 3) of every casting out to the wall: clay lets nothing through."""
    inside = wall_of(rig.flask)
    laid = list(zip(items, rig.laid.castings, strict=True))
    bodies = shapely.unary_union([placed(item.plan, *one).buffer(-2.0 * INSIDE_MM) for item, one in laid])
    out = []
    for k, (at, turn) in enumerate(rig.laid.castings):
        for end in ends[k]:
            x, y = turned_point(end[:2], at, turn)
            lead = _to_wall("breather", shapely.Point(float(x), float(y)), inside, k)
            if not shapely.LineString([lead.at_mm, lead.to_mm]).intersects(bodies):
                out.append(lead)
    return tuple(out)


def _past(print_shape: BaseGeometry, inside: BaseGeometry, barred: BaseGeometry, casting: int) -> Lead:
    """From a print along the joint to the wall, the shortest way that crosses no metal; the shortest of all where
    every way does.
    """
    middle = np.array(print_shape.representative_point().coords[0])
    x0, y0, x1, y1 = inside.bounds
    turns = np.radians(np.arange(WAYS) * 360.0 / WAYS)
    ends = middle + np.hypot(x1 - x0, y1 - y0) * np.stack([np.cos(turns), np.sin(turns)], axis=1)
    rays = shapely.linestrings(np.stack([np.broadcast_to(middle, ends.shape), ends], axis=1))
    ways = shapely.difference(shapely.intersection(rays, inside), print_shape)
    free = shapely.length(shapely.intersection(ways, barred.difference(print_shape.buffer(BEYOND_MM)))) < BEYOND_MM
    if not free.any():
        return _to_wall("core", print_shape, inside, casting)
    best = ways[int(np.argmin(np.where(free, shapely.length(ways), np.inf)))]
    (ax, ay), (bx, by) = shapely.get_coordinates(best)[[0, -1]].tolist()
    return Lead("core", (ax, ay), (bx, by), "joint", casting)


def _to_wall(kind: LeadKind, shape: BaseGeometry, inside: BaseGeometry, casting: int) -> Lead:
    (x0, y0), (x1, y1) = shapely.get_coordinates(shapely.shortest_line(shape, inside.exterior)).tolist()
    return Lead(kind, (x0, y0), (x1, y1), "joint", casting)


def keys_of(rig: Rigged, taken: BaseGeometry) -> tuple[Key, ...]:
    """Keys near the corners of a block without a flask, clear of what is taken; one off its corner, so that the halves
    go together one way only.
    """
    wide = pouring().common.key.value
    edge = pouring().common.key_edge.value + wide / 2.0
    x, y = rig.flask.long_mm / 2.0 - edge, rig.flask.wide_mm / 2.0 - edge
    if rig.flask.shape != "box":
        x, y = x * float(np.sqrt(0.5)), y * float(np.sqrt(0.5))
    held = taken.buffer(wide / 2.0 + pouring().common.passes.value)
    out = []
    for a, b, off in ((-1.0, -1.0, 0.0), (1.0, -1.0, 0.0), (1.0, 1.0, 0.0), (-1.0, 1.0, KEY_OFF)):
        for k in range(24):  # along the long wall until it is clear
            spot = (a * (x - off * wide - k * wide / 3.0), b * y)
            if abs(spot[0]) > x:
                break
            if not held.intersects(shapely.Point(spot)):
                out.append(Key(spot, wide))
                break
    return tuple(out)


def key_former() -> Solid:
    """The plug that leaves a key's socket, its foot at z = 0."""
    wide = pouring().common.key.value
    return boolean.rod(np.zeros(3), np.array([0.0, 0.0, 1.0]), KEY_HIGH * wide, wide / 2.0, KEY_TOP * wide / 2.0)


def cup_former(top_mm: float, cup_mm: float, high_mm: float) -> Solid:
    """The room of a cup that is set on: its foot as wide as the sprue's top, at z = 0."""
    up = np.array([0.0, 0.0, 1.0])
    return boolean.rod(np.zeros(3), up, high_mm, top_mm / 2.0, cup_mm / 2.0)


def basin_way(rig: Rigged) -> float:
    """Which way an offset basin points from the sprue (degrees): where the wall is farthest."""
    inside, (x, y) = wall_of(rig.flask), rig.laid.sprue
    far = 4.0 * max(rig.flask.long_mm, rig.flask.wide_mm)
    rays = [
        shapely.LineString([(x, y), (x + far * np.cos(a), y + far * np.sin(a))]) for a in np.radians([0, 90, 180, 270])
    ]
    return 90.0 * int(np.argmax([round(float(ray.intersection(inside).length), 3) for ray in rays]))


def basin_plan(rig: Rigged) -> BaseGeometry:
    """The brim of an offset basin in plan."""
    s, (x, y) = rig.sections, rig.laid.sprue
    long = pouring().common.basin_long.value * s.cup
    box = shapely.box(-SHELF * s.cup, -s.cup / 2.0, long - SHELF * s.cup, s.cup / 2.0)
    return placed(box, (x, y), basin_way(rig))


def basin_former(top_mm: float, cup_mm: float, high_mm: float, long_share: float) -> Solid:
    """The room of an offset basin: metal is poured into its deep end, and runs over a step to the sprue at the other,
    at (0, 0, 0); its brim at ``high_mm``.
    """
    long, wide = long_share * cup_mm, cup_mm
    lean = 0.12 * high_mm
    step = -0.5 * high_mm

    def block(x0: float, x1: float, z0: float, z1: float) -> Solid:
        corners = [
            (x + (-g if x == x0 else g), s * (wide / 2.0 + g), z)
            for x in (x0, x1)
            for s in (-1.0, 1.0)
            for z, g in ((z0, -lean), (z1, lean))
        ]
        return boolean.hull_tool(np.array(corners))

    shelf = block(-SHELF * wide, long - SHELF * wide, 0.0, high_mm)
    deep = block(0.4 * long, long - SHELF * wide, step, high_mm * 0.9)
    # reaches into the sprue and into the basin, with neither's wall in common
    mouth = boolean.rod(np.array([0.0, 0.0, -LAP_MM]), np.array([0.0, 0.0, 1.0]), 0.3 * high_mm, 0.49 * top_mm)
    return boolean.united([shelf, deep, mouth])
