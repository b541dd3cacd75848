"""What the sand section strip asks for, and gets: outlines in the frame of the cut, ready to paint."""

from dataclasses import replace
from typing import Any

import numpy as np
import shapely

from pounce.base.units import degrees, length
from pounce.cores.values import CoresResult
from pounce.parting.insection import Cut2D, CutAsked, joint_line, locked_sand
from pounce.parting.joint import Joint
from pounce.parting.values import PartingResult, State, tears
from pounce.pattern.values import PatternResult, Role
from pounce.route.results import Results
from pounce.route.stops import CORES, DRAW, PART, PARTING, STOCK
from pounce.solid.frame import across
from pounce.solid.mesh import Bools, Floats, Ints, Mesh
from pounce.solid.section import cut
from pounce.stock.values import StockResult


def cut_for(results: Results, asked: CutAsked, told: float = 1.0) -> Cut2D:
    """The cut as asked, with what is tight or locked along it where it is the part that is cut; ``told`` times the size
    of what is cut are the figures of cores in its labels.
    """
    part, draw, parting = results.need(PART), results.need(DRAW), results.need(PARTING)
    pattern = results.pattern if asked.pattern else None
    factor = 1.0 if pattern is None else pattern.factor
    stock = results.stock if asked.stock else None
    cores = results.cores if asked.cores and results.stock is not None else None
    whole = part.mesh if cores is None else cores.mesh
    meshes = _meshes(part.mesh, pattern, results.stock if stock is not None or cores is not None else None)
    frame = across(draw.direction)
    if asked.angle_deg < 0.0:
        planes = [_plane(part.mesh, *frame, draw.direction, angle, 0.5, factor)[:3] for angle in (0.0, 90.0)]
        shown = [_area(_loops(meshes, *plane)) for plane in planes]
        asked = replace(asked, angle_deg=90.0 if shown[1] > shown[0] else 0.0)
    u, up, offset, low, high = _plane(whole, *frame, draw.direction, asked.angle_deg, asked.share, factor)
    loops = _loops(meshes, u, up, offset)
    pieces = _marked(parting)
    marked = pattern is None and stock is None and cores is None and len(pieces[0].faces)
    stretches = cut(pieces[0], u, up, offset) if marked else None
    along = whole.vertices @ u * factor
    of_part = stock is None and pattern is None and cores is None
    joint = parting.joint if of_part else _settled(parting.joint, results.stock)
    line = joint_line(joint.scaled(factor), u, np.cross(u, up), offset, float(along.min()), float(along.max()))
    bands = () if stock is None else _bands(stock, u, up, offset)
    none = np.zeros(0, np.int64)
    state, region = (none, none) if stretches is None else (pieces[1][stretches.face], pieces[2][stretches.face])
    points = np.zeros((0, 2, 2)) if stretches is None else stretches.points
    plan = cut(part.mesh, u, np.cross(u, up), -_plan_height(parting, draw.low_mm, draw.high_mm)).loops
    ends = (draw.low_mm * factor, draw.high_mm * factor)
    if cores is not None:
        ends = (float((whole.vertices @ up).min()), float((whole.vertices @ up).max()))
    return Cut2D(
        asked=asked,
        loops=loops,
        marked=points,
        state=state,
        region=region,
        joint=joint.height_mm * factor,
        line=line,
        locked=locked_sand(loops, line) if marked and tears(parting) else np.zeros((0, 5)),
        labels=_labels(parting, points, state, region, asked.unit),
        halves=(joint.half(True).upper(), joint.half(False).upper()),
        whole=parting.kind == "flat-back" or (not parting.joint.level and parting.moulded != "split"),
        drafts=_drafts(parting, points, state, region),
        plan=tuple(loop * factor for loop in plan),
        offset=offset,
        low=(float(along.min()), ends[0]),
        high=(float(along.max()), ends[1]),
        across_low=low,
        across_high=high,
        wanted=() if stock is None else _loops([part.mesh], u, up, offset),
        bands=bands,
        mould=() if cores is None else _loops([cores.mesh], u, up, offset),
        cores=() if cores is None else tuple(_loops([core.mesh], u, up, offset) for core in cores.cores),
        vents=() if cores is None else _vents(cores, u, up, offset),
        core_labels=() if cores is None else _core_labels(cores, u, up, offset, asked.unit, told),
        band_labels=() if stock is None else _band_labels(stock, bands, asked.unit),
    )


def _settled(joint: Joint, stock: StockResult | None) -> Joint:
    """The joint where it lies once metal is added."""
    return replace(joint, height_mm=stock.joint_mm) if joint.level and stock is not None else joint


