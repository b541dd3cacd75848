"""Parts from measures: volumes in closed form, the wall from the weight, and the scale as a check."""

import numpy as np
import pytest

from pounce.base.errors import UserFault
from pounce.job import edits
from pounce.job.job import Job
from pounce.metals import tables
from pounce.metals.method import MethodChoices
from pounce.part.measured import ROUND, measured_model
from pounce.part.measures import Measures, holes_of, points_of
from pounce.route.keys import keys
from pounce.route.opening import measured_job
from pounce.route.pipeline import Pipeline
from pounce.route.stops import DRAW, PART

# A circle of so many chords holds this share of the round one.
CHORDS = ROUND / (2 * np.pi) * np.sin(2 * np.pi / ROUND)


@pytest.mark.parametrize(
    ("asked", "volume"),
    [
        (Measures("block", long_mm=80, wide_mm=40, high_mm=20), 64_000.0),
        (Measures("round", long_mm=60, high_mm=25), np.pi * 900 * 25 * CHORDS),
        (Measures("tube", long_mm=60, high_mm=25, wall_mm=5), np.pi * (900 - 625) * 25 * CHORDS),
        (Measures("tray", long_mm=120, wide_mm=60, high_mm=40, wall_mm=5), 120 * 60 * 40 - 110 * 50 * 35),
        (Measures("angle", long_mm=80, wide_mm=30, high_mm=50, wall_mm=6), 30 * (80 * 6 + 6 * 44)),
        (Measures("outline", high_mm=10, points=((0, 0), (60, 0), (60, 40), (0, 80))), 10 * 60 * 60),
        (Measures("outline", high_mm=10, points=((0, 80), (60, 40), (60, 0), (0, 0))), 10 * 60 * 60),
    ],
)
def test_measures_make_the_solid_they_say(asked: Measures, volume: float) -> None:
    model, _ = measured_model(asked, 7150.0)
    mesh = model.bodies[0].mesh
    assert mesh.volume == pytest.approx(volume, rel=1e-9) and model.unit == "mm" and mesh.bounds[0, 2] == 0.0


def test_holes_go_through() -> None:
    asked = Measures("block", long_mm=80, wide_mm=40, high_mm=20, holes=holes_of("-20,0,8 20,0,8"))
    chords = 48 / (2 * np.pi) * np.sin(2 * np.pi / 48)
    assert measured_model(asked, 7150.0)[0].bodies[0].mesh.volume == pytest.approx(
        64_000 - 2 * np.pi * 16 * 20 * chords, rel=1e-9
    )


@pytest.mark.parametrize("shape", ["tube", "tray", "angle"])
def test_the_wall_comes_from_the_weight(shape: str) -> None:
    """Weighed in iron with a wall of 4.5 mm, the wall is found again."""
    density = tables.metal("grey-iron").density.value
    known = Measures(shape, long_mm=90, wide_mm=60, high_mm=40, wall_mm=4.5)  # type: ignore[arg-type]
    weight = measured_model(known, density)[0].bodies[0].mesh.volume * 1e-9 * density
    _, used = measured_model(Measures(shape, long_mm=90, wide_mm=60, high_mm=40, weight_kg=weight), density)  # type: ignore[arg-type]
    assert used.wall_mm == pytest.approx(4.5, abs=1e-3)


@pytest.mark.parametrize(
    "asked",
    [
        Measures("tray", wall_mm=0.0),
        Measures("tube", long_mm=40, wall_mm=30),
        Measures("block", high_mm=0.0),
        Measures("outline", points=((0, 0), (1, 1))),
        Measures("outline", points=((0, 0), (60, 60), (60, 0), (0, 60))),
        Measures("tray", weight_kg=900.0),
        Measures("block", holes=((0, 0, -3),)),
    ],
)
def test_measures_that_make_no_body_are_said(asked: Measures) -> None:
    with pytest.raises(UserFault):
        measured_model(asked, 7150.0)


@pytest.mark.parametrize("words", ["1,2,x", "1,2", "1 2 3"])
def test_words_that_are_no_holes(words: str) -> None:
    with pytest.raises(UserFault):
        holes_of(words)
    assert points_of("0,0; 10,0 ; 10,5") == ((0, 0), (10, 0), (10, 5))


def test_the_scale_checks_the_model() -> None:
    weight = 64_000e-9 * tables.metal("grey-iron").density.value
    job, model = measured_job(
        Measures("block", long_mm=80, wide_mm=40, high_mm=20, weight_kg=weight), MethodChoices(), "grey-iron"
    )
    line = Pipeline()
    results = line.run(job, model, until=DRAW)
    assert "weight-agrees" in {one.code for one in PART.findings(results)}
    heavier = edits.set_scale(job, 2.0 * weight, "grey-iron").job
    # nothing of the part is worked anew for it
    assert keys(heavier)["part"] == keys(job)["part"]
    found = {one.code: one for one in PART.findings(line.run(heavier, model, until=DRAW))}
    assert found["weight-differs"].figures["off_percent"] == pytest.approx(50.0)
    with pytest.raises(UserFault):
        edits.set_scale(Job(), -1.0)
