"""Feeders and chills found: each is tried in the heat flow and is taken only if it outlasts what it feeds.

One casting with its gates is taken alone, on a coarser grid. The largest last place that nothing feeds gets a feeder
where the widest liquid way leads to a level place on top; it grows while it sets too soon, its neck while that closes
too soon; where no such way is, or where a feeder has fed nothing, a chill is laid against the thickest of it. Bound by
a count of runs.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from enum import Enum, auto

import numpy as np
from scipy import ndimage

from pounce.feeding.besides import beside, gateable
from pounce.feeding.choices import most_cells
from pounce.feeding.judge import Law, counted, modulus_mm
from pounce.feeding.ways import COST, widest_share
from pounce.field.arrays import Field
from pounce.freeze.heats import Poured, frozen, sand_mm
from pounce.freeze.lay import laid, spacing
from pounce.freeze.spots import Spot
from pounce.freeze.values import Block, Frozen, Mould, Point, Round, Stuff
from pounce.metals.heat import heat
from pounce.solid.mesh import Floats

# So many runs at most, on a grid so fine; a feeder or its neck grows by such steps; diameters are rounded up so.
RUNS, CELLS, GROW, MOST_GROW, NECK_GROW, ROUND_MM = 10, 140_000, 1.08, 1.8, 1.2, 2.0
# Work (melting cells times stages) after which no further run is begun: some twenty seconds.
WORK = 1.5e9
# Sand laid about the casting at most, where it holds its heat, mm.
MOST_SAND_MM = 40.0
# So much of a neck's disc is to be level.
LEVEL_SHARE = 0.5
# A round feeder of H = 1.2 D on the casting has V/A = D/4.833; four times the modulus makes a neck.
MODULUS, NECK = 4.833, 4.4
# Necks tried where there is no room for a whole one.
SLIM = (1.0, 0.8, 0.62)
LEAST_MM, MOST_SHARE = 10.0, 1.2
# A feeder that leaves more than this of what was liquid at its place feeds nothing there.
FED_NOTHING = 0.9


@dataclass(frozen=True)
class Bounds:
    """So many runs at most and so much work, on a grid of so many cells at most; diameters (mm) of formers that are
    there.
    """

    runs: int = RUNS
    cells: int = CELLS
    work: float = WORK
    formers: tuple[float, ...] = ()


@dataclass(frozen=True, eq=False)
class Found:
    """What was found on a casting: rounds and blocks in the mould's frame, whether the last run proved them, how many
    runs it took, last places that nothing cured, and how much work it was.
    """

    rounds: tuple[Round, ...]
    chills: tuple[Block, ...]
    proved: bool
    runs: int
    uncured: int
    work: float = 0.0


class _More(Enum):
    """What a place got: nothing, for nothing is left to try; metal that feeds it or may feed others; a chill."""

    NOTHING = auto()
    FEED = auto()
    CHILL = auto()


@dataclass(eq=False)
class _Search:
    mould: Mould
    poured: Poured
    law: Law
    pad: float
    step: float
    rounds: list[Round]
    chills: list[Block]
    given_up: list[Floats]
    spared: list[Floats]
    gate_mm: tuple[float, float] | None
    # places that got a feeder, with it
    fed: list[tuple[Spot, tuple[float, float]]] = field(default_factory=list)
    # where feeders stand that fed nothing and have been replaced by a chill
    idle: set[tuple[float, float]] = field(default_factory=set)
    runs: int = 0
    work: float = 0.0

    def run(self) -> Frozen:
        self.runs += 1
        # heights of open feeders count from the cope that they will have
        top = max([self.mould.top_mm, *(one.top_mm for one in self.rounds)])
        mould = replace(self.mould, rounds=tuple(self.rounds), chills=tuple(self.chills), top_mm=top)
        made = frozen(laid(mould, self.step, self.pad), self.poured, lambda _share, _at: None)
        self.work += made.work
        return made


def cured(
    mould: Mould,
    poured: Poured,
    law: Law,
    tick: Callable[[float], None],
    spared: tuple[Point, ...] = (),
    gate_mm: tuple[float, float] | None = None,
    bounds: "Bounds | None" = None,
    told: tuple[Spot, ...] = (),
    gone: Callable[[Spot], bool] = lambda _spot: False,
) -> Found:
    """Feeders and chills for a mould of one casting; those it has already are grown or kept. Places ``spared``, and
    those that are ``gone``, need none: what may be hollow there is cut away. Places ``told`` want something in the
    whole mould, and get it though the casting alone, on its own grid, hardly shows them. ``gate_mm`` how wide and thick
    a gate must still find room on a level joint, where feeders may stand on gates too (None: neither is asked).
    ``bounds`` of the search (None: the usual).
    """
    modulus = max(one.volume / one.area for one in mould.castings)
    pad = sand_mm(poured, modulus, MOST_SAND_MM)
    bounds = bounds or Bounds()
    step = spacing(mould, pad, min(bounds.cells, most_cells()))  # no finer than a slow machine asks
    harmless = [np.array(one) for one in spared]
    search = _Search(mould, poured, law, pad, step, list(mould.rounds), list(mould.chills), [], harmless, gate_mm)
    proved: list[Round] | None = None
    while search.runs < bounds.runs and search.work < bounds.work:
        tick(search.runs / bounds.runs)
        made = search.run()
        wanting = tuple(one for one in counted(made, law)[0] if not _near(one, search.spared) and not gone(one))
        short = _too_short(search, made, wanting)
        left = [one for one in wanting if not _near(one, search.given_up)]
        if not left and not short and search.runs == 1 and not search.rounds and not search.chills:
            left = [one for one in told if not _near(one, search.spared)]
        if not left and not short:
            proved = list(search.rounds)
            if not _trimmed(search, made):
                break
            continue
        if proved is not None:  # smaller does not do
            break
        for k, more in short.items():
            search.rounds[k] = wider(search.rounds[k], more)
        _more(search, made, left)
    rounds = search.rounds if proved is None else proved
    return Found(
        tuple(_rounded(one, bounds.formers) for one in rounds),
        tuple(search.chills),
        proved is not None,
        search.runs,
        len(search.given_up),
        search.work,
    )


def _more(search: _Search, made: Frozen, left: list[Spot]) -> None:
    """Something more for the largest place; for the next too while only chills are laid: a feeder may feed others, a
    chill bears on its own place alone. Feeders that fed nothing are taken back last: the grid knows them by number.
    """
    changed = False
    for spot in left:
        got = _another(search, made, spot)
        if got is _More.FEED:
            break
        changed = changed or got is _More.CHILL
        if got is _More.NOTHING and not changed:  # what was laid in this run may help it yet
            search.given_up.append(np.array(spot.at_mm))
    search.rounds[:] = [one for one in search.rounds if one.on_mm not in search.idle]
    search.idle.clear()


def _trimmed(search: _Search, made: Frozen) -> bool:
    """Makes feeders that last far longer than they need smaller, as far as they still have enough to give; whether any
    was. What is liquid about them is taken from their time, as the square of size.
    """
    c = heat().common
    any_ = False
    for k, one in enumerate(search.rounds):
        if k < len(search.mould.rounds):  # what stands already is somebody's choice
            continue
        own = made.near_s[made.laid.feeds == k + 2]
        near = _beside(made, one)
        if not len(own) or near <= 0.0:
            continue
        spare = float(own.max()) / (c.outlasts.value * near)
        if spare < c.feeder_spare.value:
            continue
        fed = float(made.laid.shares[(made.laid.casting > 0) & (made.near_s >= 0.5 * near)].sum())
        enough = _by_volume(search, fed * made.laid.cells.cell_mm3 / len(search.rounds), one.sleeve_mm > 0.0)
        wide = max(one.wide_mm / math.sqrt(spare / c.feeder_margin.value), enough, LEAST_MM)
        if wide < one.wide_mm - ROUND_MM:
            search.rounds[k] = _sized(one, wide, one.high_mm * wide / one.wide_mm, min(one.neck_mm, wide))
            any_ = True
    return any_


def _beside(made: Frozen, one: Round) -> float:
    """When the last of the casting about a feeder's foot sets, s."""
    casting = np.flatnonzero((made.laid.casting > 0).ravel())
    middles = made.laid.cells.middles(casting)
    reach = heat().common.feeder_about.value * one.wide_mm
    near = np.hypot(middles[:, 0] - one.on_mm[0], middles[:, 1] - one.on_mm[1]) < reach
    return float(made.near_s.ravel()[casting[near]].max()) if near.any() else 0.0


