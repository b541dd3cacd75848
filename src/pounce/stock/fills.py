"""Fillings: holes cast solid to be drilled, grooves to be turned, undercuts carried on, gaps to be sawn."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from pounce.base.errors import UserFault
from pounce.base.progress import Progress
from pounce.base.units import count_words
from pounce.metals.tables import limits
from pounce.solid.features.values import Feature
from pounce.solid.frame import across
from pounce.solid.groove import Groove, grooves_like, ring_of
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.pick import nearest_face
from pounce.solid.ringed import groove_of
from pounce.stock import plugs
from pounce.stock.body import joined_to
from pounce.stock.gaps import NOTHING_TO_FILL, gaps_at, in_metal, metal_for
from pounce.stock.machining import middle_of
from pounce.stock.undercuts import Undercut, filling, undercut_at
from pounce.stock.values import Added, DrillPoint, Fill, Place
from pounce.stock.wedge import POCKET
from pounce.stock.work import Work

# A filling of which less than this share is not metal already has filled nothing.
FILLS_NOTHING = 0.02
# More holes than this in one line are a sieve and want another way of making.
MOST_HOLES = 40


def holes_for(work: Work, line: Fill) -> list[int]:
    """The bores a line speaks of: the one at its place, or every round hole under the limit."""
    if line.at_mm is not None:
        number = work.feature_at(line.at_mm)
        if work.features[number].kind == "cone":
            number = _bore_beside(work.features, number)
        if work.features[number].kind != "bore":
            raise UserFault(*NOTHING_TO_FILL)
        return [number]
    under = limits()["bore_solid"].value if line.under_mm is None else line.under_mm
    found = [
        k
        for k, f in enumerate(work.features)
        # a bore of just that size counts, to a hundredth: facets and rounding make it a little more
        if f.is_hole and round(2.0 * f.radius_mm, 2) <= under
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
        near = (
            other.kind == "bore" and abs(float(other.axis @ cone.axis)) > 0.999 and float(np.linalg.norm(aside)) < 0.05
        )
        if near and number in plugs.coaxial(other, features)[1]:
            return index
    return number


def _groove(work: Work, line: Fill) -> Groove | None:
    """The groove round the outside that a line points at."""
    if line.at_mm is None:
        return None
    return groove_of(work.part.mesh, work.features, work.number, np.array(line.at_mm))


def _fill_groove(work: Work, index: int, groove: Groove, said: Added) -> Added:
    """The groove filled to its rim, and all of its make with it: they are turned with one tool."""
    like = grooves_like(work.part.mesh, groove, limits()["gaps_alike"].value)
    rings = [ring_of(work.body, one) for one in like]
    if rings[0] is None:
        raise UserFault("The rims of that groove are not round enough to fill it.", "Fill it where it is drawn.")
    made = [ring for ring in rings if ring is not None]
    work.body = joined_to(work.body, made, index)
    figures = {
        "wide_mm": groove.wide_mm,
        "deep_mm": groove.rim_mm - groove.floor_mm,
        "diameter_mm": 2.0 * groove.rim_mm,
        "grooves": float(len(made)),
    }
    name = f"{count_words(len(made)).capitalize()} grooves filled" if len(made) > 1 else "Groove filled"
    at = groove.centre + groove.axis * (0.5 * (groove.low_mm + groove.high_mm)) + across(groove.axis)[0] * groove.rim_mm
    about = "{wide_mm} wide and {deep_mm} deep, to be turned from the solid"
    return replace(said, name=name, about=about, figures=figures, source=limits()["bore_solid"].source, at_mm=_at(at))


def _at_hole(work: Work, place: tuple[float, float, float]) -> bool:
    """Whether a bore or its countersink lies at a place."""
    number = int(work.number[nearest_face(work.part.mesh, place)])
    if number >= 0 and work.features[number].kind == "cone":
        number = _bore_beside(work.features, number)
    return number >= 0 and work.features[number].is_hole


def _undercut_deg(work: Work, found: Undercut) -> float:
    """How much the walls of what fills an undercut lean, degrees."""
    return max(found.asked_deg, work.method.required_draft_deg)


def _fill_undercut(work: Work, index: int, found: Undercut, said: Added, metal: Mesh) -> Added:
    degrees = _undercut_deg(work, found)
    # what its pieces shut in between them is filled with them
    work.body = joined_to(work.body, [metal], index, pocket=POCKET)
    at = found.corners.reshape(-1, 3).mean(axis=0)
    nearest = found.corners.mean(axis=1)
    x, y, z = nearest[int(np.argmin(np.linalg.norm(nearest - at, axis=1)))]
    original = work.method.pattern_id == "original-part"
    to = "the joint" if work.joint.level else "what lies under it"
    about = f"carried on to {to}, its walls leaned {{draft_deg}}" + (", in filler" if original else "")
    if original:
        work.built_up = True
    return replace(
        said,
        name="Undercut filled",
        about=about,
        figures={"draft_deg": degrees},
        source=work.method.pattern.draft.source,
        at_mm=(float(x), float(y), float(z)),
        stays=True,
    )


def _fill_sand(work: Work, index: int, place: Place, said: Added) -> Added:
    """The undercut at a place filled, or where nothing hangs over the gap between walls."""
    found = undercut_at(work.parting, work.part.mesh, np.array(place))
    if found is None:
        return _fill_gaps(work, index, place, said)
    # walls of a slot may hold sand though nothing hangs over
    before, metal = work.body, list[Mesh]()

    def carried_on() -> Added:
        metal.append(filling(found, work.joint, _undercut_deg(work, found)))
        return _fill_undercut(work, index, found, said, metal[0])

    done = _or_gap(work, index, place, said, carried_on)
    if not metal or work.body.volume - before.volume > FILLS_NOTHING * metal[0].volume:
        return done
    filled_so, work.body = work.body, before
    try:  # what hung over is filled by a line above: a hole across a slot; the slot is meant
        return _fill_gaps(work, index, place, said)
    except UserFault:
        work.body = filled_so
        return done


def _or_gap(work: Work, index: int, place: Place, said: Added, filled_so: Callable[[], Added]) -> Added:
    """What is filled in a way of its own, or as the gap that it is where that cannot be."""
    try:
        return filled_so()
    except UserFault as fault:
        try:
            return _fill_gaps(work, index, place, said)
        except UserFault:
            raise fault from None


def _groove_or_sand(work: Work, index: int, groove: Groove, place: Place, said: Added) -> Added:
    """A groove filled to its rim; where it has no round rim, as round a knob on a square cap, as an undercut."""
    try:
        return _fill_groove(work, index, groove, said)
    except UserFault as fault:
        try:
            return _fill_sand(work, index, place, said)
        except UserFault:
            raise fault from None


def filled(work: Work, index: int, line: Fill, said: Added, progress: Progress) -> Added:
    """Works a filling on the bench's body: a groove, hole, undercut or gap at a place, or every small hole. UserFault
    where it cannot be.
    """
    groove = _groove(work, line)
    if groove is not None and line.at_mm is not None:
        return _groove_or_sand(work, index, groove, line.at_mm, said)
    if line.at_mm is not None and not _at_hole(work, line.at_mm):
        return _fill_sand(work, index, line.at_mm, said)
    holes = _inner_first(holes_for(work, line), work.features)
    mark = limits()["centre_mark"].value if line.mark else 0.0
    direction = work.draw.direction if work.method.pattern.draws else None
    filled, keyed, marks, failed = [], 0, 0, []
    gone: set[int] = set()  # a counterbore goes with its hole
    for count, number in enumerate(holes):
        progress(count / len(holes), "Filling holes")
        if number in gone:
            continue
        feature = work.features[number]
        try:
            made = plugs.filled(work.body, feature, work.features, index, line.proud_mm)
        except UserFault as fault:
            failed.append(fault)
            continue
        work.body = made.body
        filled.append(number)
        gone.update(made.members)
        keyed += made.keyed
        drawing = _markable(made, mark, direction)
        # cut last of all, into whatever face is there by then
        work.marks += [(middle, normal, mark, index) for middle, normal in drawing]
        marks += bool(drawing)
        work.changed |= dict.fromkeys(made.members, 0.0)
        _drill(work, feature, made, bool(drawing))
    if failed and not filled:
        raise failed[0]
    figures = {"holes": float(len(filled)), "marked": float(marks)}
    if len(filled) == 1:
        figures["diameter_mm"] = 2.0 * work.features[filled[0]].radius_mm
        about = "{diameter_mm}, to be drilled" + (", centre-marked" if marks else "")
    else:
        about = (
            "{holes} to be drilled" + (", {marked} centre-marked" if marks else "")
            if filled
            else "no hole is that small"
        )
    if keyed:
        about += ", its keyway to be cut after it" if len(filled) == 1 else ", keyways to be cut after them"
    said = replace(said, about=about, figures=figures, source=limits()["bore_solid"].source)
    if filled:
        said = replace(said, at_mm=_at(middle_of(work.part.mesh, work.features[filled[0]])))
    if failed:
        said = replace(said, trouble=f"{len(failed)} of {len(holes)} holes could not be filled. {failed[0].what}")
    return said


def _markable(made: plugs.Filled, mark_mm: float, direction: Floats | None) -> list[tuple[Floats, Floats]]:
    """The mouths of a filled hole that take a centre mark: it leaves the sand, and metal stands round it."""
    return [
        (at, way)
        for at, way in made.mouths
        if mark_mm > 0.0 and plugs.may_be_marked(way, direction) and plugs.room_for_mark(made.body, at, way, mark_mm)
    ]


def _fill_gaps(work: Work, index: int, place: Place, said: Added) -> Added:
    direction = work.joint.direction
    if in_metal(work.body, np.array(place), direction) and not in_metal(work.part.mesh, np.array(place), direction):
        return replace(said, name="Gap filled", about="filled already by a line above")
    found = gaps_at(work.body, place, direction)
    tools = [metal_for(work.body, gap, direction) for gap in found]
    work.body = joined_to(work.body, tools, index, pocket=POCKET)
    one, many = found[0], len(found) > 1
    name = f"{count_words(len(found)).capitalize()} gaps filled" if many else "Gap filled"
    return replace(
        said,
        name=name,
        about="{wide_mm} wide and {deep_mm} deep, to be sawn or milled after casting",
        figures={"wide_mm": one.wide_mm, "deep_mm": one.deep_mm, "gaps": float(len(found))},
        source=limits()["slot_solid"].source,
        at_mm=place,
    )


def _inner_first(holes: list[int], features: tuple[Feature, ...]) -> list[int]:
    """The holes as they come, but the narrower of two in line before the wider: it takes its countersink with it, and
    a cup over an oil way is a hole of its own.
    """
    out: list[int] = []
    for number in holes:
        members = plugs.coaxial(features[number], features)[1]
        inner = [one for one in holes if one in members and features[one].radius_mm < features[number].radius_mm]
        out += [*sorted(inner, key=lambda one: features[one].radius_mm), number]
    return list(dict.fromkeys(out))


def marks_cut(work: Work) -> None:
    """Cuts the centre marks that fills asked for."""
    for middle, normal, mark, index in work.marks:
        work.body = plugs.marked(work.body, middle, normal, mark, index)
    work.marks.clear()


def _drill(work: Work, feature: Feature, made: plugs.Filled, marked: bool) -> None:
    """Where to drill: at the mouth that is easiest to reach, the one farther out on the part."""
    core = work.part.mesh.centre_of_mass
    middle, normal = max(made.mouths, key=lambda mouth: float((mouth[0] - core) @ mouth[1]))
    turn, place = divmod(len(work.drill), 26)
    letter = chr(ord("A") + place) + (str(turn + 1) if turn else "")
    work.drill.append(
        DrillPoint(
            letter,
            _at(middle),
            _at(-normal),
            2.0 * feature.radius_mm,
            feature.length_mm,
            feature.through,
            marked,
            _at(middle),
            made.keyed,
        )
    )


def _at(point: Floats) -> tuple[float, float, float]:
    return float(point[0]), float(point[1]), float(point[2])
