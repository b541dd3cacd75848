"""The Mould stop: from the pattern that is rammed to the mould that is poured."""

from dataclasses import dataclass, replace

import msgspec
import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from pounce.base.choice import all_checked
from pounce.base.errors import UserFault
from pounce.base.progress import Progress
from pounce.cores.values import CoresResult
from pounce.metals.method import Method
from pounce.metals.pouring import liquid_density, pouring, pouring_of
from pounce.parting.values import PartingResult
from pounce.rig import onend
from pounce.rig.building import built, cuts_of, margins_in, shapes_of
from pounce.rig.choices import TABLE
from pounce.rig.crowd import crowded
from pounce.rig.feeders import chills_on, standing
from pounce.rig.findings import found
from pounce.rig.fit import Lot
from pounce.rig.fittings import breathers, core_leads, ends_of, keys_of
from pounce.rig.flasking import Asked, Rigged, boards_of, margins_of, pitch_of, rigged
from pounce.rig.flasks import Flask
from pounce.rig.item import Item, kept_item, turned_point
from pounce.rig.sand import checked_closing, mixing_of, push_of, stands_in
from pounce.rig.steps import Making, steps_of
from pounce.rig.values import (
    Casting,
    CastModel,
    Chill,
    ChillChoice,
    FeederChoice,
    Lead,
    RigChoices,
    RigResult,
    Shape,
    Spot,
)
from pounce.rig.vents import high_points
from pounce.rig.warmth import late_ends, warmth_of
from pounce.rig.weighing import Known, flow_of, weighed
from pounce.solid.boolean import bare_mesh
from pounce.solid.mesh import Floats
from pounce.stock.values import LineKind, StockResult

# No gate is thicker than this, mm: marks further off the joint are none of its business.
NEAR_JOINT_MM = 40.0


@dataclass(frozen=True, eq=False)
class Given:
    """One job's castings: what they are called, how many, and what its stops came to."""

    name: str
    count: int
    method: Method
    parting: PartingResult
    stock: StockResult
    cores: CoresResult
    feeders: tuple[FeederChoice, ...] = ()
    chills: tuple[ChillChoice, ...] = ()
    gates_mm: tuple[tuple[float, float, float], ...] = ()


def rig_stop(choices: RigChoices, given: tuple[Given, ...], own: tuple[Flask, ...], progress: Progress) -> RigResult:
    """The mould of one job's castings, or of several jobs' in one pour, the first one's flask and sand. UserFault in a
    sentence where it cannot be laid out.
    """
    all_checked(TABLE, choices)
    progress(0.0, "Looking at the casting from above")
    method = given[0].method
    asked = _asked(choices, given)
    checked_closing(asked, method)
    rig = (onend.stood(asked, own) if given[0].cores.on_end else None) or rigged(asked, own, progress)
    b = built(asked, rig, progress)
    known = Known(method.mould.density.value, asked.loose, method.mould.bond, stands_in(asked, rig, method))
    progress(0.75, "Weighing the halves and drawing the plan")
    weights = weighed(asked, rig, b, known)
    flow = flow_of(asked, rig, weights.castings_kg + weights.gating_kg + weights.feeders_kg)
    gates = tuple(replace(gate, speed_m_s=flow.gate_speed_m_s) for gate in b.gates)
    margins = margins_in(asked, rig, b.runner)
    vents, leads = _led(asked, rig, method)
    shapes = shapes_of(asked, rig, b)
    keys = keys_of(rig, taken_by(shapes)) if asked.choices.closing == "boxless" else ()
    mixing, push = mixing_of(asked, method, weights), push_of(asked, rig)
    crowd = crowded(asked, rig, flow, method.metal_id, method.mould_id)
    return RigResult(
        rig.flask,
        rig.own,
        () if rig.own else boards_of(rig.flask, asked.loose, push.battens),
        asked.margins,
        _castings(asked, rig),
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
        asked.lots[0].item.turn @ np.diag(1.0 / np.array(given[0].stock.rammed_factors)),
        asked.lots[0].item.shift,
        asked.up_mm,
        asked.down_mm,
        pouring().common.vent.value,
        bool(asked.choices.placed or asked.choices.gates_mm) or asked.choices.sprue_mm is not None,
        asked.loose,
        rig.stand is not None,
        b.feeders,
        _chills(asked, rig),
        tuple(_model(lot.item) for lot in asked.lots),
        leads,
        keys,
        mixing,
        push,
        known.stands,
        steps_of(Making(asked, rig, gates, flow, weights, mixing, len(vents), leads, len(keys), known)),
        found(asked, rig, margins, flow, weights, known, push, given[0].cores.on_end, crowd),
        {"wanted_gates": float(rig.wanted_gates), "cost": rig.laid.cost},
    )


