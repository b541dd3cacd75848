"""The Stock stop: works the lines one after another, then measures what came out."""

from dataclasses import replace

import numpy as np

from pounce.base.errors import UserFault
from pounce.base.finding import Finding
from pounce.base.progress import Progress, span
from pounce.draw.values import DrawResult
from pounce.hollows.values import HollowsResult
from pounce.metals.contraction import percent
from pounce.metals.method import Method
from pounce.part.model import PartResult
from pounce.parting.values import PartingResult
from pounce.solid.features.find import feature_numbers, features_of
from pounce.solid.mesh import Ints, Mesh
from pounce.solid.sets import distinct
from pounce.solid.shading import corner_normals
from pounce.stock import additions, fills, memory
from pounce.stock.body import body_of, simplified, standing_off
from pounce.stock.carried import features_on, recoded
from pounce.stock.findings import findings_of, thin_places
from pounce.stock.sizes import Scales, dimensions_of, scales_for
from pounce.stock.values import (
    NAMES,
    Added,
    Addition,
    Camber,
    Fill,
    Finish,
    Level,
    LineKind,
    Machining,
    StockChoices,
    StockResult,
    line_kind,
)
from pounce.stock.weights import bulks_of, weight_of
from pounce.stock.work import Work

# Rounds whose axis lies along the draw within this cosine are leaned to cones.
ALONG_DRAW = 0.98


def stock_stop(
    choices: StockChoices,
    part: PartResult,
    method: Method,
    draw: DrawResult,
    parting: PartingResult,
    progress: Progress,
    hollows: HollowsResult,
    light: bool = False,
) -> StockResult:
    """The part with its lines worked. A line that fails says so and leaves the body as it was.

    ``hollows`` says what cores make: such hollows get no draft, for the core stays in the mould with the casting.
    ``light`` leaves out where it is heavy, for a plan that is only tried. UserFault for figures that can never be,
    such as an unknown metal or grade.
    """
    progress(0.0, "Looking for faces, bores and edges")
    features = features_of(part.mesh)
    scales = scales_for(choices, method, draw.direction, parting.joint.level)
    number = feature_numbers(part.mesh, features)
    work, done = memory.resumed(
        Work(part, method, draw, parting, features, number, body_of(part.mesh), scales, parting.joint, choices, hollows)
    )
    if done < 0:
        if part.closed and any(line.on for line in choices.lines):
            progress(0.2, "Merging needless triangles")
            work.body = simplified(work.body)
        work.bodies.append(work.body)
        done = 0
        if part.closed and any(line.on for line in choices.lines):
            memory.keep(work, 0)
    count = max(len(choices.lines), 1)
    for index, line in enumerate(choices.lines):
        if index < done:
            continue
        share = 0.25 + 0.55 * index / count
        said = NAMES[line_kind(line)]
        progress(share, f"Working on the {said.lower()}")
        if isinstance(line, Camber) and work.marks:
            fills.marks_cut(work)
        _work(work, index, line, span(progress, share, 0.25 + 0.55 * (index + 1) / count))
        if part.closed:
            memory.keep(work, index + 1)
    if work.marks:
        fills.marks_cut(work)
        work.bodies[-1] = work.body
    if work.body is not work.bodies[0]:
        work.body = simplified(work.body)
        work.bodies[-1] = work.body
    progress(0.8, "Measuring what came out")
    result = _measured(work, choices, scales, light, progress)
    progress(1.0, "Stock worked")
    return result


def _work(work: Work, index: int, line: Addition, progress: Progress) -> None:
    """One line: worked where it is switched on; a fault is kept with the line."""
    added = additions.described(line, index)
    if line.on and work.part.closed:
        before = work.body
        try:
            added = additions.worked(work, index, line, added, progress)
        except UserFault as fault:
            work.body = before
            added = replace(added, trouble=f"{fault.what} {fault.try_this}".strip())
        if work.body is not before:
            change = work.body.volume - before.volume
            if isinstance(line, Machining):
                work.body = recoded(work, work.body)
            if isinstance(line, (Machining, Fill, Level, Finish)):
                work.settle_joint()
            added = replace(added, added_mm3=max(change, 0.0), taken_mm3=max(-change, 0.0))
            work.bodies.append(work.body)
    elif line.on:
        added = replace(added, trouble="The part's shell is open, so nothing can be added to it.")
    work.lines.append(replace(added, body=len(work.bodies) - 1))


