"""What a feature is."""

from dataclasses import dataclass, field
from typing import Literal

from pounce.base.finding import filled
from pounce.solid.mesh import Floats, Ints

Kind = Literal["plane", "bore", "boss", "cone", "ball", "fillet", "rounding", "relief"]
# A bore that turns farther is a hole; less is the round of a corner.
HOLE_DEG = 200.0


@dataclass(frozen=True, eq=False)
class Feature:
    """A face as a maker sees it, of many triangles.

    ``faces`` (k,) triangles of the mesh; ``axis`` unit (3,): the normal of a plane, the axis of a round, pointing
    out of a blind bore; ``centre`` (3,) a point on it; ``radius_mm`` of a round (of the larger end of a cone, of the
    arc of a fillet), 0 of a plane; ``low_mm`` and ``high_mm`` where it begins and ends along the axis;
    ``turned_deg`` how far round it goes; ``half_angle_deg`` of a cone; ``through`` of a bore; ``height_mm`` of
    raised (over 0) or sunk marks; ``misfit_mm`` rms distance of its corners from the fitted shape; ``concave`` of a
    round that metal lies round, as a bore or a countersink, and not inside.
    """

    kind: Kind
    faces: Ints
    axis: Floats
    centre: Floats
    radius_mm: float
    low_mm: float
    high_mm: float
    area_mm2: float
    misfit_mm: float
    turned_deg: float = 360.0
    half_angle_deg: float = 0.0
    through: bool = False
    height_mm: float = 0.0
    size_mm: tuple[float, float] = (0.0, 0.0)
    exact: bool = True
    notes: dict[str, float] = field(default_factory=dict)
    concave: bool = False

    @property
    def is_hole(self) -> bool:
        """Whether it is a round hole: a bore that goes round for more than a corner does."""
        return self.kind == "bore" and self.turned_deg > HOLE_DEG

    @property
    def full(self) -> bool:
        """Whether it goes all the way round."""
        return self.turned_deg > 350.0

    @property
    def length_mm(self) -> float:
        """How long it is along its axis."""
        return self.high_mm - self.low_mm

    def words(self, shown: str = "mm") -> str:
        """Name and size in the reader's units."""
        figures = {
            "diameter_mm": 2.0 * self.radius_mm,
            "radius_mm": self.radius_mm,
            "deep_mm": self.length_mm,
            "long_mm": self.size_mm[0],
            "wide_mm": self.size_mm[1],
            "height_mm": abs(self.height_mm),
            "misfit_mm": self.misfit_mm,
            "cone_deg": 2.0 * self.half_angle_deg,
        }
        text = _NAMES[self.kind]
        if self.kind == "bore":
            text += ", through" if self.through else ", {deep_mm} deep"
        if self.kind == "relief":
            text = "marks raised {height_mm}" if self.height_mm > 0.0 else "marks sunk {height_mm}"
        if not self.exact:
            text += ", fits within {misfit_mm}"
        return filled(text, figures, shown)


_NAMES = {
    "plane": "face {long_mm} by {wide_mm}",
    "bore": "bore {diameter_mm}",
    "boss": "boss {diameter_mm}",
    "cone": "cone of {cone_deg}, {diameter_mm} at its wide end",
    "ball": "ball {diameter_mm}",
    "fillet": "inside corner of radius {radius_mm}",
    "rounding": "rounded edge of radius {radius_mm}",
    "relief": "",
}
