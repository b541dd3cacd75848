"""A tree: castings in tiers about one sprue, of foam in a pail of loose sand (common practice)."""

import itertools
from dataclasses import replace

import manifold3d as m3
import msgspec
import numpy as np
import pytest

from pounce.base.errors import UserFault
from pounce.base.progress import silent
from pounce.feeding.mould import lying_of
from pounce.job import edits, rig_edits
from pounce.job.changes import take_remedy
from pounce.job.choose import choose_word
from pounce.job.job import Job
from pounce.rig.choices import TIERS
from pounce.rig.flasks import Flask
from pounce.rig.hands import from_part, to_part
from pounce.rig.stop import rig_stop
from pounce.rig.values import FeederChoice, PlacedChoice, RigChoices, RigResult
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.rig import rig_keys
from pounce.route.stops import CORES, MOULD
from pounce.solid import boolean
from tests.conftest import box, model_of
from tests.unit.rig.helpers import given_of, mould_of, worked

M = m3.Manifold
# Long, across, high, mm.
BAR = (60.0, 25.0, 18.0)


def foam(solid: m3.Manifold) -> Results:
    """The route of a solid that is burned out of loose sand, but for its mould."""
    model = model_of(solid)
    job = edits.set_metal(with_model(Job(name="Bar"), model), "aluminium-silicon").job
    job = edits.set_mould(edits.set_pattern_kind(job, "foam-burned-out").job, "loose-sand").job
    return Pipeline().run(job, model, silent, until=CORES)


@pytest.fixture(scope="module")
def bar() -> Results:
    """A bar of foam."""
    return foam(box(*BAR))


@pytest.fixture(scope="module")
def tree(bar: Results) -> RigResult:
    """Five bars in two tiers, the upper one with two of them."""
    return mould_of(bar, RigChoices(count=5, tiers=2))


def codes(mould: RigResult) -> set[str]:
    return {one.code for one in mould.findings}


def test_the_upper_tier_hangs_over_the_lower_one(tree: RigResult) -> None:
    levels = [one.level_mm for one in tree.castings]
    assert (tree.tier, tree.tiers) == (3, 2) and levels[:3] == [0.0] * 3
    for low, high in zip(tree.castings[:2], tree.castings[3:], strict=True):
        assert (low.at_mm, low.turn_deg) == (high.at_mm, high.turn_deg)
    pitch = levels[-1]
    tall = tree.up_mm + tree.down_mm - pitch  # of one casting, as it is rammed
    assert tree.wanted.between <= pitch - tall
    # castings, gates and runner of both tiers are all in the pail, under their sand
    solids = lying_of(tree)
    top = max(float(one.bounds[1, 2]) for one in solids.castings)
    assert tree.flask.shape == "can" and top + tree.wanted.over <= tree.flask.cope_mm + 0.5
    assert top == pytest.approx(tree.up_mm)


def test_its_metal_is_one_body_that_meets_every_casting(tree: RigResult) -> None:
    castings = [boolean.closed_solid(one) for one in lying_of(tree).castings]
    assert all(one is not None for one in castings)
    gating = boolean.closed_solid(tree.gating)
    assert gating is not None and len(gating.decompose()) == 1
    whole = boolean.united([gating, *castings])
    assert len(whole.decompose()) == 1, "gates lead from one sprue to each"
    parts = float(gating.volume()) + sum(float(one.volume()) for one in castings)
    assert float(whole.volume()) == pytest.approx(parts, rel=1e-9)
    for one, two in itertools.combinations(castings, 2):
        assert float((one ^ two).volume()) == 0.0
        assert one.min_gap(two, 100.0) >= tree.wanted.between - 0.5
    assert {gate.casting for gate in tree.gates} == set(range(5))
    for gate in tree.gates:
        assert gate.contact_mm2 >= 0.9 * (gate.section_mm2 - gate.thick_mm**2 * np.tan(np.radians(10.0)))


