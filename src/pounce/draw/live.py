"""Live turning: some thousand representatives of the surface judged at every step of the hand, the whole part on
release.
"""

from dataclasses import dataclass

import numpy as np

from pounce.draw.candidates import best_height, opened
from pounce.draw.scan import Pieces
from pounce.solid.frame import unit
from pounce.solid.mesh import Floats, Ints, Mesh
from pounce.solid.sample import spread
from pounce.solid.tree import Tree, tree_of

COUNT = 6000
SNAP_DEG = 4.0
CLEAN, TIGHT, LOCKED = 0, 1, 2


@dataclass(frozen=True, eq=False)
class Representatives:
    """Points (k, 3) with normals (k, 3), each standing for ``share`` mm2 of the surface."""

    points: Floats
    normals: Floats
    share: float


@dataclass(frozen=True, eq=False)
class LiveLook:
    """What the representatives do along a direction: ``state`` (k,) 0 clean, 1 tight, 2 locked, and the areas in
    mm2.
    """

    direction: tuple[float, float, float]
    height_mm: float
    state: Ints
    clean_mm2: float
    tight_mm2: float
    locked_mm2: float


def representatives(mesh: Mesh, count: int = COUNT) -> Representatives:
    """Points spread over the mesh by area; its tree is built along with them."""
    points, faces = spread(mesh, count)
    tree_of(mesh)
    return Representatives(points, mesh.normals[faces], mesh.area / max(len(points), 1))


def snapped(direction: Floats) -> Floats:
    """The own axis within 4 degrees of the direction, else the direction."""
    index = int(np.argmax(np.abs(direction)))
    axis = np.zeros(3)
    axis[index] = np.sign(direction[index])
    return axis if float(axis @ direction) > np.cos(np.radians(SNAP_DEG)) else direction


def live_look(mesh: Mesh, among: Representatives, direction: Floats, required_deg: float) -> LiveLook:
    """The states of the representatives along ``direction`` with the best flat joint for it."""
    way = unit(direction)
    tree: Tree = tree_of(mesh)
    slope = among.normals @ way
    up = opened(tree, among.points, among.normals, slope, way, mesh.diagonal)
    down = opened(tree, among.points, among.normals, -slope, -way, mesh.diagonal)
    heights = among.points @ way
    low, high = float(heights.min()), float(heights.max())
    pieces = Pieces(heights, np.full(len(heights), among.share), up, down)
    height, _ = best_height(pieces, low, high, lambda at: _level(slope, heights, at, 2e-3 * (high - low)))
    above = heights >= height
    # level faces in the joint leave by the side they are open to
    above = np.where((np.abs(heights - height) <= 2e-3 * (high - low)) & (up ^ down), up, above)
    leaves = np.where(above, up, down)
    lean = np.where(above, slope, -slope)
    state = np.where(~leaves, LOCKED, np.where(lean < np.sin(np.radians(required_deg - 0.02)), TIGHT, CLEAN)).astype(
        np.int64
    )
    areas = [among.share * float((state == kind).sum()) for kind in (CLEAN, TIGHT, LOCKED)]
    return LiveLook((float(way[0]), float(way[1]), float(way[2])), height, state, *areas)


def _level(slope: Floats, heights: Floats, at: float, slack: float) -> float:
    plan = float(np.abs(slope).sum()) / 2.0
    return float(((np.abs(slope) > 0.9999) & (np.abs(heights - at) <= slack)).sum()) / max(plan, 1e-12)
