"""Core boxes: two halves round the core, or one half used twice, or a tube; drawn off it on trial, with dowels that fit
one way only.

A half that would lock is cut once more, square to the joint, and its two parts leave sideways.
"""

import functools
from dataclasses import dataclass, replace

import manifold3d
import numpy as np

from pounce.base.errors import UserFault
from pounce.base.progress import Progress, silent
from pounce.cores.values import Box, BoxPart, CoreBox, Place, Print, Vent
from pounce.draw.candidates import best_height, flat_share
from pounce.draw.reachability import reach_along
from pounce.draw.scan import locked_at
from pounce.draw.values import Reach
from pounce.metals.tables import limits
from pounce.parting.joint import flat_joint
from pounce.parting.states import judged_at, scan_pieces
from pounce.parting.values import State
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.frame import across, three
from pounce.solid.mesh import Floats, Mesh, areas_of
from pounce.solid.sound import CRUMB
from pounce.solid.weld import welded

# Cores are judged on this many triangles at most; more tell no more about which way they leave.
ENOUGH = 30_000
# How much may be simplified away for that, as shares of the diagonal, tried in turn: 0.04 mm to 0.2 mm on a core of 200
# mm.
COARSER = (2e-4, 5e-4, 1e-3)
# Two halves are alike when they differ by less than this share of the core.
ALIKE = 2e-3
# A box that locks less than this share of the core's surface lets it go.
FREE = 0.004
# The open end is cut this far inside the core's end, so that no film closes it, mm.
THROUGH = 0.02
# Edges shorter than files of single precision tell apart are drawn together, mm.
FINEST = 1e-3
# Corners of the core this near to the joint of its box lie in it, mm.
CLOSE = 5e-3
# Wall left between a dowel and the outside or the hollow, mm.
BESIDE = limits()["box_dowel_beside"].value


# A box that opens along the draw with less than this rank is taken at once: nothing locks, a tenth of
# the core is tight (the flat ends of its prints).
GOOD = 0.02
# Ways tried for a half that parts sideways, over half a turn; and it must lock less than this share of before.
SIDEWAYS, HELPS = 12, 0.3
# Ways of opening tried with halves that part sideways.
TRIED = 4


@dataclass(frozen=True, eq=False)
class Way:
    """How a box opens: ``pull`` (3,), ``height`` of its joint along it, and what of the core locks or stands tight in
    it, mm2.

    ``sides`` for the lower and the upper half: None, or the way (3,) in which its two parts are drawn apart and
    where they part, mm.
    """

    pull: Floats
    height: float
    locked: float
    tight: float
    sides: tuple[tuple[Floats, float] | None, tuple[Floats, float] | None] = (None, None)


def ways_for(core: Mesh, prints: tuple[Print, ...], draw: Floats) -> list[Floats]:
    """Directions worth trying for the pull: the draw, across the prints, the own axes, the principal axes."""
    out: list[Floats] = [draw]
    for core_print in prints:
        across = np.cross(core_print.axis, draw)
        if float(np.linalg.norm(across)) > 0.1:
            out.append(across / np.linalg.norm(across))
        else:
            out += [np.cross(core_print.axis, e) for e in np.eye(3) if abs(float(core_print.axis @ e)) < 0.1]
    out += list(np.eye(3))  # principal axes of a round core stand anyhow, and lock its facets a little
    rel = core.corners.mean(axis=1) - core.centre_of_mass
    out += list(np.linalg.eigh(np.einsum("i,ij,ik->jk", core.areas, rel, rel))[1].T)
    kept: list[Floats] = []
    for way in out:
        way = way / np.linalg.norm(way)
        if not any(abs(float(way @ other)) > 0.9995 for other in kept):
            kept.append(np.asarray(way))
    return kept


def _flat(core: Mesh, pull: Floats, slack: float, height: float) -> float:
    return flat_share(core, pull, height, slack)


