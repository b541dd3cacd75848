"""The Pattern stop, first form."""

from dataclasses import dataclass, replace

import msgspec
import numpy as np

from pounce.base.errors import UserFault
from pounce.base.finding import Finding, Remedy, Severity
from pounce.base.progress import Progress, span
from pounce.cores.values import CoresResult
from pounce.draw.search import way_words
from pounce.draw.values import DrawResult
from pounce.metals.margins import sand_round
from pounce.metals.method import Method
from pounce.metals.tables import limits
from pounce.part.model import PartResult
from pounce.parting.changes import SetMoulded
from pounce.parting.values import PartingResult
from pounce.pattern import boards, halves, loose
from pounce.pattern.changes import SetMount
from pounce.pattern.making.clay import clay_plan
from pounce.pattern.making.foam.sheeting import bends_flat, fewest_parts_way
from pounce.pattern.making.metal.master import master_pieces
from pounce.pattern.making.stop import checked, making
from pounce.pattern.making.values import Making
from pounce.pattern.making.way import Asked, Bent, Given
from pounce.pattern.making.ways import kind_of
from pounce.pattern.mounting import mounted
from pounce.pattern.values import Mount, PatternChoices, PatternResult, Piece, SetOut
from pounce.solid import boolean
from pounce.solid.frame import axis_name, turn_to_z
from pounce.solid.mesh import Floats, Mesh
from pounce.stock.values import LineKind, StockResult

# How far a cut keeps from text and machined faces, from the part's own raised or sunk marks, and by how many places
# these are told, mm.
AVOIDED_MM, MARK_MM, MARKS = limits()["cut_keeps_off"].value, limits()["cut_keeps_off_marks"].value, 12
# A pattern that reaches this far over its flat back, mm, does not lie on it.
ACROSS_MM = 0.05


def pattern_stop(
    choices: PatternChoices,
    stock: StockResult,
    cores: CoresResult,
    part: PartResult,
    method: Method,
    draw: DrawResult,
    parting: PartingResult,
    progress: Progress,
    set_out: SetOut | None = None,
) -> PatternResult:
    """The pattern's pieces at pattern size, boards and plates as the mould is ``set_out``. UserFault when the part is
    not closed or a solid operation fails.
    """
    progress(0.0, "Scaling the part")
    choices = _usable(choices, part, method)
    along = float(np.abs(draw.direction) @ np.array(stock.made_factors)) if draw_is_own(draw) else stock.uniform
    mesh = cores.mesh.scaled(np.array(stock.made_factors))
    height = (stock.joint_mm if parting.joint.level else parting.height_mm) * along
    whole_mesh = mesh
    off: list[Piece] = []
    if parting.loose and method.pattern.draws:
        progress(0.1, "Cutting off the loose pieces")
        mesh, off = _loosened(mesh, parting, along)
    cut = _cut(choices, mesh, Placed(height, along), stock, method, draw, parting, progress)
    findings, pieces = cut.findings, [*cut.pieces, *off]
    findings += _not_kept(parting)
    progress(0.45, "Mounting it")
    checked(choices)
    flat = parting.joint.level
    solid = list(pieces)
    scale = _master_scale(stock, method)
    less = 1.0 / scale
    carried = pieces if less == 1.0 else [piece.shrunk(less) for piece in pieces]
    rammed = whole_mesh.scaled(less)
    sand = _sand(stock, method)
    mount = _mount(choices, carried, rammed, draw.direction, height * less, flat, method, findings, sand, set_out)
    figures: dict[str, float] = {}
    if kind_of(method) == "metal":
        pieces, figures, said = master_pieces(pieces, choices, method, scale)
        findings += said
    asked, metal_kg = _asked(stock, parting, part), figures.get("metal_kg")
    given = Given(tuple(solid), tuple(pieces), _avoided(stock, part), asked, metal_kg, flat, cut.bent)
    made, said = making(choices, given, method, span(progress, 0.5, 1.0))
    findings += said
    made = replace(made, figures={**made.figures, **figures})
    made, said = _with_clay(made, whole_mesh, draw, height, choices, method)
    findings += said
    progress(1.0, "Pattern made")
    return PatternResult(
        factor=along,
        factors=stock.made_factors,
        pieces=(*pieces, *(() if mount is None else (*mount.boards, *mount.gating, *mount.others))),
        size_mm=tuple(whole_mesh.size.tolist()),
        dowel_mm=cut.sizes,
        height_mm=height,
        making=made,
        findings=tuple(findings),
        mount=mount,
    )


def _master_scale(stock: StockResult, method: Method) -> float:
    """The master over the metal pattern that is cast from it: a board carries the metal pattern, which is smaller by
    the master's contraction. 1 for any other pattern.
    """
    if kind_of(method) != "metal":
        return 1.0
    return float(np.mean(stock.made_factors)) / float(np.mean(stock.rammed_factors))


