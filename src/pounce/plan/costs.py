"""What a plan comes to in a pattern maker's hours. Rough, but in the right order: every figure stands in the tables,
from judgement.
"""

from dataclasses import dataclass, replace

from pounce.causes.values import Cause, Rule
from pounce.cores.changes import MakeHollow
from pounce.cores.values import CoresResult
from pounce.metals.tables import limits
from pounce.parting.changes import AskFor, MakeLoose, SetGroove
from pounce.parting.values import PartingResult, State, held_mm2
from pounce.plan.values import Cost, Line, Plan

_JOINTS = {"flat-back": "plan_joint_back", "split": "plan_joint_split", "stepped": "plan_joint_stepped"}


@dataclass(frozen=True, eq=False)
class Made:
    """What a plan makes: its joint, ``cores``, how many holes are ``drilled``, bores ``bored`` and fillings
    ``milled`` (and how much of them, mm3), the metal added (kg), whether the draw is tilted off the model's axes, and
    the causes that are left.
    """

    parting: PartingResult
    cores: CoresResult | None
    drilled: int
    bored: int
    milled: int
    milled_mm3: float
    metal_kg: float
    tilted: bool
    left: tuple[Cause, ...]


def _figure(key: str) -> float:
    return limits()[key].value


def cost_of(made: Made, castings: int) -> Cost:
    """Hours at the bench, for each casting, and for the moulds that are lost, over so many castings."""
    p = made.parting
    joint = "plan_joint_back" if p.on_plain_board else _JOINTS.get(p.kind, "plan_joint_shaped")
    pattern = _figure(joint) + (_figure("plan_tilt") if made.tilted else 0.0)
    each = 0.01 * max(p.cope_depth_mm + p.drag_depth_mm, 0.0) * _figure("plan_flask")
    risk = 0.0
    for core in () if made.cores is None else made.cores.cores:
        mouths = len(core.prints)
        bent = any(abs(float(one.axis @ core.prints[0].axis)) < 0.9 for one in core.prints)
        pattern += _figure("plan_box_bend" if bent else "plan_box") + _figure("plan_mouth") * max(mouths - 2, 0)
        each += _figure("plan_core")
        risk += _figure("plan_core_risk_one" if mouths < 2 else "plan_core_risk")
    pattern += _figure("plan_loose") * len(p.loose)
    each += _figure("plan_loose_each") * len(p.loose)
    risk += _figure("plan_loose_risk") * len(p.loose)
    if p.ringed is not None and p.ringed.cheek_mm > 0.0:
        pattern += _figure("plan_cheek")
        each += _figure("plan_cheek_each")
        risk += _figure("plan_cheek_risk")
    each += _figure("plan_drill") * made.drilled + _figure("plan_bore") * made.bored
    each += _figure("plan_mill") * made.milled + made.milled_mm3 / 1e3 / _figure("plan_mill_rate")
    each += _figure("plan_metal") * max(made.metal_kg, 0.0)
    risk += _left_risk(made)
    risk = min(risk, 0.95)
    hours = pattern + castings * (each + risk * _figure("plan_lost_mould"))
    return Cost(pattern, each, risk, hours, castings)


def least_hours(plan: Plan, line: Line | None = None) -> float:
    """Hours of a plan if it lost no mould, with one more line at the least that such a line comes to: no cure saves
    hours but those of moulds.
    """
    castings = plan.cost.castings
    hours = plan.cost.pattern + castings * plan.cost.each
    for change in () if line is None else line.changes:
        asked = change.kind if isinstance(change, AskFor) else ""
        how = change.how if isinstance(change, (MakeHollow, SetGroove)) else ""
        if asked == "fill":
            hours += castings * _figure("plan_mill")
        elif asked == "core" or how in ("core", "ring-core"):
            hours += _figure("plan_box") + castings * _figure("plan_core")
        elif how == "cheek":
            hours += _figure("plan_cheek") + castings * _figure("plan_cheek_each")
        elif isinstance(change, MakeLoose):
            hours += _figure("plan_loose") + castings * _figure("plan_loose_each")
    return hours


def fed(cost: Cost, feeders: int, chills: int, feeders_kg: float) -> Cost:
    """The same with feeders to set, saw off and melt again, and chills to lay, for each casting."""
    more = _figure("plan_feeder") * feeders + _figure("plan_chill") * chills + _figure("plan_metal") * feeders_kg
    return replace(cost, each=cost.each + more, hours=cost.hours + cost.castings * more)


def _left_risk(made: Made) -> float:
    """The risk of what the proof still finds."""
    p = made.parting
    risk = _figure("plan_lock_risk") if held_mm2(p) > 0.0 else 0.0
    for cause in made.left:
        if cause.rule is Rule.SLENDER:
            over = max((f.figures.get("ratio", 0.0) / max(f.figures.get("limit", 1.0), 1e-9) for _, f in cause.members))
            risk += _figure("plan_slender_risk") * over**2
    tight = sum(region.area_mm2 for region in p.regions if region.state is State.TIGHT)
    risk += _figure("plan_drag_risk") * min(tight / max(p.area_mm2, 1e-9), 1.0)
    if p.slope_deg > limits()["joint_slope"].value:
        risk += _figure("plan_steep_risk")
    return risk
