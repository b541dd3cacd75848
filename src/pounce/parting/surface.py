"""The joint as a solid to cut with, and the part split along it."""

import numpy as np

from pounce.draw.jointsurface import JointSurface
from pounce.parting.joint import Joint
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.frame import across
from pounce.solid.mesh import Floats, Ints


def shaped_joint(direction: Floats, joint_surface: JointSurface) -> Joint:
    """The joint of a joint surface made in the draw's frame."""
    u, v = across(direction)
    plan = joint_surface.plan
    return Joint(
        direction,
        u,
        v,
        joint_surface.level_mm,
        plan.low,
        plan.step,
        joint_surface.height,
        joint_surface.free,
        joint_surface.air,
    )


def below(joint: Joint, floor_mm: float, field: Floats | None = None, border_mm: float = 0.0) -> Solid:
    """The solid under a shaped joint down to ``floor_mm`` along the draw. ValueError for a flat joint.

    ``field`` (ny, nx) stands in for the joint's own grid; ``border_mm`` carries its edge on all round.
    """
    heights = joint.grid if field is None else field
    if heights is None:
        raise ValueError("a flat joint is a plane")
    vertices, faces = relief_block(heights, joint.low, joint.step, floor_mm, border_mm)
    points = vertices @ np.stack([joint.u, joint.v, joint.direction])
    return boolean.tool_solid(points, faces)


def relief_block(
    heights: Floats, low: Floats, step: float, floor_mm: float, border_mm: float = 0.0
) -> tuple[Floats, Ints]:
    """Vertices and faces of the block from ``floor_mm`` up to heights (ny, nx), in the grid's own frame.

    ``border_mm`` carries the outermost heights on all round.
    """
    x, y = low[0] + step * np.arange(heights.shape[1]), low[1] + step * np.arange(heights.shape[0])
    if border_mm > 0.0:
        heights = np.pad(heights, 1, mode="edge")
        x, y = (np.concatenate([[side[0] - border_mm], side, [side[-1] + border_mm]]) for side in (x, y))
    ny, nx = heights.shape
    top = np.stack([*np.meshgrid(x, y), heights], axis=2).reshape(-1, 3)
    number = np.arange(ny * nx).reshape(ny, nx)
    a, b = number[:-1, :-1].ravel(), number[:-1, 1:].ravel()
    c, d = number[1:, 1:].ravel(), number[1:, :-1].ravel()
    upper = np.concatenate([np.stack([a, b, c], 1), np.stack([a, c, d], 1)])
    border = np.concatenate([number[0, :], number[1:, -1], number[-1, -2::-1], number[-2:0:-1, 0]])
    low_ring = len(top) + np.arange(len(border))
    base = top[border].copy()
    base[:, 2] = floor_mm
    following = np.roll(np.arange(len(border)), -1)
    p, q, r, s = border, border[following], low_ring[following], low_ring
    wall = np.concatenate([np.stack([p, s, r], 1), np.stack([p, r, q], 1)])
    middle = len(top) + len(border)
    centre = np.append((base[:, :2].min(axis=0) + base[:, :2].max(axis=0)) / 2.0, floor_mm)
    under = np.stack([np.full(len(border), middle), r, s], axis=1)
    return np.concatenate([top, base, centre[None]]), np.concatenate([upper, wall, under]).astype(np.int64)


def split_along(solid: Solid, joint: Joint, diagonal: float) -> tuple[Solid, Solid]:
    """The part of the solid above the joint, and the part below it."""
    if joint.level:
        return boolean.split(solid, joint.direction, joint.height_mm)
    least, _ = joint.range_mm()
    block = below(joint, least - 2.0 * diagonal)
    under, over = boolean.split_by(solid, block)
    return over, under