def _with_clay(
    made: Making, whole: Mesh, draw: DrawResult, height: float, choices: PatternChoices, method: Method
) -> tuple[Making, list[Finding]]:
    """The making with its plan for pressing into clay, where that is the mould."""
    planned = clay_plan(whole, draw.direction, height, choices.funnel_deg) if method.mould_id == "fine-clay" else None
    return (made, []) if planned is None else (replace(made, clay=planned[0]), planned[1])


@dataclass(frozen=True)
class Placed:
    """Where the joint lies at pattern size: its height along the draw, mm, and the pattern over the part there."""

    height_mm: float
    along: float


@dataclass
class Cut:
    """The pieces as they are cut, what there is to say of that, the dowels' sizes, and the flat piece of a foam that
    is bent.
    """

    pieces: list[Piece]
    findings: list[Finding]
    sizes: tuple[float, ...] = ()
    bent: Bent | None = None


def _usable(choices: PatternChoices, part: PartResult, method: Method) -> PatternChoices:
    """The choices as this way of making takes them. UserFault where no pattern can be built."""
    if not part.closed:
        raise UserFault(
            "The part's shell is open, so no pattern can be built from it.",
            "Close it where it is drawn and read it again.",
        )
    if choices.dowel_mm is not None and not 1.0 <= choices.dowel_mm <= 50.0:
        raise UserFault(f"Dowels of {choices.dowel_mm:g} mm cannot be used.", "Choose 1 to 50 mm.")
    if kind_of(method) in ("wood", "foam"):
        # numbers are stamped in wood and written on foam
        choices = msgspec.structs.replace(choices, numbers=False)
    if kind_of(method) == "original":
        # nobody drills an original
        choices = msgspec.structs.replace(choices, draw_screw=False)
    return choices


def _cut(
    choices: PatternChoices,
    mesh: Mesh,
    at: Placed,
    stock: StockResult,
    method: Method,
    draw: DrawResult,
    parting: PartingResult,
    progress: Progress,
) -> Cut:
    """The pattern in its pieces: along a joint that is no plane, whole on a false half or on its back, or split and
    drilled.
    """
    draws = method.pattern.draws
    if not parting.joint.level and draws:
        progress(0.3, "Making the pattern and what it is moulded on")
        across = _reaches_across(mesh, draw, parting.joint.height_mm * at.along, limits()["open_side_level"].value)
        return Cut(*_shaped(mesh, parting, at.along, across))
    if parting.kind == "split" and parting.moulded == "false-pattern" and draws:
        progress(0.3, "Making the pattern and its false half")
        flat_joint = replace(parting.joint, height_mm=at.height_mm)
        pieces = [halves.undrilled(mesh, draw.direction), boards.false_pattern(mesh, flat_joint)]
        return Cut(pieces, _coin_like(mesh, parting))
    if (parting.kind == "flat-back" and not _reaches_across(mesh, draw, at.height_mm)) or not method.pattern.splits:
        progress(0.3, "Making the pattern")
        return _whole(choices, mesh, at, stock, method, draw, parting)
    progress(0.3, "Splitting and drilling")
    pieces, plan = halves.split(
        mesh, draw.direction, at.height_mm, choices, marks=method.pattern_id == "metal-from-master"
    )
    return Cut(pieces, list(plan.findings), plan.sizes)


def _whole(
    choices: PatternChoices,
    mesh: Mesh,
    at: Placed,
    stock: StockResult,
    method: Method,
    draw: DrawResult,
    parting: PartingResult,
) -> Cut:
    """A pattern that stays whole: flat on its back, of foam that nothing draws, or an original."""
    up = abs(parting.height_mm - draw.low_mm) <= abs(parting.height_mm - draw.high_mm)
    flat = parting.kind == "flat-back" and method.pattern.draws
    base = at.height_mm if parting.kind == "flat-back" else draw.low_mm * at.along
    stacked, bent = draw.direction, None
    findings: list[Finding] = []
    if kind_of(method) == "foam" and not method.pattern.draws:
        stacked, bent, findings = _sheeted(mesh, stock, draw.direction, choices)
        base = float((mesh.vertices @ stacked).min())
    piece, said = halves.whole(mesh, stacked, base, choices, up or not flat, flat)
    findings += said
    if parting.kind != "flat-back" and method.pattern.draws:
        findings.append(
            Finding(
                "whole-on-a-follow-board",
                Severity.NOTE,
                "The original stays whole. Bed it to the joint in sand or on a board, then ram the other half.",
                noun="stays whole",
            )
        )
    return Cut([piece], findings, bent=bent)


