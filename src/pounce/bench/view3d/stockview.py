"""The part with its stock on the bench: what is added in chalk, thin walls and filler as maps."""

from functools import partial

import numpy as np
from vtkmodules.vtkRenderingCore import vtkActor

from pounce.bench.view3d.asks import FEATURE_FROM
from pounce.bench.view3d.scene import CLAY, FILLER, INK, THIN, Soup, added, banded, creases, lines, surface
from pounce.parting.values import Judged
from pounce.solid.mesh import Floats
from pounce.stock.values import StockResult

# Filler thinner than this is no filler.
LEAST_FILLER_MM = 0.01


def show_stock(stock: StockResult, grain: float) -> tuple[list[vtkActor], list[vtkActor], Judged, Floats]:
    """Surfaces, ink, what can be picked and the box round it all. Every face is lit by its line, or by its feature
    where it is the part's own.
    """
    mesh, tags = stock.mesh, stock.mesh.tags
    own = tags.line < 0
    region = np.where(own, np.where(tags.feature >= 0, FEATURE_FROM + tags.feature, -1), tags.line)
    blank = np.zeros(len(mesh.faces))
    judged = Judged(mesh.corners, stock.normals, np.arange(len(blank)), blank.astype(np.int64), region, blank, own)
    solid: list[vtkActor] = []
    depth = stock.filler_mm[mesh.faces] if len(stock.filler_mm) else np.zeros((len(mesh.faces), 3))
    built = (depth > LEAST_FILLER_MM).any(axis=1) & ~stock.thin
    if built.any():
        soup = Soup(mesh.corners[built], stock.normals[built])
        solid.append(banded(soup, depth[built], float(depth.max()), FILLER))
    shown = [
        (own & ~stock.thin & ~built, partial(surface, colour=CLAY)),
        (stock.thin, partial(surface, colour=THIN)),
        (~own & ~built, partial(added, grain=grain)),
    ]
    for mine, make in shown:
        if mine.any():
            solid.append(make(Soup(mesh.corners[mine], stock.normals[mine])))
    return solid, [lines(creases(mesh), INK, 0.75 * grain)], judged, np.array(mesh.bounds)