def light_of(core: Mesh) -> Mesh:
    """The core with no more triangles than tell how it leaves a box. UserFault where it is open."""
    if len(core.faces) <= ENOUGH:
        return core
    # one mark for all: with marks of their own no two triangles would be merged
    solid = boolean.closed_solid(core, 0, np.zeros(len(core.faces), np.int64))
    if solid is None:
        raise UserFault("The core came out open, so no box can be made for it.", "Point at one bore of the hollow.")
    found = solid
    for share in COARSER:
        found = boolean.simplified(solid, share * core.diagonal)
        if found.num_tri() <= ENOUGH:
            break
    return boolean.bare_mesh(found)


def way_of_opening(whole: Mesh, prints: tuple[Print, ...], draw: Floats) -> Way:
    """The pull and the height of the box's joint that lock least; of equal ones that with the shallower halves."""
    core = light_of(whole)
    found: list[tuple[tuple[float, float], Way]] = []
    for pull in ways_for(core, prints, draw):
        reach = reach_along(core, pull)
        pieces = scan_pieces(core, reach, pull)
        heights = core.vertices @ pull
        low, high = float(heights.min()), float(heights.max())
        slack = 1e-4 * (high - low)
        at, _ = best_height(pieces, low, high, functools.partial(_flat, core, pull, slack))
        # round prints are halved where their axes lie, when that frees as much
        for level in dict.fromkeys(
            [round(float(p.at_mm @ pull), 6) for p in prints if abs(float(p.axis @ pull)) < 0.1]
        ):
            if (
                low < level < high
                and locked_at(pieces, level, slack) <= locked_at(pieces, at, slack) + 1e-3 * core.area
            ):
                at = level
                break
        way = _judged(core, reach, pull, at, slack)
        rank = (round(way.locked / core.area / FREE) + 0.2 * way.tight / core.area, max(high - at, at - low))
        found.append((rank, way))
        if rank[0] < GOOD and float(np.abs(pull @ draw)) > 0.9999:
            break  # it opens as the mould does, and clean: nothing else is better
    found.sort(key=lambda one: one[0])
    best = found[0][1]
    if core is not whole:  # the coarser facets of the light core may lock each other where its own do not
        best = again(whole, best)
    if best.locked <= FREE * core.area:
        return best
    parted: list[Way] = []
    for _, way in found[:TRIED]:
        parted.append(_parted(core, way))
        # they come best first: one that frees all is taken
        if parted[-1].locked <= FREE * core.area:
            break
    return min(parted, key=lambda way: way.locked)


def _judged(core: Mesh, reach: Reach, pull: Floats, height: float, slack: float) -> Way:
    judged = judged_at(
        core, reach, flat_joint(pull, height), np.full(len(core.faces), limits()["box_draft"].value), slack
    )
    sizes = areas_of(judged.corners)
    locked = float(sizes[judged.state == State.LOCKED].sum())
    tight = float(sizes[(judged.state == State.TIGHT) & (judged.draft_deg < 0.5 * limits()["box_draft"].value)].sum())
    return Way(pull, height, locked, tight)


def again(core: Mesh, way: Way) -> Way:
    """The same way of opening for a core that has changed a little, such as by draft."""
    once = _judged(core, reach_along(core, way.pull), way.pull, way.height, 1e-4 * core.diagonal)
    return once if way.sides == (None, None) else _parted(core, once)


