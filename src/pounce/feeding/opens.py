"""Whether the hole of a last place is cut away with machined stock, opens in a machined face, or stays shut in."""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from pounce.base.units import length
from pounce.feeding.values import Lies
from pounce.solid.features.values import Feature
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.tree import tree_of

# So many ways are looked from a place; stock over a face is looked for so far over it, mm.
WAYS, OVER_MM = 200, 0.6
# A way along no face of a part.
ASKEW = np.array([0.3127, 0.5419, 0.7801])
ASKEW /= np.linalg.norm(ASKEW)
_GOLDEN = math.pi * (3.0 - math.sqrt(5.0))


@dataclass(frozen=True)
class Opening:
    """Where a hole lies, and the machined face that it opens in ("" none)."""

    lies: Lies
    face: str = ""


def radius_mm(void_mm3: float) -> float:
    """Of a ball that holds as much."""
    return float((3.0 * void_mm3 / (4.0 * math.pi)) ** (1.0 / 3.0))


def opening(
    part: Mesh, point: Floats, void_mm3: float, features: tuple[Feature, ...], cut: Callable[[Floats], bool]
) -> Opening:
    """Of a hole about a point (3,) of the part as it is wanted; ``cut`` tells whether metal at a point is machined off:
    a face with such over it is machined.
    """
    k = np.arange(WAYS)
    z = 1.0 - (2.0 * k + 1.0) / WAYS
    round_ = np.sqrt(1.0 - z * z)
    ways = np.column_stack([round_ * np.cos(_GOLDEN * k), round_ * np.sin(_GOLDEN * k), z])
    far, face = tree_of(part).nearest(np.tile(point, (WAYS, 1)), ways)
    hit = face >= 0
    if not hit.any():
        return Opening(Lies.STOCK)
    out_of = np.einsum("ij,ij->i", part.normals[np.maximum(face, 0)], ways) > 0.0
    inside = bool(out_of[hit].mean() > 0.5)
    reach = radius_mm(void_mm3)
    if not inside:
        return Opening(Lies.GONE if float(far[hit].min()) > reach else Lies.STOCK)
    for one in np.argsort(np.where(hit, far, np.inf)):
        if not hit[one] or far[one] > reach:
            break
        over = point + ways[one] * far[one] + part.normals[face[one]] * OVER_MM
        if cut(over):
            return Opening(Lies.OPENS, _name(int(face[one]), features))
    return Opening(Lies.WITHIN)


def added_by(lines: tuple[tuple[Mesh, Mesh], ...], point: Floats) -> bool:
    """Whether one of these lines, each given by the body before and after it, put metal at a point (3,)."""
    return any(_holds(after, point) and not _holds(before, point) for before, after in lines)


def _holds(mesh: Mesh, point: Floats) -> bool:
    far, face = tree_of(mesh).nearest(point[None], ASKEW[None])
    return bool(np.isfinite(far[0]) and face[0] >= 0 and float(mesh.normals[face[0]] @ ASKEW) > 0.0)


def _name(face: int, features: tuple[Feature, ...]) -> str:
    for one in features:
        if one.kind == "bore" and (one.faces == face).any():
            return f"the bore Ø {length(2.0 * one.radius_mm)}"
    return "a machined face"
