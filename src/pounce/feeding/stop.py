"""The Freeze stop: from the mould's solids to what sets last, what fills last, and what feeds it."""

import math
from dataclasses import dataclass, replace
from functools import partial
from typing import Any

import msgspec
import numpy as np
from numpy.typing import NDArray

from pounce.base.choice import all_checked
from pounce.base.progress import Progress, span
from pounce.feeding.choices import FINER, TABLE, most_cells
from pounce.feeding.cures import Bounds, Found, cured, wider
from pounce.feeding.cutaway import cutaway
from pounce.feeding.findings import Known, found
from pounce.feeding.judge import Law, counts, law_of, middle_s, void_of
from pounce.feeding.mould import STANDING, lying_of, mould_of
from pounce.feeding.naming import name_at
from pounce.feeding.opens import Opening, added_by, opening
from pounce.feeding.pads import Padded, padded, walls_of
from pounce.feeding.values import (
    Cure,
    FeederTime,
    Fill,
    FreezeChoices,
    FreezeResult,
    GateTime,
    HotPlace,
    Lies,
    Pad,
    Picture,
)
from pounce.field.arrays import Field
from pounce.freeze.filling import Filling, filling
from pounce.freeze.heats import Poured, frozen, sand_mm
from pounce.freeze.lay import gates_on, laid, section_mm, spacing
from pounce.freeze.spots import Spot, spots_of, widest_ways
from pounce.freeze.values import End, Frozen, Laid, Mould, Round
from pounce.metals.heat import heat
from pounce.metals.method import Method
from pounce.rig.hands import from_part, to_part
from pounce.rig.values import Casting, ChillChoice, FeederChoice, RigResult
from pounce.solid.features.values import Feature
from pounce.solid.mesh import Floats, Mesh

# Sections that have under so many cells get a finer grid; cells of a quick look; sand round the metal, mm.
LEAST_ACROSS, QUICK, MOST_SAND_MM = 4.0, 90_000, 60.0
# So many last places are told, of many the largest.
TOLD = 12
# A gate is told by the metal so near to where it meets the casting, in cells and mm.
NEAR_CELLS, NEAR_MM = 1.6, 3.0
# Holes that are as large as this share of the largest are alike.
ALIKE = 0.95
# A joint that no gate departs from by more is level, mm.
LEVEL_MM = 0.5
# What was proved alone but not in the whole mould is made so much wider.
AGAIN = 1.12
# The first tenth and the last of a casting's metal stand for its thin ends and its last places.
THIN_PERCENT, LATE_PERCENT = 10.0, 90.0


@dataclass(frozen=True, eq=False)
class Given:
    """What the stop works from: the mould, the method, the part as it is wanted, its features; how hot it is poured
    unless the user says (C; None: the middle of the metal's range); the body before and after each line whose metal is
    machined off again.
    """

    rig: RigResult
    method: Method
    part: Mesh
    features: tuple[Feature, ...]
    usual_c: float | None = None
    cut_away: tuple[tuple[Mesh, Mesh], ...] = ()


def quick_look(choices: FreezeChoices, given: Given, progress: Progress) -> FreezeResult:
    """The same on a coarse grid, with nothing tried: what sets last is told within a second or two. ``progress`` lets
    it be cancelled.
    """
    quick = msgspec.structs.replace(choices, cells=min(QUICK, choices.cells or most_cells()))
    return freeze_stop(quick, given, progress, rough=True)


