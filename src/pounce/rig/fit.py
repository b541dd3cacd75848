"""What is decided of one pattern's castings in a mould: sections, gates and the way of the metal round each."""

from dataclasses import dataclass, field

import numpy as np

from pounce.rig.feeders import Laid as Chilled
from pounce.rig.feeders import Standing
from pounce.rig.item import Item
from pounce.rig.layout import Block
from pounce.rig.places import Place
from pounce.rig.sections import Sections
from pounce.rig.warmth import Warmth
from pounce.rig.ways import Way
from pounce.solid.mesh import Floats


@dataclass(frozen=True, eq=False)
class Lot:
    """Castings of one pattern: what they are called, how many, the item, a casting's mass (kg), the least wall (mm)
    that its metal runs, its cores' mass (kg) and lift (N), feeders on it and chills against it, how
    late its metal sets and fills, where gates were put by hand (mm, in the item's plan),
    and (n, 3, 3) the faces of text and other marks in its frame.
    """

    name: str
    count: int
    item: Item
    casting_kg: float
    least_wall_mm: float
    cores_kg: float
    cores_lift_n: float
    feeders: tuple[Standing, ...] = ()
    chills: tuple[Chilled, ...] = ()
    warmth: Warmth | None = None
    gates_at: tuple[tuple[float, float], ...] = ()
    marks: Floats = field(default_factory=lambda: np.zeros((0, 3, 3)))

    def over_mm(self, sand_mm: float) -> float:
        """How high the cope is to be: sand over the casting and over blind feeders, none over open ones."""
        tops = [one.up_mm + (0.0 if one.open else sand_mm) for one in self.feeders]
        return max([self.item.up_mm + sand_mm, *tops])


@dataclass(frozen=True)
class Stand:
    """A mould on end: metal over its gate (mm), how much of the casting stands over it, the casting's height, and the
    sprue's foot in the joint (mm).
    """

    head_mm: float
    above_mm: float
    whole_mm: float
    foot_mm: tuple[float, float]


@dataclass(frozen=True, eq=False)
class Fit:
    """Sections, places of the gates on the item, the way of the runner round it (None: on end), and what is
    laid out.
    """

    sections: Sections
    gates: tuple[Place, ...]
    way: Way | None
    block: Block

    @property
    def wanted_gates(self) -> int:
        """How many gates a casting wants, whether or not all of them find their way."""
        return self.sections.gates
