"""The parts of a check: every figure is the result's own."""

import pytest

from pounce.job.job import Job
from pounce.part.model import Model
from pounce.route.moulding import draw_keys, metal_keys, part_keys, parting_keys, rammed_in
from pounce.route.results import Results
from pounce.route.stops import DRAW, METAL, PART, PARTING
from tests.worked import ARM, BEARING, FINIAL, demo


@pytest.mark.parametrize("stem", [BEARING, ARM, FINIAL])
def test_figures_are_those_of_the_results(stem: str) -> None:
    results, model = demo(stem)
    part = part_keys(results, model)["part"]
    assert isinstance(part, dict)
    mesh = results.need(PART).mesh
    assert part["size_mm"] == pytest.approx(mesh.size.tolist())
    assert part["volume_mm3"] == pytest.approx(mesh.volume)
    method = results.need(METAL)
    metal = metal_keys(results, model)
    assert metal["metal"] == method.metal_id and metal["mould"] == method.mould_id
    draw = draw_keys(results, model)["draw"]
    assert isinstance(draw, dict) and draw["direction"] == pytest.approx(results.need(DRAW).direction.tolist())
    parting = parting_keys(results, model)["parting"]
    assert isinstance(parting, dict) and parting["kind"] == results.need(PARTING).kind


def test_nothing_is_told_of_what_is_not_there() -> None:
    results, model = demo(ARM)
    empty = Results(results.job)
    assert part_keys(empty, model) == {"part": None}
    assert metal_keys(empty, model) == draw_keys(empty, model) == parting_keys(empty, model) == {}


def test_a_flat_back_is_rammed_in_the_half_it_fills() -> None:
    assert rammed_in(demo(ARM)[0].need(PARTING)) in ("cope", "drag")
    assert rammed_in(demo(BEARING)[0].need(PARTING)) is None


def test_plain_values_alone() -> None:
    """They go into JSON as they are."""
    import json  # noqa: PLC0415

    results, model = demo(FINIAL)
    assert isinstance(model, Model) and isinstance(results.job, Job)
    for keys in (part_keys, metal_keys, draw_keys, parting_keys):
        content = keys(results, model)
        assert json.loads(json.dumps(content)) == content
