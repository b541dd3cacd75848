"""What the Stock stop has to say: stock that will not survive, walls still tight, thick and thin places, offers."""

from dataclasses import dataclass

import numpy as np

from pounce.base.errors import UserFault
from pounce.base.finding import Finding, Remedy, Severity
from pounce.base.units import less_as_shown
from pounce.metals import tables
from pounce.metals.grades import tolerance_grade
from pounce.metals.method import Method
from pounce.metals.tables import limits
from pounce.part.model import PartResult
from pounce.part.walls import is_wall, walls_at
from pounce.parting.values import PartingResult
from pounce.solid.features.values import Feature
from pounce.solid.frame import three
from pounce.solid.mesh import Bools, Floats, Ints, Mesh
from pounce.solid.sample import spread
from pounce.solid.sets import distinct
from pounce.solid.tree import tree_of
from pounce.stock.bend import bow_for, heavy_way, is_u, slender
from pounce.stock.changes import AddCamber, AddUsual, CastSolid, SetOwnStock
from pounce.stock.fillets import corner_chains
from pounce.stock.machining import Asked, dimensioned, is_inward
from pounce.stock.sizes import tolerance_for
from pounce.stock.values import Camber, Draft, Fill, Fillets, Finish, LineKind, StockChoices, StockResult

THIN_POINTS = 12_000
# A wall that reads the same as the limit is not under it.
AS_SHOWN_MM = 0.05
MOST_SPOKEN = 3
# Less of the surface than this is a sliver, no wall worth a word.
SLIVER = 2e-3
# A draw this little along an own axis widens the mould along it; rapping this share of the contraction is worth a word.
RAPS_ACROSS, RAP_WORTH = limits()["rap_across"].value, limits()["rap_worth"].value
# A corner shorter than this many least fillets is a mark; more corners than can be counted are said as so many.
CORNER_WORTH, MANY_CORNERS = 2.0, 999


def thin_places(mesh: Mesh, least_mm: float) -> tuple[Bools, float, tuple[float, float, float] | None]:
    """(m,) faces whose wall is thinner than the metal runs, their area (mm2), and where it is thinnest.

    By rays through the body from points all over it; a face is thin where most of its points are, a small one by its
    middle.
    """
    points, faces = spread(mesh, THIN_POINTS)
    tree = tree_of(mesh)
    walls = walls_at(mesh, tree, points, faces)
    least_mm -= AS_SHOWN_MM
    thin = walls < least_mm
    thin[thin] = is_wall(mesh, tree, points[thin], faces[thin], walls[thin])
    if not thin.any():
        return np.zeros(len(mesh.faces), bool), 0.0, None
    x, y, z = points[int(np.argmin(np.where(thin, walls, np.inf)))]
    asked = np.bincount(faces, minlength=len(mesh.faces))
    most = np.bincount(faces, thin, len(mesh.faces)) > 0.5 * asked
    rest = np.flatnonzero(asked == 0)
    middles = mesh.corners[rest].mean(axis=1)
    behind = walls_at(mesh, tree, middles, rest)
    most[rest] = (behind < least_mm) & is_wall(mesh, tree, middles, rest, np.where(behind < least_mm, behind, np.inf))
    return most, float(thin.mean()) * mesh.area, (float(x), float(y), float(z))


def findings_of(
    result: StockResult,
    choices: StockChoices,
    part: PartResult,
    method: Method,
    parting: PartingResult,
    machined: dict[int, Asked],
) -> list[Finding]:
    """All findings of the stop."""
    found: list[Finding] = []
    found += _troubles(result) if part.closed else _open(result)
    found += _offers(result, choices, part, method, parting)
    found += _survives(result, choices, part, method, parting, machined)
    found += _thin_bores(result, machined)
    found += _rapping(result, choices, method, parting)
    found += _original(result, method)
    found += _sections(result, method)
    found += _bow(choices, part, method)
    return found


def _troubles(result: StockResult) -> list[Finding]:
    return [
        Finding(
            f"line-failed-{index}",
            Severity.WARN,
            f"{line.words()}: {line.trouble}",
            noun=line.words(),
            place_mm=line.at_mm,
        )
        for index, line in enumerate(result.lines)
        if line.trouble
    ]