def front_cut(results: Results, unit: str, room_mm: float) -> tuple[Cut2D, str]:
    """The cut that the shop sheet shows, and what it goes through: the first core, or the middle. Of the two cuts
    along the joint's own axes the one that shows more metal, or the other where only that fits ``room_mm`` at true
    size and shows half as much.
    """
    direction, parting = results.need(DRAW).direction, results.need(PARTING)
    stock, cores = results.need(STOCK), results.need(CORES)
    u0, v0 = across(direction)
    first = cores.cores[0] if cores.cores else None
    rated = []
    for angle in (0.0, 90.0):
        u, up, _, low, high = _plane(cores.mesh, u0, v0, direction, angle, 0.5, 1.0)
        share = 0.5
        if first is not None:
            at = float(first.hollow.bounds.mean(axis=0) @ np.cross(u, up))
            share = min(max((at - low) / max(high - low, 1e-9), 0.02), 0.98)
        offset = _plane(cores.mesh, u0, v0, direction, angle, share, 1.0)[2]
        wide = float(np.ptp(cores.mesh.vertices @ u)) * stock.uniform
        rated.append((_area(_loops([stock.mesh], u, up, offset)), wide <= room_mm, angle, share))
    best, other = sorted(rated, reverse=True)
    _, _, angle, share = other if other[1] and not best[1] and other[0] > 0.5 * best[0] else best
    named = [
        offer.name.partition(",")[0] for offer in cores.offers if first is not None and offer.at_mm == first.place_mm
    ]
    through = "the middle" if not named or parting.ringed is not None else f"the {named[0]}"
    asked_cut = CutAsked(angle_deg=angle, share=share, stock=True, cores=True, unit=unit)
    return cut_for(results, asked_cut, float(np.mean(stock.rammed_factors))), through


def _meshes(part: Mesh, pattern: PatternResult | None, stock: StockResult | None) -> list[Mesh]:
    """What is cut: the pattern's pieces, the part with its stock, or the part."""
    if stock is not None:
        return [stock.mesh]
    return [part] if pattern is None else [piece.mesh for piece in pattern.pieces if piece.role not in MADE_BESIDE]


# What serves the moulding is no pattern to be cut.
MADE_BESIDE = (Role.FOLLOW_BOARD, Role.FALSE_PATTERN, Role.GATING, Role.OTHER)
MOST_LABELS = 3
# Slivers thinner than this are noise of the cut, mm2.
LEAST_BAND_MM2 = 0.02


def _shape(loops: tuple[Floats, ...]) -> Any:
    """The area inside loops by the even-odd rule."""
    whole = shapely.Polygon()
    for loop in loops:
        if len(loop) > 3:
            whole = whole.symmetric_difference(shapely.make_valid(shapely.Polygon(loop)))
    return whole


def _bands(stock: StockResult, u: Floats, up: Floats, offset: float) -> tuple[tuple[int, tuple[Floats, ...]], ...]:
    """What each line changed along the cut: the difference of the bodies before and after it."""
    out = []
    before = _shape(_loops([stock.bodies[0]], u, up, offset))
    last = 0
    for index, line in enumerate(stock.lines):
        if line.body == last or line.body >= len(stock.bodies):
            continue
        last = line.body
        after = _shape(_loops([stock.bodies[line.body]], u, up, offset))
        changed = after.symmetric_difference(before)
        before = after
        parts = [
            part for part in shapely.get_parts(changed) if part.geom_type == "Polygon" and part.area > LEAST_BAND_MM2
        ]
        rings = [np.asarray(ring.coords) for part in parts for ring in (part.exterior, *part.interiors)]
        if rings:
            out.append((index, tuple(rings)))
    return tuple(out)


def _band_labels(
    stock: StockResult, bands: tuple[tuple[int, tuple[Floats, ...]], ...], unit: str
) -> tuple[tuple[str, float, float, int], ...]:
    out = []
    for index, rings in bands:
        largest = max(
            rings, key=lambda ring: abs(float((ring[:-1, 0] * ring[1:, 1] - ring[1:, 0] * ring[:-1, 1]).sum()))
        )
        spot = shapely.Polygon(largest).representative_point()
        out.append((stock.lines[index].words(unit), float(spot.x), float(spot.y), index))
    return tuple(out[:5])


# How far off the cut a vent or a print may lie and still be named in it, mm.
NEAR_MM = 3.0


def _vents(
    cores: CoresResult, u: Floats, up: Floats, offset: float
) -> tuple[tuple[float, float, float, float, float], ...]:
    across_cut = np.cross(u, up)
    out = []
    for core in cores.cores:
        for one, two, _ in core.vents:
            a, b = np.array(one), np.array(two)
            if abs(float(a @ across_cut) - offset) < NEAR_MM and abs(float(b @ across_cut) - offset) < NEAR_MM:
                out.append((float(a @ u), float(a @ up), float(b @ u), float(b @ up), core.vent_mm))
    return tuple(out)