def box_for(
    core: Mesh,
    prints: tuple[Print, ...],
    draw: Floats,
    style: Box,
    vents: tuple[Vent, ...],
    vent_mm: float,
    progress: Progress = silent,
    known: Way | None = None,
) -> CoreBox:
    """The box of a core (or of a piece of one). UserFault where it cannot be made. ``known`` its way of opening."""
    _must_be_closed(core)
    progress(0.1, "Trying ways to open the core box")
    refused = ""
    if style == "tube":
        made = _tube(core, prints)
        if made is not None:
            return made
        refused = "it is no plain rod that could be pushed out of a tube"
    way = way_of_opening(core, prints, draw) if known is None else known
    progress(0.5, "Cutting the core box")
    ram = _ramming(core, prints, way.pull)
    frame = np.stack([ram, np.cross(way.pull, ram), way.pull])
    local = core.moved(frame, np.zeros(3))
    low, high = local.bounds
    height = _at_corners(local, way.height)
    wall = max(limits()["box_wall"].value, limits()["box_dowel"].value + 2.0 * BESIDE + 2.0)
    start, stop = low - wall, high + wall
    if not any(core_print.kind == "ring" for core_print in prints):  # a ring is rammed from the joint, half by half
        stop[0] = high[0] - THROUGH
    block = manifold3d.Manifold.cube((stop - start).tolist()).translate(start.tolist())
    rods = _grooves(frame, vents, vent_mm, start, stop, height)
    dowels = _dowels(start, stop, wall, height)
    # the block is cut before the core is taken from it: where the core has a flat in the joint the other order leaves a
    # film
    tools, holes = [_solid_of(local), *rods], _dowel_holes(dowels, wall)
    upper = boolean.without(boolean.without(block.trim_by_plane([0.0, 0.0, 1.0], height), tools), holes)
    lower = boolean.without(boolean.without(block.trim_by_plane([0.0, 0.0, -1.0], -height), tools), holes)
    plain = light_of(core).moved(frame, np.zeros(3))
    twice = _alike(_solid_of(plain), plain, height)
    halves = [("Lower half", lower, False, way.sides[0]), ("Upper half", upper, True, way.sides[1])]
    if style == "half" and twice:
        halves = [("Half, used twice", lower, False, way.sides[0])]
    elif style == "half":
        refused = "its two halves are not alike"
    placed = tuple((three(frame.T @ np.array(place)), thick) for place, thick in dowels)
    return CoreBox(
        "half" if len(halves) == 1 else "split",
        tuple(_parts(halves, frame)),
        way.pull,
        height,
        ram,
        way.locked,
        way.tight,
        twice,
        core,
        three(stop - start),
        placed,
        refused,
    )


def _must_be_closed(core: Mesh) -> None:
    if boolean.closed_solid(core) is None:
        raise UserFault("The core came out open, so no box can be made for it.", "Point at one bore of the hollow.")


def _dowel_holes(dowels: list[tuple[Place, float]], wall: float) -> list[Solid]:
    """Holes through the joint of a box for its dowels."""
    slide = limits()["dowel_slide_clearance"].value
    return [
        manifold3d.Manifold.cylinder(
            2.0 * wall * 0.6, (thick + slide) / 2.0, (thick + slide) / 2.0, 32, True
        ).translate(place)
        for place, thick in dowels
    ]


def _parts(halves: list[tuple[str, Solid, bool, tuple[Floats, float] | None]], frame: Floats) -> list[BoxPart]:
    """The parts of a box; a half that leaves sideways falls into two."""
    parts: list[BoxPart] = []
    for name, half, over, side in halves:
        if side is None:
            parts += _bodied(name, half, frame, over)
            continue
        aside, at = frame @ side[0], side[1]
        for hand, sign in (("right", 1.0), ("left", -1.0)):
            parts += _bodied(f"{name}, {hand}", half.trim_by_plane((sign * aside).tolist(), sign * at), frame, over)
    return parts


def _at_corners(local: Mesh, height: float) -> float:
    """The height of the core's own corners that lie a hair off the joint: between the two a cut would leave slivers."""
    levels = local.vertices[:, 2]
    near = levels[np.abs(levels - height) < CLOSE]
    return float(np.median(near)) if len(near) else height


def _parted(core: Mesh, way: Way) -> Way:
    """The way with its halves parted sideways where that frees them."""
    solid = _solid_of(core)
    lower, upper = (_sideways(core, solid, way, sign) for sign in (-1.0, 1.0))
    freed = sum(one[2] for one in (lower, upper) if one is not None)
    sides = (None if lower is None else lower[:2], None if upper is None else upper[:2])
    return replace(way, locked=max(way.locked - freed, 0.0), sides=sides)


