"""Whether a solid may be written: bodies counted, two faces at each edge, no face without area; and the little
mending that makes it so.
"""

from dataclasses import dataclass

import numpy as np
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from pounce.base.errors import UserFault
from pounce.solid import boolean
from pounce.solid.mesh import Floats, Ints, Mesh, merged_vertices
from pounce.solid.sets import distinct

# What is written moves no more than this, mm: a tenth of the hundredth that patterns measure right to.
FINE_MM = 1e-3
# On very small things no more than this share of the diagonal.
FINE_SHARE = 2e-5
# A body of its own smaller than this share of the whole is a crumb that a solid operation left.
CRUMB = 1e-4
# Faces of less area than this, mm2, have none.
NO_AREA = 1e-9
# Edges shorter than these shares of what may be moved fall together, where nothing else helps.
WELDS = (0.2, 0.35, 0.5)
# So many times as coarsely it is tried again where slivers just over what may be merged leave faces without area.
COARSER = 3.0
# Edges turned at most so many times over.
FLIPS = 12
# Single precision tells no less than this at a millimetre, mm.
NOUGHT = 1e-7


@dataclass(frozen=True)
class Soundness:
    """What a solid is as files of single precision hold it: ``bodies`` (rooms inside them are none), edges without
    just two faces, faces without area.
    """

    bodies: int
    odd_edges: int
    flat_faces: int

    @property
    def sound(self) -> bool:
        """Whether nothing is wrong with it, however many bodies it has."""
        return self.odd_edges == 0 and self.flat_faces == 0


def as_filed(vertices: Floats) -> Floats:
    """(n, 3) positions as a file of single precision keeps them; what is off nought by less than that tells at a
    millimetre is nought.
    """
    return np.where(np.abs(vertices) < NOUGHT, 0.0, vertices).astype(np.float32).astype(np.float64)


def soundness(mesh: Mesh) -> Soundness:
    """Judged by positions rounded to single precision, as a file keeps them."""
    vertices, faces = merged_vertices(as_filed(mesh.vertices), mesh.faces, 0.0)
    rounded = Mesh.of(vertices, faces)
    ends = np.sort(np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]]), axis=1)
    _, counts = np.unique(ends[:, 0] * np.int64(len(vertices)) + ends[:, 1], return_counts=True)
    solid = boolean.closed_solid(mesh)
    bodies = 0 if solid is None else sum(float(one.volume()) > 0.0 for one in solid.decompose())
    return Soundness(bodies, int((counts != 2).sum()), int((rounded.areas <= NO_AREA).sum()))


def readied(mesh: Mesh, bodies: int | None = None, anew: bool = False) -> Mesh:
    """The mesh as it is written: needless slivers merged, crumbs dropped, nothing moved by more than a thousandth of a
    millimetre, or three where it cannot be made sound otherwise.

    ``bodies`` how many are meant; None for as many as there are beside crumbs. ``anew``: also where nothing is wrong
    with it yet, for a file that rounds otherwise. UserFault where it cannot be made sound.
    """
    found = soundness(mesh)
    if not anew and found.sound and (found.bodies == bodies or (bodies is None and found.bodies == 1)):
        return mesh
    solid = boolean.closed_solid(mesh)
    if solid is None:
        raise UserFault(
            "A solid came out open, so it is not written.", "Change the last addition, or report this part."
        )
    fine = min(FINE_MM, FINE_SHARE * mesh.diagonal)
    whole, left, off_mm3 = _tidied(solid, mesh, bodies, fine, anew)
    if not left.sound:
        whole, left, off_mm3 = _tidied(solid, mesh, bodies, COARSER * fine, anew)
    if not left.sound:
        raise UserFault(
            f"A solid came out with {left.odd_edges} edges that have not just two faces and {left.flat_faces} "
            "faces without area.",
            "Change the last addition, or report this part.",
        )
    off = abs(whole.volume - mesh.volume)
    if off > off_mm3:
        raise UserFault(f"Making a solid ready to be written changed its volume by {off:.1f} mm³.", "Report this part.")
    return whole


