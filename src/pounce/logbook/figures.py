"""Figures of a bench that are read again and again: a conjugate normal model with unknown scatter (Gelman and others,
Bayesian Data Analysis, section 3.3). The table's figure counts as one reading, its range as the spread of a few.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import ndtri, stdtrit

from pounce.logbook.said import Estimate
from pounce.metals.tables import Figure


@dataclass(frozen=True)
class Held:
    """A normal-inverse-gamma: ``mean`` that counts as ``counts`` readings; ``shape`` and ``scale`` of the variance."""

    mean: float
    counts: float
    shape: float
    scale: float

    def after(self, readings: Sequence[float]) -> "Held":
        """After these readings."""
        n = len(readings)
        if not n:
            return self
        values = np.array(readings, float)
        middle = float(values.mean())
        counts = self.counts + n
        mean = (self.counts * self.mean + n * middle) / counts
        off = self.counts * n * (middle - self.mean) ** 2 / (2.0 * counts)
        scale = self.scale + 0.5 * float(((values - middle) ** 2).sum()) + off
        return Held(mean, counts, self.shape + n / 2.0, scale)

    def estimate(self, held: float) -> Estimate:
        """The mean of all readings that would ever be made: Student's t."""
        sd = float(np.sqrt(self.scale / (self.shape * self.counts)))
        return _about(self.mean, sd, 2.0 * self.shape, held)


def of_readings(readings: Sequence[float], held: float) -> Estimate | None:
    """The mean of readings that no table knows anything of: Student's t; None of fewer than two."""
    n = len(readings)
    if n < 2:
        return None
    values = np.array(readings, float)
    return _about(float(values.mean()), float(values.std(ddof=1)) / float(np.sqrt(n)), n - 1.0, held)


def _about(mean: float, sd: float, freedom: float, held: float) -> Estimate:
    give = sd * float(stdtrit(freedom, 0.5 + held / 2.0))
    return Estimate(mean, sd, mean - give, mean + give)


def held_before(figure: Figure, held: float, worth: float) -> Held:
    """The table's figure before any reading: its range holds so many benches, and speaks for the spread like ``worth``
    readings.
    """
    spread = max((figure.high - figure.low) / 2.0, 1e-6 * max(abs(figure.value), 1.0)) / float(ndtri(0.5 + held / 2))
    shape = worth / 2.0
    return Held(figure.value, 1.0, shape, shape * spread**2)
