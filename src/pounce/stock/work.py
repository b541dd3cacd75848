"""The work in hand while one line after another is worked."""

from dataclasses import dataclass, field, replace

from pounce.base.errors import UserFault
from pounce.draw.values import DrawResult
from pounce.hollows.values import HollowsResult
from pounce.metals.method import Method
from pounce.part.model import PartResult
from pounce.parting.joint import Joint
from pounce.parting.values import PartingResult
from pounce.solid.features.values import Feature
from pounce.solid.mesh import Floats, Ints, Mesh
from pounce.solid.pick import nearest_face
from pounce.stock.machining import Asked
from pounce.stock.sizes import Scales
from pounce.stock.values import Added, DrillPoint, StockChoices


@dataclass
class Work:
    """What lines are worked on: the body, and what each line left behind."""

    part: PartResult
    method: Method
    draw: DrawResult
    parting: PartingResult
    features: tuple[Feature, ...]
    number: Ints
    body: Mesh
    scales: Scales
    joint: Joint
    choices: StockChoices
    hollows: HollowsResult
    lines: list[Added] = field(default_factory=list)
    bodies: list[Mesh] = field(default_factory=list)
    drill: list[DrillPoint] = field(default_factory=list)
    changed: dict[int, float] = field(default_factory=dict)
    machined: dict[int, Asked] = field(default_factory=dict)
    marks: list[tuple[Floats, Floats, float, int]] = field(default_factory=list)
    built_up: bool = False
    tight_mm2: float = 0.0

    def settle_joint(self) -> None:
        """A flat back stays in the joint: the joint goes along when its face moves out."""
        if self.parting.kind != "flat-back" or not self.parting.joint.level:
            return
        along = self.body.vertices @ self.draw.direction
        height = self.parting.joint.height_mm
        at_foot = abs(height - self.draw.low_mm) <= abs(height - self.draw.high_mm)
        self.joint = replace(self.parting.joint, height_mm=float(along.min() if at_foot else along.max()))

    def feature_at(self, place: tuple[float, float, float]) -> int:
        """The feature nearest to a place on the part. UserFault where there is none."""
        face = nearest_face(self.part.mesh, place)
        index = int(self.number[face])
        if index < 0:
            raise UserFault("There is no plain face or round at that place.", "Point at a flat face, a bore or a boss.")
        return index
