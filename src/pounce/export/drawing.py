"""A drawing at 1:1 in mm: lines, words, holes and arrows, before it is laid on paper or written to a file."""

from dataclasses import dataclass, field

import numpy as np
from shapely.geometry.base import BaseGeometry

from pounce.solid.mesh import Floats


@dataclass(frozen=True, eq=False)
class Line:
    """A line of a drawing: ``points`` (k, 2) mm, ``style`` solid, dashed or fine, ``closed``."""

    points: Floats
    style: str = "solid"
    closed: bool = True


@dataclass(frozen=True, eq=False)
class Drawing:
    """One template at 1:1 in mm: its lines, words at places, crosses at holes with their diameter."""

    title: str
    about: str
    lines: tuple[Line, ...]
    words: tuple[tuple[float, float, str], ...] = ()
    holes: tuple[tuple[float, float, float], ...] = ()
    arrows: tuple[tuple[float, float, float, float], ...] = field(default=())

    @property
    def box(self) -> Floats:
        """(2, 2) its low and high corner."""
        points = np.concatenate([line.points for line in self.lines])
        return np.array([points.min(axis=0), points.max(axis=0)])


def rings_of(shape: BaseGeometry) -> list[Floats]:
    """Every outline of a shape as (k, 2) points, the last not repeated."""
    parts = (
        [shape]
        if shape.geom_type == "Polygon"
        else [one for one in getattr(shape, "geoms", ()) if one.geom_type == "Polygon"]
    )
    rings = [ring for part in parts if not part.is_empty for ring in (part.exterior, *part.interiors)]
    return [np.array(ring.coords)[:-1] for ring in rings]
