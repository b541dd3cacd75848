"""The whole stop on plain castings: volumes, contacts, margins, faults, what hands and findings change."""

from typing import Any

import manifold3d
import numpy as np
import pytest
import shapely

from pounce.base.errors import UserFault
from pounce.base.progress import silent
from pounce.base.units import quantity
from pounce.job import edits
from pounce.job.changes import made
from pounce.job.job import Job
from pounce.rig.changes import ArrangeAnew, FlaskThatFits, MoveSprue
from pounce.rig.flasks import SAMPLE
from pounce.rig.flow import G
from pounce.rig.stop import rig_stop
from pounce.rig.values import PlacedChoice, RigChoices, RigResult
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import CORES, STOCK
from pounce.solid.boolean import closed_solid
from pounce.solid.sound import readied
from tests.conftest import box, model_of
from tests.unit.rig.helpers import given_of, mould_of, worked


@pytest.fixture(scope="module")
def block() -> Results:
    """A block of 80 x 50 x 30 with a boss."""
    boss = manifold3d.Manifold.cylinder(45.0, 12.0, 9.0, 48).translate([25.0, 25.0, 0.0])
    return worked(box(80, 50, 30) + boss)


@pytest.fixture(scope="module")
def mould(block: Results) -> RigResult:
    """One of it."""
    return mould_of(block)


def test_one_casting_lies_with_its_sand(mould: RigResult) -> None:
    assert mould.own and not mould.boards and len(mould.castings) == 1
    assert all(not one.short for one in mould.margins)
    assert mould.flask.cope_mm >= mould.up_mm + mould.wanted.over - 0.1
    assert mould.flask.drag_mm >= mould.down_mm + mould.wanted.under - 0.1
    assert not [one for one in mould.findings if not one.informational]


def test_margins_are_what_another_library_measures(mould: RigResult) -> None:
    """The plan's rings, measured by shapely."""
    casting = shapely.Polygon(next(one for one in mould.shapes if one.kind == "casting").rings[0])
    sprue = shapely.Point(mould.sprue.at_mm).buffer(max(mould.sprue.top_mm, mould.sprue.well_mm) / 2.0, 24)  # type: ignore[union-attr]
    found = next(one for one in mould.margins if one.of == "sprue" and one.to == "casting")
    assert found.mm == pytest.approx(casting.distance(sprue), abs=0.02)
    ends = np.array(found.line)
    assert float(np.linalg.norm(ends[0] - ends[1])) == pytest.approx(found.mm, abs=1e-6)


