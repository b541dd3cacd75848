"""Each kind of line: how it is described, and how it is worked on the body."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from pounce.base.errors import UserFault
from pounce.base.tick import Tick
from pounce.metals.tables import limits
from pounce.solid.features.values import Feature
from pounce.solid.mesh import Bools, Floats, Mesh
from pounce.stock import bend, fillets, letters, machining, plugs, taper
from pounce.stock.body import part_face
from pounce.stock.machining import middle_of
from pounce.stock.values import (
    NAMES,
    Added,
    Addition,
    Camber,
    Draft,
    DrillPoint,
    Fill,
    Fillets,
    Finish,
    Lettering,
    Level,
    Machining,
)

# More holes than this in one line are a sieve and want another way of making.
MOST_HOLES = 40


def described(bench: Any, line: Addition, own: int) -> Added:
    """The line as the card shows it before it is worked, or when it is switched off."""
    kind = type(line).__name__
    name = NAMES[kind]
    if isinstance(line, Lettering):
        name = f"Text ‘{line.text.strip()}’"
    at = getattr(line, "at_mm", None)
    return Added(kind, name, "asked for at Draw" if own < 0 else "", {}, 0.0, 0.0, line.on, own, 0, None, at)


def worked(bench: Any, index: int, line: Addition, said: Added, tick: Tick) -> Added:
    """Works the line on the bench's body. UserFault where it cannot be."""
    makers: dict[type, Callable[[Any, int, Any, Added, Tick], Added]] = {
        Machining: _machining, Fill: _fill, Draft: _draft, Fillets: _fillets, Lettering: _lettering, Level: _level,
        Camber: _camber, Finish: _finish,
    }  # fmt: skip
    return makers[type(line)](bench, index, line, said, tick)


def gained(before: Mesh, after: Mesh, change: float, line: Addition) -> tuple[float, float]:
    """Metal added and taken, mm3. Most lines do one of the two."""
    both = isinstance(line, Fill) or (isinstance(line, Draft) and line.how == "half")
    del before, after, both
    return (change, 0.0) if change >= 0.0 else (0.0, -change)


def _machining(bench: Any, index: int, line: Machining, said: Added, tick: Tick) -> Added:
    number = bench.feature_at(line.at_mm)
    feature: Feature = bench.features[number]
    mesh = bench.part.mesh
    above = float(bench.joint.above(middle_of(mesh, feature))) > 0.0
    cope = machining.looks_up_in_cope(feature, bench.draw.direction, above)
    asked = machining.stock_for(line, float(mesh.size.max()), cope)
    figures = {"stock_mm": asked.stock_mm, "diameter_mm": 2.0 * feature.radius_mm}
    if feature.kind == "plane":
        bench.body = machining.raised(bench.body, mesh, feature, asked.stock_mm, index)
        name = "Foot face" if _is_foot(feature, bench.draw.direction) else "Face"
        figures |= {"long_mm": feature.size_mm[0], "wide_mm": feature.size_mm[1]}
        about = f"{{long_mm}} by {{wide_mm}}, {asked.by}"
    elif feature.kind in ("bore", "boss"):
        bench.body = machining.resized(bench.body, mesh, feature, asked.stock_mm, index)
        left = 2.0 * feature.radius_mm + (2.0 if feature.kind == "boss" else -2.0) * asked.stock_mm
        bench.changed[number] = left
        figures["left_mm"] = left
        name = "Bore left small" if feature.kind == "bore" else "Boss left large"
        about = f"cast {{left_mm}}, cut {{diameter_mm}}, {asked.by}"
    else:
        raise UserFault("Stock goes on flat faces, bores and bosses.", "Point at one of these.")
    bench.machined[number] = asked.stock_mm
    return replace(said, name=name, about=about, figures=figures, source=asked.source, at_mm=_at(middle_of(mesh, feature)))


def _is_foot(feature: Feature, direction: Floats) -> bool:
    return abs(float(feature.axis @ direction)) < 0.5 and feature.size_mm[0] > 0.0 and feature.area_mm2 > 1500.0


