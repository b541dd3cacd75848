"""Faces of a mesh by where they are: nearest to a place, in a plane, hanging together, laid on others."""

import numpy as np

from pounce.solid.mesh import Bools, Floats, Ints, Mesh
from pounce.solid.tree import tree_of

# What was laid on a wall has it so near behind it, as a share of the diagonal, looking the same way within so many
# degrees; rays begin so far off their face.
BEHIND, LIKE_DEG, LIFT = 0.05, 12.0, 2e-5


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


def behind(before: Mesh, body: Mesh, rows: Ints) -> Ints:
    """(k,) the face of the body ``before`` that each of these faces (k,) of a body made of it was laid on: close behind
    it and looking as it does; -1 where there is none.
    """
    normals = body.normals[rows]
    far, face = tree_of(before).nearest(body.corners[rows].mean(axis=1) + LIFT * body.diagonal * normals, -normals)
    stands = (face >= 0) & (far <= BEHIND * body.diagonal)
    stands &= np.einsum("ij,ij->i", before.normals[np.maximum(face, 0)], normals) > np.cos(np.radians(LIKE_DEG))
    return np.where(stands, face, -1)