def freeze_stop(choices: FreezeChoices, given: Given, progress: Progress, rough: bool = False) -> FreezeResult:
    """Heat and filling of the mould, judged; ``rough``: no feeders are tried. UserFault for metal poured colder than it
    sets.
    """
    all_checked(TABLE, choices)
    method, rig = given.method, given.rig
    usual = method.metal.pouring.value if given.usual_c is None else given.usual_c
    pour_c = usual if choices.pour_c is None else choices.pour_c
    poured = _poured(choices, method, pour_c)
    mould = mould_of(rig)
    progress(0.0, "Laying the mould on a grid")
    grid = _grid(mould, choices, poured)
    heating = span(progress, 0.05, 0.65)
    made = frozen(grid, poured, lambda share, at: heating(share, f"Freezing, {at:.0f} s after the pour"))
    progress(0.65, "Filling it")
    gates = np.array([one.at_mm for one in rig.gates]).reshape(-1, 3)
    gates = gates @ STANDING.T if mould.standing else gates
    run = filling(grid, gates_on(grid, gates), poured, rig.flow.flow_cm3_s)
    law = law_of(method, poured, choices.carbon_pct, choices.walls == "hard")
    scaled = 1.0 if choices.measured_s is None else choices.measured_s / _last(made)
    middle = middle_s(made)
    places = _places(made, law, given, choices, scaled, middle)
    cure = None
    wanting = any(one.wants for one in places)
    if not rough and (wanting or _failing(made, mould.rounds)):
        asked = _Asked(poured, law, places, wanting, choices.formers, scaled)
        cure = _cure(mould, asked, given, span(progress, 0.68, 1.0))
    ways = _led(made, mould, rig)
    times = tuple(_gate(made, ways, at, one.casting, scaled) for at, one in zip(gates, rig.gates, strict=True))
    feeders = _feeders(made, given, scaled)
    fill = _fill(run, rig)
    whole = tuple(sum(one.void_mm3[k] for one in places if one.wants) for k in (0, 1))
    across = min(section_mm(one) for one in mould.castings) / grid.cells.step
    picture = _picture(made, run, scaled, rig.on_end)
    known = Known(
        method, choices, pour_c, places, feeders, times, fill, cure, law.reason, across, scaled * middle, rig, rough
    )
    return FreezeResult(
        pour_c,
        scaled * middle,
        scaled * _last(made),
        places,
        feeders,
        times,
        _order(made, places, feeders, times, scaled),
        fill,
        cure,
        (whole[0], whole[1]),
        law.reason,
        grid.cells.count,
        grid.cells.step,
        across,
        scaled,
        made.energy_error,
        picture,
        cutaway(lying_of(rig), picture, _telling_y(rig, places)),
        found(known),
        rough,
    )


def _grid(mould: Mould, choices: FreezeChoices, poured: Poured) -> Laid:
    """The mould on its grid, a finer one where sections are thin."""
    modulus = max(one.volume / one.area for one in mould.castings)
    pad = sand_mm(poured, modulus, MOST_SAND_MM)
    step = spacing(mould, pad, choices.cells or most_cells())
    if choices.cells is None and min(section_mm(one) for one in mould.castings) / step < LEAST_ACROSS:
        step = spacing(mould, pad, round(FINER * most_cells()), LEAST_ACROSS)
    return laid(mould, step, pad)


def _fill(run: Filling, rig: RigResult) -> Fill:
    fills_c = run.fills_c if math.isfinite(run.fills_c) else None
    ends, meets = _ends(rig, run.ends), _ends(rig, run.meets)
    return Fill(run.seconds, ends, meets, run.short_mm3, fills_c, _speeds(rig))


def _speeds(rig: RigResult) -> tuple[float, float]:
    """In the gates (m/s) under the whole head, and under what is left of it when the metal stands over them."""
    usual, s = rig.flow.gate_speed_m_s, rig.sprue
    if s is None or rig.on_end or rig.loose:
        return usual, usual
    head = s.high_mm + s.cup_high_mm
    over = max(rig.flow.head_mm, 1e-6)
    return usual * math.sqrt(head / over), usual * math.sqrt(max(head - rig.up_mm, 0.0) / over)


def _poured(choices: FreezeChoices, method: Method, pour_c: float) -> Poured:
    """By the tables, and what the bench has measured itself."""
    return Poured(
        method.metal_id,
        method.mould_id,
        pour_c,
        choices.sand_conducts,
        choices.sand_heat,
        choices.metal_conducts,
        choices.latent_kj_kg,
    )


def _telling_y(rig: RigResult, places: tuple[HotPlace, ...]) -> float:
    """Where a cut says most: through the first place that wants a cure, the first feeder, the last place."""
    wanting = [one for one in places if one.wants]
    # of castings alike the one in front: the others stand behind the cut
    alike = [one for one in wanting if one.void_mm3[1] > ALIKE * wanting[0].void_mm3[1]]
    first = min((one.at_mm for one in alike), key=lambda at: at[1], default=None)
    if first is None and rig.feeders:
        first = min((one.foot_mm for one in rig.feeders), key=lambda at: at[1])
    if first is None and places:
        first = places[0].at_mm
    return rig.castings[0].at_mm[1] if first is None else first[1]


def _last(made: Frozen) -> float:
    """When the last metal of a casting is solid, s."""
    return float(np.nanmax(made.solid_s[made.laid.casting > 0]))


