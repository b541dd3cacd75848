"""Cutting the scaled part at the joint and drilling it."""

import itertools
from dataclasses import dataclass

import numpy as np
import shapely

from pounce.base.errors import UserFault
from pounce.base.finding import Finding, Remedy, Severity
from pounce.metals.tables import limits, screw
from pounce.parting.joint import Joint
from pounce.parting.surface import split_along
from pounce.pattern import dowels, numbers
from pounce.pattern.changes import NoDrawScrew, SetDowels
from pounce.pattern.dowels import Face
from pounce.pattern.values import Hole, PatternChoices, Piece, Pin, Role
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.frame import across, turn_to_z
from pounce.solid.mesh import Floats, Ints, Mesh
from pounce.solid.sound import CRUMB, without_films
from pounce.solid.tree import Tree, build

# The number of a pair: a job has one split pattern.
PAIR = "1"


@dataclass
class Plan:
    """Holes and pins for each half, and what there was to say."""

    cope_holes: list[Hole]
    drag_holes: list[Hole]
    cope_pins: list[Pin]
    sizes: tuple[float, ...]
    findings: list[Finding]


def whole(
    mesh: Mesh, direction: Floats, height_mm: float, choices: PatternChoices, up: bool, flat: bool
) -> tuple[Piece, list[Finding]]:
    """A pattern that stays whole; a flat-backed one gets its draw screw in the back. UserFault when not closed."""
    solid = _solid(mesh)
    into = direction if up else -direction
    findings: list[Finding] = []
    holes: list[Hole] = []
    if choices.draw_screw and flat:
        inside = 1e-3 if up else -1e-3
        face = dowels.face_of(mesh, direction, height_mm, inside)
        holes = lifting(face, build(mesh), mesh.centre_of_mass, into, [], findings, "pattern", choices)
    drilled = boolean.without(solid, [tool_of(hole) for hole in holes])
    return _piece(Role.WHOLE, "Pattern", drilled, mesh, into, height_mm, direction, holes, []), findings


def split(
    mesh: Mesh, direction: Floats, height_mm: float, choices: PatternChoices, marks: bool = False
) -> tuple[list[Piece], Plan]:
    """Cope and drag half of the scaled part, drilled. UserFault when the part is not closed or a half is empty.

    ``marks``: dowels are only marked by dimples, for halves that are cast in metal and bored together once they are
    lapped.
    """
    solid = _solid(mesh)
    upper, lower = boolean.split(solid, direction, height_mm)
    cope, drag = boolean.checked(upper, "Splitting the cope half"), boolean.checked(lower, "Splitting the drag half")
    cope, drag, fell = _less_slivers(cope, drag)
    face = dowels.face_of(mesh, direction, height_mm, 0.0)
    tree = build(mesh)
    plan = _dowel_plan(face, tree, mesh, direction, height_mm, choices)
    plan.findings += fell
    if marks:
        plan.cope_holes, plan.drag_holes = (_marked(holes) for holes in (plan.cope_holes, plan.drag_holes))
        plan.cope_pins = []
        plan.findings = [
            finding for finding in plan.findings if finding.code not in ("dowels-jam-askew", "guide-holes")
        ]
    if choices.draw_screw:
        for half, holes, into, name in (
            (cope, plan.cope_holes, direction, "cope half"),
            (drag, plan.drag_holes, -direction, "drag half"),
        ):
            middle = boolean.as_mesh(half, mesh.tags).centre_of_mass
            holes += lifting(face, tree, middle, into, list(holes), plan.findings, name, choices)
    cope = boolean.without(cope, [tool_of(hole) for hole in plan.cope_holes])
    drag = boolean.without(drag, [tool_of(hole) for hole in plan.drag_holes])
    cope, drag, numbered = _numbered(cope, drag, face, tree, plan, direction) if choices.numbers else (cope, drag, None)
    if plan.cope_pins:
        cope = boolean.united([cope, *[_pin(pin) for pin in plan.cope_pins]])
    cope_piece = _piece(
        Role.COPE_HALF,
        "Cope half",
        cope,
        mesh,
        direction,
        height_mm,
        direction,
        plan.cope_holes,
        plan.cope_pins,
        numbered=numbered,
    )
    drag_piece = _piece(
        Role.DRAG_HALF,
        "Drag half",
        drag,
        mesh,
        -direction,
        height_mm,
        direction,
        plan.drag_holes,
        [],
        numbered=numbered,
    )
    return [cope_piece, drag_piece], plan


