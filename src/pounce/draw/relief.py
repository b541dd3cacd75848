"""How far a joint that follows the part would rise and fall along a draw."""

from pounce.draw.terrain import COARSE, terrain_of
from pounce.metals.tables import limits
from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Edges, Floats, Mesh


def relief_along(mesh: Mesh, table: Edges, direction: Floats) -> tuple[float, float]:
    """Rise and fall (mm) of the natural joint along ``direction``, from a coarse plan, and the share of rim it misses.

    A joint steeper than sand ever holds counts as missing all of it.
    """
    turned = Mesh.of(mesh.vertices @ turn_to_z(direction).T, mesh.faces)
    terrain = terrain_of(turned, table, COARSE, beside_only=True)
    steep = terrain.slope_deg > limits()["joint_slope"].high
    return terrain.relief_mm, 1.0 if steep else terrain.missed
