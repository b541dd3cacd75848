"""A groove round the outside made by a ring core or by a cheek, the third part of the flask: where the mould then
parts, and what a cheek frees.

With a cheek the pattern parts in the neck of the groove. The cope lifts off the upper rim, the pattern's upper part
draws up out of the cheek, the cheek lifts off the lower part, and that draws from the drag: sand between the neck
and a rim leaves away from that rim.
"""

from dataclasses import replace

import numpy as np

from pounce.parting.columngrid import ColumnGrid
from pounce.parting.joint import Joint
from pounce.parting.states import ANGLE_SLACK_DEG
from pounce.parting.values import Judged, Kind, PartingChoices, Region, Ringed, State
from pounce.solid.mesh import Bools, Floats, Mesh
from pounce.solid.tree import tree_of

# Off the face a look begins at, as a share of the diagonal; and how much of a rim counts as reached.
LIFT, REACHED = 2e-5, 1e-3


def ringed(choices: PartingChoices, regions: tuple[Region, ...], joint: Joint, draws: bool) -> Ringed | None:
    """What is asked of the groove round the outside; None where nothing is, or where it lies the wrong way for the
    draw and is none.
    """
    if not choices.groove or not draws:
        return None
    found = [region for region in regions if region.kind is Kind.GROOVE]
    if not found:
        return Ringed(choices.groove, trouble="No groove round the outside locks along this draw, so none is made.")
    one = found[0]
    low, high = one.groove_mm
    made = Ringed(choices.groove, one.centre_mm, low, high, one.neck_mm)
    if len(found) > 1 or one.count > 1:
        return replace(
            made,
            trouble="There are several grooves one over the other. Fill them and turn them, or draw it another way.",
        )
    if not joint.level:
        return replace(made, trouble="A ring core and a cheek want a plane joint. Choose a flat one.")
    return made


def height_of(made: Ringed) -> float:
    """Where the mould parts for it, mm along the draw: in the middle of a ring core's belt, in the neck for a cheek."""
    return made.neck_mm if made.how == "cheek" else 0.5 * (made.low_mm + made.high_mm)


def with_cheek(
    mesh: Mesh, joint: Joint, judged: Judged, regions: tuple[Region, ...], asked: Floats
) -> tuple[Judged, Bools]:
    """The groove's pieces as they leave with a cheek, and (k,) which of all pieces the cheek's sand lies against."""
    number = next((k for k, region in enumerate(regions) if region.kind is Kind.GROOVE), -1)
    own = (
        np.flatnonzero((judged.region == number) & (judged.state == State.LOCKED)) if number >= 0 else np.zeros(0, int)
    )
    mine = np.zeros(len(judged.face), bool)
    if not len(own):
        return judged, mine
    d = joint.direction
    middles, normals = judged.corners[own].mean(axis=1), mesh.normals[judged.face[own]]
    above = judged.above[own]
    way = np.where(above, -1.0, 1.0)[:, None] * d
    reach, hit = tree_of(mesh).nearest(middles + LIFT * mesh.diagonal * normals, way)
    # sand goes on as far as the neck: what it meets beyond belongs to the other part of the pattern
    to_neck = np.abs(middles @ d - joint.height_mm)
    draft = np.degrees(np.arcsin(np.clip(np.einsum("ij,ij->i", normals, way), -1.0, 1.0)))
    leaves = ((hit < 0) | (reach > to_neck - REACHED * mesh.diagonal)) & (draft > -ANGLE_SLACK_DEG)
    state = judged.state.copy()
    state[own] = np.where(
        leaves, np.where(draft < asked[judged.face[own]] - ANGLE_SLACK_DEG, State.TIGHT, State.CLEAN), State.LOCKED
    )
    drafts = judged.draft_deg.copy()
    drafts[own] = np.where(leaves, draft, drafts[own])
    mine[own] = leaves
    return replace(judged, state=state, draft_deg=drafts), mine


def columns_beside(judged: Judged, mine: Bools, joint: Joint, grid: ColumnGrid) -> Bools:
    """(ny, nx) the columns over a cheek's sand, which leaves sideways and is not torn."""
    flat = joint.flat_points(judged.corners[mine].reshape(-1, 3))[:, :2]
    held = np.zeros(grid.plan.shape, bool)
    if not len(flat):
        return held
    middle = 0.5 * (flat.min(axis=0) + flat.max(axis=0))
    away = np.linalg.norm(flat - middle, axis=1)
    at = np.linalg.norm(grid.places - middle, axis=2)
    edge = 1.5 * grid.plan.step
    return np.asarray((at > away.min() - edge) & (at < away.max() + edge))
