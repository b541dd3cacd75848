"""Rings on turned surfaces: where facets lie in bands round an axis, each band alone is a cone, and only the profile
tells an arc.
"""

import numpy as np
from scipy.spatial import cKDTree

from pounce.solid.features.patches import grouped
from pounce.solid.features.rounds import Grown
from pounce.solid.features.shapes import Shape, circle
from pounce.solid.frame import across
from pounce.solid.mesh import Bools, Floats, Ints, Mesh
from pounce.solid.sets import distinct

# Bands that make an arc, least; and how far its steps may differ from each other.
LEAST_BANDS, UNEVEN = 3, 3.0
MOST_AXES = 8
# Pairs of patches asked where their normals meet; how near (share of the diagonal) two meetings are one; and how many
# make an axis.
PAIRS, MEETING, LEAST_VOTES, MOST_OWN = 6000, 2e-4, 0.02, 3
# A band goes round in so many facets at least.
LEAST_ROUND = 8
# An arc that turns more than this at one step has corners, no curve.
WIDEST_STEP_DEG = 41.0
LEAST_ARC_DEG = 18.0
# More curved faces than this are a scan or a ball, whose rings are no fillets.
MOST_FACES = 150_000


def turned_rings(mesh: Mesh, axes: list[tuple[Floats, Floats]], curved: Bools, near_mm: float) -> list[Grown]:
    """The rings about these axes (direction, place), among the faces ``curved`` (m,)."""
    out: list[Grown] = []
    left = curved.copy()
    for axis, centre in axes[:MOST_AXES]:
        rows = np.flatnonzero(left)
        if not LEAST_ROUND * LEAST_BANDS <= len(rows) <= MOST_FACES:
            break
        corners = mesh.corners[rows]
        u, v = across(axis)
        rel = corners - centre
        x, y, z = rel @ u, rel @ v, rel @ axis
        r = np.hypot(x, y)
        # turned about the axis: no part of the normal goes round it
        middle = rel.mean(axis=1)
        tangent = np.cross(axis, middle)
        round_part = np.abs(np.einsum("ij,ij->i", mesh.normals[rows], tangent)) / np.maximum(
            np.linalg.norm(tangent, axis=1), 1e-12
        )
        about = round_part < 0.05
        if about.sum() < LEAST_ROUND * LEAST_BANDS:
            continue
        for ring, bands in _arcs(r[about], z[about], near_mm):
            faces = rows[about][bands]
            shape = Shape("ring", axis, centre + axis * ring[1], ring[0], 0.0, ring[2])
            off = shape.off(mesh.corners[faces].reshape(-1, 3))
            out.append(Grown(shape, faces, float(np.sqrt(np.mean(off * off)))))
            left[faces] = False
    return out


def _arcs(r: Floats, z: Floats, near_mm: float) -> list[tuple[tuple[float, float, float], Ints]]:
    """Arcs of the profile: centre (r, z) and radius, and the faces (rows of ``r`` (k, 3)) on them."""
    flat = np.stack([r.ravel(), z.ravel()], axis=1)
    cell = np.round((flat - flat.min(axis=0)) / (0.5 * near_mm)).astype(np.int64)
    keys = cell[:, 0] * (cell[:, 1].max() + 1) + cell[:, 1]
    _, first, number = np.unique(keys, return_index=True, return_inverse=True)
    # a point on the edge of a step of the rounding falls into two: those that all but touch are one
    same = grouped(len(first), cKDTree(flat[first]).query_pairs(2.0 * near_mm, output_type="ndarray"))
    _, lead = np.unique(same, return_index=True)
    place, number = flat[first][lead], same[number.ravel()]
    number = number.reshape(-1, 3)
    low, high = number.min(axis=1), number.max(axis=1)
    middle = number.sum(axis=1) - low - high
    banded = (low != high) & ((middle == low) | (middle == high))
    rows = np.flatnonzero(banded)
    pairs, band, count = np.unique(
        np.stack([low[rows], high[rows]], axis=1), axis=0, return_inverse=True, return_counts=True
    )
    whole = np.flatnonzero(count >= LEAST_ROUND)
    beside: dict[int, list[int]] = {}
    for index in whole.tolist():
        for end in pairs[index].tolist():
            beside.setdefault(end, []).append(index)
    used: set[int] = set()
    out: list[tuple[tuple[float, float, float], Ints]] = []
    for index in whole.tolist():
        if index in used:
            continue
        line, bands = _chained(index, pairs, beside, used)
        used.update(bands)
        start = 0
        while start + LEAST_BANDS <= len(bands):
            run = _longest(place[line], start, near_mm)
            if run is None:
                start += 1
                continue
            end, fitted = run
            chosen = np.isin(band.ravel(), bands[start:end])
            out.append((fitted, rows[chosen]))
            start = end
    return out


