"""Loose pieces: what overhangs locked sand stays behind when the main pattern leaves, and is then drawn sideways."""

from dataclasses import replace

import numpy as np
import shapely
from scipy import ndimage

from pounce.metals.tables import limits
from pounce.parting.columngrid import ColumnGrid
from pounce.parting.joint import Joint
from pounce.parting.values import Judged, LoosePiece, Region, State
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.mesh import Bools, Floats, Mesh, areas_of
from pounce.solid.sample import spread, spread_on
from pounce.solid.tree import tree_of

WAYS = 16
POINTS = 1500
# Points on what hangs over, for the columns under it: so many a column, so many at least and at most.
A_COLUMN, FEWEST, MOST = 4.0, 1000, 200_000
# Share of the piece's surface that may stand in the way and still be the mesh's noise.
NOISE = 0.01


def overhang(grid: ColumnGrid, judged: Judged, index: int) -> tuple[Bools, float, float, bool] | None:
    """Columns (ny, nx) with material over the locked sand of a region, from and to which height, and whether in the
    cope.

    None when the region's faces look into no such column (they are hidden sideways only).
    """
    own = np.flatnonzero((judged.region == index) & (judged.state == State.LOCKED))
    if not len(own):
        return None
    plan, columns = grid.plan, grid.columns
    areas = areas_of(judged.corners[own])
    normals = _normals(judged.corners[own]) @ grid.turn.T
    cope = float(areas[judged.above[own]].sum()) > 0.5 * float(areas.sum())
    looking = normals[:, 2] < -0.02 if cope else normals[:, 2] > 0.02
    if not looking.any():
        return None
    mask = np.zeros(plan.shape, bool)
    corners, areas = judged.corners[own][looking], areas[looking]
    # pieces may be larger than a column: every column under them is met
    count = int(np.clip(A_COLUMN * areas.sum() / plan.step**2, FEWEST, MOST))
    points = np.concatenate([corners.reshape(-1, 3), spread_on(corners, areas, count)[0]]) @ grid.turn.T
    places = np.clip(np.rint(plan.cells(points)).astype(int), 0, np.array(plan.shape[::-1]) - 1)
    mask[places[:, 1], places[:, 0]] = True
    mask = ndimage.binary_fill_holes(ndimage.binary_closing(np.pad(mask, 3), np.ones((5, 5)))[3:-3, 3:-3])
    least, most = float(points[:, 2].min()) - plan.step, float(points[:, 2].max()) + plan.step
    stretches = np.repeat(mask.ravel(), np.diff(columns.start))
    end = columns.low if cope else columns.high
    over = stretches & (end >= least) & (end <= most)
    if not over.any():
        return None
    return mask, float(columns.low[over].min()), float(columns.high[over].max()), cope


def _normals(corners: Floats) -> Floats:
    crosses = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    return np.asarray(crosses / np.maximum(np.linalg.norm(crosses, axis=1), 1e-300)[:, None])


def loose_piece(
    mesh: Mesh, joint: Joint, grid: ColumnGrid, judged: Judged, region: Region, index: int
) -> LoosePiece | None:
    """The loose piece that frees this region and a sideways path for it into the main pattern's cavity; None when
    there is none.
    """
    found = overhang(grid, judged, index)
    solid = boolean.closed_solid(mesh)
    if found is None or solid is None:
        return None
    mask, low, high, cope = found
    plan = grid.plan
    cells = np.argwhere(mask)[:, ::-1] * plan.step + plan.low
    if len(cells) < 3:
        return None
    shape = shapely.MultiPoint(cells).minimum_rotated_rectangle.buffer(0.6 * plan.step, join_style="mitre")
    if not isinstance(shape, shapely.Polygon):
        return None
    corners = tuple((float(x), float(y)) for x, y in np.asarray(shape.exterior.coords)[:-1])
    margin = 1e-3 * mesh.diagonal
    piece = LoosePiece(region.centre_mm, (0, 0, 0), 0.0, corners, low - margin, high + margin, cope, region.name)
    body = boolean.common(solid, box_of(piece, joint))
    if body.is_empty() or body.volume() < 1e-9 * abs(mesh.volume) or body.volume() > 0.4 * abs(mesh.volume):
        return None
    path = _path(mesh, joint, boolean.as_mesh(body, mesh.tags), cope)
    if path is None:
        return None
    way, travel = path
    return replace(piece, way=(float(way[0]), float(way[1]), float(way[2])), travel_mm=travel)


