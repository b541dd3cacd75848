"""The Freeze scene: the metal of the mould cut open, in nine bands from what sets or fills first to what does last, or
what is set and what is liquid at one moment.
"""

import numpy as np
from vtkmodules.vtkRenderingCore import vtkActor

from pounce.bench.view3d.asks import Told
from pounce.bench.view3d.scene import Soup, banded, lines, scalars
from pounce.feeding.values import FreezeResult
from pounce.freeze.bands import BANDS, LIQUID, SET, tones
from pounce.solid.mesh import Floats

Tone = tuple[float, float, float]


# Lines between bands, and how far they lie over the surface as a share of the whole's size.
BETWEEN, LIFT = (0.96, 0.91, 0.84), 6e-4


class FreezeScene:
    """The surface, lines between its bands, and the box round it; :meth:`tell` colours it anew."""

    def __init__(self, made: FreezeResult, grain: float) -> None:
        cut = made.cutaway
        self._lift = LIFT * float(np.linalg.norm(cut.box[1] - cut.box[0]))
        self.box = cut.box
        self._cut = cut
        self._told: Told | None = None
        self.actor: vtkActor = banded(Soup(cut.corners, cut.normals), cut.sets_s, 1.0, _nine())
        self.between: vtkActor = lines(np.zeros((0, 2, 3)), BETWEEN, 1.1 * grain)
        self.tell(Told())

    def tell(self, told: Told) -> None:
        """When it sets or fills, all of it or one moment."""
        if told == self._told:
            return
        values = self._cut.fills_s if told.fills else self._cut.sets_s
        if self._told is None or told.fills != self._told.fills:
            scalars(self.actor, values)
        self._told = told
        most = float(values.max()) if values.size else 1.0
        levels = [most * k / BANDS for k in range(1, BANDS)] if told.at_s is None else [told.at_s]
        over = np.asarray(self._cut.corners + self._lift * self._cut.normals, float)
        segments = np.concatenate([isolines(over, np.asarray(values, float), level) for level in levels])
        self.between.SetMapper(lines(segments, BETWEEN, 1.0).GetMapper())
        if told.at_s is None:
            _ramp(self.actor, most, _nine())
            return
        tones_ = tuple((r / 255.0, g / 255.0, b / 255.0) for r, g, b in (SET, LIQUID))
        # the first of two even bands ends at the moment: what is set by then, or still empty after it
        _ramp(self.actor, 2.0 * max(told.at_s, 1e-6), tones_[::-1] if told.fills else tones_)


def isolines(corners: Floats, values: Floats, level: float) -> Floats:
    """(k, 2, 3) where a figure at the corners (m, 3) of triangles (m, 3, 3) passes a level, straight across each."""
    over = values > level
    many = over.sum(axis=1)
    mine = (many == 1) | (many == 2)
    if not mine.any():
        return np.zeros((0, 2, 3))
    c, v, over, many = corners[mine], values[mine], over[mine], many[mine]
    # the corner that stands alone on its side
    odd = np.where(many == 1, over.argmax(axis=1), over.argmin(axis=1))
    row = np.arange(len(odd))
    ends = []
    for step in (1, 2):
        other = (odd + step) % 3
        share = (level - v[row, odd]) / (v[row, other] - v[row, odd])
        ends.append(c[row, odd] + share[:, None] * (c[row, other] - c[row, odd]))
    return np.asarray(np.stack(ends, axis=1), float)


def _nine() -> tuple[Tone, ...]:
    r, g, b = (tones()[:, k].tolist() for k in range(3))
    return tuple(zip(r, g, b, strict=True))


def _ramp(actor: vtkActor, most: float, colours: tuple[Tone, ...]) -> None:
    mapper = actor.GetMapper()
    table = mapper.GetLookupTable()
    table.SetNumberOfTableValues(len(colours))
    for k, (r, g, b) in enumerate(colours):
        table.SetTableValue(k, r, g, b, 1.0)
    mapper.SetScalarRange(0.0, max(most, 1e-9))
