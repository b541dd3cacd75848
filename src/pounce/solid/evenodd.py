"""Outlines of a cut as one shape: a loop inside another is a hole, whichever way it runs."""

from collections.abc import Iterable

import shapely
from shapely.errors import GEOSException
from shapely.geometry.base import BaseGeometry

# Where loops touch so nearly that the overlay fails they are laid on this grid, mm.
GRID_MM = 1e-4


def exclusive(one: BaseGeometry, two: BaseGeometry) -> BaseGeometry:
    """What lies in just one of two shapes."""
    try:
        return one.symmetric_difference(two)
    except GEOSException:
        # on a grid the overlay cannot fail, and a ten-thousandth of a millimetre is nothing to an outline
        return shapely.symmetric_difference(one, two, grid_size=GRID_MM)


def even_odd(rings: Iterable[BaseGeometry]) -> BaseGeometry:
    """The shape of rings by the even-odd rule."""
    shape: BaseGeometry = shapely.Polygon()
    for ring in rings:
        shape = exclusive(shape, ring)
    return shape
