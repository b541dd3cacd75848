"""The mould built: castings in their places, gates, runner and sprue as solids, plan, measured margins, sections."""

from dataclasses import dataclass
from itertools import combinations

import manifold3d
import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from pounce.base.progress import Progress
from pounce.metals.pouring import pouring
from pounce.rig.feeders import Standing, feeder_formers, feeder_solid
from pounce.rig.fittings import basin_former, basin_plan, basin_way, cup_former, key_former
from pounce.rig.flasking import Asked, Rigged, trap_of
from pounce.rig.item import placed, polygons, turned_point
from pounce.rig.lines import wall_of
from pounce.rig.onend import channel, channel_plan
from pounce.rig.sections import Sections
from pounce.rig.solids import Cutting, bars, gating_of, link, rooted, slot, sprue_solids, trap_solid
from pounce.rig.values import Cut, Feeder, Gate, Half, Margin, Runner, Shape, Spot, Sprue
from pounce.rig.ways import trap_at
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.mesh import Floats, Mesh

# So many sections are cut along the pins.
CUTS = 25


@dataclass(frozen=True, eq=False)
class Built:
    """``castings`` in their places, ``cores``; the gating and its formers, those of gates and runner by half; gates
    (their speed is the flow's, and not known yet), runner, sprue.
    """

    castings: tuple[Solid, ...]
    cores: tuple[Solid, ...]
    gating: Solid
    formers: tuple[tuple[str, Mesh], ...]
    halves: tuple[tuple[Half, str, Mesh], ...]
    gates: tuple[Gate, ...]
    runner: Runner
    sprue: Sprue
    feeders: tuple[Feeder, ...]


def put(solid: Solid, at: Spot, turn_deg: float, level_mm: float = 0.0) -> Solid:
    """A solid of the item where its casting lies."""
    return solid.rotate([0.0, 0.0, turn_deg]).translate([at[0], at[1], level_mm])


def built(asked: Asked, rig: Rigged, progress: Progress) -> Built:
    """All solids. UserFault where they come out broken."""
    s, laid = rig.sections, tuple(zip(asked.items, rig.laid.castings, strict=True))
    castings = tuple(put(item.metal, at, turn, rig.level(k)) for k, (item, (at, turn)) in enumerate(laid))
    cores = tuple(put(one, *spot, rig.level(k)) for k, (item, spot) in enumerate(laid) for one in item.cores)
    cuttings, lines = rig.lines.cuttings, rig.lines.lines
    progress(0.55, "Cutting the gates")
    slots, links, gates = [], [], []
    for cutting, place in zip(cuttings, rig.places, strict=True):
        g = rig.fits[cutting.casting].sections
        piece, area = rooted(cutting, g, castings[cutting.casting], place.depth_mm)
        slots.append(piece)
        if cutting.half != s.runner_half:
            links.append(link(cutting, g))
        way = float(np.degrees(np.arctan2(cutting.out[1], cutting.out[0])))
        x, y, z = (float(value) for value in cutting.at)
        gates.append(
            Gate((x, y, z), way, g.gate_wide, g.gate_thick, cutting.half, cutting.casting, place.wall_mm, 0.0, area)
        )
    bars_only = [bar for line in lines for bar in bars(line, s.runner_wide, s.runner_high, s.runner_half)]
    runs = list(bars_only)
    traps = _traps(asked, rig)
    wide = trap_of(s, asked.choices)
    runs += [trap_solid(at, wide, s.runner_high, s.runner_half) for at in traps]
    cup: Solid | None
    if rig.stand is not None:
        sprue, well, cup = channel(rig)
    else:
        sprue, well, cup = sprue_solids(rig.laid.sprue, s, asked.choices.cup == "cut")
    if rig.stand is None and cup is not None and asked.choices.basin == "offset":
        cup = _basin(rig).translate([*rig.laid.sprue, s.sprue_high])
    progress(0.62, "Uniting the runner")
    stood = _stood(asked, rig)
    pieces = [*slots, *links, *runs, sprue, well, *([] if cup is None else [cup]), *(solid for _, _, solid in stood)]
    gating = gating_of(pieces, list(castings))
    # of a tree each tier's are alike
    first = tuple(one for one in cuttings if one.casting < rig.tier)
    own = [slot(c, rig.fits[c.casting].sections, 0.0) for c in first]
    low = [bar for line in lines[: rig.tier] for bar in bars(line, s.runner_wide, s.runner_high, s.runner_half)]
    halves = _halves(own, first, (low, [(at, wide) for at in traps[: rig.tier]]), s, well, list(castings))
    upright = boolean.united([sprue, *([] if cup is None else [cup])])
    formers = (("Sprue", boolean.bare_mesh(upright)), *((name, mesh) for _, name, mesh in halves))
    formers += _set_up(asked, rig, cup is None)
    flat = tuple(np.asarray(line[:, :2]) for line in lines)
    return Built(
        castings,
        cores,
        gating,
        formers,
        halves,
        tuple(gates),
        Runner(
            flat, s.runner_wide, s.runner_high, s.runner_half, tuple((float(x), float(y)) for x, y, _ in traps), wide
        ),
        Sprue(rig.laid.sprue, s.foot, s.top, s.sprue_high, s.well, s.well_deep, s.cup, s.basin),
        tuple(
            _feeder(one, k, laid[k][1], rig.flask.cope_mm, boolean.without(solid, [castings[k]]), asked.density)
            for k, one, solid in stood
        ),
    )


