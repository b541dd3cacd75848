"""Which feature of the part each face of a body is of, with the walls that lines added to bores and bosses."""

import numpy as np

from pounce.solid.mesh import Ints, Mesh
from pounce.stock.machining import near_of
from pounce.stock.work import Work

# Faces that a line made on a round belong to its wall when they look this little along its axis (cosine).
ROUND_WALL = 0.3


def features_on(work: Work, body: Mesh) -> Ints:
    """(m,) index into the part's features of each face of a body, -1 for none."""
    face = body.tags.face
    return _walls_carried_on(work, body, np.where(face >= 0, work.number[np.maximum(face, 0)], -1))


def _walls_carried_on(work: Work, mesh: Mesh, feature: Ints) -> Ints:
    """(m,) the feature of each face, with the walls that lines added to a bore or boss: left small, or carried on
    through stock.
    """
    out = feature.copy()
    added = np.flatnonzero(feature < 0)
    if not len(added):
        return out
    corners, normals = mesh.corners[added], mesh.normals[added]
    for number, found in enumerate(work.features):
        radius = work.changed.get(number, 2.0 * found.radius_mm) / 2.0
        if found.kind not in ("bore", "boss") or radius <= 0.0:
            continue
        rel = corners - found.centre
        flat = rel - (rel @ found.axis)[..., None] * found.axis
        off = np.abs(np.linalg.norm(flat, axis=2) - radius).max(axis=1)
        near = (off < near_of(mesh) + 2.0 * found.misfit_mm) & (np.abs(normals @ found.axis) < ROUND_WALL)
        out[added[near]] = number
    return out


def recoded(work: Work, body: Mesh) -> Mesh:
    """The body with the walls that stock carried on tagged as the part's own: they stay that bore's wall when they
    are leaned later.
    """
    number = features_on(work, body)
    fresh = np.flatnonzero((body.tags.face < 0) & (number >= 0))
    if not len(fresh):
        return body
    first = np.array([int(feature.faces[0]) if len(feature.faces) else -1 for feature in work.features], np.int64)
    face = body.tags.face.copy()
    face[fresh] = first[number[fresh]]
    return body.tagged(body.tags.changed(face=face))
