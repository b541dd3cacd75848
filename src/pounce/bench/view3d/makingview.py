"""The Pattern scene of a way of making: layers opened upward, prints on their beds, pieces on their boards."""

import numpy as np
from vtkmodules.vtkRenderingCore import vtkActor

from pounce.bench.showing import Shown
from pounce.bench.view3d.scene import CHALK, CLAY, INK, TIMBER, Soup, creases, lines, surface
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.shading import corner_normals

BRASS = (0.478, 0.361, 0.118)
TONES = {"clay": CLAY, "timber": TIMBER, "chalk": CHALK}


def show_making(things: tuple[Shown, ...], turn: Floats, grain: float) -> tuple[list[vtkActor], list[vtkActor], Floats]:
    """Surfaces, ink and the box round it all. ``turn`` (3, 3) from the laid frame to the bench, so that z looks
    along the draw.
    """
    solid: list[vtkActor] = []
    ink: list[vtkActor] = []
    low, high = np.full(3, np.inf), np.full(3, -np.inf)
    for thing in things:
        mesh = thing.mesh.moved(turn, np.zeros(3))
        solid.append(surface(_soup(mesh), TONES[thing.tone]))
        ink.append(lines(creases(mesh), INK, 0.75 * grain))
        if len(thing.strokes):
            ink.append(lines(thing.strokes @ turn.T, BRASS, 2.6 * grain))
        low, high = np.minimum(low, mesh.bounds[0]), np.maximum(high, mesh.bounds[1])
    return solid, ink, np.array([low, high])


def _soup(mesh: Mesh) -> Soup:
    return Soup(mesh.corners, corner_normals(mesh))