def _open(result: StockResult) -> list[Finding]:
    if not any(line.on for line in result.lines):
        return []
    return [
        Finding(
            "shell-open",
            Severity.WARN,
            "The part's shell is open, so nothing can be added to it. Close it where it is drawn.",
            noun="shell is open",
        )
    ]


def _has(choices: StockChoices, kind: type) -> bool:
    return any(isinstance(line, kind) and line.on for line in choices.lines)


def _offers(
    result: StockResult, choices: StockChoices, part: PartResult, method: Method, parting: PartingResult
) -> list[Finding]:
    """What is usual and not yet asked for, with one button each."""
    if not part.closed:
        return []
    return [*_draft_offered(result, choices, part, method, parting), *_holes_and_corners(result, choices)]


def _draft_offered(
    result: StockResult, choices: StockChoices, part: PartResult, method: Method, parting: PartingResult
) -> list[Finding]:
    found: list[Finding] = []
    if method.pattern.draws and not _has(choices, Draft) and parting.tight_mm2 > SLIVER * part.area_mm2:
        found.append(
            Finding(
                "draft-wanted",
                Severity.WARN,
                "{area_mm2} of wall is upright or nearly so. Draft lets it leave the sand.",
                noun="wall",
                figures={"area_mm2": parting.tight_mm2, "draft_deg": method.required_draft_deg},
                main="area_mm2",
                remedies=(Remedy("add-draft", "Add draft", AddUsual("draft")),),
                source=method.pattern.draft.source,
            )
        )
    if method.pattern.draws and _has(choices, Draft) and result.tight_mm2 > SLIVER * part.area_mm2:
        places = [line.at_mm for line in result.lines if line.kind == LineKind.DRAFT]
        found.append(
            Finding(
                "walls-still-tight",
                Severity.WARN,
                "{area_mm2} of wall stays tight: there was no room to lean it.",
                noun="stays tight",
                place_mm=places[0] if places else None,
                figures={"area_mm2": result.tight_mm2},
                main="area_mm2",
            )
        )
    return found


def _holes_and_corners(result: StockResult, choices: StockChoices) -> list[Finding]:
    found: list[Finding] = []
    limit = limits()["bore_solid"]
    small = [f for f in result.features if f.is_hole and 2.0 * f.radius_mm < limit.value]
    if small and not _has(choices, Fill):
        found.append(
            Finding(
                "small-holes",
                Severity.NOTE,
                f"{len(small)} {'hole is' if len(small) == 1 else 'holes are'} under {{limit_mm}}: cast solid "
                "and drill.",
                noun="hole",
                figures={"limit_mm": limit.value, "holes": float(len(small))},
                remedies=(Remedy("fill-holes", "Fill and mark them", AddUsual("fill")),),
                source=limit.source,
            )
        )
    corners = _sharp_corners(result) if not _has(choices, Fillets) else 0
    if corners:
        found.append(
            Finding(
                "corners-sharp",
                Severity.NOTE,
                f"{'One sharp inside corner tears' if corners == 1 else '{corners} sharp inside corners tear'} "
                "hot metal and "
                f"{'holds' if corners == 1 else 'hold'} the sand. A fillet cures both.",
                noun="sharp inside corner",
                figures={"corners": float(corners)},
                remedies=(Remedy("add-fillets", "Fill them", AddUsual("fillets")),),
                source=limits()["fillet_least"].source,
            )
        )
    return found


def _sharp_corners(result: StockResult) -> int:
    """How many sharp inside corners there are, long enough to be filled; letters are left out."""
    barred = np.isin(result.mesh.tags.feature, [k for k, one in enumerate(result.features) if one.kind == "relief"])
    try:
        chains = corner_chains(result.mesh, True, np.asarray(barred))
    except UserFault:  # so many that they cannot be counted one by one
        return MANY_CORNERS
    long = CORNER_WORTH * limits()["fillet_least"].value
    return sum(float(np.linalg.norm(np.diff(chain.points, axis=0), axis=1).sum()) > long for chain in chains)


