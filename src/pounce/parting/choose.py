"""Which joint: the best plane, unless one that follows the part frees clearly more."""

from dataclasses import dataclass

import numpy as np
from scipy import ndimage

from pounce.base.errors import UserFault
from pounce.base.progress import Progress
from pounce.base.units import length
from pounce.draw.candidates import best_height, flat_share
from pounce.draw.jointsurface import COARSE, MISSED, JointSurface, joint_surface_of
from pounce.draw.reachability import WALL
from pounce.draw.relief import follows, worth_following
from pounce.draw.scan import Pieces, locked_at
from pounce.draw.values import DrawResult
from pounce.parting.joint import Joint, flat_joint
from pounce.parting.states import scan_pieces
from pounce.parting.surface import shaped_joint
from pounce.parting.values import FREE, PartingChoices
from pounce.solid.frame import turn_to_z
from pounce.solid.hollow import OPEN
from pounce.solid.mesh import Floats, Mesh, edges
from pounce.solid.plan import plan_of
from pounce.solid.sky import openness

# A joint that follows the part is worth its making when the best plane locks this much of the surface more.
WORTH = 4e-3
# Hollows that lock so much of the surface are made by cores, which lie best in the joint.
CORED = 0.05
# Surface that stays locked from which no single joint is said to free the part.
STUCK = 0.05


@dataclass(frozen=True, eq=False)
class Chosen:
    """A joint with what was known when it was chosen. Of one that follows the part: ``missed`` the share of the rim
    it could not follow, ``windows`` inner joints, ``surface_relief_mm`` how far it rises and falls; ``astray_mm`` how
    far off faces may lie when it could not follow the whole rim.
    """

    kind: str
    joint: Joint
    best_height_mm: float
    best_locked_mm2: float
    any_mm2: float
    slack_mm: float
    missed: float = 0.0
    windows: int = 0
    surface_relief_mm: float = 0.0
    astray_mm: float | None = None


def _astray(surface: JointSurface) -> float | None:
    if surface.missed < MISSED:
        return None
    return 2.0 * surface.plan.step * (1.0 + float(np.tan(np.radians(surface.slope_deg))))


def choose(choices: PartingChoices, mesh: Mesh, draw: DrawResult, progress: Progress) -> Chosen:
    """The joint for these choices. UserFault when a given height lies off the part."""
    direction = draw.direction
    slack = 1e-4 * draw.depth_mm
    pieces = scan_pieces(mesh, draw.reach, direction)
    progress(0.05, "Trying heights")
    best, _ = best_height(pieces, draw.low_mm, draw.high_mm, lambda at: flat_share(mesh, direction, at, slack))
    locked, never = locked_at(pieces, best, slack), float(pieces.areas[~pieces.up & ~pieces.down].sum())
    given = choices.height_mm
    if given is not None and not draw.low_mm - slack <= given <= draw.high_mm + slack:
        raise UserFault(
            f"A parting at {length(given)} misses the part, which runs from {length(draw.low_mm)} to "
            f"{length(draw.high_mm)} along the draw.",
            "Choose a height between them.",
        )

    def flat(height: float) -> Chosen:
        at_end = min(abs(height - draw.low_mm), abs(height - draw.high_mm)) <= slack
        kind = "flat-back" if at_end and flat_share(mesh, direction, height, slack) > 0.02 else "split"
        return Chosen(kind, flat_joint(direction, height), best, locked, never, slack)

    wants_shape = choices.kind in ("natural", "stepped") or (choices.kind == "auto" and bool(choices.nudges))
    if not wants_shape and (given is not None or choices.kind == "flat" or locked - never < WORTH * mesh.area):
        if given is None:
            through = _through_core(mesh, draw, pieces, best, never, slack)
            best = best if through is None else through
        return flat(best if given is None else given)
    progress(0.15, "Following the part's widest line")
    turned = Mesh.of(mesh.vertices @ turn_to_z(direction).T, mesh.faces, mesh.tags)
    joint_surface = joint_surface_of(
        turned, edges(mesh.faces, len(mesh.vertices)), levels=choices.kind == "stepped", nudges=choices.nudges
    )
    if not wants_shape and not (
        follows(joint_surface) and worth_following(joint_surface.relief_mm, (locked - never) / mesh.area, mesh.diagonal)
    ):
        return flat(best)
    plain = joint_surface.flat and not joint_surface.windows_differ and not choices.nudges
    if plain and locked - never < WORTH * mesh.area:
        return flat(best)  # the outline leaves freedom: the plane that the scan found is as good
    kind = (
        "stepped" if choices.kind == "stepped" or (joint_surface.flat and joint_surface.windows_differ) else "natural"
    )
    return Chosen(
        kind,
        shaped_joint(direction, joint_surface),
        best,
        locked,
        never,
        slack,
        missed=joint_surface.missed,
        windows=joint_surface.windows,
        surface_relief_mm=joint_surface.relief_mm,
        astray_mm=_astray(joint_surface),
    )


