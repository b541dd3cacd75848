"""What the mould weighs, what pushes against its cope, and what is put on it."""

import math
from dataclasses import dataclass

import numpy as np

from pounce.metals.pouring import pouring
from pounce.rig import flow
from pounce.rig.building import Built
from pounce.rig.fittings import basin_former, cup_former
from pounce.rig.flasking import Asked, Rigged
from pounce.rig.flow import G
from pounce.rig.forces import casting_lift, halves_mm3, lift_n
from pounce.rig.lines import wall_of
from pounce.rig.onend import spread_n
from pounce.rig.sections import Sections
from pounce.rig.values import Flow, Stands, Weights
from pounce.solid.boolean import bare_mesh
from pounce.solid.mesh import Floats


@dataclass(frozen=True)
class Known:
    """What other stops know: sand rammed (kg/m3), whether it is loose, what holds it together, and in what it stands
    while it is poured.
    """

    sand_density: float
    loose: bool
    bond: str
    stands: Stands


def _cup_mm3(asked: Asked, s: Sections) -> float:
    """Metal in a cup that is set on the cope."""
    if asked.choices.basin == "offset":
        return float(basin_former(s.top, s.cup, s.basin, pouring().common.basin_long.value).volume())
    return float(cup_former(s.top, s.cup, s.basin).volume())


def weighed(asked: Asked, rig: Rigged, b: Built, known: Known) -> Weights:
    """All of it."""
    s, flask, c = rig.sections, rig.flask, pouring().common
    head, _ = rig.heads_mm(asked)
    feeders_kg = sum(one.mass_kg for one in b.feeders)
    gating_kg = float(b.gating.volume()) * asked.density * 1e-9 - feeders_kg
    cup_mm3 = 0.0 if asked.choices.cup == "cut" or rig.stand is not None else _cup_mm3(asked, s)
    # what stands in an extension of the sprue takes no sand from the cope
    above, below = halves_mm3(b.gating.trim_by_plane([0.0, 0.0, -1.0], -flask.cope_mm))
    for k, item in enumerate(asked.items):
        over, under = item.halves_mm3
        high = rig.level(k) > 0.0
        above, below = above + over + under * high, below + under * (not high)
    area = float(wall_of(flask).area)
    cope_sand = max(area * flask.cope_mm - above, 0.0) * known.sand_density * 1e-9
    drag_sand = max(area * flask.drag_mm - below, 0.0) * known.sand_density * 1e-9
    share = flask.cope_mm / (flask.cope_mm + flask.drag_mm)
    flask_kg = flask.kg if known.stands == "flask" else 0.0
    cope_kg, drag_kg = cope_sand + share * flask_kg, drag_sand + (1.0 - share) * flask_kg
    lift = 0.0
    if rig.stand is not None:
        lift = spread_n(rig, asked)
    elif not known.loose:
        for lot in asked.lots:
            lift += lot.count * casting_lift(lot.item, bare_mesh(lot.item.whole), head, asked.density)
        lift += lift_n(_upward(bare_mesh(b.gating).corners, flask.cope_mm), head, asked.density)
    cores_lift = (
        0.0 if known.loose or rig.stand is not None else sum(lot.count * lot.cores_lift_n for lot in asked.lots)
    )
    # on end nothing lies on the cope: clamps hold all of it
    held = 0.0 if rig.stand is not None else cope_kg
    add = c.weight_factor.value * (lift + cores_lift) / G - held
    add = add if add > c.weight_least.value * held else 0.0
    return Weights(
        asked.castings_kg,
        gating_kg,
        feeders_kg,
        cup_mm3 * asked.density * 1e-9,
        cope_sand,
        drag_sand,
        (area * (flask.cope_mm + flask.drag_mm) - above - below) * 1e-6,
        sum(lot.count * lot.cores_kg for lot in asked.lots),
        flask_kg,
        cope_kg,
        drag_kg,
        lift,
        cores_lift,
        add,
    )


def _upward(corners: Floats, top_mm: float) -> Floats:
    """Faces of the gating without the open top of sprue or cup."""
    return np.asarray(corners[corners[:, :, 2].min(axis=1) < top_mm - 1e-3])


def flow_of(asked: Asked, rig: Rigged, mass_kg: float) -> Flow:
    """The figures of the pour through the sections as they are cut."""
    s, c = rig.sections, pouring().common
    _, effective = rig.heads_mm(asked)
    speed = c.loss.value * flow.free_speed(effective)
    # the whole stream goes through the lowest tier's gates first
    gates = sum(fit.sections.gates_mm2 for fit in rig.fits[: rig.tier])
    foot = math.pi / 4.0 * s.foot**2
    choke = min(foot, gates)
    through = choke * speed * 1000.0
    fill = mass_kg / asked.density * 1e9 / through
    runner = s.runner_high * (s.runner_wide - s.runner_high * math.tan(math.radians(c.runner_draft.value)))
    return Flow(
        mass_kg,
        fill,
        effective,
        speed,
        through / 1000.0,
        choke,
        runner,
        gates,
        asked.group.gate_speed.value,
        through / gates / 1000.0,
    )