@dataclass(frozen=True)
class _Left:
    """What is left to cut of a face's stock: ``known_mm`` the casting is known to stray, ``by_grade_mm`` it may by its
    grade, whether the face lies in both halves, and what stock would do.
    """

    known_mm: float
    by_grade_mm: float
    left_mm: float
    crosses: bool
    wanted_mm: float
    middle: Floats


def _survives(
    result: StockResult,
    choices: StockChoices,
    part: PartResult,
    method: Method,
    parting: PartingResult,
    machined: dict[int, Asked],
) -> list[Finding]:
    """Whether enough stock is left after what the casting will miss by: the tolerance of ISO 8062, or what is known
    to stray if that is more.
    """
    found: list[Finding] = []
    grade = tolerance_grade(choices.tolerance, method.mould)
    for number, asked in sorted(machined.items()):
        of = dimensioned(part.mesh, result.features[number], (result.features[other] for other in machined))
        total = tolerance_for(of.size_mm, grade)
        by_grade = 0.0 if total is None else total / (4.0 if of.both_sides else 2.0)
        left = _left_of(result, part, method, parting, result.features[number], asked.stock_mm, by_grade)
        if left is not None:
            found.append(_thin(result, part, number, asked.stock_mm, left, grade))
    if machined:
        found.append(
            Finding(
                "feeders-off-stock",
                Severity.NOTE,
                "Where a feeder or gate is sawn off a machined face, saw outside the stock: {stock_mm} of it "
                "is what the tool has.",
                noun="feeder or gate",
                figures={"stock_mm": min(one.stock_mm for one in machined.values())},
                main="stock_mm",
                source=limits()["stock_left"].source,
            )
        )
    return found


def _left_of(
    result: StockResult,
    part: PartResult,
    method: Method,
    parting: PartingResult,
    feature: Feature,
    stock: float,
    by_grade: float,
) -> _Left | None:
    """What may be left of the stock on a face; None where that is enough."""
    least, shift, figure = limits()["stock_left"], limits()["shift_of_halves"], method.metal.contraction
    # what contraction may still differ by from the figure taken, over the casting's own size
    unsure = 0.5 * (figure.high - figure.low) / 100.0
    points = part.mesh.vertices[distinct(part.mesh.faces[feature.faces])]
    over = parting.joint.above(points, free=True)
    crosses = parting.kind == "split" and float(over.min()) < -0.5 and float(over.max()) > 0.5
    middle = points.mean(axis=0)
    away = (
        float(np.abs((middle - np.array(result.cast.middle_mm)) @ feature.axis))
        if feature.kind == "plane"
        else feature.radius_mm
    )
    known = unsure * away + (shift.value if crosses else 0.0) + _warp(part, feature)
    loss = max(known, by_grade)
    left = stock - loss
    if left >= least.value or not less_as_shown(left, least.value):
        return None
    wanted = float(np.ceil((loss + least.value) * 2.0) / 2.0)
    return _Left(known, by_grade, left, crosses, wanted, middle)


def _thin(result: StockResult, part: PartResult, number: int, stock: float, of: _Left, grade: str) -> Finding:
    least, shift, feature, left = (
        limits()["stock_left"],
        limits()["shift_of_halves"],
        result.features[number],
        of.left_mm,
    )
    noun = "face" if feature.kind == "plane" else "bore" if is_inward(part.mesh, feature) else "boss"
    surely = stock - of.known_mm < least.value
    if surely:
        why = (
            "lies in both halves: if cope and drag shift by {shift_mm} and contraction strays, "
            if of.crosses
            else "lies far out: if contraction strays, "
        )
        text = f"The {noun} with {{stock_mm}} of stock {why}{_left_words(left)}."
    else:
        text = (
            f"By {grade} the casting may be {{short_mm}} short at the {noun} with {{stock_mm}} of stock, "
            f"and then {_left_words(left)}. Home "
            "practice takes that risk on small work."
        )
    index = next(
        (
            k
            for k, line in enumerate(result.lines)
            if line.kind == LineKind.MACHINING and _same(line.at_mm, part.mesh, result.features[number].faces)
        ),
        None,
    )
    remedy = (
        ()
        if index is None
        else (Remedy("more-stock", "Make it {wanted_mm}", SetOwnStock(result.lines[index].asked, of.wanted_mm)),)
    )
    return Finding(
        f"stock-thin-{number}",
        Severity.WARN if surely else Severity.NOTE,
        text,
        noun=noun,
        place_mm=three(of.middle),
        figures={
            "stock_mm": stock,
            "left_mm": max(left, 0.0),
            "shift_mm": shift.value,
            "short_mm": of.by_grade_mm,
            "wanted_mm": of.wanted_mm,
        },
        main="stock_mm",
        remedies=remedy,
        source=least.source if surely else tables.grades()["tolerance"].source,
        feature=number,
    )


