"""Outlines of a cut as one shape: a loop inside another is a hole, whichever way it runs."""

from collections.abc import Iterable

import shapely
from shapely.errors import GEOSException
from shapely.geometry.base import BaseGeometry

from pounce.solid.mesh import Floats

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


def outline_of(loops: Iterable[Floats], least: int = 4) -> BaseGeometry:
    """The shape of loops (n, 2) by the even-odd rule; those of fewer than ``least`` points are crumbs."""
    return even_odd(shapely.Polygon(loop).buffer(0.0) for loop in loops if len(loop) >= least)


def simpler(shape: BaseGeometry, within_mm: float) -> BaseGeometry:
    """The shape with fewer corners, none farther off than ``within_mm``; sound where simplifying folds it over."""
    plain = shape.simplify(within_mm)
    return plain if plain.is_valid else plain.buffer(0.0)
