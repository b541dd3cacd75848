"""The mould laid on a grid of cubes."""

import math

import numpy as np

from pounce.field.arrays import Field, Flags, Numbers
from pounce.field.cells import Cells
from pounce.field.voxels import filled
from pounce.freeze.values import Block, Laid, Mould, Round, Stuff
from pounce.solid.mesh import Mesh

# A section is to have so many cells; a grid has no fewer, and no more than it is allowed.
ACROSS, LEAST_CELLS = 5.0, 60_000
# Air over the cope, in cells.
AIR_CELLS = 2
HALF = 0.5
# Cells are scaled until the grid holds the metal that the solids hold, within these shares.
SCALED = (0.8, 1.25)


def section_mm(mesh: Mesh) -> float:
    """The mean section of a body: twice its volume over its area."""
    return 2.0 * mesh.volume / max(mesh.area, 1e-9)


def spacing(mould: Mould, pad_mm: float, most: int, across: float = ACROSS) -> float:
    """Side of a cell (mm): so that sections have ``across`` cells, within the cells allowed."""
    low, high = _box(mould, pad_mm)
    volume = float(np.prod(high - low))
    wanted = min(section_mm(one) for one in mould.castings) / across
    least = float(min(wanted, (volume / LEAST_CELLS) ** (1.0 / 3.0)))
    return max(float((volume / most) ** (1.0 / 3.0)), least)


def _box(mould: Mould, pad_mm: float) -> tuple[Field, Field]:
    meshes = [*mould.castings, *([] if mould.gating is None or mould.tight else [mould.gating])]
    low = np.min([mesh.bounds[0] for mesh in meshes], axis=0) - pad_mm
    high = np.max([mesh.bounds[1] for mesh in meshes], axis=0) + pad_mm
    for one in mould.rounds:
        reach = one.wide_mm / 2.0 + one.sleeve_mm + pad_mm / 2.0
        low = np.minimum(low, np.array(one.foot_mm) - reach)
        high = np.maximum(high, np.array(one.foot_mm) + reach)
        high[2] = max(high[2], one.top_mm + pad_mm / 2.0)
    half = np.array(mould.half_mm)
    low[:2], high[:2] = np.maximum(low[:2], -half), np.minimum(high[:2], half)
    # over the cope there is air, as far as metal stands open to it
    high[2] = min(high[2], mould.top_mm)
    low[2] = max(low[2], -mould.deep_mm)
    return low, high


def laid(mould: Mould, step_mm: float, pad_mm: float) -> Laid:
    """The grid of a mould. Every body counts where it fills half a cell; a cell that castings and gates share is
    metal where together they fill half of it.
    """
    low, high = _box(mould, pad_mm)
    nx, ny, nz = (int(n) for n in np.maximum(np.ceil((high - low) / step_mm - 1e-9), 3))
    # up and down the grid keeps to the joint, where backs are flat and halves meet
    start = np.array([*((low + high)[:2] / 2.0 - np.array([nx, ny]) * step_mm / 2.0), low[2]])
    start[2] = -math.ceil(-low[2] / step_mm) * step_mm
    nz = max(math.ceil((high[2] - start[2]) / step_mm), 3) + AIR_CELLS
    cells = Cells(start, step_mm, (nz, ny, nx))
    shares: Field = np.zeros(cells.shape, np.float32)
    casting = np.zeros(cells.shape, np.int8)
    best: Field = np.zeros(cells.shape, np.float32)
    volume = 0.0
    for k, mesh in enumerate(mould.castings):
        own = filled(mesh, cells)
        casting[own > best] = min(k + 1, 127)
        best = np.maximum(best, own)
        shares += own
        volume += mesh.volume
    gating: Field = np.zeros(cells.shape, np.float32)
    if mould.gating is not None:
        gating = filled(mould.gating, cells)
        shares += gating
        volume += mould.gating.volume
    feeds = np.where(gating > best, 1, 0).astype(np.int8)
    shares, rounds, sleeves = _rounds(mould, cells, shares)
    for k, share in enumerate(rounds):
        feeds[(share >= HALF) & (best < HALF)] = min(k + 2, 127)
    metal = shares >= HALF
    casting[(feeds > 0) | ~metal] = 0
    feeds[~metal] = 0
    kinds = np.full(cells.shape, Stuff.SAND, np.int8)
    for mesh in mould.cores:
        kinds[filled(mesh, cells) >= HALF] = Stuff.CORE
    kinds[sleeves] = Stuff.SLEEVE
    for block in mould.chills:
        kinds[_chill(block, cells)] = Stuff.CHILL
    kinds[-AIR_CELLS:] = Stuff.AIR
    kinds[metal] = Stuff.METAL
    # where the grid holds only some of the gating, or feeders that are tried, it keeps to what it holds itself
    wanted = None if mould.rounds or mould.tight else volume / cells.cell_mm3
    return Laid(cells, kinds, _held(shares, metal, wanted), casting, feeds)


