"""The Cores stop: finds the hollows that lock or were pointed at, makes those that shall be cores, and fills the
pattern there.
"""

from dataclasses import dataclass, replace

import numpy as np
import shapely

from pounce.base.errors import UserFault
from pounce.base.progress import Progress, span
from pounce.cores.box import FINEST
from pounce.cores.build import Setting, core_of
from pounce.cores.findings import findings_of, lost_findings
from pounce.cores.values import Core, CoreChoices, CoresResult, HollowChoice, Offer
from pounce.draw.reachability import reach_along
from pounce.draw.values import DrawResult
from pounce.hollows.find import Found, Given, hollows_in
from pounce.hollows.stop import place_on
from pounce.hollows.values import HollowsResult, Place
from pounce.metals.method import Method
from pounce.metals.tables import Bond, limits, mix
from pounce.part.model import PartResult
from pounce.parting.values import PartingResult
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.features.find import feature_numbers
from pounce.solid.features.patches import bends_of, flat_groups
from pounce.solid.frame import across
from pounce.solid.hollow import RIM_DEG, Hollow, Opening, filled, hollow_of, reached
from pounce.solid.mesh import Mesh
from pounce.solid.sets import distinct
from pounce.solid.tags import FLUSH, FaceTags
from pounce.solid.weld import welded
from pounce.stock.values import StockResult

# Features whose wall a bar bores, and the share of a hollow's wall that they are at least.
ROUND, ROUND_SHARE = ("bore", "cone", "ball"), 0.5


@dataclass(frozen=True, eq=False)
class Decided:
    """A hollow as it was ``found``, and what is said of it. ``trouble`` why it cannot be a core as it is."""

    found: Found
    asked: HollowChoice | None
    make: str
    why: str
    trouble: UserFault | None


def cores_stop(
    choices: CoreChoices,
    hollows: HollowsResult,
    stock: StockResult,
    part: PartResult,
    method: Method,
    draw: DrawResult,
    parting: PartingResult,
    progress: Progress,
    light: bool = False,
) -> CoresResult:
    """Hollows, cores and the part as the pattern carries it; ``light`` leaves their boxes out, for a plan that is only
    tried. UserFault for an unknown mix or an impossible figure.
    """
    sand = mix(choices.mix)
    _check(choices)
    mesh = stock.mesh
    if not part.closed or not method.pattern.draws:
        none = CoresResult(mesh, (), (), 0.0, choices.on_end, ())
        return replace(none, findings=tuple(findings_of(none, [], choices, method, part.closed, draw.direction)))
    progress(0.0, "Looking for hollows")
    found = _found(choices, hollows, stock, part.mesh, draw, parting, method.mould.bond, span(progress, 0.0, 0.3))
    joint = replace(parting.joint, height_mm=stock.joint_mm) if parting.joint.level else parting.joint
    setting = Setting(mesh, joint, method, sand, choices, float(np.prod(stock.rammed_factors)), light)
    cores: list[Core] = []
    solids: list[Solid] = []
    cored: list[Hollow] = []
    kept: list[Decided] = []
    wanted = [found_one for found_one in found if found_one.make == "core"]
    for one in found:
        trouble, own = one.trouble, one.found.hollow
        if one.make == "core" and own is not None:
            share = 0.3 + 0.5 * len(cores) / max(len(wanted), 1)
            asked = one.asked if one.asked is not None else HollowChoice(place_on(mesh, one.found.faces))
            name = "Core" if len(wanted) == 1 else f"Core {len(cores) + 1}"
            try:
                core, solid = core_of(
                    own, asked, name, setting, span(progress, share, share + 0.5 / max(len(wanted), 1))
                )
                cores.append(core)
                solids.append(solid)
                cored.append(own)
            except UserFault as fault:
                trouble = fault
        kept.append(replace(one, trouble=trouble))
    progress(0.85, "Putting the prints on the pattern")
    hollow = np.full(len(mesh.faces), -1, np.int64)
    for number, one in enumerate(kept):
        hollow[one.found.faces] = number
    body, clearance = _body(mesh.tagged(mesh.tags.changed(hollow=hollow)), cored, cores, solids)
    offers = tuple(_offer(stock, kept_one, cored) for kept_one in kept)
    met = {one.found.pointed for one in found}
    lost = [(k, one.at_mm) for k, one in enumerate(choices.hollows) if k not in met and one.make == "core"]
    made = CoresResult(body, offers, tuple(cores), clearance, choices.on_end, ())
    troubles = [(offer, one.trouble) for offer, one in zip(offers, kept, strict=True) if one.trouble is not None]
    thin = [one.found.too_thin for one in kept]
    said = findings_of(made, troubles, choices, method, True, draw.direction, _features_at(kept, stock), thin)
    said = [*lost_findings(lost), *said]
    progress(1.0, "Cores made")
    return CoresResult(body, offers, tuple(cores), clearance, choices.on_end, tuple(said))