def _sheeted(
    mesh: Mesh, stock: StockResult, draw: Floats, choices: PatternChoices
) -> tuple[Floats, Bent | None, list[Finding]]:
    """Which way the sheets of a foam that nothing draws are stacked (3,), and the flat piece where they are bent to
    a camber.
    """
    line = next((one for one in stock.lines if one.kind == LineKind.CAMBER and one.on and not one.trouble), None)
    flat = None if line is None else stock.bodies[line.body - 1].scaled(np.array(stock.made_factors))
    way, parts, before = fewest_parts_way(mesh if flat is None else flat, draw, choices)
    found: list[Finding] = []
    if parts < before:
        found.append(
            Finding(
                "foam-turned",
                Severity.NOTE,
                f"The sheets are stacked along {way_words(way)}: {parts} {'part' if parts == 1 else 'parts'} "
                f"to cut, not {before}.",
                noun="stacked",
                figures={"parts": float(parts)},
                main="parts",
                source=limits()["foam_fragment"].source,
            )
        )
    if line is None or flat is None:
        return way, None, found
    stacked, bow = int(np.argmax(np.abs(way))), line.figures["bow_mm"]
    moved = np.abs(flat.size - mesh.size)
    # a bow in the plane of the sheets is sawn; one across them is bent into the foam
    across = int(np.argmax(moved)) == stacked
    if not across or not bends_flat(flat.size, stacked, bow, int(np.argmax(flat.size))):
        return way, None, found
    turned = flat.moved(turn_to_z(way), np.zeros(3))
    low, high = turned.bounds
    laid = turned.moved(np.eye(3), np.array([-(low[0] + high[0]) / 2.0, -(low[1] + high[1]) / 2.0, -low[2]]))
    return way, Bent(laid, bow), found


def _coin_like(mesh: Mesh, parting: PartingResult) -> list[Finding]:
    """Whether a whole pattern that is moulded over half of itself is flat enough for it."""
    flat = mesh.vertices @ np.stack([parting.joint.u, parting.joint.v]).T
    thick = float(np.ptp(mesh.vertices @ parting.joint.direction))
    limit = limits()["false_pattern_ratio"]
    ratio = float(np.ptp(flat, axis=0).min()) / max(thick, 1e-9)
    said = (
        "The pattern stays whole: the drag is rammed over its false half, then the pattern takes its place for the "
        "cope."
    )
    found = [Finding("moulded-false-pattern", Severity.NOTE, said, noun="stays whole", source=limit.source)]
    if ratio < limit.value:
        found.append(
            Finding(
                "not-coin-like",
                Severity.WARN,
                "A false pattern suits flat, coin-like parts; this one is {thick_mm} thick. Split it at its joint.",
                noun="false pattern",
                figures={"thick_mm": thick, "ratio": ratio},
                main="thick_mm",
                remedies=(Remedy("split-it", "Split the pattern", SetMoulded("follow-board")),),
                source=limit.source,
            )
        )
    return found


def _not_kept(parting: PartingResult) -> list[Finding]:
    """A way of moulding that was asked for and that this joint has no use for is said, never dropped."""
    if (
        not parting.joint.level
        or parting.moulded == "follow-board"
        or (parting.kind == "split" and parting.moulded == "false-pattern")
    ):
        return []
    words = {"cut-down": "cutting down", "false-pattern": "a false pattern", "split": "splitting along its line"}[
        parting.moulded
    ]
    why = "its flat back lies on the board" if parting.kind == "flat-back" else "its joint is a plane"
    return [
        Finding(
            "choice-not-kept",
            Severity.WARN,
            f"You asked for {words}, but this pattern needs none: {why}.",
            noun="needs none",
            remedies=(Remedy("forget-moulded", "Forget it", SetMoulded("follow-board")),),
        )
    ]


def _reaches_across(mesh: Mesh, draw: DrawResult, height: float, least_mm: float = ACROSS_MM) -> bool:
    """Whether a print reaches over the joint of a flat back or an open side: its board would not lie on it."""
    along = mesh.vertices @ draw.direction - height
    return bool(min(float(along.max()), -float(along.min())) > least_mm)


def _sand(stock: StockResult, method: Method) -> float:
    """Sand wanted beside the casting, by its metal and mass, mm."""
    return sand_round(method.metal_id, stock.cast.mass_kg).beside_mm


