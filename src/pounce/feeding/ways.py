"""How open the way is from a last place to the rest of its casting."""

import numpy as np

from pounce.field.arrays import Field
from pounce.freeze.spots import Spot, widest_ways
from pounce.freeze.values import Frozen

# What a way that closes early costs a place for a feeder.
COST = 5.0


def widest_share(made: Frozen, spot: Spot) -> Field:
    """(nz, ny, nx) until which share of the last place's time a liquid way leads from it to each cell."""
    times = np.where(made.laid.casting > 0, made.near_s, np.nan)
    start = int(made.laid.cells.at(np.array([spot.at_mm]))[0])
    return np.asarray(widest_ways(times, start) / max(float(times.ravel()[start]), 1e-9))