def _set_up(asked: Asked, rig: Rigged, set_on: bool) -> tuple[tuple[str, Mesh], ...]:
    """Formers of what is set on the cope or stood in it: a cup, feeders, keys."""
    s, out = rig.sections, []
    if set_on and not asked.loose:
        offset = asked.choices.basin == "offset"
        made = _basin(rig) if offset else cup_former(s.top, s.cup, s.basin)
        out.append(("Basin" if offset else "Pouring cup", boolean.bare_mesh(made)))
    for one in asked.lots[0].feeders:
        for side, solid in feeder_formers(one, rig.flask.cope_mm, asked.lots[0].item.whole):
            out.append((f"Feeder {one.number + 1}{side}", boolean.bare_mesh(solid)))
    if asked.choices.closing == "boxless":
        out.append(("Key, four of it", boolean.bare_mesh(key_former())))
    return tuple(out)


def _stood(asked: Asked, rig: Rigged) -> list[tuple[int, Standing, Solid]]:
    """Feeders in their places, and which casting each stands on."""
    return [
        (k, one, put(feeder_solid(one, rig.flask.cope_mm), *rig.laid.castings[k]))
        for k, lot in enumerate(rig.order)
        for one in asked.lots[lot].feeders
    ]


def _feeder(one: Standing, casting: int, at: tuple[Spot, float], top: float, solid: Solid, density: float) -> Feeder:
    x, y = turned_point(np.array(one.foot[:2]), *at).tolist()
    base, contact = one.base_mm, None
    if one.gate is not None:
        a, b = turned_point(np.array(one.gate.at[:2]), *at).tolist()
        contact = (a, b, one.gate.at[2])
    return Feeder(
        one.number,
        casting,
        (x, y, one.foot[2]),
        one.wide_mm,
        top if one.open else base + one.high_mm,
        one.neck_mm,
        one.neck_long_mm,
        one.open,
        one.sleeve_mm,
        float(solid.volume()) * density * 1e-9,
        contact,
        one.neck_high_mm,
    )


def _traps(asked: Asked, rig: Rigged) -> list[Floats]:
    """(3,) the middle of each whirl trap, at the joint where its runner ends."""
    wide = trap_of(rig.sections, asked.choices)
    if wide <= 0.0:
        return []
    out = []
    for item, line, one in zip(asked.items, rig.lines.lines, rig.laid.castings, strict=True):
        plan = placed(item.plan, *one)
        out.append(np.array([*trap_at(line, plan, wide, rig.sections.runner_wide), float(line[-1, 2])]))
    return out


def _basin(rig: Rigged) -> Solid:
    """The offset basin with the sprue at (0, 0, 0), pointing where it finds room."""
    s = rig.sections
    made = basin_former(s.top, s.cup, s.basin, pouring().common.basin_long.value)
    return made.rotate([0.0, 0.0, basin_way(rig)])


def _halves(
    slots: list[Solid],
    cuttings: tuple[Cutting, ...],
    runner: tuple[list[Solid], list[tuple[Floats, float]]],
    s: Sections,
    well: Solid,
    castings: list[Solid],
) -> tuple[tuple[Half, str, Mesh], ...]:
    """What may be printed and rammed up of gates and runner, in each half."""
    runs, traps = runner
    out: list[tuple[Half, str, Mesh]] = []
    halves: tuple[Half, ...] = ("cope", "drag")
    for half in halves:
        mine = [one for one, cutting in zip(slots, cuttings, strict=True) if cutting.half == half]
        names = ["gates"] if mine else []
        if s.runner_half == half:
            mine += runs
            names.insert(0, "runner")
        if traps:
            mine += [trap_solid(at, wide, s.runner_high, s.runner_half, half) for at, wide in traps]
            names.append("trap")
        if half == "drag":
            mine.append(well)
            names.append("well")
        if mine:
            body = gating_of(mine, castings)
            out.append((half, f"{_said(names)}, {half} side", boolean.bare_mesh(body)))
    return tuple(out)