def _asked(choices: RigChoices, given: tuple[Given, ...]) -> Asked:
    """The lots with their masses and margins. UserFault for jobs that one pour cannot fill."""
    method = given[0].method
    if choices.head_mm is not None:  # an extension of the sprue carries its cup
        choices = msgspec.structs.replace(choices, cup="set-on")
    for other in given[1:]:
        _fits_with(given[0], other)
    lots = tuple(_lot(one) for one in given)
    group = pouring_of(method.metal_id)
    asked = Asked(
        choices,
        lots,
        margins_of(method.metal_id, group, lots),
        group,
        liquid_density(method.metal_id).value,
        not method.pattern.draws,
    )
    if asked.tiers > 1:  # between tiers is no room for a feeder
        asked = replace(asked, lots=tuple(replace(one, feeders=()) for one in lots))
        asked = replace(asked, pitch_mm=pitch_of(asked))
    if len(choices.placed) not in (0, asked.tier_count):  # put by hand for another number of castings
        asked = replace(asked, choices=msgspec.structs.replace(choices, placed=(), sprue_mm=None))
    return asked


def _fits_with(first: Given, other: Given) -> None:
    for what, a, b, cure in (
        ("metal", first.method.metal.name, other.method.metal.name, "Pour it by itself, or in the same metal."),
        ("sand", first.method.mould.name, other.method.mould.name, "Mould it by itself, or in the same sand."),
    ):
        if a != b:
            raise UserFault(f"{other.name} wants another {what} ({b.lower()}, not {a.lower()}).", cure)
    if first.method.pattern.draws != other.method.pattern.draws:
        raise UserFault(f"{other.name} is not moulded as this job is: foam stays in.", "Mould it by itself.")


def _lot(given: Given) -> Lot:
    joint = given.parting.joint
    joint = replace(joint, height_mm=given.stock.joint_mm) if joint.level else joint
    cores = given.cores
    item = kept_item(
        given.stock.mesh, cores.mesh, tuple(core.mesh for core in cores.cores), joint, given.stock.rammed_factors
    )
    return Lot(
        given.name,
        given.count,
        item,
        given.stock.cast.mass_kg,
        given.method.metal.least_wall.value,
        sum(core.make_kg for core in cores.cores),
        sum(max(core.loads.lift_n, 0.0) for core in cores.cores),
        () if cores.on_end else standing(item, given.feeders),
        chills_on(item, given.chills),
        warmth_of(item, given.method.metal_id, given.method.mould_id),
        tuple(_in_plan(item, one) for one in given.gates_mm),
        _marks(item, given.stock),
    )


def _marks(item: Item, stock: StockResult) -> Floats:
    """(n, 3, 3) faces of text and other marks in the item's frame, those near its joint."""
    tags, reliefs = stock.mesh.tags, [k for k, one in enumerate(stock.features) if one.kind == "relief"]
    lines = [k for k, one in enumerate(stock.lines) if one.kind == LineKind.LETTERING]
    marked = np.isin(tags.feature, reliefs) | np.isin(tags.line, lines)
    corners = stock.mesh.corners[marked] @ item.turn.T + item.shift
    joint = 0.0 if item.joint is None else item.joint_at(corners.mean(axis=1)[:, :2])
    low, high = corners[:, :, 2].min(axis=1) - joint, corners[:, :, 2].max(axis=1) - joint
    return np.asarray(corners[(low < NEAR_JOINT_MM) & (high > -NEAR_JOINT_MM)])


