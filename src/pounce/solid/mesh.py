"""Triangle meshes as two read-only arrays, and what can be measured on them."""

from dataclasses import dataclass
from functools import cached_property
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from pounce.solid.tags import FaceTags

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
_Scalar = TypeVar("_Scalar", bound=np.generic)


def frozen(array: NDArray[_Scalar]) -> NDArray[_Scalar]:
    """The same array, made read-only."""
    array.setflags(write=False)
    return array


@dataclass(frozen=True, eq=False)
class Mesh:
    """``vertices`` (n, 3) float64, ``faces`` (m, 3) int64, outward by the right-hand rule.

    ``tags`` says what each triangle is of; those of a mesh that is made of nothing else are its own numbers.
    """

    vertices: Floats
    faces: Ints
    tags: FaceTags

    @staticmethod
    def of(vertices: NDArray[np.floating], faces: NDArray[np.integer], tags: FaceTags | None = None) -> "Mesh":
        """A mesh of copies of these arrays, made read-only; ``tags`` default to every face being itself."""
        own_faces = np.array(faces, dtype=np.int64).reshape(-1, 3)
        own_tags = FaceTags.own(len(own_faces)) if tags is None else tags
        return Mesh(frozen(np.array(vertices, dtype=np.float64).reshape(-1, 3)), frozen(own_faces), own_tags)

    def tagged(self, tags: FaceTags) -> "Mesh":
        """The same mesh with other tags."""
        return Mesh(self.vertices, self.faces, tags)

    @cached_property
    def corners(self) -> Floats:
        """(m, 3, 3): the corner points of each triangle."""
        return frozen(self.vertices[self.faces])

    @cached_property
    def crosses(self) -> Floats:
        """(m, 3): outward normals of length twice the area."""
        corners = self.corners
        return frozen(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]))

    @cached_property
    def areas(self) -> Floats:
        """(m,): triangle areas, mm2."""
        return frozen(0.5 * np.sqrt(np.einsum("ij,ij->i", self.crosses, self.crosses)))

    @cached_property
    def normals(self) -> Floats:
        """(m, 3): outward unit normals; zero for a triangle of no area."""
        doubled = 2.0 * self.areas
        return frozen(self.crosses / np.where(doubled > 0.0, doubled, 1.0)[:, None])

    @cached_property
    def bounds(self) -> Floats:
        """(2, 3): least and greatest x, y, z of the vertices that faces use."""
        if not len(self.faces):
            return frozen(np.zeros((2, 3)))
        used = np.zeros(len(self.vertices), bool)
        used[self.faces] = True
        points = self.vertices if used.all() else self.vertices[used]
        # column by column: numpy reduces the first axis of a thin array ten times slower
        return frozen(np.array([[points[:, k].min() for k in range(3)], [points[:, k].max() for k in range(3)]]))

    @property
    def size(self) -> Floats:
        """(3,): extents along x, y, z."""
        return np.asarray(self.bounds[1] - self.bounds[0])

    @property
    def diagonal(self) -> float:
        """Length of the diagonal of the bounding box."""
        return float(np.linalg.norm(self.size))

    @property
    def area(self) -> float:
        """Total area, mm2."""
        return float(self.areas.sum())

    @cached_property
    def volume(self) -> float:
        """Enclosed volume, mm3 (divergence theorem; only meaningful when closed)."""
        middle = self.bounds.mean(axis=0)
        corners = self.corners - middle
        return float(np.einsum("ij,ij->", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])) / 6.0)

    @cached_property
    def centre_of_mass(self) -> Floats:
        """(3,): centre of the enclosed volume; the middle of the box when it encloses none."""
        middle = self.bounds.mean(axis=0)
        corners = self.corners - middle
        six = np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2]))
        total = float(six.sum())
        if abs(total) < 1e-12 * max(self.diagonal, 1e-9) ** 3:
            return np.asarray(middle)
        return np.asarray(middle + np.einsum("i,ij->j", six, corners.sum(axis=1)) / (4.0 * total))

    def scaled(self, factor: float | Floats) -> "Mesh":
        """The mesh scaled about the origin, by one factor or by one along each axis (3,)."""
        return Mesh.of(self.vertices * factor, self.faces, self.tags)

    def moved(self, turn: Floats, shift: Floats) -> "Mesh":
        """The mesh with every vertex v at ``turn @ v + shift`` (``turn`` a (3, 3) rotation)."""
        return Mesh.of(self.vertices @ turn.T + shift, self.faces, self.tags)

    def part(self, chosen: Bools | Ints) -> "Mesh":
        """The sub-mesh of the chosen faces, unused vertices dropped, tags kept."""
        faces = self.faces[chosen]
        used, inverse = np.unique(faces, return_inverse=True)
        return Mesh.of(self.vertices[used], inverse.reshape(-1, 3), self.tags.at(chosen))


