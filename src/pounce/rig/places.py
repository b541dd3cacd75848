"""Where a casting is gated: on its outline in the joint, into a wall that takes the gate, off the thickest, never on a
print.
"""

from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from pounce.metals.pouring import pouring
from pounce.rig.item import INSIDE_MM, Item, polygons
from pounce.rig.values import Half, School
from pounce.rig.warmth import Warmth
from pounce.solid.mesh import Floats
from pounce.solid.tree import tree_of

# Candidates stand this share of the item's size apart, not nearer than so many mm.
STEP_SHARE, LEAST_STEP_MM = 1.0 / 80.0, 1.5
# Walls are probed so deep, mm; tangents are taken over, and the bow of the outline is told within, so many mm.
PROBE_MM, TANGENT_MM, BOW_MM = 3.0, 2.0, 6.0
SKIN_MM, NEAR_MM = 0.3, 0.5
# Walls thinner than this are none, mm.
LEAST_WALL_MM = 0.5
# A gate is backed by metal so deep behind it, or this share of a thin wall, mm.
BACKED_MM, BACKED_SHARE = 6.0, 0.6
# Prints that stand out beyond the metal by so much all round are a ring core's, mm.
RINGED_MM = 1.0
# A wall is thicker than the gate's thickness over this.
WALL_SHARE = 0.8
# How a place is judged: heat is how late it sets, over the last of the casting.
HOT, COLD, HOT_COST, BOW_COST = 0.75, 0.35, 8.0, 0.25


@dataclass(frozen=True)
class Place:
    """A place for a gate in the item's frame: where (mm), outward normal in plan, the wall that it meets, how
    deep the metal is inward of it, metal over and under the joint there (mm), and how it is judged (less is better).
    """

    at: tuple[float, float, float]
    out: tuple[float, float]
    wall_mm: float
    depth_mm: float
    up_mm: float
    down_mm: float
    score: float

    def half_for(self, thick_mm: float, wanted: Half) -> Half | None:
        """The half that a gate so thick can be cut in there, the wanted one first; None where no wall takes it."""
        room = {"cope": self.up_mm, "drag": self.down_mm}
        other: Half = "drag" if wanted == "cope" else "cope"
        for half in (wanted, other):
            if room[half] * WALL_SHARE >= thick_mm - 1e-6:
                return half
        return None


def places_of(
    item: Item,
    school: School,
    strip_mm: float,
    warmth: Warmth | None = None,
    spots: tuple[tuple[float, float], ...] = (),
) -> tuple[Place, ...]:
    """All places where a gate may be cut, with ``strip_mm`` of free sand outward of them; best first. Off the hottest
    by ``warmth`` (None: by the wall at the joint). Those nearest to ``spots`` (mm in plan) are looked at too.
    """
    at, out, bow = _ring_points(item, spots)
    if not len(at):
        return ()
    free = _free(item, at, out, strip_mm)
    at, out, bow = at[free], out[free], bow[free]
    if not len(at):
        return ()
    joint, wall, up, down, depth = _walls(item, at, out, False)
    good = (wall > LEAST_WALL_MM) & (up + down > LEAST_WALL_MM)
    if not good.any():  # a rim that slants away from the joint, as a dish has it
        joint, wall, up, down, depth = _walls(item, at, out, True)
        good = (wall > LEAST_WALL_MM) & (up + down > LEAST_WALL_MM)
    if not good.any():
        return ()
    heat = wall / wall[good].max() if warmth is None else _heat(warmth, at, out, joint, depth)
    # the school whose gates feed goes where the metal is thickest; gates that snap off keep away from there
    score = (
        HOT_COST * np.maximum(heat - HOT, 0.0) + np.maximum(COLD - heat, 0.0) if school == "snap-off" else 1.0 - heat
    )
    score = score + BOW_COST * bow
    order = [k for k in np.argsort(score, kind="stable") if good[k]]
    return tuple(
        Place(
            (float(at[k, 0]), float(at[k, 1]), float(joint[k])),
            (float(out[k, 0]), float(out[k, 1])),
            float(wall[k]),
            float(depth[k]),
            float(up[k]),
            float(down[k]),
            float(score[k]),
        )
        for k in order
    )


def overhung(item: Item, strip_mm: float) -> bool:
    """Whether the casting stands out over or under its outline in the joint wherever a gate might lie, so that no gate
    reaches it.
    """
    at, out, _ = _ring_points(item)
    return bool(len(at)) and not _sand_outward(item, at, out, strip_mm).any()


def ringed(item: Item) -> bool:
    """Whether prints of cores stand out beyond the metal in the joint all round, as those of a ring core do."""
    if not item.cores or item.outline.is_empty:
        return False
    shells = shapely.union_all([shapely.Polygon(one.exterior) for one in shapely.get_parts(item.outline)])
    return bool(polygons(item.whole.slice(INSIDE_MM)).contains(shells.buffer(RINGED_MM).difference(shells)))