def _numbered(
    cope: Solid, drag: Solid, face: Face, tree: Tree, plan: Plan, direction: Floats
) -> tuple[Solid, Solid, tuple[Floats, float] | None]:
    """Both halves with the pair's number cut in their faces, and where; as they were where there is no room."""
    spot = numbers.place_for(face, tree, [*plan.cope_holes, *plan.drag_holes])
    if spot is None:
        return cope, drag, None
    cope = boolean.without(cope, [numbers.tool(face, spot[0], spot[1], PAIR, direction)])
    drag = boolean.without(drag, [numbers.tool(face, spot[0], spot[1], PAIR, -direction)])
    return cope, drag, (face.space(spot[0][None])[0], 0.6 * spot[1])


def _less_slivers(cope: Solid, drag: Solid) -> tuple[Solid, Solid, list[Finding]]:
    """The halves less what falls off them: slivers too small to print or to ram, which the joint cuts off."""
    found: list[Finding] = []
    out = []
    for half, name in ((cope, "cope half"), (drag, "drag half")):
        kept, volume, longest = boolean.less_crumbs(half, CRUMB)
        out.append(kept)
        if longest > limits()["sliver_worth"].value:
            found.append(
                Finding(
                    "sliver-left-out",
                    Severity.NOTE,
                    f"The joint cuts a sliver {{long_mm}} long off the {name}; it holds {{volume_mm3}} and is "
                    "left out.",
                    noun="sliver",
                    figures={"long_mm": longest, "volume_mm3": volume},
                    main="long_mm",
                    source=limits()["sliver_worth"].source,
                )
            )
    return out[0], out[1], found


def split_shaped(mesh: Mesh, joint: Joint) -> tuple[list[Piece], list[Finding]]:
    """Cope and drag half along a joint that is no plane. UserFault when the part is not closed or a half is empty."""
    upper, lower = split_along(_solid(mesh), joint, mesh.diagonal)
    cope, drag = boolean.checked(upper, "Splitting the cope half"), boolean.checked(lower, "Splitting the drag half")
    cope, drag, fell = _less_slivers(cope, drag)
    height, direction = joint.height_mm, joint.direction
    return [
        _piece(Role.COPE_HALF, "Cope half", cope, mesh, direction, height, direction, [], [], on_base=True),
        _piece(Role.DRAG_HALF, "Drag half", drag, mesh, -direction, height, direction, [], [], on_base=True),
    ], fell


def undrilled(mesh: Mesh, direction: Floats) -> Piece:
    """The whole pattern as it is, standing as it draws."""
    return _piece(Role.WHOLE, "Pattern", _solid(mesh), mesh, direction, 0.0, direction, [], [], on_base=True)


def _marked(holes: list[Hole]) -> list[Hole]:
    wide = limits()["pin_mark"].value
    return [Hole("pin-mark", hole.at_mm, hole.into, wide / 2.0, wide / 2.0) for hole in holes]


def _solid(mesh: Mesh) -> Solid:
    solid = boolean.closed_solid(mesh)
    if solid is None:
        raise UserFault(
            "The part's shell is open or doubled, so it cannot be split.",
            "Close it where it is drawn and read it again.",
        )
    return solid


def _dowel_plan(
    face: Face, tree: Tree, mesh: Mesh, direction: Floats, height_mm: float, choices: PatternChoices
) -> Plan:
    plan = Plan([], [], [], (), [])
    if choices.dowels == "none":
        return plan
    heights = mesh.vertices @ direction - height_mm
    reach = (float(heights.max()), -float(heights.min()))
    edge = limits()["dowel_edge"].value
    first = choices.dowel_mm or dowels.nominal(face.shape)
    sizes = [size for size in (*dowels.SIZES_MM[::-1], first) if size <= first]
    for thick in sorted(set(sizes), reverse=True):
        points = dowels.room(face, thick / 2.0, edge)
        deep = np.minimum(
            dowels.thickness(face, tree, points, thick / 2.0 + 0.5, 1.0),
            dowels.thickness(face, tree, points, thick / 2.0 + 0.5, -1.0),
        )
        fits = deep >= dowels.SHALLOW * thick + dowels.BEHIND_MM
        points, deep = points[fits], deep[fits]
        chosen = dowels.pair(points, face.shape)
        if (
            chosen is None
            or float(np.linalg.norm(points[chosen[0]] - points[chosen[1]])) < limits()["dowel_apart"].value * thick
        ):
            continue
        return _dowelled(plan, face, points, deep, chosen, thick, thick < first, direction, choices, reach)
    plan.findings.append(
        Finding(
            "no-room-for-dowels",
            Severity.WARN,
            "The joint has no room for two dowels. Glue the halves to a board instead, or part it elsewhere.",
            noun="no room",
            remedies=(Remedy("no-dowels", "Leave the dowels out", SetDowels("none")),),
        )
    )
    return plan


