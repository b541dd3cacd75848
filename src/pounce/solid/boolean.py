"""Solid operations by manifold3d, with the tags of every triangle kept.

manifold3d works lazily and reports NoError for shells that overlap themselves; closedness is what it checks.
"""

from typing import Any, TypeAlias

import manifold3d
import numpy as np

from pounce.base.errors import UserFault
from pounce.solid.closed import runs_cancel
from pounce.solid.mesh import Floats, Ints, Mesh
from pounce.solid.tags import FaceTags

Solid: TypeAlias = Any  # manifold3d.Manifold, which has no types
_Manifold = manifold3d.Manifold
# Marks live in 31 bits. Triangles that manifold3d makes itself (the face of a plane cut) carry small marks of their
# own, so ours start high.
_PART_MARK = 1 << 28
_TOOL_MARK = 1 << 24
# Simplifying that takes too much is tried again with these shares of what it may move.
SMALLER = (1.0, 0.3, 0.1, 0.01)
# A film on a cut is thinner than this, mm: what places in double precision are off by.
FILM_MM = 5e-10
# More solids than MANY are joined by their places, LEAF at once first; cells of 2^BITS a side tell their order.
MANY, LEAF, BITS = 48, 8, 12


def closed_solid(mesh: Mesh, shift: int = 0, marks: Ints | None = None) -> Solid | None:
    """The mesh as a solid, or None when it is not closed, is empty or holds no volume.

    Triangle i carries its own mark, counted from ``shift``, through every later operation; give each of several
    bodies its own shift, then :func:`as_mesh` finds each triangle's tags again. ``marks`` (m,) from 0 stand in for
    the own numbers: triangles of one mark must lie in one plane, and may then be merged by simplifying.
    """
    if not len(mesh.faces) or not np.isfinite(mesh.vertices).all():
        return None
    solid = _solid(
        mesh.vertices, mesh.faces, (np.arange(len(mesh.faces)) if marks is None else marks) + (_PART_MARK + shift)
    )
    if solid is None or solid.status() != manifold3d.Error.NoError or solid.is_empty():
        return None
    return solid


def _solid(vertices: Floats, faces: Ints, marks: Ints) -> Solid | None:
    # One mark a triangle: manifold3d takes triangles of equal mark for coplanar, so a STEP face's id will not do.
    raw = manifold3d.Mesh64(
        vert_properties=np.array(vertices, np.float64),
        tri_verts=np.array(faces, np.uint64),
        face_id=np.array(marks, np.uint64),
        run_original_id=np.array([_Manifold.reserve_ids(1)], np.uint32),
        run_index=np.array([0, 3 * len(faces)], np.uint64),
    )
    raw.merge()
    same = np.arange(len(vertices))
    same[np.asarray(raw.merge_from_vert, np.int64)] = np.asarray(raw.merge_to_vert, np.int64)
    return _Manifold(raw) if runs_cancel(np.asarray(faces, np.int64), same) else None


def as_mesh(solid: Solid, tags: FaceTags) -> Mesh:
    """The solid as a mesh; triangles of the i-th mark take the i-th of ``tags``, those that cuts and tools made have
    none.
    """
    raw = solid.to_mesh64()
    faces = np.asarray(raw.tri_verts, np.int64).reshape(-1, 3)
    marks = np.asarray(raw.face_id, np.uint64).astype(np.int64) - _PART_MARK
    known = (marks >= 0) & (marks < len(tags))
    return Mesh.of(np.asarray(raw.vert_properties)[:, :3], faces, tags.or_none(np.where(known, marks, -1)))


def bare_mesh(solid: Solid) -> Mesh:
    """The solid as a mesh whose faces are each its own."""
    raw = solid.to_mesh64()
    return Mesh.of(np.asarray(raw.vert_properties)[:, :3], np.asarray(raw.tri_verts, np.int64).reshape(-1, 3))


def unmarked(solid: Solid) -> Solid:
    """The same solid with no marks on its triangles, so that simplifying may merge what lies in one plane.

    It never goes through a mesh: where bodies share an edge alone, its faces would be paired wrongly.
    """
    return solid.as_original()


def simplified(solid: Solid, within_mm: float) -> Solid:
    """The solid with fewer triangles, no face moved by more than ``within_mm``; those of one mark merge.

    Where bodies nearly coincide or share an edge alone manifold3d's own simplifying now and then takes a whole corner
    along. What is moved by no more than it may be cannot change the volume so: then less is tried, at last nothing.
    """
    volume, area = float(solid.volume()), float(solid.surface_area())
    for share in SMALLER:
        fewer = solid.simplify(share * within_mm)
        if abs(float(fewer.volume()) - volume) <= share * within_mm * area:
            return fewer
    return solid


def tool_solid(vertices: Floats, faces: Ints) -> Solid:
    """A solid to cut with; its triangles count as made by tools. ValueError when it is not closed."""
    solid = _solid(vertices, faces, np.arange(len(faces)) % (_PART_MARK - _TOOL_MARK) + _TOOL_MARK)
    if solid is None or solid.status() != manifold3d.Error.NoError:
        raise ValueError(f"the tool is not a solid: {'open' if solid is None else solid.status()}")
    return solid


def split_by(solid: Solid, tool: Solid) -> tuple[Solid, Solid]:
    """The part of the solid inside the tool, and the part outside it."""
    inside, outside = solid.split(tool)
    return inside, outside


def common(solid: Solid, tool: Solid) -> Solid:
    """The part of the solid inside the tool; may be empty."""
    return solid ^ tool


