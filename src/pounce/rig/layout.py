"""Castings and sprue set out in a flask: on a raster, by Fourier transforms, then looked over exactly.

Bound by counts, never by the clock: a timed search answers otherwise on a busy machine.
"""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy import fft, ndimage
from shapely.geometry.base import BaseGeometry

from pounce.rig.flasks import Flask
from pounce.rig.item import placed
from pounce.rig.values import Margins, Spot
from pounce.solid.mesh import Bools, Floats

CELLS, TURNS, SPRUES = 96, 24, 5
# A shape takes every cell that it touches, and what is occupied is grown by as much: what is free on the raster is
# free, however thin. Half a cell's diagonal, and a little for buffers, which are drawn small.
COVER = 0.73
# The sprue stands between cells, and distances are told from cell to cell.
OFF_RASTER, THIN = 1.42, 0.75
# A runner away from facing costs as much as so many mm of runner; runners of one mould are to be alike.
FACING_MM, ALIKE = 60.0, 1.5
# A casting that lies square to its flask is worth so many mm of runner: hands and eyes set it out.
SQUARE_MM = 12.0
# A pair about the middle is taken unless one after another is this much shorter.
PAIR_SHARE = 0.65
# Up to so many castings the sprue is tried at all its places; a flask is never fuller than this.
FEW, FULL, DIGITS = 2, 0.85, 2
# Sand between the runner of one casting and another casting, as a share of that between castings.
RUNNER_SHARE = 0.5


Tip = tuple[Floats, Floats]


@dataclass(frozen=True, eq=False)
class Block:
    """What is laid out, in the item's frame: ``whole`` its silhouette with prints, ``metal`` without, ``foot`` its
    gates and runner; ``tips`` where the runner may be led in: (2,) the place and (2,) the way outward there.
    """

    whole: BaseGeometry
    metal: BaseGeometry
    foot: BaseGeometry
    tips: tuple[Tip, ...]


@dataclass(frozen=True)
class Laid:
    """Places and turns of the castings, the sprue's place, and what it costs (mm of runner, more or less)."""

    castings: tuple[tuple[Spot, float], ...]
    sprue: Spot
    cost: float


