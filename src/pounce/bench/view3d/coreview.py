"""The Cores scene: the pattern with its prints, and beside it one core and its box, moved apart."""

from typing import Any

import numpy as np
from vtkmodules.vtkRenderingCore import vtkActor

from pounce.bench.view3d.beside import beside
from pounce.bench.view3d.scene import CLAY, COLOURS, CORE, INK, TIMBER, Soup, core_print, creases, lines, sand, surface
from pounce.cores.values import CoresResult
from pounce.parting.values import Judged, State
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.shading import corner_normals


def show_cores(
    cores: CoresResult, number: int, direction: Floats, apart: float, grain: float
) -> tuple[list[vtkActor], list[vtkActor], Any, Floats]:
    """Surfaces, ink, what can be picked and the box round it all. A hollow nobody has decided on carries the mark of
    what locks.
    """
    mesh = cores.mesh
    normals = corner_normals(mesh)
    undecided = [k for k, offer in enumerate(cores.offers) if not offer.make]
    waiting = np.isin(mesh.tags.hollow, undecided) if undecided else np.zeros(len(mesh.faces), bool)
    seat = mesh.tags.print >= 0
    solid: list[vtkActor] = []
    if (~seat & ~waiting).any():
        solid.append(surface(_soup(mesh, normals, ~seat & ~waiting), CLAY))
    if waiting.any():
        solid.append(surface(_soup(mesh, normals, waiting), COLOURS[State.LOCKED], State.LOCKED, grain))
    if seat.any():
        solid.append(core_print(_soup(mesh, normals, seat), grain))
    ink = [lines(creases(mesh), INK, 0.75 * grain)]
    blank = np.zeros(len(mesh.faces))
    judged = Judged(
        mesh.corners,
        normals,
        np.arange(len(blank)),
        blank.astype(np.int64),
        mesh.tags.hollow,
        blank,
        np.ones(len(blank), bool),
    )
    box = np.array(mesh.bounds)
    if cores.cores:
        core = cores.cores[min(number, len(cores.cores) - 1)]
        place = beside(cores, core, direction, apart)
        moved = core.mesh.moved(np.eye(3), place.core)
        shading = corner_normals(moved)
        on_print = core.mesh.tags.print >= 0
        if (~on_print).any():
            solid.append(sand(_soup(moved, shading, ~on_print), CORE, grain))
        if on_print.any():
            solid.append(core_print(_soup(moved, shading, on_print), grain))
        ink.append(lines(creases(moved), INK, 0.75 * grain))
        things = [moved]
        if apart > 0.02:
            for part, shift in zip(core.boxes[0].parts, place.parts, strict=True):
                shown = part.mesh.moved(np.eye(3), shift)
                solid.append(surface(_soup(shown, corner_normals(shown), np.ones(len(shown.faces), bool)), TIMBER))
                ink.append(lines(creases(shown), INK, 0.75 * grain))
                things.append(shown)
        for thing in things:
            box = np.array([np.minimum(box[0], thing.bounds[0]), np.maximum(box[1], thing.bounds[1])])
    return solid, ink, judged, box


def _soup(mesh: Mesh, normals: Floats, chosen: np.ndarray) -> Soup:
    return Soup(mesh.corners[chosen], normals[chosen])
