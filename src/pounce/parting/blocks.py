"""The blocks of a mould as they are shown: apart from their making, so that who shows them loads no solid library."""

from dataclasses import dataclass

from pounce.parting.joint import Joint
from pounce.solid.mesh import Mesh


@dataclass(frozen=True, eq=False)
class Blocks:
    """``cope`` and ``drag`` sand, and the pattern as it moves: ``upper`` hangs in the cope or is None when it stays
    whole.

    The near corner of the cope is cut away. Origins: 0 and more are faces of the part, -1 sand.
    """

    cope: Mesh
    drag: Mesh
    upper: Mesh | None
    lower: Mesh
    joint: Joint