def _dowelled(
    plan: Plan,
    face: Face,
    points: Floats,
    deep: Floats,
    chosen: Ints,
    thick: float,
    thinner: bool,
    direction: Floats,
    choices: PatternChoices,
    reach: tuple[float, float],
) -> Plan:
    """The plan with dowels at the chosen points, the first of them ``thick``; and what there is to say of them."""
    thin = dowels.smaller(thick)
    if thinner:
        plan.findings.append(
            Finding(
                "dowel-thinner",
                Severity.NOTE,
                "There is room for dowels of {dowel_mm} at most.",
                noun="dowels",
                figures={"dowel_mm": thick},
                main="dowel_mm",
            )
        )
    chosen = dowels.further(points, chosen, choices.dowel_count, limits()["dowel_apart"].value * thick)
    plan.sizes = (thick, *[thin] * (len(chosen) - 1))
    if len(chosen) < choices.dowel_count:
        plan.findings.append(
            Finding(
                "fewer-dowels",
                Severity.NOTE,
                f"There is room for {len(chosen)} dowels, and {choices.dowel_count} were asked for.",
                noun="dowels",
                figures={"dowel_mm": thick},
                main="dowel_mm",
            )
        )
    for index, size in zip(chosen.tolist(), plan.sizes, strict=True):
        depth = min(dowels.DEEP * size, float(deep[index]) - dowels.BEHIND_MM)
        _dowel(plan, face.space(points[index : index + 1])[0], direction, size, depth, choices, reach)
    if choices.guide and choices.dowels == "loose":
        through = "drag" if reach[1] < reach[0] else "cope"
        plan.findings.append(
            Finding(
                "guide-holes",
                Severity.NOTE,
                f"Holes run right through the {through} half as a guide: clamp the halves, bore the other "
                "through them, "
                "then plug them flush.",
                noun="guide",
                figures={"dowel_mm": thick},
                main="dowel_mm",
                source=limits()["dowel_edge"].source,
            )
        )
    _tilt_check(plan, face, points[chosen], choices.dowels)
    return plan


def _dowel(
    plan: Plan,
    at: Floats,
    direction: Floats,
    size: float,
    depth: float,
    choices: PatternChoices,
    reach: tuple[float, float],
) -> None:
    """A hole in the drag half that slides; in the cope half a hole that keeps the dowel, or a short pin.

    The drag half is rammed first, split face down on the board, so nothing may stand proud of it. ``reach`` how far
    the cope and the drag half rise from the joint: a guide hole runs through the shallower, and the other is left to
    be bored.
    """
    slide, glue = limits()["dowel_slide_clearance"].value, limits()["dowel_glue_clearance"].value
    if choices.dowels == "loose":
        drag = depth if choices.proud_mm is None else min(depth, choices.proud_mm + 1.0)
        cope = depth
        if choices.guide:
            drag, cope = (reach[1] + 1.0, 0.0) if reach[1] < reach[0] else (0.0, reach[0] + 1.0)
        if drag > 0.0:
            plan.drag_holes.append(Hole("dowel", at, -direction, (size + slide) / 2.0, drag))
        if cope > 0.0:
            plan.cope_holes.append(Hole("dowel", at, direction, (size + glue) / 2.0, cope))
    else:
        proud = min(limits()["dowel_proud"].value if choices.proud_mm is None else choices.proud_mm, depth)
        plan.drag_holes.append(Hole("dowel", at, -direction, (size + slide) / 2.0, min(depth, proud + 1.0)))
        plan.cope_pins.append(Pin(at, -direction, size / 2.0, proud))