def _chained(first: int, pairs: Ints, beside: dict[int, list[int]], used: set[int]) -> tuple[list[int], list[int]]:
    """The profile's points and bands from one band on in both ways, as long as exactly two bands meet."""
    line, bands = pairs[first].tolist(), [first]
    for forward in (True, False):
        while True:
            end, last = (line[-1], bands[-1]) if forward else (line[0], bands[0])
            others = [k for k in beside[end] if k != last]
            if len(others) != 1 or others[0] in used or others[0] in bands:
                break
            one, two = pairs[others[0]].tolist()
            line.insert(len(line) if forward else 0, two if one == end else one)
            bands.insert(len(bands) if forward else 0, others[0])
    return line, bands


def _longest(points: Floats, start: int, near_mm: float) -> tuple[int, tuple[float, float, float]] | None:
    """The longest run of bands from ``start`` whose points lie on one circle and turn evenly: its end, and the
    circle.
    """
    best = None
    for end in range(start + LEAST_BANDS, len(points)):
        run = points[start : end + 1]
        found = circle(run[:, 0], run[:, 1])
        if found is None:
            break
        off = np.abs(np.hypot(run[:, 0] - found[0], run[:, 1] - found[1]) - found[2])
        steps = np.linalg.norm(np.diff(run, axis=0), axis=1)
        turn = np.degrees(steps / max(found[2], 1e-12))
        if off.max() > 2.0 * near_mm or turn.max() > WIDEST_STEP_DEG or steps.max() > UNEVEN * steps.min():
            break
        # an arc about the axis itself is a ball, and a few flat bands lie on many circles
        if float(turn.sum()) > LEAST_ARC_DEG and (found[0] - found[2] > -1e-6 or found[0] > 0.2 * found[2]):
            best = (end, (found[0], found[1], found[2]))
    return best


def own_axes(mesh: Mesh, group: Ints, curved: Bools) -> list[tuple[Floats, Floats]]:
    """Axes along x, y or z that many curved patches turn about.

    Seen along its axis, every normal of a turned surface points at one place: where the normals of pairs of patches
    meet is counted, and the places most meet at are taken.
    """
    chosen = distinct(group[curved])
    if len(chosen) < LEAST_ROUND * LEAST_BANDS:
        return []
    weight = np.bincount(group, mesh.areas)
    sums = np.stack([np.bincount(group, mesh.areas * mesh.corners[:, :, k].mean(axis=1)) for k in range(3)], axis=1)
    middles = np.asarray(sums / np.maximum(weight, 1e-300)[:, None])[chosen]
    _, first = np.unique(group, return_index=True)
    normals = mesh.normals[first[chosen]]
    noise = np.random.default_rng(7)
    pairs = noise.integers(0, len(chosen), (PAIRS, 2))
    cell = max(MEETING * mesh.diagonal, 1e-6)
    out: list[tuple[Floats, Floats]] = []
    for k in range(3):
        flat, way = np.delete(middles, k, axis=1), np.delete(normals, k, axis=1)
        one, two = pairs.T
        det = way[one, 0] * way[two, 1] - way[one, 1] * way[two, 0]
        ok = np.abs(det) > 0.05
        one, two, det = one[ok], two[ok], det[ok]
        gap = flat[two] - flat[one]
        along = (gap[:, 0] * way[two, 1] - gap[:, 1] * way[two, 0]) / det
        meet = flat[one] + along[:, None] * way[one]
        keys = np.round(meet / cell).astype(np.int64)
        _, inverse, votes = np.unique(keys, axis=0, return_inverse=True, return_counts=True)
        for index in np.argsort(-votes)[:MOST_OWN].tolist():
            if votes[index] < LEAST_VOTES * len(one):
                break
            at = np.insert(np.median(meet[inverse.ravel() == index], axis=0), k, 0.0)
            if not any(
                float(np.linalg.norm(np.delete(at - place, k))) < 2.0 * cell for way_k, place in out if way_k[k] == 1.0
            ):
                out.append((np.eye(3)[k], at))
    return out