@pytest.mark.parametrize(
    ("wide", "thick", "end"), [(120.0, 5.0, "overrun"), (120.0, 5.0, "whirl"), (150.0, 3.5, "whirl")]
)
def test_sand_stands_between_a_tiers_runner_and_thin_castings_under_it(wide: float, thick: float, end: str) -> None:
    made = mould_of(foam(box(wide, 70, thick)), RigChoices(count=8, tiers=2, runner_end=end))  # type: ignore[arg-type]
    castings = [boolean.closed_solid(one) for one in lying_of(made).castings]
    gating = boolean.closed_solid(made.gating)
    assert made.runner.high_mm > 2.0 * thick, "the runner is what stands out further"
    # what is cut for the upper tier, away from the sprue that both hang on
    pitch, (x, y) = made.castings[-1].level_mm, made.sprue.at_mm
    upper = gating.trim_by_plane([0.0, 0.0, 1.0], pitch / 2.0)
    upper -= M.cylinder(2000.0, made.sprue.top_mm, made.sprue.top_mm, 48, True).translate([x, y, 0.0])
    for one in castings[: made.tier]:
        assert one.min_gap(upper, 200.0) >= made.wanted.between - 0.1


def test_the_lowest_tiers_gates_take_the_whole_stream(bar: Results, tree: RigResult) -> None:
    flow = tree.flow
    low = [gate for gate in tree.gates if gate.casting < tree.tier]
    assert len(low) == 3 and flow.gates_mm2 == pytest.approx(sum(one.section_mm2 for one in low), rel=0.1)
    assert flow.gate_speed_m_s == pytest.approx(flow.flow_cm3_s / flow.gates_mm2, rel=1e-6)
    assert flow.gate_speed_m_s <= flow.limit_m_s and "gates-fast" not in codes(tree)
    # five at one height share the stream, so each has less of a gate
    flat = mould_of(bar, RigChoices(count=5))
    each = flat.flow.gates_mm2 / 5.0
    assert flow.gates_mm2 / 3.0 > 1.3 * each
    assert flow.head_mm > flat.flow.head_mm, "the sprue runs down past both tiers"


def test_it_is_weighed_told_and_led_as_it_is(bar: Results, tree: RigResult) -> None:
    w = tree.weights
    one = lying_of(tree).castings[0]
    assert abs(one.volume) * 5 * 1e-9 * 2420 == pytest.approx(w.castings_kg, rel=0.12)
    metal = sum(abs(each.volume) for each in lying_of(tree).castings) + abs(tree.gating.volume if tree.gating else 0.0)
    pail = np.pi / 4.0 * tree.flask.long_mm**2 * (tree.flask.cope_mm + tree.flask.drag_mm)
    assert w.sand_l * 1e6 == pytest.approx(pail - metal, rel=2e-3)
    steps = " ".join(step.words() for step in tree.steps)
    assert "two tiers of three, two in the top one" in steps
    assert "tree" in codes(tree) and tree.vents == (), "dry sand lets the air out"
    assert len([shape for shape in tree.shapes if shape.kind == "casting"]) == 3, "from above the upper ones hide"
    said = rig_keys(replace(bar, found={**bar.found, MOULD.id: tree}))
    assert [one["level_mm"] for one in said["castings"]] == [each.level_mm for each in tree.castings]
    names = [name for name, _ in tree.formers]
    assert len(names) == len(set(names))


def test_places_of_a_part_are_found_in_each_tier(tree: RigResult) -> None:
    point = np.array([30.0, 5.0, 4.0])
    for casting in tree.castings:
        there = from_part(tree, casting, point)
        assert to_part(tree, casting, there) == pytest.approx(tuple(point))
    heights = {round(float(from_part(tree, one, point)[2]), 6) for one in tree.castings}
    assert len(heights) == 2


def test_what_is_moved_by_hand_moves_in_every_tier(bar: Results, tree: RigResult) -> None:
    places = [PlacedChoice(one.at_mm, one.turn_deg) for one in tree.castings[: tree.tier]]
    x, y = places[0].at_mm
    places[0] = PlacedChoice((x + 1.5, y), places[0].turn_deg)
    moved = mould_of(bar, RigChoices(count=5, tiers=2, flask="pail", placed=tuple(places), sprue_mm=(0.0, 0.0)))
    assert moved.pinned
    for low, high in ((0, 3), (1, 4)):
        assert moved.castings[low].at_mm == moved.castings[high].at_mm == places[low].at_mm
    # places for another number at one height are let go
    other = mould_of(bar, RigChoices(count=4, tiers=2, flask="pail", placed=tuple(places)))
    assert not other.pinned and other.tier == 2