def _held(shares: Field, metal: Flags, wanted: float | None) -> Field:
    """How much each cell of metal holds: what is left over in cells that are not metal goes to the metal beside them,
    so that a wall holds what it holds wherever the grid cuts it; what is still missing is spread over all.
    """
    out = np.where(metal, shares, 0.0).astype(np.float32)
    rest = np.where(metal, 0.0, shares).astype(np.float32)
    pairs = [(axis, way) for axis in range(3) for way in (-1, 1)]
    beside = sum(_moved(metal.astype(np.float32), axis, way) for axis, way in pairs)
    each = np.divide(rest, beside, out=np.zeros_like(rest), where=beside > 0.0)
    for axis, way in pairs:
        out += np.where(metal, _moved(each, axis, way), 0.0)
    held = float(out.sum())
    if wanted is not None and held > 0.0:
        out *= min(max(wanted / held, SCALED[0]), SCALED[1])
    return np.where(metal, out, 1.0).astype(np.float32)


def _moved(array: Field, axis: int, way: int) -> Field:
    """The array one cell on along an axis, nothing coming in."""
    out = np.zeros_like(array)
    ahead = tuple(slice(1, None) if k == axis else slice(None) for k in range(3))
    back = tuple(slice(None, -1) if k == axis else slice(None) for k in range(3))
    if way > 0:
        out[ahead] = array[back]
    else:
        out[back] = array[ahead]
    return out


def _rounds(mould: Mould, cells: Cells, shares: Field) -> tuple[Field, list[Field], Flags]:
    """Rounds put in: the shares with them, the share of each, and cells of their sleeves."""
    nz, ny, nx = cells.shape
    x, y, z = (cells.low[a] + (np.arange(n) + 0.5) * cells.step for a, n in zip(range(3), (nx, ny, nz), strict=True))
    sleeves = np.zeros(cells.shape, np.bool_)
    out = []
    for one in mould.rounds:
        off = np.hypot(x[None, :] - one.foot_mm[0], y[:, None] - one.foot_mm[1])
        top = mould.top_mm if one.open else one.top_mm
        body = one.base_mm
        wide = np.where(z < body, one.neck_mm or one.wide_mm, one.wide_mm)
        # so much of a cell as its middle lies inside the rim
        across = np.clip((wide[:, None, None] / 2.0 - off[None]) / cells.step + 0.5, 0.0, 1.0)
        # one that stands on a casting is rooted a cell deep
        rooted = 1.5 if one.beside is None else 0.5
        up = _between(z, one.foot_mm[2], top, cells.step, rooted)
        own = (across * up[:, None, None]).astype(np.float32)
        if one.beside is not None:
            neck = _neck_plan(one, x, y, cells.step)
            up = _between(z, one.foot_mm[2], one.foot_mm[2] + one.neck_high_mm, cells.step, 0.5)
            own = np.maximum(own, (neck[None] * up[:, None, None]).astype(np.float32))
        out.append(own)
        shares = np.maximum(shares, own)
        if one.sleeve_mm > 0.0:
            wall = (off[None] <= one.wide_mm / 2.0 + one.sleeve_mm) & ((z >= body) & (z <= top))[:, None, None]
            sleeves |= wall
    return shares, out, sleeves


