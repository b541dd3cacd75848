"""The Draw stop."""

import numpy as np

from pounce.base.errors import UserFault
from pounce.base.tick import Tick, span
from pounce.draw import candidates
from pounce.draw.judge import judge
from pounce.draw.values import DrawChoices, DrawResult
from pounce.part.model import PartResult
from pounce.solid.frame import unit


def draw_stop(choices: DrawChoices, part: PartResult, tick: Tick) -> DrawResult:
    """The reach of every face along the chosen draw, or along the best of the own axes."""
    mesh = part.mesh
    looked = candidates.look(mesh, candidates.own_axes(), span(tick, 0.0, 0.25))
    if choices.direction is None:
        direction, chosen_by = unit(looked[0].direction), "search"
    else:
        try:
            direction, chosen_by = unit(choices.direction), "user"
        except ValueError:
            raise UserFault("The draw has no direction.", "Give three numbers that are not all zero.") from None
    reach = judge(mesh, direction, span(tick, 0.25, 1.0))
    heights = mesh.vertices[np.unique(mesh.faces)] @ direction
    return DrawResult(
        direction=direction,
        chosen_by=chosen_by,
        low_mm=float(heights.min()),
        high_mm=float(heights.max()),
        reach=reach,
        candidates=looked,
        findings=(),
    )
