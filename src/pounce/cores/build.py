"""One core from its hollow: prints, the core itself, its loads, what it is made of. No findings here."""

from dataclasses import dataclass, replace

import numpy as np

from pounce.base.errors import UserFault
from pounce.base.progress import Progress
from pounce.cores import mechanics
from pounce.cores.box import FINEST, Way, again, box_for, way_of_opening
from pounce.cores.lean import leaned, wants_draft
from pounce.cores.pieces import pieces_of
from pounce.cores.prints import Wanted, print_for_opening, table_length, way_of
from pounce.cores.rings import ring_print, ring_vents
from pounce.cores.values import Core, CoreChoices, HollowChoice, Loads, Print, Vent
from pounce.metals.method import Method
from pounce.metals.tables import Mix, limits
from pounce.parting.joint import Joint
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.frame import three
from pounce.solid.hollow import Hollow, Opening
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.sample import spread
from pounce.solid.sets import is_among
from pounce.solid.tags import FaceTags
from pounce.solid.tree import build, tree_of
from pounce.solid.weld import welded

# Points on the hollow's wall from which the metal's thickness is read.
WALL_POINTS = 3000
# A core whose normals go round its line by less than this on the mean (sine) is a turned one and wants no key.
SAME = 0.03


@dataclass(frozen=True, eq=False)
class Setting:
    """What all cores of a job share: the part, its joint, method and mix, pattern over part by volume."""

    part: Mesh
    joint: Joint
    method: Method
    mix: Mix
    choices: CoreChoices
    volume_factor: float
    light: bool = False


def core_of(hollow: Hollow, asked: HollowChoice, name: str, setting: Setting, progress: Progress) -> tuple[Core, Solid]:
    """The core of a hollow with everything on it. UserFault where it cannot be made."""
    progress(0.05, "Setting prints at the openings")
    made, symmetric = _prints(hollow, asked, setting)
    progress(0.25, "Joining the core")
    mesh = _joined(hollow, made)
    degrees = limits()["box_draft"].value if asked.draft_deg is None else asked.draft_deg
    if not 0.0 <= degrees <= 10.0:
        raise UserFault(f"A draft of {degrees:g}° cannot be used in a core box.", "0.5 to 2 degrees.")
    known: Way | None = None
    metal = 0.0
    if asked.box != "tube" and not setting.light:
        known = way_of_opening(mesh, made, setting.joint.direction)
        if degrees > 0.0 and hollow.groove is None and wants_draft(hollow, known.pull, degrees):
            progress(0.3, "Leaning the core's walls")
            lean = leaned(hollow, known.pull, known.height, degrees)
            if lean is not None:
                hollow, metal = lean.hollow, lean.added_mm3
                made, symmetric = _prints(hollow, asked, setting)
                mesh = _joined(hollow, made)
                known = again(mesh, known)
    whole = _solid(mesh)
    width = min(one.width_mm for one in made)
    vent = (
        min(limits()["core_vent"].value, limits()["core_vent_share"].value * width)
        if asked.vent_mm is None
        else asked.vent_mm
    )
    if not 0.0 <= vent <= 0.5 * width:
        raise UserFault(f"A vent of {vent:g} mm leaves too little of this core.", "A sixth of its width, 2 to 6 mm.")
    vents = _vents(mesh, made) if vent > 0.0 else ()
    loads = _loads(hollow, mesh, made, setting)
    boxes = []
    pieces = pieces_of(mesh, made, setting.choices.longest_mm)
    for count, (piece, held) in enumerate(() if setting.light else pieces):
        progress(0.35 + 0.6 * count / len(pieces), "Cutting the core box")
        opened = known if len(pieces) == 1 else None
        boxes.append(box_for(piece, held, setting.joint.direction, asked.box, vents, vent, known=opened))
    kg = setting.mix.density.value * mesh.volume * setting.volume_factor * 1e-9 * limits()["core_sand_over"].value
    binder, water = setting.mix.binder_part.value / 100.0, setting.mix.water_part.value / 100.0
    sand = kg / (1.0 + binder + water)
    core = Core(
        name,
        three(mesh.centre_of_mass),
        asked.at_mm,
        hollow.mesh,
        _on_prints(mesh, made),
        made,
        tuple(boxes),
        vents,
        vent,
        loads,
        sand,
        sand * binder,
        sand * water,
        symmetric,
        degrees if metal > 0.0 else 0.0,
        metal,
    )
    return core, whole


