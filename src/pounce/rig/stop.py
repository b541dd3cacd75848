"""The Mould stop: from the pattern that is rammed to the mould that is poured."""

from dataclasses import replace

import msgspec
import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from pounce.base.choice import all_checked
from pounce.base.progress import Progress
from pounce.cores.values import CoresResult
from pounce.metals.method import Method
from pounce.metals.pouring import liquid_density, pouring, pouring_of
from pounce.parting.values import PartingResult
from pounce.rig.building import built, cuts_of, margins_in, shapes_of
from pounce.rig.choices import TABLE
from pounce.rig.findings import found
from pounce.rig.fittings import breathers, core_leads, ends_of, keys_of
from pounce.rig.flasking import Asked, Rigged, boards_of, margins_of, rigged
from pounce.rig.flasks import Flask
from pounce.rig.item import kept_item, turned_point
from pounce.rig.sand import asked_boxless, mixing_of, push_of
from pounce.rig.steps import Making, steps_of
from pounce.rig.values import Casting, Lead, RigChoices, RigResult, Shape
from pounce.rig.vents import high_points
from pounce.rig.weighing import Known, flow_of, weighed
from pounce.solid.boolean import bare_mesh
from pounce.solid.mesh import Floats
from pounce.stock.values import StockResult


def rig_stop(
    choices: RigChoices,
    method: Method,
    parting: PartingResult,
    stock: StockResult,
    cores: CoresResult,
    own: tuple[Flask, ...],
    progress: Progress,
) -> RigResult:
    """The mould. UserFault in a sentence where it cannot be laid out."""
    all_checked(TABLE, choices)
    progress(0.0, "Looking at the casting from above")
    asked = _asked(choices, method, parting, stock, cores)
    boxless = asked_boxless(asked, method)
    rig = rigged(asked, own, progress)
    b = built(asked, rig, progress)
    known = _known(asked, method, cores, boxless)
    progress(0.75, "Weighing the halves and drawing the plan")
    weights = weighed(asked, rig, b, known)
    flow = flow_of(asked, rig, weights.castings_kg + weights.gating_kg)
    gates = tuple(replace(gate, speed_m_s=flow.gate_speed_m_s) for gate in b.gates)
    margins = margins_in(asked, rig, b.runner)
    vents, leads = _led(asked, rig, method)
    shapes = shapes_of(asked, rig, b)
    keys = keys_of(rig, taken_by(shapes)) if boxless else ()
    mixing, push = mixing_of(asked, rig, method, weights), push_of(asked, rig)
    said = found(asked, rig, margins, flow, weights, known, push, cores.on_end)
    return RigResult(
        rig.flask,
        rig.own,
        () if rig.own else boards_of(rig.flask, asked.loose, push.battens),
        asked.margins,
        _castings(rig),
        b.sprue,
        b.runner,
        gates,
        vents,
        flow,
        weights,
        margins,
        shapes,
        cuts_of(rig, b),
        bare_mesh(b.gating),
        b.formers,
        b.halves,
        asked.item.turn @ np.diag(1.0 / np.array(stock.rammed_factors)),
        asked.item.shift,
        asked.item.up_mm,
        asked.item.down_mm,
        pouring().common.vent.value,
        bool(asked.choices.placed) or asked.choices.sprue_mm is not None,
        asked.loose,
        leads,
        keys,
        mixing,
        push,
        steps_of(Making(asked, rig, gates, flow, weights, mixing, len(vents), leads, len(keys), method.mould.bond)),
        said,
        {"wanted_gates": float(rig.wanted_gates), "cost": rig.laid.cost},
    )


def _asked(
    choices: RigChoices, method: Method, parting: PartingResult, stock: StockResult, cores: CoresResult
) -> Asked:
    """The item with its masses and margins."""
    if len(choices.placed) not in (0, choices.count):  # put by hand for another number of castings
        choices = msgspec.structs.replace(choices, placed=(), sprue_mm=None)
    joint = parting.joint
    joint = replace(joint, height_mm=stock.joint_mm) if joint.level else joint
    item = kept_item(stock.mesh, cores.mesh, tuple(core.mesh for core in cores.cores), joint, stock.rammed_factors)
    group = pouring_of(method.metal_id)
    density = liquid_density(method.metal_id).value
    casting_kg = stock.cast.mass_kg
    loose = not method.pattern.draws
    return Asked(
        choices,
        item,
        margins_of(method.metal_id, group, casting_kg, item),
        group,
        density,
        casting_kg,
        method.metal.least_wall.value,
        loose,
    )


def _known(asked: Asked, method: Method, cores: CoresResult, boxless: bool) -> Known:
    return Known(
        asked.casting_kg,
        sum(core.make_kg for core in cores.cores),
        sum(max(core.loads.lift_n, 0.0) for core in cores.cores),
        method.mould.density.value,
        asked.loose,
        boxless,
    )


def _castings(rig: Rigged) -> tuple[Casting, ...]:
    laid = rig.laid.castings
    names = ["Casting"] if len(laid) == 1 else [f"Casting {k + 1}" for k in range(len(laid))]
    return tuple(Casting(own, at, turn) for own, (at, turn) in zip(names, laid, strict=True))


def _led(asked: Asked, rig: Rigged, method: Method) -> tuple[tuple[tuple[float, float, float], ...], tuple[Lead, ...]]:
    """Vents over high points and far ends, and what is led out of the mould."""
    ends = ends_of(asked.item, np.array([one.at[:2] for one in rig.gates]), high_points(asked.item))
    clay = breathers(asked.item, rig, ends) if _tight(method) else ()
    return _vents(asked, rig, ends), (*core_leads(asked.item, rig), *clay)


def _tight(method: Method) -> bool:
    """Whether nothing goes through this mould: clay wants breathers."""
    return method.mould_id == "fine-clay"


def taken_by(shapes: tuple[Shape, ...]) -> BaseGeometry:
    """What the metal and the prints take in plan."""
    return shapely.unary_union([shapely.Polygon(shape.rings[0]).buffer(0.0) for shape in shapes if shape.kind != "cup"])


def _vents(asked: Asked, rig: Rigged, ends: Floats) -> tuple[tuple[float, float, float], ...]:
    points = np.vstack([high_points(asked.item), ends])
    out = []
    for at, turn in rig.laid.castings:
        for point in points:
            x, y = turned_point(point[:2], at, turn)
            out.append((float(x), float(y), float(point[2])))
    return tuple(out)
