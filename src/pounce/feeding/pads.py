"""Padding: a wall made thicker so that a feeder reaches past it. Each is tried in the heat flow, as a true solid, and
is offered only where it feeds what else would want a chill or stays without a cure.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from pounce.feeding.cures import WORK, Bounds, Found
from pounce.feeding.judge import Law, modulus_mm
from pounce.freeze.values import Mould, Point
from pounce.metals.heat import heat
from pounce.solid.boolean import bare_mesh, closed_solid, tool_solid, united
from pounce.solid.features.values import Feature
from pounce.solid.mesh import Floats, Ints, Mesh, areas_of
from pounce.solid.tree import tree_of

# So many walls are tried about a place, on so coarse a grid and in so few runs first; what holds is tried again whole.
TRIES, ROUGH = 6, Bounds(runs=6, cells=70_000)
# No further wall is tried after so many runs in all: a pad is a kindness, and nobody waits minutes for one.
MOST_RUNS = 24
# A pad is rooted so deep in its wall, mm: two faces in one plane do not unite cleanly.
ROOT_MM = 0.2


@dataclass(frozen=True, eq=False)
class Wall:
    """A flat face that may be made thicker: a point on it of the part as modelled, what it is called; its triangles
    (k, 3, 3) and its normal (3,) in the mould.
    """

    at_mm: Point
    name: str
    corners: Floats
    normal: Floats

    @property
    def area_mm2(self) -> float:
        """Its area in the mould."""
        return float(areas_of(self.corners).sum())

    def far_mm(self, point: Floats) -> float:
        """How far a point (3,) is from the box that holds it."""
        flat = self.corners.reshape(-1, 3)
        near = np.clip(point, flat.min(axis=0), flat.max(axis=0))
        return float(np.linalg.norm(point - near))


@dataclass(frozen=True, eq=False)
class Padded:
    """A wall so much thicker (mm), and what was found to feed the casting with it."""

    wall: Wall
    thick_mm: float
    found: Found
    metal_mm3: float


def walls_of(part: Mesh, features: tuple[Feature, ...], placed: Callable[[Floats], Floats]) -> tuple[Wall, ...]:
    """The flat faces of a part; ``placed`` takes a point (3,) of it to the mould."""
    out = []
    for one in features:
        if one.kind != "plane" or not len(one.faces):
            continue
        corners = part.vertices[part.faces[one.faces]]
        areas = part.areas[one.faces]
        x, y, z = corners[int(np.argmax(areas))].mean(axis=0).tolist()
        in_mould = np.array([placed(point) for point in corners.reshape(-1, 3)]).reshape(-1, 3, 3)
        normal = np.cross(in_mould[:, 1] - in_mould[:, 0], in_mould[:, 2] - in_mould[:, 0]).sum(axis=0)
        size = float(np.linalg.norm(normal))
        if size > 0.0:
            out.append(Wall((x, y, z), one.words(), in_mould, normal / size))
    return tuple(out)


def padded(
    alone: Mould,
    walls: tuple[Wall, ...],
    about: tuple[tuple[Point, float], ...],
    law: Law,
    cure: Found,
    search: Callable[[Mould, Bounds], Found],
) -> Padded | None:
    """The first wall that does, made as thick as it must be; None where none does. ``about`` places that want a cure
    and when they set (s); ``cure`` what was found without padding; ``search`` finds feeders for a mould.
    """
    tried, runs, work = 0, 0, cure.work
    for thick, wall in _thicker(alone.castings[0], walls, about, law):
        if tried == TRIES or runs >= MOST_RUNS or work >= WORK:
            break
        casting = _with_pad(alone.castings[0], wall, thick)
        if casting is None:
            continue
        tried += 1
        mould = replace(alone, castings=(casting,))
        rough = search(mould, ROUGH)
        runs, work = runs + rough.runs, work + rough.work
        if not _better(rough, cure):
            continue
        found = search(mould, Bounds())
        runs, work = runs + found.runs, work + found.work
        if _better(found, cure):
            return Padded(wall, thick, found, casting.volume - alone.castings[0].volume)
    return None


def _better(found: Found, cure: Found) -> bool:
    """Whether it feeds all, with fewer chills than there were or where something stayed without a cure."""
    whole = found.proved and found.uncured == 0
    return whole and (len(found.chills) < len(cure.chills) or cure.uncured > 0 or not cure.proved)


def _thicker(
    casting: Mesh, walls: tuple[Wall, ...], about: tuple[tuple[Point, float], ...], law: Law
) -> list[tuple[float, Wall]]:
    """How much thicker which walls might do, those near a place and with little to machine off first: a plate whose
    modulus is that of the place is two of it thick.
    """
    c = heat().common
    tree = tree_of(casting)
    out = []
    most = c.pad_share.value * casting.volume
    for wall in walls:
        middle = wall.corners[int(np.argmax(areas_of(wall.corners)))].mean(axis=0)
        through, face = tree.nearest((middle - wall.normal * ROOT_MM)[None], -wall.normal[None])
        if face[0] < 0:
            continue
        own = float(through[0]) + ROOT_MM
        for at, seconds in about:
            wanted = 2.0 * modulus_mm(seconds, law)
            for share in (c.pad_least.value, c.pad_most.value):
                thick = math.ceil(share * wanted - own)
                if 1.0 <= thick <= c.pad_over.value * own and wall.area_mm2 * thick < most:
                    out.append((wall.far_mm(np.array(at)) + thick, float(thick), wall))
    out.sort(key=lambda one: one[0])
    return [(thick, wall) for _, thick, wall in out]


def _with_pad(casting: Mesh, wall: Wall, thick: float) -> Mesh | None:
    """The casting with a prism on its wall; None where they make no solid."""
    low, faces = _welded(wall.corners - wall.normal * ROOT_MM)
    high = low + wall.normal * (thick + ROOT_MM)
    n = len(low)
    directed = np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]])
    there = {(int(a), int(b)) for a, b in directed}
    rim = np.array([(a, b) for a, b in directed.tolist() if (b, a) not in there]).reshape(-1, 2)
    sides = [
        np.column_stack([rim[:, 0], rim[:, 1], rim[:, 1] + n]),
        np.column_stack([rim[:, 0], rim[:, 1] + n, rim[:, 0] + n]),
    ]
    solid = closed_solid(casting)
    prism = tool_solid(np.concatenate([low, high]), np.concatenate([faces[:, ::-1], faces + n, *sides]))
    if solid is None or prism.is_empty():
        return None
    return bare_mesh(united([solid, prism]))


def _welded(corners: Floats) -> tuple[Floats, Ints]:
    points, index = np.unique(np.round(corners.reshape(-1, 3), 6), axis=0, return_inverse=True)
    return points, index.reshape(-1, 3).astype(np.int64)
