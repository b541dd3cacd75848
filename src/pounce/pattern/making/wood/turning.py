"""Turned pieces: whether a piece or a half is a body of revolution, and the profile to turn it to."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from pounce.pattern.making.layers import Bored, upright_cut
from pounce.solid.mesh import Floats, Mesh

# A face belongs to a body turned about an axis when its normal meets the axis within this, sine; and so much of the
# area must.
MEETS, SHARE = 0.05, 0.9
# Diameters are written at the corners of the profile, no nearer than this along it, mm, and no more of them.
APART_MM, MOST = 4.0, 24
BED_MM = 1e-3
# Points that lie on a line of the profile within this are none of its corners, mm.
PLAIN_MM = 0.003


@dataclass(frozen=True, eq=False)
class Turned:
    """A body of revolution: ``axis`` (0, 1, 2 of the laid piece), ``half`` whether only half of it is there (split
    along its axis), the ``profile`` (k, 2) as distance along the axis from its low end and radius, mm, along the
    axis.
    """

    axis: int
    half: bool
    profile: Floats

    @property
    def sizes(self) -> list[tuple[float, float]]:
        """(along, diameter) at the corners of the profile, mm."""
        out: list[tuple[float, float]] = []
        points = self.profile
        bend = np.abs(_bends(points))
        for k in np.argsort(-bend).tolist():
            at, radius = float(points[k, 0]), float(points[k, 1])
            if radius > 0.1 and all(
                abs(at - other) > APART_MM or abs(2.0 * radius - wide) > 0.5 for other, wide in out
            ):
                out.append((at, 2.0 * radius))
            if len(out) == MOST:
                break
        return sorted(out)


def turned(mesh: Mesh, bored: Sequence[Bored] = ()) -> Turned | None:
    """The laid piece as a body of revolution about its upright middle, or about a line in its joint; None for anything
    else.

    ``bored`` holes are no part of the profile.
    """
    low, high = mesh.bounds
    middle = (low + high) / 2.0
    for axis in (2, 0, 1):
        through = np.array([middle[0], middle[1], 0.0])
        half = axis != 2
        if _share(mesh, axis, through, half) < SHARE:
            continue
        profile = _profile(mesh, axis, through, bored)
        if profile is not None:
            return Turned(axis, half, profile)
    return None


def _share(mesh: Mesh, axis: int, through: Floats, half: bool) -> float:
    """The share of the area whose normals meet the axis. The joint of a half, and what tools made, does not count."""
    counted = np.ones(len(mesh.faces), bool)
    if half:
        counted = mesh.corners[:, :, 2].max(axis=1) > float(mesh.bounds[0, 2]) + BED_MM
    counted &= ~mesh.tags.made_by_tools
    if not counted.any():
        return 0.0
    arm = mesh.corners.mean(axis=1)[counted] - through
    arm[:, axis] = 0.0
    along = np.eye(3)[axis]
    tangent = np.cross(along, arm)
    reach = np.maximum(np.linalg.norm(tangent, axis=1), 1e-9)
    across = np.abs(np.einsum("ij,ij->i", mesh.normals[counted], tangent)) / reach
    areas = mesh.areas[counted]
    # facets of a coarse round lean off by half their own angle only at their rims; their middles meet the axis
    return float(areas[across < MEETS].sum() / max(float(mesh.areas[counted].sum()), 1e-9))


def _profile(mesh: Mesh, axis: int, through: Floats, bored: Sequence[Bored]) -> Floats | None:
    """(k, 2) the upper half of the cut through the axis: along it and out from it."""
    u = np.eye(3)[0 if axis == 2 else axis]
    normal = np.cross(u, np.array([0.0, 0.0, 1.0]))
    shape = upright_cut(mesh, u, float(normal @ through) + 1e-4, bored)
    start = float(mesh.bounds[0, axis])
    # along the axis first, then out from it; an upright axis has its cut on end
    place = [0.0, 1.0, 1.0, 0.0, -start, -float(through[0])] if axis == 2 else [1.0, 0.0, 0.0, 1.0, -start, 0.0]
    laid = shapely.affinity.affine_transform(shape, place)
    reach = 2.0 * mesh.diagonal
    upper = laid.intersection(shapely.box(-reach, 0.0, reach, reach))
    parts = [part for part in getattr(upper, "geoms", [upper]) if part.geom_type == "Polygon" and not part.is_empty]
    if not parts:
        return None
    points = np.array(max(parts, key=lambda part: part.area).simplify(PLAIN_MM).exterior.coords)[:-1]
    # round from where it leaves the axis at its low end, over the top
    first = int(np.argmin(points[:, 0] + 1e-3 * np.abs(points[:, 1])))
    points = np.roll(points, -first, axis=0)
    if points[1, 1] < points[-1, 1]:
        points = np.vstack([points[:1], points[:0:-1]])
    return np.asarray(points)


def _bends(points: Floats) -> Floats:
    before, after = points - np.roll(points, 1, axis=0), np.roll(points, -1, axis=0) - points
    cross = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    dot = np.einsum("ij,ij->i", before, after)
    return np.asarray(np.arctan2(cross, dot))
