"""Feeders on a casting and on its gate, as solids and in the layout."""

import math
from dataclasses import replace

import manifold3d
import numpy as np
import pytest
import shapely

from pounce.base.progress import silent
from pounce.metals.heat import heat
from pounce.rig.feeders import LEAN_DEG, Standing, feeder_formers, feeder_solid, standing
from pounce.rig.flasks import SAMPLE
from pounce.rig.solids import contact
from pounce.rig.stop import rig_stop
from pounce.rig.values import FeederChoice, RigChoices
from pounce.solid import boolean
from pounce.solid.sound import soundness
from tests.conftest import box
from tests.unit.rig.helpers import given_of, item_like, worked


def on_gate(solid: manifold3d.Manifold, joint_mm: float, at: tuple[float, float, float]) -> Standing:
    (one,) = standing(item_like(solid, joint_mm), (FeederChoice(at, 30.0, 40.0, 20.0, gate=True),))
    return one


def test_one_on_a_casting_holds_what_its_formula_says() -> None:
    """A cone that leans 2 degrees a side on a round neck, less the root in the casting."""
    (one,) = standing(item_like(box(60, 60, 20), 20.0), (FeederChoice((30.0, 30.0, 20.0), 30.0, 36.0, 20.0),))
    assert one.gate is None and one.foot[2] == pytest.approx(0.0)
    solid = feeder_solid(one, 60.0)
    high, long = 60.0 - one.neck_long_mm, one.neck_long_mm
    wide = 15.0 + high * math.tan(math.radians(LEAN_DEG))
    whole = math.pi * high / 3.0 * (15.0**2 + 15.0 * wide + wide**2) + math.pi * 10.0**2 * (long + 1.5)
    assert float(solid.volume()) == pytest.approx(whole, rel=0.01)  # rounds are many-sided


@pytest.mark.parametrize(("joint_mm", "base"), [(40.0, -20.0), (0.0, 0.0), (15.0, 0.0)])
def test_one_on_a_gate_lies_in_the_half_of_the_wall(joint_mm: float, base: float) -> None:
    """Under a joint at the top of a block, over one at its foot, and where the thicker wall is."""
    block = box(60, 60, 40)
    one = on_gate(block, joint_mm, (60.0, 30.0, 0.0))
    assert one.gate is not None and one.base_mm == pytest.approx(base, abs=0.1)
    assert one.neck_high_mm == pytest.approx(20.0, abs=0.1)
    # its neck reaches from the casting's side to it, over its whole section
    solid = feeder_solid(one, 70.0)
    metal = block.translate([-30.0, -30.0, -joint_mm])
    section = 20.0 * 20.0
    assert section * 0.9 < contact(solid, metal) < section * 1.02
    assert one.plan.distance(shapely.box(-30.0, -30.0, 30.0, 30.0)) == pytest.approx(0.0, abs=1e-6)
    side = heat().common.neck_side.value
    assert shapely.Point(one.foot[:2]).buffer(15.0).distance(shapely.box(-30, -30, 30, 30)) == pytest.approx(
        side, abs=0.1
    )


def test_its_formers_add_up_and_stand_against_the_pattern() -> None:
    block = box(60, 60, 40)
    one = on_gate(block, 40.0, (60.0, 30.0, 0.0))
    pattern = block.translate([-30.0, -30.0, -40.0])
    parts = feeder_formers(one, 70.0, pattern)
    assert [side for side, _ in parts] == [", cope side", ", drag side"]
    whole = boolean.without(feeder_solid(one, 70.0), [pattern])
    assert sum(float(part.volume()) for _, part in parts) == pytest.approx(float(whole.volume()), rel=1e-6)
    for side, part in parts:
        assert float((part ^ pattern).volume()) == pytest.approx(0.0, abs=1e-3)
        low, high = part.bounding_box()[2], part.bounding_box()[5]
        assert (low > -1e-6) if "cope" in side else (high < 1e-6)


def test_one_that_finds_no_outline_is_left_out() -> None:
    item = item_like(box(60, 60, 40), 40.0)
    assert standing(item, (FeederChoice((200.0, 200.0, 0.0), 30.0, 40.0, 20.0, gate=True),)) == ()


def test_two_castings_run_in_through_theirs() -> None:
    """Each has its own, the runner keeps off them, and all of the metal's way is sound."""
    results = worked(box(50, 50, 50))
    given = replace(given_of(results, 2), feeders=(FeederChoice((25.0, 50.0, 50.0), 36.0, 40.0, 26.0, gate=True),))
    made = rig_stop(RigChoices(count=2), (given,), SAMPLE, silent)
    assert len(made.feeders) == 2 and {one.casting for one in made.feeders} == {0, 1}
    for one in made.feeders:
        assert one.contact_mm is not None
        gate = next(g for g in made.gates if math.dist(g.at_mm, one.contact_mm) < 0.5)
        way = np.array([np.cos(np.radians(gate.way_deg)), np.sin(np.radians(gate.way_deg))])
        out = np.array(one.foot_mm[:2]) - np.array(one.contact_mm[:2])
        assert float(out @ way) == pytest.approx(float(np.linalg.norm(out)), rel=1e-3)
    discs = [shapely.Point(one.foot_mm[:2]).buffer(one.wide_mm / 2.0) for one in made.feeders]
    runs = [shapely.LineString(line).buffer(made.runner.wide_mm / 2.0) for line in made.runner.lines]
    assert min(disc.distance(run) for disc in discs for run in runs) > 5.0
    assert discs[0].distance(discs[1]) > 10.0
    look = soundness(made.gating)
    assert look.bodies == 1 and look.odd_edges == 0
    names = [name for name, _ in made.formers]
    assert "Feeder 1, drag side" in names and "Feeder 1, cope side" in names
    assert any("on the gate" in step.words() for step in made.steps)


def test_a_blind_one_has_sand_over_it_and_a_vent_and_none_goes_through_it() -> None:
    results = worked(box(60, 60, 20))
    high = FeederChoice((30.0, 30.0, 20.0), 30.0, 36.0, 20.0, open=False)
    low = replace(given_of(results), feeders=(high, FeederChoice((30.0, 30.0, 0.0), 30.0, 36.0, 20.0, open=False)))
    made = rig_stop(RigChoices(), (low,), SAMPLE, silent)
    one = made.feeders[0]
    # the block lies either way up: the feeder on top stands, the other finds no metal that looks up
    assert len(made.feeders) == 1 and not one.open
    assert made.flask.cope_mm >= one.top_mm + made.wanted.over - 0.1
    over = [vent for vent in made.vents if math.dist(vent[:2], one.foot_mm[:2]) < one.wide_mm]
    assert len(over) == 1 and over[0][2] == pytest.approx(one.top_mm)
    assert any("leave it in" in step.words() for step in made.steps)


def test_where_a_feeder_leaves_no_other_room_the_gate_comes_nearer_and_says_so() -> None:
    """Set on top of a cube by hand, it covers all but the rim."""
    results = worked(box(45, 45, 45))
    given = replace(given_of(results), feeders=(FeederChoice((22.5, 22.5, 0.0), 36.0, 44.0, 28.0),))
    made = rig_stop(RigChoices(), (given,), SAMPLE, silent)
    assert made.feeders and made.gates
    near = next(one for one in made.findings if one.code == "gate-near-feeder")
    assert near.figures["sand_mm"] < near.figures["wanted_mm"]
