"""What a plan is called, and why it is taken: how the part lies, how it parts, what it costs beside its rivals."""

from pounce.base.units import count_words, length
from pounce.metals.tables import limits
from pounce.parting.values import PartingResult
from pounce.plan.values import Plan
from pounce.solid.mesh import Floats

Way = tuple[float, float, float]


def lies(along: float, size: Floats, direction: Way) -> str:
    """How a part lies in the sand, flat, on its end or on its side, by how far it reaches ``along`` the draw (mm) and
    its own box (3,).
    """
    longer, thinner = limits()["lies_longer"].value, limits()["lies_thinner"].value
    sizes = sorted(float(side) for side in size)
    if along <= sizes[0] * longer and sizes[0] * thinner < sizes[1]:
        return "Lying flat"
    if along >= sizes[2] / longer and sizes[2] > sizes[1] * longer:
        return "On its end"
    return "On its foot" if abs(direction[2]) > 0.94 else "On its side"


def parts(parting: PartingResult) -> str:
    """How the pattern parts."""
    if parting.kind == "flat-back":
        return "whole on its flat back"
    if parting.on_plain_board:
        return "whole on its open side"
    if not parting.joint.level:
        return "split in steps" if parting.kind == "stepped" else "the joint follows it"
    cope, drag = parting.cope_depth_mm, parting.drag_depth_mm
    if abs(cope - drag) <= limits()["split_in_the_middle"].value * max(cope, drag, 1e-9):
        return "split in the middle"
    return f"split {length(drag)} over its foot"


def why_of(plan: Plan, unit: str = "mm") -> str:
    """One sentence of why."""
    cores = "no core" if not plan.cores else "one core" if plan.cores == 1 else f"{count_words(plan.cores)} cores"
    said = f"{length(plan.depth_mm, unit)} deep at most, {cores}{_fed(plan)}"
    if plan.held_mm2 > 0.0:
        return f"{said}; but it is not freed: see what is left."
    if not plan.leaves:
        return f"{said}; but some of the sand tears as it lifts: see what is left."
    return f"{said}, and all of it leaves the sand."


def _fed(plan: Plan) -> str:
    """What it wants of feeders and chills."""
    out = []
    for many, one in ((plan.feeders, "feeder"), (plan.chills, "chill")):
        if many:
            out.append(f", {count_words(many)} {one}{'s' if many > 1 else ''}")
    return "".join(out)
