"""Places of the mould and of its castings' parts, and what a hand does: a gate slides along its casting, a feeder
stands where metal is under it.
"""

import numpy as np
import shapely
import shapely.ops

from pounce.rig.values import Casting, RigResult, Spot
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.tree import tree_of


def turn_of(casting: Casting) -> Floats:
    """(3, 3) its turn in the flask."""
    c, s = np.cos(np.radians(casting.turn_deg)), np.sin(np.radians(casting.turn_deg))
    return np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])


def in_place(mesh: Mesh, casting: Casting) -> Mesh:
    """A mesh of the item where its casting lies."""
    return mesh.moved(turn_of(casting), np.array([*casting.at_mm, casting.level_mm]))


def to_part(rig: RigResult, casting: Casting, point: Floats) -> tuple[float, float, float]:
    """A point (3,) of the mould on its casting's part as it was modelled."""
    model = rig.models[casting.lot]
    at = turn_of(casting).T @ (point - [*casting.at_mm, casting.level_mm])
    x, y, z = np.linalg.solve(model.turn, at - model.shift).tolist()
    return x, y, z


def from_part(rig: RigResult, casting: Casting, point: Floats) -> Floats:
    """A point (3,) of the part where it lies in the mould."""
    model = rig.models[casting.lot]
    return np.asarray(turn_of(casting) @ (model.turn @ point + model.shift) + [*casting.at_mm, casting.level_mm])


def gates_by_hand(rig: RigResult) -> tuple[int, ...]:
    """The gates that a hand may slide, by their number: those of the job's own castings at the joint of the mould."""
    if rig.on_end:
        return ()
    return tuple(k for k, one in enumerate(rig.gates) if one.casting < rig.tier and rig.castings[one.casting].lot == 0)


def slid(rig: RigResult, gate: int, to_mm: Spot) -> Spot:
    """Where on the outline of its casting, as it is seen from above, a gate lies nearest to this place (mm)."""
    casting = rig.gates[gate].casting
    rings = [shapely.LinearRing(one.rings[0]) for one in rig.shapes if one.kind == "casting" and one.casting == casting]
    outline = shapely.unary_union(rings)
    x, y = shapely.get_coordinates(shapely.ops.nearest_points(outline, shapely.Point(to_mm))[0])[0].tolist()
    return x, y


def put_at(rig: RigResult, gate: int, to_mm: Spot) -> tuple[tuple[float, float, float], ...]:
    """All gates of a casting on its part, as it was modelled, with this one slid to where it lies nearest to a place
    of the plan (mm).
    """
    mine, out = rig.gates[gate].casting, []
    for k, one in enumerate(rig.gates):
        if one.casting == mine:
            x, y = slid(rig, gate, to_mm) if k == gate else one.at_mm[:2]
            out.append(to_part(rig, rig.castings[mine], np.array([x, y, one.at_mm[2]])))
    return tuple(out)


def feeders_by_hand(rig: RigResult) -> tuple[int, ...]:
    """The feeders that a hand may move, by their number: those that stand on the job's own castings, not on gates."""
    own = [k for k, one in enumerate(rig.castings[: rig.tier]) if one.lot == 0]
    return tuple(k for k, one in enumerate(rig.feeders) if one.casting in own and one.contact_mm is None)


def stood_at(rig: RigResult, feeder: int, to_mm: Spot) -> tuple[float, float, float] | None:
    """Where on its part, as it was modelled, a feeder stands at a place of the plan (mm): on the casting's top there.
    None where no metal is under it.
    """
    casting = rig.castings[rig.feeders[feeder].casting]
    metal = rig.models[casting.lot].metal
    high = float(metal.bounds[1, 2]) + 1.0
    x, y, _ = (turn_of(casting).T @ np.array([to_mm[0] - casting.at_mm[0], to_mm[1] - casting.at_mm[1], 0.0])).tolist()
    far, face = tree_of(metal).nearest(np.array([[x, y, high]]), np.array([[0.0, 0.0, -1.0]]))
    if face[0] < 0:
        return None
    top = np.array([*to_mm, high - float(far[0]) + casting.level_mm])
    return to_part(rig, casting, top)
