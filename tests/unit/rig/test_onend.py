"""Moulds that are stood on end: the metal comes in low, the air and the core's gas leave at the upper end."""

import manifold3d
import numpy as np
import pytest
import shapely

from pounce.job import core_edits, edits
from pounce.job.job import Job
from pounce.metals.pouring import liquid_density, pouring
from pounce.rig.flow import G
from pounce.rig.onend import _gate_long, _led_clear
from pounce.rig.sections import sections_of
from pounce.rig.values import RigChoices, RigResult
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import CORES
from pounce.solid.boolean import closed_solid
from tests.conftest import model_of
from tests.unit.rig.helpers import mould_of
from tests.unit.rig.test_solids import WANTED


@pytest.fixture(scope="module")
def bush() -> Results:
    """A long bush of 160 by 50 with a bore of 20 and a collar, parted along its axis, its core lying in the joint."""
    body = manifold3d.Manifold.cylinder(160.0, 25.0, 25.0, 64) + manifold3d.Manifold.cylinder(20.0, 35.0, 35.0, 64)
    body -= manifold3d.Manifold.cylinder(200.0, 10.0, 10.0, 48).translate([0.0, 0.0, -20.0])
    model = model_of(body.rotate([0.0, 90.0, 0.0]))
    job = core_edits.set_hollow(with_model(Job(name="Bush"), model), (80.0, 0.0, 0.0), "core").job
    job = edits.set_height(edits.set_draw(job, (0.0, 0.0, 1.0)).job, 0.0).job
    job = core_edits.set_cores(job, on_end=True).job
    results = Pipeline().run(job, model, until=CORES)
    assert results.need(CORES).on_end and len(results.need(CORES).cores) == 1
    return results


@pytest.fixture(scope="module")
def stood(bush: Results) -> RigResult:
    return mould_of(bush)


def plan_of(made: RigResult, *kinds: str) -> object:
    return shapely.unary_union([shapely.Polygon(one.rings[0]) for one in made.shapes if one.kind in kinds])


def test_it_is_gated_at_its_lower_end_from_a_sprue_beside_it(stood: RigResult) -> None:
    casting = plan_of(stood, "casting")
    x0, _, x1, _ = casting.bounds  # type: ignore[attr-defined]
    assert stood.on_end and len(stood.gates) == 1
    assert stood.gates[0].at_mm[0] < x0 + 0.4 * (x1 - x0)
    assert stood.gates[0].contact_mm2 > 0.85 * stood.gates[0].section_mm2
    assert stood.sprue is not None
    # the sprue opens at the flask's upper end, and its sand holds on both sides
    runs = plan_of(stood, "runner")
    assert runs.bounds[2] == pytest.approx(stood.flask.long_mm / 2.0, abs=1e-6)  # type: ignore[attr-defined]
    assert not [one for one in stood.margins if one.short]
    assert stood.gating is not None
    body = closed_solid(stood.gating)
    assert body is not None and len(body.decompose()) == 1


def test_what_has_no_room_for_its_gates_low_down_is_laid_lying() -> None:
    """A tee between flanges: two gates as wide as it wants find no room at its lower end, and one is not cut wider."""
    across = manifold3d.Manifold.cylinder
    body = across(120.0, 17.0, 17.0, 64).translate([0.0, 0.0, -60.0]).rotate([0.0, 90.0, 0.0])
    body += across(70.0, 17.0, 17.0, 64).rotate([90.0, 0.0, 0.0]) + across(10.0, 28.0, 28.0, 64).translate(
        [0.0, 0.0, 60.0]
    ).rotate([90.0, 0.0, 0.0])
    for x in (-60.0, 50.0):
        body += across(10.0, 28.0, 28.0, 64).rotate([0.0, 90.0, 0.0]).translate([x, 0.0, 0.0])
    body -= across(140.0, 11.0, 11.0, 64).translate([0.0, 0.0, -70.0]).rotate([0.0, 90.0, 0.0])
    body -= across(90.0, 11.0, 11.0, 64).rotate([90.0, 0.0, 0.0])
    model = model_of(body)
    job = core_edits.set_cores(with_model(Job(name="Tee"), model), every=True, on_end=True).job
    made = mould_of(Pipeline().run(job, model, until=CORES))
    assert not made.on_end and any(one.code == "on-end-gating" for one in made.findings)
    assert made.gates and not [one for one in made.margins if one.short]


