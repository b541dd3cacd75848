"""Heat between cells: what melts is carried by its enthalpy, what only warms by its temperature.

The two are worked in turns. Sand moves little heat, so it takes few stages of a step; metal moves much, and takes many,
but is the smaller part, so its cells stand in a row of their own, each with the numbers of its neighbours. Both go by
Runge-Kutta-Legendre stages (first order; Meyer, Balsara and Aslam 2014), that take a step of (s^2 + s)/2 explicit ones
in s stages. Heat that passes from metal to sand while sand moves is summed by the same recurrence, and is then taken
from the metal as a constant source: nothing is lost but by rounding. Steps grow with the time, for a skin that grows as
its root asks no more.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy import ndimage

from pounce.field.arrays import Field, Flags, Numbers
from pounce.field.cells import Cells
from pounce.solid.kernels import njit, prange

# The first step is this share of the sand's explicit one; no run takes more steps than these.
FIRST, MOST_STEPS = 0.2, 600
# A face between metal and sand passes no more in a step than this share of what would cool the metal to the sand.
HELD = 0.8
# A cell filled less counts as so much: smaller ones would ask for many more stages.
LEAST_SHARE = 0.4
F32 = np.float32


@dataclass(frozen=True)
class Substance:
    """What fills a cell: how it conducts (W/(m K)), the heat it holds solid and liquid (J/(m3 K)), latent heat (J/m3),
    where it sets (C) and the temperature it starts with (C). ``melts``: it is carried by its enthalpy. ``film`` (W/(m2
    K)) is what a face to it passes at most; 0 for as much as the cells conduct. ``stays``: it keeps its temperature.
    """

    conducts: float
    solid_heat: float
    liquid_heat: float
    latent: float
    solidus_c: float
    liquidus_c: float
    start_c: float
    melts: bool = False
    film: float = 0.0
    stays: bool = False

    @property
    def freezing(self) -> float:
        """Heat (J/m3) given off between liquidus and solidus."""
        between = (self.liquidus_c - self.solidus_c) * (self.solid_heat + self.liquid_heat) / 2.0
        return self.latent + between

    def enthalpy(self, at_c: float) -> float:
        """J/m3 over what is just solid."""
        if at_c <= self.solidus_c or not self.latent:
            return (at_c - self.solidus_c) * self.solid_heat
        if at_c >= self.liquidus_c:
            return self.freezing + (at_c - self.liquidus_c) * self.liquid_heat
        return self.freezing * (at_c - self.solidus_c) / (self.liquidus_c - self.solidus_c)


@dataclass(frozen=True, eq=False)
class Cooled:
    """What came of it, (nz, ny, nx): ``near_s`` when each melting cell was so far solid as asked, ``solid_s`` when it
    was solid (s; inf where it never was, NaN where nothing melts), ``end_c`` temperatures at the end; how
    long it ran (s), in how many steps, the heat that went astray as a share of what the metal gave off, and how much
    work it was: melting cells times stages.
    """

    near_s: Field
    solid_s: Field
    end_c: Field
    ran_s: float
    steps: int
    energy_error: float
    work: float = 0.0


@dataclass(frozen=True, eq=False)
class Asked:
    """``kinds`` (nz, ny, nx) int8 numbers of ``substances``; ``shares`` how much of a melting cell is filled (1: all);
    ``near`` the share solid that ``near_s`` waits for; ``growth`` of the step by the time; ``until_s`` ends it
    though something is liquid; ``watched`` (nz, ny, nx) what must be solid before it ends (None: all that
    melts).
    """

    cells: Cells
    kinds: Numbers
    substances: tuple[Substance, ...]
    shares: Field
    near: float = 0.7
    growth: float = 0.04
    until_s: float = math.inf
    watched: Flags | None = None


def cooled(asked: Asked, tick: Callable[[float, float], None] = lambda _share, _at_s: None) -> Cooled:
    """Runs until all that melts is solid. ``tick(share of it solid, seconds)`` is called at each step."""
    return _Run(asked).run(tick)


class _Run:
    """The arrays of a run; everything has a border of one cell that nothing flows through."""

    def __init__(self, asked: Asked) -> None:
        self.asked = asked
        subs = asked.substances
        self.h = asked.cells.step / 1000.0
        kinds = np.pad(asked.kinds, 1, mode="edge").astype(np.int8)
        self.shape, self.kinds = kinds.shape, kinds
        melts = np.array([one.melts for one in subs])
        inner = np.zeros(kinds.shape, np.bool_)
        inner[1:-1, 1:-1, 1:-1] = True
        self.melting = melts[kinds] & inner
        self.metal_at = np.flatnonzero(self.melting)
        self.count, self.work = float(len(self.metal_at)), 0.0
        self.warming = ~melts[kinds] & inner & ~np.array([one.stays for one in subs])[kinds]
        share = np.pad(asked.shares, 1, constant_values=1.0).astype(F32)
        self.inverse_share = (1.0 / np.maximum(share.ravel()[self.metal_at], LEAST_SHARE)).astype(F32)
        self.metal_kinds = kinds.ravel()[self.metal_at].astype(np.uint8)
        of_metal, self.of_sand = self._faces()
        self.around, self.metal_g = self._neighbours(of_metal)
        held = np.array([one.solid_heat for one in subs])[kinds]
        self.inverse_held = np.where(self.warming, 1.0 / held, 0.0).astype(F32)
        even, self.even_g = self._even()
        self.sand_runs = _runs(np.where(self.warming & ~even, 0, -1))
        self.even_runs = _runs(np.where(even, 0, -1))
        self.figures = np.array(
            [
                [
                    one.solidus_c,
                    1.0 / one.solid_heat,
                    one.freezing if one.latent else 0.0,
                    (one.liquidus_c - one.solidus_c) / one.freezing if one.latent else 0.0,
                    1.0 / one.liquid_heat,
                ]
                for one in subs
            ],
            F32,
        )
        self.crossing()
        self.limits()

    def _faces(self) -> tuple[list[Field], list[Field]]:
        """Conductances over the square of the step, W/(m3 K), of the faces up each axis: between what melts, and of
        all faces that sand looks at, those to metal and air among them.
        """
        subs = self.asked.substances
        n = len(subs)
        pair, between = np.zeros((n, n)), np.zeros((n, n))
        for a, one in enumerate(subs):
            for b, other in enumerate(subs):
                films = [film for film in (one.film, other.film) if film > 0.0 and a != b]
                resists = self.h / 2.0 * (1.0 / one.conducts + 1.0 / other.conducts) + sum(1.0 / film for film in films)
                g = 1.0 / resists / self.h
                if one.stays and other.stays:
                    continue
                if one.melts and other.melts:
                    pair[a, b] = g
                elif not ((one.stays and not other.melts) or (other.stays and not one.melts)):
                    between[a, b] = g  # sand passes nothing to the air: what it loses there is little
        metal: list[Field] = []
        sand: list[Field] = []
        for axis in (2, 1, 0):
            near, far = _pair(self.kinds, axis)
            live = np.zeros(self.shape, np.bool_)
            low = tuple(slice(1, -2) if k == axis else slice(1, -1) for k in range(3))
            live[low] = True
            for out, table in ((metal, pair), (sand, between)):
                face = np.zeros(self.shape, F32)
                face[_first(axis)] = table[near, far]
                out.append(np.where(live, face, 0.0).astype(F32))
        return metal, sand

    def _neighbours(self, faces: list[Field]) -> tuple[Numbers, Field]:
        """(n, 6) numbers of the cells about each melting cell, itself where none is, and what passes to them for each
        degree as it warms the cell: W/(m3 K) over the share of it that is filled.
        """
        _, ny, nx = self.shape
        number = np.full(self.melting.size, -1, np.int32)
        number[self.metal_at] = np.arange(len(self.metal_at), dtype=np.int32)
        around = np.empty((len(self.metal_at), 6), np.int32)
        g = np.empty((len(self.metal_at), 6), F32)
        for k, jump in enumerate((1, nx, nx * ny)):
            face = faces[k].ravel()
            for column, other, at in (
                (2 * k, self.metal_at + jump, self.metal_at),
                (2 * k + 1, self.metal_at - jump, self.metal_at - jump),
            ):
                g[:, column] = face[at] * self.inverse_share
                around[:, column] = np.where(face[at] > 0.0, number[other], number[self.metal_at])
        return around, g

    def _even(self) -> tuple[Flags, float]:
        """(nz, ny, nx) cells of plain sand with plain sand all about them, most of the grid and all alike, and how fast
        (1/s) each face of them warms a cell for each degree.
        """
        of_kind = [kind for kind, one in enumerate(self.asked.substances) if not one.melts and not one.stays]
        out = np.zeros(self.shape, np.bool_)
        if not of_kind:
            return out, 0.0
        most = max(of_kind, key=lambda kind: int((self.kinds == kind).sum()))
        plain = self.kinds == most
        out[1:-1, 1:-1, 1:-1] = plain[1:-1, 1:-1, 1:-1]
        for axis in range(3):
            for way in (1, -1):
                out &= np.roll(plain, way, axis)
        # nothing flows through the border, so what lies along it is not alike
        for axis in range(3):
            for at in (1, -2):
                out[tuple(at if k == axis else slice(None) for k in range(3))] = False
        sand = self.asked.substances[most]
        return out, sand.conducts / self.h**2 / sand.solid_heat

    def crossing(self) -> None:
        """Faces between what melts and what does not, sorted by the melting cell."""
        flat_melts, size = self.melting.ravel(), self.melting.size
        _, ny, nx = self.shape
        cells, others, faces, axes = [], [], [], []
        for k, jump in enumerate((1, nx, nx * ny)):
            g = self.of_sand[k].ravel()
            near = np.flatnonzero(g > 0.0)
            far = near + jump
            for mine, theirs in ((near, far), (far, near)):
                pick = flat_melts[mine] & ~flat_melts[theirs]
                cells.append(mine[pick])
                others.append(theirs[pick])
                faces.append(near[pick])
                axes.append(np.full(int(pick.sum()), k))
        cell, other, face, axis = (np.concatenate(one).astype(np.int64) for one in (cells, others, faces, axes))
        order = np.argsort(cell, kind="stable")
        self.face_cell, self.face_other, self.face_at, self.face_axis = (
            cell[order],
            other[order],
            face[order],
            axis[order],
        )
        self.edge_cells, self.edge_start = np.unique(self.face_cell, return_index=True)
        self.edge_start = np.append(self.edge_start, len(self.face_cell)).astype(np.int64)
        stays = np.array([one.stays for one in self.asked.substances])
        self.to_air = stays[self.kinds.ravel()[self.face_other]]
        along = [np.flatnonzero(self.face_axis == k) for k in range(3)]
        self.faces_along = [(mine, self.face_at[mine]) for mine in along]
        self.edge_at = np.searchsorted(self.metal_at, self.edge_cells)
        self.face_g = np.stack([one.ravel() for one in self.of_sand])[self.face_axis, self.face_at].astype(F32)
        # how many such faces a melting cell has in its neighbourhood, over how much metal: thin walls pass much
        count = np.zeros(size)
        np.add.at(count, self.face_cell, 1.0)
        metal = np.zeros(size)
        metal[self.metal_at] = 1.0 / self.inverse_share
        near_faces = ndimage.uniform_filter(count.reshape(self.shape), 3, mode="constant")
        near_metal = ndimage.uniform_filter(metal.reshape(self.shape), 3, mode="constant")
        spread = (near_faces / np.maximum(near_metal, 1e-9)).ravel()[self.face_cell]
        subs = self.asked.substances
        held = np.array([one.solid_heat for one in subs])
        kind, their = self.kinds.ravel()[self.face_cell], self.kinds.ravel()[self.face_other]
        # J/(m3 K) of the metal over that of the sand and its faces
        self.room = (held[kind] / np.maximum(held[their] * spread, 1e-9)).astype(F32)
        self.spreads = (np.array([one.conducts / one.solid_heat for one in subs])[their] / self.h**2).astype(F32)

    def limits(self) -> None:
        """Explicit steps, s: 1/max(sum g / C)."""
        soft = np.array([min(one.solid_heat, one.liquid_heat) for one in self.asked.substances])[self.metal_kinds]
        rate = float((self.metal_g.sum(axis=1) / soft).max(initial=0.0))
        self.metal_limit = 1.0 / rate if rate > 0.0 else math.inf
        rate = float((_sums(self.of_sand) * self.inverse_held).max())
        self.sand_limit = 1.0 / rate if rate > 0.0 else math.inf

    def run(self, tick: Callable[[float, float], None]) -> Cooled:
        subs, asked = self.asked.substances, self.asked
        t_now = np.array([one.start_c for one in subs])[self.kinds].astype(F32)
        t_before = t_now.copy()
        starts = np.array([one.enthalpy(one.start_c) if one.melts else 0.0 for one in subs])[self.metal_kinds]
        metal = _Metal.at(starts.astype(F32), t_now.ravel()[self.metal_at])
        source = np.zeros(len(self.metal_at), F32)
        freezes = np.array([one.melts and one.latent > 0.0 for one in subs])[self.metal_kinds]
        near = np.where(freezes, np.inf, np.nan).astype(F32)
        solid = near.copy()
        marks = np.array([(1.0 - asked.near) * one.freezing for one in subs], F32)[self.metal_kinds]
        watched = freezes if asked.watched is None else freezes & np.pad(asked.watched, 1).ravel()[self.metal_at]
        total = max(int(watched.sum()), 1)
        first_heat = self._heat(metal.heat, t_now)
        lost_air, now, steps = 0.0, 0.0, 0
        done = 0
        while now < asked.until_s and steps < MOST_STEPS and done < total:
            dt = min(max(asked.growth * now, FIRST * min(self.sand_limit, 1e3)), asked.until_s - now)
            if not len(self.face_cell) and math.isinf(self.sand_limit):
                dt = max(asked.growth * now, self.metal_limit)
            self._held_back(dt)
            passed = self._sand(t_now, t_before, dt)
            t_now, t_before = passed[0], passed[1]
            source[self.edge_at] = -passed[2] * self.inverse_share[self.edge_at] / dt
            lost_air += passed[3]
            old = metal.heat.copy()
            self._metal(metal, source, dt)
            t_now.ravel()[self.metal_at] = metal.at_c
            _crossed(old, metal.heat, near, solid, marks, F32(now), F32(dt))
            now += dt
            steps += 1
            done = int((watched & np.isfinite(solid)).sum())
            tick(done / total, now)
        gave = float(((starts - metal.heat) / self.inverse_share).sum())
        astray = abs(self._heat(metal.heat, t_now) + lost_air - first_heat) / max(gave, 1e-12)
        end = t_now[1:-1, 1:-1, 1:-1].copy()
        return Cooled(self._spread(near), self._spread(solid), end, now, steps, astray, self.work)

    def _spread(self, of_metal: Field) -> Field:
        """(nz, ny, nx) what is known of melting cells, NaN elsewhere."""
        out = np.full(self.shape, np.nan, F32)
        out.ravel()[self.metal_at] = of_metal
        return out[1:-1, 1:-1, 1:-1].copy()

    def _heat(self, h: Field, t: Field) -> float:
        """All heat in the grid, J/m3 of a cell."""
        held = np.array([one.solid_heat for one in self.asked.substances])[self.kinds]
        metal = (h.astype(np.float64) / self.inverse_share).sum()
        return float(metal + (t[self.warming].astype(np.float64) * held[self.warming]).sum())

    def _held_back(self, dt: float) -> None:
        """Faces of thin metal are held back where a step would cool it past the sand."""
        fourier = self.spreads * F32(dt)
        deep = 2.0 * np.minimum(fourier, np.sqrt(fourier / F32(math.pi)))
        factor = np.minimum(1.0, HELD * self.room / np.maximum(deep, 1e-12))
        self.g_now = (self.face_g * factor).astype(F32)
        for axis, (mine, at) in enumerate(self.faces_along):
            self.of_sand[axis].ravel()[at] = self.g_now[mine]

    def _sand(self, now: Field, before: Field, dt: float) -> tuple[Field, Field, Field, float]:
        """Sand carried on by ``dt`` beside metal that keeps its temperature: its temperatures, the array they may be
        lost in, what each edge cell gave (J/m3), and what went to the air.
        """
        before[...] = now
        gave_now, gave_before = np.zeros(len(self.edge_cells)), np.zeros(len(self.edge_cells))
        stages = _stages(dt, self.sand_limit)
        for j in range(1, stages + 1):
            omega, weight = _stage(j, stages)
            _passed(
                self.edge_cells,
                self.edge_start,
                self.face_other,
                self.g_now,
                now.ravel(),
                gave_now,
                gave_before,
                omega,
                weight * dt,
            )
            gave_now, gave_before = gave_before, gave_now
            gx, gy, gz = (one.ravel() for one in self.of_sand)
            _warmed(
                self.sand_runs,
                now.ravel(),
                before.ravel(),
                gx,
                gy,
                gz,
                self.inverse_held.ravel(),
                self.shape[2],
                self.shape[2] * self.shape[1],
                F32(omega),
                F32(weight * dt),
            )
            _evenly_warmed(
                self.even_runs,
                now.ravel(),
                before.ravel(),
                self.shape[2],
                self.shape[2] * self.shape[1],
                F32(omega),
                F32(weight * dt * self.even_g),
            )
            now, before = before, now
        air = 0.0
        if self.to_air.any():
            # air keeps its temperature, so what passes to it is the same at every stage
            flat = now.ravel()
            mine = self.to_air
            air = float((self.g_now[mine] * (flat[self.face_cell[mine]] - flat[self.face_other[mine]])).sum()) * dt
        return now, before, gave_now, air

    def _metal(self, metal: "_Metal", source: Field, dt: float) -> None:
        """Enthalpies and temperatures carried on by ``dt``."""
        stages = _stages(dt, self.metal_limit)
        self.work += stages * self.count
        for j in range(1, stages + 1):
            omega, weight = _stage(j, stages)
            _flowed(
                self.around,
                self.metal_g,
                self.metal_kinds,
                self.figures,
                source,
                metal.heat,
                metal.heat_before,
                metal.at_c,
                metal.at_c_before,
                F32(omega),
                F32(weight * dt),
            )
            metal.turn()


@dataclass(eq=False)
class _Metal:
    """What melts, cell by cell: enthalpies (J/m3) and temperatures (C), and those of the stage before."""

    heat: Field
    heat_before: Field
    at_c: Field
    at_c_before: Field

    @classmethod
    def at(cls, heat: Field, at_c: Field) -> "_Metal":
        return cls(heat, np.zeros_like(heat), at_c, at_c.copy())

    def turn(self) -> None:
        """The newest in front."""
        self.heat, self.heat_before = self.heat_before, self.heat
        self.at_c, self.at_c_before = self.at_c_before, self.at_c


def _stages(dt: float, limit: float) -> int:
    """Stages that a step takes: dt <= limit (s^2 + s)/2."""
    return max(math.ceil((math.sqrt(1.0 + 8.0 * dt / limit) - 1.0) / 2.0), 1)


def _stage(j: int, stages: int) -> tuple[float, float]:
    """How much of the last change goes on, and the weight of the flow, at stage ``j``."""
    first = 2.0 / (stages * stages + stages)
    return ((j - 1.0) / j, (2.0 * j - 1.0) / j * first) if j > 1 else (0.0, first)


def _pair(array: Numbers, axis: int) -> tuple[Numbers, Numbers]:
    """Each cell and the next one up this axis."""
    return array[_first(axis)], array[tuple(slice(1, None) if k == axis else slice(None) for k in range(3))]


def _first(axis: int) -> tuple[slice, ...]:
    return tuple(slice(None, -1) if k == axis else slice(None) for k in range(3))


def _sums(faces: list[Field]) -> Field:
    """(nz, ny, nx) conductances round each cell."""
    out = np.zeros(faces[0].shape)
    for axis, g in zip((2, 1, 0), faces, strict=True):
        out += g
        out[tuple(slice(1, None) if k == axis else slice(None) for k in range(3))] += g[_first(axis)]
    return out


def _runs(kinds: Numbers) -> Numbers:
    """(k, 3) start, length and kind of the stretches along x of cells that are not -1."""
    flat = kinds.ravel()
    edges = np.flatnonzero(np.diff(flat) != 0) + 1
    start = np.concatenate([[0], edges])
    end = np.append(edges, len(flat))
    held = flat[start] >= 0
    return np.stack([start[held], (end - start)[held], flat[start][held]], axis=1).astype(np.int64)


@njit(cache=True, parallel=True, fastmath=True)
def _flowed(
    around: Numbers,
    g: Field,
    kinds: Numbers,
    figures: Field,
    source: Field,
    now: Field,
    before: Field,
    t: Field,
    t_next: Field,
    omega: float,
    weight: float,
) -> None:
    zero = F32(0.0)
    for i in prange(now.shape[0]):
        own = t[i]
        flow = (
            g[i, 0] * (t[around[i, 0]] - own)
            + g[i, 1] * (t[around[i, 1]] - own)
            + g[i, 2] * (t[around[i, 2]] - own)
            + g[i, 3] * (t[around[i, 3]] - own)
            + g[i, 4] * (t[around[i, 4]] - own)
            + g[i, 5] * (t[around[i, 5]] - own)
        )
        v = now[i] + omega * (now[i] - before[i]) + weight * (flow + source[i])
        before[i] = v
        k = kinds[i]
        most = figures[k, 2]
        cold, setting, hot = min(v, zero), min(max(v, zero), most), max(v - most, zero)
        t_next[i] = figures[k, 0] + cold * figures[k, 1] + setting * figures[k, 3] + hot * figures[k, 4]


# Places in what follows are unsigned: a signed one might count from the end, and that question at each read keeps the
# compiler from working eight cells at once (27 ms a stage of two million cells with it, 7 without).
U = np.uint64


@njit(cache=True, parallel=True, fastmath=True)
def _evenly_warmed(runs: Numbers, now: Field, before: Field, nx: int, nxy: int, omega: float, weight: float) -> None:
    six, one, row, layer = F32(6.0), U(1), U(nx), U(nxy)
    for r in prange(runs.shape[0]):
        start = U(runs[r, 0])
        for k in range(runs[r, 1]):
            i = start + U(k)
            own = now[i]
            about = now[i + one] + now[i - one] + now[i + row] + now[i - row] + now[i + layer] + now[i - layer]
            before[i] = own + omega * (own - before[i]) + weight * (about - six * own)


@njit(cache=True, parallel=True, fastmath=True)
def _warmed(
    runs: Numbers,
    now: Field,
    before: Field,
    gx: Field,
    gy: Field,
    gz: Field,
    inverse: Field,
    nx: int,
    nxy: int,
    omega: float,
    weight: float,
) -> None:
    one, row, layer = U(1), U(nx), U(nxy)
    for r in prange(runs.shape[0]):
        start = U(runs[r, 0])
        for k in range(runs[r, 1]):
            i = start + U(k)
            own = now[i]
            flow = (
                gx[i] * (now[i + one] - own)
                + gx[i - one] * (now[i - one] - own)
                + gy[i] * (now[i + row] - own)
                + gy[i - row] * (now[i - row] - own)
                + gz[i] * (now[i + layer] - own)
                + gz[i - layer] * (now[i - layer] - own)
            )
            before[i] = own + omega * (own - before[i]) + weight * flow * inverse[i]


@njit(cache=True, parallel=True)
def _passed(
    cells: Numbers,
    start: Numbers,
    other: Numbers,
    g: Field,
    t: Field,
    now: Field,
    before: Field,
    omega: float,
    weight: float,
) -> None:
    for c in prange(cells.shape[0]):
        own = t[cells[c]]
        flow = 0.0
        for f in range(start[c], start[c + 1]):
            flow += g[f] * (own - t[other[f]])
        before[c] = now[c] + omega * (now[c] - before[c]) + weight * flow


@njit(cache=True, parallel=True)
def _crossed(old: Field, new: Field, near: Field, solid: Field, marks: Field, at: float, dt: float) -> None:
    for i in prange(old.shape[0]):
        if new[i] < old[i]:
            if near[i] == np.inf and new[i] <= marks[i]:
                near[i] = at + dt * min(max((old[i] - marks[i]) / (old[i] - new[i]), 0.0), 1.0)
            if solid[i] == np.inf and new[i] <= 0.0:
                solid[i] = at + dt * min(max(old[i] / (old[i] - new[i]), 0.0), 1.0)
