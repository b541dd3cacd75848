"""A mould that is closed, clamped and stood on end before it is poured, so that a long core stands and cannot sag: the
sprue runs down beside the casting in the joint, and the metal comes in at its lower end.

Stood, the flask's pins are upright: +x of the mould's frame is up.
"""

import math
from dataclasses import dataclass, replace

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from pounce.base.errors import UserFault
from pounce.metals.pouring import pouring
from pounce.rig.fit import Fit, Stand
from pounce.rig.flasking import BUILT, GATING_SHARE, OWN_SIZE, Asked, Rigged, said_flask
from pounce.rig.flasks import Flask
from pounce.rig.flow import G
from pounce.rig.item import Item, placed, polygons
from pounce.rig.layout import Block, Laid
from pounce.rig.lines import Lines
from pounce.rig.places import Place, chosen, places_of
from pounce.rig.sections import Sections, Wanted, sections_of
from pounce.rig.solids import LAP_MM, Cutting
from pounce.rig.values import Lead
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.mesh import Floats

# A gate lies in this share of the casting's height, from its lower end, and leaves it to a side by 45 degrees or more.
LOW_SHARE, SIDEWAYS, MORE_GATES = 0.35, 0.7, 8
# How much a higher gate costs, in scores of a place, over the whole height.
HIGH_COST = 4.0
# and one more of them.
GATE_COST = 1.0
# Air leaves so far beside a print, mm.
AIR_MM = 3.0
# Boxes are built in these steps, mm; the sprue ends this many foot diameters under its lowest gate.
STEP_MM, WELL = 10.0, 1.0


@dataclass(frozen=True)
class Standing:
    """A casting turned so that it stands: the turn (degrees), the side its gates leave it by (1: +y), its gates, and
    their places and ways out (k, 2) as they are turned about the item's middle, the lowest first.
    """

    turn_deg: float
    side: float
    gates: tuple[Place, ...]
    at: Floats
    out: Floats


def stood(asked: Asked, own: tuple[Flask, ...]) -> Rigged | None:
    """The mould on end; None for what is worked lying: several castings, a joint that is not flat, loose sand, no core
    that lies in the joint, or no low wall that takes the gates from a side. UserFault where the sprue finds no room.
    """
    standing = _standing(asked) if len(asked.order) == 1 and not asked.loose else None
    if standing is None:
        return None
    said = said_flask(asked, own)
    if said is not None:
        held = _in(said, asked, standing)
        if held is not None:
            return replace(held, own=said.id not in (OWN_SIZE, BUILT))
    for flask in sorted(own, key=lambda one: one.area_mm2 * (one.cope_mm + one.drag_mm)):
        held = _in(flask, asked, standing) if flask.shape == "box" else None
        if held is not None:
            return replace(held, too_small=said)
    m = asked.margins
    x0, y0, x1, y1 = placed(asked.lots[0].item.plan, (0.0, 0.0), standing.turn_deg).bounds
    cope, drag = (math.ceil((side + m.wall) / 5.0) * 5.0 for side in (asked.up_mm, asked.down_mm))
    long = math.ceil((x1 - x0 + m.over + m.under) / STEP_MM) * STEP_MM
    wide = math.ceil((y1 - y0 + 2.0 * m.wall + m.sprue_casting + m.sprue_wall) / STEP_MM) * STEP_MM
    for _ in range(40):  # as wide as sprue and cup ask
        held = _in(Flask(BUILT, "Box to build", "box", long, wide, cope, drag, 0.0), asked, standing)
        if held is not None:
            return replace(held, own=False, too_small=said)
        wide += STEP_MM
    raise UserFault("The sprue finds no room beside the casting on end.", "Pour it lying.")