def _near(spot: Spot, places: list[Floats]) -> bool:
    return any(float(np.linalg.norm(np.array(spot.at_mm) - one)) < 12.0 for one in places)


def _too_short(search: _Search, made: Frozen, wanting: tuple[Spot, ...]) -> dict[int, float]:
    """Feeders that set before the last place beside them, and how much wider each is to be: time goes as the square of
    its size.
    """
    out = {}
    for k, one in enumerate(search.rounds):
        own = made.near_s[made.laid.feeds == k + 2]
        near = [spot for spot in wanting if spot.fed_by == k + 2 or _under(one, spot)]
        # the metal about its foot, heated by it, counts as much as a last place of its own
        longest = max((spot.seconds for spot in near), default=_beside(made, one))
        if len(own) and longest > 0.0 and float(own.max()) < heat().common.outlasts.value * longest:
            more = math.sqrt(heat().common.outlasts.value * longest / max(float(own.max()), 1e-6))
            out[k] = min(max(more, GROW), MOST_GROW)
    return out


def _under(one: Round, spot: Spot) -> bool:
    off = math.hypot(spot.at_mm[0] - one.on_mm[0], spot.at_mm[1] - one.on_mm[1])
    return off < heat().common.feeder_about.value * one.wide_mm


def wider(one: Round, more: float) -> Round:
    """A feeder so much wider, with its height and neck."""
    wide = one.wide_mm * more
    high = max(one.high_mm * more, heat().common.feeder_high.value * wide)
    return _sized(one, wide, high, min(one.neck_mm * more, wide))


