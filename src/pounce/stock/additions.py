"""Each kind of line: how it is described, and how it is worked on the body."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from pounce.base.errors import UserFault
from pounce.base.progress import Progress
from pounce.draw.reachability import reach_along
from pounce.hollows.find import Given, hollows_in
from pounce.metals.drafts import drafts
from pounce.metals.grades import tolerance_grade
from pounce.metals.method import Method
from pounce.metals.tables import limits
from pounce.solid.features.patches import bends_of, flat_groups
from pounce.solid.features.values import Feature
from pounce.solid.hollow import Hollow
from pounce.solid.mesh import Bools, Floats, Ints
from pounce.solid.pick import nearest_face
from pounce.solid.tree import tree_of
from pounce.stock import bend, fillets, fills, letters, machining, memory, plugs, taper
from pounce.stock.body import standing_off
from pounce.stock.carried import features_on
from pounce.stock.castsolid import cast_solid, cut_out
from pounce.stock.machining import middle_of
from pounce.stock.narrow import narrow_chain
from pounce.stock.values import (
    NAMES,
    Added,
    Addition,
    Camber,
    Draft,
    Fill,
    Fillets,
    Finish,
    Lettering,
    Level,
    LineKind,
    Machining,
    line_kind,
)
from pounce.stock.work import Work

# Mouths of hollows are carried on through this many times the greatest lean, and a hair more, mm.
FARTHER, HAIR_MM = 2.0, 0.5
# A face that stands along the draw looks along it by less than this (cosine).
UPRIGHT_FACE = 0.1
# A cone steeper than this is a countersink or a face, no drafted round.
STEEPEST_CONE_DEG = limits()["stock_cone"].value


def described(line: Addition, index: int) -> Added:
    """The line as the card shows it before it is worked, or when it is switched off."""
    kind = line_kind(line)
    name = NAMES[kind]
    if isinstance(line, Lettering):
        name = f"Text ‘{line.text.strip()}’"
    at = getattr(line, "at_mm", None)
    return Added(kind, name, "", {}, 0.0, 0.0, line.on, index, 0, None, at)


def worked(work: Work, index: int, line: Addition, said: Added, progress: Progress) -> Added:
    """Works the line on the bench's body. UserFault where it cannot be."""
    makers: dict[type, Callable[[Work, int, Any, Added, Progress], Added]] = {
        Machining: _machining,
        Fill: fills.filled,
        Draft: _draft,
        Fillets: _fillets,
        Lettering: _lettering,
        Level: _level,
        Camber: _camber,
        Finish: _finish,
    }
    return makers[type(line)](work, index, line, said, progress)


def _machining(work: Work, index: int, line: Machining, said: Added, _progress: Progress) -> Added:
    number = work.feature_at(line.at_mm)
    feature: Feature = work.features[number]
    mesh = work.part.mesh
    cope = machining.looks_up_in_cope(feature, work.joint, middle_of(mesh, feature))
    inward = feature.kind != "plane" and machining.is_inward(mesh, feature)
    of = machining.dimensioned(mesh, feature, _machined_features(work))
    grade = tolerance_grade(work.choices.tolerance, work.method.mould)
    asked = machining.stock_for(line, of, work.method, grade, cope, inward)
    figures = {
        "stock_mm": asked.stock_mm,
        "cut_fine_mm": asked.cut_mm,
        "short_fine_mm": asked.tolerance_mm,
        "diameter_mm": 2.0 * feature.radius_mm,
    }
    by = (
        asked.by
        if asked.tolerance_mm <= 0.0
        else f"{{cut_fine_mm}} to cut ({asked.by}) and {{short_fine_mm}} for {grade}"
    )
    if feature.kind == "plane":
        work.body = machining.raised(work.body, feature, asked.stock_mm, index)
        name = f"Face looking {way_words(feature.axis)}"
        figures |= {"long_mm": feature.size_mm[0], "wide_mm": feature.size_mm[1]}
        about = f"{{long_mm}} by {{wide_mm}}: {by}"
        others = _over_the_joint(work, number)
        for other in others:
            work.body = machining.raised(work.body, work.features[other], asked.stock_mm, index)
            work.machined[other] = asked
        for beside, had in work.machined.items():
            if beside != number and work.features[beside].kind == "plane":
                moved = (asked.stock_mm, had.stock_mm)
                work.body = machining.mitred(work.body, mesh, feature, work.features[beside], moved, index)
        if others:
            about += ", on both sides of the joint"
    elif feature.kind in ("bore", "boss") or (feature.kind == "cone" and feature.half_angle_deg < STEEPEST_CONE_DEG):
        work.body = machining.resized(work.body, feature, asked.stock_mm, index, inward)
        wider = asked.stock_mm / float(np.cos(np.radians(feature.half_angle_deg)))
        left = 2.0 * feature.radius_mm + (-2.0 if inward else 2.0) * wider
        work.changed[number] = left
        figures["left_mm"] = left
        name = "Bore left small" if inward else "Boss left large"
        ends = ", at its wider end" if feature.kind == "cone" else ""
        about = f"cast {{left_mm}}, cut {{diameter_mm}}{ends}: {by} a side"
    else:
        raise UserFault("Stock goes on flat faces, bores and bosses.", "Point at one of these.")
    work.machined[number] = asked
    return replace(
        said,
        name=name,
        about=about,
        figures=figures,
        source=asked.source,
        at_mm=_at(middle_of(mesh, feature)),
        why=asked.why,
    )


