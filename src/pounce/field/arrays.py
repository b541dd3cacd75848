"""Kinds of arrays on grids: of any precision, for a grid of a million cells is kept small."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

Field = NDArray[np.floating[Any]]
Numbers = NDArray[np.integer[Any]]
Flags = NDArray[np.bool_]
