"""Sizes taken on a model: of two faces, a bore, two centres; on part, pattern and casting."""

import numpy as np
import pytest

from pounce.base.errors import UserFault
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.logbook.sizes import taken, usual_sizes
from pounce.logbook.values import Pair, PairKind, Side, Way
from pounce.route.log import on_of
from pounce.route.pipeline import Pipeline
from pounce.route.stops import STOCK
from pounce.stock.values import Machining
from tests.conftest import box, model_of

FACTOR = 100.0 / 98.8


def plate():  # noqa: ANN201
    """120 by 60 by 20, with two bores of 24 mm, 70 mm apart, its upper face machined by 2 mm."""
    import manifold3d  # noqa: PLC0415

    def bore(x: float) -> manifold3d.Manifold:
        return manifold3d.Manifold.cylinder(60.0, 12.0, 12.0, 96).translate([x, 30.0, -20.0])

    model = model_of(box(120.0, 60.0, 20.0) - bore(25.0) - bore(95.0))
    job = add_line(Job(), Machining(at_mm=(60.0, 30.0, 20.0), own_mm=2.0)).job
    results = Pipeline(light=True).run(job, model, until=STOCK)
    on = on_of(results)
    assert on is not None
    return on


def test_sizes_are_exact_on_part_pattern_and_casting() -> None:
    on = plate()
    length, width, height = usual_sizes(on)[:3]
    assert (length.name, length.finished_mm, length.way, length.machined) == ("Length", 120.0, Way.ACROSS, False)
    assert length.pattern_mm == pytest.approx(120.0 * FACTOR, abs=1e-3) and width.finished_mm == 60.0
    assert height.finished_mm == pytest.approx(20.0) and height.wanted_mm == pytest.approx(22.0) and height.machined
    assert height.stock_mm == pytest.approx(2.0) and height.way in (Way.ALONG, Way.JOINT)
    thick = taken(Pair("t", PairKind.FACES, (60.0, 5.0, 0.0), (60.0, 5.0, 20.0)), on)
    assert thick.finished_mm == pytest.approx(20.0) and thick.wanted_mm == pytest.approx(22.0, abs=1e-3)
    assert thick.pattern_mm == pytest.approx(22.0 * FACTOR, abs=2e-3) and thick.machined and thick.side is Side.OUTSIDE
    bore = taken(Pair("b", PairKind.DIAMETER, (37.0, 30.0, 10.0), (37.0, 30.0, 10.0)), on)
    assert bore.finished_mm == pytest.approx(24.0, abs=0.02) and bore.side is Side.INSIDE and bore.way is Way.ACROSS
    apart = taken(Pair("c", PairKind.CENTRES, (37.0, 30.0, 10.0), (107.0, 30.0, 10.0)), on)
    assert apart.finished_mm == pytest.approx(70.0, abs=0.01) and apart.side is Side.CENTRES
    assert apart.pattern_mm == pytest.approx(70.0 * FACTOR, abs=0.01)


def test_places_between_which_there_is_no_size_say_so() -> None:
    on = plate()
    for kind, a, b, why in (
        (PairKind.FACES, (60.0, 5.0, 20.0), (120.0, 30.0, 10.0), "lean 90"),
        (PairKind.FACES, (60.0, 5.0, 20.0), (70.0, 5.0, 20.0), "one face"),
        (PairKind.DIAMETER, (60.0, 5.0, 20.0), (60.0, 5.0, 20.0), "no bore"),
        (PairKind.CENTRES, (37.0, 30.0, 10.0), (37.0, 30.0, 12.0), "two bores"),
    ):
        with pytest.raises(UserFault, match=why):
            taken(Pair("s", kind, a, b), on)
    gap = taken(Pair("g", PairKind.FACES, (0.0, 30.0, 10.0), (120.0, 30.0, 10.0)), on)
    assert gap.finished_mm == pytest.approx(120.0) and np.isfinite(gap.pattern_mm)
