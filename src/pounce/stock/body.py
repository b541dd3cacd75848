"""The body that additions work on: a closed mesh whose every face is tagged with the part's face and the line it
came from.
"""

import numpy as np

from pounce.base.errors import UserFault
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.features.patches import bends_of, flat_groups
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.tags import FaceTags
from pounce.solid.weld import WELD, welded, without_crumbs

# Tools reach this share of the diagonal into the body, so that no film stays between.
ROOT = 1e-6
# How far simplifying may move a surface, as a share of the diagonal: a little over the depth that tools root at.
SIMPLER = 4e-6


def body_of(part: Mesh) -> Mesh:
    """The part as a body. Faces of one flat patch are tagged as one face of the part (the first), so that they may
    be merged.
    """
    group = flat_groups(part, bends_of(part))
    _, first = np.unique(group, return_index=True)
    return Mesh.of(part.vertices, part.faces, FaceTags.of(len(part.faces), face=first[group]))


def solid_of(body: Mesh) -> tuple[Solid, FaceTags]:
    """The body as a solid, and the tags of each of its marks. UserFault when it is not closed."""
    tags, marks = body.tags, body.tags.group
    _, first = np.unique(marks, return_index=True)
    # marks say which triangles lie in one plane: faces of added metal and of moved walls are no planes, each is its own
    own = (tags.face < 0) | (tags.line >= 0)
    marks = np.where(own, len(first) + np.arange(len(marks)), marks)
    table = FaceTags.joined([tags.at(first), tags])
    solid = boolean.closed_solid(body, 0, marks)
    if solid is None:
        raise UserFault("The part's shell is open, so nothing can be added to it.", "Close it where it is drawn.")
    return solid, table


def joined_to(body: Mesh, tools: list[Mesh], line: int, cut: bool = False, pocket: float = 0.0) -> Mesh:
    """The body with the tools (closed meshes) united to it, or cut from it; their faces carry the line. Rooms that
    are shut in, under ``pocket`` of the whole, are closed up.

    UserFault when a tool is not closed or the result is broken.
    """
    base, table = solid_of(body)
    solids: list[Solid] = []
    for tool in tools:
        made = boolean.closed_solid(tool, len(table))
        if made is None:
            raise UserFault("The metal to be added came out open.", "Leave this line out, or change its figure.")
        solids.append(made)
        table = FaceTags.joined([table, FaceTags.of(len(tool.faces), line=line)])
        # each tool's marks begin where the table stood when it was made
    result = boolean.without(base, solids) if cut else boolean.united([base, *solids])
    return welded(without_crumbs(boolean.as_mesh(result, table), body, pocket), WELD * body.diagonal, body.vertices)


def standing_off(part: Mesh, body: Mesh) -> Floats:
    """(n,) how far each vertex of the body stands off the part: the filler to lay on, mm."""
    from_part = np.zeros(len(body.vertices))
    face = body.tags.face
    rows = np.flatnonzero(face >= 0)
    normals, corner = part.normals[face[rows]], part.corners[face[rows], 0]
    for k in range(3):
        at = body.faces[rows, k]
        off = np.einsum("ij,ij->i", body.vertices[at] - corner, normals)
        np.maximum.at(from_part, at, off)
    return from_part


def simplified(body: Mesh) -> Mesh:
    """The body with needless triangles inside flat faces merged away, and slivers drawn together.

    They make folds when walls move, and vanish in files of single precision.
    """
    solid, table = solid_of(body)
    return without_crumbs(boolean.as_mesh(boolean.simplified(solid, SIMPLER * body.diagonal), table), body)
