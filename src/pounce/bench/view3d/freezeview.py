"""The Freeze scene: the metal of the mould cut open, in nine bands from what sets or fills first to what does last, or
what is set and what is liquid at one moment.
"""

from vtkmodules.vtkRenderingCore import vtkActor

from pounce.bench.view3d.asks import Told
from pounce.bench.view3d.scene import Soup, banded, scalars
from pounce.feeding.values import FreezeResult
from pounce.freeze.bands import LIQUID, SET, tones

Tone = tuple[float, float, float]


class FreezeScene:
    """The surface, and the box round it; :meth:`tell` colours it anew."""

    def __init__(self, made: FreezeResult) -> None:
        cut = made.cutaway
        self.box = cut.box
        self._cut = cut
        self._told: Told | None = None
        self.actor: vtkActor = banded(Soup(cut.corners, cut.normals), cut.sets_s, 1.0, _nine())
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
        if told.at_s is None:
            _ramp(self.actor, most, _nine())
            return
        tones_ = tuple((r / 255.0, g / 255.0, b / 255.0) for r, g, b in (SET, LIQUID))
        # the first of two even bands ends at the moment: what is set by then, or still empty after it
        _ramp(self.actor, 2.0 * max(told.at_s, 1e-6), tones_[::-1] if told.fills else tones_)


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
