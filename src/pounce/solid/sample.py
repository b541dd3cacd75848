"""Points spread over a surface by area."""

import numpy as np

from pounce.solid.mesh import Floats, Ints, Mesh


def spread(mesh: Mesh, count: int, seed: int = 7) -> tuple[Floats, Ints]:
    """About ``count`` points (k, 3) and their faces (k,), stratified by area, the same at every call."""
    areas = np.cumsum(mesh.areas)
    if not len(areas) or areas[-1] <= 0.0:
        return np.zeros((0, 3)), np.zeros(0, np.int64)
    noise = np.random.default_rng(seed)
    places = (np.arange(count) + noise.random(count)) * (areas[-1] / count)
    face = np.minimum(np.searchsorted(areas, places, side="right"), len(areas) - 1)
    r, t = np.sqrt(noise.random(count)), noise.random(count)
    weights = np.stack([1.0 - r, r * (1.0 - t), r * t], axis=1)
    return np.einsum("ij,ijk->ik", weights, mesh.corners[face]), face
