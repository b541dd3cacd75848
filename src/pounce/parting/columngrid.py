"""The mould as columns: the part's stretches of material over the plan, and the joint's height in each."""

from dataclasses import dataclass

import numpy as np

from pounce.parting.joint import Joint
from pounce.solid.columns import Columns, columns_of
from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Bools, Floats, Mesh
from pounce.solid.plan import Plan, plan_of

CELLS, BORDER = 256, 2


@dataclass(frozen=True, eq=False)
class ColumnGrid:
    """``turn`` (3, 3) into the draw's frame, ``places`` (ny, nx, 2) in u, v, ``joint`` (ny, nx) heights of the sand's
    joint, ``material`` (ny, nx) where the joint runs through the part.
    """

    plan: Plan
    columns: Columns
    turn: Floats
    places: Floats
    joint: Floats
    material: Bools


def column_grid(mesh: Mesh, joint: Joint, astray_mm: float | None) -> ColumnGrid:
    """The columns of a part with its joint."""
    turn = turn_to_z(joint.direction)
    corners = mesh.corners @ turn.T
    plan = plan_of(corners, CELLS, BORDER)
    ny, nx = plan.shape
    places = np.stack(np.meshgrid(np.arange(nx), np.arange(ny)), axis=2) * plan.step + plan.low
    height = _in_material(joint, plan, places)
    if astray_mm is not None:
        free = joint.at(places, free=True)
        off = (free > plan.top + astray_mm) | (free < plan.bottom - astray_mm)
        height = np.where(off, free, height)
    columns = columns_of(corners, plan)
    owner = np.repeat(np.arange(ny * nx), np.diff(columns.start))
    inside = (columns.low <= height.ravel()[owner]) & (columns.high >= height.ravel()[owner])
    material = np.zeros(ny * nx, bool)
    material[owner[inside]] = True
    return ColumnGrid(plan, columns, turn, places, height, material.reshape(ny, nx))


def _in_material(joint: Joint, plan: Plan, places: Floats) -> Floats:
    """(ny, nx) heights of the joint, led through the part where it steps: between two of its nodes, one in a wall and
    one in the floor that joins it, a slope would leave the material and hand sand of one half to the other.
    """
    height = joint.at(places)
    if joint.level:
        return height
    least, most = joint.about(places)
    led = np.minimum(np.maximum(height, plan.bottom), plan.under)
    return np.where(plan.covered, np.minimum(np.maximum(led, least), most), height)