def holes_for(bench: Any, line: Fill) -> list[int]:
    """The bores a line speaks of: the one at its place, or every round hole under the limit."""
    if line.at_mm is not None:
        number = bench.feature_at(line.at_mm)
        if bench.features[number].kind == "cone":
            number = _bore_beside(bench.features, number)
        if bench.features[number].kind != "bore":
            raise UserFault("Only round holes are filled.", "Point at the wall of a bore.")
        return [number]
    under = limits()["bore_solid"].value if line.under_mm is None else line.under_mm
    found = [
        k for k, f in enumerate(bench.features) if f.kind == "bore" and f.turned_deg > 200.0 and 2.0 * f.radius_mm < under
    ]
    if len(found) > MOST_HOLES:
        raise UserFault(
            f"{len(found)} holes are too many to fill one by one.", "Point at the holes to fill, or lower the limit."
        )
    return found


def _bore_beside(features: tuple[Feature, ...], number: int) -> int:
    """The bore a countersink belongs to."""
    cone = features[number]
    for index, other in enumerate(features):
        aside = (other.centre - cone.centre) - cone.axis * float((other.centre - cone.centre) @ cone.axis)
        if other.kind == "bore" and abs(float(other.axis @ cone.axis)) > 0.999 and float(np.linalg.norm(aside)) < 0.05:
            return index
    return number


def _fill(bench: Any, index: int, line: Fill, said: Added, tick: Tick) -> Added:
    holes = holes_for(bench, line)
    mark = limits()["centre_mark"].value if line.mark else 0.0
    direction = bench.draw.direction if bench.method.pattern.draws else None
    filled, marks, failed = [], 0, []
    for count, number in enumerate(holes):
        tick(count / len(holes), "Filling holes")
        feature = bench.features[number]
        try:
            made = plugs.filled(bench.body, feature, bench.features, index, line.proud_mm)
        except UserFault as fault:
            failed.append(fault)
            continue
        bench.body = made.body
        filled.append(number)
        drawing = [mouth for mouth in made.mouths if mark > 0.0 and plugs.may_be_marked(mouth[1], direction)]
        # cut last of all, into whatever face is there by then
        bench.marks += [(middle, normal, mark, index) for middle, normal in drawing]
        marks += bool(drawing)
        bench.changed[number] = 0.0
        _drill(bench, feature, made, bool(drawing))
    if failed and not filled:
        raise failed[0]
    figures = {"holes": float(len(filled)), "marked": float(marks)}
    if len(filled) == 1:
        figures["diameter_mm"] = 2.0 * bench.features[filled[0]].radius_mm
        about = "{diameter_mm}, to be drilled" + (", centre-marked" if marks else "")
    else:
        about = (
            "{holes} to be drilled" + (", {marked} centre-marked" if marks else "") if filled else "no hole is that small"
        )
    said = replace(said, about=_asked(said, about), figures=figures, source=limits()["bore_solid"].source)
    if filled:
        said = replace(said, at_mm=_at(middle_of(bench.part.mesh, bench.features[filled[0]])))
    if failed:
        said = replace(said, trouble=f"{len(failed)} of {len(holes)} holes could not be filled. {failed[0].what}")
    return said


def marks_cut(bench: Any) -> None:
    """Cuts the centre marks that fills asked for."""
    for middle, normal, mark, index in bench.marks:
        bench.body = plugs.marked(bench.body, middle, normal, mark, index)
    bench.marks.clear()


def _drill(bench: Any, feature: Feature, made: plugs.Filled, marked: bool) -> None:
    """Where to drill: at the mouth that is easiest to reach, the one farther out on the part."""
    core = bench.part.mesh.centre_of_mass
    middle, normal = max(made.mouths, key=lambda mouth: float((mouth[0] - core) @ mouth[1]))
    letter = chr(ord("A") + len(bench.drill) % 26)
    bench.drill.append(
        DrillPoint(
            letter,
            _at(middle),
            _at(-normal),
            2.0 * feature.radius_mm,
            feature.length_mm,
            feature.through,
            marked,
            _at(middle),
        )
    )


