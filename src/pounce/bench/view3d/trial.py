"""The trial draw on the bench: blocks of sand that lift, the pattern that is drawn, and sand that tears and falls."""

import numpy as np
from vtkmodules.vtkRenderingCore import vtkActor

from pounce.bench.view3d.scene import CAVITY, CLAY, COLOURS, INK, SAND, creases, dots, lines, sand, smooth_soup, surface
from pounce.parting.blocks import Blocks
from pounce.parting.values import PartingResult, State, tears
from pounce.solid.mesh import Floats, Mesh

CRUMB_PX = 5.0
LIFT_ROOM = 0.62


class TrialScene:
    """Actors of the trial. :meth:`move` sets them for a lift of the cope and a draw of the pattern (mm)."""

    def __init__(self, blocks: Blocks, parting: PartingResult, grain: int) -> None:
        self._way = blocks.joint.direction
        self._joint = blocks.joint
        self._trial, self._tears = parting.trial, tears(parting)
        self._cope: list[vtkActor] = []
        self._upper: list[vtkActor] = []
        self._lower: list[vtkActor] = []
        states = _face_states(parting)
        still = self._sand(blocks.drag, grain)
        self._cope += self._sand(blocks.cope, grain)
        if blocks.upper is not None:
            self._upper += _pattern(blocks.upper, states, grain)
        self._lower += _pattern(blocks.lower, states, grain)
        self._fallen = dots(np.zeros((0, 3)), COLOURS[State.LOCKED], CRUMB_PX * grain)
        self._carried = dots(np.zeros((0, 3)), COLOURS[State.LOCKED], CRUMB_PX * grain)
        everything = [*still, *self._cope, *self._upper, *self._lower]
        crumbs = [self._fallen, self._carried]
        self.ink = [actor for actor in everything if not actor.GetProperty().GetLighting()]
        self.solid = [actor for actor in everything if actor.GetProperty().GetLighting()] + crumbs
        parts = [blocks.cope, blocks.drag]
        low, high = np.min([m.bounds[0] for m in parts], axis=0), np.max([m.bounds[1] for m in parts], axis=0)
        lifted = self._way * LIFT_ROOM * float(np.linalg.norm(high - low)) * 0.5
        self.box = np.array([np.minimum(low, low + lifted), np.maximum(high, high + lifted)])
        self.move(0.0, 0.0)

    def _sand(self, block: Mesh, grain: int) -> list[vtkActor]:
        cavity = block.tags.face >= 0
        out = [sand(smooth_soup(block.part(~cavity)), SAND, grain)]
        if cavity.any():
            out.append(sand(smooth_soup(block.part(cavity)), CAVITY, grain))
        out.append(lines(creases(block), INK, 0.8 * grain))
        return out

    def move(self, lift: float, drawn: float) -> None:
        """The cope lifted, with its half of a split pattern; then the pattern left in the drag drawn."""
        up = self._way * lift
        for actor in (*self._cope, *self._upper):
            actor.SetPosition(*up)
        out = self._way * drawn
        for actor in self._lower:
            actor.SetPosition(*out)
        if not self._tears:  # what tears nothing drops no crumbs of a mesh either
            return
        trial = self._trial
        fallen = trial.grain_cope & (trial.grain_lift <= lift) & (lift > 0.0)
        _replace(self._fallen, self._on_joint(trial.grains[fallen]))
        carried = ~trial.grain_cope & (trial.grain_lift <= drawn) & (drawn > 0.0)
        _replace(self._carried, trial.grains[carried] + out)

    def _on_joint(self, points: Floats) -> Floats:
        """Crumbs that have dropped onto the drag's face, heaped a little."""
        if not len(points):
            return points
        noise = np.random.default_rng(3).random((len(points), 3))
        height = self._joint.above(points, free=True)
        spread = 0.012 * float(np.linalg.norm(self.box[1] - self.box[0]))
        down = points - self._way * height[:, None]
        heap = self._way * (noise[:, :1] * spread)
        return np.asarray(
            down
            + heap
            + (noise[:, 1:2] - 0.5) * 2.0 * spread * self._joint.u
            + (noise[:, 2:] - 0.5) * 2.0 * spread * self._joint.v
        )


def _replace(actor: vtkActor, points: Floats) -> None:
    """Other points in the actor's place; none where there are none (whether it is seen is the painter's to say)."""
    fresh = dots(points, COLOURS[State.LOCKED], actor.GetProperty().GetPointSize())
    actor.GetMapper().SetInputData(fresh.GetMapper().GetInput())


def _face_states(parting: PartingResult) -> np.ndarray:
    """The worst state of each face of the part."""
    judged = parting.judged
    out = np.zeros(int(judged.face.max(initial=-1)) + 1, np.int64)
    np.maximum.at(out, judged.face, parting.shown_state)
    return out


def _pattern(mesh: Mesh, states: np.ndarray, grain: int) -> list[vtkActor]:
    """A piece of the pattern: its faces in the marks of the draw, its cut face as clay."""
    made = mesh.tags.face < 0
    state = np.where(made, 0, states[np.clip(mesh.tags.face, 0, len(states) - 1)])
    out = []
    for kind in State:
        mine = ~made & (state == kind)
        if mine.any():
            out.append(surface(smooth_soup(mesh.part(mine)), COLOURS[kind], kind, grain))
    if made.any():
        out.append(surface(smooth_soup(mesh.part(made)), CLAY))
    out.append(lines(creases(mesh), INK, 0.8 * grain))
    return out