def _tidied(
    solid: boolean.Solid, mesh: Mesh, bodies: int | None, fine: float, anew: bool
) -> tuple[Mesh, Soundness, float]:
    """The solid with slivers up to ``fine`` (mm) merged and crumbs dropped, how sound it is, and by how much its volume
    may have changed, mm3. UserFault for another count of bodies than is meant.
    """
    parts = [boolean.simplified(boolean.unmarked(one), fine) for one in solid.decompose()]
    total = sum(float(one.volume()) for one in parts)
    # a room inside a body has a volume under 0, and stays
    kept = [part for part in parts if abs(float(part.volume())) > CRUMB * total]
    count = sum(float(one.volume()) > 0.0 for one in kept)
    if bodies is not None and count != bodies:
        raise UserFault(
            f"A solid came out in {count} bodies where {bodies} {'is' if bodies == 1 else 'are'} meant, so it "
            "is not written.",
            "Change the last addition or the core, or report this part.",
        )
    made = [flipped(_apart(boolean.bare_mesh(kept_one), fine)) for kept_one in kept]
    whole = _joined(made)
    left = soundness(whole)
    # crumbs of faces, smaller than all that is kept to, go into one corner; a file may also bring those together that
    # single precision just tells apart
    for share in WELDS:
        if left.sound and not anew:
            break
        welded = _joined([_collapsed(one, share * fine, fine) for one in made])
        after = soundness(welded)
        if after.sound and after.bodies == left.bodies:
            whole, left, anew = welded, after, False
    return whole, left, fine * mesh.area + CRUMB * total * len(parts)


def without_films(mesh: Mesh) -> Mesh:
    """The mesh less films of no thickness, which a cut through a face leaves standing; as it was where there are none,
    or they cannot be taken off.

    Faces keep their tags: those of the old face nearest to each.
    """
    if not (Mesh.of(as_filed(mesh.vertices), mesh.faces).areas <= NO_AREA).any():
        return mesh
    try:
        made = readied(mesh)
    except UserFault:  # told when it is written
        return mesh
    if np.abs(made.bounds - mesh.bounds).max() < FINE_MM:
        return mesh
    _, nearest = cKDTree(mesh.corners.mean(axis=1)).query(made.corners.mean(axis=1))
    return Mesh.of(made.vertices, made.faces, mesh.tags.at(np.asarray(nearest, np.int64)))


def _apart(mesh: Mesh, fine: float) -> Mesh:
    """A body whose faces meet at an edge by fours is drawn back there, by a thousandth along its own faces' normals."""
    mesh = _drawn_together(mesh)
    for _ in range(3):
        vertices, faces = merged_vertices(as_filed(mesh.vertices), mesh.faces, 0.0)
        odd = _odd_corners(vertices, faces)
        flat = Mesh.of(vertices, faces).areas <= NO_AREA
        if not len(odd) and not flat.any():
            return mesh
        # vertices that the file would bring together are moved apart, each into its own faces' metal
        same = np.isin(_numbers(mesh, vertices), odd)
        normals = np.zeros_like(mesh.vertices)
        for k in range(3):
            np.add.at(normals, mesh.faces[:, k], mesh.crosses)
        normals /= np.maximum(np.linalg.norm(normals, axis=1), 1e-300)[:, None]
        moved = mesh.vertices - np.where(same[:, None], normals, 0.0) * fine
        solid = boolean.closed_solid(Mesh.of(moved, mesh.faces))
        if solid is None:
            return mesh
        mesh = boolean.bare_mesh(boolean.simplified(boolean.unmarked(solid), fine / 2.0))
    return mesh


