"""The Stock stop: works the lines one after another, then measures what came out."""

from dataclasses import dataclass, field, replace

import numpy as np

from pounce.base.errors import UserFault
from pounce.base.finding import Finding
from pounce.base.tick import Tick, span
from pounce.draw.values import DrawResult
from pounce.metals.contraction import percent
from pounce.metals.method import Method
from pounce.part.model import PartResult
from pounce.parting.joint import Joint
from pounce.parting.values import PartingResult
from pounce.solid.features.find import feature_numbers, features_of
from pounce.solid.features.values import Feature
from pounce.solid.mesh import Floats, Ints, Mesh
from pounce.solid.shading import corner_normals
from pounce.stock import additions
from pounce.stock.body import LINES, body_of, line_of, nearest_face, part_face, simplified
from pounce.stock.findings import findings_of, thin_places
from pounce.stock.sizes import Scales, dimensions_of, scales_for
from pounce.stock.values import (
    NAMES,
    ORDER,
    Added,
    Addition,
    Camber,
    Draft,
    DrillPoint,
    Fill,
    Finish,
    Level,
    Machining,
    StockChoices,
    StockResult,
)
from pounce.stock.weights import bulks_of, weight_of


@dataclass
class Bench:
    """What is on the bench while lines are worked: the body, and what each line left behind."""

    part: PartResult
    method: Method
    draw: DrawResult
    parting: PartingResult
    features: tuple[Feature, ...]
    number: Ints
    body: Mesh
    scales: Scales
    joint: Joint
    lines: list[Added] = field(default_factory=list)
    bodies: list[Mesh] = field(default_factory=list)
    drill: list[DrillPoint] = field(default_factory=list)
    changed: dict[int, float] = field(default_factory=dict)
    machined: dict[int, float] = field(default_factory=dict)
    marks: list[tuple[Floats, Floats, float, int]] = field(default_factory=list)
    filler: Floats = field(default_factory=lambda: np.zeros(0))
    tight_mm2: float = 0.0

    def settle_joint(self) -> None:
        """A flat back stays in the joint: the joint goes along when its face moves out."""
        if self.parting.kind != "flat-back" or not self.parting.joint.level:
            return
        along = self.body.vertices @ self.draw.direction
        height = self.parting.joint.height_mm
        at_foot = abs(height - self.draw.low_mm) <= abs(height - self.draw.high_mm)
        self.joint = replace(self.parting.joint, height_mm=float(along.min() if at_foot else along.max()))

    def feature_at(self, place: tuple[float, float, float]) -> int:
        """The feature nearest to a place on the part. UserFault where there is none."""
        face = nearest_face(self.part.mesh, place)
        index = int(self.number[face])
        if index < 0:
            raise UserFault("There is no plain face or round at that place.", "Point at a flat face, a bore or a boss.")
        return index


def stock_stop(
    choices: StockChoices, part: PartResult, method: Method, draw: DrawResult, parting: PartingResult, tick: Tick
) -> StockResult:
    """The part with its lines worked. A line that fails says so and leaves the body as it was.

    UserFault for figures that can never be, such as an unknown metal or grade.
    """
    tick(0.0, "Looking for faces, bores and edges")
    features = features_of(part.mesh)
    scales = scales_for(choices, method, draw.direction, parting.joint.level)
    number = feature_numbers(part.mesh, features)
    bench = Bench(part, method, draw, parting, features, number, body_of(part.mesh), scales, parting.joint)
    if part.closed and (parting.wishes or any(line.on for line in choices.lines)):
        tick(0.2, "Merging needless triangles")
        bench.body = simplified(bench.body)
    bench.bodies.append(bench.body)
    asked = lines_asked(choices, parting)
    for index, (own, line) in enumerate(asked):
        share = 0.25 + 0.55 * index / max(len(asked), 1)
        said = NAMES[type(line).__name__]
        tick(share, f"Working on the {said.lower()}")
        if isinstance(line, Camber) and bench.marks:
            additions.marks_cut(bench)
        _work(bench, index, own, line, span(tick, share, 0.25 + 0.55 * (index + 1) / max(len(asked), 1)))
    if bench.marks:
        additions.marks_cut(bench)
        bench.bodies[-1] = bench.body
    if bench.body is not bench.bodies[0]:
        bench.body = simplified(bench.body)
        bench.bodies[-1] = bench.body
    tick(0.8, "Measuring what came out")
    result = _measured(bench, choices, scales, tick)
    tick(1.0, "Stock worked")
    return result