def _prints(hollow: Hollow, asked: HollowChoice, setting: Setting) -> tuple[tuple[Print, ...], bool]:
    """A print at every opening that is not closed, and whether the core is a turned one that needs no key."""
    openings = [opening for opening in hollow.openings if not _is_closed(opening, asked)]
    if not openings:
        raise UserFault("Every opening is closed, so this core would hang in the air.", "Leave one opening a print.")
    if hollow.groove is not None:
        return (ring_print(hollow, setting.joint, Wanted(asked.side_mm, None, asked.clearance_mm), setting.part),), True
    wide = [_wide_mm(opening) for opening in openings]
    # a sliver beside an opening holds nothing: there the core only touches the mould. What is as wide as a hole that is
    # cored is none, however wide the other end: the spout of a funnel
    least = min(limits()["print_sliver"].value * max(wide), limits()["bore_solid"].value)
    openings = [one for one, width in zip(openings, wide, strict=True) if width > least]
    wanted = [_wanted(one, asked, setting, hollow, len(openings) == 1) for one in openings]
    plain = [print_for_opening(o, setting.joint, w, False) for o, w in zip(openings, wanted, strict=True)]
    symmetric = _symmetric(hollow, plain)
    if not asked.key or symmetric:
        return tuple(plain), symmetric
    widest = int(np.argmax([one.width_mm for one in plain]))
    plain[widest] = print_for_opening(openings[widest], setting.joint, wanted[widest], True)
    return tuple(plain), symmetric


def _wide_mm(opening: Opening) -> float:
    """As wide as a circle of the opening's area (that of its first rim, Newell), mm."""
    rim = opening.loops[0]
    area = 0.5 * float(np.linalg.norm(np.cross(rim, np.roll(rim, -1, axis=0)).sum(axis=0)))
    return float(np.sqrt(4.0 * area / np.pi))


def _joined(hollow: Hollow, prints: tuple[Print, ...]) -> Mesh:
    """The hollow's core with its prints on. UserFault where the hollow is no solid."""
    solid = boolean.closed_solid(hollow.mesh)
    if solid is None:
        raise UserFault("This hollow crosses itself, so no core can be made.", "Mend the model where it is made.")
    return welded(
        boolean.bare_mesh(boolean.united([solid, *[_solid(core_print.core) for core_print in prints]])), FINEST
    )


def _on_prints(core: Mesh, prints: tuple[Print, ...]) -> Mesh:
    """The core with its faces tagged by the print they are on; the hollow's own have none."""
    out = np.full(len(core.faces), -1, np.int64)
    middles = core.corners.mean(axis=1)
    for number, one in enumerate(prints):
        if one.core is None:
            continue
        low, high = one.core.bounds[0] - 1e-3, one.core.bounds[1] + 1e-3
        within = ((middles >= low) & (middles <= high)).all(axis=1)
        # the facets of a ring lie a little inside its rim
        out[within & (one.beyond(middles) > (-0.01 * one.rim_mm if one.kind == "ring" else -1e-6))] = number
    return core.tagged(FaceTags.of(len(out), print=out))


def _is_closed(opening: Opening, asked: HollowChoice) -> bool:
    reach = 0.6 * np.sqrt(opening.area_mm2)
    return any(float(np.linalg.norm(opening.centre - np.array(place))) < reach for place in asked.closed)


