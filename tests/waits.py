"""How long tests wait: by how quick this machine is just now, so that the suite passes on a slower one too."""

import time
from functools import cache

import numpy as np

# What the work below takes on the two-core machine that the waits were set on, seconds.
REFERENCE_S = 0.08


def _work_s() -> float:
    """A bit of what the program does: sorting, gathering and plain Python."""
    numbers = np.random.default_rng(1).random(400_000)
    begun = time.perf_counter()
    for _ in range(3):
        order = np.argsort(numbers)
        total = sum(float(value) for value in numbers[order][::8])
    assert total > 0.0
    return time.perf_counter() - begun


@cache
def slowness() -> float:
    """How many times slower than the reference this machine is; 1 at least."""
    return max(1.0, min(_work_s() for _ in range(3)) / REFERENCE_S)


LONG = round(40_000 * slowness())