def lines_asked(choices: StockChoices, parting: PartingResult) -> list[tuple[int, Addition]]:
    """The lines in order, each with its index in the choices; what was asked for at Draw (index -1) stands in its place among them."""
    own = list(enumerate(choices.lines))
    fills: list[tuple[int, Addition]] = []
    tapers: list[tuple[float, float, float]] = []
    for wish in parting.wishes:
        if wish.kind == "fill":
            fills.append((-1, Fill(at_mm=wish.at_mm)))
        elif wish.kind == "taper":
            tapers.append(wish.at_mm)
    has_draft = any(isinstance(line, Draft) and line.on and not line.only for _, line in own)
    first = next((k for k, (_, line) in enumerate(own) if ORDER[type(line).__name__] > ORDER["Fill"]), len(own))
    asked: list[tuple[int, Addition]] = [*own[:first], *fills, *own[first:]]
    if tapers and not has_draft:
        taper: tuple[int, Addition] = (-1, Draft(only=tuple(tapers)))
        at = next((k for k, (_, line) in enumerate(asked) if ORDER[type(line).__name__] > ORDER["Draft"]), None)
        asked.insert(len(asked) if at is None else at, taper)
    return asked


def _work(bench: Bench, index: int, own: int, line: Addition, tick: Tick) -> None:
    """One line: worked where it is switched on; a fault is kept with the line."""
    added = additions.described(bench, line, own)
    if line.on and bench.part.closed:
        before = bench.body
        try:
            added = additions.worked(bench, index, line, added, tick)
        except UserFault as fault:
            bench.body = before
            added = replace(added, trouble=f"{fault.what} {fault.try_this}".strip())
        if bench.body is not before:
            change = bench.body.volume - before.volume
            if isinstance(line, (Machining, Fill, Level, Finish)):
                bench.settle_joint()
            gain, loss = additions.gained(before, bench.body, change, line)
            added = replace(added, added_mm3=gain, taken_mm3=loss)
            bench.bodies.append(bench.body)
    elif line.on:
        added = replace(added, trouble="The part's shell is open, so nothing can be added to it.")
    bench.lines.append(replace(added, body=len(bench.bodies) - 1))


def _measured(bench: Bench, choices: StockChoices, scales: Scales, tick: Tick) -> StockResult:
    part, method, body = bench.part, bench.method, bench.body
    face = part_face(body)
    origin = np.where(face >= 0, part.mesh.origin[np.maximum(face, 0)], -1)
    mesh = Mesh.of(body.vertices, body.faces, origin)
    feature = np.where(face >= 0, bench.number[np.maximum(face, 0)], -1)
    density = method.metal.density.value
    axis = "xyz".index(choices.spin_axis)
    finished = weight_of(part.mesh, density, axis, choices.spin_at_mm)
    cast = weight_of(mesh, density, axis, choices.spin_at_mm)
    tick(0.85, "Rolling a ball through the sections")
    bulks = bulks_of(mesh) if part.closed else ()
    thin, thin_at = thin_places(part.mesh, method.metal.least_wall.value)
    dimensions = dimensions_of(part.mesh, mesh, bench.features, bench.changed, choices, scales)
    result = StockResult(
        mesh=mesh,
        normals=corner_normals(mesh),
        line=line_of(body),
        feature=feature,
        features=bench.features,
        bodies=tuple(Mesh.of(one.vertices, one.faces, one.origin % LINES - 1) for one in bench.bodies),
        lines=tuple(bench.lines),
        factors=scales.pattern,
        made_factors=scales.made,
        percents=_stated(scales, method),
        dimensions=dimensions,
        joint_mm=bench.joint.height_mm,
        drill=tuple(_contracted(point, scales) for point in bench.drill),
        finished=finished,
        cast=cast,
        bulks=bulks,
        thin_mm2=thin,
        thin_at_mm=thin_at,
        tight_mm2=bench.tight_mm2,
        filler_mm=bench.filler,
        findings=(),
    )
    found: list[Finding] = [
        *scales.findings,
        *findings_of(result, choices, part, method, bench.draw, bench.parting, bench.machined),
    ]
    return replace(result, findings=tuple(sorted(found, key=lambda one: one.settled)))


def _stated(scales: Scales, method: Method) -> tuple[float, float, float]:
    x, y, z = (percent(factor, method.stated) for factor in scales.casting)
    return x, y, z


def _contracted(point: DrillPoint, scales: Scales) -> DrillPoint:
    """The point where it lies on the casting as it comes out."""
    share = np.array(scales.pattern) / np.array(scales.casting)
    x, y, z = np.array(point.part_at_mm) * share
    return replace(point, at_mm=(float(x), float(y), float(z)))