def columns_under(piece: LoosePiece, grid: ColumnGrid) -> Bools:
    """(ny, nx) the columns that a loose piece stands over, its rim included."""
    shape = shapely.Polygon(piece.corners).buffer(1.5 * grid.plan.step, join_style="mitre")
    return np.asarray(shapely.contains_xy(shape, grid.places[..., 0], grid.places[..., 1]))


def freed_by(pieces: tuple[LoosePiece, ...], judged: Judged, joint: Joint) -> Judged:
    """What is judged, with the locked faces in the boxes of the loose pieces freed: they leave sideways."""
    flat = joint.flat_points(judged.corners.mean(axis=1))
    state = judged.state
    for piece in pieces:
        shape = shapely.Polygon(piece.corners)
        # leaning outward by no more than the box leans over its height
        shape = shape.buffer((piece.to_mm - piece.from_mm) * np.tan(np.radians(limits()["loose_lean"].value)))
        inside = shapely.contains_xy(shape, flat[:, 0], flat[:, 1])
        inside &= (flat[:, 2] >= piece.from_mm) & (flat[:, 2] <= piece.to_mm) & (judged.above == piece.cope)
        state = np.where(inside & (state == State.LOCKED), State.CLEAN, state)
    return replace(judged, state=state.astype(np.int64))


def box_of(piece: LoosePiece, joint: Joint, factor: float = 1.0) -> Solid:
    """The leaning box that cuts the piece out of the part, scaled about the origin by ``factor``."""
    base = np.array(piece.corners) * factor
    low, high = piece.from_mm * factor, piece.to_mm * factor
    grown = np.asarray(
        shapely.Polygon(base)
        .buffer((high - low) * np.tan(np.radians(limits()["loose_lean"].value)), join_style="mitre")
        .exterior.coords
    )[:-1]
    narrow, wide = (low, high) if piece.cope else (high, low)
    points = np.concatenate(
        [np.column_stack([base, np.full(len(base), narrow)]), np.column_stack([grown, np.full(len(grown), wide)])]
    )
    return boolean.hull_tool(points @ np.stack([joint.u, joint.v, joint.direction]))


def _path(mesh: Mesh, joint: Joint, body: Mesh, cope: bool) -> tuple[Floats, float] | None:
    """The way and the least travel (mm) by which the piece comes clear of its sand inside the cavity, then out along
    the draw.
    """
    tree = tree_of(mesh)
    points, faces = spread(body, POINTS)
    outer = body.tags.face[faces] >= 0
    normals = body.normals[faces]
    lift = 2e-5 * mesh.diagonal
    out_way = -joint.direction if cope else joint.direction
    best: tuple[Floats, float] | None = None
    for k in range(WAYS):
        angle = 2.0 * np.pi * k / WAYS
        way = np.cos(angle) * joint.u + np.sin(angle) * joint.v
        pushes = normals[outer] @ way > 0.01
        if pushes.mean() > NOISE:
            continue
        along = body.vertices @ way
        travel = float(along.max() - along.min()) * 1.02
        if best is not None and travel >= best[1]:
            continue
        inside = points - lift * normals
        room, _ = tree.nearest(inside, np.broadcast_to(way, inside.shape))
        if (room < travel).mean() > NOISE:
            continue
        moved = inside + travel * way
        drop, _ = tree.nearest(moved, np.broadcast_to(out_way, moved.shape))
        to_joint = np.maximum(joint.above(moved) if cope else -joint.above(moved), 0.0)
        if (drop < to_joint - 1e-3 * mesh.diagonal).mean() > NOISE:
            continue
        best = (way, travel)
    return best