def _heat(warmth: Warmth, at: Floats, out: Floats, joint: Floats, depth: Floats) -> Floats:
    """(k,) how late the metal behind each place sets, 1 the last of the casting."""
    deep = np.minimum(BACKED_MM, BACKED_SHARE * np.where(np.isfinite(depth), depth, 0.0))
    return warmth.at(np.column_stack([at - out * deep[:, None], joint]))


def _ring_points(item: Item, spots: tuple[tuple[float, float], ...] = ()) -> tuple[Floats, Floats, Floats]:
    """Points (k, 2) on the outer rings, outward normals and how much the outline bows there (radians)."""
    size = float(max(np.ptp(np.reshape(item.plan.bounds, (2, 2)), axis=0)))
    step, outline = max(size * STEP_SHARE, LEAST_STEP_MM), item.outline
    at, out, bow = [], [], []
    asked = shapely.points(np.array(spots)) if spots else np.zeros(0, np.object_)
    for part in getattr(outline, "geoms", [outline]):
        if part.is_empty or part.geom_type != "Polygon":
            continue
        ring = shapely.geometry.polygon.orient(part, 1.0).exterior
        count = int(ring.length / step)
        if count < 8:
            continue
        along = np.concatenate(
            [(np.arange(count) + 0.5) * ring.length / count, shapely.line_locate_point(ring, asked).astype(float)]
        )
        points = _on(ring, along)
        way = _unit(_on(ring, along + TANGENT_MM) - _on(ring, along - TANGENT_MM))
        before = _unit(points - _on(ring, along - BOW_MM))
        after = _unit(_on(ring, along + BOW_MM) - points)
        at.append(points)
        out.append(np.stack([way[:, 1], -way[:, 0]], axis=1))
        bow.append(np.arccos(np.clip((before * after).sum(axis=1), -1.0, 1.0)))
    if not at:
        return np.zeros((0, 2)), np.zeros((0, 2)), np.zeros(0)
    return np.concatenate(at), np.concatenate(out), np.concatenate(bow)


def _on(ring: BaseGeometry, along: Floats) -> Floats:
    return np.asarray(shapely.get_coordinates(shapely.line_interpolate_point(ring, np.mod(along, ring.length))))


def _unit(vectors: Floats) -> Floats:
    return np.asarray(vectors / np.maximum(np.linalg.norm(vectors, axis=1, keepdims=True), 1e-12))


def _free(item: Item, at: Floats, out: Floats, strip_mm: float) -> np.ndarray:
    """Whether sand lies outward of each place, and no print is near."""
    free = _sand_outward(item, at, out, strip_mm)
    prints = item.plan.difference(item.metal_plan.buffer(0.3)).buffer(-0.3)
    if not prints.is_empty:
        free &= shapely.distance(prints, shapely.points(at)) > pouring().common.gate_print.value
    return np.asarray(free)


def _sand_outward(item: Item, at: Floats, out: Floats, strip_mm: float) -> np.ndarray:
    strips = shapely.linestrings(np.stack([at + out * 0.8, at + out * strip_mm], axis=1))
    return ~np.asarray(shapely.intersects(item.plan.buffer(-0.3), strips))


def _walls(item: Item, at: Floats, out: Floats, slanted: bool) -> tuple[Floats, Floats, Floats, Floats, Floats]:
    """The joint's height at each place, the wall there, metal over and under the joint, and how deep it is inward, mm;
    ``slanted`` looks nearer to the joint and deeper in.
    """
    tree = tree_of(item.metal_mesh)
    joint = item.joint_at(at)
    depth = _depth(item, at, out, joint, NEAR_MM / 10.0 if slanted else NEAR_MM)
    # in the middle of a thin wall, no deeper than so much into a thick one
    probe = (BACKED_MM, 0.9) if slanted else (PROBE_MM, 0.5)
    inside = at - out * np.minimum(probe[0], probe[1] * np.where(np.isfinite(depth), depth, 0.0))[:, None]
    low, high = float(item.metal_mesh.bounds[0, 2]) - 1.0, float(item.metal_mesh.bounds[1, 2]) + 1.0
    rises = np.tile([0.0, 0.0, 1.0], (len(at), 1))
    below = np.column_stack([inside, np.full(len(at), low)])
    above = np.column_stack([inside, np.full(len(at), high)])
    bottom = low + tree.nearest(below, rises)[0]
    top = high - tree.nearest(above, -rises)[0]
    # a level joint: only what hangs together with it counts, such as a foot under an overhanging boss
    start = np.column_stack([inside, np.clip(joint, bottom + 1e-3, np.maximum(top - 1e-3, bottom + 1e-3))])
    up_way, down_way = tree.nearest(start, rises)[0], tree.nearest(start, -rises)[0]
    known = np.isfinite(bottom) & np.isfinite(top) & np.isfinite(up_way) & np.isfinite(down_way) & np.isfinite(depth)
    start, joint, up_way, down_way, bottom, top = (
        np.where(known[:, None] if one.ndim == 2 else known, one, 0.0)
        for one in (start, joint, up_way, down_way, bottom, top)
    )
    up = np.maximum(np.minimum(start[:, 2] + up_way, top) - joint, 0.0)
    down = np.maximum(joint - np.maximum(start[:, 2] - down_way, bottom), 0.0)
    return joint, np.where(known, np.minimum(up + down, depth), 0.0), up, down, depth


