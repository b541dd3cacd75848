"""What of a pattern is shown, and that there is room for it in the picture."""

import manifold3d
import numpy as np
import pytest

from pounce.bench.showing import opened
from pounce.bench.stops.pattern import VIEW
from pounce.bench.view3d.asks import SceneAsked
from pounce.job import edits
from pounce.job.job import Job
from pounce.pattern.values import Role
from pounce.route.pipeline import Pipeline
from pounce.route.stops import PATTERN
from tests.conftest import model_of


@pytest.mark.parametrize("way", [(0.0, 0.0, 1.0), (0.6, 0.0, 0.8)])
def test_the_picture_has_room_for_the_half_that_stands_open(way: tuple[float, float, float]) -> None:
    """A wheel's cope half stands as high as the wheel is wide: it was cut off under the headline."""
    wheel = manifold3d.Manifold.cylinder(24, 100, 100, 96, True) - manifold3d.Manifold.cylinder(60, 70, 70, 96, True)
    wheel += manifold3d.Manifold.cylinder(6, 80, 80, 96, True)
    turned = wheel.rotate([0, float(np.degrees(np.arctan2(way[0], way[2]))), 0])
    job = edits.set_height(edits.set_draw(Job(), way).job, 0.0).job
    results = Pipeline().run(job, model_of(turned), until=PATTERN)
    made = results.need(PATTERN)
    (cope,) = (piece for piece in made.pieces if piece.role == Role.COPE_HALF)
    room = VIEW.points(SceneAsked("pattern", direction=way), results)
    stands = opened(cope.mesh, np.array(way), made.height_mm).vertices
    slack = 1e-6
    assert (room.min(axis=0) <= stands.min(axis=0) + slack).all()
    assert (room.max(axis=0) >= stands.max(axis=0) - slack).all()
    up = np.array(way)
    assert np.ptp(stands @ up) > 0.85 * 200.0, "it stands nearly upright"
    assert np.ptp(room @ up) < 2.0 * np.ptp(stands @ up), "and the picture is not made for much more"
