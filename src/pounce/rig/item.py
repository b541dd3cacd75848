"""One casting in the mould's frame: its solids at the size that is rammed, its silhouettes, and where it may be gated.

The item's own frame: the middle of its silhouette at (0, 0), the joint at z = 0 (the plane it keeps to, where it is
shaped), z up as it is poured.
"""

import atexit
import weakref
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
import shapely.affinity
from shapely.geometry.base import BaseGeometry

from pounce.base.errors import UserFault
from pounce.parting.joint import Joint
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.evenodd import outline_of, simpler
from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Floats, Mesh

# Of a finer pattern faces are merged within this share of its size before it is cut: a mould asks no more.
MOST_FACES, MERGED = 120_000, 5e-5
# Silhouettes are drawn this coarsely, mm, and a joint's section is taken this far inside a flat back.
SILHOUETTE_MM, INSIDE_MM = 0.15, 0.02
# A side of the joint is the wider one, in a step, when it has so much more metal.
STEPPED = 1.02


@dataclass(frozen=True, eq=False)
class Item:
    """``metal`` the casting, ``whole`` the pattern with its prints, ``cores`` with theirs; ``plan`` and ``metal_plan``
    their silhouettes, ``outline`` what the metal fills at the joint; ``up_mm`` and ``down_mm`` heights of the whole
    over and under the joint; ``turn`` (3, 3) and ``shift`` (3,) from the part's own place; ``joint`` a shaped joint
    (None: level).
    """

    metal: Solid
    whole: Solid
    cores: tuple[Solid, ...]
    metal_mesh: Mesh
    plan: BaseGeometry
    metal_plan: BaseGeometry
    outline: BaseGeometry
    up_mm: float
    down_mm: float
    turn: Floats
    shift: Floats
    joint: Joint | None

    @cached_property
    def halves_mm3(self) -> tuple[float, float]:
        """Volume of the whole over and under the joint's level, mm3."""
        above, below = self.whole.split_by_plane([0.0, 0.0, 1.0], 0.0)
        return float(above.volume()), float(below.volume())

    def joint_at(self, places: Floats) -> Floats:
        """(k,) heights of the joint at places (k, 2) of the item's frame; 0 where it is level."""
        if self.joint is None:
            return np.zeros(len(places))
        inverse = np.linalg.inv(self.turn)
        points = np.column_stack([places, np.zeros(len(places))])
        flat = self.joint.flat_points((points - self.shift) @ inverse.T)
        heights = self.joint.at(flat[:, :2])
        at = flat[:, :1] * self.joint.u + flat[:, 1:2] * self.joint.v + heights[:, None] * self.joint.direction
        return np.asarray((at @ self.turn.T + self.shift)[:, 2])


# The last item of each casting that still lives, with what it was made of: a piece moved by hand changes none of it.
_KEPT: "weakref.WeakKeyDictionary[Mesh, tuple[tuple[object, ...], Item]]" = weakref.WeakKeyDictionary()
# The solid library counts what outlives it and complains on standard error.
atexit.register(_KEPT.clear)


def kept_item(
    casting: Mesh, whole: Mesh, cores: tuple[Mesh, ...], joint: Joint, factors: tuple[float, float, float]
) -> Item:
    """:func:`item_of`, made once for as long as the casting lives and the rest is the same."""
    grid = None if joint.grid is None else joint.grid.tobytes()
    of = (whole, cores, joint.up.tobytes(), joint.height_mm, grid, factors)
    held = _KEPT.get(casting)
    if held is None or held[0] != of:
        held = _KEPT[casting] = of, item_of(casting, whole, cores, joint, factors)
    return held[1]


def item_of(
    casting: Mesh, whole: Mesh, cores: tuple[Mesh, ...], joint: Joint, factors: tuple[float, float, float]
) -> Item:
    """The casting (its hollows cut out), the pattern (hollows filled, prints on) and its cores, all at part size, as
    they lie in the mould. UserFault where a body is open.
    """
    turn = turn_to_z(joint.up) @ np.diag(factors)
    plan = (whole.vertices @ turn.T)[:, :2]
    level = float((turn @ (joint.direction * joint.height_mm))[2])
    shift = -np.array([*(plan.min(axis=0) + plan.max(axis=0)) / 2.0, level])
    meshes = [one.moved(turn, shift) for one in (casting, whole, *cores)]
    solids = [_solid(mesh) for mesh in meshes]
    if solids[0] is None or solids[1] is None:
        raise UserFault("The pattern's shell is open, so its mould cannot be laid out.", "Close it where it is drawn.")
    metal, body = solids[0], solids[1]
    high = meshes[1].bounds
    return Item(
        metal,
        body,
        tuple(one for one in solids[2:] if one is not None),
        meshes[0],
        silhouette(body),
        silhouette(metal),
        _outline(metal, meshes[0], joint),
        max(float(high[1, 2]), 0.0),
        max(-float(high[0, 2]), 0.0),
        turn,
        shift,
        None if joint.level else joint,
    )


def _solid(mesh: Mesh) -> Solid | None:
    solid = boolean.closed_solid(mesh)
    if solid is not None and len(mesh.faces) > MOST_FACES:
        return boolean.simplified(boolean.unmarked(solid), MERGED * mesh.diagonal)
    return solid


def polygons(section: object) -> BaseGeometry:
    """The rings of a section of the solid library as one shape."""
    rings = [np.asarray(ring) for ring in section.to_polygons()]  # type: ignore[attr-defined]
    return outline_of(rings, 3)


def silhouette(solid: Solid) -> BaseGeometry:
    """The solid seen from above."""
    return simpler(polygons(solid.project()), SILHOUETTE_MM)


def _outline(metal: Solid, mesh: Mesh, joint: Joint) -> BaseGeometry:
    """What the metal fills at a level joint, a hair inside a flat back; the silhouette of a shaped one. Where a step
    lies in the joint, that of the wider side: gates run to it.
    """
    if not joint.level:
        return silhouette(metal)
    low, high = float(mesh.bounds[0, 2]), float(mesh.bounds[1, 2])
    level = INSIDE_MM if high > 5.0 * INSIDE_MM else -INSIDE_MM
    level, other = (min(max(at, low + INSIDE_MM), high - INSIDE_MM) for at in (level, -level))
    one, two = (polygons(metal.slice(at)) for at in (level, other))
    return (two if two.area > STEPPED * one.area else one).simplify(SILHOUETTE_MM)


def placed(shape: BaseGeometry, at_mm: tuple[float, float], turn_deg: float) -> BaseGeometry:
    """A shape of the item's plan where its casting lies in the flask."""
    turned = shapely.affinity.rotate(shape, turn_deg, origin=(0.0, 0.0))
    return shapely.affinity.translate(turned, *at_mm)


def turned_point(point: Floats, at_mm: tuple[float, float], turn_deg: float) -> Floats:
    """(2,) of the item's plan in the flask."""
    c, s = float(np.cos(np.radians(turn_deg))), float(np.sin(np.radians(turn_deg)))
    return np.array([c * point[0] - s * point[1] + at_mm[0], s * point[0] + c * point[1] + at_mm[1]])
