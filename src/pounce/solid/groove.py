"""Grooves round the outside of a turned part: a pulley's, a seal's. Sand in one can leave along no way but outward."""

from dataclasses import dataclass

import manifold3d
import numpy as np

from pounce.solid.frame import across
from pounce.solid.mesh import Bools, Floats, Mesh
from pounce.solid.sample import spread
from pounce.solid.sets import distinct
from pounce.solid.tree import tree_of

POINTS, LEVELS, SECTORS = 12000, 160, 24
# Rims may be out of round by this share; a groove is deeper than it.
ROUND_SHARE = 0.03
# Normals of a turned surface meet its axis within this share of its radius.
MEETS = 0.03
# Rounds of leaving out what does not meet it, and the share of the place that must be left.
ROUNDS, OWN_SHARE = 3, 0.3
# A turned face looks away from its axis by this cosine at least: it may be one of eight facets.
AWAY = 0.85
# Off a face a look outward begins at, as a share of the diagonal.
SEEN = 2e-5
# Corners of a rim may lie this share of the groove's width off their level.
NOISE = 0.01
# How deep a fill roots in the flanges and the floor, mm, and how far in its rooted ends are drawn (share).
ROOT_MM, INWARD = 0.05, 0.98
# Levels at which grooves like another one are looked for at most.
MOST_LEVELS = 80


@dataclass(frozen=True, eq=False)
class Groove:
    """A groove about the line through ``centre`` along ``axis`` (unit): from ``low_mm`` to ``high_mm`` along it from
    the centre, ``rim_mm`` the lesser rim's radius, ``floor_mm`` the least radius, ``ring_mm3`` what it takes to
    fill it to that rim, ``neck_mm`` along it where the floor has its middle.
    """

    centre: Floats
    axis: Floats
    low_mm: float
    high_mm: float
    rim_mm: float
    floor_mm: float
    ring_mm3: float
    neck_mm: float

    def level(self, along_mm: float) -> float:
        """Height along the axis from the model's own zero of what lies so far from the centre."""
        return float(self.centre @ self.axis) + along_mm

    def holds(self, points: Floats) -> Bools:
        """(k,) which points (k, 3) lie in it, its walls and floor with it."""
        rel = points - self.centre
        height = rel @ self.axis
        away = np.linalg.norm(rel - np.outer(height, self.axis), axis=1)
        slack = NOISE * self.wide_mm
        inside = (height > self.low_mm - slack) & (height < self.high_mm + slack)
        return np.asarray(
            inside & (away > (1.0 - ROUND_SHARE) * self.floor_mm) & (away < (1.0 + ROUND_SHARE) * self.rim_mm)
        )

    @property
    def wide_mm(self) -> float:
        """From rim to rim along the axis."""
        return self.high_mm - self.low_mm


def turned_about(mesh: Mesh, faces: np.ndarray, axis: Floats) -> Floats | None:
    """(3,) a point on the line parallel to ``axis`` that the normals of these faces meet; None where they meet none,
    or not all round.
    """
    u, v = across(axis)
    normals, middles, weight = mesh.normals[faces], mesh.corners[faces].mean(axis=1), mesh.areas[faces]
    flat_n = np.stack([normals @ u, normals @ v], axis=1)
    flat_p = np.stack([middles @ u, middles @ v], axis=1)
    weight = weight * np.linalg.norm(flat_n, axis=1)
    if not weight.sum() > 1e-3 * mesh.areas[faces].sum():
        return None
    whole, middle = float(weight.sum()), _met(flat_n, flat_p, weight)
    for _ in range(ROUNDS):
        off = flat_p - middle
        miss = np.abs(flat_n[:, 0] * off[:, 1] - flat_n[:, 1] * off[:, 0])
        # walls of holes that run into it are left out, and the next round goes by the rest
        stray = (miss > 4.0 * MEETS * np.linalg.norm(off, axis=1)) | ((flat_n * off).sum(axis=1) <= 0.0)
        weight = np.where(stray, 0.0, weight)
        middle = _met(flat_n, flat_p, weight)
    off = flat_p - middle
    miss = np.abs(flat_n[:, 0] * off[:, 1] - flat_n[:, 1] * off[:, 0])
    off_by, allowed = float((weight * miss).sum()), MEETS * float((weight * np.linalg.norm(off, axis=1)).sum())
    if float(weight.sum()) < OWN_SHARE * whole or off_by > allowed:
        return None
    sector = ((np.arctan2(off[:, 1], off[:, 0]) / (2.0 * np.pi) + 0.5) * SECTORS).astype(int) % SECTORS
    if len(distinct(sector[weight > 0.0])) < SECTORS - 1:
        return None
    return np.asarray(middle[0] * u + middle[1] * v + axis * float(middles.mean(axis=0) @ axis))