def _sized(one: Round, wide: float, high: float, neck: float) -> Round:
    """The same in other sizes; one beside its casting moves out with its width."""
    foot = one.foot_mm
    if one.beside is not None:
        way = np.array(foot[:2]) - np.array(one.beside)
        way /= max(float(np.linalg.norm(way)), 1e-9)
        x, y = (np.array(one.beside) + way * (one.neck_long_mm + one.sleeve_mm + wide / 2.0)).tolist()
        foot = (x, y, foot[2])
    return replace(one, foot_mm=foot, wide_mm=wide, high_mm=high, neck_mm=neck)


def _another(search: _Search, made: Frozen, spot: Spot) -> _More:
    """Something more for a place that nothing feeds: a wider neck, a feeder, a chill."""
    for k, one in enumerate(search.rounds):
        if not (spot.fed_by == k + 2 or _under(one, spot)):
            continue
        closes = spot.closes_mm
        root = (*one.on_mm, one.foot_mm[2] + one.neck_high_mm / 2.0)
        at_neck = closes is not None and math.dist(closes, root) < max(one.neck_mm, 3.0 * search.step)
        if at_neck and one.neck_mm < one.wide_mm - 0.1:
            neck = min(one.neck_mm * NECK_GROW, one.wide_mm)
            long = 0.0 if neck >= one.wide_mm and one.beside is None else one.neck_long_mm
            search.rounds[k] = replace(one, neck_mm=neck, neck_long_mm=long)
            return _More.FEED
        own = made.near_s[made.laid.feeds == k + 2]
        if len(own) and float(own.max()) < heat().common.outlasts.value * spot.seconds:
            return _More.FEED  # it has been made wider
    idle = _idle(search, spot)
    new = None if idle else _feeder_for(search, made, spot)
    if new is not None:
        search.rounds.append(new)
        search.fed.append((spot, new.on_mm))
        return _More.FEED
    block = _chill_for(search, made, spot)
    if block is None:
        return _More.NOTHING
    search.idle.update(idle)  # metal for nothing
    search.chills.append(block)
    return _More.CHILL


def _idle(search: _Search, spot: Spot) -> list[tuple[float, float]]:
    """Where feeders stand that were set for this place and have fed nothing there."""
    return [
        on
        for before, on in search.fed
        if _near(spot, [np.array(before.at_mm)]) and spot.liquid_mm3 > FED_NOTHING * before.liquid_mm3
    ]