def _check(choices: CoreChoices) -> None:
    if not 40.0 <= choices.longest_mm <= 2000.0:
        raise UserFault(f"Core pieces of {choices.longest_mm:g} mm cannot be asked for.", "Give 40 to 2000 mm.")


def _features_at(kept: list[Decided], stock: StockResult) -> list[bool]:
    """For each hollow, whether it is one plain round hole that could be filled and drilled."""
    out = []
    for kept_one in kept:
        own = stock.mesh.tags.feature[kept_one.found.faces]
        numbers, counts = np.unique(own[own >= 0], return_counts=True)
        bores = [
            n
            for n, c in zip(numbers.tolist(), counts.tolist(), strict=True)
            if stock.features[n].kind == "bore" and c > 4
        ]
        out.append(len(bores) == 1)
    return out


def _found(
    choices: CoreChoices,
    hollows: HollowsResult,
    stock: StockResult,
    part: Mesh,
    draw: DrawResult,
    parting: PartingResult,
    bond: Bond,
    progress: Progress,
) -> list[Decided]:
    """Every hollow that locks, is too slender, was decided on or pointed at."""
    mesh = stock.mesh
    worked = any(line.on for line in stock.lines)
    reach = reach_along(mesh, draw.direction, progress) if worked else draw.reach
    progress(0.5, "Looking how far hollows go")
    said = {hollow.at_mm for hollow in choices.hollows}
    decided = [place for place in hollows.cored if place not in said]
    given = Given(mesh, mesh.tags.feature, stock.features, reach, draw.direction, parting.joint, parting.loose, bond)
    out: list[Decided] = []
    for one in hollows_in(given, [*(each.at_mm for each in choices.hollows), *decided]):
        asked = choices.hollows[one.pointed] if 0 <= one.pointed < len(choices.hollows) else None
        make = asked.make if asked is not None else "core" if one.pointed >= 0 else ""
        why = "locks" if one.locks else "slender" if one.slender else "asked"
        if make == "" and not one.worth(mesh):  # an open undercut is told at Draw
            continue
        if make == "core" and one.trouble is not None and worked:
            place = asked.at_mm if asked is not None else decided[one.pointed - len(choices.hollows)]
            bare = replace(given, mesh=part, feature=feature_numbers(part, stock.features), reach=draw.reach)
            one = _as_on_the_part(one, bare, place, mesh)
        trouble = one.trouble if make == "core" else None
        out.append(Decided(one, asked, make, why, trouble))
    return out


def _as_on_the_part(one: Found, bare: Given, place: Place, mesh: Mesh) -> Found:
    """The hollow by the walls that it has on the ``bare`` part, carried on as ``mesh`` has them, where it cannot be
    found anew: the draft of an end that it runs out at cuts its flare to and fro. As it was where that fails too.
    """
    known = next((found for found in hollows_in(bare, [place]) if found.pointed == 0), None)
    if known is None or known.hollow is None:
        return one
    group = flat_groups(bare.mesh, bends_of(bare.mesh))
    own = np.isin(mesh.tags.face, np.unique(group, return_index=True)[1][group[known.faces]])
    bends = bends_of(mesh)
    # what a line made on its way out hangs together with it
    grown = reached(bends, own, own | (mesh.tags.face < 0), bends.concave | (bends.bend_deg < RIM_DEG))
    faces = np.flatnonzero(grown)
    try:
        return replace(one, faces=faces, hollow=hollow_of(mesh, faces), trouble=None)
    except UserFault:
        return one


def _is_round(one: Decided, stock: StockResult) -> bool:
    """Whether most of a hollow's wall is round."""
    faces = one.found.faces
    own, areas = stock.mesh.tags.feature[faces], stock.mesh.areas[faces]
    kinds = np.array([feature.kind in ROUND for feature in stock.features] + [False])
    return bool(areas[kinds[own]].sum() > ROUND_SHARE * areas.sum())  # the last, that of -1, is none