def _tilt_check(plan: Plan, face: Face, places: Floats, kind: str) -> None:
    """Whether the cope may be tilted off about its far edge without the dowels lifting the other half.

    A dowel that stands h out of the joint at a distance b from the edge is free when tilted by asin(h / b); its tip
    has then moved sideways by h sin + b (1 - cos), about 1.5 h^2 / b. More than the play of its hole, and it carries
    the half along.
    """
    if kind == "pins":
        proud = max((pin.proud_mm for pin in plan.cope_pins), default=0.0)
    else:
        proud = max((hole.depth_mm for hole in plan.drag_holes if hole.purpose == "dowel"), default=0.0)
    low_x, low_y, high_x, high_y = face.shape.bounds
    corners = np.array([[low_x, low_y], [low_x, high_y], [high_x, low_y], [high_x, high_y]])
    reach = float(np.linalg.norm(places[:, None] - corners[None], axis=2).max(axis=1).min())
    if proud <= 0.0 or proud >= reach:
        return
    tilt = float(np.arcsin(proud / reach))
    aside = proud * float(np.sin(tilt)) + reach * (1.0 - float(np.cos(tilt)))
    play = limits()["dowel_slide_clearance"].value / 2.0
    if aside <= play:
        return
    fits = float(np.sqrt(play * reach / 1.5))
    plan.findings.append(
        Finding(
            "dowels-jam-askew",
            Severity.NOTE,
            "Round the dowels' ends from {fits_mm} above the joint on: they reach {proud_mm} into the drag "
            "half with {play_mm} of play, and would "
            "jam in a half that is tilted.",
            noun="dowels",
            figures={"proud_mm": proud, "aside_mm": aside, "fits_mm": fits, "play_mm": play},
            main="proud_mm",
            remedies=() if kind == "pins" else (Remedy("short-pins", "Short pins instead", SetDowels("pins")),),
            source=limits()["dowel_proud"].source,
        )
    )


def lifting(
    face: Face,
    tree: Tree,
    middle: Floats,
    into: Floats,
    taken: list[Hole],
    findings: list[Finding],
    name: str,
    choices: PatternChoices,
) -> list[Hole]:
    """What a half is lifted by, over the middle of mass or as near to it as there is material: the hole of a draw
    screw, and the recess of a rapping plate round it where one is asked for and there is room (``radius_mm`` of the
    recess is half its diagonal).
    """
    kind = screw(choices.screw)
    if choices.rapping:
        half = plate_mm() / 2.0
        found = _spot(
            face, tree, middle, into, taken, float(np.linalg.norm(half[:2])), float(2.0 * half[2]) + LEAST_SCREW_MM
        )
        if found is not None:
            at, deep, off = found
            thick = float(2.0 * half[2])
            _off(findings, name, off, "rapping plate")
            reach = min(MOST_SCREW_MM, deep - dowels.BEHIND_MM)
            return [
                Hole("rapping-plate", at, into, float(np.linalg.norm(half[:2])), thick),
                Hole("draw-screw", at, into, kind.clear.value / 2.0, reach),
            ]
        findings.append(
            Finding(
                "no-room-for-rapping-plate",
                Severity.NOTE,
                f"The {name} has no room for a rapping plate of {{long_mm}}: a draw screw has to do.",
                noun="rapping plate",
                figures={"long_mm": float(2.0 * half[0])},
                main="long_mm",
                source=limits()["rapping_plate_long"].source,
            )
        )
    radius = kind.hole.value / 2.0
    found = _spot(face, tree, middle, into, taken, radius, LEAST_SCREW_MM)
    if found is None:
        findings.append(
            Finding(
                "no-room-for-draw-screw",
                Severity.WARN,
                f"The {name} has no room for a draw screw. Lift it by its edges, or screw a plate to it.",
                noun="no room for a draw screw",
                remedies=(Remedy("no-screw", "Leave the draw screw out", NoDrawScrew()),),
            )
        )
        return []
    at, deep, off = found
    _off(findings, name, off, "draw screw")
    return [Hole("draw-screw", at, into, radius, min(MOST_SCREW_MM, deep - dowels.BEHIND_MM))]


def plate_mm() -> Floats:
    """(3,) length, width and thickness of a rapping plate."""
    return np.array([limits()[f"rapping_plate_{way}"].value for way in ("long", "wide", "thick")])