def _met(normals: Floats, points: Floats, weight: Floats) -> Floats:
    """(2,) the point that lines through ``points`` (k, 2) along ``normals`` (k, 2) meet best: n x (p - c) = 0."""
    root = np.sqrt(weight)
    rows = np.stack([-normals[:, 1], normals[:, 0]], axis=1) * root[:, None]
    right = (normals[:, 0] * points[:, 1] - normals[:, 1] * points[:, 0]) * root
    return np.asarray(np.linalg.lstsq(rows, right, rcond=None)[0])


def groove_at(mesh: Mesh, centre: Floats, axis: Floats, place: Floats) -> Groove | None:
    """The groove round the line through ``centre`` along ``axis`` that ``place`` lies in; None where there is none
    all round.
    """
    points, _ = spread(mesh, POINTS)
    points = np.concatenate([points, mesh.vertices])
    rel = points - centre
    height = rel @ axis
    radius = np.linalg.norm(rel - np.outer(height, axis), axis=1)
    low, span = float(height.min()), float(np.ptp(height))
    found = _between_rims(rel, height, radius, axis, float((place - centre) @ axis))
    if found is None:
        return None
    first, last, rim = found
    # rims exactly: the mesh's own corners nearest to the groove's middle that stand as far out
    rel_v = mesh.vertices - centre
    high_v = rel_v @ axis
    far = np.linalg.norm(rel_v - np.outer(high_v, axis), axis=1) > (1.0 - 0.3 * ROUND_SHARE) * rim
    middle = low + (0.5 * (first + last) + 0.5) / LEVELS * span
    lows, highs = high_v[far & (high_v < middle)], high_v[far & (high_v > middle)]
    if not len(lows) or not len(highs):
        return None
    bottom, top = float(lows.max()), float(highs.min())
    inside = (height > bottom) & (height < top)
    own, slack = (mesh.corners - centre) @ axis, NOISE * (top - bottom)
    mine = (own.min(axis=1) >= bottom - slack) & (own.max(axis=1) <= top + slack)
    middles = mesh.corners.mean(axis=1) - centre
    out = middles - np.outer(middles @ axis, axis)
    r = np.linalg.norm(out, axis=1)
    push = np.einsum("ij,ij->i", mesh.normals, out) / np.maximum(r, 1e-12)
    round_part = np.linalg.norm(mesh.normals - np.outer(mesh.normals @ axis, axis), axis=1)
    # the wall of a hole that runs into it looks round the axis, not away from it
    mine &= push > AWAY * np.maximum(round_part, NOISE)
    # nor is the hub behind the rim's web the floor: whatever is the groove's is seen from outside
    rows = np.flatnonzero(mine)
    lift = SEEN * mesh.diagonal * mesh.normals[rows]
    mine[rows] = ~tree_of(mesh).blocked(mesh.corners[rows].mean(axis=1) + lift, out[rows] / r[rows, None])
    if not mine.any() or not inside.any():
        return None
    floor = float(np.linalg.norm(np.cross(mesh.corners[mine].reshape(-1, 3) - centre, axis), axis=1).min())
    ring = _sand_between(mesh.corners[mine] - centre, mesh.normals[mine], mesh.areas[mine], axis, rim)
    deep = mesh.corners[mine].reshape(-1, 3) - centre
    at_floor = np.linalg.norm(np.cross(deep, axis), axis=1) < floor + NOISE * (rim - floor)
    floors = deep[at_floor] @ axis
    return Groove(centre, axis, bottom, top, rim, floor, ring, 0.5 * float(floors.min() + floors.max()))


def grooves_like(mesh: Mesh, groove: Groove, near: float) -> list[Groove]:
    """The groove, and those about its axis whose width, depth and rim differ from its own by no more than the share
    ``near``.
    """
    rel = mesh.vertices - groove.centre
    height = rel @ groove.axis
    radius = np.linalg.norm(rel - np.outer(height, groove.axis), axis=1)
    deep = groove.rim_mm - groove.floor_mm
    at_floor = np.flatnonzero(np.abs(radius - groove.floor_mm) <= near * deep)
    # a corner of each level that floors have: they may be facets, or the edge of a vee
    _, first = np.unique(np.round(height[at_floor], 2), return_index=True)
    out = [groove]
    for vertex in at_floor[first][:MOST_LEVELS].tolist():
        if any(one.low_mm < height[vertex] < one.high_mm for one in out):
            continue
        one = groove_at(mesh, groove.centre, groove.axis, mesh.vertices[vertex])
        if (
            one is not None
            and one.low_mm < height[vertex] < one.high_mm
            and abs(one.wide_mm - groove.wide_mm) <= near * groove.wide_mm
            and abs(one.rim_mm - one.floor_mm - deep) <= near * deep
            and abs(one.rim_mm - groove.rim_mm) <= near * deep
        ):
            out.append(one)
    return out