def _draft(bench: Any, index: int, line: Draft, said: Added, tick: Tick) -> Added:
    method = bench.method
    if not method.pattern.draws:
        raise UserFault("A burned-out pattern stays in the sand and needs no draft.", "Leave this line out.")
    degrees = method.required_draft_deg if line.degrees is None else line.degrees
    if not 0.0 < degrees <= 10.0:
        raise UserFault(f"A draft of {degrees:g}° cannot be added.", "Ask for 0.5 to 10 degrees; 1 to 3 is usual.")
    mesh = bench.part.mesh
    share = {"add": 0.0, "half": 0.5, "take": 1.0}[line.how]
    asked, takes = np.full(len(mesh.faces), degrees), np.full(len(mesh.faces), share)
    if line.only:
        asked[:] = 0.0
        for place in line.only:
            asked[_wall_faces(bench, place)] = degrees
    for wall in line.walls:
        if not 0.0 <= wall.degrees <= 10.0:
            raise UserFault(f"A draft of {wall.degrees:g}° cannot be added.", "0 leaves a wall as it is; 10 is the most.")
        asked[_wall_faces(bench, wall.at_mm)] = wall.degrees
    only_adds = {k for k, done in enumerate(bench.lines) if done.kind == "Machining"}
    for number in bench.machined:  # machined faces keep their finished size: metal is only ever added there
        takes[bench.features[number].faces] = 0.0
    tick(0.1, "Leaning the walls")
    made = taper.tapered(bench.body, mesh, bench.features, bench.joint, asked, takes, index, only_adds)
    bench.body = made.body if made.walls else bench.body
    bench.tight_mm2 = made.tight_mm2
    figures = {"walls": float(made.walls), "draft_deg": degrees, "widest_mm": made.widest_mm, "wedged": float(made.wedged)}
    how = {"add": "widest at the parting", "take": "narrowest away from the parting", "half": "half added, half taken"}[
        line.how
    ]
    about = f"{{walls}} {'wall' if made.walls == 1 else 'walls'}, {{draft_deg}}, {how}"
    if not made.walls:
        about = "no wall wants it"
    name = "Draft"
    if method.pattern_id == "original-part":
        name = "Built up in filler"
        bench.filler = _thickness(bench.part.mesh, bench.body)
        figures["widest_mm"] = float(bench.filler.max(initial=0.0))
        about = "{walls} walls, {draft_deg}, {widest_mm} thick at most"
    said = replace(said, name=name, about=_asked(said, about), figures=figures, source=method.pattern.draft.source)
    if made.left:
        said = replace(
            said, trouble=f"{made.left} walls could not be given draft and stay as they were.", at_mm=made.tight_at
        )
    return said


def _thickness(part: Mesh, body: Mesh) -> Floats:
    """(n,) how far each vertex of the body stands off the part: the filler to lay on, mm."""
    from_part = np.zeros(len(body.vertices))
    face = part_face(body)
    rows = np.flatnonzero(face >= 0)
    normals, corner = part.normals[face[rows]], part.corners[face[rows], 0]
    for k in range(3):
        at = body.faces[rows, k]
        off = np.einsum("ij,ij->i", body.vertices[at] - corner, normals)
        np.maximum.at(from_part, at, off)
    return from_part


def _wall_faces(bench: Any, place: tuple[float, float, float]) -> Any:
    """The faces of the wall at a place: its feature's, or the face alone where it has none."""
    number = bench.feature_at(place)
    return bench.features[number].faces


def _fillets(bench: Any, index: int, line: Fillets, said: Added, tick: Tick) -> Added:
    figure = limits()["fillet_least"]
    wall = bench.part.least_wall_mm
    radius = line.radius_mm
    if radius is None:
        radius = (
            figure.value
            if wall is None
            else max(figure.low, min(figure.value, limits()["fillet_share"].value * wall * 1.5))
        )
    if not 0.0 <= radius <= 50.0 or not 0.0 <= line.ease_mm <= 10.0:
        raise UserFault(
            f"A radius of {max(radius, line.ease_mm):g} mm cannot be used.", "2 to 5 mm inside, 0.5 to 1.5 outside."
        )
    inside = outside = None
    if radius > 0.0:
        tick(0.1, "Filling inside corners")
        inside = fillets.rounded(bench.body, radius, True, _kept(bench, line, outside=False), index)
        bench.body = inside.body
    if line.ease_mm > 0.0:
        tick(0.6, "Easing edges")
        outside = fillets.rounded(
            bench.body, line.ease_mm, False, _kept(bench, line, outside=True), index, True, _in_joint(bench)
        )
        bench.body = outside.body
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


def _kept(bench: Any, line: Fillets, outside: bool) -> Bools:
    """(m,) faces of the body whose edges stay sharp: lettering, the faces pointed out, and for easing machined faces and the joint."""
    keep = np.zeros(len(bench.part.mesh.faces), bool)
    for feature in bench.features:
        if feature.kind == "relief":
            keep[feature.faces] = True
    for place in line.kept:
        keep[bench.features[bench.feature_at(place)].faces] = True
    if outside:  # only edges between plane faces are eased
        flat = np.zeros(len(keep), bool)
        for feature in bench.features:
            if feature.kind == "plane":
                flat[feature.faces] = True
        keep |= ~flat
        for number in bench.machined:
            keep[bench.features[number].faces] = True
    face = part_face(bench.body)
    out = np.where(face >= 0, keep[np.maximum(face, 0)], False)
    return np.asarray(out)


