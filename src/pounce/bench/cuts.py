"""What the sand section strip asks for, and gets: outlines in the frame of the cut, ready to paint."""

from dataclasses import dataclass

import numpy as np

from pounce.parting.values import PartingResult, State
from pounce.route.results import Results
from pounce.solid.frame import across
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.section import cut


@dataclass(frozen=True)
class CutAsked:
    """``angle_deg`` turns the cut about the draw; ``share`` 0 to 1 is where along its normal it lies."""

    angle_deg: float
    share: float


@dataclass(frozen=True, eq=False)
class Cut2D:
    """A cut to paint. All in mm; the first coordinate runs along the cut, the second up the draw.

    ``loops`` outlines of the part; ``marked`` (k, 2, 2) stretches that are tight or locked with ``state`` and ``region``
    (k,); ``plan`` outlines of the part from above (first along the cut, second across it); ``offset`` across.
    """

    asked: CutAsked
    loops: tuple[Floats, ...]
    marked: Floats
    state: Floats
    region: Floats
    joint: float
    plan: tuple[Floats, ...]
    offset: float
    low: tuple[float, float]
    high: tuple[float, float]
    across_low: float
    across_high: float


def cut_for(results: Results, asked: CutAsked) -> Cut2D:
    """The cut of the part as asked, with what is tight or locked along it."""
    part, draw, parting = results.need("part"), results.need("draw"), results.need("parting")
    u0, v0 = across(draw.direction)
    angle = np.radians(asked.angle_deg)
    u = u0 * np.cos(angle) + v0 * np.sin(angle)
    normal = np.cross(u, draw.direction)
    reach = part.mesh.vertices @ normal
    along = part.mesh.vertices @ u
    low, high = float(reach.min()), float(reach.max())
    # never in the very end faces, and a hair off the middle where models like to have corners
    offset = low + (0.002 + 0.996 * asked.share) * (high - low) + 1e-5 * (high - low)
    found = cut(part.mesh, u, draw.direction, offset)
    pieces = _marked(parting)
    stretches = cut(pieces[0], u, draw.direction, offset) if len(pieces[0].faces) else None
    plan = cut(part.mesh, u, normal, _plan_height(parting, draw.low_mm, draw.high_mm) * -1.0)
    return Cut2D(
        asked=asked,
        loops=found.loops,
        marked=np.zeros((0, 2, 2)) if stretches is None else stretches.points,
        state=np.zeros(0) if stretches is None else pieces[1][stretches.face],
        region=np.zeros(0) if stretches is None else pieces[2][stretches.face],
        joint=parting.height_mm,
        plan=plan.loops,
        offset=offset,
        low=(float(along.min()), draw.low_mm),
        high=(float(along.max()), draw.high_mm),
        across_low=low,
        across_high=high,
    )


def _plan_height(parting: PartingResult, low: float, high: float) -> float:
    inside = 1e-3 * (high - low)
    return min(max(parting.height_mm, low + inside), high - inside)


def _marked(parting: PartingResult) -> tuple[Mesh, Floats, Floats]:
    """The tight and locked pieces as a loose mesh, with their states and regions."""
    judged = parting.judged
    chosen = np.flatnonzero(judged.state != State.CLEAN)
    corners = judged.corners[chosen].reshape(-1, 3)
    faces = np.arange(len(corners), dtype=np.int64).reshape(-1, 3)
    return Mesh.of(corners, faces), judged.state[chosen], judged.region[chosen]