def rod(start: Floats, along: Floats, length_mm: float, radius_mm: float, top_mm: float | None = None) -> Solid:
    """A round rod of 48 sides from ``start`` along the unit vector ``along``, or a cone to the radius ``top_mm``."""
    plain = _Manifold.cylinder(length_mm, radius_mm, radius_mm if top_mm is None else top_mm, 48).to_mesh64()
    faces = np.asarray(plain.tri_verts, np.int64).reshape(-1, 3)
    points = np.asarray(plain.vert_properties)[:, :3] @ _turn_from_z(along).T + start
    return _solid(points, faces, np.arange(len(faces)) + _TOOL_MARK)


def _turn_from_z(along: Floats) -> Floats:
    helper = np.eye(3)[0] if abs(along[0]) < 0.9 else np.eye(3)[1]
    u = helper - along * float(helper @ along)
    u /= np.linalg.norm(u)
    return np.stack([u, np.cross(along, u), along], axis=1)


def split(solid: Solid, normal: Floats, offset_mm: float) -> tuple[Solid, Solid]:
    """The part of the solid above the plane normal . x = offset, and the part below; ``normal`` (3,) a unit vector."""
    above, below = solid.split_by_plane(normal, offset_mm)
    return _less_film(above, normal, offset_mm), _less_film(below, -normal, -offset_mm)


def _less_film(half: Solid, normal: Floats, offset_mm: float) -> Solid:
    """What lies over a plane, less a film on it: a face of the whole that lies in the plane to within rounding is left
    standing by the cut, as wide as it was and of no thickness.
    """
    if half.is_empty():
        return half
    mesh = bare_mesh(half)
    in_plane = np.abs(mesh.corners @ normal - offset_mm).max(axis=1) < FILM_MM
    if not (in_plane & (mesh.normals @ normal > 0.99)).any():
        return half
    return half.trim_by_plane(normal, offset_mm + FILM_MM)


def united(solids: list[Solid], slack_mm: float = 0.0) -> Solid:
    """The union of the solids. UserFault when the result is not a valid solid.

    With a ``slack_mm`` they count as tools without marks, and what lies in one plane to within it is merged on the way:
    bodies that overlap by a hair cut each other into five times the triangles.
    """
    return checked(_joined(solids, slack_mm), "Joining the bodies")


def _joined(solids: list[Solid], slack_mm: float) -> Solid:
    """Many are joined neighbour to neighbour along a curve that fills space, so that sides between them are gone before
    they meet the rest: two and a half times as fast as all at once for the filling of an undercut.
    """

    def merged(solid: Solid) -> Solid:
        if slack_mm <= 0.0:
            return solid
        return simplified(unmarked(solid), slack_mm)

    if len(solids) <= MANY:
        return merged(_Manifold.batch_boolean(solids, manifold3d.OpType.Add))
    boxes = np.array([np.reshape(one.bounding_box(), (2, 3)) for one in solids])
    row = [solids[k] for k in _morton(boxes.mean(axis=1))]
    row = [merged(_Manifold.batch_boolean(row[k : k + LEAF], manifold3d.OpType.Add)) for k in range(0, len(row), LEAF)]
    while len(row) > 1:
        pairs = [merged(row[k] + row[k + 1]) for k in range(0, len(row) - 1, 2)]
        for one in pairs:  # or it is all put off and joined at once after all
            one.num_tri()
        row = [*pairs, *row[len(pairs) * 2 :]]
    return row[0]


def _morton(points: Floats) -> Ints:
    """The order of points (n, 3) along a curve that fills space: the bits of their cells interleaved (Morton 1966)."""
    low, size = points.min(axis=0), max(float(np.ptp(points, axis=0).max()), 1e-300)
    cells = ((points - low) / size * (2**BITS - 1)).astype(np.int64)
    code = np.zeros(len(points), np.int64)
    for bit in range(BITS):
        for axis in range(3):
            code |= ((cells[:, axis] >> bit) & 1) << (3 * bit + axis)
    return np.argsort(code, kind="stable")


def less_crumbs(solid: Solid, share: float) -> tuple[Solid, float, float]:
    """The solid less bodies under ``share`` of its volume, their volume (mm3), and the longest of them (mm); rooms
    inside a body stay.
    """
    bodies = solid.decompose()
    whole = sum(abs(float(one.volume())) for one in bodies)
    small = [body for body in bodies if abs(float(body.volume())) <= share * whole]
    if not small or len(small) == len(bodies):
        return solid, 0.0, 0.0
    kept = [one for one in bodies if abs(float(one.volume())) > share * whole]
    boxes = [np.reshape(one.bounding_box(), (2, 3)) for one in small]
    longest = max(float(np.linalg.norm(high - low)) for low, high in boxes)
    return _Manifold.compose(kept), sum(abs(float(one.volume())) for one in small), longest


def without(solid: Solid, tools: list[Solid]) -> Solid:
    """The solid less the tools. UserFault when the result is not a valid solid."""
    if not tools:
        return solid
    return checked(solid - _Manifold.batch_boolean(tools, manifold3d.OpType.Add), "Cutting the holes")


def checked(solid: Solid, doing: str) -> Solid:
    """The same solid; UserFault when it is broken or empty."""
    if solid.status() != manifold3d.Error.NoError:
        raise UserFault(
            f"{doing} failed: the solid came out broken.", "Mend the model where it is made and read it again."
        )
    if solid.is_empty() or solid.volume() <= 0.0:
        raise UserFault(f"{doing} left nothing.", "Check the unit and the height of the parting.")
    return solid


def hull_tool(points: Floats) -> Solid:
    """The convex hull of points (n, 3) as a solid to cut with."""
    raw = _Manifold.hull_points(np.ascontiguousarray(points, np.float64)).to_mesh64()
    return tool_solid(np.asarray(raw.vert_properties)[:, :3], np.asarray(raw.tri_verts, np.int64).reshape(-1, 3))
