"""Holes with a keyway or a flat in their wall: the bore's own rim runs along it, so the whole hollow is closed."""

import numpy as np

from pounce.base.errors import UserFault
from pounce.metals.tables import limits
from pounce.solid.features.patches import bends_of
from pounce.solid.features.values import Feature
from pounce.solid.hollow import Hollow, NoWayOut, hollow_of, regions
from pounce.solid.mesh import Ints, Mesh
from pounce.solid.sky import openness

# Its mouths look along the bore within this cosine, and lie about its axis within its radius.
ALONG = 0.9
# How far about the bore its grooves are looked for, in radii.
AROUND = 3.0


class OpenAlongSide(UserFault):
    """A hole whose wall opens into a slot or beside an edge."""


def keyed_hole(body: Mesh, faces: Ints, bore: Feature) -> Hollow:
    """The hollow that a bore (its ``faces`` on the body) is with the grooves in its wall.

    OpenAlongSide where its rims do not close it; UserFault where it holds far more than a bore with a keyway, or opens
    anywhere but at its ends.
    """
    seeds = np.zeros(len(body.faces), bool)
    seeds[faces] = True
    away = body.corners.mean(axis=1) - bore.centre
    aside = np.linalg.norm(away - np.outer(away @ bore.axis, bore.axis), axis=1)
    sky = openness(body, seeds | (aside < AROUND * bore.radius_mm))
    found = [one for one in regions(body, bends_of(body), sky, seeds) if np.isin(faces, one).all()]
    if not found:
        raise UserFault("The rim of that hole lies along its own axis.", "Fill it where it is drawn.")
    try:
        hollow = hollow_of(body, found[0])
    except NoWayOut:
        raise
    except UserFault:  # what it says is of cores
        raise OpenAlongSide(
            "That hole is open along its side, so its rims do not close it.", "Fill it where it is drawn."
        ) from None
    own = np.pi * bore.radius_mm**2 * bore.length_mm
    for opening in hollow.openings:
        beside = opening.centre - bore.centre
        beside = beside - bore.axis * float(beside @ bore.axis)
        if abs(float(opening.normal @ bore.axis)) < ALONG or float(np.linalg.norm(beside)) > bore.radius_mm:
            raise UserFault("Another hole runs into that one.", "Fill that first, or fill it where it is drawn.")
    if hollow.volume_mm3 > limits()["keyway_most"].value * own:
        raise UserFault("That hole is part of a larger hollow.", "Make a core of it, or fill it where it is drawn.")
    return hollow