@pytest.mark.parametrize(
    "choices", [RigChoices(), RigChoices(count=2, cup="cut"), RigChoices(school="feeding", gates=2)]
)
def test_all_that_is_cut_is_one_sound_body(block: Results, choices: RigChoices) -> None:
    """Closed, one body, and each gate meets the casting with nine tenths of its section."""
    made_of = mould_of(block, choices)
    assert made_of.gating is not None
    solid = closed_solid(made_of.gating)
    assert solid is not None and len(solid.decompose()) == 1
    assert len(made_of.gates) == choices.count * (choices.gates or len(made_of.gates) // choices.count)
    for gate in made_of.gates:
        lean = gate.thick_mm * np.tan(np.radians(10.0))
        assert gate.contact_mm2 >= 0.9 * (gate.wide_mm - lean) * gate.thick_mm
    for name, mesh in made_of.formers:
        ready = readied(mesh, None)
        assert closed_solid(ready) is not None, name


def test_masses_add_up(mould: RigResult) -> None:
    w = mould.weights
    assert w.poured_kg == pytest.approx(w.castings_kg + w.gating_kg + w.cup_kg)
    assert mould.gating is not None
    assert w.gating_kg == pytest.approx(mould.gating.volume * 2420.0e-9, rel=1e-9)
    assert 0.3 < w.metal_yield < 0.95
    inside = mould.flask.area_mm2 * (mould.flask.cope_mm + mould.flask.drag_mm) * 1e-6
    assert w.sand_l < inside and w.sand_l == pytest.approx(inside, rel=0.1)


def test_what_lies_on_the_cope_is_one_and_a_half_times_the_lift(block: Results) -> None:
    """In a low cope under a wide casting; weights by hand from the lift that the result states."""
    low = mould_of(block, RigChoices(inside_mm=(170.0, 140.0), cope_mm=60.0, drag_mm=80.0))
    w = low.weights
    assert w.add_kg == pytest.approx(max(1.5 * w.lift_n / G - w.cope_kg, 0.0))


def test_the_metal_fills_in_the_time_of_its_choke(mould: RigResult) -> None:
    f = mould.flow
    assert f.fill_s == pytest.approx(f.mass_kg / 2420.0 * 1e6 / f.flow_cm3_s)
    assert f.gate_speed_m_s <= f.limit_m_s


def test_sections_show_the_casting_in_its_heights(mould: RigResult) -> None:
    """Of all cuts the highest and lowest place of metal are the casting's own."""
    rings = [ring for cut in mould.cuts for kind, ring in cut.rings if kind == "casting"]
    assert all(abs(cut.y_mm) < mould.flask.wide_mm / 2.0 for cut in mould.cuts)
    assert rings and max(float(ring[:, 1].max()) for ring in rings) == pytest.approx(mould.up_mm, abs=0.5)
    assert min(float(ring[:, 1].min()) for ring in rings) == pytest.approx(-mould.down_mm, abs=0.5)


def test_two_jobs_in_one_pour_share_the_sprue(block: Results) -> None:
    """Each is gated by its own walls; masses, lift and volumes are those of both."""
    plate = worked(box(60, 60, 8))
    both = rig_stop(RigChoices(), (given_of(block), given_of(plate, 2)), SAMPLE, silent)
    alone = mould_of(block)
    assert [one.name for one in both.castings] == ["Block", "Block 1", "Block 2"]
    assert both.weights.castings_kg == pytest.approx(alone.weights.castings_kg + 2.0 * plate.need(STOCK).cast.mass_kg)
    assert {gate.casting for gate in both.gates} == {0, 1, 2}
    thick = {k: next(gate.thick_mm for gate in both.gates if gate.casting == k) for k in (0, 1, 2)}
    assert thick[1] == thick[2] < thick[0]
    assert both.gating is not None
    body = closed_solid(both.gating)
    assert body is not None and len(body.decompose()) == 1
    for gate in both.gates:
        assert gate.contact_mm2 >= 0.9 * gate.section_mm2 - 8.0
    said = " ".join(step.words() for step in both.steps)
    assert f"{both.gates[0].thick_mm:g}" in said and f"{both.gates[-1].thick_mm:g}" in said


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda job: edits.set_metal(job, "tin-bronze"), "another metal"),
        (lambda job: edits.set_mould(job, "resin-sand"), "another sand"),
    ],
)
def test_jobs_that_cannot_share_a_pour_are_refused(block: Results, change: Any, says: str) -> None:
    model = model_of(box(60, 60, 8))
    job = change(with_model(Job(name="Plate"), model)).job
    other = Pipeline().run(job, model, until=CORES)
    with pytest.raises(UserFault, match=says):
        rig_stop(RigChoices(), (given_of(block), given_of(other)), SAMPLE, silent)


def test_steps_carry_this_moulds_figures(mould: RigResult) -> None:
    said = " ".join(step.words() for step in mould.steps)
    assert mould.runner is not None and quantity("wide_mm", mould.runner.wide_mm) in said
    assert "{" not in said and said.startswith("Temper") and "keep the cup full" in said


# --- by hand, and faults ---------------------------------------------------------------------------------------------


def test_a_sprue_too_near_the_wall_is_told_with_its_cure(block: Results, mould: RigResult) -> None:
    """Moved to 8 mm from the wall by hand: the finding names the distance, and its remedy puts it right."""
    placed = tuple(PlacedChoice(one.at_mm, one.turn_deg) for one in mould.castings)
    assert mould.sprue is not None
    r = max(mould.sprue.top_mm, mould.sprue.well_mm) / 2.0
    f = mould.flask
    y = mould.castings[0].at_mm[1]
    spot = (0.0, (f.wide_mm / 2.0 - r - 8.0) * (-1.0 if y > 0.0 else 1.0))
    choices = RigChoices(flask=f.id, placed=placed, sprue_mm=spot)
    near = mould_of(block, choices)
    found = next(one for one in near.findings if one.code == "margin-sprue-wall")
    assert found.figures["sand_mm"] == pytest.approx(8.0, abs=0.2) and not found.informational
    cure = next(one for one in found.remedies if isinstance(one.change, MoveSprue))
    assert cure.change is not None
    again = mould_of(block, made(cure.change, Job()).job.rig)
    assert not any(one.code == "margin-sprue-wall" for one in again.findings)
    assert again.castings == near.castings


def test_a_casting_in_the_wall_stops(block: Results, mould: RigResult) -> None:
    far = (mould.flask.long_mm / 2.0, 0.0)
    out = mould_of(block, RigChoices(flask=mould.flask.id, placed=(PlacedChoice(far),), sprue_mm=(-60.0, 0.0)))
    found = next(one for one in out.findings if one.code == "margin-casting-wall")
    assert found.severity == "stop" and found.figures["sand_mm"] < 0.0
    assert any(isinstance(one.change, ArrangeAnew) for one in found.remedies)


