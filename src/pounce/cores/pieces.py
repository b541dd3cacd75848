"""Long cores in pieces: cut square across, joined by a cone that is glued into its socket."""

import manifold3d
import numpy as np

from pounce.cores.values import Print
from pounce.metals.tables import limits
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Floats, Mesh

# Size of the cone over the section it stands on, and how often it is made smaller until it stands inside the core.
TRIES = 4
MOST_PIECES = 12


def pieces_of(core: Mesh, prints: tuple[Print, ...], longest_mm: float) -> list[tuple[Mesh, tuple[Print, ...]]]:
    """The core whole, or in equal lengths no longer than ``longest_mm``, each with the prints on it."""
    along = _longest_way(core)
    turn = turn_to_z(along)
    local = core.moved(turn, np.zeros(3))
    low, high = float(local.bounds[0, 2]), float(local.bounds[1, 2])
    count = min(int(np.ceil((high - low) / longest_mm)), MOST_PIECES)
    solid = boolean.closed_solid(local)
    if count <= 1 or solid is None:
        return [(core, prints)]
    levels = np.linspace(low, high, count + 1)
    out: list[tuple[Mesh, tuple[Print, ...]]] = []
    below: Solid | None = None
    for k in range(count):
        piece = solid.trim_by_plane([0.0, 0.0, 1.0], float(levels[k])).trim_by_plane(
            [0.0, 0.0, -1.0], -float(levels[k + 1])
        )
        if below is not None:
            piece = piece - below
        below = None
        if k + 1 < count:
            boss = _boss(solid, float(levels[k + 1]))
            if boss is not None:
                piece, below = piece + boss[0], boss[1]
        mesh = boolean.bare_mesh(boolean.checked(piece, "Cutting the core"))
        held = tuple(
            core_print
            for core_print in prints
            if levels[k] - 1e-6 <= float((core_print.at_mm @ turn.T)[2]) <= levels[k + 1] + 1e-6
        )
        out.append((mesh.moved(turn.T, np.zeros(3)), held))
    return out


def _longest_way(core: Mesh) -> Floats:
    """The own axis the core is longest along."""
    return np.asarray(np.eye(3)[int(np.argmax(core.size))])


def _boss(solid: Solid, level: float) -> tuple[Solid, Solid] | None:
    """The cone on top of a cut and the socket for it, inside the core; None where there is no room."""
    section = solid.slice(level)
    area = float(section.area())
    if area <= 0.0:
        return None
    polygons = section.to_polygons()
    largest = max(polygons, key=lambda one: abs(_area(np.asarray(one))))
    x, y = np.asarray(largest).mean(axis=0)
    radius = limits()["core_cone"].value * float(np.sqrt(area / np.pi))
    tip, tall = limits()["core_cone_tip"].value, limits()["core_cone_tall"].value
    play = limits()["core_joint_play"].value
    for _ in range(TRIES):
        cone = manifold3d.Manifold.cylinder(tall * radius, radius, tip * radius, 32).translate(
            [float(x), float(y), level - 1e-3]
        )
        room = manifold3d.Manifold.cylinder(tall * radius + play, radius + play, tip * radius + play, 32).translate(
            [float(x), float(y), level - 1e-3]
        )
        if float((room - solid).volume()) < 1e-3 * float(room.volume()):
            return cone, room
        radius *= 0.65
    return None


def _area(points: Floats) -> float:
    x, y = points[:, 0], points[:, 1]
    return 0.5 * float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y))
