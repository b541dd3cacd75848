"""The mould as two blocks of sand with the pattern's impression, for showing the trial draw."""

import numpy as np

from pounce.base.errors import UserFault
from pounce.parting.blocks import Blocks
from pounce.parting.joint import Joint
from pounce.parting.surface import split_along
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.mesh import Floats, Mesh

# Sand beside the part and over it in the picture, as a share of its size: it is a picture, not a flask.
BESIDE, OVER = 0.16, 0.22
MOST_FACES = 60_000


def blocks_of(mesh: Mesh, joint: Joint, halves: bool, toward: Floats) -> Blocks:
    """The blocks round a closed part; ``halves`` splits the pattern at the joint. ``toward`` (3,) points to the eye.

    UserFault when the part is not closed.
    """
    solid = boolean.closed_solid(mesh)
    if solid is None:
        raise UserFault("The part's shell is open, so the mould cannot be shown.", "Close it where it is drawn.")
    if len(mesh.faces) > MOST_FACES:
        solid = boolean.simplified(solid, 1e-3 * mesh.diagonal)
    block = _box(mesh, joint)
    over, under = split_along(block, joint, mesh.diagonal)
    cope = over - solid - _corner(mesh, joint, toward)
    drag = under - solid
    upper, lower = split_along(solid, joint, mesh.diagonal) if halves else (None, solid)

    def plain(body: Solid) -> Mesh:
        return boolean.as_mesh(body, mesh.tags)

    return Blocks(plain(cope), plain(drag), None if upper is None else plain(upper), plain(lower), joint)


def _spans(mesh: Mesh, joint: Joint) -> Floats:
    """(2, 3): least and greatest u, v, height of the sand."""
    flat = joint.flat_points(mesh.vertices)
    low, high = flat.min(axis=0), flat.max(axis=0)
    size = float((high - low)[:2].max())
    pad = np.array([BESIDE * size, BESIDE * size, OVER * size])
    least, most = low - pad, high + pad
    bottom, top = joint.range_mm()
    least[2], most[2] = min(least[2], bottom - pad[2]), max(most[2], top + pad[2])
    return np.array([least, most])


def _box(mesh: Mesh, joint: Joint) -> Solid:
    least, most = _spans(mesh, joint)
    return _between(joint, least, most)


def _corner(mesh: Mesh, joint: Joint, toward: Floats) -> Solid:
    """The quarter of the cope that stands between the eye and the part."""
    least, most = _spans(mesh, joint)
    middle = (least + most) / 2.0
    near = joint.flat_points(toward)
    low, high = least.copy() - 1.0, most.copy() + 1.0
    for axis in (0, 1):
        if near[axis] > 0.0:
            low[axis] = middle[axis]
        else:
            high[axis] = middle[axis]
    return _between(joint, low, high)


def _between(joint: Joint, low: Floats, high: Floats) -> Solid:
    corners = np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])
    return boolean.hull_tool(corners @ np.stack([joint.u, joint.v, joint.direction]))