def _sideways(core: Mesh, solid: Solid, way: Way, sign: float) -> tuple[Floats, float, float] | None:
    """The way across the pull in which two parts of a half (``sign`` 1: the upper) leave the core: (3,) way, where they
    part, mm, and the area (mm2) that this frees. None where the half draws as it is, or nothing is gained.
    """
    half = boolean.as_mesh(solid.trim_by_plane((sign * way.pull).tolist(), sign * way.height), core.tags)
    pull, slack = sign * way.pull, 1e-4 * core.diagonal
    before = locked_at(scan_pieces(half, reach_along(half, pull), pull), sign * way.height, slack)
    if before <= FREE * core.area:
        return None
    least: tuple[float, Floats, float] | None = None
    one, two = across(way.pull)
    for turn in np.arange(SIDEWAYS) * np.pi / SIDEWAYS:
        aside = np.cos(turn) * one + np.sin(turn) * two
        pieces = scan_pieces(half, reach_along(half, aside), aside)
        heights = half.vertices @ aside
        flat = functools.partial(_flat, half, aside, slack)
        at, _ = best_height(pieces, float(heights.min()), float(heights.max()), flat)
        locked = locked_at(pieces, at, slack)
        if least is None or locked < least[0] - 1e-3 * core.area:
            least = (locked, aside, at)
    if least is None or least[0] > HELPS * before:
        return None
    return least[1], least[2], before - least[0]


def _ramming(core: Mesh, prints: tuple[Print, ...], pull: Floats) -> Floats:
    """Out of which end the box is open: the widest print's that lies across the pull, else the core's longest way
    across it.
    """
    lying = [core_print for core_print in prints if abs(float(core_print.axis @ pull)) < 0.1]
    if lying:
        axis = max(lying, key=lambda one: one.width_mm).axis
    else:
        rel = core.vertices - core.centre_of_mass
        flat = rel - np.outer(rel @ pull, pull)
        axis = np.linalg.eigh(flat.T @ flat)[1][:, 2]
    axis = axis - float(axis @ pull) * pull
    return np.asarray(axis / np.linalg.norm(axis))


def _grooves(
    frame: Floats, vents: tuple[Vent, ...], vent_mm: float, start: Floats, stop: Floats, height: float
) -> list[Solid]:
    """Half-round grooves for the vent wire where a vent way runs in the box's joint, out through its walls."""
    out: list[Solid] = []
    if vent_mm <= 0.0:
        return out
    reach = float(np.linalg.norm(stop - start))
    for one, two, through in vents:
        a, b = frame @ np.array(one), frame @ np.array(two)
        way = b - a
        size = float(np.linalg.norm(way))
        if size <= 0.0 or abs(float(way[2])) > 0.02 * size or abs(float(a[2] - height)) > vent_mm:
            continue
        way = way / size
        a[2] = height
        # from the print's end outward; inside the core the wire lies in the hollow of the box
        out.append(boolean.rod(a + 0.1 * way, -way, reach, vent_mm / 2.0))
        if through:
            b[2] = height
            out.append(boolean.rod(b - 0.1 * way, way, reach, vent_mm / 2.0))
    return out


def _dowels(start: Floats, stop: Floats, wall: float, height: float) -> list[tuple[Place, float]]:
    """Two dowels of two sizes in opposite corners of the walls: they fit one way only."""
    thick = limits()["box_dowel"].value
    one = (float(start[0] + wall / 2.0), float(start[1] + wall / 2.0), height)
    two = (float(stop[0] - wall / 2.0), float(stop[1] - wall / 2.0), height)
    return [(one, thick), (two, thick - 1.0)]