def _places(
    made: Frozen, law: Law, given: Given, choices: FreezeChoices, scaled: float, middle: float
) -> tuple[HotPlace, ...]:
    rig = given.rig
    out: list[HotPlace] = []
    told = [spot for spot in spots_of(made) if void_of(spot, law)[1] >= 1e3 * heat().common.least_void.value]
    for spot in told[:TOLD]:
        casting = rig.castings[spot.casting - 1]
        own = casting.lot == 0
        lying = _lying(rig, spot.at_mm)
        point = np.array(to_part(rig, casting, np.array(lying))) if own else None
        several = len(rig.models) > 1
        name = casting.name.lower() if point is None else name_at(point, given.features, given.part.bounds)
        low, high = void_of(spot, law)
        opens = Opening(Lies.WITHIN)
        if point is not None:
            opens = opening(given.part, point, high, given.features, partial(added_by, given.cut_away))
        much = counts(spot, middle, law)
        out.append(
            HotPlace(
                len(out) + 1,
                lying,
                f"{name} of {casting.name}" if several and own else name,
                spot.casting - 1,
                scaled * spot.seconds,
                scaled * spot.cut_s,
                spot.liquid_mm3,
                (low, high),
                _fed(spot, rig),
                opens.lies,
                opens.face,
                much,
                much and opens.lies != Lies.GONE and not law.reason and choices.feeding == "feed",
            )
        )
    return tuple(out)


def _fed(spot: Spot, rig: RigResult) -> str:
    if spot.fed_by == 0:
        return ""
    return "gates" if spot.fed_by == 1 else f"feeder-{rig.feeders[spot.fed_by - 2].number + 1}"


def _failing(made: Frozen, rounds: tuple[Round, ...]) -> bool:
    """Whether a feeder sets before the casting's last places under it."""
    return any(not holds for _, _, _, holds in _round_times(made, rounds))


def _round_times(made: Frozen, rounds: tuple[Round, ...]) -> list[tuple[float, float, float, bool]]:
    """When each feeder sets, its neck, and the last of the casting within reach of it; whether it holds out."""
    out = []
    grid = made.laid
    flat = np.flatnonzero((grid.casting > 0).ravel())
    middles = grid.cells.middles(flat)
    for k, one in enumerate(rounds):
        mine = np.flatnonzero((grid.feeds == k + 2).ravel())
        own = made.near_s.ravel()[mine]
        if not len(own):
            continue
        at = grid.cells.middles(mine)
        x, y = one.on_mm
        if one.beside is None:
            low = at[:, 2] < one.foot_mm[2] + max(one.neck_long_mm, grid.cells.step)
        else:
            low = np.hypot(at[:, 0] - x, at[:, 1] - y) < max(one.neck_long_mm, 1.5 * grid.cells.step)
        neck = float(own[low].max()) if low.any() else float(own.max())
        near = np.hypot(middles[:, 0] - x, middles[:, 1] - y) < heat().common.feeder_about.value * one.wide_mm
        feeds = float(made.near_s.ravel()[flat[near]].max()) if near.any() else 0.0
        out.append((float(own.max()), neck, feeds, float(own.max()) > feeds))
    return out


def _feeders(made: Frozen, given: Given, scaled: float) -> tuple[FeederTime, ...]:
    rounds = mould_of(given.rig).rounds
    return tuple(
        FeederTime(
            f"feeder-{one.number + 1}",
            one.number,
            one.casting,
            one.foot_mm,
            scaled * own,
            scaled * neck,
            scaled * feeds,
        )
        for one, (own, neck, feeds, _) in zip(given.rig.feeders, _round_times(made, rounds), strict=False)
    )


def _led(made: Frozen, mould: Mould, rig: RigResult) -> Field | None:
    """(nz, ny, nx) until when a liquid way leads from the sprue through what is cut for the metal and feeders; None
    where the grid holds no sprue.
    """
    grid = made.laid
    cut = np.flatnonzero((grid.feeds > 0).ravel())
    if not len(cut) or rig.sprue is None:
        return None
    x, y = rig.sprue.at_mm
    foot = STANDING @ np.array([x, y, 0.0]) if mould.standing else np.array([x, y, 0.0])
    off = np.linalg.norm(grid.cells.middles(cut) - foot, axis=1)
    near = cut[off < max(rig.sprue.foot_mm, 2.0 * grid.cells.step)]
    start = int(near[int(np.argmax(made.near_s.ravel()[near]))]) if len(near) else int(cut[int(np.argmin(off))])
    return widest_ways(np.where(grid.feeds > 0, made.near_s, np.nan), start)


