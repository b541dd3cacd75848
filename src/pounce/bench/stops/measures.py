"""Dimension lines along the edges of the part's box that the usual view shows in front."""

from collections.abc import Callable

import numpy as np

from pounce.bench.widgets.labels import Measure
from pounce.route.results import Results


def measures(results: Results, _unit: str, words: Callable[[float], str]) -> tuple[Measure, ...]:
    """Length, width and height, each said by ``words`` of mm; none while there is no part."""
    if results.part is None:
        return ()
    low, high = (np.array(bound) for bound in results.part.mesh.bounds)
    size = high - low

    def point(x: float, y: float, z: float) -> tuple[float, float, float]:
        return float(x), float(y), float(z)

    # bottom front, bottom right, and the right front upright
    return (
        Measure(point(low[0], low[1], low[2]), point(high[0], low[1], low[2]), words(size[0]), (0.0, -0.8, -0.6)),
        Measure(point(high[0], low[1], low[2]), point(high[0], high[1], low[2]), words(size[1]), (0.9, 0.0, -0.5)),
        Measure(point(high[0], high[1], low[2]), point(high[0], high[1], high[2]), words(size[2]), (0.9, 0.6, 0.0)),
    )