def _through_core(
    mesh: Mesh, draw: DrawResult, pieces: Pieces, best: float, never: float, slack: float
) -> float | None:
    """The height at which a hollow that only a core can make lies in the joint, so that its prints lie there too; None
    where there is no such hollow, or where parting there locks more.
    """
    if never < CORED * mesh.area:
        return None
    shut = ~draw.reach.up & ~draw.reach.down
    sky = openness(mesh, shut)
    deep = shut & (sky < OPEN)
    if float(mesh.areas[deep].sum()) < 0.5 * float(mesh.areas[shut].sum()):
        return None  # an open undercut wants no core
    heights = mesh.corners[deep] @ draw.direction
    height = float((heights.min() + heights.max()) / 2.0)
    more = locked_at(pieces, height, slack) - locked_at(pieces, best, slack)
    return height if more <= FREE * mesh.area and draw.low_mm + slack < height < draw.high_mm - slack else None


def rim_below(mesh: Mesh, joint: Joint) -> float:
    """How far (mm) the line runs below the top of a rounded rim; 0 where the outline is a wall or a sharp edge.

    The outline is rounded where smooth faces turn from looking up to looking down. The top of the rim is the highest
    point of the part within 3 % of the diagonal of the line; a rim whose top is farther up than that is a wall, not
    a rim.
    """
    turned = Mesh.of(mesh.vertices @ turn_to_z(joint.direction).T, mesh.faces)
    table = edges(mesh.faces, len(mesh.vertices))
    slope = turned.normals[:, 2][table.pairs]
    turning = (slope.min(axis=1) < 0.0) & (slope.max(axis=1) >= 0.0)
    # an upright wall wavers about nought by the mesh's noise: it turns nothing, unless it is the narrow belt of a fine
    # round
    tall = np.ptp(turned.corners[:, :, 2], axis=1) > 0.01 * mesh.diagonal
    turning &= ~((np.abs(turned.normals[:, 2]) <= WALL) & tall)[table.pairs].any(axis=1)
    bend = np.einsum("ij,ij->i", turned.normals[table.pairs[:, 0]], turned.normals[table.pairs[:, 1]])
    ends = mesh.vertices[table.pair_ends[turning]]
    at_line = np.abs(joint.above(ends.mean(axis=1))) < 0.01 * mesh.diagonal
    size = np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1) * at_line
    smooth = bend[turning] > np.cos(np.radians(35.0))
    if size.sum() <= 0.0 or size[smooth].sum() < 0.5 * size.sum():
        return 0.0
    plan = plan_of(turned.corners, COARSE, 4)
    reach = max(2, round(0.03 * mesh.diagonal / plan.step))
    top = ndimage.maximum_filter(np.where(plan.covered, plan.top, -np.inf), size=2 * reach + 1, mode="nearest")
    rim = ~plan.covered & ndimage.binary_dilation(plan.covered)
    places = np.argwhere(rim)[:, ::-1] * plan.step + plan.low
    above = top[rim] - joint.at(places, free=True)
    near = (above > 2e-3 * mesh.diagonal) & (above < 0.08 * mesh.diagonal)
    return float(np.median(above[near])) if len(above) and near.mean() > 0.5 else 0.0


def steepest(joint: Joint) -> float:
    """The steepest slope (degrees) of the joint's sand beside the part; 0 for a flat one."""
    if joint.free is None or joint.air is None:
        return 0.0
    rise = [np.abs(np.diff(joint.free, axis=k))[_both(joint.air, k)] for k in (0, 1)]
    most: Floats = np.concatenate(rise)
    # a whole column's rise in one place is a corner, not a slope
    return float(np.degrees(np.arctan(np.percentile(most, 99.5) / joint.step))) if len(most) else 0.0


def _both(air: np.ndarray, axis: int) -> np.ndarray:
    one, two = (air[1:], air[:-1]) if axis == 0 else (air[:, 1:], air[:, :-1])
    return np.asarray(one & two)