def _said(names: list[str]) -> str:
    first = ", ".join(names[:-1])
    return (f"{first} and {names[-1]}" if first else names[-1]).capitalize()


def cup_plan(asked: Asked, rig: Rigged) -> BaseGeometry:
    """The cup's brim, seen from above."""
    if asked.choices.basin == "offset":
        return basin_plan(rig)
    return shapely.Point(rig.laid.sprue).buffer(rig.sections.cup / 2.0, 24)


def shapes_of(asked: Asked, rig: Rigged, b: Built) -> tuple[Shape, ...]:
    """The plan, from the drag up: prints under castings under gating. Of a tree's tiers the lowest is shown."""
    out: list[Shape] = []
    for k, (item, (at, turn)) in enumerate(zip(asked.tier_items, rig.laid.castings, strict=False)):
        whole, metal = item.plan, item.metal_plan
        out += _rings("print", placed(whole.difference(metal.buffer(0.05)).buffer(-0.5).buffer(0.5), at, turn), k)
        out += _rings("casting", placed(metal, at, turn), k)
    for k, line in enumerate(b.runner.lines[: rig.tier]):
        out += _rings("runner", shapely.LineString(line).buffer(b.runner.wide_mm / 2.0), k)
    runners = [shapely.LineString(line) for line in b.runner.lines]
    for gate in b.gates:
        if gate.casting >= rig.tier:
            continue
        way = np.array([np.cos(np.radians(gate.way_deg)), np.sin(np.radians(gate.way_deg))])
        end = np.array(gate.at_mm[:2])
        off = min(float(line.distance(shapely.Point(end))) for line in runners)
        far = end + way * (off + 0.5)
        out += _rings("gate", shapely.LineString([end, far]).buffer(gate.wide_mm / 2.0, cap_style="flat"), gate.casting)
    for at in b.runner.traps[: rig.tier]:
        out += _rings("runner", shapely.Point(at).buffer(b.runner.trap_mm / 2.0, 24), -1)
    if rig.stand is not None:
        for kind, shape in channel_plan(rig):
            out += _rings(kind, shape, -1)
        return tuple(out)
    middle = shapely.Point(b.sprue.at_mm)
    out += _rings("well", middle.buffer(b.sprue.well_mm / 2.0, 24), -1)
    out += _rings("cup", cup_plan(asked, rig), -1)
    for one in b.feeders:
        disc = shapely.Point(one.foot_mm[:2]).buffer(one.wide_mm / 2.0, 24)
        if one.contact_mm is not None:
            neck = shapely.LineString([one.contact_mm[:2], one.foot_mm[:2]]).buffer(one.neck_mm / 2.0, cap_style="flat")
            disc = disc.union(neck)
        out += _rings("feeder", disc, one.casting)
    for kind, size in (("sprue", b.sprue.top_mm), ("foot", b.sprue.foot_mm)):
        out += _rings(kind, middle.buffer(size / 2.0, 24), -1)
    return tuple(out)


def _rings(kind: str, shape: BaseGeometry, casting: int) -> list[Shape]:
    out = []
    for part in getattr(shape, "geoms", [shape]):
        if part.is_empty or part.geom_type != "Polygon" or part.area < 0.5:
            continue
        rings = (part.exterior, *part.interiors)
        out.append(Shape(kind, tuple(np.asarray(ring.coords)[:-1] for ring in rings), casting))
    return out