def _axis(item: Item) -> float | None:
    """The way of the longest core that lies in the joint, degrees in plan; None where all of them stand."""
    best: tuple[float, float] | None = None
    for core in item.cores:
        box = core.bounding_box()
        around = polygons(core.project()).minimum_rotated_rectangle
        corners = shapely.get_coordinates(around)[:3]
        sides = np.diff(corners, axis=0)
        long = sides[int(np.argmax(np.linalg.norm(sides, axis=1)))]
        size = float(np.linalg.norm(long))
        if size > box[5] - box[2] and (best is None or size > best[0]):
            best = (size, float(np.degrees(np.arctan2(long[1], long[0]))))
    return None if best is None else round(best[1], 1)


def _standing(asked: Asked) -> Standing | None:
    """Which end is down, and by which side the gates leave: where low walls take them best."""
    item, m = asked.lots[0].item, asked.margins
    axis = None if item.joint is not None else _axis(item)
    if axis is None:
        return None
    places = places_of(item, asked.choices.school, pouring().common.gate_long.value + 25.0, asked.lots[0].warmth)
    if not places:
        return None
    at = np.array([place.at[:2] for place in places]).reshape(-1, 2)
    out = np.array([place.out for place in places]).reshape(-1, 2)
    best: tuple[float, Standing] | None = None
    for turn in (-axis % 360.0, (180.0 - axis) % 360.0):
        x0, _, x1, _ = placed(item.metal_plan, (0.0, 0.0), turn).bounds
        c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
        turned = np.array([[c, s], [-s, c]])
        spots, ways = at @ turned, out @ turned
        height = (spots[:, 0] - x0) / max(x1 - x0, 1e-9)
        whole = placed(item.plan, (0.0, 0.0), turn)
        nominal = _sections(asked, asked.choices.gates, places[0].wall_mm, x1 - x0 + m.over, x1 - x0, x1 - x0)
        for side in (1.0, -1.0):
            low = np.flatnonzero((height <= LOW_SHARE) & (side * ways[:, 1] >= SIDEWAYS))
            free = [k for k in low if _led_clear(whole, spots[k], ways[k], side, nominal)]
            own = [replace(places[k], score=places[k].score + HIGH_COST * float(height[k])) for k in free]
            own.sort(key=lambda one: one.score)
            gates = _gates(asked, tuple(own), (x1 - x0) + m.over, x1 - x0)
            if not gates:
                continue
            cost = sum(one.score for one in gates) / len(gates) + GATE_COST * len(gates)
            if best is None or cost < best[0] - 1e-9:
                mine = np.array([one.at[:2] for one in gates]) @ turned
                first = np.argsort(mine[:, 0], kind="stable")
                leave = np.array([one.out for one in gates]) @ turned
                best = cost, Standing(turn, side, tuple(gates[k] for k in first), mine[first], leave[first])
    return None if best is None else best[1]


def _led_clear(whole: BaseGeometry, spot: Floats, way: Floats, side: float, s: Sections) -> bool:
    """Whether the runner from the end of a gate at this place goes out to the sprue's side with its sand."""
    end = spot + _gate_long(s) * way
    strip = shapely.LineString([end, (end[0], end[1] + side * 4.0 * (whole.bounds[3] - whole.bounds[1]))])
    return bool(strip.distance(whole) >= s.runner_wide / 2.0 + pouring().common.passes.value - 0.1)


def _gate_long(s: Sections) -> float:
    """As far from the casting as a runner goes round one that lies, mm."""
    return float(pouring().common.gate_long.value + s.runner_wide / 2.0)


def _gates(asked: Asked, places: tuple[Place, ...], head_mm: float, high_mm: float) -> tuple[Place, ...]:
    """As few gates as these places take; none where they take none."""
    if not places:
        return ()
    said, wall = asked.choices.gates, places[0].wall_mm
    count = _sections(asked, said, wall, head_mm, high_mm, high_mm).gates
    for _ in range(MORE_GATES):
        s = _sections(asked, count, wall, head_mm, high_mm, high_mm)
        able = tuple(one for one in places if one.half_for(s.gate_thick, s.gate_half) is not None)
        gates = chosen(asked.lots[0].item, able, count, s.gate_wide, False)
        thin = min((one.wall_mm for one in gates), default=wall)
        wanted = _sections(asked, said, thin, head_mm, high_mm, high_mm).gates
        if len(gates) == count and wanted <= count and thin >= wall - 1e-9:
            return gates
        # thinner walls take thinner and wider gates, or more of them
        count, wall = (max(wanted, count), thin) if thin < wall - 1e-9 else (count + 1, wall)
        if said is not None and count > said:
            break
    return ()


