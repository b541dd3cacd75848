"""Pair numbers cut into the mating faces, so that halves that belong together are never mixed up."""

import manifold3d
import numpy as np

from pounce.metals.tables import limits, series
from pounce.pattern import dowels
from pounce.pattern.dowels import Face
from pounce.pattern.values import Hole
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.mesh import Floats
from pounce.solid.tree import Tree
from pounce.stock.letters import outlines

# How deep a number is cut, mm; what stays between it and anything beside it.
DEEP_MM, BESIDE_MM = limits()["pair_number_deep"].value, limits()["pair_number_beside"].value


def place_for(face: Face, tree: Tree, taken: list[Hole]) -> tuple[Floats, float] | None:
    """Where (2,) in the joint a number stands clear of holes and edges, and how tall it may be; None where there is
    no room.
    """
    for tall in reversed(series()["pair_numbers"].sizes):
        points = dowels.room(face, 0.6 * tall, BESIDE_MM)
        if not len(points):
            continue
        for hole in taken:
            flat = np.array([float(hole.at_mm @ face.u), float(hole.at_mm @ face.v)])
            points = points[np.linalg.norm(points - flat, axis=1) > hole.radius_mm + 0.6 * tall + BESIDE_MM]
        if len(points):
            deep = np.minimum(
                dowels.thickness(face, tree, points, 0.5 * tall, 1.0),
                dowels.thickness(face, tree, points, 0.5 * tall, -1.0),
            )
            points = points[deep > 3.0 * DEEP_MM]
        if len(points):
            middle = np.array(face.shape.centroid.coords[0])
            return points[int(np.argmin(np.linalg.norm(points - middle, axis=1)))], tall
    return None


def tool(face: Face, at: Floats, tall_mm: float, number: str, into: Floats) -> Solid:
    """The material cut out of a half: read from its mating face. ``into`` (3,) from the joint into the half."""
    loops = [loop * tall_mm for loop in outlines(number)]
    section = manifold3d.CrossSection([np.ascontiguousarray(loop) for loop in loops], manifold3d.FillRule.NonZero)
    block = section.extrude(2.0 * DEEP_MM)
    # seen from outside, along -into: right-handed about the outward way
    u = face.u
    v = np.cross(-into, u)
    middle = face.space(at[None])[0]
    matrix = np.column_stack([u, v, -into, middle + into * DEEP_MM])
    return boolean.checked(block.transform(matrix), "Cutting the pair number")
