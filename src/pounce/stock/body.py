"""The body that additions work on: a closed mesh whose every face is tagged with the part's face and the line it came from."""

import numpy as np
from scipy.spatial import cKDTree

from pounce.base.errors import UserFault
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.features.patches import bends_of, flat_groups, grouped
from pounce.solid.mesh import Bools, Floats, Ints, Mesh
from pounce.solid.section import chained
from pounce.solid.tags import FaceTags

# Tools reach this share of the diagonal into the body, so that no film stays between.
ROOT = 1e-6
WELD = 4e-6
# Shells of less than this share of the diagonal cubed are crumbs.
CRUMB = 1e-9
# How far simplifying may move a surface, as a share of the diagonal: a little over the depth that tools root at.
SIMPLER = 4e-6


def body_of(part: Mesh) -> Mesh:
    """The part as a body. Faces of one flat patch are tagged as one face of the part (the first), so that they may be merged."""
    group = flat_groups(part, bends_of(part))
    _, first = np.unique(group, return_index=True)
    return Mesh.of(part.vertices, part.faces, FaceTags.of(len(part.faces), face=first[group]))


def solid_of(body: Mesh) -> tuple[Solid, FaceTags]:
    """The body as a solid, and the tags of each of its marks. UserFault when it is not closed."""
    tags, marks = body.tags, body.tags.group
    _, first = np.unique(marks, return_index=True)
    # marks say which triangles lie in one plane: faces of added metal and of moved walls are no planes, each is its own
    own = (tags.face < 0) | (tags.line >= 0)
    marks = np.where(own, len(first) + np.arange(len(marks)), marks)
    table = FaceTags.joined([tags.at(first), tags])
    solid = boolean.closed_solid(body, 0, marks)
    if solid is None:
        raise UserFault("The part's shell is open, so nothing can be added to it.", "Close it where it is drawn.")
    return solid, table


def joined_to(body: Mesh, tools: list[Mesh], line: int, cut: bool = False) -> Mesh:
    """The body with the tools (closed meshes) united to it, or cut from it; their faces carry the line.

    UserFault when a tool is not closed or the result is broken.
    """
    base, table = solid_of(body)
    solids: list[Solid] = []
    for tool in tools:
        made = boolean.closed_solid(tool, len(table))
        if made is None:
            raise UserFault("The metal to be added came out open.", "Leave this line out, or change its figure.")
        solids.append(made)
        table = FaceTags.joined([table, FaceTags.of(len(tool.faces), line=line)])
        # each tool's marks begin where the table stood when it was made
    result = boolean.without(base, solids) if cut else boolean.united([base, *solids])
    return welded(without_crumbs(boolean.as_mesh(result, table), body), WELD * body.diagonal, body.vertices)


def welded(mesh: Mesh, short_mm: float, kept: Floats | None = None) -> Mesh:
    """Edges shorter than this drawn together: tools that root in the body leave seams that thin.

    They are drawn to a corner that is among ``kept`` (n, 3), those of the body before, so that nothing of it moves.
    The mesh comes back as it is where that would open it or change its volume.
    """
    faces = mesh.faces
    ends = np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]])
    size = np.linalg.norm(mesh.vertices[ends[:, 0]] - mesh.vertices[ends[:, 1]], axis=1)
    if not (size < short_mm).any():
        return mesh
    group = grouped(len(mesh.vertices), ends[size < short_mm])
    stood = np.zeros(len(mesh.vertices), bool)
    if kept is not None:
        stood = np.isfinite(cKDTree(kept).query(mesh.vertices, distance_upper_bound=1e-3 * short_mm)[0])
    # of each group the corner that stood before comes first
    order = np.argsort(~stood, kind="stable")
    _, first = np.unique(group[order], return_index=True)
    first = order[first]
    drawn = group[mesh.faces]
    real = (drawn[:, 0] != drawn[:, 1]) & (drawn[:, 1] != drawn[:, 2]) & (drawn[:, 2] != drawn[:, 0])
    made = Mesh.of(mesh.vertices[first], drawn[real], mesh.tags.at(real))
    near = abs(made.volume - mesh.volume) < 1e-6 * abs(mesh.volume)
    return made if near and boolean.closed_solid(made) is not None else mesh


def without_crumbs(mesh: Mesh, before: Mesh, pocket: float = 0.0) -> Mesh:
    """Less the shells that near-coincident faces leave after a union or a simplifying (under ``CRUMB`` of the diagonal cubed each), and

    less rooms shut in of under ``pocket`` of the largest shell.
    """
    edges = np.concatenate([mesh.faces[:, [0, 1]], mesh.faces[:, [1, 2]]])
    shell_of = grouped(len(mesh.vertices), edges)[mesh.faces[:, 0]]
    count = int(shell_of.max(initial=0)) + 1
    if count == 1:
        return mesh
    corners = mesh.corners - mesh.bounds.mean(axis=0)
    six = np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2]))
    volume = np.bincount(shell_of, six, count) / 6.0
    # a hollow of the part's own has a volume under 0, and stays
    large = (np.abs(volume) > CRUMB * before.diagonal**3) & ~((volume <= 0.0) & (volume > -pocket * float(volume.max())))
    return mesh if large.all() else mesh.part(large[shell_of])