def _sections(asked: Asked, gates: int | None, wall: float, head_mm: float, above: float, whole: float) -> Sections:
    lot = asked.lots[0]
    wanted = Wanted(
        asked.group,
        asked.density,
        lot.casting_kg * (1.0 + GATING_SHARE),
        head_mm,
        above,
        whole - above,
        1.0,
        wall,
        lot.least_wall_mm,
        0.0,
        gates,
        asked.choices.school,
        "cut",
    )
    return sections_of(wanted)


def _in(flask: Flask, asked: Asked, s: Standing) -> Rigged | None:
    """All of it in this flask; None where it finds no room."""
    item, m, c = asked.lots[0].item, asked.margins, asked.choices
    if flask.cope_mm < asked.up_mm + m.wall - 0.1 or flask.drag_mm < asked.down_mm + m.wall - 0.1:
        return None
    metal = placed(item.metal_plan, (0.0, 0.0), s.turn_deg)
    whole = placed(item.plan, (0.0, 0.0), s.turn_deg)
    x = max(m.under - flask.long_mm / 2.0 - metal.bounds[0], m.print_wall - flask.long_mm / 2.0 - whole.bounds[0])
    top = flask.long_mm / 2.0
    if metal.bounds[2] + x > top - m.over + 0.1 or whole.bounds[2] + x > top - m.print_wall + 0.1:
        return None
    gate_x, side = float(s.at[0, 0]) + x, s.side
    head, above = top - gate_x, metal.bounds[2] + x - gate_x
    wall = min(one.wall_mm for one in s.gates)
    sections = _sections(asked, len(s.gates), wall, head, above, metal.bounds[2] - metal.bounds[0])
    sprue_y = _beside(whole, s, side) + side * (m.sprue_casting + sections.top / 2.0)
    # centred with what stands beside it
    edges = sorted((sprue_y + side * (sections.cup / 2.0 + m.sprue_wall), _far(metal, side) - side * m.wall))
    if edges[1] - edges[0] > flask.wide_mm + 0.1:
        return None
    at = (round(x, 2), round(-(edges[0] + edges[1]) / 2.0, 2))
    if c.placed:
        at = c.placed[0].at_mm
    y = c.sprue_mm[1] if c.sprue_mm is not None else sprue_y + at[1]
    gate_x, high = float(s.at[0, 0]) + at[0], metal.bounds[2] - metal.bounds[0]
    return _rigged(flask, asked, s, sections, at, Stand(top - gate_x, above, high, (gate_x, y)))


def _beside(whole: BaseGeometry, s: Standing, side: float) -> float:
    """How far the pattern stands out to the sprue's side, from its gate up."""
    _, y0, x1, y1 = whole.bounds
    part = whole.intersection(shapely.box(float(s.at[0, 0]) - 20.0, y0 - 1.0, x1 + 1.0, y1 + 1.0))
    return float(part.bounds[3] if side > 0.0 else part.bounds[1])


def _far(metal: BaseGeometry, side: float) -> float:
    return float(metal.bounds[1] if side > 0.0 else metal.bounds[3])


