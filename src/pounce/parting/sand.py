"""What the sand itself must do: pockets it has to fill, edges and strips it has to hold, detail it has to show."""

from dataclasses import dataclass, replace

import numpy as np
from scipy import ndimage

from pounce.metals.method import Method
from pounce.metals.tables import Bond, held, limits
from pounce.parting.columngrid import ColumnGrid
from pounce.parting.joint import Joint
from pounce.solid.facing import between, narrowest
from pounce.solid.mesh import Bools, Floats, Ints, Mesh, edges
from pounce.solid.sample import spread
from pounce.solid.tags import NONE
from pounce.solid.tree import tree_of

# Widths tried, in columns; every pocket is then measured for itself.
WIDTHS = (5, 9, 15, 25, 41, 65, 105, 171)
# A pocket narrower than this many columns cannot be measured on them; slits of sand are found on the mesh.
LEAST_COLUMNS = 3.5
# A dip shallower than this share of the plan is a crease, not a pocket.
SHALLOW = 0.03
MOST_COLUMNS = 64.0
# By how many columns a pocket's width between its walls may differ from the grid's.
COARSE = 2.5
# Walls of a rib or a slit lie abreast: they lean to each other by no more than some 25 degrees.
ABREAST = -0.9
# Share of a pocket's rim that must be wall.
WALLED = 0.6
# Pockets whose depths over width differ by less are as slender as each other.
SAME_RATIO = 0.1
SAMPLES = 6000
MOST = 6
# Detail counts from this share of the surface.
SHARE = 1e-3


@dataclass(frozen=True)
class Pocket:
    """Sand between walls of the part: how deep and how wide (mm), in which half, and where."""

    half: str
    depth_mm: float
    width_mm: float
    at_mm: tuple[float, float, float]

    @property
    def ratio(self) -> float:
        """Depth over width."""
        return self.depth_mm / max(self.width_mm, 1e-9)


@dataclass(frozen=True)
class Place:
    """Something of a size at a place: ``size`` mm or mm2 or degrees, as its finder says, over ``extent`` (mm or
    mm2).
    """

    size: float
    extent: float
    at_mm: tuple[float, float, float]


def pockets(grid: ColumnGrid, joint: Joint, mesh: Mesh) -> tuple[Pocket, ...]:
    """Pockets and webs of sand whose depth is at least 0.35 of their width, the slenderest first.

    Closing the mould's face with a square of a given width fills what is narrower; what was filled is measured for
    itself: its width half way down between its walls on the ``mesh``, for a slot of 6 mm may be five columns. A tapered
    pocket is filled in part by many widths: of those that overlap the slenderest stands, the deepest of equals.
    """
    plan = grid.plan
    found: list[tuple[Pocket, tuple[slice, slice], Bools]] = []
    top = np.where(plan.covered, np.maximum(plan.top, grid.joint), grid.joint)
    bottom = np.where(plan.covered, np.minimum(plan.bottom, grid.joint), grid.joint)
    for above, field in ((True, top), (False, -bottom)):
        if float(np.ptp(field)) < SHALLOW * plan.step * max(plan.shape):
            continue  # a mould's face that is level all over has no pockets
        for width in WIDTHS:
            if width > min(plan.shape):
                break
            # the sand round the part goes on: without it the border would look like a wall
            half = width // 2
            wide = np.pad(field, half, mode="edge")
            closed = ndimage.grey_closing(wide, size=(width, width), mode="nearest")
            depth = closed[half:-half, half:-half] - field
            label, _ = ndimage.label(depth > 0.2 * width * plan.step, np.ones((3, 3)))
            for group, box in enumerate(ndimage.find_objects(label), 1):
                pocket, mine = _pocket(grid, joint, above, field, depth, label, group, box, width)
                pocket = None if pocket is None else _measured(pocket, mesh, joint.direction, plan.step)
                if pocket is not None:
                    found.append((pocket, box, mine))
    out: list[Pocket] = []
    taken = {half: np.zeros(plan.shape, bool) for half in ("cope", "drag")}
    for pocket, box, mine in sorted(found, key=lambda one: (-round(one[0].ratio / SAME_RATIO), -one[0].depth_mm)):
        if not (taken[pocket.half][box] & mine).any():
            taken[pocket.half][box] |= mine
            out.append(pocket)
    return tuple(sorted(out, key=lambda pocket: -pocket.ratio))