def test_gates_that_touch_their_casting_count_in_the_layout() -> None:
    """A knob turned by 105 degrees: the union of its outline and of its gates, both valid, lost the gates, and the
    next one's runner was laid through a casting.
    """
    knob = M.sphere(22, 64) + M.cylinder(30, 9, 9, 48).translate([0, 0, -40])
    knob += M.cylinder(6, 16, 16, 48).translate([0, 0, -44])
    made = mould_of(foam(knob), RigChoices(count=6, tiers=2))
    assert made.tier == 3 and not [one for one in made.margins if one.short]


def test_a_pattern_that_is_drawn_gets_no_tree_and_is_told_why() -> None:
    drawn = mould_of(worked(box(*BAR)), RigChoices(count=4, tiers=2))
    (told,) = [one for one in drawn.findings if one.code == "tree-flat"]
    assert drawn.tiers == 1 and not told.informational and "parted at one height" in told.words()
    job = msgspec.structs.replace(Job(name="Bar"), rig=RigChoices(count=4, tiers=2))
    cured = take_remedy(job, told.remedies[0]).job
    assert cured.rig.tiers == 1 and cured.rig.count == 4
    assert "tree-flat" not in codes(mould_of(worked(box(*BAR)), cured.rig))


def test_another_jobs_castings_and_feeders_do_not_stand_on_a_tree(bar: Results) -> None:
    asked = RigChoices(count=2, tiers=2)
    both = rig_stop(asked, (given_of(bar, 2), given_of(foam(box(40, 20, 15)))), SMALL, silent)
    assert both.tiers == 1 and "tree-flat" in codes(both)
    feeder = FeederChoice((30.0, 12.0, 18.0), 20.0, 30.0)
    given = replace(given_of(bar, 4), feeders=(feeder,))
    fed = rig_stop(RigChoices(count=4, tiers=2, feeders=(feeder,)), (given,), SMALL, silent)
    assert fed.feeders == ()
    (left,) = [one for one in fed.findings if one.code == "feeder-left-out"]
    assert "Between the tiers" in left.words()


SMALL = (Flask("pail", "Steel pail", "can", 285.0, 285.0, 0.0, 300.0, 1.2, "steel"),)


def test_a_pail_too_low_for_the_tree_becomes_a_box_that_is_high_enough(bar: Results) -> None:
    low = Flask("pail", "Low pail", "can", 285.0, 285.0, 0.0, 100.0, 1.0, "steel")
    mould = mould_of(bar, RigChoices(count=6, tiers=3), (low,))
    assert not mould.own and mould.tiers == 3
    needed = mould.up_mm + mould.wanted.over + mould.down_mm + mould.wanted.under
    assert mould.flask.cope_mm + mould.flask.drag_mm >= needed - 0.1
    with pytest.raises(UserFault, match=r"80 mm over the lowest gates.* deep, or fewer tiers"):
        mould_of(bar, RigChoices(count=6, tiers=3, flask="pail"), (low,))


@pytest.mark.parametrize(("tiers", "count", "heights"), [(1, 4, 1), (4, 2, 2), (3, 4, 2), (6, 6, 6)])
def test_never_more_tiers_than_castings(bar: Results, tiers: int, count: int, heights: int) -> None:
    assert mould_of(bar, RigChoices(count=count, tiers=tiers)).tiers == heights


def test_tiers_are_chosen_by_word_and_let_go_of_places_by_hand() -> None:
    job = rig_edits.set_rig(Job(name="Bar"), "moved", placed=(PlacedChoice((1.0, 2.0)),), sprue_mm=(0.0, 0.0)).job
    made = choose_word(job, MOULD.id, TIERS, "2").job
    assert made.rig.tiers == 2 and made.rig.placed == () and made.rig.sprue_mm is None
    assert rig_edits.set_tiers(made, 1).label == "All at one height"
