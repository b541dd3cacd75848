"""Small jobs for the tests of Cores."""

import manifold3d as m3

from pounce.job import core_edits, edits
from pounce.job.job import Job
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import PATTERN
from pounce.solid.boolean import closed_solid
from pounce.solid.mesh import Mesh
from tests.conftest import model_of

M = m3.Manifold
SIDES = 64


def cored(
    solid: m3.Manifold,
    draw: tuple[float, float, float] = (0.0, 0.0, 1.0),
    height: float | None = None,
    **choices: object,
) -> Results:
    """The line with every hollow that locks made a core."""
    job = edits.set_draw(Job(), draw).job
    if height is not None:
        job = edits.set_height(job, height).job
    job = core_edits.set_cores(job, every=True, **choices).job
    return Pipeline().run(job, model_of(solid), until=PATTERN)


def solid_of(mesh: Mesh) -> m3.Manifold:
    """As the solid library takes it; fails where it is open."""
    found = closed_solid(mesh)
    assert found is not None
    return found


def block(bore: float = 20.0) -> m3.Manifold:
    """A block of 80 x 50 x 50 with a bore through along x."""
    return M.cube([80, 50, 50], True) - M.cylinder(100, bore / 2, bore / 2, SIDES, True).rotate([0, 90, 0])


def cup() -> m3.Manifold:
    """A mug lying on its side, with a handle."""
    handle = M.revolve(m3.CrossSection.circle(4, 24).translate([20, 0]), 48).rotate([90, 0, 0]).translate([36, 0, 40])
    wall = M.cylinder(80, 36, 36, SIDES)
    return (wall + (handle - M.cylinder(80, 33, 33, SIDES))) - M.cylinder(80, 30, 30, SIDES).translate([0, 0, 6])


PARTS = {
    "bore": (block(), (0.0, 0.0, 1.0), 0.0, 1, 2),
    "chamfered bore": (
        block() - M.cylinder(4, 14, 10, SIDES).rotate([0, 90, 0]).translate([-40, 0, 0]),
        (0.0, 0.0, 1.0),
        0.0,
        1,
        2,
    ),
    "two openings": (
        M.sphere(40, 96) - M.sphere(32, 96) - M.cylinder(200, 10, 10, 48, True).rotate([90, 0, 0]),
        (0.0, 0.0, 1.0),
        0.0,
        1,
        2,
    ),
    "three crossing bores": (
        M.cube([80, 80, 80], True)
        - M.cylinder(200, 12, 12, 48, True)
        - M.cylinder(200, 12, 12, 48, True).rotate([90, 0, 0])
        - M.cylinder(200, 12, 12, 48, True).rotate([0, 90, 0]),
        (0.0, 0.0, 1.0),
        0.0,
        1,
        6,
    ),
    "cup": (cup(), (0.0, 1.0, 0.0), 0.0, 1, 1),
    "ring groove": (block() - M.cylinder(10, 14, 14, SIDES, True).rotate([0, 90, 0]), (0.0, 0.0, 1.0), 0.0, 1, 2),
}