def areas_of(corners: Floats) -> Floats:
    """(k,) areas of loose triangles (k, 3, 3), mm2."""
    crosses = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    return np.asarray(0.5 * np.linalg.norm(crosses, axis=1))


def joined(meshes: list[Mesh]) -> Mesh:
    """All meshes in one, side by side (no boolean); tags are kept."""
    shifts = np.cumsum([0, *[len(mesh.vertices) for mesh in meshes[:-1]]])
    return Mesh.of(
        np.concatenate([mesh.vertices for mesh in meshes]),
        np.concatenate([mesh.faces + shift for mesh, shift in zip(meshes, shifts, strict=True)]),
        FaceTags.joined([mesh.tags for mesh in meshes]),
    )


@dataclass(frozen=True, eq=False)
class Edges:
    """Undirected edges of a mesh.

    ``ends`` (e, 2) vertex indices, low first; ``pairs`` (p, 2) faces on both sides of the edges that exactly two
    faces share, ``pair_ends`` (p, 2) their ends; ``open_ends`` (o, 2) edges of one face only; ``crowded`` how
    many edges have three faces or more; ``misturned`` how many pairs run the same way along their edge.
    """

    pairs: Ints
    pair_ends: Ints
    open_ends: Ints
    crowded: int
    misturned: int


def edges(faces: Ints, vertex_count: int) -> Edges:
    """The edge table of ``faces`` (m, 3); one sort of 3 m keys."""
    count = len(faces)
    starts = faces.reshape(-1)
    ends = faces[:, [1, 2, 0]].reshape(-1)
    low, high = np.minimum(starts, ends), np.maximum(starts, ends)
    keys = low * np.int64(vertex_count) + high
    order = np.argsort(keys, kind="stable")
    ordered = keys[order]
    first = np.flatnonzero(np.r_[True, ordered[1:] != ordered[:-1]]) if count else np.zeros(0, np.int64)
    runs = np.diff(np.r_[first, len(ordered)])
    two = first[runs == 2]
    a, b = order[two], order[two + 1]
    lone = order[first[runs == 1]]
    return Edges(
        pairs=np.stack([a // 3, b // 3], axis=1),
        pair_ends=np.stack([low[a], high[a]], axis=1),
        open_ends=np.stack([low[lone], high[lone]], axis=1),
        crowded=int((runs > 2).sum()),
        misturned=int((starts[a] == starts[b]).sum()),
    )


def merged_vertices(vertices: Floats, faces: Ints, tolerance: float) -> tuple[Floats, Ints]:
    """Vertices closer than about ``tolerance`` made one (rounded to a grid), degenerate faces kept."""
    if tolerance > 0.0:
        rel = vertices - vertices.min(axis=0)
        # no finer than figures of this size are kept, or the steps could not be counted
        keys = np.round(rel / max(tolerance, float(rel.max(initial=0.0)) * 2.0**-52, 1e-300)).astype(np.int64)
    else:
        keys = (vertices + 0.0).view(np.int64)
    order = np.lexsort((keys[:, 2], keys[:, 1], keys[:, 0]))
    ordered = keys[order]
    new = np.r_[True, (ordered[1:] != ordered[:-1]).any(axis=1)]
    index = np.empty(len(vertices), np.int64)
    index[order] = np.cumsum(new) - 1
    return vertices[order[new]], index[faces]