def _pocket(
    grid: ColumnGrid,
    joint: Joint,
    above: bool,
    field: Floats,
    depth: Floats,
    label: Ints,
    group: int,
    box: tuple[slice, slice],
    width: int,
) -> tuple[Pocket | None, Bools]:
    """One filled place measured: None when it is too wide, too shallow, or only a corner that the square rounded."""
    plan = grid.plan
    mine = label[box] == group
    if mine.sum() < 6:
        return None, mine
    depth_mm = float(np.percentile(depth[box][mine], 90))
    inside = ndimage.distance_transform_edt(np.pad(mine & (depth[box] > 0.5 * depth_mm), 1))[1:-1, 1:-1]
    columns = 2.0 * float(inside.max()) - 0.5
    width_mm = columns * plan.step
    shallow = depth_mm < SHALLOW * plan.step * max(plan.shape)
    if columns < max(LEAST_COLUMNS, 0.5 * width) or depth_mm < 0.35 * width_mm or shallow:
        return None, mine
    widest = np.argwhere(inside > inside.max() - 0.5)
    row, column = widest[int(np.argmin(np.linalg.norm(widest - np.median(widest, axis=0), axis=1)))].tolist()
    j, i = row + box[0].start, column + box[1].start
    # walls must stand round most of it: the square also rounds off the ends of a wide round pocket
    wide = tuple(slice(max(side.start - 2, 0), side.stop + 2) for side in box)
    whole = label[wide] == group
    ring = ndimage.binary_dilation(whole, np.ones((3, 3)), iterations=2) & ~whole
    if (field[wide][ring] > float(field[j, i]) + 0.5 * depth_mm).mean() < WALLED:
        return None, mine
    height = float(field[j, i]) + depth_mm / 2.0
    point = np.append(grid.places[j, i], height if above else -height) @ grid.turn
    return Pocket(joint.half(above), depth_mm, width_mm, (float(point[0]), float(point[1]), float(point[2]))), mine


def _measured(pocket: Pocket, mesh: Mesh, direction: Floats, step_mm: float) -> Pocket | None:
    """The pocket with its width between walls of the mesh that look at each other, through its place, where it is
    narrowest, within what columns may be wrong by. None where no walls do, for a corner that stands turned to the
    columns is filled by a square too; and where it opens at a side: between teeth, or in a corner under what leans,
    sand is held along all its depth by what lies before it.
    """
    place = np.array(pocket.at_mm)
    widths, ways = narrowest(mesh, place[None], direction)
    width = float(widths[0])
    if width > pocket.width_mm + COARSE * step_mm:
        return None
    sides = np.outer([1.0, -1.0], np.cross(direction, ways[0]))
    far = tree_of(mesh).nearest(np.tile(place, (2, 1)), sides)[0]
    held_by = limits()["sand_opens"]
    for times in (held_by.low, held_by.value):
        opens = times * width
        beside = between(mesh, place + opens * sides, np.tile(ways[0], (2, 1)))
        if ((far > opens) & (beside > opens)).any():
            return None
    return replace(pocket, width_mm=max(width, pocket.width_mm - COARSE * step_mm))


def bridges(grid: ColumnGrid, bond: Bond = "damp") -> tuple[Place, ...]:
    """Strips of sand at the joint narrower than sand of that ``bond`` holds: width, length and place, the longest
    first.

    Empty where the columns are too coarse to tell (a quarter of the limit).
    """
    limit, step = held("sand_bridge", bond).value, grid.plan.step
    radius = limit / 2.0 / step
    if radius < 2.0 or radius > MOST_COLUMNS:  # too coarse to tell, or the whole part is smaller than such a strip
        return ()
    reach = int(np.ceil(radius)) + 1
    material = np.pad(grid.material, 2 * reach)
    grown = ndimage.distance_transform_edt(~material) <= radius
    closed = ~(ndimage.distance_transform_edt(grown) <= radius) & grown
    strip = (closed & ~material)[2 * reach : -2 * reach, 2 * reach : -2 * reach]
    label, _ = ndimage.label(strip)
    beside = ndimage.distance_transform_edt(~grid.material)
    out = []
    for group, box in enumerate(ndimage.find_objects(label), 1):
        mine = label[box] == group
        size = float(mine.sum()) * step * step
        if size < 0.5 * limit * limit:
            continue
        inside = np.where(mine, beside[box], 0.0)
        width = 2.0 * float(np.median(inside[inside >= 0.8 * inside.max()])) * step
        row, column = np.unravel_index(int(np.argmax(inside)), inside.shape)
        j, i = int(row) + box[0].start, int(column) + box[1].start
        point = np.append(grid.places[j, i], grid.joint[j, i]) @ grid.turn
        out.append(Place(width, size / max(width, step), (float(point[0]), float(point[1]), float(point[2]))))
    return tuple(sorted(out, key=lambda place: -place.extent)[:MOST])