def _rigged(
    flask: Flask, asked: Asked, s: Standing, sections: Sections, at: tuple[float, float], stand: Stand
) -> Rigged:
    item = asked.lots[0].item
    long = _gate_long(sections)
    cuttings, runs = [], []
    for place, spot, out in zip(s.gates, s.at, s.out, strict=True):
        start = np.array([*(spot + at), place.at[2]])
        to = np.array([*(start[:2] + long * out), 0.0])
        half = place.half_for(sections.gate_thick, sections.gate_half) or sections.gate_half
        cuttings.append(Cutting(start, to, out, 0, half))
        runs.append(np.array([[to[0], stand.foot_mm[1], 0.0], to]))
    lines = Lines(tuple(cuttings), tuple(runs), True)
    fit = Fit(sections, s.gates, None, Block(item.plan, item.metal_plan, shapely.Polygon(), ()))
    return Rigged(flask, True, (fit,), (0,), Laid(((at, s.turn_deg),), stand.foot_mm, 0.0), lines, stand=stand)


def channel(rig: Rigged) -> tuple[Solid, Solid, Solid]:
    """The sprue down the joint, half in each half; the well under its lowest gate; the cup at the flask's upper end."""
    s, stand = rig.sections, rig.stand
    assert stand is not None, "a mould on end"
    x, y = stand.foot_mm
    top = rig.flask.long_mm / 2.0
    up = np.array([1.0, 0.0, 0.0])
    neck = top - s.basin
    sprue = boolean.rod(np.array([x, y, 0.0]), up, neck - x, s.foot / 2.0, s.top / 2.0)
    well = boolean.rod(np.array([x - WELL * s.foot, y, 0.0]), up, WELL * s.foot + s.runner_wide, 0.55 * s.foot)
    cup = boolean.rod(np.array([neck - LAP_MM, y, 0.0]), up, s.basin + LAP_MM, s.top / 2.0, s.cup / 2.0)
    return sprue, well, cup


def channel_plan(rig: Rigged) -> tuple[tuple[str, BaseGeometry], ...]:
    """The same in plan, by kind."""
    s, stand = rig.sections, rig.stand
    assert stand is not None, "a mould on end"
    x, y = stand.foot_mm
    top = rig.flask.long_mm / 2.0
    neck = top - s.basin

    def strip(x0: float, x1: float, w0: float, w1: float) -> BaseGeometry:
        return shapely.Polygon([(x0, y - w0), (x1, y - w1), (x1, y + w1), (x0, y + w0)])

    return (
        ("well", strip(x - WELL * s.foot, x, 0.55 * s.foot, 0.55 * s.foot)),
        ("runner", strip(x, neck, s.foot / 2.0, s.top / 2.0)),
        ("runner", strip(neck, top, s.top / 2.0, s.cup / 2.0)),
    )


def breathers(rig: Rigged, item: Item) -> tuple[Lead, ...]:
    """Where the air leaves: from the highest metal, beside its print, along the joint to the upper end."""
    top = rig.flask.long_mm / 2.0
    put = rig.laid.castings[0]
    metal, whole = placed(item.outline, *put), placed(item.plan, *put)
    prints = whole.difference(metal.buffer(0.1)).buffer(AIR_MM)
    points = shapely.get_coordinates(shapely.segmentize(metal.boundary, 1.0))
    for k in np.argsort(-points[:, 0], kind="stable").tolist():
        x, y = points[k].tolist()
        way = shapely.LineString([(x + 0.5, y), (top, y)])
        if not way.intersects(prints) and way.intersection(metal).length < 0.5:
            return (Lead("breather", (x, y), (top, y), "joint", 0),)
    return ()


def spread_n(rig: Rigged, asked: Asked) -> float:
    """What drives the halves apart, N: the metal's pressure over all that it fills and the cores in it, seen along the
    draw.
    """
    assert rig.stand is not None, "a mould on end"
    top = rig.flask.long_mm / 2.0
    body = placed(asked.lots[0].item.metal_plan, *rig.laid.castings[0])
    filled = shapely.unary_union([shapely.Polygon(one.exterior) for one in getattr(body, "geoms", [body])])
    whole = shapely.unary_union([filled, *(shape for _, shape in channel_plan(rig))])
    return float(whole.area * (top - whole.centroid.x)) * asked.density * G * 1e-9