def _feeder_for(search: _Search, made: Frozen, spot: Spot) -> Round | None:
    """The feeder by modulus and by volume, where the widest liquid way leads to a level top."""
    c = heat().common
    modulus = modulus_mm(spot.seconds, search.law)
    by_modulus = MODULUS * c.feeder_modulus.value * modulus
    wide = max(by_modulus, _by_volume(search, spot.liquid_mm3, False), LEAST_MM)
    mesh = search.mould.castings[0]
    size = float(max(mesh.size[:2]))
    if wide > MOST_SHARE * size:
        return None
    heavy = math.pi / 4.0 * wide**3 * c.feeder_high.value > c.feeder_heavy.value * mesh.volume
    sleeve = c.sleeve_wall.value if heavy else 0.0
    if heavy:
        wide = max(by_modulus / c.sleeve_lasts.value, _by_volume(search, spot.liquid_mm3, True), LEAST_MM)
    neck = min(max(c.neck.value * wide, NECK * modulus), wide)
    made_so = Round((0.0, 0.0, 0.0), wide, c.feeder_high.value * wide, neck, 0.0, True, sleeve)
    top = _on_top(search, made, spot, made_so)
    if top is not None and sleeve > 0.0 and search.mould.top_mm - top.base_mm > c.blind_from.value * top.high_mm:
        # up to the air it would hold far more metal than it needs; a bare one cannot be drawn out through its neck
        top = replace(top, open=False)
    if top is None or search.gate_mm is None:
        return top if search.gate_mm is None else beside(made, spot, made_so, search.rounds, search.mould.top_mm)
    if gateable(made, [*search.rounds, top], search.chills, search.gate_mm):
        return top
    # it would leave the gates no room: the metal runs in through it
    return beside(made, spot, made_so, search.rounds, search.mould.top_mm)


def _on_top(search: _Search, made: Frozen, spot: Spot, sized: Round) -> Round | None:
    """A feeder of this size on top of the casting."""
    c = heat().common
    wide, neck = sized.wide_mm, sized.neck_mm
    foot = None
    for share in SLIM:  # a boss narrower than the neck takes a slimmer one
        foot = foot or _foot(search, made, spot, wide, share * neck)
        if foot is not None:
            neck *= share
            break
    if foot is None:
        return None
    return replace(sized, foot_mm=foot, neck_mm=neck, neck_long_mm=c.neck_long.value if neck < wide else 0.0)


def _by_volume(search: _Search, liquid_mm3: float, sleeved: bool) -> float:
    """Diameter (mm) of a feeder that has enough to give: V_f (gives - s) = s V (handbooks of feeding)."""
    c = heat().common
    gives = (c.sleeve_gives if sleeved else c.gives).value
    volume = search.law.shrinks * liquid_mm3 / max(gives - search.law.shrinks, 0.02)
    return float((volume / (math.pi / 4.0 * c.feeder_high.value)) ** (1.0 / 3.0))


def _foot(search: _Search, made: Frozen, spot: Spot, wide: float, neck: float) -> tuple[float, float, float] | None:
    """The best place on top for a feeder so wide; None where no open way leads to one."""
    laid_, cells = made.laid, made.laid.cells
    casting = laid_.casting > 0
    open_ = widest_share(made, spot)
    nz = cells.shape[0]
    top = nz - 1 - np.argmax(casting[::-1], axis=0)
    held = casting.any(axis=0)
    # nothing but sand over it: no print, no other casting's overhang
    over = np.arange(nz)[:, None, None] > top[None]
    free = held & ~((laid_.kinds == Stuff.CORE) & over).any(axis=0)
    heights = np.where(held, top, -10_000).astype(float)
    ways = np.zeros(held.shape)
    # the skin sets early, but not under a feeder: what counts is how open it is half a neck under it
    for k in range(max(round(neck / 2.0 / cells.step), 1) + 1):
        ways = np.maximum(ways, np.take_along_axis(open_, np.maximum(top - k, 0)[None], axis=0)[0])
    radius = max(neck / 2.0 / cells.step, 0.7)
    disc = _disc(radius)
    level = np.zeros(held.shape)
    for dj, di in disc:
        beside = _shifted(heights, dj, di, -10_000.0)
        level += np.abs(beside - heights) <= 1.5
    level /= len(disc)
    blocked = np.zeros(held.shape, bool)
    core_over = ~free & held | ((laid_.kinds == Stuff.CORE) & over).any(axis=0)
    for dj, di in _disc(max(wide / 2.0 / cells.step, 1.0)):
        blocked |= _shifted(core_over.astype(float), dj, di, 0.0) > 0.5
        # nor metal that stands up through the feeder's side
        blocked |= _shifted(heights, dj, di, -10_000.0) > heights + max(2.0, wide / 4.0 / cells.step)
    may = free & (ways >= heat().common.way_open.value) & (level >= LEVEL_SHARE) & ~blocked
    for one in search.rounds:
        j, i = (round(v) for v in _cell_of(cells.low, cells.step, one.foot_mm))
        gap = (one.wide_mm + wide) / 2.0 / cells.step
        jj, ii = np.indices(held.shape)
        may &= np.hypot(jj - j, ii - i) > gap
    if not may.any():
        return None
    jj, ii = np.indices(held.shape)
    x = cells.low[0] + (ii + 0.5) * cells.step
    y = cells.low[1] + (jj + 0.5) * cells.step
    size = float(max(search.mould.castings[0].size[:2]))
    off = np.hypot(x - spot.at_mm[0], y - spot.at_mm[1]) / size
    # the hottest cell is not the middle of a boss to a hair: the middle of what is level is
    cost = COST * np.maximum(0.85 - ways, 0.0) + (1.0 - level) + off
    cost = ndimage.uniform_filter(np.where(may, cost, 10.0), 3, mode="nearest") + np.where(may, 0.0, 100.0)
    j, i = (int(v) for v in np.unravel_index(int(np.argmin(cost)), cost.shape))
    z = float(cells.low[2] + (top[j, i] + 1) * cells.step)
    return float(x[j, i]), float(y[j, i]), z


