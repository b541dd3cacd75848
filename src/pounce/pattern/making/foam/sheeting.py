"""Which way foam sheets are stacked: the way that leaves the fewest parts to cut, for a pattern that nothing has to
draw.
"""

import numpy as np

from pounce.metals.tables import limits
from pounce.pattern.making.foam import sheets as foam
from pounce.pattern.making.layers import layers_of
from pounce.pattern.values import PatternChoices
from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Floats, Mesh


def parts_along(mesh: Mesh, way: Floats, choices: PatternChoices) -> tuple[int, int]:
    """Parts to cut and sheets to glue when the foam of a pattern is stacked along ``way`` (3,) unit."""
    turned = mesh.moved(turn_to_z(way), np.zeros(3))
    layers = layers_of(turned, 0, choices.sheet_mm, limits()["foam_least"].value)
    room = 2.0 * (choices.kerf_mm + limits()["foam_spare"].value)
    fitted = foam.fitted(layers, (choices.sheet_long_mm, choices.sheet_wide_mm), room, [[]])
    return sum(len(one.parts) for one in fitted), len(fitted)


def fewest_parts_way(mesh: Mesh, draw: Floats, choices: PatternChoices) -> tuple[Floats, int, int]:
    """The way (3,) of the draw and the own axes that leaves the fewest parts, its parts, and those along the draw;
    the draw where alike.
    """
    best, first, parts = np.asarray(draw), parts_along(mesh, draw, choices), 0
    least = first
    for axis in np.eye(3):
        if abs(float(axis @ draw)) > 0.999:
            continue
        found = parts_along(mesh, axis, choices)
        if found < least:
            best, least = axis, found
    parts = least[0]
    return np.asarray(best), parts, first[0]


def bends_flat(size: Floats, stacked: int, bow_mm: float, along: int) -> bool:
    """Whether a sheet of foam lies down to a bow: slender, and the strain of its faces, 4 t bow / L2 (a parabola's
    bend in the middle), within what foam bears.
    """
    long = float(size[along])
    if long < limits()["foam_slender"].low * float(size[stacked]):
        return False
    return 4.0 * float(size[stacked]) * bow_mm / max(long, 1e-9) ** 2 <= limits()["foam_strain"].value / 100.0
