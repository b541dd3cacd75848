"""A tongue and its groove between two parts of a piece that was cut for the bed."""

import manifold3d
import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from pounce.metals.tables import limits
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.evenodd import outline_of
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.section import cut

# Material between a tongue and any face of the mould, mm; how far a tongue's root reaches back into its own part.
EDGE_MM, ROOT_MM = limits()["tongue_edge"].value, 1.0
# A tongue takes the middle third of the width and so much of the height, from the bed up.
TALL = limits()["tongue_tall"].value
LOOKS = 5


def tongued(upper: Solid, lower: Solid, whole: Solid, mesh: Mesh, axis: int, place: float) -> tuple[Solid, Solid]:
    """The part beyond the cut with a groove and the part before it with a tongue, open at the bed so that both print as
    they lie.

    The cut is square to ``axis`` (0 or 1) at ``place`` of the laid piece ``mesh``, which is ``whole`` as a solid.
    Both are returned as they were where there is no room.
    """
    deep, play = limits()["tongue_deep"].value, limits()["tongue_play"].value
    normal = np.eye(3)[axis]
    # u x v is the way of the cut, v upright
    u, v = (np.eye(3)[1] if axis == 0 else -np.eye(3)[0]), np.eye(3)[2]
    shape: BaseGeometry | None = None
    for at in np.linspace(place + 0.05, place + deep + EDGE_MM, LOOKS):
        one = _outline(mesh, u, v, float(at))
        shape = one if shape is None else shape.intersection(one)
    tongues = _tongues(shape, float(mesh.bounds[0, 2]))
    if not tongues:
        return upper, lower
    matrix = np.column_stack([u, v, normal, normal * (place - ROOT_MM)])
    tongue, groove = (
        _prism(shapely.unary_union(tongues).buffer(more, join_style="mitre"), ROOT_MM + deep + more).transform(matrix)
        for more in (0.0, play)
    )
    return upper - groove, lower + (tongue ^ whole)


def _outline(mesh: Mesh, u: Floats, v: Floats, at: float) -> BaseGeometry:
    return outline_of(cut(mesh, u, v, at).loops)


def _tongues(shape: BaseGeometry | None, bed: float) -> list[shapely.Polygon]:
    """Where tongues may stand in what all cuts over their length have in common."""
    out: list[shapely.Polygon] = []
    for part in [] if shape is None else getattr(shape, "geoms", [shape]):
        if part.is_empty or part.geom_type != "Polygon":
            continue
        x0, y0, x1, y1 = part.bounds
        if y0 > bed + 0.1 or x1 - x0 < 6.0 * EDGE_MM or y1 - y0 < 4.0 * EDGE_MM:
            continue
        third = (x1 - x0) / 3.0
        inner = part.buffer(-EDGE_MM)
        # at the bed there is no face of the mould to keep away from
        allowed = inner.union(shapely.affinity.translate(inner, 0.0, -EDGE_MM - 1.0))
        tongue = shapely.box(x0 + third, y0 - 0.5, x1 - third, y0 + TALL * (y1 - y0)).intersection(allowed)
        if tongue.geom_type == "Polygon" and tongue.area > (3.0 * EDGE_MM) ** 2:
            out.append(tongue)
    return out


def _prism(shape: BaseGeometry, long_mm: float) -> Solid:
    parts = getattr(shape, "geoms", [shape])
    loops = [
        np.ascontiguousarray(np.array(ring.coords)[:-1]) for part in parts for ring in (part.exterior, *part.interiors)
    ]
    section = manifold3d.CrossSection(loops, manifold3d.FillRule.EvenOdd)
    return boolean.checked(section.extrude(long_mm), "Making the tongue")