def _depth(item: Item, at: Floats, out: Floats, joint: Floats, near_mm: float) -> Floats:
    """(k,) how deep the metal is inward of each place so near to the joint, where the outline was taken: further off
    drafted walls stand back from it. inf where no metal is.
    """
    tree, normals = tree_of(item.metal_mesh), item.metal_mesh.normals
    inward = np.column_stack([-out, np.zeros(len(at))])
    found = np.full(len(at), np.inf)
    for side in (1.0, -1.0):
        start = np.column_stack([at - out * SKIN_MM, joint + side * near_mm])
        far, face = tree.nearest(start, inward)
        # from inside metal a ray comes out through the face that it meets
        within = (face >= 0) & ((normals[np.maximum(face, 0)] * inward).sum(axis=1) > 0.0)
        found = np.where(within, np.minimum(found, far + SKIN_MM), found)
    return np.asarray(found)


def backed(outline: BaseGeometry, place: Place, wide_mm: float) -> bool:
    """Whether a gate of this width finds metal behind nearly all of its mouth."""
    x, y, _ = place.at
    across = np.linspace(-0.5, 0.5, 9) * wide_mm
    side = np.array([-place.out[1], place.out[0]])
    deep = min(BACKED_MM, BACKED_SHARE * place.wall_mm)
    points = np.array([x, y]) - deep * np.array(place.out) + across[:, None] * side
    return float(shapely.contains_xy(outline, points[:, 0], points[:, 1]).mean()) >= 0.85


def clear_of(marks: Floats, places: tuple[Place, ...], wide_mm: float, thick_mm: float) -> tuple[Place, ...]:
    """Places where a mouth so wide and thick keeps off text and other marks (n, 3, 3) on the wall there, which stay as
    they are cast.
    """
    if not len(marks):
        return places
    return tuple(place for place in places if not _marked(marks, place, wide_mm / 2.0, thick_mm))


def _marked(marks: Floats, place: Place, half_mm: float, thick_mm: float) -> bool:
    """Whether the box of any face of the marks reaches into the mouth."""
    off, clear = marks - np.array(place.at), pouring().common.gate_mark.value
    x, y = place.out
    within = np.ones(len(marks), np.bool_)
    for way, reach in (((-y, x, 0.0), half_mm + clear), ((x, y, 0.0), clear), ((0.0, 0.0, 1.0), thick_mm)):
        along = off @ np.array(way)
        within &= (along.min(axis=1) < reach) & (along.max(axis=1) > -reach)
    return bool(within.any())


def nearest_to(
    spots: tuple[tuple[float, float], ...], item: Item, places: tuple[Place, ...], wide_mm: float
) -> tuple[Place, ...]:
    """The place nearest to each of these spots (mm in plan) that takes a gate so wide, clear of the one before."""
    fit = [place for place in places if backed(item.outline, place, wide_mm)]
    at = np.array([place.at[:2] for place in fit]).reshape(-1, 2)
    free, out = np.ones(len(fit), np.bool_), []
    for spot in spots:
        if not free.any():
            break
        best = int(np.argmin(np.where(free, np.linalg.norm(at - spot, axis=1), np.inf)))
        out.append(fit[best])
        free &= np.linalg.norm(at - at[best], axis=1) >= wide_mm + pouring().common.gates_between.value
    return tuple(out)


def chosen(
    item: Item, places: tuple[Place, ...], count: int, wide_mm: float, apart: bool, first: tuple[Place, ...] = ()
) -> tuple[Place, ...]:
    """``count`` places for gates so wide: those that are asked for ``first`` or else the best, and then beside it, or
    ``apart`` where they reach the far ends. Fewer where there is no room.
    """
    fit = [*first, *(place for place in places if backed(item.outline, place, wide_mm))]
    if not fit:
        return ()
    spots = np.array([place.at[:2] for place in fit])
    taken = list(range(len(first))) or [0]
    rim = spots if len(spots) > 1 else spots[:1]
    while len(taken) < count:
        gaps = np.linalg.norm(spots[:, None] - spots[taken][None], axis=2)
        near = gaps.min(axis=1)
        may = near >= wide_mm + pouring().common.gates_between.value
        if not may.any():
            break
        if apart:  # the far ends get the shortest way
            reach = np.minimum(
                np.linalg.norm(rim[:, None] - spots[taken][None], axis=2).min(axis=1)[None, :],
                np.linalg.norm(spots[:, None] - rim[None], axis=2),
            ).max(axis=1)
            cost = reach / max(float(near.max()), 1e-9) + 0.3 * np.array([place.score for place in fit])
        else:
            cost = near / max(float(near.max()), 1e-9) + 0.6 * np.array([place.score for place in fit])
        taken.append(int(np.argmin(np.where(may, cost, np.inf))))
    return tuple(fit[k] for k in taken)