def _in_plan(item: Item, at_mm: tuple[float, float, float]) -> Spot:
    """A place of the part, as it was modelled, in the item's plan."""
    x, y, _ = (item.turn @ np.array(at_mm) + item.shift).tolist()
    return x, y


def _castings(asked: Asked, rig: Rigged) -> tuple[Casting, ...]:
    """Named by their job where there are several, and by number where there are several of one."""
    out, seen = [], [0] * len(asked.lots)
    for number, (k, (at, turn)) in enumerate(zip(rig.order, rig.laid.castings, strict=True)):
        lot = asked.lots[k]
        seen[k] += 1
        name = lot.name if len(asked.lots) > 1 else "Casting"
        out.append(Casting(name if lot.count == 1 else f"{name} {seen[k]}", at, turn, k, rig.level(number)))
    return tuple(out)


def _model(item: Item) -> CastModel:
    return CastModel(item.metal_mesh, tuple(bare_mesh(core) for core in item.cores), item.turn, item.shift)


def _chills(asked: Asked, rig: Rigged) -> tuple[Chill, ...]:
    out = []
    for k, (at, turn) in zip(range(len(rig.order)), rig.laid.castings, strict=True):
        for one in asked.lots[rig.order[k]].chills:
            x, y = turned_point(np.array(one.at[:2]), at, turn).tolist()
            a, b = turned_point(np.array(one.out[:2]), (0.0, 0.0), turn).tolist()
            out.append(
                Chill(one.number, k, (x, y, one.at[2] + rig.level(k)), (a, b, one.out[2]), one.side_mm, one.thick_mm)
            )
    return tuple(out)


def _led(asked: Asked, rig: Rigged, method: Method) -> tuple[tuple[tuple[float, float, float], ...], tuple[Lead, ...]]:
    """Vents over high points and far ends, and what is led out of the mould; on end nothing is pricked from above, and
    dry loose sand lets the air out everywhere.
    """
    if rig.stand is not None:
        return (), (*core_leads(asked.items, rig), *onend.breathers(rig, asked.lots[0].item))
    if asked.loose:
        return (), core_leads(asked.items, rig)
    own = []
    for lot, fit in zip(asked.lots, rig.lots, strict=True):
        gates = np.array([one.at for one in fit.gates])
        tops = high_points(lot.item)
        ends = ends_of(lot.item, gates[:, :2], tops)
        if lot.warmth is not None:
            ends = np.vstack([ends, late_ends(lot.item, lot.warmth, gates, np.vstack([tops, ends]))])
        own.append((tops, ends))
    clay = breathers(asked.items, rig, tuple(own[k][1] for k in rig.order)) if method.mould.airtight else ()
    vents = []
    for number, (k, (at, turn)) in enumerate(zip(rig.order, rig.laid.castings, strict=True)):
        for point in np.vstack(own[k]):
            # an open feeder lets the air out itself, a blind one by a vent of its own
            if any(np.hypot(*(point[:2] - one.foot[:2])) < one.wide_mm for one in asked.lots[k].feeders):
                continue
            x, y = turned_point(point[:2], at, turn)
            vents.append((float(x), float(y), float(point[2]) + rig.level(number)))
        for one in asked.lots[k].feeders:
            if not one.open:
                x, y = turned_point(np.array(one.foot[:2]), at, turn)
                vents.append((float(x), float(y), one.up_mm))
    return tuple(vents), (*core_leads(asked.items, rig), *clay)


def taken_by(shapes: tuple[Shape, ...]) -> BaseGeometry:
    """What the metal and the prints take in plan."""
    return shapely.unary_union([shapely.Polygon(shape.rings[0]).buffer(0.0) for shape in shapes if shape.kind != "cup"])
