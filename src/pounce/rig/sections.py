"""How wide, how thick and how many: sections of sprue, runner and gates for a mass and a head."""

import math
from dataclasses import dataclass

from pounce.metals.pouring import PouringGroup, pouring
from pounce.rig import flow
from pounce.rig.values import Cup, Half, School

# Diameters and widths are cut to this step, mm; the speed at the gates is held under this share of its limit.
STEP_MM, LIMIT_SHARE = 0.5, 0.9
# A gate is at least so many times as wide as it is thick.
MOUTH = 2.0


@dataclass(frozen=True)
class Sections:
    """``gates`` to a casting, each ``gate_wide`` by ``gate_thick`` (mm, width at the joint),
    ``apart`` where they reach the far ends of thin walls; the runner and
    the sprue (mm); ``choke`` what fills the mould, ``gates_mm2`` of one casting; the halves they are cut in.
    """

    gates: int
    apart: bool
    gate_wide: float
    gate_thick: float
    gates_mm2: float
    runner_wide: float
    runner_high: float
    runner_half: Half
    gate_half: Half
    foot: float
    top: float
    well: float
    well_deep: float
    cup: float
    sprue_high: float
    basin: float
    choke: flow.Choke


@dataclass(frozen=True)
class Wanted:
    """What sections are worked for: the kind of metal and its liquid density (kg/m3), the mass in the mould (kg), the
    cope's height and the castings' over and under the joint (mm), this casting's share of the metal, the wall at its
    gates, the least wall that the metal runs, the longest way from a gate (mm), gates said by hand, school and cup,
    and the metal that is wanted over the joint (mm; None: what the cope gives).
    """

    group: PouringGroup
    density: float
    mass_kg: float
    cope_mm: float
    up_mm: float
    down_mm: float
    share: float
    wall_mm: float
    least_wall_mm: float
    far_mm: float
    gates: int | None
    school: School
    cup: Cup
    head_mm: float | None = None


def heads(cope_mm: float, cup: Cup, wanted_mm: float | None = None) -> tuple[float, float, float]:
    """Metal over the joint, height of the sprue and of the metal in the cup over it, mm. A cup that is set on stands
    on an extension of the sprue where more head is wanted than the cope gives.
    """
    basin = pouring().common.basin_high.value
    if cup == "cut":
        basin = min(basin, cope_mm / 3.0)
        return cope_mm, cope_mm - basin, basin
    high = cope_mm if wanted_mm is None else max(cope_mm, wanted_mm - basin)
    return high + basin, high, basin


def sections_of(w: Wanted) -> Sections:
    """All sections. ValueError where the metal in the cup stands no higher than the casting's effective head."""
    c = pouring().common
    head, high, basin = heads(w.cope_mm, w.cup, w.head_mm)
    effective = flow.effective_head(head, w.up_mm, w.up_mm + w.down_mm)
    choke = flow.choke(w.mass_kg, w.density, flow.fill_seconds(w.mass_kg, w.group.fill.value), effective, c.loss.value)
    foot = max(_up(flow.diameter(choke.section_mm2)), c.foot.value)
    own = math.pi / 4.0 * foot * foot
    if w.group.gates is not None:  # the gates are the choke
        all_gates = choke.section_mm2
        own = all_gates / w.group.gates.value
        foot = max(_up(flow.diameter(own)), c.foot.value)
    else:  # what the foot lets through as it is cut, which may be more than is wanted
        all_gates = own * choke.speed_m_s / (LIMIT_SHARE * w.group.gate_speed.value)
    share = c.feeding_share.value if w.school == "feeding" else c.gate_share.value
    thinnest = min(c.gate_thin.value, c.gate_of_thin.value * w.wall_mm)
    thick = min(max(share * w.wall_mm, thinnest), c.gate_thick.value if w.school == "snap-off" else 1e9)
    each = all_gates * w.share
    # never a mouth higher than it is wide: little metal asks for little gates, however thick the wall
    thick = max(min(thick, math.sqrt(each / MOUTH)), thinnest)
    widest = min(c.gate_slim.value * thick, c.gate_wide.value)
    gates = max(math.ceil(each / (widest * thick) - 1e-9), 1)
    thin = w.wall_mm < c.near_least.value * w.least_wall_mm and w.far_mm > c.long_thin.value * w.wall_mm
    gates = w.gates or gates + thin
    lean = math.tan(math.radians(c.runner_draft.value))
    # the sides lean, so the mouth at the joint is a little wider; a slot narrower than twice its thickness is not cut
    wide = _up(max(each / gates / thick + thick * lean, MOUTH * thick))
    runner_wide, runner_high = flow.trapezium(w.group.runner.value * own, c.wide_over_high.value, c.runner_draft.value)
    runner_high = _up(runner_high)
    top = _up(flow.taper(foot, head, basin))
    light = not w.group.pressurised
    return Sections(
        gates,
        thin,
        wide,
        round(thick, 1),
        gates * (wide - thick * lean) * thick,
        _up(runner_wide),
        runner_high,
        "drag" if light else "cope",
        "cope" if light else "drag",
        foot,
        top,
        c.well_over_foot.value * foot,
        (1.5 if light else 0.5) * runner_high,
        max(_up(c.cup_over_top.value * top), c.cup_least.value),
        high,
        basin,
        choke,
    )


def _up(value: float) -> float:
    return math.ceil(value / STEP_MM - 1e-9) * STEP_MM
