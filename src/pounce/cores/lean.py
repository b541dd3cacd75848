"""Draft on the walls of a hollow, so that its core leaves the box: taken from the core, which leaves a little more
metal.

The hollow's own wall is leaned by the same moving of vertices as the pattern's (:mod:`pounce.stock.taper`); its
openings stay in their planes and get smaller with it, and the prints are set on them anew.
"""

from dataclasses import dataclass

import numpy as np

from pounce.parting.joint import flat_joint
from pounce.solid.hollow import Hollow, Opening, capped, loop_frame, rims
from pounce.solid.mesh import Floats, Mesh
from pounce.stock.body import body_of
from pounce.stock.taper import tapered

# Walls short of the draft by less are left, degrees.
SLACK_DEG = 0.02
# Walls of less than this share of a hollow are left as they are: the joint's own strip on a round core is such.
LITTLE = 0.03
# A lean that would take more than this share of the core is given up.
TOO_MUCH = 0.25


@dataclass(frozen=True, eq=False)
class Leaned:
    """The hollow with draft in the box, metal that adds (mm3) and wall that could not be leaned (mm2)."""

    hollow: Hollow
    added_mm3: float
    left_mm2: float


def wants_draft(hollow: Hollow, pull: Floats, degrees: float) -> bool:
    """Whether enough of the hollow's own wall stands along the pull."""
    wall = len(hollow.faces)
    lean = np.degrees(np.arcsin(np.clip(np.abs(hollow.mesh.normals[:wall] @ pull), 0.0, 1.0)))
    upright = float(hollow.mesh.areas[:wall][lean < degrees - SLACK_DEG].sum())
    return upright > LITTLE * hollow.wall_mm2


def leaned(hollow: Hollow, pull: Floats, height_mm: float, degrees: float) -> Leaned | None:
    """The hollow with its walls leaned by ``degrees`` away from the box's joint; None where that would spoil it.

    ``pull`` (3,) and ``height_mm`` give the box's joint.
    """
    wall = len(hollow.faces)
    asked = np.where(np.arange(len(hollow.mesh.faces)) < wall, degrees, 0.0)
    made = tapered(body_of(hollow.mesh), hollow.mesh, (), flat_joint(pull, height_mm), asked, np.ones(len(asked)), 0)
    if not made.walls or made.wedged or made.left:
        return None
    less = hollow.volume_mm3 - made.body.volume
    # a core that grew would cut into metal nobody asked to take
    if not 0.0 < less < TOO_MUCH * hollow.volume_mm3:
        return None
    openings = _openings(made.body, hollow)
    if openings is None:
        return None
    body = Mesh.of(made.body.vertices, made.body.faces)
    wall_mm2 = body.area - sum(opening.area_mm2 for opening in openings)
    return Leaned(Hollow(hollow.faces, openings, body, body.volume, wall_mm2), less, made.tight_mm2)


def _openings(body: Mesh, hollow: Hollow) -> tuple[Opening, ...] | None:
    """The openings as they lie on the leaned hollow; None where one was lost."""
    face = body.tags.face
    start = len(hollow.faces)
    out: list[Opening] = []
    for opening in hollow.openings:
        own = (face >= start) & (face < start + len(opening.caps))
        start += len(opening.caps)
        loops = rims(body.faces[own]) if own.any() else []
        if len(loops) != len(opening.loops):
            return None
        sizes = [abs(loop_frame(body.vertices[loop])[2]) for loop in loops]
        out.append(capped(body, [loops[k] for k in np.argsort(sizes)[::-1].tolist()]))
    return tuple(out)
