"""The pattern as it is rammed, before contraction, looked at as if it were the part: body, draw and joint."""

from dataclasses import replace

import numpy as np

from pounce.base.progress import Progress, span
from pounce.cores.values import CoresResult
from pounce.draw.reachability import reach_along
from pounce.draw.values import DrawResult
from pounce.metals.drafts import drafts
from pounce.metals.method import Method
from pounce.metals.tables import limits
from pounce.part.model import PartResult
from pounce.parting.stop import parted_again
from pounce.parting.values import PartingChoices, PartingResult
from pounce.proof.stop import is_changed
from pounce.solid.boolean import closed_solid
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.pick import behind
from pounce.solid.sets import distinct
from pounce.stock.values import StockResult


def rammed_part(part: PartResult, method: Method, stock: StockResult, cores: CoresResult) -> PartResult:
    """The body of Cores in the place of the part; the part itself where nothing was added or nothing draws."""
    if not part.closed or not method.pattern.draws or not is_changed(stock, cores):
        return part
    mesh = cores.mesh
    return replace(
        part, mesh=mesh, closed=closed_solid(mesh) is not None, volume_mm3=abs(mesh.volume), area_mm2=mesh.area
    )


def rammed_draw(
    part: PartResult, rammed: PartResult, method: Method, draw: DrawResult, progress: Progress
) -> DrawResult:
    """The reach of every face of the pattern along the same draw. Where lines of Stock moved a wall, its skins may
    stand off each other by a hair: a step lower than half a grain holds no sand.
    """
    if rammed.mesh is part.mesh:
        return draw
    mesh = rammed.mesh
    made = (mesh.tags.line >= 0) & (mesh.tags.print < 0)
    steps = np.where(made, limits()["step_grains"].value * method.mould.grain.value, 0.0)
    heights = mesh.vertices[distinct(mesh.faces)] @ draw.direction
    return replace(
        draw,
        low_mm=float(heights.min()),
        high_mm=float(heights.max()),
        reach=reach_along(mesh, draw.direction, span(progress, 0.0, 1.0), steps),
        candidates=(),
    )


def rammed_parting(
    choices: PartingChoices,
    part: PartResult,
    rammed: PartResult,
    method: Method,
    draw: DrawResult,
    parting: PartingResult,
    stock: StockResult,
    progress: Progress,
) -> PartingResult:
    """What every face of the pattern does along the joint that is really rammed."""
    if rammed.mesh is part.mesh:
        return parting
    joint = replace(parting.joint, height_mm=stock.joint_mm) if parting.joint.level else parting.joint
    before = asked_before(part.mesh, parting.asked_deg, rammed.mesh)
    return parted_again(choices, parting, joint, rammed, method, draw, before, progress)


def asked_before(part: Mesh, asked_deg: Floats, body: Mesh) -> Floats:
    """(m,) draft (degrees) that the part, of which ``asked_deg`` (k,) is asked, was asked for in the place of each face
    of a body made of it; inf where the face stands for none.

    Walls are leaned by what is asked of the part. Asked anew, a wall that has become two, or that a wedge was laid on,
    may pass for one that holds sand where the whole did not, and no draft would ever do. A print leans as Cores made
    it: it only has to lean.
    """
    out = np.full(len(body.faces), np.inf)
    own = body.tags.face >= 0
    out[own] = asked_deg[body.tags.face[own]]
    laid = np.flatnonzero(~own & (body.areas > 0.0))
    if len(laid):
        face = behind(part, body, laid)
        out[laid[face >= 0]] = asked_deg[face[face >= 0]]
    out[body.tags.print >= 0] = drafts().least.value
    return out