class Raster:
    """A flask's inside as cells, and the block in every turn on them; arrays (turns, ny, nx) tell what goes where its
    origin lies in a cell.
    """

    def __init__(self, block: Block, flask: Flask, margins: Margins, sprue_r: float) -> None:
        self.block, self.flask, self.margins, self.sprue_r = block, flask, margins, sprue_r
        self.cell = max(flask.long_mm, flask.wide_mm) / CELLS
        self.nx = max(int(flask.long_mm / self.cell), 1)
        self.ny = max(int(flask.wide_mm / self.cell), 1)
        self.x = (np.arange(self.nx) - (self.nx - 1) / 2.0) * self.cell
        self.y = (np.arange(self.ny) - (self.ny - 1) / 2.0) * self.cell
        self.shape = (fft.next_fast_len(2 * self.ny), fft.next_fast_len(2 * self.nx))
        self.turns = np.arange(TURNS) * 360.0 / TURNS

    @cached_property
    def turned(self) -> list[tuple[BaseGeometry, BaseGeometry, BaseGeometry]]:
        """Whole, metal and foot in every turn."""
        b = self.block
        return [
            (placed(b.whole, (0.0, 0.0), t), placed(b.metal, (0.0, 0.0), t), placed(b.foot, (0.0, 0.0), t))
            for t in self.turns.tolist()
        ]

    @cached_property
    def tips(self) -> list[tuple[Floats, Floats]]:
        """(turns, 2) of each tip: where the runner is met and the way outward there."""
        c, s = np.cos(np.radians(self.turns)), np.sin(np.radians(self.turns))
        turn = np.stack([np.stack([c, -s], axis=1), np.stack([s, c], axis=1)], axis=1)
        return [(turn @ at, turn @ way) for at, way in self.block.tips]

    def far(self, k: int, spot: Spot, sprue: Spot) -> float:
        """Runner from a casting so turned and placed to the sprue, mm."""
        return min(float(np.hypot(*(np.array(sprue) - spot - at[k]))) for at, _ in self.tips)

    def wrapped(self, shape: BaseGeometry) -> Bools:
        """A shape about its origin as a raster whose first cell is the origin."""
        ky, kx = (np.fft.fftfreq(count, 1.0 / count) * self.cell for count in self.shape)
        inside = np.zeros(self.shape, np.bool_)
        x0, y0, x1, y1 = shape.bounds
        rows = np.flatnonzero((ky >= y0 - self.cell) & (ky <= y1 + self.cell))
        columns = np.flatnonzero((kx >= x0 - self.cell) & (kx <= x1 + self.cell))
        gx, gy = np.meshgrid(kx[columns], ky[rows])
        shapely.prepare(shape)
        inside[np.ix_(rows, columns)] = shapely.contains_xy(shape, gx, gy)
        return inside

    @cached_property
    def spectra(self) -> list[NDArray[np.complex64]]:
        """Of each turn's casting with gates and runner."""
        own = COVER * self.cell
        # each by itself: where valid shapes touch, the library's union of two has lost one of them
        both = (
            self.wrapped(whole.buffer(own, 4)) | self.wrapped(foot.buffer(own, 4)) for whole, _, foot in self.turned
        )
        return [np.conj(fft.rfft2(one.astype(np.float32))) for one in both]

    @cached_property
    def grown(self) -> list[Bools]:
        """Of each turn's casting with the sand that is kept round it."""
        more, gap = COVER * self.cell, self.margins.between
        return [
            self.wrapped(whole.buffer(gap + more, 8)) | self.wrapped(foot.buffer(RUNNER_SHARE * gap + more, 8))
            for whole, _, foot in self.turned
        ]

    @cached_property
    def clear(self) -> list[Floats]:
        """Of each turn: how far every cell about the origin lies from the whole casting, mm; its middle is the
        origin.
        """
        out = []
        for whole, _, _ in self.turned:
            # thin things that no cell's middle lies in count too
            held = np.fft.fftshift(self.wrapped(whole.buffer(THIN * self.cell, 4)))
            out.append(np.asarray(ndimage.distance_transform_edt(~held) * self.cell, np.float64))
        return out

    @cached_property
    def inside(self) -> list[Bools]:
        """(ny, nx) of each turn: where the block's origin may be for the sand at the wall's sake."""
        m, f = self.margins, self.flask
        out = []
        for whole, metal, foot in self.turned:
            asked = ((metal, m.wall), (whole, m.print_wall), (foot, m.runner_wall))
            if f.shape == "box":
                boxes = np.array([[*one.bounds] for one, _ in asked])
                gaps = np.array([gap for _, gap in asked])
                low = -np.array([f.long_mm, f.wide_mm]) / 2.0 + (gaps[:, None] - boxes[:, :2]).max(axis=0)
                high = np.array([f.long_mm, f.wide_mm]) / 2.0 - (gaps[:, None] + boxes[:, 2:]).max(axis=0)
                ok_x = (self.x >= low[0] - 1e-9) & (self.x <= high[0] + 1e-9)
                ok_y = (self.y >= low[1] - 1e-9) & (self.y <= high[1] + 1e-9)
                out.append(ok_y[:, None] & ok_x[None, :])
            else:
                ok = np.ones((self.ny, self.nx), np.bool_)
                for one, gap in asked:
                    for corner in shapely.get_coordinates(one.convex_hull.simplify(0.1)):
                        away = np.hypot(self.x[None, :] + corner[0], self.y[:, None] + corner[1])
                        ok &= away <= f.long_mm / 2.0 - gap - 0.1
                out.append(ok)
        return out

    def sprues(self, steps: int) -> list[Spot]:
        """Places for a sprue: the middle, and a grid as near to the walls as its sand allows."""
        room = np.array([self.flask.long_mm, self.flask.wide_mm]) / 2.0 - self.sprue_r - self.margins.sprue_wall
        if (room < 0.0).any():
            return []
        out: list[Spot] = [(0.0, 0.0)]
        for fx in np.linspace(-1.0, 1.0, steps):
            for fy in np.linspace(-1.0, 1.0, steps):
                spot = (float(fx * room[0]), float(fy * room[1]))
                if spot != (0.0, 0.0) and (self.flask.shape == "box" or np.hypot(*spot) <= room[0] + 1e-9):
                    out.append(spot)
        return out

    def ways(self, sprue: Spot) -> list[list[tuple[Floats, Floats]]]:
        """Of each turn and tip: (ny, nx) the runner to the sprue, and what it costs with facing it; inf where the
        block may not be.
        """
        keep = self.sprue_r + self.margins.sprue_casting
        middle = np.array(self.shape) // 2
        i = np.clip(np.rint((sprue[0] - self.x) / self.cell).astype(int) + middle[1], 0, self.shape[1] - 1)
        j = np.clip(np.rint((sprue[1] - self.y) / self.cell).astype(int) + middle[0], 0, self.shape[0] - 1)
        out = []
        for k in range(TURNS):
            may = self.inside[k] & (self.clear[k][np.ix_(j, i)] >= keep + OFF_RASTER * self.cell)
            each = []
            skew = 0.0 if k % (TURNS // 4) == 0 else SQUARE_MM
            for tips, ways in self.tips if may.any() else ():
                dx = sprue[0] - (self.x[None, :] + tips[k, 0])
                dy = sprue[1] - (self.y[:, None] + tips[k, 1])
                far = np.hypot(dx, dy)
                facing = (dx * ways[k, 0] + dy * ways[k, 1]) / np.maximum(far, 1e-9)
                each.append((far, np.where(may, far + FACING_MM * (1.0 - facing) + skew, np.inf)))
            out.append(each)
        return out

    def costs(self, ways: list[list[tuple[Floats, Floats]]], like_mm: float | None) -> list[Floats | None]:
        """(ny, nx) of each turn, the runner alike with the first one's; None where the block may not be at all."""
        out: list[Floats | None] = []
        for each in ways:
            own = [cost if like_mm is None else cost + ALIKE * np.abs(far - like_mm) for far, cost in each]
            out.append(None if not own else own[0] if len(own) == 1 else np.minimum(own[0], own[1]))
        return out

    def blocked(self, held: NDArray[np.complex64], k: int) -> Bools:
        """(ny, nx) where the block in this turn would come too near to what is placed."""
        return np.asarray(fft.irfft2(held * self.spectra[k], self.shape)[: self.ny, : self.nx] > 0.5)

    def apart(self, k: int) -> Bools:
        """(ny, nx) where the block in this turn keeps clear of its mate, turned half round about the middle."""
        other = (k + TURNS // 2) % TURNS
        meets = fft.irfft2(fft.rfft2(self.grown[k].astype(np.float32)) * self.spectra[other], self.shape) > 0.5
        j = ((self.ny - 1) - 2 * np.arange(self.ny)) % self.shape[0]
        i = ((self.nx - 1) - 2 * np.arange(self.nx)) % self.shape[1]
        return np.asarray(~meets[np.ix_(j, i)])

    def spot(self, j: int, i: int) -> Spot:
        """The middle of a cell."""
        return float(self.x[i]), float(self.y[j])


def arranged(
    blocks: tuple[Block, ...], flask: Flask, margins: Margins, sprue_r: float, sprue: Spot | None, steps: int = SPRUES
) -> Laid | None:
    """A casting for each block and a sprue of radius ``sprue_r`` in this flask; None where they do not fit. ``sprue``
    where it was put by hand, else one of ``steps`` x ``steps`` places.
    """
    own = {id(block): block for block in blocks}
    areas = {key: float(shapely.union_all([block.whole, block.foot]).area) for key, block in own.items()}
    count = len(blocks)
    if sum(areas[id(block)] for block in blocks) > FULL * flask.area_mm2:
        return None
    rasters = {key: Raster(block, flask, margins, sprue_r) for key, block in own.items()}
    if not all(any(one.any() for one in raster.inside) for raster in rasters.values()):
        return None
    best: Laid | None = None
    if count % 2 == 0 and len(own) == 1 and sprue in (None, (0.0, 0.0)):
        best = _pairs(rasters[id(blocks[0])], count)
    # one after another must be a good deal shorter than pairs, whose runners are alike
    limit = np.inf if best is None else PAIR_SHARE * best.cost
    room = rasters[id(blocks[0])]
    spots = room.sprues(steps if count <= FEW else min(steps, 3)) if sprue is None else [sprue]
    for spot in spots:
        found = _one_by_one([(rasters[id(block)], areas[id(block)]) for block in blocks], spot, limit)
        if found is not None:
            best, limit = found, found.cost
    return None if best is None else rounded(best)


def rounded(laid: Laid) -> Laid:
    """Places to a hundredth of a millimetre, as a job keeps what was put by hand."""
    castings = tuple(((round(x, DIGITS), round(y, DIGITS)), turn) for (x, y), turn in laid.castings)
    return Laid(castings, (round(laid.sprue[0], DIGITS), round(laid.sprue[1], DIGITS)), laid.cost)


def _one_by_one(rasters: list[tuple[Raster, float]], sprue: Spot, limit: float) -> Laid | None:
    """One casting after another where it costs least, the largest first; None where they find no room or come to
    ``limit``.
    """
    taken: dict[int, tuple[Raster, int, int, int]] = {}
    total, like = 0.0, None
    ways = {id(raster): raster.ways(sprue) for raster in {id(one): one for one, _ in rasters}.values()}
    alike = len(ways) == 1
    for at in sorted(range(len(rasters)), key=lambda one: -rasters[one][1]):
        raster = rasters[at][0]
        held = _held(list(taken.values()))
        found = _cheapest(raster, raster.costs(ways[id(raster)], like), held, None)
        if found is None:
            return None
        least, (k, j, i) = found
        # of alike ones none that follows costs less than this one
        if total + least * (len(rasters) - len(taken) if alike else 1) >= limit - 1e-9:
            return None
        taken[at] = (raster, k, j, i)
        like = raster.far(k, raster.spot(j, i), sprue) if like is None and alike else like
        total += least
    laid = [taken[at] for at in range(len(rasters))]
    return Laid(tuple((raster.spot(j, i), float(raster.turns[k])) for raster, k, j, i in laid), sprue, total)


def _held(castings: list[tuple[Raster, int, int, int]]) -> NDArray[np.complex64] | None:
    """The spectrum of what castings (raster, turn, row, column) of one flask take with their sand; None for none."""
    if not castings:
        return None
    taken = np.zeros(castings[0][0].shape, np.bool_)
    for raster, k, j, i in castings:
        taken |= np.roll(raster.grown[k], (j, i), (0, 1))
    return np.asarray(fft.rfft2(taken.astype(np.float32)))


def _pairs(raster: Raster, count: int) -> Laid | None:
    """Castings in pairs at a and -a about the sprue in the middle, so that their runners are alike."""
    taken: list[tuple[int, int, int]] = []
    total, like = 0.0, None
    ways = raster.ways((0.0, 0.0))
    for _ in range(count // 2):
        found = _cheapest(raster, raster.costs(ways, like), _held([(raster, *one) for one in taken]), raster.apart)
        if found is None:
            return None
        least, (k, j, i) = found
        taken += [(k, j, i), ((k + TURNS // 2) % TURNS, raster.ny - 1 - j, raster.nx - 1 - i)]
        like = raster.far(k, raster.spot(j, i), (0.0, 0.0)) if like is None else like
        total += 2.0 * least
    castings = tuple((raster.spot(j, i), float(raster.turns[k])) for k, j, i in taken)
    return Laid(castings, (0.0, 0.0), total)


def _cheapest(
    raster: Raster, costs: list[Floats | None], held: NDArray[np.complex64] | None, apart: Callable[[int], Bools] | None
) -> tuple[float, tuple[int, int, int]] | None:
    """What the cheapest place costs, and its turn, row and column; turns are tried from the least that they could
    cost, and no further than needed.
    """
    bounds = [np.inf if one is None else float(one.min()) for one in costs]
    least, where = np.inf, (0, 0, 0)
    for k in np.argsort(bounds, kind="stable").tolist():
        own = costs[k]
        if own is None or bounds[k] >= least - 1e-9:
            break
        if held is not None:
            own = np.where(raster.blocked(held, k), np.inf, own)
            if apart is not None:  # the mate lies where this one turned half round would
                other = raster.blocked(held, (k + TURNS // 2) % TURNS)[::-1, ::-1]
                own = np.where(other, np.inf, own)
        if apart is not None:
            own = np.where(apart(k), own, np.inf)
        at = int(np.argmin(own))
        if own.flat[at] < least - 1e-9:
            least, where = float(own.flat[at]), (k, at // raster.nx, at % raster.nx)
    return (least, where) if np.isfinite(least) else None


def drawn_in(
    laid: Laid, blocks: tuple[Block, ...], margins: Margins, sprue_r: float, step_mm: float = 10.0
) -> tuple[Laid, Spot]:
    """The layout moved to the middle of the smallest box that leaves its margins, and that box's inside, in whole
    steps.
    """
    boxes = []
    for block, (at, turn) in zip(blocks, laid.castings, strict=True):
        for shape, gap in (
            (block.metal, margins.wall),
            (block.whole, margins.print_wall),
            (block.foot, margins.runner_wall),
        ):
            x0, y0, x1, y1 = placed(shape, at, turn).bounds
            boxes.append((x0 - gap, y0 - gap, x1 + gap, y1 + gap))
    r = sprue_r + margins.sprue_wall
    boxes.append((laid.sprue[0] - r, laid.sprue[1] - r, laid.sprue[0] + r, laid.sprue[1] + r))
    held = np.array(boxes)
    low, high = held[:, :2].min(axis=0), held[:, 2:].max(axis=0)
    middle = (low + high) / 2.0
    size = np.ceil((high - low) / step_mm - 1e-9) * step_mm
    castings = tuple(((at[0] - float(middle[0]), at[1] - float(middle[1])), turn) for at, turn in laid.castings)
    sprue = (laid.sprue[0] - float(middle[0]), laid.sprue[1] - float(middle[1]))
    return rounded(Laid(castings, sprue, laid.cost)), (float(size[0]), float(size[1]))
