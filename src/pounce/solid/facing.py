"""From wall to wall through the air between them: how wide a gap is."""

import numpy as np

from pounce.solid.frame import across
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.tree import tree_of

# Walls look at each other within this cosine of their normals: of a corner of a right angle they do not.
FACING = -0.3
# Ways in which a gap is measured between its walls.
WAYS = 24


def between(mesh: Mesh, places: Floats, ways: Floats) -> Floats:
    """(k,) from wall to wall through each place (k, 3) in the air along its way (k, 3), mm; infinite where the walls do
    not look at each other, or there are none.
    """
    far, hit = tree_of(mesh).nearest(np.concatenate([places, places]), np.concatenate([ways, -ways]))
    there, back = hit.reshape(2, -1)
    facing = np.einsum("ij,ij->i", mesh.normals[np.maximum(there, 0)], mesh.normals[np.maximum(back, 0)]) < FACING
    return np.where(facing & (there >= 0) & (back >= 0), far.reshape(2, -1).sum(axis=0), np.inf)


def narrowest(mesh: Mesh, places: Floats, direction: Floats) -> tuple[Floats, Floats]:
    """(k,) how wide the gap at each place (k, 3) is where it is narrowest across the draw, infinite where it is none;
    and (k, 3) the way from wall to wall.
    """
    u, v = across(direction)
    turns = np.pi * np.arange(WAYS) / WAYS
    ways = np.cos(turns)[:, None] * u + np.sin(turns)[:, None] * v
    wide = between(mesh, np.repeat(places, WAYS, axis=0), np.tile(ways, (len(places), 1))).reshape(-1, WAYS)
    least = np.argmin(wide, axis=1)
    return wide[np.arange(len(places)), least], ways[least]