def _wanted(opening: Opening, asked: HollowChoice, setting: Setting, hollow: Hollow, blind: bool) -> Wanted:
    """The figures for one print: given ones, else by table, and long enough to hold the lift and to balance a blind
    core.
    """
    kind, axis = way_of(opening, setting.joint)
    if kind in ("cope", "drag"):
        taper = asked.cope_taper_deg if kind == "cope" else asked.drag_taper_deg
        return Wanted(asked.cope_mm if kind == "cope" else asked.drag_mm, taper, asked.clearance_mm)
    width = float(np.sqrt(4.0 * opening.area_mm2 / np.pi))
    least = 0.0
    strength = setting.method.mould.strength
    if strength is not None:
        lift = mechanics.lift_n(
            hollow.volume_mm3 * setting.volume_factor,
            hollow.volume_mm3 * setting.volume_factor,
            setting.method.metal.density.value,
            setting.mix.density.value,
        )
        least = mechanics.print_for(
            max(lift, 0.0), width, strength.value, limits()["core_safety"].value, max(len(hollow.openings), 1)
        )
    if blind:
        arm = float((opening.centre - hollow.mesh.centre_of_mass) @ axis)
        wide = 1.0 if asked.wide is None else asked.wide
        balance = mechanics.blind_print_mm(
            hollow.volume_mm3, arm, opening.area_mm2 * wide**2, limits()["blind_balance"].value
        )
        # much beyond what hangs out a longer print is no help: a wider one, a chaplet or a weight does it
        span = float(-((hollow.mesh.vertices - opening.centre) @ axis).min())
        most = max(limits()["blind_past"].value * span, limits()["blind_most"].value * width)
        least = min(max(least, balance, limits()["blind_least"].value * width), most)
    table = table_length(kind, width)
    needed = float(np.ceil(least * 2.0) / 2.0) if least > table else 0.0
    return Wanted(asked.side_mm, None, asked.clearance_mm, needed, 1.0 if asked.wide is None else asked.wide)


def _symmetric(hollow: Hollow, prints: list[Print]) -> bool:
    """Whether the core is a turned body about the one line of its prints: then it fits however it is laid in.

    No normal of a turned surface has a part that goes round its axis; facets miss that by little.
    """
    axis, at = prints[0].axis, prints[0].at_mm
    if len(prints) > 2 or any(abs(float(core_print.axis @ axis)) < 0.999 for core_print in prints):
        return False
    wall = hollow.mesh
    round_way = np.cross(axis, wall.corners.mean(axis=1) - at)
    size = np.maximum(np.linalg.norm(round_way, axis=1), 1e-12)
    part = np.abs(np.einsum("ij,ij->i", wall.normals, round_way)) / size
    return float((part * wall.areas).sum()) < SAME * wall.area


def _vents(core: Mesh, prints: tuple[Print, ...]) -> tuple[Vent, ...]:
    """Straight ways for the vent wire: from the end of each print inward as far as the core goes, each once."""
    tree = build(core)
    out: list[Vent] = []
    for core_print in prints:
        if core_print.kind == "ring":
            out += ring_vents(core_print, tree)
            continue
        span = (core.vertices - core_print.at_mm) @ core_print.axis
        start = core_print.at_mm + core_print.axis * (
            float(span.max()) if len(prints) == 1 else core_print.length_mm - core_print.clearance_mm
        )
        inside = start - core_print.axis * 0.05
        distance, hit = tree.nearest(inside[None], -core_print.axis[None])
        if int(hit[0]) < 0:
            continue
        far = float(distance[0])
        end = inside - core_print.axis * far
        through = any(
            other is not core_print
            and float(other.axis @ core_print.axis) < -0.99
            and float(np.linalg.norm(np.cross(other.at_mm - core_print.at_mm, core_print.axis)))
            < 0.3 * core_print.width_mm
            for other in prints
        )
        if through:
            if not any(float(np.linalg.norm(np.array(b) - start)) < 0.5 for _, b, _through in out):
                out.append((three(start), three(end), True))
        else:
            out.append((three(start), three(inside - core_print.axis * 0.85 * far), False))
    return tuple(out)