def flipped(mesh: Mesh) -> Mesh:
    """Faces without area whose corner lies on the edge across from it share that edge's other face with it instead:
    the edge is turned (Lawson 1977), no corner moves and none goes.
    """
    faces = mesh.faces.copy()
    for _ in range(FLIPS):
        filed = as_filed(mesh.vertices)
        flat = np.flatnonzero(Mesh.of(filed, faces).areas <= NO_AREA)
        if not len(flat):
            break
        corners = filed[faces]
        sides = np.linalg.norm(corners[:, [1, 2, 0]] - corners, axis=2)
        across = {(int(face[k]), int(face[k - 2])): (row, k) for row, face in enumerate(faces) for k in range(3)}
        touched: set[int] = set()
        for row in flat.tolist():
            k = int(sides[row].argmax())
            start, end, apex = (int(faces[row, (k + step) % 3]) for step in range(3))
            other, at = across.get((end, start), (row, 0))
            far = int(faces[other, at - 1])
            if {row, other} & touched or other == row or (apex, far) in across or (far, apex) in across:
                continue
            faces[row], faces[other] = (apex, start, far), (far, end, apex)
            across[apex, far] = row, 2  # so that no second one makes the same edge
            touched |= {row, other}
        if not touched:
            break
    return mesh if not len(faces) or np.array_equal(faces, mesh.faces) else Mesh.of(mesh.vertices, faces)


def _drawn_together(mesh: Mesh) -> Mesh:
    """Corners that single precision takes for one are one, and the slivers between them gone, where every edge keeps
    its two faces.
    """
    return _less_folds(mesh, *merged_vertices(as_filed(mesh.vertices), mesh.faces, 0.0))


def _collapsed(mesh: Mesh, within: float, most: float) -> Mesh:
    """Corners joined by edges shorter than ``within`` mm are one, where none is moved by more than ``most`` and every
    edge keeps its two faces.
    """
    vertices = as_filed(mesh.vertices)
    ends = np.concatenate([mesh.faces[:, [0, 1]], mesh.faces[:, [1, 2]], mesh.faces[:, [2, 0]]])
    short = ends[np.linalg.norm(vertices[ends[:, 0]] - vertices[ends[:, 1]], axis=1) < within]
    count = len(vertices)
    joined = coo_array((np.ones(len(short)), (short[:, 0], short[:, 1])), shape=(count, count))
    _, cluster = connected_components(joined, directed=False)
    _, first = np.unique(cluster, return_index=True)
    own = first[cluster]
    if np.linalg.norm(vertices[own] - vertices, axis=1).max() > most:
        return mesh
    return _less_folds(mesh, vertices, np.asarray(own[mesh.faces], np.int64))


def _less_folds(mesh: Mesh, vertices: Floats, faces: Ints) -> Mesh:
    """These faces of the mesh without those that fell together; the mesh itself where that leaves an odd edge."""
    real = (faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])
    if real.all():
        return mesh
    faces = faces[real]
    # what folded flat lies on itself, once each way round
    key = np.sort(faces, axis=1)
    _, which, count = np.unique(key, axis=0, return_inverse=True, return_counts=True)
    faces = faces[count[np.asarray(which).ravel()] == 1]
    used, numbers = np.unique(faces, return_inverse=True)
    made = Mesh.of(vertices[used], np.asarray(numbers, np.int64).reshape(-1, 3))
    return made if len(made.faces) and not len(_odd_corners(made.vertices, made.faces)) else mesh


def _numbers(mesh: Mesh, merged: Floats) -> Ints:
    """(n,) number of the merged vertex that each vertex of the mesh becomes."""
    rounded = as_filed(mesh.vertices)
    both = np.concatenate([merged, rounded])
    _, numbers = np.unique(both, axis=0, return_inverse=True)
    own = np.zeros(int(numbers.max()) + 1, np.int64)
    own[numbers[: len(merged)]] = np.arange(len(merged))
    return np.asarray(own[numbers[len(merged) :]])


def _odd_corners(vertices: Floats, faces: Ints) -> Ints:
    """Vertices at edges that have not just two faces."""
    ends = np.sort(np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]]), axis=1)
    keys, counts = np.unique(ends[:, 0] * np.int64(len(vertices)) + ends[:, 1], return_counts=True)
    odd = keys[counts != 2]
    return distinct(np.concatenate([odd // len(vertices), odd % len(vertices)]))


def _joined(meshes: list[Mesh]) -> Mesh:
    count, vertices, faces = 0, [], []
    for mesh in meshes:
        vertices.append(mesh.vertices)
        faces.append(mesh.faces + count)
        count += len(mesh.vertices)
    return Mesh.of(np.concatenate(vertices), np.concatenate(faces))