def sharp_sand(mesh: Mesh, grain_mm: float = 0.0) -> Place | None:
    """Inside corners where the sand ends in an edge sharper than the table's limit: sharpest angle, length, place.

    Both flanks must be wider than a grain, and sand half a grain thick must lie between their ends: else it is a seam
    of the mesh.
    """
    table = edges(mesh.faces, len(mesh.vertices))
    one, two = table.pairs[:, 0], table.pairs[:, 1]
    bend = np.degrees(np.arccos(np.clip(np.einsum("ij,ij->i", mesh.normals[one], mesh.normals[two]), -1.0, 1.0)))
    firm = np.minimum(mesh.areas[one], mesh.areas[two]) > 1e-7 * mesh.area
    middle = mesh.corners[two].mean(axis=1) - mesh.corners[one].mean(axis=1)
    inward = np.einsum("ij,ij->i", middle, mesh.normals[one]) > 0.0
    angle = 180.0 - bend
    along = np.linalg.norm(np.diff(mesh.vertices[table.pair_ends], axis=1)[:, 0], axis=1)
    flank = 2.0 * np.minimum(mesh.areas[one], mesh.areas[two]) / np.maximum(along, 1e-12)
    firm &= (flank > grain_mm) & (flank * np.sin(np.radians(angle)) > 0.5 * grain_mm)
    sharp = inward & firm & (angle < limits()["sand_edge"].value)
    if not sharp.any():
        return None
    ends, size = mesh.vertices[table.pair_ends[sharp]], along[sharp]
    if size.sum() < 0.01 * mesh.diagonal:
        return None
    at = ends[int(np.argmax(size))].mean(axis=0)
    return Place(float(angle[sharp].min()), float(size.sum()), (float(at[0]), float(at[1]), float(at[2])))


def fine_detail(mesh: Mesh, method: Method) -> tuple[Place | None, Place | None]:
    """Ribs and letters, and slits of sand, thinner than the table's count of grains: least width, area and place of
    each.

    What is thinner than a film that solid operations leave is no detail, nor is what lies on a core print: nothing is
    cast there.
    """
    least = limits()["grains_across_detail"].value * method.mould.grain.value
    film = limits()["film_grains"].value * method.mould.grain.value
    points, faces = spread(mesh, SAMPLES)
    normals = mesh.normals[faces]
    tree = tree_of(mesh)
    lift = 2e-5 * mesh.diagonal
    share = mesh.area / max(len(points), 1)
    cast = mesh.tags.print == NONE
    out: list[Place | None] = []
    for sign in (-1.0, 1.0):
        far, hit = tree.nearest(points + sign * lift * normals, sign * normals)
        # only walls that face each other make a rib or a slit; a glancing hit past a corner does not, nor do the sides
        # of an acute corner, which is thin at its end whatever it is
        facing = np.einsum("ij,ij->i", mesh.normals[np.maximum(hit, 0)], normals) < ABREAST
        thin = (hit >= 0) & facing & (far < least) & (far > film) & cast[faces] & cast[hit]
        out.append(_thinnest(points[thin], far[thin], share, mesh.area))
    return out[0], out[1]


def _thinnest(points: Floats, width: Floats, share: float, total: float) -> Place | None:
    if len(points) * share < SHARE * total:
        return None
    at = points[int(np.argmin(width))]
    return Place(float(np.percentile(width, 5)), len(points) * share, (float(at[0]), float(at[1]), float(at[2])))
