"""A mould for any part: it fits, its margins hold, its gates meet metal, its cope stays down."""

import pytest
from scripts.behaviour import CHOICES, chosen, part_of

from pounce.feeding.mould import lying_of
from pounce.job import edits, rig_edits
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
    results = Pipeline().run(chosen(with_model(Job(), model), CHOICES[seed % len(CHOICES)]), model, until=MOULD)
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


@law(2, 20)
def test_every_varied_part_hangs_on_a_tree(seed: int) -> None:
    """Of foam in loose sand, five of each in two tiers: apart by their sand, all on one sprue, under their sand."""
    seed = 11 * seed % 30
    model = model_of(part_of(seed))
    job = edits.set_metal(with_model(Job(), model), "aluminium-silicon").job
    job = edits.set_mould(edits.set_pattern_kind(job, "foam-burned-out").job, "loose-sand").job
    job = rig_edits.set_tiers(rig_edits.set_count(job, 5).job, 2).job
    results = Pipeline().run(job, model, until=MOULD)
    made = results.get(MOULD)
    assert made is not None, results.faults
    assert made.tiers == 2 and made.tier == 3
    castings = [closed_solid(one) for one in lying_of(made).castings]
    gating = closed_solid(made.gating) if made.gating is not None else None
    assert gating is not None and all(one is not None for one in castings)
    whole = gating
    for k, one in enumerate(castings):
        for other in castings[:k]:
            assert one.min_gap(other, 200.0) >= made.wanted.between - 0.5
        whole = whole + one
    assert len(whole.decompose()) == 1
    tops = max(float(one.bounding_box()[5]) for one in castings)
    low = min(float(one.bounding_box()[2]) for one in castings)
    assert tops + made.wanted.over <= made.flask.cope_mm + 0.5 and -low + made.wanted.under <= made.flask.drag_mm + 0.5
    assert {gate.casting for gate in made.gates} == set(range(5))
    assert made.flow.gate_speed_m_s <= 1.02 * made.flow.limit_m_s or any(
        one.code == "gates-fast" for one in made.findings
    )