def _gate(made: Frozen, ways: Field | None, at: Floats, casting: int, scaled: float) -> GateTime:
    grid = made.laid
    flat = np.flatnonzero((grid.feeds == 1).ravel())
    x, y, z = at.tolist()
    if not len(flat):
        return GateTime(casting, (x, y, z), 0.0, 0.0)
    far = np.linalg.norm(grid.cells.middles(flat) - at, axis=1)
    near = flat[far < max(NEAR_CELLS * grid.cells.step, NEAR_MM)]
    near = near if len(near) else flat[[int(np.argmin(far))]]
    # it is shut when the last of its section is
    own = scaled * float(np.median(made.near_s.ravel()[near]))
    led = own if ways is None else scaled * float(ways.ravel()[near].max())
    return GateTime(casting, (x, y, z), own, min(led, own))


@dataclass(frozen=True, eq=False)
class _Asked:
    """What is to be cured: the metal, its law, its last places, whether any of them wants it; own formers, mm; how much
    longer a measured casting took than the grid tells.
    """

    poured: Poured
    law: Law
    places: tuple[HotPlace, ...]
    wanting: bool
    formers: tuple[float, ...]
    scaled: float


def _cure(mould: Mould, asked: _Asked, given: Given, progress: Progress) -> Cure | None:
    """Feeders and chills for the job's own casting. None on end, on a tree, and where the castings are other jobs'."""
    rig = given.rig
    own = next((k for k, one in enumerate(rig.castings) if one.lot == 0), None)
    if own is None or rig.on_end or rig.tiers > 1:
        return None
    mine = [one for one, f in zip(mould.rounds, rig.feeders, strict=True) if f.casting == own]
    cold = [one for one, c in zip(mould.chills, rig.chills, strict=True) if c.casting == own]
    casting = rig.castings[own]
    alone = replace(mould, castings=(mould.castings[own],), rounds=tuple(mine), chills=tuple(cold), tight=True)

    def tick(share: float) -> None:
        progress(share, "Trying feeders and chills")

    spared = tuple(one.at_mm for one in asked.places if one.lies == Lies.GONE and one.casting == own)
    level = all(abs(one.at_mm[2]) < LEVEL_MM for one in rig.gates)
    gates = [(one.wide_mm, one.thick_mm) for one in rig.gates if one.casting == own]
    gate_mm = max(gates, default=None) if level else None
    bounds = Bounds(formers=asked.formers)
    again = partial(cured, poured=asked.poured, law=asked.law, tick=tick, spared=spared, gate_mm=gate_mm, bounds=bounds)
    if asked.wanting:
        told = tuple(
            Spot(one.at_mm, one.seconds / asked.scaled, one.cut_s / asked.scaled, one.liquid_mm3, 0, None, 1)
            for one in asked.places
            if one.wants and one.casting == own
        )
        made = again(alone, told=told)
        if mine and _sizes(made.rounds) == _sizes(alone.rounds) and made.chills == alone.chills:
            # alone and on a coarse grid they do, in the whole mould they do not: a step wider
            made = again(replace(alone, rounds=tuple(wider(one, AGAIN) for one in mine)))
    else:  # what it feeds is sound, but it sets too soon itself
        made = again(replace(alone, rounds=tuple(wider(one, AGAIN) for one in mine)))
    density = given.method.metal.density.value
    whole = _as_choices(made, ToPart(rig, casting), density)
    about = tuple((one.at_mm, one.seconds) for one in asked.places if one.wants and one.casting == own)
    if not about or (made.proved and not made.uncured and len(made.chills) <= len(alone.chills)):
        return whole

    def search(tried: Mould, bounds: Bounds) -> Found:
        return again(tried, bounds=replace(bounds, formers=asked.formers))

    walls = walls_of(given.part, given.features, partial(from_part, rig, casting))
    pad = padded(alone, walls, about, asked.law, made, search)
    return whole if pad is None else replace(whole, pad=_as_pad(pad, ToPart(rig, casting), density))


def _as_pad(made: Padded, to: "ToPart", density: float) -> Pad:
    fed = _as_choices(made.found, to, density)
    mass = fed.mass_kg + made.metal_mm3 * density * 1e-9
    x, y, z = (round(one, 2) for one in made.wall.at_mm)
    return Pad((x, y, z), made.wall.name, made.thick_mm, fed.feeders, fed.chills, mass)