def _measured(work: Work, choices: StockChoices, scales: Scales, light: bool, progress: Progress) -> StockResult:
    part, method, body = work.part, work.method, work.body
    feature = features_on(work, body)
    mesh = body.tagged(body.tags.changed(feature=feature))
    density = method.metal.density.value
    axis = "xyz".index(choices.spin_axis)
    finished = weight_of(part.mesh, density, axis, choices.spin_at_mm)
    unchanged = len(work.bodies) == 1
    cast = finished if unchanged else weight_of(mesh, density, axis, choices.spin_at_mm)
    progress(0.85, "Rolling a ball through the sections")
    bulks = bulks_of(mesh) if part.closed and not light else ()
    thin, thin_mm2, thin_at = thin_places(mesh, method.metal.least_wall.value)
    dimensions = dimensions_of(
        part.mesh, mesh, work.features, work.changed, _ends(work, mesh, feature), choices, method, scales
    )
    result = StockResult(
        mesh=mesh,
        normals=corner_normals(mesh),
        features=work.features,
        bodies=tuple(work.bodies),
        lines=tuple(_placed(index, line, mesh) for index, line in enumerate(work.lines)),
        factors=scales.pattern,
        made_factors=scales.made,
        rammed_factors=scales.rammed,
        box_factors=scales.boxed,
        percents=_stated(scales, method),
        dimensions=dimensions,
        joint_mm=work.joint.height_mm,
        drill=tuple(work.drill),
        finished=finished,
        cast=cast,
        bulks=bulks,
        thin=thin & (body.tags.line < 0),
        thin_mm2=thin_mm2,
        thin_at_mm=thin_at,
        tight_mm2=work.tight_mm2,
        filler_mm=standing_off(part.mesh, body) if work.built_up else np.zeros(0),
        findings=(),
    )
    found: list[Finding] = [*scales.findings, *findings_of(result, choices, part, method, work.parting, work.machined)]
    return replace(result, findings=tuple(sorted(found, key=lambda one: one.informational)))


def _ends(work: Work, mesh: Mesh, feature: Ints) -> dict[int, tuple[float, float]]:
    """Diameters (mm) of bores and bosses along the draw at the end nearer to the joint and at the other, where a
    line leaned walls.
    """
    out: dict[int, tuple[float, float]] = {}
    if not any(line.kind == LineKind.DRAFT and line.on for line in work.lines):
        return out
    for number, one in enumerate(work.features):
        own = np.flatnonzero(feature == number)
        if (
            one.kind not in ("bore", "boss")
            or not one.full
            or not len(own)
            or abs(float(one.axis @ work.draw.direction)) < ALONG_DRAW
        ):
            continue
        points = mesh.vertices[distinct(mesh.faces[own])]
        rel = points - one.centre
        height = rel @ one.axis
        radius = np.linalg.norm(rel - np.outer(height, one.axis), axis=1)
        span = float(np.ptp(height))
        low, high = height < height.min() + 0.02 * span, height > height.max() - 0.02 * span
        over = np.abs(work.joint.above(points, free=True))
        near, far = (low, high) if float(over[low].mean()) <= float(over[high].mean()) else (high, low)
        out[number] = (2.0 * float(np.median(radius[near])), 2.0 * float(np.median(radius[far])))
    return out


def _placed(index: int, line: Added, mesh: Mesh) -> Added:
    """The line with a place to point at: the middle of the largest face it made, where it has none of its own."""
    mine = np.flatnonzero(mesh.tags.line == index)
    if line.at_mm is not None or not len(mine):
        return line
    x, y, z = mesh.corners[mine[int(np.argmax(mesh.areas[mine]))]].mean(axis=0)
    return replace(line, at_mm=(float(x), float(y), float(z)))


def _stated(scales: Scales, method: Method) -> tuple[float, float, float]:
    x, y, z = (percent(factor, method.stated) for factor in scales.casting)
    return x, y, z
