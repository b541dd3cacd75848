"""Small jobs for the tests of Stock."""

import manifold3d as m3
import numpy as np

from pounce.job import edits
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.part.model import Model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import STOCK
from pounce.solid.boolean import closed_solid
from pounce.solid.mesh import Mesh
from pounce.stock.values import Addition
from tests.conftest import model_of

UP = (0.0, 0.0, 1.0)


def stocked(
    solid: m3.Manifold,
    *lines: Addition,
    draw: tuple[float, float, float] = UP,
    height: float | None = None,
    **method: object,
) -> Results:
    """The line worked as far as Stock, for a solid drawn along +z."""
    model: Model = model_of(solid)
    job = edits.set_draw(Job(), draw).job
    if height is not None:
        job = edits.set_height(job, height).job
    for name, value in method.items():
        job = getattr(edits, f"set_{name}")(job, value).job
    for line in lines:
        job = add_line(job, line).job
    return Pipeline().run(job, model, until=STOCK)


def is_closed(mesh: Mesh) -> bool:
    """Whether another library takes it for a solid."""
    return closed_solid(mesh) is not None


def lost(before: m3.Manifold, after: Mesh) -> float:
    """Volume of ``before`` that ``after`` does not hold, by the solid library, mm3."""
    held = closed_solid(after)
    assert held is not None
    return float((before - held).volume())


def section_area(mesh: Mesh, height: float) -> float:
    """Area of a level cut, by the solid library."""
    solid = closed_solid(mesh)
    assert solid is not None
    return float(abs(solid.slice(height).area()))


def polygon_area(radius: float, count: int) -> float:
    """Area of a regular polygon in a circle."""
    return 0.5 * count * np.sin(2.0 * np.pi / count) * radius**2


def tan(degrees: float) -> float:
    """The tangent of an angle in degrees."""
    return float(np.tan(np.radians(degrees)))


def change(results: Results) -> float:
    """Metal added, mm3, of a stock that is closed and had no trouble."""
    stock = results.need(STOCK)
    assert is_closed(stock.mesh)
    assert not any(line.trouble for line in stock.lines), [line.trouble for line in stock.lines]
    return float(stock.added_mm3)
