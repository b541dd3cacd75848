"""Flat patches: connected triangles of one plane."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from pounce.solid.mesh import Bools, Floats, Ints, Mesh, edges

FLAT_DEG = 0.05
# Rounding of float32 corners, as a share of the diagonal: it tilts slender triangles by this over their height.
GRAIN = 4e-7
# Spacing of single-precision figures, as a share of their size.
SINGLE = 1.2e-7
SMOOTH_DEG = 40.0
# Edges bent less than this tell the noise, so many at least; and no more than this share of the diagonal is taken for
# noise.
NEARLY_FLAT_DEG, LEAST_EDGES, MOST_NOISE = 3.0, 24, 3e-4


@dataclass(frozen=True, eq=False)
class Bends:
    """Inner edges of a mesh: ``pairs`` (e, 2) faces, ``ends`` (e, 2) vertices, ``bend_deg`` (e,) how far the surface
    turns there, ``concave`` (e,) whether it turns inward (an inside corner).
    """

    pairs: Ints
    ends: Ints
    bend_deg: Floats
    concave: Bools

    @cached_property
    def _of_face(self) -> tuple[Ints, Ints]:
        """The edges of face f are ``edges[first[f]:first[f + 1]]`` of (first, edges)."""
        faces = self.pairs.ravel()
        order = np.argsort(faces, kind="stable")
        return np.searchsorted(faces[order], np.arange(int(faces.max(initial=-1)) + 2)), order // 2

    def rim(self, faces: Ints) -> Ints:
        """(k,) the edges that these faces (n,), each given once, share with others, in rising order."""
        first, of_face = self._of_face
        faces = faces[faces < len(first) - 1]
        count = first[faces + 1] - first[faces]
        # one row of places for each face: its first, and on from there
        place = np.repeat(first[faces] - np.r_[0, np.cumsum(count)[:-1]], count) + np.arange(int(count.sum()))
        own = np.sort(of_face[place])
        twice = np.flatnonzero(own[1:] == own[:-1])
        return np.asarray(np.delete(own, np.r_[twice, twice + 1]))


def bends_of(mesh: Mesh) -> Bends:
    """How the surface turns over every edge that two faces share."""
    table = edges(mesh.faces, len(mesh.vertices))
    one, two = mesh.normals[table.pairs[:, 0]], mesh.normals[table.pairs[:, 1]]
    cross = np.linalg.norm(np.cross(one, two), axis=1)
    bend = np.degrees(np.arctan2(cross, np.einsum("ij,ij->i", one, two)))
    # the far corner of the second face lies above the first face's plane where the corner is an inside one
    middle = (mesh.corners[:, 0] + mesh.corners[:, 1] + mesh.corners[:, 2]) / 3.0
    over = np.einsum("ij,ij->i", middle[table.pairs[:, 1]] - mesh.vertices[table.pair_ends[:, 0]], one)
    return Bends(table.pairs, table.pair_ends, bend, np.asarray(over > 0.0))


def noise_of(mesh: Mesh, bends: Bends) -> float:
    """How far corners lie off the surface they stand for, mm: rounding of the file, or the noise of a scan.

    Over edges that hardly bend, the far corner of one face lies off the plane of the other. Half of such edges in an
    exact mesh run across flat quads, so a quarter of them lie in their plane to the grain; what a quarter do not is
    noise, widened to four standard deviations (a quarter of a normal spread of four corners is 0.64 of one).
    """
    # files keep single precision, which is coarse far from the origin
    least = max(GRAIN * mesh.diagonal, SINGLE * float(np.abs(mesh.vertices).max(initial=0.0)))
    near_flat = np.flatnonzero(bends.bend_deg < NEARLY_FLAT_DEG)
    if len(near_flat) < LEAST_EDGES:
        return least
    one, two = bends.pairs[near_flat].T
    corners = mesh.corners[two]
    off = np.abs(
        np.einsum("ikj,ij->ik", corners - mesh.vertices[bends.ends[near_flat, 0]][:, None], mesh.normals[one])
    ).max(axis=1)
    return float(min(max(6.0 * float(np.quantile(off, 0.25)), least), MOST_NOISE * mesh.diagonal))


def tilts(mesh: Mesh, grain_mm: float | None = None) -> Floats:
    """(m,) degrees that rounding (or noise of ``grain_mm``) may have tilted each triangle by."""
    corners = mesh.corners
    sides = [np.linalg.norm(corners[:, k] - corners[:, (k + 1) % 3], axis=1) for k in range(3)]
    longest = np.maximum(np.maximum(sides[0], sides[1]), sides[2])
    height = 2.0 * mesh.areas / np.maximum(longest, 1e-300)
    return np.asarray(
        np.degrees(np.arctan((GRAIN * mesh.diagonal if grain_mm is None else grain_mm) / np.maximum(height, 1e-300)))
    )


def grouped(count: int, pairs: Ints) -> Ints:
    """(count,) number of the connected group of each item."""
    ones = np.ones(len(pairs), np.int8)
    graph = coo_array((ones, (pairs[:, 0], pairs[:, 1])), shape=(count, count))
    return np.asarray(connected_components(graph, directed=False)[1], np.int64)


def flat_groups(mesh: Mesh, bends: Bends, grain_mm: float | None = None) -> Ints:
    """(m,) number of the flat patch of each face; triangles of no area join a neighbour."""
    tilt = tilts(mesh, grain_mm)
    flat = bends.bend_deg < FLAT_DEG + tilt[bends.pairs].sum(axis=1)
    group = grouped(len(mesh.faces), bends.pairs[flat])
    # a fine curve may creep from facet to facet: such a patch falls apart again, into what is flat to within rounding
    weight = np.bincount(group, mesh.areas)
    normal = np.stack([np.bincount(group, mesh.crosses[:, k]) for k in range(3)], axis=1)
    normal = normal / np.maximum(np.linalg.norm(normal, axis=1), 1e-300)[:, None]
    off = np.degrees(np.arccos(np.clip(np.einsum("ij,ij->i", mesh.normals, normal[group]), -1.0, 1.0)))
    wide = mesh.areas > 1e-9 * weight[group]
    torn = np.zeros(len(weight), bool)
    torn[group[wide & (off > 4.0 * FLAT_DEG + 2.0 * tilt)]] = True
    loose = torn[group]
    if loose.any():
        own = np.arange(len(group)) if grain_mm is None else flat_groups(mesh, bends)
        group = np.where(loose, len(weight) + own, group)
        group = np.unique(group, return_inverse=True)[1]
    return group.astype(np.int64)
