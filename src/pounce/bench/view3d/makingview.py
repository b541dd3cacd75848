"""The Pattern scene of a way of making: boards or sheets of every piece opened upward, or parts cut for the bed laid out."""

import numpy as np
from vtkmodules.vtkRenderingCore import vtkActor

from pounce.bench.view3d.scene import CHALK, CLAY, INK, TIMBER, Soup, creases, lines, surface
from pounce.pattern.making.values import Making, shown_prints, spread
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.shading import corner_normals


def show_making(making: Making, apart: float, turn: Floats, grain: float) -> tuple[list[vtkActor], list[vtkActor], Floats]:
    """Surfaces, ink and the box round it all. ``turn`` (3, 3) from the laid frame to the bench, so that z looks along the draw."""
    if making.layers:
        things = [
            (one.mesh, shift)
            for one, shift in zip(making.layers, spread(making.layers, apart), strict=True)
            if one.mesh is not None
        ]
        tone = TIMBER if making.kind == "wood" else CHALK
    else:
        things = shown_prints(making.prints)
        tone = CLAY
    solid: list[vtkActor] = []
    ink: list[vtkActor] = []
    low, high = np.full(3, np.inf), np.full(3, -np.inf)
    for mesh, shift in things:
        shown = mesh.moved(np.eye(3), shift).moved(turn, np.zeros(3))
        solid.append(surface(_soup(shown), tone))
        ink.append(lines(creases(shown), INK, 0.75 * grain))
        low, high = np.minimum(low, shown.bounds[0]), np.maximum(high, shown.bounds[1])
    return solid, ink, np.array([low, high])


def _soup(mesh: Mesh) -> Soup:
    return Soup(mesh.corners, corner_normals(mesh))