def _over_the_joint(work: Work, number: int) -> list[int]:
    """The faces in one plane with this upright one that lie on the other side of the joint: one cut machines them
    together.
    """
    feature, mesh = work.features[number], work.part.mesh
    if abs(float(feature.axis @ work.joint.direction)) > UPRIGHT_FACE:
        return []
    level, near = float(feature.centre @ feature.axis), machining.near_of(mesh)
    above = _side(work, feature)
    return [
        k
        for k, one in enumerate(work.features)
        if k != number
        and one.kind == "plane"
        and float(one.axis @ feature.axis) > 1.0 - 1e-6
        and abs(float(one.centre @ feature.axis) - level) < near
        and above * _side(work, one) < 0.0
    ]


def _side(work: Work, feature: Feature) -> float:
    """1 for a face that lies above the joint, -1 for one under it, 0 for one that it crosses."""
    over = work.joint.above(work.part.mesh.corners[feature.faces].reshape(-1, 3), free=True)
    slack = 1e-4 * work.part.mesh.diagonal
    return 1.0 if float(over.min()) > -slack else -1.0 if float(over.max()) < slack else 0.0


def _machined_features(work: Work) -> list[Feature]:
    """Every feature that a line leaves stock on."""
    places = [line.at_mm for line in work.choices.lines if isinstance(line, Machining) and line.on]
    numbers = (int(work.number[nearest_face(work.part.mesh, place)]) for place in places)
    return [work.features[number] for number in numbers if number >= 0]


def way_words(axis: Floats) -> str:
    """The own axis that lies nearest to a direction: ``+y``."""
    k = int(np.argmax(np.abs(axis)))
    return ("+" if float(axis[k]) > 0.0 else "−") + "xyz"[k]


def _draft(work: Work, index: int, line: Draft, said: Added, progress: Progress) -> Added:
    method = work.method
    if not method.pattern.draws:
        raise UserFault("A pattern that is not drawn needs no draft.", "Leave this line out.")
    degrees = method.required_draft_deg if line.degrees is None else line.degrees
    if not 0.0 < degrees <= 10.0:
        raise UserFault(f"A draft of {degrees:g}° cannot be added.", "Ask for 0.5 to 10 degrees; 1 to 3 is usual.")
    asked, takes = _draft_asked(work, line, degrees)
    only_adds = {k for k, done in enumerate(work.lines) if done.kind == LineKind.MACHINING}
    least = limits()["draft_grains"].value * method.mould.grain.value if line.degrees is None else 0.0
    progress(0.1, "Leaning the walls")
    before = work.body
    hollows = _cored(work) if work.hollows.cored else []
    solid = cast_solid(before, hollows, index) if hollows else before
    made = memory.tapered(work, solid, (asked, takes), index, only_adds, least)
    if made.walls:
        work.body = (
            cut_out(made.body, before, hollows, FARTHER * made.widest_mm + HAIR_MM, index) if hollows else made.body
        )
    work.tight_mm2 = made.tight_mm2
    return _draft_said(work, line, said, made)