def test_a_flask_too_low_says_by_how_much(block: Results) -> None:
    low = mould_of(block, RigChoices(inside_mm=(260.0, 220.0), cope_mm=45.0, drag_mm=45.0))
    codes = {one.code: one for one in low.findings}
    found = next(one for code, one in codes.items() if code in ("cope-low", "drag-low"))
    assert found.figures["sand_mm"] < found.figures["wanted_mm"]
    assert any(isinstance(one.change, FlaskThatFits) for one in found.remedies)


def test_an_unknown_flask_is_said_with_those_there_are(block: Results) -> None:
    with pytest.raises(UserFault, match=r"'barrel'.*bench-box"):
        mould_of(block, RigChoices(flask="barrel"))


def test_what_fits_no_flask_gets_a_box_with_its_boards(block: Results) -> None:
    many = mould_of(block, RigChoices(count=4), own=SAMPLE[:1])
    assert not many.own and {one.name for one in many.boards} >= {"Sides of the cope", "Ends of the drag"}
    assert any(one.code == "box-to-build" for one in many.findings)
    assert all(not one.short for one in many.margins) and many.flask.long_mm % 10.0 == 0.0


def test_a_head_lower_than_the_casting_is_refused_with_a_height() -> None:
    """A ball of 120 that lies half in the cope, under a cope of 40: the least cope is named, and one so high does."""
    ball = worked(manifold3d.Manifold.sphere(60.0, 96))
    with pytest.raises(UserFault, match="at least") as refused:
        mould_of(ball, RigChoices(cope_mm=40.0, cup="cut"))
    least = float(str(refused.value).rsplit("at least ", 1)[1].split(" mm")[0])
    made_of = mould_of(ball, RigChoices(cope_mm=least, cup="cut"))
    assert least > made_of.up_mm > 55.0 and made_of.flow.head_mm > 0.0


def test_what_no_card_lets_through_is_refused_from_a_file_too(block: Results) -> None:
    with pytest.raises(UserFault, match="Castings: 99"):
        mould_of(block, RigChoices(count=99))


def test_places_for_another_number_of_castings_are_let_go(block: Results) -> None:
    two = mould_of(block, RigChoices(count=2, placed=(PlacedChoice((0.0, 0.0)),), sprue_mm=(0.0, 0.0)))
    assert len(two.castings) == 2 and not two.pinned


def test_a_thin_walled_cup_is_gated_and_nothing_of_the_gates_lies_in_it() -> None:
    """A cup of 80 with walls of 4 mm: its wall takes a gate, thinner than itself, and all of it is one body outside."""
    cup = manifold3d.Manifold.cylinder(60.0, 40.0, 40.0, 96) - manifold3d.Manifold.cylinder(
        60.0, 36.0, 36.0, 96
    ).translate([0.0, 0.0, 4.0])
    made_of = mould_of(worked(cup))
    assert made_of.gating is not None
    solid = closed_solid(made_of.gating)
    assert solid is not None and len(solid.decompose()) == 1
    assert all(gate.thick_mm < gate.wall_mm for gate in made_of.gates)


def test_a_flask_that_was_asked_for_and_is_too_small_is_said_with_what_it_takes(block: Results) -> None:
    small = mould_of(block, RigChoices(inside_mm=(110.0, 90.0)))
    found = next(one for one in small.findings if one.code == "flask-asked-too-small")
    assert not found.informational and found.figures["asked_long_mm"] == 110.0
    assert found.figures["long_mm"] == small.flask.long_mm > 110.0
    with pytest.raises(UserFault, match="has no cope"):
        mould_of(block, RigChoices(flask="pail"))


def test_a_slanting_rim_takes_a_gate_and_speeds_are_one_figure() -> None:
    """A dish of 3 mm whose rim leans at some 28 degrees to its joint."""
    ball, inner = (manifold3d.Manifold.sphere(r, 128).translate([0.0, 0.0, -130.0]) for r in (150.0, 147.0))
    made_of = mould_of(worked(ball.trim_by_plane([0.0, 0.0, 1.0], 2.0) - inner))
    assert made_of.gating is not None
    solid = closed_solid(made_of.gating)
    assert solid is not None and len(solid.decompose()) == 1
    for gate in made_of.gates:
        assert gate.speed_m_s == made_of.flow.gate_speed_m_s and gate.contact_mm2 > 0.5 * gate.section_mm2