def _core_labels(
    cores: CoresResult, u: Floats, up: Floats, offset: float, unit: str, told: float
) -> tuple[tuple[str, float, float], ...]:
    """Prints that the cut meets, each kind once, the clearance, and the vent."""
    across_cut = np.cross(u, up)
    out: list[tuple[str, float, float]] = []
    said: set[str] = set()
    names = {
        "side": "print",
        "tail": "print with a tail",
        "cope": "cope print",
        "drag": "drag print",
        "ring": "ring print",
    }
    for core in cores.cores:
        for core_print in core.prints:
            if core_print.kind == "ring":
                way = np.cross(core_print.axis, across_cut)
                middle = core_print.at_mm + way * (core_print.rim_mm + 0.5 * core_print.length_mm)
            else:
                middle = core_print.at_mm + core_print.axis * 0.5 * core_print.length_mm
            words = f"{names[core_print.kind]} {length(core_print.length_mm * told, unit)}"
            if words in said or abs(float(middle @ across_cut) - offset) > 0.4 * core_print.width_mm:
                continue
            said.add(words)
            out.append((words, float(middle @ u), float(middle @ up)))
            if "clearance" not in said and core_print.kind != "ring":
                said.add("clearance")
                side = np.cross(core_print.axis, across_cut)
                edge = (
                    core_print.at_mm
                    + core_print.axis * 0.7 * core_print.length_mm
                    + side * (0.5 * core_print.width_mm - 0.5 * core_print.clearance_mm)
                )
                out.append(
                    (f"clearance {length(core_print.clearance_mm * told, unit, 2)}", float(edge @ u), float(edge @ up))
                )
        if core.vents:
            at = 0.5 * (np.array(core.vents[0][0]) + np.array(core.vents[0][1]))
            if abs(float(at @ across_cut) - offset) < NEAR_MM:
                out.append((f"vent Ø {length(core.vent_mm, unit)}", float(at @ u), float(at @ up)))
    return tuple(out[:5])


# Pieces that the pattern is moulded on; they are no part of its section.


def _longest(points: Floats, chosen: np.ndarray, region: Ints) -> list[tuple[int, int]]:
    """Regions by the length they have in the cut, each with its longest stretch."""
    size = np.where(chosen, np.linalg.norm(points[:, 1] - points[:, 0], axis=1), 0.0) if len(points) else np.zeros(0)
    total = np.bincount(region[region >= 0], size[region >= 0]) if (region >= 0).any() else np.zeros(0)
    out = []
    for index in np.argsort(-total).tolist():
        if total[index] > 0.0:
            out.append((index, int(np.argmax(np.where(region == index, size, -1.0)))))
    return out


def _labels(
    parting: PartingResult, points: Floats, state: Ints, region: Ints, unit: str
) -> tuple[tuple[str, float, float, int], ...]:
    out = []
    for kind in (State.LOCKED, State.TIGHT):
        for index, stretch in _longest(points, (state == kind) & _of(parting, kind)[region], region):
            words = parting.regions[index].words(unit)
            said = f"{words} {'lock' if parting.regions[index].count > 1 else 'locks'}"
            if kind is State.TIGHT:
                said = f"{words} {degrees(parting.regions[index].least_draft_deg)}"
            x, y = points[stretch].mean(axis=0)
            out.append((said, float(x), float(y), int(kind)))
    return tuple(out[:MOST_LABELS])


def _of(parting: PartingResult, state: State) -> Bools:
    """(n + 1,) which places are of this state for sure, no crumbs that are shown as it; the last for none."""
    return np.array([*(one.state is state for one in parting.regions), False])


def _drafts(parting: PartingResult, points: Floats, state: Ints, region: Ints) -> tuple[float, float] | None:
    found = _longest(points, (state == State.TIGHT) & _of(parting, State.TIGHT)[region], region)
    if not found:
        return None
    one = parting.regions[found[0][0]]
    return one.least_draft_deg, one.asked_deg


def _plane(
    mesh: Mesh, u0: Floats, v0: Floats, up: Floats, angle_deg: float, share: float, factor: float
) -> tuple[Floats, Floats, float, float, float]:
    angle = np.radians(angle_deg)
    u = u0 * np.cos(angle) + v0 * np.sin(angle)
    reach = mesh.vertices @ np.cross(u, up) * factor
    low, high = float(reach.min()), float(reach.max())
    # never in the very end faces, and a hair off the middle where models like to have corners
    return u, up, low + (0.002 + 0.996 * share + 1e-5) * (high - low), low, high


def _loops(meshes: list[Mesh], u: Floats, up: Floats, offset: float) -> tuple[Floats, ...]:
    return tuple(loop for mesh in meshes for loop in cut(mesh, u, up, offset).loops)


def _area(loops: tuple[Floats, ...]) -> float:
    return abs(sum(float((p[:-1, 0] * p[1:, 1] - p[1:, 0] * p[:-1, 1]).sum()) for p in loops)) / 2.0


def _plan_height(parting: PartingResult, low: float, high: float) -> float:
    inside = 1e-3 * (high - low)
    return min(max(parting.height_mm, low + inside), high - inside)


def _marked(parting: PartingResult) -> tuple[Mesh, Ints, Ints]:
    """The tight and locked pieces as a loose mesh, with their states and regions."""
    judged, state = parting.judged, parting.shown_state
    chosen = np.flatnonzero(state != State.CLEAN)
    corners = judged.corners[chosen].reshape(-1, 3)
    faces = np.arange(len(corners), dtype=np.int64).reshape(-1, 3)
    return Mesh.of(corners, faces), state[chosen], judged.region[chosen]
