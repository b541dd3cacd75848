"""Sets of whole numbers in arrays. numpy's own go through a hash table, which on a million mixed numbers takes a
hundred times as long as sorting them (measured with 2.3: 1.0 s to 0.013 s).
"""

import numpy as np

from pounce.solid.mesh import Bools, Ints


def distinct(numbers: Ints) -> Ints:
    """(k,) each of the numbers once, in rising order."""
    ordered = np.sort(np.ravel(numbers))
    if not len(ordered):
        return ordered
    first = np.ones(len(ordered), bool)
    np.not_equal(ordered[1:], ordered[:-1], out=first[1:])
    return np.asarray(ordered[first])


def is_among(numbers: Ints, pool: Ints) -> Bools:
    """(...) which of the numbers are in the pool."""
    if not len(pool):
        return np.zeros(np.shape(numbers), bool)
    ordered = np.sort(pool)
    place = np.minimum(np.searchsorted(ordered, numbers), len(ordered) - 1)
    return np.asarray(ordered[place] == numbers)
