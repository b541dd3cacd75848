"""A body cast solid while its walls are leaned: hollows that cores make are closed flush first, and cut out again as
they were.
"""

import numpy as np

from pounce.base.errors import UserFault
from pounce.solid import boolean
from pounce.solid.hollow import Hollow, filled
from pounce.solid.mesh import Mesh
from pounce.solid.rim import rim_of
from pounce.solid.tags import FaceTags
from pounce.solid.weld import WELD, welded
from pounce.stock.body import solid_of


def cast_solid(body: Mesh, hollows: list[Hollow], line: int) -> Mesh:
    """The body with hollows filled flush; the faces that close them are of that line."""
    made = filled(body, hollows)
    return made.tagged(made.tags.changed(made.tags.made_by_tools, line=line))


def cut_out(solid: Mesh, body: Mesh, hollows: list[Hollow], farther_mm: float, line: int) -> Mesh:
    """The hollows cut from the solid again as they were on ``body``, carried straight on through ``farther_mm`` of
    metal laid before their openings. Their walls keep their tags, what carries them on is of that line. UserFault
    where that breaks it.
    """
    base, table = solid_of(solid)
    tools = []
    for hollow in hollows:
        tool = _carried_on(body, hollow, farther_mm, line)
        made = boolean.closed_solid(tool, len(table))
        if made is None:
            raise UserFault(
                "The hollow for a core could not be kept while walls were leaned.", "Add the draft where it is drawn."
            )
        table = FaceTags.joined([table, tool.tags])
        tools.append(made)
    return welded(boolean.as_mesh(boolean.without(base, tools), table), WELD * body.diagonal, body.vertices)


def _carried_on(body: Mesh, hollow: Hollow, farther_mm: float, line: int) -> Mesh:
    """The hollow as a closed mesh with its mouths moved out."""
    vertices, faces = [body.vertices], [body.faces[hollow.faces][:, ::-1]]
    tags = [body.tags.at(hollow.faces)]
    count = len(body.vertices)
    for opening in hollow.openings:
        used, inverse = np.unique(opening.caps, return_inverse=True)
        caps = inverse.reshape(-1, 3)
        vertices.append(opening.beyond(body.vertices[used], farther_mm))
        a, b = rim_of(caps).T
        low_a, low_b, high_a, high_b = used[a], used[b], a + count, b + count
        faces += [np.stack([low_a, low_b, high_b], 1), np.stack([low_a, high_b, high_a], 1), caps + count]
        tags.append(FaceTags.of(2 * len(a) + len(caps), line=line))
        count += len(used)
    closed = np.concatenate(faces)
    kept, numbers = np.unique(closed, return_inverse=True)
    return Mesh.of(np.concatenate(vertices)[kept], numbers.reshape(-1, 3), FaceTags.joined(tags))