def _cell_of(low: Field, step: float, at: tuple[float, float, float]) -> tuple[float, float]:
    return (at[1] - low[1]) / step - 0.5, (at[0] - low[0]) / step - 0.5


def _disc(radius: float) -> list[tuple[int, int]]:
    reach = math.ceil(radius)
    return [
        (dj, di) for dj in range(-reach, reach + 1) for di in range(-reach, reach + 1) if math.hypot(dj, di) <= radius
    ]


def _shifted(array: Floats, dj: int, di: int, empty: float) -> Floats:
    out = np.full(array.shape, empty)
    ny, nx = array.shape
    to = (slice(max(-dj, 0), ny - max(dj, 0)), slice(max(-di, 0), nx - max(di, 0)))
    of = (slice(max(dj, 0), ny + min(dj, 0)), slice(max(di, 0), nx + min(di, 0)))
    out[to] = array[of]
    return out


def _chill_for(search: _Search, made: Frozen, spot: Spot) -> Block | None:
    """A chill against the thickest of a place, on the nearest sand; None where one lies there already."""
    c, cells = heat().common, made.laid.cells
    if any(math.dist(spot.at_mm, one.at_mm) < 2.0 * one.side_mm for one in search.chills):
        return None
    casting = made.laid.casting > 0
    far, where = ndimage.distance_transform_edt(casting, return_indices=True)
    flat = int(cells.at(np.array([spot.at_mm]))[0])
    half = float(far.ravel()[flat]) * cells.step
    nearest = np.array([axis.ravel()[flat] for axis in where])
    if made.laid.kinds[tuple(nearest)] not in (Stuff.SAND, Stuff.CHILL):
        return None
    x, y, z = (cells.low + (nearest[::-1] + 0.5) * cells.step).tolist()
    out = np.array([x, y, z]) - np.array(spot.at_mm)
    size = float(np.linalg.norm(out))
    if size < 1e-9:
        return None
    out /= size
    # straight up, down or aside, as a block is laid: along the axis it looks along most
    axis = int(np.argmax(np.abs(out)))
    straight = np.zeros(3)
    straight[axis] = np.sign(out[axis])
    if abs(float(out @ straight)) > 0.9:
        out = straight
    at = np.array(spot.at_mm) + out * max(half - 0.5 * cells.step, 0.0)
    a, b, d = out.tolist()
    side = math.ceil(max(c.chill_wide.value * half, 8.0))
    thick = math.ceil(max(c.chill_thick.value * half, 5.0))
    return Block((float(at[0]), float(at[1]), float(at[2])), (a, b, d), float(side), float(thick))


def _rounded(one: Round, formers: tuple[float, ...]) -> Round:
    """Up to the next former that is there, else to one that is turned or printed in whole steps."""
    wide = math.ceil(one.wide_mm / ROUND_MM - 1e-6) * ROUND_MM
    most = heat().common.former_wider.value * one.wide_mm
    own = [former for former in formers if one.wide_mm - 1e-6 <= former <= most]
    wide = min(own, default=wide)
    whole = one.neck_mm >= one.wide_mm - 0.1 and one.beside is None
    neck = wide if whole else min(math.ceil(one.neck_mm / ROUND_MM - 1e-6) * ROUND_MM, wide)
    high = math.ceil(one.high_mm)
    sized = _sized(one, wide, float(high), neck)
    return replace(sized, neck_long_mm=0.0) if whole else sized