def shell(corner_faces: Ints, top: Floats, bottom: Floats) -> Mesh:
    """The closed solid between a patch moved to ``top`` and moved to ``bottom`` (n, 3), faces (k, 3) into both.

    ``top`` is the side the patch looks to.
    """
    used, inverse = np.unique(corner_faces, return_inverse=True)
    faces = inverse.reshape(-1, 3)
    count = len(used)
    a, b = rim_of(faces).T
    sides = np.concatenate([np.stack([a, a + count, b], 1), np.stack([b, a + count, b + count], 1)])
    vertices = np.concatenate([top[used], bottom[used]])
    return Mesh.of(vertices, np.concatenate([faces, faces[:, ::-1] + count, sides]))


def rim_of(faces: Ints) -> Ints:
    """(k, 2) the edges at the rim of a patch of faces (m, 3), running as its faces run."""
    edges = np.stack([faces, np.roll(faces, -1, axis=1)], axis=2).reshape(-1, 2)
    count = np.int64(faces.max(initial=0)) + 1
    return edges[~np.isin(edges[:, 0] * count + edges[:, 1], edges[:, 1] * count + edges[:, 0])]


def rim_loops(faces: Ints) -> tuple[list[Ints], int]:
    """The rim of a patch as loops of vertices, and how many stay open."""
    rim = rim_of(faces)
    loops, opened = chained(rim[:, :, None].astype(np.float64), rim[:, 0], rim[:, 1])
    return [loop[:-1, 0].astype(np.int64) for loop in loops], opened


def on_plane(body: Mesh, normal: Floats, level: float, near: float) -> Bools:
    """(m,) faces of the body that lie in the plane normal . x = level and look along its normal."""
    heights = np.abs(body.vertices @ normal - level) < near
    return np.asarray(heights[body.faces].all(axis=1) & (body.normals @ normal > 0.99999))


def touching(body: Mesh, among: Bools, seeds: Bools) -> Ints:
    """Faces of ``among`` that hang together, by shared corners, with one of ``seeds``."""
    from_corners = np.zeros(len(body.vertices), bool)
    chosen = among & seeds
    for _ in range(10_000):
        from_corners[body.faces[chosen]] = True
        more = among & from_corners[body.faces].any(axis=1)
        if (more == chosen).all():
            break
        chosen = more
    return np.flatnonzero(chosen)


def nearest_face(mesh: Mesh, place: tuple[float, float, float]) -> int:
    """The face of the mesh that lies nearest to a place."""
    corners = mesh.corners
    at = np.array(place)
    # exact for the nearest few by middles; a face's own point is always among them for picks, which lie on the surface
    reach = np.abs(np.einsum("ij,ij->i", mesh.normals, at - corners[:, 0]))
    a, b, c = corners[:, 0], corners[:, 1], corners[:, 2]
    low, high = np.minimum(np.minimum(a, b), c), np.maximum(np.maximum(a, b), c)
    outside = np.maximum(np.maximum(low - at, at - high), 0.0)
    gap = np.maximum(np.linalg.norm(outside, axis=1), reach)
    nearest = float(gap.min())
    close = np.flatnonzero(gap <= nearest + 1e-6 * mesh.diagonal)
    if len(close) > 1:
        close = close[np.argsort(_in_plane(corners[close], at), kind="stable")]
    return int(close[0])


def _in_plane(corners: Floats, at: Floats) -> Floats:
    """(k,) how far outside each triangle the point lies, by barycentric parts (0 inside)."""
    one, two = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    rel = at - corners[:, 0]
    aa, ab, bb = (np.einsum("ij,ij->i", p, q) for p, q in ((one, one), (one, two), (two, two)))
    pa, pb = np.einsum("ij,ij->i", rel, one), np.einsum("ij,ij->i", rel, two)
    size = np.maximum(aa * bb - ab * ab, 1e-300)
    s, t = (bb * pa - ab * pb) / size, (aa * pb - ab * pa) / size
    return np.asarray(np.maximum(0.0, -np.minimum(np.minimum(s, t), 1.0 - s - t)))


def standing_off(part: Mesh, body: Mesh) -> Floats:
    """(n,) how far each vertex of the body stands off the part: the filler to lay on, mm."""
    from_part = np.zeros(len(body.vertices))
    face = body.tags.face
    rows = np.flatnonzero(face >= 0)
    normals, corner = part.normals[face[rows]], part.corners[face[rows], 0]
    for k in range(3):
        at = body.faces[rows, k]
        off = np.einsum("ij,ij->i", body.vertices[at] - corner, normals)
        np.maximum.at(from_part, at, off)
    return from_part


def simplified(body: Mesh) -> Mesh:
    """The body with needless triangles inside flat faces merged away, and slivers drawn together.

    They make folds when walls move, and vanish in files of single precision.
    """
    solid, table = solid_of(body)
    return without_crumbs(boolean.as_mesh(solid.simplify(SIMPLER * body.diagonal), table), body)
