"""Decides which hollows cores make, on the bare part."""

import numpy as np

from pounce.base.progress import Progress
from pounce.draw.values import DrawResult
from pounce.hollows.find import Given, hollows_in
from pounce.hollows.values import HollowsAsked, HollowsResult, Place
from pounce.metals.method import Method
from pounce.part.model import PartResult
from pounce.parting.values import PartingResult
from pounce.solid.features.find import feature_numbers, features_of
from pounce.solid.mesh import Ints, Mesh


def hollows_stop(
    asked: HollowsAsked, part: PartResult, method: Method, draw: DrawResult, parting: PartingResult, progress: Progress
) -> HollowsResult:
    """The places whose hollows cores make: those asked for, a groove that gets a ring core, and with ``every`` each
    that locks or stands too slender, is worth a core and was not said otherwise. Nothing is looked for where nothing
    has to be.
    """
    progress(0.0, "Deciding what cores make")
    ring = None if parting.ringed is None else parting.ringed.core_at
    cored = [*asked.cores, *([] if ring is None else [ring])]
    if asked.every and part.closed and method.pattern.draws:
        mesh = part.mesh
        features = features_of(mesh)
        number = feature_numbers(mesh, features)
        given = Given(
            mesh, number, features, draw.reach, draw.direction, parting.joint, parting.loose, method.mould.bond
        )
        for one in hollows_in(given, [*cored, *asked.kept]):
            if one.pointed < 0 and one.worth(mesh) and (one.locks or one.slender) and not one.too_thin:
                cored.append(place_on(mesh, one.faces))
    progress(1.0, "Hollows decided")
    return HollowsResult(tuple(cored), asked.kept)


def place_on(mesh: Mesh, faces: Ints) -> Place:
    """A point on the hollow's wall: the middle of the face nearest to its centre."""
    middles = mesh.corners[faces].mean(axis=1)
    centre = np.average(middles, axis=0, weights=np.maximum(mesh.areas[faces], 1e-12))
    x, y, z = middles[int(np.argmin(np.linalg.norm(middles - centre, axis=1)))]
    return float(x), float(y), float(z)
