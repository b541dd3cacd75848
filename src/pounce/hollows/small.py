"""Small round holes that run into a hollow from outside: set screws, oil ways, pins. A moulder drills them, for an arm
that thin breaks off its core.
"""

from collections.abc import Sequence

import numpy as np

from pounce.metals.tables import limits
from pounce.solid.features.values import Feature
from pounce.solid.hollow import Hollow
from pounce.solid.mesh import Ints, Mesh
from pounce.solid.sets import distinct

# The mouth of a hole looks along it within this cosine: it may lie on a curved face, or be countersunk.
ALONG = 0.9
# Where no more of a hollow's wall is left than this share, it is small holes that meet, and countersinks.
REST_SHARE = 0.25


def holes_into(
    mesh: Mesh, feature: Ints, features: Sequence[Feature], faces: Ints, hollow: Hollow | None
) -> tuple[int, ...]:
    """The features (by their numbers) that are small holes from outside into a hollow (of these ``faces``);
    ``feature`` (m,) of each face of the mesh, -1 none.

    Small is what is cast solid and drilled (``bore_solid`` of the table of limits). None where they are its only way
    out: a core of it needs them. A hollow that is one plain hole has none.
    """
    if hollow is None or len(hollow.openings) < 2:
        return ()
    under, own = limits()["bore_solid"].value, feature[faces]
    numbers = [
        number
        for number in distinct(own[own >= 0]).tolist()
        if _is_small(features[number], under) and _mouths(features[number], hollow)
    ]
    areas = mesh.areas[faces]
    only_holes = float(areas[~np.isin(own, numbers)].sum()) <= REST_SHARE * float(areas.sum())
    mouths = {mouth for number in numbers for mouth in _mouths(features[number], hollow)}
    if only_holes:
        return tuple(numbers) if len(numbers) > 1 else ()
    return tuple(numbers) if len(mouths) < len(hollow.openings) else ()


def _is_small(one: Feature, under_mm: float) -> bool:
    # to a hundredth, as they are filled: facets make a bore of just that size a little more
    return one.is_hole and round(2.0 * one.radius_mm, 2) <= under_mm


def _mouths(hole: Feature, hollow: Hollow) -> list[int]:
    """The openings of a hollow that are mouths of a hole: on its axis, and hardly wider than it."""
    out = []
    for number, opening in enumerate(hollow.openings):
        away = opening.centre - hole.centre
        aside = away - hole.axis * float(away @ hole.axis)
        wide = float(np.sqrt(4.0 * opening.area_mm2 / np.pi))
        if (
            abs(float(opening.normal @ hole.axis)) > ALONG
            and float(np.linalg.norm(aside)) < hole.radius_mm
            and wide < 2.0 * limits()["bore_solid"].value
        ):
            out.append(number)
    return out
