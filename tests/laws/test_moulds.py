"""A mould for any part: it fits, its margins hold, its gates meet metal, its cope stays down."""

import pytest
from scripts.behaviour import CHOICES, chosen, part_of

from pounce.job.job import Job
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.stops import MOULD
from pounce.solid.boolean import closed_solid
from tests.conftest import law, model_of


@law(4, 30)
def test_every_varied_part_gets_a_mould_that_a_caster_would_cut(seed: int) -> None:
    """Plates, bosses, ribs and bores in all ways of making, metals and sands."""
    seed = 7 * seed % 30  # the few of the suite are of many kinds
    model = model_of(part_of(seed))
    results = Pipeline().run(chosen(with_model(Job(), model), CHOICES[seed % len(CHOICES)]), model)
    made = results.get(MOULD)
    assert made is not None, results.faults
    assert not [one for one in made.margins if one.short]
    assert made.flask.cope_mm >= made.up_mm + made.wanted.over - 0.5
    body = None if made.gating is None else closed_solid(made.gating)
    assert body is not None and len(body.decompose()) == 1
    assert min(gate.contact_mm2 / gate.section_mm2 for gate in made.gates) > 0.85
    assert made.weights.holds >= 1.49 or made.loose
    assert 0.3 < made.weights.metal_yield < 1.0
    assert len(made.steps) >= 4 and made.weights.poured_kg == pytest.approx(
        made.weights.castings_kg + made.weights.gating_kg + made.weights.cup_kg
    )