def test_a_runner_is_led_past_a_flange_with_its_sand(stood: RigResult) -> None:
    """A gate close under a flange that stands out farther than its runner begins is none."""
    s = sections_of(WANTED)
    long = _gate_long(s)
    whole = shapely.union_all([shapely.box(0.0, -20.0, 120.0, 20.0), shapely.box(0.0, -80.0, 10.0, 80.0)])
    way = np.array([0.0, 1.0])
    near, far = np.array([10.0 + s.runner_wide / 2.0, 20.0]), np.array([60.0, 20.0])
    assert 20.0 + long < 80.0
    assert not _led_clear(whole, near, way, 1.0, s) and _led_clear(whole, far, way, 1.0, s)
    most = pouring().common
    assert all(gate.wide_mm <= most.gate_wide.value + 2.0 for gate in stood.gates)


def test_its_head_is_the_metal_over_the_gate(stood: RigResult) -> None:
    """h - p^2 / (2 c) with the flask's end as the metal's top: by hand."""
    casting = plan_of(stood, "casting")
    x0, _, x1, _ = casting.bounds  # type: ignore[attr-defined]
    gate = stood.sprue.at_mm[0]  # type: ignore[union-attr]
    head = stood.flask.long_mm / 2.0 - gate
    above = x1 - gate
    assert stood.flow.head_mm == pytest.approx(head - above**2 / (2.0 * (x1 - x0)), abs=1.0)
    assert stood.flow.gate_speed_m_s <= stood.flow.limit_m_s * 1.02


def test_clamps_hold_what_the_metal_drives_apart(stood: RigResult) -> None:
    """rho g h A over all that the metal fills and the core in it, h to its middle; clamps take half as much again, and
    the cope's own weight nothing.
    """
    filled = plan_of(stood, "casting", "runner", "well")
    top = stood.flask.long_mm / 2.0
    # the print stands in the plan as its own shape; the bore within the metal counts as filled
    rho = liquid_density("aluminium-silicon").value
    hand = rho * G * 1e-9 * filled.area * (top - filled.centroid.x)  # type: ignore[attr-defined]
    assert stood.weights.lift_n == pytest.approx(hand, rel=0.12)
    assert stood.weights.add_kg == pytest.approx(1.5 * stood.weights.lift_n / G, rel=1e-6)
    said = next(one for one in stood.findings if one.code == "clamp-on-end")
    assert said.figures["clamp_kg"] == pytest.approx(stood.weights.add_kg)
    assert "stand the flask" in " ".join(step.words() for step in stood.steps)


def test_air_and_gas_leave_at_the_upper_end(stood: RigResult) -> None:
    top = stood.flask.long_mm / 2.0
    kinds = {one.kind for one in stood.leads}
    assert kinds == {"core", "breather"} and not stood.vents
    metal = plan_of(stood, "casting")
    for one in stood.leads:
        assert one.to_mm[0] == pytest.approx(top) and one.to_mm[1] == pytest.approx(one.at_mm[1], abs=1e-6)
        way = shapely.LineString([one.at_mm, one.to_mm])
        assert way.intersection(metal).length < 1.0  # type: ignore[arg-type]


def test_a_flask_too_short_is_said(bush: Results) -> None:
    made = mould_of(bush, RigChoices(inside_mm=(180.0, 200.0)))
    assert any(one.code == "flask-asked-too-small" for one in made.findings)
    assert made.flask.long_mm > 220.0


def test_what_cannot_stand_is_poured_lying_and_said(bush: Results) -> None:
    """Two at once are laid out lying, with a word that they are not."""
    two = mould_of(bush, RigChoices(count=2))
    assert not two.on_end and any(one.code == "on-end-gating" for one in two.findings)
    assert np.isfinite(two.flow.fill_s)