def _alike(solid: Solid, local: Mesh, height: float) -> bool:
    """Whether the core turned half round about a line in the box's joint is itself: one half box then does for both.

    Such a line runs through the middle of mass, along a side of the box or a principal axis of the core seen along
    the pull.
    """
    middle = local.centre_of_mass
    volume = float(solid.volume())
    if abs(float(middle[2]) - height) > 1e-3 * local.diagonal:
        return False
    rel = local.corners.mean(axis=1) - middle
    spread = np.einsum("i,ij,ik->jk", local.areas, rel[:, :2], rel[:, :2])
    lines = [np.array([1.0, 0.0]), np.array([0.0, 1.0]), *np.linalg.eigh(spread)[1].T]
    for x, y in lines:
        line = np.array([x, y, 0.0])
        turn = 2.0 * np.outer(line, line) - np.eye(3)
        through = np.array([middle[0], middle[1], height])
        turned = solid.transform(np.column_stack([turn, through - turn @ through]))
        # what one has over the other the other has over it: both are of one volume
        if 2.0 * float((solid - turned).volume()) < ALIKE * volume:
            return True
    return False


def _tube(core: Mesh, prints: tuple[Print, ...]) -> CoreBox | None:
    """A tube that the core is pushed out of along its prints' axis, open at both ends; None where something would
    lock.
    """
    if not prints or any(one.kind == "ring" for one in prints):
        return None
    axis = prints[0].axis
    if any(abs(float(core_print.axis @ axis)) < 0.99 for core_print in prints):
        return None
    reach = reach_along(core, axis)
    across = np.abs(core.normals @ axis) < 0.9
    walls = float(core.areas[across].sum())
    leaves = max(float(core.areas[reach.up & across].sum()), float(core.areas[reach.down & across].sum()))
    if leaves < (1.0 - FREE) * walls:
        return None
    side = np.eye(3)[int(np.argmin(np.abs(axis)))]
    side = side - float(side @ axis) * axis
    side = side / np.linalg.norm(side)
    frame = np.stack([side, np.cross(axis, side), axis])
    local = core.moved(frame, np.zeros(3))
    low, high = local.bounds
    wall = limits()["box_wall"].value / 2.0
    start, stop = low - wall, high + wall
    start[2], stop[2] = low[2] + THROUGH, high[2] - THROUGH
    block = manifold3d.Manifold.cube((stop - start).tolist()).translate(start.tolist()) - _solid_of(local)
    size = stop - start
    return CoreBox(
        "tube",
        (_part("Tube", block, frame, over=False),),
        axis,
        float(low[2]),
        axis,
        0.0,
        walls,
        False,
        core,
        (float(size[0]), float(size[1]), float(size[2])),
        (),
    )


def _bodied(name: str, local: Solid, frame: Floats, over: bool) -> list[BoxPart]:
    """A half as a part for each body it falls into: what fills a socket at the open end stands on nothing, and is
    pressed in by hand.
    """
    bodies = sorted(boolean.checked(local, "Cutting the core box").decompose(), key=lambda one: -float(one.volume()))
    whole = sum(float(one.volume()) for one in bodies)
    real = [one for one in bodies if float(one.volume()) > CRUMB * whole]
    names = [name, *(f"{name}, socket former{'' if k == 0 else f' {k + 1}'}" for k in range(len(real) - 1))]
    return [_part(one, body, frame, over) for one, body in zip(names, real, strict=True)]


def _part(name: str, local: Solid, frame: Floats, over: bool) -> BoxPart:
    """A part of the box brought back to the core's place. ``over``: turned over to lie on its outside."""
    made = welded(boolean.bare_mesh(boolean.checked(local, "Cutting the core box")), FINEST)
    turn = np.diag([1.0, -1.0, -1.0]) if over else np.eye(3)
    return BoxPart(name, made.moved(frame.T, np.zeros(3)), turn @ frame)


def laid(part: BoxPart, factors: Floats) -> Mesh:
    """A part of a box at pattern size (``factors`` (3,) over the part), on its outside at z = 0 with its hollow up."""
    mesh = part.mesh.scaled(factors).moved(part.lay, np.zeros(3))
    low, high = mesh.bounds
    return mesh.moved(np.eye(3), np.array([-(low[0] + high[0]) / 2.0, -(low[1] + high[1]) / 2.0, -low[2]]))


def _solid_of(mesh: Mesh) -> Solid:
    solid = boolean.closed_solid(mesh)
    if solid is None:
        raise UserFault("The core came out open, so no box can be made for it.", "Point at one bore of the hollow.")
    return solid
