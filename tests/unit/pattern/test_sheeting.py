"""Foam that nothing has to draw: stacked the way that leaves the fewest parts, bent flat to its camber, dug out of a
mould that hardened.
"""

import manifold3d as m3
import numpy as np
import pytest

from pounce.base.finding import Severity
from pounce.job import edits
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.metals.method import MethodChoices, resolve
from pounce.pattern.making.foam.sheeting import bends_flat
from pounce.pattern.values import PatternResult
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import CORES, DRAW, PATTERN
from pounce.stock.values import Camber
from tests.conftest import model_of

M = m3.Manifold


def made(solid: m3.Manifold, kind: str = "foam-burned-out", mould: str = "loose-sand", *lines: Camber) -> Results:
    job = edits.set_draw(Job(), (0.0, 0.0, 1.0)).job
    job = edits.set_mould(edits.set_pattern_kind(job, kind).job, mould).job
    for line in lines:
        job = add_line(job, line).job
    return Pipeline().run(job, model_of(solid), until=PATTERN)


def codes(found: PatternResult) -> dict[str, str]:
    return {one.code: one.words() for one in found.findings}


@pytest.mark.parametrize(("size", "up", "parts", "before"), [((60, 60, 800), 0, 2, 17), ((900, 40, 300), 1, 1, 7)])
def test_sheets_of_50_are_stacked_the_way_that_leaves_the_fewest_parts(
    size: tuple[float, float, float], up: int, parts: int, before: int
) -> None:
    """By hand: ceil(size x 1.012 / 50) sheets a way; 60 wants two, 800 seventeen, 300 seven."""
    pattern = made(M.cube(list(size), True)).need(PATTERN)
    assert len(pattern.making.layers) == parts == int(np.ceil(size[up] * pattern.factor / 50.0))
    assert f"{parts} part" in codes(pattern)["foam-turned"] and f"not {before}" in codes(pattern)["foam-turned"]
    assert pattern.pieces[0].laid.size[2] == pytest.approx(size[up] * pattern.factor, rel=1e-4)


def test_foam_that_is_drawn_is_stacked_along_the_draw() -> None:
    pattern = made(M.cube([60, 60, 300], True), "foam-drawn", "green-sand").need(PATTERN)
    assert "foam-turned" not in codes(pattern)
    assert pattern.pieces[0].laid.size[2] == pytest.approx(300 * pattern.factor, rel=1e-4)


def test_a_cambered_plaque_keeps_its_outline_and_its_one_sheet() -> None:
    results = made(M.cube([900, 300, 40], True), "foam-burned-out", "loose-sand", Camber(bow_mm=6.0, toward="+z"))
    pattern = results.need(PATTERN)
    layers = pattern.making.layers
    assert len(layers) == 1 and layers[0].thick_mm == pytest.approx(40 * pattern.factor, rel=1e-4)
    x0, y0, x1, y1 = layers[0].saw.bounds
    assert sorted([x1 - x0, y1 - y0]) == pytest.approx([300 * pattern.factor, 900 * pattern.factor], rel=1e-4)
    assert "6\u00a0mm" in codes(pattern)["foam-bent"]
    assert pattern.pieces[0].mesh.size[2] > 45.0  # what is written is the bowed pattern itself
    sideways = made(M.cube([900, 300, 40], True), "foam-burned-out", "loose-sand", Camber(bow_mm=6.0, toward="+y"))
    assert "foam-bent" not in codes(sideways.need(PATTERN))  # sawn, not bent


def test_what_bends_flat_by_hand() -> None:
    """Strain of the faces t/2 x 8 b / L2: 40 mm over 900 with 6 mm: 0.12 %; 80 mm over 900 with 60: 2.4 %."""
    assert bends_flat(np.array([900.0, 300.0, 40.0]), 2, 6.0, 0)
    assert not bends_flat(np.array([900.0, 300.0, 80.0]), 2, 60.0, 0)
    assert not bends_flat(np.array([900.0, 300.0, 160.0]), 2, 1.0, 0)  # not slender


def test_foam_is_dug_out_of_a_mould_that_hardens_only() -> None:
    soft = resolve(MethodChoices(pattern="foam-dug-out", mould="green-sand")).findings
    assert next(one for one in soft if one.code == "digs-out-of-soft-sand").severity is Severity.STOP
    cool = resolve(MethodChoices(metal="pewter", pattern="foam-dug-out", mould="silicate-sand")).findings
    assert not {"foam-does-not-burn", "digs-out-of-soft-sand", "foam-in-damp-sand"} & {one.code for one in cool}
    hollow = M.cube([80, 80, 60], True) - M.cube([50, 50, 30], True) - M.cylinder(80, 8, 8, 48, True)
    results = made(hollow, "foam-dug-out", "silicate-sand")
    assert "dug out" in DRAW.findings(results)[0].words()
    said = " ".join(one.words() for one in CORES.findings(results))
    assert "ram the sand into its hollows" in said and "loose sand" not in said
    steps = " ".join(results.need(PATTERN).making.steps)
    assert "foam-dug-out" in codes(results.need(PATTERN)) and "foam-gas" not in codes(results.need(PATTERN))
    assert "lets go" in steps
    burned = made(hollow, "foam-burned-out", "loose-sand")
    assert "loose sand runs" in " ".join(one.words() for one in CORES.findings(burned))
