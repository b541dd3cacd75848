"""Where a core and its box stand beside the part: the same for the picture, its labels and the view that takes them
all in.
"""

from dataclasses import dataclass

import numpy as np

from pounce.cores.values import Core, CoresResult
from pounce.solid.frame import across
from pounce.solid.mesh import Floats, Mesh

# Between part, core and box, and how far the box is opened, as shares of their sizes.
GAP, OPEN = 0.14, 0.75


@dataclass(frozen=True, eq=False)
class Beside:
    """Shifts (3,) of the core and of each part of its first box."""

    core: Floats
    parts: tuple[Floats, ...]


def beside(result: CoresResult, core: Core, direction: Floats, apart: float) -> Beside:
    """The core to the right of the part, its box to the right of that, its upper half lifted off along its pull."""
    u, _ = across(direction)
    gap = GAP * result.mesh.diagonal
    right = _reach(result.mesh, u, 1.0)
    to_core = right + gap - _reach(core.mesh, u, -1.0)
    box = core.boxes[0]
    after = to_core + _reach(core.mesh, u, 1.0) + gap
    to_box = after - min(_reach(part.mesh, u, -1.0) for part in box.parts)
    pull = box.pull if float(box.pull @ direction) >= -0.2 else -box.pull
    lift = OPEN * float(np.ptp(core.mesh.vertices @ box.pull)) + gap
    parts = []
    for number, _part in enumerate(box.parts):
        # the half on the side of the pull is lifted, whichever way that looks
        up = number == (1 if float(pull @ box.pull) > 0.0 else 0) and len(box.parts) > 1
        parts.append(apart * (to_box * u + (lift * pull if up else 0.0)))
    return Beside(apart * to_core * u, tuple(parts))


def _reach(mesh: Mesh, way: Floats, sign: float) -> float:
    along = mesh.vertices @ way
    return float(along.max() if sign > 0.0 else along.min())


def corners_of(result: CoresResult, core: Core, direction: Floats, apart: float) -> Floats:
    """(n, 3) corners of all that must be in the picture."""
    place = beside(result, core, direction, apart)
    things = [(result.mesh, np.zeros(3)), (core.mesh, place.core)]
    things += [(part.mesh, shift) for part, shift in zip(core.boxes[0].parts, place.parts, strict=True)]
    out = []
    for mesh, shift in things:
        low, high = mesh.bounds[0] + shift, mesh.bounds[1] + shift
        out.append(
            np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])
        )
    return np.concatenate(out)
