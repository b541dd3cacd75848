"""Rounds from the import's own faces: a STEP face is one plane, cylinder, cone, ball or ring, and says where it
ends.
"""

import numpy as np

from pounce.solid.features.compiled import cone_of
from pounce.solid.features.rounds import Grown
from pounce.solid.features.shapes import Shape, ball, cylinder, refined, shape_of
from pounce.solid.mesh import Floats, Ints, Mesh
from pounce.solid.sets import distinct

# Where the import's faces are no more than this share of the triangles, they are faces of a model and not the triangles
# themselves.
MOST_SHARE = 0.6
# Of a face's triangles, this share has to lie on the shape.
WHOLE = 0.98
LEAST_FACETS = 2


def has_imported_faces(mesh: Mesh) -> bool:
    """Whether the model file told faces, several triangles each."""
    imported = mesh.tags.imported
    return bool((imported >= 0).any()) and len(distinct(imported)) <= MOST_SHARE * len(mesh.faces)


def imported_rounds(mesh: Mesh, group: Ints, near_mm: float) -> list[Grown]:
    """A round for every import face that is one within ``near_mm``; ``group`` (m,) the flat patches. Free-form faces
    give none.
    """
    imported = mesh.tags.imported
    order = np.argsort(imported, kind="stable")
    ids, starts = np.unique(imported[order], return_index=True)
    out: list[Grown] = []
    for index, faces in enumerate(np.split(order, starts[1:])):
        if ids[index] < 0 or len(distinct(group[faces])) < LEAST_FACETS:
            continue
        found = _round_of(mesh, faces, near_mm)
        if found is not None:
            out.append(found)
    return out


def _round_of(mesh: Mesh, faces: Ints, near_mm: float) -> Grown | None:
    points = mesh.corners[faces].reshape(-1, 3)
    best: Grown | None = None
    for shape in _guesses(mesh, faces, points):
        if shape.radius > 1.5 * mesh.diagonal:
            continue
        close = np.abs(shape.off(points)) < near_mm
        if close.mean() < WHOLE:
            continue
        misfit = float(np.sqrt(np.mean(np.square(shape.off(points)))))
        # the plainer shape stands first, and a later one has to be clearly closer
        if best is None or misfit < 0.2 * best.misfit_mm:
            best = Grown(shape, faces, misfit)
    return best


def _guesses(mesh: Mesh, faces: Ints, points: Floats) -> list[Shape]:
    normals, areas = mesh.normals[faces], mesh.areas[faces]
    spread = np.einsum("i,ij,ik->jk", areas, normals, normals)
    out: list[Shape] = []
    found = cylinder(points, np.linalg.eigh(spread)[1][:, 0])
    if found is not None:
        out.append(refined(found, points))
    # normals of a cone all lean alike to its axis: about their mean they spread in a plane
    off = normals - np.einsum("i,ij->j", areas, normals) / float(areas.sum())
    axis = np.ascontiguousarray(np.linalg.eigh(np.einsum("i,ij,ik->jk", areas, off, off))[1][:, 0])
    turned = shape_of("cone", cone_of(mesh.corners[faces], normals, axis))
    if turned is not None:
        out.append(refined(turned, points))
    sphere = ball(points)
    if sphere is not None:
        out.append(sphere)
    return out