def _in_joint(bench: Any) -> Bools:
    """(n,) vertices in the joint: an edge there is where cope and drag meet, and eased it would leave a fin."""
    return np.asarray(np.abs(bench.joint.above(bench.body.vertices, free=True)) < 1e-3)


def _lettering(bench: Any, index: int, line: Lettering, said: Added, tick: Tick) -> Added:
    number = bench.feature_at(line.at_mm)
    if not 1.0 <= line.high_mm <= 500.0 or not 0.1 <= abs(line.proud_mm) <= 20.0:
        raise UserFault("Letters want a height of 1 to 500 mm, 0.1 to 20 mm proud.", "10 mm high and 1 mm proud is usual.")
    made = letters.written(
        bench.body, bench.features[number], line, np.array(line.at_mm), bench.method.mould.grain.value, index
    )
    bench.body = made.body
    side = "raised" if line.proud_mm > 0.0 else "sunk"
    draws = abs(float(bench.features[number].axis @ bench.draw.direction)) > 0.3 or not bench.method.pattern.draws
    said = replace(
        said, about=f"strokes {{stroke_mm}}, {side} {{proud_mm}}",
        figures={"stroke_mm": made.stroke_mm, "proud_mm": abs(line.proud_mm), "long_mm": made.long_mm, "high_mm": line.high_mm},
        source=bench.method.mould.grain.source,
    )  # fmt: skip
    if not draws:
        said = replace(said, trouble="On a wall the letters lock: put them on a face that looks along the draw.")
    return said


def _level(bench: Any, index: int, line: Level, said: Added, tick: Tick) -> Added:
    if not 0.5 <= line.radius_mm <= 500.0:
        raise UserFault("A worn place has a radius of 0.5 to 500 mm.", "Give the size of the place.")
    bench.body, deepest = plugs.levelled(bench.body, line.at_mm, line.radius_mm, index)
    return replace(
        said, about="filled {deep_mm} at its deepest", figures={"deep_mm": deepest}, source=limits()["stock_home"].source
    )


def _camber(bench: Any, index: int, line: Camber, said: Added, tick: Tick) -> Added:
    bow, along, toward, source = bend.bow_for(line, bench.body, 1.0)
    bench.body = bend.cambered(bench.body, bow, along, toward)
    parts_on_plane = bench.parting.kind == "split" and bench.method.pattern.splits and bench.method.pattern.draws
    if parts_on_plane and abs(float(toward @ bench.draw.direction)) > 0.5:
        said = replace(
            said, trouble="Bent along the draw while its joint stays flat: bend it another way, or mould it whole."
        )
    way = "xyz"[int(np.argmax(np.abs(toward)))]
    sign = "−" if float(toward.sum()) < 0.0 else "+"
    return replace(
        said, about=f"{{bow_mm}} along {'xyz'[along]}, toward {sign}{way}", figures={"bow_mm": bow}, source=source
    )


def _finish(bench: Any, index: int, line: Finish, said: Added, tick: Tick) -> Added:
    everywhere, level = bend.allowance(line)
    figures = {
        "side_mm": abs(everywhere + level),
        "paint_mm": line.paint_mm,
        "rap_mm": line.rap_mm,
        "coat_mm": line.coating_mm,
    }
    if everywhere == 0.0 and level == 0.0:
        about = (
            "{coat_mm} of coating lies outside the foam and changes no size" if line.coating_mm else "nothing to allow for"
        )
        return replace(said, about=about, figures=figures, source=limits()["paint_a_side"].source)
    bench.body = bend.allowed(bench.body, everywhere, level, bench.draw.direction)
    less = "smaller" if everywhere + level < 0.0 else "larger"
    return replace(said, about=f"{{side_mm}} {less} a side", figures=figures, source=limits()["paint_a_side"].source)


def _asked(said: Added, about: str) -> str:
    return f"{about}, asked for at Draw" if said.asked < 0 else about


def _at(point: Floats) -> tuple[float, float, float]:
    return float(point[0]), float(point[1]), float(point[2])
