"""The Freeze scene: the metal of the mould cut open, in nine bands from what sets first to what sets last."""

from vtkmodules.vtkRenderingCore import vtkActor

from pounce.bench.view3d.scene import Soup, banded
from pounce.feeding.values import FreezeResult
from pounce.freeze.bands import tones
from pounce.solid.mesh import Floats


def show_freeze(made: FreezeResult) -> tuple[list[vtkActor], Floats]:
    """The surface, and the box round it."""
    cut = made.cutaway
    r, g, b = (tones()[:, k].tolist() for k in range(3))
    colours = tuple(zip(r, g, b, strict=True))
    most = float(cut.sets_s.max()) if cut.sets_s.size else 1.0
    return [banded(Soup(cut.corners, cut.normals), cut.sets_s, most, colours)], cut.box