def _draft_asked(work: Work, line: Draft, degrees: float) -> tuple[Floats, Floats]:
    """For each face of the part, the degrees asked and the share of metal taken."""
    mesh = work.part.mesh
    share = {"add": 0.0, "half": 0.5, "take": 1.0}[line.how]
    takes = np.full(len(mesh.faces), share)
    # by height and side, unless the line has a figure of its own
    table = work.parting.asked_deg if line.degrees is None else np.full(len(mesh.faces), degrees)
    asked = table.copy()
    if line.only:
        asked[:] = 0.0
        for place in line.only:
            faces = _wall_faces(work, place)
            asked[faces] = table[faces]
    for wall in line.walls:
        if not 0.0 <= wall.degrees <= 10.0:
            raise UserFault(
                f"A draft of {wall.degrees:g}° cannot be added.", "0 leaves a wall as it is; 10 is the most."
            )
        asked[_wall_faces(work, wall.at_mm)] = wall.degrees
    # draft frees no wall whose sand cannot leave either way; that wants a core, and a leaned wall would spoil it
    locked = ~work.draw.reach.up & ~work.draw.reach.down & ~work.draw.reach.mixed
    plane = flat_groups(mesh, bends_of(mesh))
    whole, held = (np.bincount(plane, mesh.areas * those) for those in (np.ones(len(locked)), locked))
    asked[locked & (held > 0.5 * whole)[plane]] = 0.0
    for number in work.machined:  # machined faces keep their finished size: metal is only ever added there
        takes[work.features[number].faces] = 0.0
    return asked, takes


def _draft_said(work: Work, line: Draft, said: Added, made: taper.Tapered) -> Added:
    """What the card says of it."""
    method = work.method
    low, high = made.range_deg
    figures = {
        "walls": float(made.walls),
        "draft_deg": high,
        "least_deg": low,
        "widest_mm": made.widest_mm,
        "wedged": float(made.wedged),
    }
    lean = "{draft_deg}" if high - low < 1e-6 else "{least_deg} to {draft_deg} by height and side"
    how = {"add": "widest at the parting", "take": "narrowest away from the parting", "half": "half added, half taken"}[
        line.how
    ]
    about = f"{{walls}} {'wall' if made.walls == 1 else 'walls'}, {lean}, {how}"
    if not made.walls:
        about = "no wall wants it"
    name = "Draft"
    if method.pattern_id == "original-part":
        name = "Built up in filler"
        work.built_up = True
        figures["widest_mm"] = float(standing_off(work.part.mesh, work.body).max(initial=0.0))
        about = f"{{walls}} walls, {lean}, {{widest_mm}} thick at most"
    said = replace(said, name=name, about=about, figures=figures, source=_draft_source(line, method))
    if made.left:
        said = replace(
            said,
            trouble=f"{made.left} {'wall' if made.left == 1 else 'walls'} could not be given draft and "
            f"{'stays as it was' if made.left == 1 else 'stay as they were'}"
            + (f": wedges were refused, for {made.why}." if made.why else "."),
            at_mm=made.tight_at,
        )
    return said


def _draft_source(line: Draft, method: Method) -> str:
    """An own figure needs no table; else the table of heights."""
    return method.pattern.draft.source if line.degrees is not None or method.own_draft else drafts().height.source


def _cored(work: Work) -> list[Hollow]:
    """The hollows of the body as it is now that cores will make."""
    direction = work.draw.direction
    given = Given(
        work.body,
        features_on(work, work.body),
        work.features,
        reach_along(work.body, direction),
        direction,
        work.joint,
        work.parting.loose,
        work.method.mould.bond,
    )
    found = hollows_in(given, (*work.hollows.cored, *work.hollows.kept))
    return [
        found_one.hollow
        for found_one in found
        if found_one.hollow is not None and 0 <= found_one.pointed < len(work.hollows.cored)
    ]