def _off(findings: list[Finding], name: str, off: float, what: str) -> None:
    if off > OFF_MM:
        findings.append(
            Finding(
                "draw-screw-off-middle",
                Severity.NOTE,
                f"The {what} of the {name} sits {{off_mm}} off the middle of mass, where there is stuff to hold it.",
                noun="off the middle",
                figures={"off_mm": off},
                main="off_mm",
            )
        )


def _spot(
    face: Face, tree: Tree, middle: Floats, into: Floats, taken: list[Hole], radius: float, least_mm: float
) -> tuple[Floats, float, float] | None:
    """Where (3,) in the joint there is material for a hole nearest to the middle of mass, how much, and how far off
    that is, mm.
    """
    points = dowels.room(face, radius, BESIDE_MM)
    way = 1.0 if float(into @ face.direction) > 0.0 else -1.0
    target = np.array([float(middle @ face.u), float(middle @ face.v)])
    points = np.vstack([points, target[None]]) if len(points) and _holds(face, target, radius) else points
    if not len(points):
        return None
    deep = dowels.thickness(face, tree, points, radius + 0.5, way)
    clear = deep >= least_mm + dowels.BEHIND_MM
    for hole in taken:
        flat = np.array([float(hole.at_mm @ face.u), float(hole.at_mm @ face.v)])
        clear &= np.linalg.norm(points - flat, axis=1) >= hole.radius_mm + radius + BESIDE_MM
    points, deep = points[clear], deep[clear]
    if not len(points):
        return None
    gap = np.linalg.norm(points - target, axis=1)
    index = int(np.argmin(gap))
    return face.space(points[index : index + 1])[0], float(deep[index]), float(gap[index])


# Material between a draw screw and anything beside it; its least and most depth; how far off the middle is worth a
# word.
BESIDE_MM = limits()["draw_screw_beside"].value
LEAST_SCREW_MM, MOST_SCREW_MM = limits()["draw_screw_deep"].low, limits()["draw_screw_deep"].high
OFF_MM = limits()["draw_screw_off"].value


def _holds(face: Face, target: Floats, radius: float) -> bool:
    inner = face.shape.buffer(-(radius + BESIDE_MM))
    return bool(inner.covers(shapely.Point(target)))


def tool_of(hole: Hole) -> Solid:
    """What is cut out for a hole; the recess of a rapping plate is as long and wide as the table says."""
    # starts a hair outside the joint, so that no film is left over the mouth
    if hole.purpose == "rapping-plate":
        return _recess(hole)
    return boolean.rod(hole.at_mm - hole.into * 1.0, hole.into, hole.depth_mm + 1.0, hole.radius_mm)


def _recess(hole: Hole) -> Solid:
    half = plate_mm() / 2.0 + limits()["board_clearance"].value / 2.0
    u, v = across(hole.into)
    signs = np.array(list(itertools.product((-1.0, 1.0), repeat=3)))
    depth = np.where(signs[:, 2] > 0.0, hole.depth_mm, -1.0)
    return boolean.hull_tool(
        hole.at_mm + signs[:, :1] * half[0] * u + signs[:, 1:2] * half[1] * v + depth[:, None] * hole.into
    )


def _pin(pin: Pin) -> Solid:
    """A pin with an eased tip, rooted a little way in its half."""
    return boolean.rod(pin.at_mm - pin.along * 1.0, pin.along, pin.proud_mm + 1.0, pin.radius_mm, 0.85 * pin.radius_mm)


def _piece(
    role: Role,
    name: str,
    solid: Solid,
    source: Mesh,
    into: Floats,
    height_mm: float,
    direction: Floats,
    holes: list[Hole],
    pins: list[Pin],
    on_base: bool = False,
    numbered: tuple[Floats, float] | None = None,
) -> Piece:
    mesh = without_films(boolean.as_mesh(solid, source.tags))
    turn = turn_to_z(into)
    laid = mesh.moved(turn, np.zeros(3))
    low, high = laid.bounds
    joint = float((direction * height_mm) @ into)
    shift = np.array(
        [-(low[0] + high[0]) / 2.0, -(low[1] + high[1]) / 2.0, -float(low[2]) if pins or on_base else -joint]
    )
    return Piece(
        role, name, mesh, laid.moved(np.eye(3), shift), mesh.volume, tuple(holes), tuple(pins), turn, shift, numbered
    )