def _offer(stock: StockResult, one: Decided, cored: list[Hollow]) -> Offer:
    found = one.found
    hollow = found.hollow
    is_round = _is_round(one, stock)
    name, figures = _name(found, _bored_mm(found, stock) if is_round else None)
    return Offer(
        place_on(stock.mesh, found.faces) if one.asked is None else one.asked.at_mm,
        name,
        one.why,
        one.make,
        0.0 if hollow is None else hollow.volume_mm3,
        found.locked_mm2,
        0 if hollow is None else len(hollow.openings),
        next((k for k, made in enumerate(cored) if made is hollow), -1),
        figures,
        found.is_bore and is_round,
        len(found.holes),
        found.only_holes,
    )


def _bored_mm(found: Found, stock: StockResult) -> float:
    """The widest bore in a hollow: its mouth is wider where a keyway or a countersink opens it."""
    numbers = distinct(stock.mesh.tags.feature[found.faces])
    bores = [stock.features[number] for number in numbers.tolist() if number >= 0]
    return max((2.0 * one.radius_mm for one in bores if one.is_hole), default=np.inf)


def _name(found: Found, bored_mm: float | None) -> tuple[str, dict[str, float]]:
    """What a hollow is called, and its figures; ``bored_mm`` None where it is not round."""
    hollow = found.hollow
    if hollow is None:
        return "undercut", {}
    if hollow.groove is not None:
        return "groove round the outside, {wide_mm} wide", {"wide_mm": hollow.groove.wide_mm}
    wide = found.width_mm if bored_mm is None or not found.is_bore else min(found.width_mm, bored_mm)
    figures, count = {"wide_mm": wide}, len(hollow.openings)
    if count > 2:
        return f"hollow with {count} openings", figures
    if count == 1:
        return "pocket, {wide_mm} wide", figures
    if not found.is_bore:
        return "bend, {wide_mm} wide", figures
    if bored_mm is not None:
        return "bore, {wide_mm} through", figures
    narrow, long = min((_sides(opening) for opening in hollow.openings), default=(0.0, 0.0))
    name = "slot, {narrow_mm} wide" if long > limits()["slot_long"].value * narrow else "opening, {narrow_mm} wide"
    return name, figures | {"narrow_mm": narrow}


def _sides(opening: Opening) -> tuple[float, float]:
    """How wide and how long a mouth is, as the least box round it has it, mm."""
    u, v = across(opening.normal)
    rim = opening.loops[0] - opening.centre
    box = np.asarray(shapely.MultiPoint(np.stack([rim @ u, rim @ v], axis=1)).minimum_rotated_rectangle.exterior.coords)
    one, two = np.linalg.norm(np.diff(box[:3], axis=0), axis=1)
    return float(min(one, two)), float(max(one, two))


def _body(mesh: Mesh, cored: list[Hollow], cores: list[Core], solids: list[Solid]) -> tuple[Mesh, float]:
    """The part with its cored hollows filled and prints on, and the room between cores and mould (mm3)."""
    if not cored:
        return mesh, 0.0
    plain = filled(mesh, cored)
    # each face by its own mark: the part's and the caps that close openings flush, then each print
    base = boolean.closed_solid(plain)
    if base is None:
        raise UserFault(
            "The part with this hollow filled came out open.", "Point at one bore of it, or make it in green sand."
        )
    tools: list[Solid] = []
    tags = [plain.tags.changed(plain.tags.made_by_tools, print=FLUSH)]
    count = len(plain.faces)
    for number, seat in enumerate(core_print.pattern for core in cores for core_print in core.prints):
        tool = None if seat is None else boolean.closed_solid(seat, count)
        if seat is None or tool is None:
            raise UserFault("A print came out open.", "Change its length or its taper.")
        tools.append(tool)
        tags.append(FaceTags.of(len(seat.faces), print=number))
        count += len(seat.faces)
    whole = boolean.united([base, *tools])
    body = welded(boolean.as_mesh(whole, FaceTags.joined(tags)), FINEST)
    held = float(sum(solid.volume() for solid in solids))
    clearance = body.volume - abs(mesh.volume) - held - sum(core.draft_mm3 for core in cores)
    return body, clearance
