"""How far a joint that follows the part would rise and fall along a draw, and whether that is worth its making: one
judgement, asked by the search for the draw and by the choice of the joint.
"""

from pounce.draw.jointsurface import CELLS, COARSE, JointSurface, joint_surface_of
from pounce.metals.tables import limits
from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Edges, Floats, Mesh

# Rim that a joint cannot follow from which it frees nothing.
ASTRAY = limits()["joint_astray"].value


def follows(joint_surface: JointSurface) -> bool:
    """Whether a joint follows the rim, no steeper than sand ever holds."""
    return joint_surface.missed < ASTRAY and joint_surface.slope_deg <= limits()["joint_slope"].high


def worth_following(relief_mm: float, freed_share: float, diagonal_mm: float) -> bool:
    """Whether so much rise and fall is worth freeing that share of the surface, which a plane would lock."""
    least, gain = limits()["follow_rise"].value, limits()["follow_gain"].value
    return relief_mm <= (least + gain * freed_share) * diagonal_mm


def relief_along(mesh: Mesh, table: Edges, direction: Floats, fine: bool = False) -> tuple[float, bool]:
    """Rise and fall (mm) of the natural joint along ``direction`` and whether it follows the part; from a coarse
    plan unless ``fine``.
    """
    turned = Mesh.of(mesh.vertices @ turn_to_z(direction).T, mesh.faces)
    joint_surface = joint_surface_of(turned, table, CELLS if fine else COARSE, beside_only=True)
    return joint_surface.relief_mm, follows(joint_surface)
