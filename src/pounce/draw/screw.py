"""Walls that wind round the draw, as a helical gear's teeth or a screw's thread: they hold sand from a straight draw
and leave when the pattern is turned as it is drawn.

A body that slides on itself while it is turned moves every point r by d + k d x (r - c) for a way d, a point c of the
axis and k radians a millimetre. Its walls stand square to that; the three unknowns k and k d x c are a least-squares
fit of n . (d + k d x r + m) = 0 over the walls' areas (line complexes of surfaces of revolution and helical surfaces,
Pottmann and Wallner, Computational Line Geometry, 2001).
"""

from dataclasses import dataclass

import numpy as np

from pounce.solid.frame import across
from pounce.solid.mesh import Bools, Floats, Mesh

# What looks along the draw by more than this is no wall but a face that lifts off.
FLAT = 0.98
# So much of the surface holds sand at least, or it is no matter of the whole.
HELD = 0.05
# Walls stand square to the turn within this sine, and so much of them do.
SQUARE, MOST = float(np.sin(np.radians(8.0))), 0.9
# Walls that hold sand lean by this at least, or they do not wind.
LEANS = float(np.sin(np.radians(3.0)))


@dataclass(frozen=True)
class Screw:
    """How far a pattern is drawn in one turn, mm; over 0 turned as a right-hand thread goes in, seen along the draw."""

    lead_mm: float


def screw_of(mesh: Mesh, held: Bools, direction: Floats) -> Screw | None:
    """How the pattern is turned so that the faces that are ``held`` (m,) from a draw along ``direction`` (3,) leave;
    None where no turn lets all its walls slide.
    """
    areas, along = mesh.areas, mesh.normals @ direction
    own = held & (np.abs(along) < FLAT)
    if float(areas[own].sum()) < HELD * mesh.area or _mean(np.abs(along[own]), areas[own]) < LEANS:
        return None
    wall = np.abs(along) < FLAT
    middles, normals = mesh.corners.mean(axis=1)[wall], mesh.normals[wall]
    middle = np.average(middles, axis=0, weights=np.maximum(areas[wall], 1e-12))
    u, v = across(direction)
    turned = np.cross(direction, middles - middle)
    size = mesh.diagonal
    table = np.stack([np.einsum("ij,ij->i", normals, turned), size * (normals @ u), size * (normals @ v)], axis=1)
    weight = np.sqrt(areas[wall])[:, None]
    found = np.linalg.lstsq(weight * table, -weight[:, 0] * along[wall], rcond=1e-6)[0]
    if abs(found[0]) * _mean(np.linalg.norm(turned, axis=1), areas[wall]) < LEANS:
        return None  # walls of one slant: the draw is tilted, not turned
    way = direction + found[0] * turned + size * (found[1] * u + found[2] * v)
    square = np.abs(np.einsum("ij,ij->i", normals, way)) < SQUARE * np.linalg.norm(way, axis=1)
    if _mean(square.astype(float), areas[wall]) < MOST or _mean(square[own[wall]].astype(float), areas[own]) < MOST:
        return None
    return Screw(float(2.0 * np.pi / found[0]))


def _mean(values: Floats, areas: Floats) -> float:
    return float((values * areas).sum() / max(float(areas.sum()), 1e-12))