def _loads(hollow: Hollow, core: Mesh, prints: tuple[Print, ...], setting: Setting) -> Loads:
    """Lift, weight, bearing, bending and the rest, at pattern size."""
    method, mix, volume_factor = setting.method, setting.mix, setting.volume_factor
    safety = limits()["core_safety"].value
    volume, inside = core.volume * volume_factor, hollow.volume_mm3 * volume_factor
    weight = mechanics.weight_n(volume, mix.density.value)
    lift = mechanics.lift_n(
        inside - _not_wetted(prints, setting), volume, method.metal.density.value, mix.density.value
    )
    up, down = (float(sum(one.bearing_mm2[k] for one in prints)) for k in (0, 1))
    lying = any(one.kind in ("side", "tail") for one in prints) and not setting.choices.on_end
    if setting.choices.on_end:
        # whichever print is then below or above bears with its end: the smallest is counted on
        up = down = min(np.pi / 4.0 * one.width_mm**2 for one in prints) if len(prints) > 1 else 0.0
    load = max(lift, weight)
    pressure = max(
        mechanics.pressure_kpa(max(lift, 0.0), up, safety) if lift > 0.0 else 0.0,
        mechanics.pressure_kpa(weight, down, safety) if down > 0.0 else 0.0,
    )
    span, across = _span(hollow, prints)
    area = hollow.volume_mm3 / max(span, 1e-9) if span > 0.0 else hollow.volume_mm3 ** (2.0 / 3.0)
    one_end = len(prints) == 1
    tip = 0.0
    if one_end and lying:
        only = prints[0]
        arm = float((only.at_mm - hollow.mesh.centre_of_mass) @ only.axis) + only.length_mm / 2.0
        moment = load * max(arm, 0.0)
        pressure = mechanics.edge_pressure_kpa(load, moment, only.width_mm, only.length_mm, safety)
        tip = mechanics.tip_play_mm(only.clearance_mm, span, only.length_mm)
    sag = mechanics.sag_mm(load, span, area, mix.stiffness.value, one_end) if lying else 0.0
    stress = mechanics.stress_mpa(load, span, area, one_end) if lying else 0.0
    allowed, chaplet, head = _chaplets(method, lift, up, safety)
    clear = min(core_print.clearance_mm for core_print in prints)
    widest = max(one.width_mm for one in prints)
    open_size = float(np.sqrt(hollow.open_mm2)) if hollow.groove is not None else widest
    return Loads(
        volume_mm3=volume,
        weight_n=weight,
        lift_n=lift,
        bearing_up_mm2=up,
        bearing_down_mm2=down,
        pressure_kpa=pressure,
        allowed_kpa=allowed,
        span_mm=span,
        free_ratio=span / max(across, 1e-9),
        sag_mm=sag,
        stress_mpa=stress,
        strength_mpa=mix.strength.value,
        wall_mm=_wall(setting.part, hollow),
        tip_mm=tip,
        tips=_tips(core.centre_of_mass, prints, setting),
        steady_mm=_steady(core, prints, setting),
        chaplet_n=chaplet,
        chaplet_mm=head,
        vent_way_mm=min(one.length_mm - clear for one in prints),
        shakeout=open_size / max((6.0 * hollow.volume_mm3 / np.pi) ** (1.0 / 3.0), 1e-9),
    )


def _chaplets(method: Method, lift: float, up: float, safety: float) -> tuple[float | None, float, float]:
    """What the mould's sand bears (kPa, None for loose sand), what chaplets must hold beyond it (N), and their head."""
    strength = method.mould.strength
    allowed = None if strength is None else strength.value
    held = (allowed or 0.0) * 1e-3 * up
    chaplet = max(0.0, safety * lift - held) if allowed is not None and lift > 0.0 else 0.0
    head = mechanics.chaplet_head_mm(chaplet, allowed) if allowed and chaplet > 0.0 else 0.0
    return allowed, chaplet, head


def _not_wetted(prints: tuple[Print, ...], setting: Setting) -> float:
    """Volume (mm3, pattern size) of metal that would bear on the mouths which prints close, upward less downward.

    The metal stands as high as the casting: the head of the sprue is added where the mould is planned.
    """
    if setting.choices.on_end:
        return 0.0
    up = setting.joint.up
    top = float((setting.part.vertices @ up).max())
    total = 0.0
    for core_print in prints:
        if core_print.kind == "ring":  # its mouth looks level all round
            continue
        facing = float(core_print.axis @ up)
        area = np.pi / 4.0 * core_print.width_mm**2 * abs(facing)
        held = mechanics.held_under_mm3(area, top - float(core_print.at_mm @ up))
        total += held if facing < 0.0 else -held
    return total * setting.volume_factor


