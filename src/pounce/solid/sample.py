"""Points spread over a surface by area."""

import numpy as np

from pounce.solid.mesh import Floats, Ints, Mesh


def spread(mesh: Mesh, count: int, seed: int = 7) -> tuple[Floats, Ints]:
    """About ``count`` points (k, 3) and their faces (k,), stratified by area, the same at every call."""
    return spread_on(mesh.corners, mesh.areas, count, seed)


def spread_on(corners: Floats, areas: Floats, count: int, seed: int = 7) -> tuple[Floats, Ints]:
    """The same over loose triangles (m, 3, 3) of these areas (m,): points (k, 3) and the rows (k,) they lie on."""
    sums = np.cumsum(areas)
    if not len(sums) or sums[-1] <= 0.0:
        return np.zeros((0, 3)), np.zeros(0, np.int64)
    noise = np.random.default_rng(seed)
    places = (np.arange(count) + noise.random(count)) * (sums[-1] / count)
    row = np.minimum(np.searchsorted(sums, places, side="right"), len(sums) - 1)
    r, t = np.sqrt(noise.random(count)), noise.random(count)
    weights = np.stack([1.0 - r, r * (1.0 - t), r * t], axis=1)
    return np.einsum("ij,ijk->ik", weights, corners[row]), row