def _left_words(left: float) -> str:
    return "nothing is left to cut" if left <= 0.0 else "{left_mm} is left to cut"


def _thin_bores(result: StockResult, machined: dict[int, Asked]) -> list[Finding]:
    """Bores with stock that would be left so narrow that a core in them breaks: cast solid, marked, and drilled."""
    figure = limits()["bore_solid"]
    found: list[Finding] = []
    for number, asked in sorted(machined.items()):
        feature = result.features[number]
        left = 2.0 * (feature.radius_mm - asked.stock_mm)
        if feature.kind != "bore" or left >= figure.high:
            continue
        index = next(
            (
                k
                for k, line in enumerate(result.lines)
                if line.kind == LineKind.MACHINING and line.figures.get("left_mm") == left
            ),
            None,
        )
        place = (float(feature.centre[0]), float(feature.centre[1]), float(feature.centre[2]))
        found.append(
            Finding(
                f"bore-thin-{number}",
                Severity.WARN,
                "The bore of {diameter_mm} would be cast {left_mm} wide: a core that thin breaks and burns on. "
                "Cast it solid with a centre "
                "mark, and drill it.",
                noun="bore",
                place_mm=place,
                figures={"diameter_mm": 2.0 * feature.radius_mm, "left_mm": left, "limit_mm": figure.high},
                main="left_mm",
                source=figure.source,
                feature=number,
                remedies=()
                if index is None
                else (Remedy("cast-solid", "Cast it solid", CastSolid(result.lines[index].asked)),),
            )
        )
    return found


def _rapping(result: StockResult, choices: StockChoices, method: Method, parting: PartingResult) -> list[Finding]:
    """Rapping beside contraction, where it is as much: on small work."""
    rap = 2.0 * parting.rap_mm
    if (
        not method.pattern.draws
        or rap <= 0.0
        or any(isinstance(line, Finish) and line.on and line.rap_mm > 0.0 for line in choices.lines)
    ):
        return []
    across = [axis for axis in range(3) if abs(float(parting.joint.direction[axis])) < RAPS_ACROSS]
    if not across:
        return []
    size = max(float(result.mesh.size[axis]) for axis in across)
    grows = (
        size * (method.rammed_factor - 1.0)
        if method.pattern_id != "original-part"
        else size * (1.0 - 1.0 / method.casting_factor)
    )
    if rap < RAP_WORTH * grows:
        return []
    return [
        Finding(
            "rapping-matters",
            Severity.NOTE,
            "Rapping {one_mm} each way widens the mould by {rap_mm}; contraction over {size_mm} is "
            "{shrink_mm}. Rap less, or make the pattern "
            "smaller by it.",
            noun="Rapping",
            figures={"one_mm": parting.rap_mm, "rap_mm": rap, "shrink_mm": grows, "size_mm": size},
            main="rap_mm",
            remedies=(Remedy("allow-rap", "Allow for rapping", AddUsual("rap")),),
            source=limits()["rap_each_way"].source,
        )
    ]


def _warp(part: PartResult, feature: Feature) -> float:
    """What a bow may take from a face that looks along the shallow way of a long thin part, mm."""
    long, deep, ratio = slender(part.mesh)
    if ratio < limits()["bow_slender"].value or feature.kind != "plane" or abs(float(feature.axis[deep])) < 0.7:
        return 0.0
    return limits()["bow"].value * float(part.mesh.size[long]) / 1000.0


def _same(at: tuple[float, float, float] | None, mesh: Mesh, faces: Ints) -> bool:
    if at is None:
        return False
    middles = mesh.corners[faces].mean(axis=1)
    return float(np.linalg.norm(middles - np.array(at), axis=1).min()) < 1e-6


