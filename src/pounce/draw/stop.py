"""The Draw stop."""

from pounce.base.errors import UserFault
from pounce.base.progress import Progress, span
from pounce.draw.reachability import reach_along
from pounce.draw.search import search
from pounce.draw.values import DrawChoices, DrawResult
from pounce.part.model import PartResult
from pounce.solid.frame import unit
from pounce.solid.sets import distinct


def draw_stop(choices: DrawChoices, part: PartResult, progress: Progress) -> DrawResult:
    """The reach of every face along the chosen draw, or along the best that the search found."""
    mesh = part.mesh
    given = None
    if choices.direction is not None:
        try:
            given = unit(choices.direction)
        except ValueError:
            raise UserFault("The draw has no direction.", "Give three numbers that are not all zero.") from None
    looked = search(mesh, span(progress, 0.0, 0.6), given)
    direction = unit(looked[0].direction) if given is None else given
    reach = reach_along(mesh, direction, span(progress, 0.6, 1.0))
    heights = mesh.vertices[distinct(mesh.faces)] @ direction
    return DrawResult(
        direction=direction,
        chosen_by="search" if given is None else "user",
        low_mm=float(heights.min()),
        high_mm=float(heights.max()),
        reach=reach,
        candidates=looked,
        findings=(),
    )