def _span(hollow: Hollow, prints: tuple[Print, ...]) -> tuple[float, float]:
    """How far the core goes without support, and how wide it is there on the mean."""
    if hollow.groove is not None:  # held all round, it hangs inward by the depth of the groove
        span = hollow.groove.rim_mm - hollow.groove.floor_mm
    elif len(prints) >= 2:
        gaps = [float(np.linalg.norm(a.at_mm - b.at_mm)) for k, a in enumerate(prints) for b in prints[k + 1 :]]
        span = max(gaps)
    else:
        rel = (hollow.mesh.vertices - prints[0].at_mm) @ prints[0].axis
        span = float(-rel.min())
    area = hollow.volume_mm3 / max(span, 1e-9)
    return span, float(np.sqrt(4.0 * area / np.pi))


def _wall(part: Mesh, hollow: Hollow) -> float | None:
    """The thinnest metal beside the hollow, mm: rays from its wall outward through the part. None where nothing
    stands behind.
    """
    wall = part.part(hollow.faces)
    points, faces = spread(wall, WALL_POINTS)
    normals = wall.normals[faces]
    lift = 1e-6 * part.diagonal
    distance, hit = tree_of(part).nearest(points - normals * lift, -normals)
    ok = hit >= 0
    if not ok.any():
        return None
    across = np.einsum("ij,ij->i", normals[ok], part.normals[hit[ok]]) < -0.5
    own = is_among(hit[ok], hollow.faces)
    found = distance[ok][across & ~own]
    return float(np.quantile(found, 0.01)) if len(found) else None


def _steady(core: Mesh, prints: tuple[Print, ...], setting: Setting) -> float | None:
    """The length of the lying prints at which the core lies by itself, tried up to three widths; None where none
    does.
    """
    lying = [core_print for core_print in prints if core_print.kind in ("side", "tail")]
    if not lying or not _tips(core.centre_of_mass, prints, setting):
        return None
    start = max(one.length_mm for one in lying)
    most = 3.0 * max(one.width_mm for one in lying)
    for length in np.arange(np.ceil(start) + 1.0, most, 1.0).tolist():
        # each millimetre more moves the middle of mass out; seats only reach further, which holds no better
        volume, moment = core.volume, core.volume * core.centre_of_mass
        for one in lying:
            more = (length - one.length_mm) * np.pi / 4.0 * one.width_mm**2
            volume += more
            moment = moment + more * (one.at_mm + one.axis * (one.length_mm + length) / 2.0)
        longer = tuple(_reached(one, length) if one in lying else one for one in prints)
        if not _tips(moment / volume, longer, setting):
            return float(length)
    return None


def _reached(one: Print, length: float) -> Print:
    """The print as long as that, for the sake of its seat only."""
    if one.core is None:
        return one
    along = (one.core.vertices - one.at_mm) @ one.axis
    far = along > 0.5 * one.length_mm
    moved = one.core.vertices + np.outer(np.where(far, length - one.length_mm, 0.0), one.axis)
    return replace(one, length_mm=length, core=Mesh.of(moved, one.core.faces))


def _tips(middle: Floats, prints: tuple[Print, ...], setting: Setting) -> bool:
    """Whether the core would turn over in the open drag: its middle of mass lies outside the seats that hold it from
    below.
    """
    u, v = setting.joint.u, setting.joint.v
    seats = []
    for core_print in prints:
        if core_print.bearing_mm2[1] <= 0.0 or core_print.core is None:
            continue
        along = (core_print.core.vertices - core_print.at_mm) @ core_print.axis
        # the seat begins where the print leaves the hollow
        seats.append(core_print.core.vertices - np.outer(np.minimum(along, 0.0), core_print.axis))
    if not seats:
        return True
    points = np.concatenate(seats)
    flat = np.stack([points @ u, points @ v], axis=1)
    from_hull = flat - np.array([float(middle @ u), float(middle @ v)])
    # inside the hull of the seats when no half-plane through the middle holds them all
    turn = np.sort(np.arctan2(from_hull[:, 1], from_hull[:, 0]))
    gap = float(np.diff(np.r_[turn, turn[0] + 2.0 * np.pi]).max())
    return gap > np.pi


def _solid(mesh: Mesh | None) -> Solid:
    solid = None if mesh is None else boolean.closed_solid(mesh)
    if solid is None:
        raise UserFault("A print came out open.", "Change its length or its taper.")
    return solid