def _wall_faces(work: Work, place: tuple[float, float, float]) -> Ints:
    """The faces of the wall at a place. UserFault where there is no plain face."""
    number = work.feature_at(place)
    return work.features[number].faces


def _fillets(work: Work, index: int, line: Fillets, said: Added, progress: Progress) -> Added:
    figure = limits()["fillet_least"]
    wall = work.part.least_wall_mm
    radius = line.radius_mm
    if radius is None:
        radius = figure.value if wall is None else max(figure.value, limits()["fillet_share"].value * wall)
    if not 0.0 <= radius <= 50.0 or not 0.0 <= line.ease_mm <= 10.0:
        raise UserFault(
            f"A radius of {max(radius, line.ease_mm):g} mm cannot be used.", "2 to 5 mm inside, 0.5 to 1.5 outside."
        )
    inside = outside = None
    if radius > 0.0:
        progress(0.1, "Filling inside corners")
        narrow = _narrow(work, line, radius)
        inside = fillets.rounded(work.body, radius, True, _kept(work, line, outside=False), index, narrow=narrow)
        work.body = inside.body
    if line.ease_mm > 0.0:
        progress(0.6, "Easing edges")
        outside = fillets.rounded(
            work.body, line.ease_mm, False, _kept(work, line, outside=True), index, True, _in_joint(work)
        )
        work.body = outside.body
    left = (0 if inside is None else inside.left) + (0 if outside is None else outside.left)
    corners = 0 if inside is None else inside.chains
    edges = 0 if outside is None else outside.chains
    figures = {"radius_mm": radius, "corners": float(corners), "edges": float(edges), "ease_mm": line.ease_mm}
    parts = [f"{{corners}} {'corner' if corners == 1 else 'corners'} to {{radius_mm}}"] if radius > 0.0 else []
    if line.ease_mm > 0.0:
        parts.append("{edges} edges eased {ease_mm}")
    at = None if inside is None else inside.at_mm
    if left:
        parts.append("{left} left sharp for want of room")
        figures["left"] = float(left)
    return replace(said, about=", ".join(parts) or "none", figures=figures, source=figure.source, at_mm=at)


def _narrow(work: Work, line: Fillets, radius: float) -> tuple[fillets.Chain, ...]:
    """The corners whose own radius is less than ``radius``, as they would stand sharp."""
    kept = {work.feature_at(place) for place in line.kept}
    small = [
        f
        for k, f in enumerate(work.features)
        if f.kind == "fillet" and f.radius_mm < 0.98 * radius and k not in kept and f.exact
    ]
    if not small:
        return ()
    body, face, bends, tree = work.body, work.body.tags.face, bends_of(work.body), tree_of(work.body)
    chains = []
    for feature in small:
        chain = narrow_chain(body, bends, tree, np.isin(face, feature.faces), feature, radius)
        if chain is not None:
            chains.append(replace(chain, had_mm=feature.radius_mm))
    return tuple(chains)


def _kept(work: Work, line: Fillets, outside: bool) -> Bools:
    """(m,) faces of the body whose edges stay sharp: lettering, the faces pointed out, and for easing machined faces
    and the joint.
    """
    keep = np.zeros(len(work.part.mesh.faces), bool)
    for feature in work.features:
        if feature.kind == "relief":
            keep[feature.faces] = True
    for place in line.kept:
        keep[work.features[work.feature_at(place)].faces] = True
    if outside:  # only edges between plane faces are eased
        flat = np.zeros(len(keep), bool)
        for feature in work.features:
            if feature.kind == "plane":
                flat[feature.faces] = True
        keep |= ~flat
        for number in work.machined:
            keep[work.features[number].faces] = True
    face = work.body.tags.face
    out = np.where(face >= 0, keep[np.maximum(face, 0)], False)
    return np.asarray(out)


def _in_joint(work: Work) -> Bools:
    """(n,) vertices in the joint: an edge there is where cope and drag meet, and eased it would leave a fin."""
    return np.asarray(np.abs(work.joint.above(work.body.vertices, free=True)) < 1e-3)


