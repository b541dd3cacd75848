"""The hollow of a groove round the outside: its faces, and the band from rim to rim that closes it."""

import numpy as np
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from pounce.base.errors import UserFault
from pounce.solid.features.values import Feature
from pounce.solid.frame import across
from pounce.solid.groove import NOISE, ROUND_SHARE, Groove, groove_at, turned_about
from pounce.solid.hollow import Hollow, Opening, rims
from pounce.solid.mesh import Floats, Ints, Mesh, edges

# Walls and floor of a groove hang together where they bend less than this, degrees.
BEND_DEG = 40.0
# A step round the axis is none under this, radians: the rounding of an angle, far under a micrometre on any rim.
STILL = 1e-9


def groove_of(mesh: Mesh, features: tuple[Feature, ...], number: Ints, place: Floats) -> Groove | None:
    """The groove round the outside that ``place`` (3,) lies in: about the axis of a round, else of what hangs together
    there; None without.

    ``number`` (m,) which of the features each face of the mesh is of.
    """
    for k, feature in enumerate(features):
        if feature.kind not in ("boss", "cone") or not feature.full:
            continue
        faces = np.flatnonzero(number == k)
        found = _about(mesh, faces, feature.axis, place) if len(faces) else None
        if found is not None:
            return found
    faces = _smooth(mesh, place)
    normals, weight = mesh.normals[faces], mesh.areas[faces]
    # a turned surface looks as much each way across its axis
    axis = np.linalg.eigh(np.einsum("i,ij,ik->jk", weight, normals, normals))[1][:, 0]
    return _about(mesh, faces, np.asarray(axis), place)


def _about(mesh: Mesh, faces: Ints, axis: Floats, place: Floats) -> Groove | None:
    middle = turned_about(mesh, faces, axis)
    found = None if middle is None else groove_at(mesh, middle, axis, place)
    return found if found is not None and bool(found.holds(place[None])[0]) else None


def _smooth(mesh: Mesh, place: Floats) -> Ints:
    """The faces that hang smoothly together at a place."""
    start = int(np.argmin(np.linalg.norm(mesh.corners.mean(axis=1) - place, axis=1)))
    pairs = edges(mesh.faces, len(mesh.vertices)).pairs
    bend = np.einsum("ij,ij->i", mesh.normals[pairs[:, 0]], mesh.normals[pairs[:, 1]])
    return _hang_together(len(mesh.faces), pairs[bend > np.cos(np.radians(BEND_DEG))], start)


def _hang_together(count: int, pairs: Ints, start: int) -> Ints:
    graph = coo_array((np.ones(len(pairs), np.int8), (pairs[:, 0], pairs[:, 1])), shape=(count, count))
    _, label = connected_components(graph, directed=False)
    return np.flatnonzero(label == label[start])


def ring_hollow(mesh: Mesh, groove: Groove) -> Hollow:
    """The hollow that a ring core makes: the groove to its two rims. UserFault where other hollows run into it or a
    rim is broken.
    """
    faces = _faces(mesh, groove)
    loops = rims(mesh.faces[faces]) if len(faces) else []
    if len(loops) != 2:
        raise UserFault(
            "Other hollows run into this groove, or its rims are broken, so no ring closes it.",
            "Fill it and turn it, or fill what runs into it first.",
        )
    loops.sort(key=lambda loop: float((mesh.vertices[loop] @ groove.axis).mean()))
    turned = [_turned(mesh.vertices[loop], loop, groove) for loop in loops]
    if any(one is None for one in turned):
        raise UserFault("A rim of this groove does not go straight round.", "Fill it and turn it after casting.")
    (low, low_at), (high, high_at) = (one for one in turned if one is not None)
    caps = _outward(mesh, _band(low, low_at, high, high_at), groove)
    corners = mesh.vertices[caps]
    area = float(
        0.5 * np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1).sum()
    )
    half = 0.5 * groove.wide_mm
    centre = groove.centre + groove.axis * (0.5 * (groove.low_mm + groove.high_mm))
    opening = Opening(
        (mesh.vertices[low], mesh.vertices[high]), caps, area, centre, groove.axis, (half, half), ring=True
    )
    closed = np.concatenate([mesh.faces[faces][:, ::-1], caps])
    used, inverse = np.unique(closed, return_inverse=True)
    body = Mesh.of(mesh.vertices[used], inverse.reshape(-1, 3))
    if body.volume <= 0.0:
        raise UserFault("This groove crosses itself, so no core can be made.", "Mend the model where it is made.")
    return Hollow(faces, (opening,), body, body.volume, float(mesh.areas[faces].sum()), groove)


def _faces(mesh: Mesh, groove: Groove) -> Ints:
    """Its walls and floor: what lies between its levels, no further in than its floor, and hangs together with it."""
    rel = mesh.corners - groove.centre
    height = rel @ groove.axis
    away = np.linalg.norm(rel - height[..., None] * groove.axis, axis=2)
    slack = NOISE * groove.wide_mm
    inside = (height.min(axis=1) > groove.low_mm - slack) & (height.max(axis=1) < groove.high_mm + slack)
    inside &= away.min(axis=1) > (1.0 - ROUND_SHARE) * groove.floor_mm
    rows = np.flatnonzero(inside)
    if not len(rows):
        return rows
    pairs = edges(mesh.faces[rows], len(mesh.vertices)).pairs
    start = int(np.argmin(away[rows].mean(axis=1)))
    return np.asarray(rows[_hang_together(len(rows), pairs, start)])


def _turned(points: Floats, loop: Ints, groove: Groove) -> tuple[Ints, Floats] | None:
    """A rim in the order it goes round the axis, with its angles; None where it does not go once round, always forward.

    Draft leaves corners one above the other, so a step may stand still to the rounding of its angle.
    """
    u, v = across(groove.axis)
    rel = points - groove.centre
    angle = np.arctan2(rel @ v, rel @ u)
    step = np.diff(np.r_[angle, angle[0]])
    step -= 2.0 * np.pi * np.round(step / (2.0 * np.pi))
    if abs(abs(float(step.sum())) - 2.0 * np.pi) > 1e-6 or (step * np.sign(step.sum()) < -STILL).any():
        return None
    if step.sum() < 0.0:
        loop, angle = loop[::-1], angle[::-1]
    first = int(np.argmin(angle))
    loop, angle = np.roll(loop, -first), np.roll(angle, -first)
    return loop, np.maximum.accumulate(np.where(angle < angle[0], angle[0], angle))


def _band(low: Ints, low_at: Floats, high: Ints, high_at: Floats) -> Ints:
    """(n + m, 3) triangles between two rims, each in the order of its angles: the rim that lags goes on."""
    n, m, i, j = len(low), len(high), 0, 0
    out = []
    while i < n or j < m:
        next_low = low_at[i + 1] if i + 1 < n else low_at[0] + 2.0 * np.pi if i < n else np.inf
        next_high = high_at[j + 1] if j + 1 < m else high_at[0] + 2.0 * np.pi if j < m else np.inf
        if next_low <= next_high:
            out.append((low[i % n], low[(i + 1) % n], high[j % m]))
            i += 1
        else:
            out.append((low[i % n], high[(j + 1) % m], high[j % m]))
            j += 1
    return np.asarray(out, np.int64)


def _outward(mesh: Mesh, caps: Ints, groove: Groove) -> Ints:
    """The band looking away from the axis."""
    corners = mesh.vertices[caps]
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    out = corners.mean(axis=1) - groove.centre
    out -= np.outer(out @ groove.axis, groove.axis)
    return caps if float(np.einsum("ij,ij->", normal, out)) > 0.0 else caps[:, ::-1]
