"""Whether triangles close: each edge run along as often one way as the other."""

import numpy as np

from pounce.solid.kernels import njit
from pounce.solid.mesh import Ints

# Odd factors of the mixing of splitmix64 (Steele, Lea and Flood 2014), from memory.
_A, _B, _C = np.uint64(0x9E3779B97F4A7C15), np.uint64(0xBF58476D1CE4E5B9), np.uint64(0x94D049BB133111EB)


@njit(cache=True)
def _mixed(value: np.uint64) -> np.uint64:
    value = (value ^ (value >> np.uint64(30))) * _B
    value = (value ^ (value >> np.uint64(27))) * _C
    return value ^ (value >> np.uint64(31))


@njit(cache=True)
def runs_cancel(faces: Ints, same: Ints) -> bool:
    """Whether every edge of triangles (m, 3) is run as often one way as the other, vertex v counting as ``same[v]``.

    The solid library reads past its arrays on some meshes for which this does not hold, so it is asked first. Each
    edge has a number mixed from its ends, added one way and taken off the other: the sum is nothing when all cancel,
    and otherwise once in 2^64 times.
    """
    total = np.uint64(0)
    for face in range(len(faces)):
        for k in range(3):
            a, b = same[faces[face, k]], same[faces[face, (k + 1) % 3]]
            if a < b:
                total += _mixed(_mixed(np.uint64(a) + _A) + np.uint64(b) * _A)
            elif b < a:
                total -= _mixed(_mixed(np.uint64(b) + _A) + np.uint64(a) * _A)
    return bool(total == np.uint64(0))