def _sizes(rounds: tuple[Round, ...]) -> list[tuple[float, float]]:
    return [(one.wide_mm, one.neck_mm) for one in rounds]


@dataclass(frozen=True, eq=False)
class ToPart:
    """Places of the mould on the part as it was modelled."""

    rig: RigResult
    casting: Casting

    def point(self, at: tuple[float, float, float]) -> tuple[float, float, float]:
        """Kept to a hundredth of a millimetre."""
        x, y, z = to_part(self.rig, self.casting, np.array(at))
        return round(x, 2), round(y, 2), round(z, 2)


def _as_choices(made: Found, to: ToPart, density: float) -> Cure:
    feeders = tuple(
        FeederChoice(
            to.point((*one.on_mm, one.foot_mm[2] if one.beside is None else 0.0)),
            one.wide_mm,
            one.high_mm,
            one.neck_mm,
            one.open,
            one.sleeve_mm > 0.0,
            one.beside is not None,
        )
        for one in made.rounds
    )
    chills = tuple(ChillChoice(to.point(one.at_mm), one.side_mm, one.thick_mm) for one in made.chills)
    mass = sum(one.metal_mm3 for one in made.rounds) * density * 1e-9
    return Cure(feeders, chills, made.proved, made.runs, mass, made.uncured)


def _order(
    made: Frozen,
    places: tuple[HotPlace, ...],
    feeders: tuple[FeederTime, ...],
    gates: tuple[GateTime, ...],
    scaled: float,
) -> tuple[tuple[str, float], ...]:
    """What sets in what order, in a few groups, the first first."""
    metal = made.near_s[made.laid.casting > 0]
    rows = [
        ("thin ends", scaled * float(np.percentile(metal, THIN_PERCENT))),
        ("half of it", scaled * float(np.median(metal))),
        ("all but the last tenth", scaled * float(np.percentile(metal, LATE_PERCENT))),
    ]
    if gates:
        rows.append(("gate" if len(gates) == 1 else "gates", min(one.seconds for one in gates)))
    rows += [(f"{one.number}  {one.name}", one.seconds) for one in places if one.wants]
    if not any(one.wants for one in places):
        rows.append(("last of the casting", scaled * float(metal.max())))
    seen: set[int] = set()
    for one in feeders:
        if one.number not in seen:
            seen.add(one.number)
            rows += [(f"neck of feeder {one.number + 1}", one.neck_s), (f"feeder {one.number + 1}", one.seconds)]
    return tuple(sorted(rows, key=lambda row: row[1]))


def _lying(rig: RigResult, at: tuple[float, float, float]) -> tuple[float, float, float]:
    """A place of the mould as it is poured, where it lies before it is stood on end."""
    x, y, z = (STANDING.T @ np.array(at)).tolist() if rig.on_end else at
    return x, y, z


def _ends(rig: RigResult, ends: tuple[End, ...]) -> tuple[End, ...]:
    return tuple(replace(one, at_mm=_lying(rig, one.at_mm)) for one in ends)


def _laid_down(field: NDArray[Any]) -> NDArray[Any]:
    """An array of a mould on end as it lies: its x is what stood up, its z what lay the other way across."""
    return np.ascontiguousarray(field.transpose(2, 1, 0)[::-1])


def _picture(made: Frozen, run: Filling, scaled: float, on_end: bool) -> Picture:
    """Cut to the metal, and a cell round it; lying."""
    grid = made.laid
    held = np.argwhere(grid.metal)
    low, high = np.maximum(held.min(axis=0) - 1, 0), np.minimum(held.max(axis=0) + 2, grid.cells.shape)
    box = tuple(slice(int(a), int(b)) for a, b in zip(low, high, strict=True))
    start = grid.cells.low + low[::-1] * grid.cells.step
    shape = tuple(int(n) for n in high - low)
    cells = replace(grid.cells, low=start, shape=(shape[0], shape[1], shape[2]))
    sets = (scaled * made.near_s[box]).astype(np.float32)
    fills, casting = run.arrival_s[box].astype(np.float32), grid.casting[box].copy()
    if not on_end:
        return Picture(cells, sets, casting, fills)
    low_x, low_y, low_z = start.tolist()
    down = np.array([low_z, low_y, -(low_x + shape[2] * cells.step)])
    cells = replace(cells, low=down, shape=(shape[2], shape[1], shape[0]))
    return Picture(cells, _laid_down(sets), _laid_down(casting), _laid_down(fills))
