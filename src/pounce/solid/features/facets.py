"""What hangs on the flat patches of a mesh alone, whatever is grown over them: neighbours over smooth edges, and which
patches may be facets of a round.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from pounce.solid.features.patches import SMOOTH_DEG, Bends
from pounce.solid.mesh import Bools, Floats, Ints, Mesh
from pounce.solid.sets import distinct

# How nearly parallel the edges of a strip are, as a share.
PARALLEL = 1e-3
# Facets of one round are alike in size within this.
LEAST_ALIKE, MOST_ALIKE = 0.3, 3.3


@dataclass(frozen=True, eq=False)
class Facets:
    """The faces of a mesh by their flat patches: ``group`` (m,) the patch of each face, ``middles`` (m, 3),
    ``pairs`` (e, 2) faces that meet smoothly and ``along`` (e, 3) their edges.
    """

    mesh: Mesh
    group: Ints
    middles: Floats
    pairs: Ints
    along: Floats

    @cached_property
    def beside(self) -> tuple[Ints, Ints]:
        """``first`` (m + 1,) and ``beside``: the neighbours of face f are ``beside[first[f]:first[f + 1]]``."""
        both = np.concatenate([self.pairs, self.pairs[:, ::-1]])
        order = np.argsort(both[:, 0], kind="stable")
        first = np.searchsorted(both[order, 0], np.arange(len(self.mesh.faces) + 1))
        return first, np.ascontiguousarray(both[order, 1])

    @cached_property
    def weight(self) -> Floats:
        """(p,) area of each patch, mm2."""
        return np.asarray(np.bincount(self.group, self.mesh.areas), np.float64)

    @cached_property
    def sides(self) -> Ints:
        """(b, 2) the two patches at each edge over which the surface bends, smaller number first."""
        sides = self.group[self.pairs]
        return np.sort(sides[sides[:, 0] != sides[:, 1]], axis=1)

    @cached_property
    def curved(self) -> Bools:
        """(m,) which faces lie in a patch that bends smoothly into another."""
        bent = np.zeros(len(self.weight), bool)
        bent[self.sides] = True
        return np.asarray(bent[self.group])

    @cached_property
    def _likely(self) -> Ints:
        """Patches that have two bent neighbours about their own size, as the facets of a round have; largest first."""
        count_all = np.int64(len(self.weight)) + 1
        keys = distinct(self.sides[:, 0] * count_all + self.sides[:, 1])
        sides = np.stack([keys // count_all, keys % count_all], axis=1)
        ratio = self.weight[sides[:, 0]] / np.maximum(self.weight[sides[:, 1]], 1e-300)
        alike = sides[(ratio > LEAST_ALIKE) & (ratio < MOST_ALIKE)]
        chosen = np.flatnonzero(np.bincount(alike.ravel(), minlength=len(self.weight)) >= 2)
        return np.asarray(chosen[np.argsort(-self.weight[chosen], kind="stable")])

    def seeds(self, free: Bools) -> Ints:
        """One free face of every patch that may be a facet of a round, largest first."""
        face = np.full(len(self.weight), -1, np.int64)
        rows = np.flatnonzero(free)
        face[self.group[rows]] = rows
        faces = face[self._likely]
        return np.asarray(faces[faces >= 0])

    @cached_property
    def _strips(self) -> Bools:
        """(p,) which patches are strips: all edges over which the surface bends are parallel."""
        sides = self.group[self.pairs]
        bent = sides[:, 0] != sides[:, 1]
        sides = sides[bent]
        along = self.along[bent] / np.maximum(np.linalg.norm(self.along[bent], axis=1), 1e-300)[:, None]
        squared, trace = np.zeros(len(self.weight)), np.zeros(len(self.weight))
        for i in range(3):
            for j in range(i, 3):
                product, total = along[:, i] * along[:, j], np.zeros(len(self.weight))
                for k in (0, 1):
                    total += np.bincount(sides[:, k], product, len(self.weight))
                squared += (1.0 if i == j else 2.0) * total * total
                trace += total if i == j else 0.0
        # of parallel edges the spread has one direction alone
        return np.asarray(squared > (1.0 - PARALLEL) * trace * trace)

    def strips(self, seeds: Ints) -> Ints:
        """Those of these faces whose patch is a strip."""
        return np.asarray(seeds[self._strips[self.group[seeds]]])


def facets_of(mesh: Mesh, bends: Bends, group: Ints) -> Facets:
    """The facets of a mesh whose faces lie in these flat patches (m,)."""
    smooth = bends.bend_deg < SMOOTH_DEG
    middles = (mesh.corners[:, 0] + mesh.corners[:, 1] + mesh.corners[:, 2]) / 3.0
    along = mesh.vertices[bends.ends[smooth, 1]] - mesh.vertices[bends.ends[smooth, 0]]
    return Facets(mesh, group, middles, bends.pairs[smooth], along)
