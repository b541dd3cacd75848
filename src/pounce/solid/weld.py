"""Short edges drawn together and crumbs dropped, after solid operations whose tools root a little way in the body."""

import numpy as np
from scipy.spatial import cKDTree

from pounce.solid import boolean
from pounce.solid.features.patches import grouped
from pounce.solid.mesh import Floats, Ints, Mesh, merged_vertices

WELD = 4e-6


# Shells of less than this share of the diagonal cubed are crumbs.
CRUMB = 1e-9


def near_vertices_merged(vertices: Floats, faces: Ints, tolerance: float) -> tuple[Floats, Ints]:
    """Vertices closer than ``tolerance`` made one, degenerate faces kept.

    Rounded to a grid first, so that no crowd of them is compared pair by pair; then those that a line of the grid
    parts, as it does wherever copies of a corner lie on either side of it.
    """
    vertices, faces = merged_vertices(vertices, faces, tolerance)
    pairs = cKDTree(vertices).query_pairs(tolerance, output_type="ndarray")
    if not len(pairs):
        return vertices, faces
    _, first, number = np.unique(grouped(len(vertices), pairs), return_index=True, return_inverse=True)
    return vertices[first], number[faces]


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
    """Less the shells that near-coincident faces leave after a union or a simplifying (under ``CRUMB`` of the diagonal
    cubed each), and less rooms shut in of under ``pocket`` of the largest shell.
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
    large = (np.abs(volume) > CRUMB * before.diagonal**3) & ~(
        (volume <= 0.0) & (volume > -pocket * float(volume.max()))
    )
    return mesh if large.all() else mesh.part(large[shell_of])