def _between_rims(
    rel: Floats, height: Floats, radius: Floats, axis: Floats, place_mm: float
) -> tuple[int, int, float] | None:
    """The levels of the lower and the upper rim round a place, and how far the lower of them stands out; None where
    one does not go all round.
    """
    u, v = across(axis)
    sector = ((np.arctan2(rel @ v, rel @ u) / (2.0 * np.pi) + 0.5) * SECTORS).astype(int) % SECTORS
    low, span = float(height.min()), float(np.ptp(height))
    level = np.minimum(((height - low) / max(span, 1e-12) * LEVELS).astype(int), LEVELS - 1)
    outer = np.zeros(LEVELS)
    np.maximum.at(outer, level, radius)
    here = min(max(int((place_mm - low) / max(span, 1e-12) * LEVELS), 0), LEVELS - 1)
    below, above = outer[: here + 1].max(), outer[here:].max()
    rim = float(min(below, above))
    shallow = (1.0 - ROUND_SHARE) * rim
    if outer[here] > shallow:
        near = [k for k in (here - 1, here + 1) if 0 <= k < LEVELS and outer[k] <= shallow]
        if not near:
            return None
        here = near[0]
    first = here
    while first > 0 and outer[first] <= shallow:
        first -= 1
    last = here
    while last < LEVELS - 1 and outer[last] <= shallow:
        last += 1
    for k in (first, last):  # both rims go all round
        rims = np.zeros(SECTORS)
        near_k = np.abs(level - k) <= LEVELS // 20
        np.maximum.at(rims, sector[near_k], radius[near_k])
        if float(rims.min()) < (1.0 - ROUND_SHARE) * rim:
            return None
    return first, last, rim


def _sand_between(corners: Floats, normals: Floats, areas: Floats, axis: Floats, rim: float) -> float:
    """The sand between these faces, their corners seen from the axis, and the rim's round, mm3."""
    # what lies between each face and the rim's round: an angle dA n_r / r, over the height, times (R^2 - r^2) / 2
    # taken at the middles of its edges, which is exact for squares
    edges = (corners + np.roll(corners, 1, axis=1)) / 2.0
    out = edges - (edges @ axis)[..., None] * axis
    squares = (out**2).sum(axis=2)
    push_at = np.einsum("ij,ikj->ik", normals, out) / squares
    return float((areas * (push_at * (rim**2 - squares) / 2.0).mean(axis=1)).sum())


def ring_of(mesh: Mesh, groove: Groove) -> Mesh | None:
    """The ring that fills a groove from rim to rim on the rims' own corners, rooted in both flanges; None where the
    rims have too few corners.
    """
    rel = mesh.vertices - groove.centre
    height = rel @ groove.axis
    flat = rel - np.outer(height, groove.axis)
    radius = np.linalg.norm(flat, axis=1)
    near = np.abs(radius - groove.rim_mm) <= ROUND_SHARE * groove.rim_mm
    points, fewest = [], len(height)
    for level, way in ((groove.low_mm, -1.0), (groove.high_mm, 1.0)):
        own = near & (np.abs(height - level) < NOISE * groove.wide_mm)
        if own.sum() < 8:
            return None
        fewest = min(fewest, int(own.sum()))
        points += [mesh.vertices[own], groove.centre + flat[own] * INWARD + groove.axis * (level + way * ROOT_MM)]
    turn = np.stack([*across(groove.axis), groove.axis])
    whole = manifold3d.Manifold.hull_points((np.concatenate(points) - groove.centre) @ turn.T)
    # the floor's facets lie further in than its corners
    inner = groove.floor_mm * float(np.cos(np.pi / fewest)) - 2.0 * ROOT_MM
    if inner <= 0.0:
        return None
    hole = manifold3d.Manifold.cylinder(groove.wide_mm + 2.0, inner, inner, 256)
    made = (whole - hole.translate([0.0, 0.0, groove.low_mm - 1.0])).to_mesh64()
    if not len(made.tri_verts):
        return None
    return Mesh.of(np.asarray(made.vert_properties)[:, :3] @ turn + groove.centre, np.asarray(made.tri_verts, np.int64))
