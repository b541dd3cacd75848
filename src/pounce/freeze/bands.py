"""The nine bands of time that window, picture and sheet share."""

from typing import Final

import numpy as np

from pounce.solid.mesh import Floats

# From what sets first to what sets last; bands between are mixed.
RAMP: Final = ("#22304A", "#3D4A63", "#66586B", "#925E5C", "#B85F3D", "#D2682A", "#EE9A4A")
BANDS: Final = 9
# What is set already while something is still liquid, as sRGB bytes.
SET, LIQUID = (111, 118, 128), (238, 154, 74)


def tones() -> Floats:
    """(9, 3) red, green and blue, 0 to 1."""
    stops = np.array([[int(one[k : k + 2], 16) for k in (1, 3, 5)] for one in RAMP], float) / 255.0
    at = np.linspace(0.0, len(RAMP) - 1.0, BANDS)
    return np.stack([np.interp(at, np.arange(len(RAMP)), stops[:, c]) for c in range(3)], axis=1)