def margins_in(asked: Asked, rig: Rigged, runner: Runner) -> tuple[Margin, ...]:
    """Sand as it measures, the shortest of what is wanted first."""
    m, inside = asked.margins, wall_of(rig.flask)
    wall = inside.exterior
    laid = list(zip(rig.fits, rig.laid.castings, strict=True))[: rig.tier]
    metal = [placed(fit.block.metal, *one) for fit, one in laid]
    whole = [placed(fit.block.whole, *one) for fit, one in laid]
    several = len(metal) > 1
    names = [f"casting {k + 1}" if several else "casting" for k in range(len(metal))]
    cup = asked.choices.cup == "cut" and rig.stand is None
    r = max(rig.sections.top, rig.sections.well) / 2.0
    sprue = cup_plan(asked, rig) if cup else shapely.Point(rig.laid.sprue).buffer(r, 24)
    if rig.stand is not None:  # it runs out at the upper end, and stands off the long walls only
        x = rig.flask.long_mm / 2.0
        sprue = shapely.unary_union([one for _, one in channel_plan(rig)]).intersection(
            shapely.box(-x, -1e4, x - 1.0, 1e4)
        )
        long = (shapely.LineString([(-x, y), (x, y)]) for y in (-rig.flask.wide_mm / 2.0, rig.flask.wide_mm / 2.0))
        wall = shapely.unary_union(list(long))
    runs = shapely.unary_union(
        [
            *(shapely.LineString(one).buffer(runner.wide_mm / 2.0) for one in runner.lines),
            *(shapely.Point(at).buffer(runner.trap_mm / 2.0, 24) for at in runner.traps),
        ]
    )
    out = [_margin("pouring cup" if cup else "sprue", "wall", sprue, wall, m.sprue_wall, inside)]
    for name, own, body in zip(names, metal, whole, strict=True):
        out.append(_margin(name, "wall", own, wall, m.wall, inside))
        if body.area > own.area + 1.0:
            out.append(
                _margin(f"core print of {name}" if several else "core print", "wall", body, wall, m.print_wall, inside)
            )
        out.append(_margin("pouring cup" if cup else "sprue", name, sprue, body, m.sprue_casting, None))
    out.append(_margin("runner", "wall", runs, wall, m.runner_wall, inside))
    out += [
        _margin("runner", name, runs, body, pouring().common.passes.value, None)
        for name, body in zip(names, whole, strict=True)
    ]
    for (one, a), (two, b) in combinations(zip(names, whole, strict=True), 2):
        out.append(_margin(one, two, a, b, m.between, None))
    return tuple(sorted(out, key=lambda one: one.mm - one.wanted_mm))


def _margin(of: str, to: str, a: BaseGeometry, b: BaseGeometry, wanted: float, inside: BaseGeometry | None) -> Margin:
    line = shapely.get_coordinates(shapely.shortest_line(a, b))
    mm = float(a.distance(b))
    if inside is not None and not inside.contains(a):  # it stands in the wall or beyond it
        out = shapely.get_coordinates(a.exterior if a.geom_type == "Polygon" else a.convex_hull.exterior)
        mm = -float(shapely.distance(inside, shapely.points(out)).max())
    elif inside is None and a.intersects(b):
        mm = -float(a.intersection(b).area ** 0.5)
    (x0, y0), (x1, y1) = line[0].tolist(), line[-1].tolist()
    return Margin(of, to, mm, wanted, ((x0, y0), (x1, y1)))


def cuts_of(rig: Rigged, b: Built) -> tuple[Cut, ...]:
    """Sections along the pins from wall to wall, those through the sprue and the middle of each casting among them."""
    half = rig.flask.wide_mm / 2.0
    ys = {round(float(y), 2) for y in np.linspace(-half, half, CUTS + 2)[1:-1]}
    ys |= {round(b.sprue.at_mm[1], 2), *(round(at[1], 2) for at, _ in rig.laid.castings)}
    groups = (
        ("casting", manifold3d.Manifold.compose(list(b.castings))),
        ("core", None if not b.cores else manifold3d.Manifold.compose(list(b.cores))),
        ("gating", b.gating),
    )
    # laid so that the line of the pins is x and the cope's up is y of the section
    turned = [(kind, None if one is None else one.rotate([90.0, 0.0, 0.0])) for kind, one in groups]
    out = []
    for y in sorted(ys):
        rings: list[tuple[str, Floats]] = []
        for kind, solid in turned:
            if solid is None:
                continue
            for part in _parts(polygons(solid.slice(y))):
                rings += [(kind, np.asarray(ring.coords)[:-1] * [1.0, -1.0]) for ring in (part.exterior,)]
                rings += [("hole", np.asarray(ring.coords)[:-1] * [1.0, -1.0]) for ring in part.interiors]
        out.append(Cut(y, tuple(rings)))
    return tuple(out)


def _parts(shape: BaseGeometry) -> list[BaseGeometry]:
    return [one for one in getattr(shape, "geoms", [shape]) if one.geom_type == "Polygon" and not one.is_empty]