def _original(result: StockResult, method: Method) -> list[Finding]:
    if method.pattern_id != "original-part":
        return []
    lost = 1.0 - 1.0 / method.casting_factor
    size = float(result.mesh.size.max())
    return [
        Finding(
            "original-size",
            Severity.WARN,
            "The casting comes out {short_mm} shorter over its length than the original. To keep it, build up "
            "{build_mm} at each end, "
            "or make a new pattern.",
            noun="shorter",
            figures={"short_mm": size * lost, "build_mm": size * (method.casting_factor - 1.0) / 2.0},
            main="short_mm",
            source=method.metal.contraction.source,
        )
    ]


def _sections(result: StockResult, method: Method) -> list[Finding]:
    found: list[Finding] = []
    jump = limits()["section_jump"]
    for index, bulk in enumerate(bulk for bulk in result.bulks if bulk.ratio > jump.value):
        if index >= MOST_SPOKEN:
            break
        found.append(
            Finding(
                f"section-jump-{index}",
                Severity.NOTE,
                "A thick place of {thick_mm} beside {thin_mm}: it freezes last. Taper into it, feed it, or chill it.",
                noun="thick place",
                place_mm=bulk.at_mm,
                figures={"thick_mm": bulk.diameter_mm, "thin_mm": bulk.beside_mm, "ratio": bulk.ratio},
                main="thick_mm",
                source=jump.source,
            )
        )
    if result.thin_mm2 > SLIVER * result.mesh.area:
        least = method.metal.least_wall
        found.append(
            Finding(
                "thin-area",
                Severity.WARN,
                f"{{area_mm2}} of wall is thinner than {method.metal.name.lower()} runs, {{wanted_mm}}.",
                noun="thinner",
                place_mm=result.thin_at_mm,
                figures={"area_mm2": result.thin_mm2, "wanted_mm": least.value},
                main="area_mm2",
                source=least.source,
            )
        )
    return found


def _bow(choices: StockChoices, part: PartResult, method: Method) -> list[Finding]:
    if _has(choices, Camber):
        return []
    legs = is_u(part.mesh) if part.closed else None
    if legs is not None:
        spread, _, _, source = bow_for(Camber(legs=True), part.mesh, method.metal.contraction)
        if spread > limits()["bow_worth"].value:
            return [
                Finding(
                    "legs-spread",
                    Severity.NOTE,
                    "A U: the sand between its legs may leave them {bow_mm} farther apart at their tips. Set "
                    "them closer.",
                    noun="U",
                    figures={"bow_mm": spread},
                    main="bow_mm",
                    remedies=(Remedy("add-legs", "Set them closer", AddUsual("legs")),),
                    source=source,
                )
            ]
    figure = limits()["bow_slender"]
    long, _, ratio = slender(part.mesh)
    size = float(part.mesh.size[long])
    bow = limits()["bow"]
    if ratio < figure.value or bow.value * size / 1000.0 < limits()["bow_worth"].value:
        return []
    heavy = heavy_way(part.mesh, long) if part.closed else None
    no_remedy: tuple[Remedy, ...] = ()
    remedies = no_remedy
    text = "Long and thin: it may bow by {bow_mm} over its length. "
    if heavy is not None:
        axis, side = heavy
        way = ("+" if side > 0.0 else "−") + "xyz"[axis]
        text += (
            f"The metal that freezes last lies toward {way}, so its middle is pulled away from there: bend the "
            "pattern toward it."
        )
        remedies = (
            Remedy("add-camber", f"Camber it toward {way}", AddCamber(("+" if side > 0.0 else "-") + "xyz"[axis])),
        )
    else:
        text += "Neither side is heavier, so nobody can say which way: cast one, measure it, and camber by that."
        remedies = no_remedy
    return [
        Finding(
            "bow-expected",
            Severity.NOTE,
            text,
            noun="bow",
            figures={"bow_mm": bow.value * size / 1000.0, "long_mm": size},
            main="bow_mm",
            remedies=remedies,
            source=bow.source,
        )
    ]