def _lettering(work: Work, index: int, line: Lettering, said: Added, _progress: Progress) -> Added:
    number = work.feature_at(line.at_mm)
    if not 1.0 <= line.high_mm <= 500.0 or not 0.1 <= abs(line.proud_mm) <= 20.0:
        raise UserFault(
            "Letters want a height of 1 to 500 mm, 0.1 to 20 mm proud.", "10 mm high and 1 mm proud is usual."
        )
    if number in work.machined or any(work.features[number] is one for one in _machined_features(work)):
        raise UserFault(
            "This face is machined, and text on it would be cut away.",
            "Put it on a face that stays as cast, or stamp it after machining.",
        )
    made = letters.written(
        work.body, work.features[number], line, np.array(line.at_mm), work.method.mould.grain.value, index
    )
    work.body = made.body
    side = "raised" if line.proud_mm > 0.0 else "sunk"
    draws = abs(float(work.features[number].axis @ work.draw.direction)) > 0.3 or not work.method.pattern.draws
    said = replace(
        said,
        about=f"strokes {{stroke_mm}}, {side} {{proud_mm}}",
        figures={
            "stroke_mm": made.stroke_mm,
            "proud_mm": abs(line.proud_mm),
            "long_mm": made.long_mm,
            "high_mm": line.high_mm,
        },
        source=work.method.mould.grain.source,
    )
    if not draws:
        said = replace(said, trouble="On a wall the letters lock: put them on a face that looks along the draw.")
    elif made.filled > limits()["letter_filled"].value:
        how = "proud" if line.proud_mm > 0.0 else "deep"
        closes = f"So {how}, openings of these letters close for their draft: make them higher, or less {how}."
        said = replace(said, trouble=closes)
    return said


def _level(work: Work, index: int, line: Level, said: Added, _progress: Progress) -> Added:
    if not 0.5 <= line.radius_mm <= 500.0:
        raise UserFault("A worn place has a radius of 0.5 to 500 mm.", "Give the size of the place.")
    work.body, deepest = plugs.levelled(work.body, line.at_mm, line.radius_mm, index)
    return replace(
        said,
        about="filled {deep_mm} at its deepest",
        figures={"deep_mm": deepest},
        source=limits()["stock_home"].source,
    )


def _camber(work: Work, _index: int, line: Camber, said: Added, _progress: Progress) -> Added:
    bow, along, toward, source = bend.bow_for(line, work.body, work.method.metal.contraction)
    bent = bend.legs_drawn_in if line.legs else bend.cambered
    work.body = bent(work.body, bow, along, toward)
    parts_on_plane = work.parting.kind == "split" and work.method.pattern.splits and work.method.pattern.draws
    if parts_on_plane and abs(float(toward @ work.draw.direction)) > 0.5:
        said = replace(
            said, trouble="Bent along the draw while its joint stays flat: bend it another way, or mould it whole."
        )
    way = f"along {'xyz'[along]}, toward {way_words(toward)}"
    if line.legs:
        way = f"between tips that look {way_words(toward)}"
    return replace(said, about=f"{{bow_mm}} {way}", figures={"bow_mm": bow}, source=source)


def _finish(work: Work, _index: int, line: Finish, said: Added, _progress: Progress) -> Added:
    everywhere, level = bend.allowance(line)
    figures = {
        "side_mm": abs(everywhere + level),
        "paint_mm": line.paint_mm,
        "rap_mm": line.rap_mm,
        "coat_mm": line.coating_mm,
    }
    if everywhere == 0.0 and level == 0.0:
        about = (
            "{coat_mm} of coating lies outside the foam and changes no size"
            if line.coating_mm
            else "nothing to allow for"
        )
        return replace(said, about=about, figures=figures, source=limits()["paint_a_side"].source)
    work.body = bend.allowed(work.body, everywhere, level, work.draw.direction)
    less = "smaller" if everywhere + level < 0.0 else "larger"
    return replace(said, about=f"{{side_mm}} {less} a side", figures=figures, source=limits()["paint_a_side"].source)


def _at(point: Floats) -> tuple[float, float, float]:
    return float(point[0]), float(point[1]), float(point[2])
