"""Directions worth trying as a draw: own axes, principal axes, axes of round faces, normals of flats, and all round."""

from dataclasses import dataclass

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from pounce.solid import rounds
from pounce.solid.frame import across, half_sphere, unit
from pounce.solid.mesh import Bools, Edges, Floats, Ints, Mesh

# Two ways closer than this are one and the same to a pattern maker.
SAME_DEG = 1.0
SNAP_DEG = 3.0
# Flats and round faces smaller than this share of the surface set no draw.
WORTH = 0.01
MOST_FLATS, MOST_ROUNDS, MOST_TRIED = 10, 8, 30
PATCH_DEG = 25.0


@dataclass(frozen=True, eq=False)
class Ways:
    """``directions`` (k, 3) unit, one of each opposite pair; ``source`` names where each came from."""

    directions: Floats
    source: tuple[str, ...]

    def snapped(self, direction: Floats) -> tuple[Floats, str]:
        """The named way within 3 degrees of this one, else the direction itself."""
        named = np.array([index for index, word in enumerate(self.source) if word != "tilted"], np.int64)
        cosine = self.directions[named] @ direction
        best = int(np.argmax(np.abs(cosine)))
        if abs(float(cosine[best])) >= np.cos(np.radians(SNAP_DEG)):
            index = int(named[best])
            return self.directions[index] * np.sign(cosine[best]), self.source[index]
        return direction, "tilted"


def ways_of(mesh: Mesh, table: Edges, all_round: int) -> Ways:
    """Own axes first, then what the part itself suggests, then ``all_round`` directions over a half sphere."""
    found: list[tuple[Floats, str]] = [(axis, "own axis") for axis in np.eye(3)[[2, 1, 0]]]
    patches = patches_of(mesh, table)
    found += [(normal, "flat face") for normal in flat_normals(mesh, patches)]
    rounds_found = round_axes(mesh, patches)
    found += [(axis, "round face") for axis in rounds_found]
    for axis in rounds_found[:2]:
        found += [(way, "across a round") for way in _across_round(axis, [way for way, _ in found[: 3 + MOST_FLATS]])]
    found += [(axis, "principal axis") for axis in principal_axes(mesh)]
    found += [(way, "tilted") for way in half_sphere(all_round)]
    kept: list[tuple[Floats, str]] = []
    for way, word in found:
        if not any(abs(float(way @ other)) > np.cos(np.radians(SAME_DEG)) for other, _ in kept):
            kept.append((way, word))
    return Ways(np.array([way for way, _ in kept]), tuple(word for _, word in kept))


def _across_round(axis: Floats, others: list[Floats]) -> list[Floats]:
    """Directions square to the axis of a round, as a shaft or tube is split: first toward what else the part shows."""
    out: list[Floats] = []
    for way in others:
        off = way - axis * float(way @ axis)
        if np.linalg.norm(off) > 0.2:
            out += [unit(off), np.cross(axis, unit(off))]
    u, v = across(axis)
    turn = np.radians(np.arange(0.0, 180.0, 30.0))
    return [*out[:6], *(np.cos(turn)[:, None] * u + np.sin(turn)[:, None] * v)]


def ring_round(direction: Floats, tilt_deg: float, count: int) -> Floats:
    """(count, 3) directions tilted this far off ``direction``, evenly round it."""
    u, v = across(direction)
    turn = 2.0 * np.pi * np.arange(count) / count
    side = np.cos(turn)[:, None] * u + np.sin(turn)[:, None] * v
    tilt = np.radians(tilt_deg)
    return np.asarray(np.cos(tilt) * direction + np.sin(tilt) * side)


def principal_axes(mesh: Mesh) -> list[Floats]:
    """The three axes of least and greatest spread of the surface.

    A body's symmetry axis is always one of them; where two spreads are equal the flats and rounds name the axes.
    """
    middles = mesh.corners.mean(axis=1)
    weight = mesh.areas / max(mesh.area, 1e-300)
    off = middles - weight @ middles
    values, vectors = np.linalg.eigh(np.einsum("i,ij,ik->jk", weight, off, off))
    if values[2] <= 0.0:
        return []
    # axes of equal spread are arbitrary in their plane and would only add noise
    gaps = np.abs(np.diff(values)) / values[2]
    alone = [gaps[0] > 0.02, min(gaps) > 0.02, gaps[1] > 0.02]
    return [vectors[:, k] for k in range(3) if alone[k]]


@dataclass(frozen=True, eq=False)
class Patches:
    """Smooth patches: ``label`` (m,) of every face, ``area`` (p,), ``normal`` (p, 3) summed normal times area,
    ``bent`` (p,).
    """

    label: Ints
    area: Floats
    normal: Floats
    bent: Bools


def patches_of(mesh: Mesh, table: Edges) -> Patches:
    """Faces that run into each other without a crease."""
    bend = np.einsum("ij,ij->i", mesh.normals[table.pairs[:, 0]], mesh.normals[table.pairs[:, 1]])
    pairs = table.pairs[bend > np.cos(np.radians(PATCH_DEG))]
    count = len(mesh.faces)
    graph = coo_matrix((np.ones(len(pairs), np.int8), (pairs[:, 0], pairs[:, 1])), shape=(count, count))
    patches, label = connected_components(graph, directed=False)
    area: Floats = np.asarray(np.bincount(label, mesh.areas, patches), np.float64)
    total = np.stack([np.bincount(label, mesh.areas * mesh.normals[:, k], patches) for k in range(3)], axis=1)
    return Patches(
        label.astype(np.int64), area, np.asarray(total, np.float64), np.linalg.norm(total, axis=1) < 0.9999 * area
    )


def flat_normals(mesh: Mesh, patches: Patches) -> list[Floats]:
    """Normals of flat faces that make a good share of the surface, the largest share first."""
    flat = np.flatnonzero(~patches.bent & (patches.area > 0.1 * WORTH * mesh.area))
    if not len(flat):
        return []
    normals = patches.normal[flat] / patches.area[flat][:, None]
    normals *= np.where(_last_sign(normals) < 0, -1.0, 1.0)[:, None]
    keys = np.round(normals * 200.0).astype(np.int64)
    _, index, inverse = np.unique(keys, axis=0, return_index=True, return_inverse=True)
    area = np.bincount(inverse.ravel(), patches.area[flat])
    order = np.argsort(-area)[:MOST_FLATS]
    return [unit(normals[index[k]]) for k in order if area[k] > WORTH * mesh.area]


def _last_sign(normals: Floats) -> Floats:
    """(m,) the sign of the last component that is not nearly zero, so that opposite normals agree."""
    out = np.zeros(len(normals))
    for k in range(3):
        out = np.where(np.abs(normals[:, k]) > 1e-3, np.sign(normals[:, k]), out)
    return out


def round_axes(mesh: Mesh, patches: Patches) -> list[Floats]:
    """Axes of cylinders among the smooth patches, the largest patch first."""
    worth = [int(k) for k in np.argsort(-patches.area) if patches.bent[k] and patches.area[k] > WORTH * mesh.area]
    order = np.argsort(patches.label, kind="stable")
    starts = np.searchsorted(patches.label[order], np.arange(len(patches.area) + 1))
    out: list[Floats] = []
    for patch in worth[:MOST_TRIED]:
        found = rounds.fit(mesh, order[starts[patch] : starts[patch + 1]])
        if found is not None and found.misfit < 0.02:
            out.append(unit(found.axis))
        if len(out) >= MOST_ROUNDS:
            break
    return out