def _between(z: Field, low: float, high: float, step: float, rooted: float) -> Field:
    """How much of each layer lies between two heights; ``rooted``: cells more below."""
    share: Field = np.clip((high - z) / step + 0.5, 0.0, 1.0) * np.clip((z - low) / step + rooted, 0.0, 1.0)
    return share


def _neck_plan(one: Round, x: Field, y: Field, step: float) -> Field:
    """(ny, nx) how much of each cell a neck that lies covers, from a cell inside the casting to the feeder's middle."""
    assert one.beside is not None
    start, end = np.array(one.beside), np.array(one.foot_mm[:2])
    long = float(np.linalg.norm(end - start))
    way = (end - start) / max(long, 1e-9)
    dx, dy = x[None, :] - start[0], y[:, None] - start[1]
    along, off = dx * way[0] + dy * way[1], np.abs(dx * -way[1] + dy * way[0])
    share: Field = np.clip((one.neck_mm / 2.0 - off) / step + 0.5, 0.0, 1.0)
    return np.where((along > -1.5 * step) & (along < long), share, 0.0)


def _chill(block: Block, cells: Cells) -> Flags:
    """Cells of a chill: what lies in its box, away from the metal that is laid over it."""
    nz, ny, nx = cells.shape
    out = np.array(block.out) / max(float(np.linalg.norm(block.out)), 1e-9)
    side = np.cross(out, [0.0, 0.0, 1.0] if abs(out[2]) < 0.9 else [1.0, 0.0, 0.0])
    side /= np.linalg.norm(side)
    other = np.cross(out, side)
    k, j, i = np.meshgrid(np.arange(nz), np.arange(ny), np.arange(nx), indexing="ij")
    points = cells.low + (np.stack([i, j, k], axis=-1) + 0.5) * cells.step - np.array(block.at_mm)
    deep, a, b = points @ out, points @ side, points @ other
    # from a little inside the metal, so that a slanted or round face is covered too
    return np.asarray(
        (deep > -1.5 * cells.step)
        & (deep <= block.thick_mm)
        & (np.abs(a) <= block.side_mm / 2.0)
        & (np.abs(b) <= block.side_mm / 2.0)
    )


def gates_on(laid: Laid, at: Field) -> Numbers:
    """(nz, ny, nx) int32: which of the gates at (k, 3) a cell of a casting is filled from (-1: none): cells that touch
    what is cut for the metal near it; where a grid is too coarse to show a gate, the nearest cell.
    """
    out = np.full(laid.cells.shape, -1, np.int32)
    castings = np.flatnonzero(laid.casting.ravel() > 0)
    if not len(at) or not len(castings):
        return out
    gating = np.pad(laid.feeds == 1, 1)
    touch = np.zeros(laid.cells.shape, np.bool_)
    inner = (slice(1, -1),) * 3
    for axis in range(3):
        for way in (-1, 1):
            touch |= np.roll(gating, way, axis)[inner]
    touching = np.flatnonzero((touch & (laid.casting > 0)).ravel())
    flat = out.ravel()
    if len(touching):
        middles = laid.cells.middles(touching)
        far = np.linalg.norm(middles[:, None] - at[None], axis=2)
        near = far.argmin(axis=1)
        kept = far.min(axis=1) < 40.0
        flat[touching[kept]] = near[kept]
    middles = laid.cells.middles(castings)
    for k, one in enumerate(at):
        if not (flat == k).any():
            flat[castings[int(np.argmin(((middles - one) ** 2).sum(axis=1)))]] = k
    return out