def _mount(
    choices: PatternChoices,
    pieces: list[Piece],
    whole: Mesh,
    direction: Floats,
    height: float,
    flat: bool,
    method: Method,
    findings: list[Finding],
    sand_mm: float,
    set_out: SetOut | None,
) -> Mount | None:
    """The pieces on their boards, or a word why not."""
    if choices.mount == "none":
        if choices.copies > 1:
            findings.append(
                Finding(
                    "copies-want-a-board",
                    Severity.WARN,
                    f"{choices.copies} patterns were asked for, but only a board or a match plate carries more "
                    "than one.",
                    noun="board",
                    remedies=(Remedy("mount", "Mount them on boards", SetMount("boards")),),
                    source=limits()["mount_board"].source,
                )
            )
        return None
    if not flat or not method.pattern.draws:
        findings.append(
            Finding(
                "no-board-for-this-joint",
                Severity.NOTE,
                "Only a flat joint lies on a mounting board: what lies on its open side keeps a plain one, a joint "
                "that follows the part its follow board, and burned-out foam lies on none.",
                noun="mounting board",
                source=limits()["mount_board"].source,
            )
        )
        return None
    mount = mounted(choices, pieces, whole, direction, height, sand_mm, set_out)
    if mount is not None:
        findings += mount.findings
    return mount


def _asked(stock: StockResult, parting: PartingResult, part: PartResult) -> Asked:
    """What the part would want if it served as its own pattern: its through holes along no wall of a core, and its
    walls short of draft.
    """
    # larger holes are the part's own shape, and are moulded
    small = limits()["bore_solid"].value
    bores = sum(
        one.kind == "bore" and 2.0 * one.radius_mm <= small and bool((stock.mesh.tags.feature == number).any())
        for number, one in enumerate(stock.features)
    )
    leaned = any(line.kind == LineKind.DRAFT and line.on and not line.trouble for line in stock.lines)
    tight = stock.tight_mm2 if leaned else sum(region.area_mm2 for region in parting.regions)
    return Asked(bores, tight, float(part.mesh.size.max()))


def _avoided(stock: StockResult, part: PartResult) -> tuple[tuple[Floats, float], ...]:
    """Places of the pattern and radii that no cut for a bed may run through: text and other marks, and faces that
    are machined.
    """
    factors = np.array(stock.made_factors)
    out = [
        (np.array(line.at_mm) * factors, AVOIDED_MM)
        for line in stock.lines
        if line.at_mm is not None and line.kind in ("Lettering", "Machining")
    ]
    for feature in stock.features:
        if feature.kind != "relief" or not len(feature.faces) or int(feature.faces.max()) >= len(part.mesh.faces):
            continue
        points = part.mesh.corners[feature.faces].mean(axis=1)
        # evenly along the mark, gaps between its letters included
        axis = int(np.argmax(np.ptp(points, axis=0)))
        wanted = np.linspace(float(points[:, axis].min()), float(points[:, axis].max()), MARKS)
        spots = points[np.abs(points[None, :, axis] - wanted[:, None]).argmin(axis=1)].copy()
        spots[:, axis] = wanted
        reach = float(np.ptp(points, axis=0).max()) / MARKS + MARK_MM
        out += [(spot * factors, reach) for spot in spots]
    return tuple(out)


def draw_is_own(draw: DrawResult) -> bool:
    """Whether the draw runs along an axis of the part, so that contraction may differ across it."""
    return axis_name(draw.direction) is not None


def _loosened(mesh: Mesh, parting: PartingResult, factor: float) -> tuple[Mesh, list[Piece]]:
    """The pattern without its loose pieces, and these."""
    solid = boolean.closed_solid(mesh)
    if solid is None:
        raise UserFault("The part's shell is doubled, so no loose piece can be cut.", "Close it where it is drawn.")
    joint, off = parting.joint.scaled(factor), []
    for asked in parting.loose:
        solid, piece = loose.cut_off(solid, mesh, joint, asked, factor, parting.keyed)
        off.append(piece)
    return boolean.as_mesh(solid, mesh.tags), off


def _shaped(mesh: Mesh, parting: PartingResult, factor: float, across: bool) -> tuple[list[Piece], list[Finding]]:
    """The pattern of a joint that follows the part, with the board or false pattern it is moulded on; an open side
    that a print reaches ``across`` lies on no plain board.
    """
    joint = parting.joint.scaled(factor)
    if parting.moulded == "split":
        pieces, fell = halves.split_shaped(mesh, joint)
        said = Finding(
            "joint-registers",
            Severity.NOTE,
            "The halves fit by the shape of their joint, so no dowels are drilled.",
            noun="shape of their joint",
            figures={"relief_mm": parting.relief_mm * factor},
            main="relief_mm",
        )
        return pieces, [said, *fell]
    whole = halves.undrilled(mesh, joint.direction)
    if parting.moulded == "follow-board" or (parting.on_plain_board and across):
        return [whole, boards.follow_board(mesh, joint)], []
    if parting.moulded == "false-pattern":
        return [whole, boards.false_pattern(mesh, joint)], []
    return [whole], []
