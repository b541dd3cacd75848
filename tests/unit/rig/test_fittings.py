"""Vents, leads, keys, traps and basins on plain castings."""

from dataclasses import replace

import manifold3d
import numpy as np
import pytest
import shapely

from pounce.base.errors import UserFault
from pounce.job import core_edits, edits
from pounce.job.job import Job
from pounce.rig.fittings import basin_former, ends_of, key_former
from pounce.rig.lines import wall_of
from pounce.rig.values import RigChoices, RigResult
from pounce.rig.ways import trap_at
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import CORES
from pounce.solid.boolean import closed_solid
from tests.conftest import box, model_of
from tests.unit.rig.helpers import item_like, mould_of


def in_mould(solid: manifold3d.Manifold, mould: str) -> Results:
    """The whole route of a solid in this mould, but for its flask."""
    model = model_of(solid)
    job = edits.set_mould(with_model(Job(name="Bar"), model), mould).job
    return Pipeline().run(job, model, until=CORES)


@pytest.fixture(scope="module")
def bar() -> manifold3d.Manifold:
    """A bar of 160 x 20 x 16."""
    return box(160, 20, 16)


@pytest.fixture(scope="module")
def set_bar(bar: manifold3d.Manifold) -> Results:
    """It in resin sand."""
    return in_mould(bar, "resin-sand")


def test_the_far_end_of_a_bar_is_vented(bar: manifold3d.Manifold) -> None:
    """Gated at one end, the other end is where air is shut in; its middle, a high point, is vented already."""
    item = item_like(bar, 8.0)
    ends = ends_of(item, np.array([[-80.0, 0.0]]), np.array([[0.0, 0.0, 8.0]]))
    assert len(ends) and ends[0, 0] > 70.0 and ends[0, 2] == pytest.approx(8.0, abs=1e-6)
    assert all(np.linalg.norm(end[:2]) > 40.0 for end in ends)


def test_no_end_is_named_where_a_high_point_lies(bar: manifold3d.Manifold) -> None:
    item = item_like(bar, 8.0)
    tops = np.array([[78.0, 0.0, 8.0], [0.0, 0.0, 8.0], [-78.0, 0.0, 8.0]])
    assert len(ends_of(item, np.array([[-80.0, 0.0]]), tops)) == 0


def test_a_core_in_the_joint_is_vented_along_it(block_with_bore: RigResult) -> None:
    """Each print has its channel, the shortest way to the wall, in the joint."""
    leads = [one for one in block_with_bore.leads if one.kind == "core"]
    assert leads and {one.way for one in leads} == {"joint"}
    wall = wall_of(block_with_bore.flask).exterior
    for one in leads:
        assert wall.distance(shapely.Point(one.to_mm)) == pytest.approx(0.0, abs=1e-6)
    metal = shapely.unary_union(
        [shapely.Polygon(one.rings[0]) for one in block_with_bore.shapes if one.kind in ("casting", "gate", "runner")]
    )
    assert all(shapely.LineString([one.at_mm, one.to_mm]).intersection(metal).length < 1.0 for one in leads)
    said = " ".join(step.words() for step in block_with_bore.steps)
    assert "scratch a channel in the joint" in said


@pytest.fixture(scope="module")
def block_with_bore() -> RigResult:
    """A block with a bore across the draw, cored."""
    bore = manifold3d.Manifold.cylinder(120.0, 12.0, 12.0, 48).rotate([0.0, 90.0, 0.0]).translate([-20.0, 30.0, 25.0])
    model = model_of(box(80, 60, 50) - bore)
    job = core_edits.set_hollow(with_model(Job(name="Bored"), model), (40.0, 30.0, 25.0), "core").job
    results = Pipeline().run(job, model, until=CORES)
    assert results.need(CORES).cores, "the bore was given a core"
    return mould_of(results)


def test_an_upright_core_is_vented_through_the_cope() -> None:
    """Seen from above its print lies within the metal: no channel in the joint could reach it."""
    bore = manifold3d.Manifold.cylinder(80.0, 12.0, 12.0, 48).translate([40.0, 30.0, -10.0])
    model = model_of(box(80, 60, 50) - bore)
    job = core_edits.set_hollow(with_model(Job(name="Bush"), model), (40.0, 30.0, 25.0), "core").job
    job = edits.set_draw(job, (0.0, 0.0, 1.0)).job
    made = mould_of(Pipeline().run(job, model, until=CORES))
    leads = [one for one in made.leads if one.kind == "core"]
    assert leads and all(one.way in ("cope", "drag") for one in leads)


def test_clay_is_given_breathers_and_sand_is_not(bar: manifold3d.Manifold) -> None:
    clay = mould_of(in_mould(bar, "fine-clay"))
    sand = mould_of(in_mould(bar, "green-sand"))
    assert [one for one in clay.leads if one.kind == "breather"] and not sand.leads
    casting = shapely.Polygon(next(one for one in clay.shapes if one.kind == "casting").rings[0])
    for one in clay.leads:
        assert casting.distance(shapely.Point(one.at_mm)) < 2.0
        assert shapely.LineString([one.at_mm, one.to_mm]).intersection(casting).length < 5.0


def test_a_block_without_a_flask_has_keys_that_fit_one_way(set_bar: Results) -> None:
    """Turned half round, or over about either middle line, the keys do not lie on one another."""
    held = mould_of(set_bar, RigChoices(closing="boxless"))
    keys = np.array([one.at_mm for one in held.keys])
    assert len(keys) == 4
    for turn in ([-1.0, -1.0], [1.0, -1.0], [-1.0, 1.0]):
        other = keys * turn
        apart = np.linalg.norm(keys[:, None] - other[None], axis=2).min(axis=1)
        assert apart.max() > held.keys[0].wide_mm / 2.0
    metal = shapely.unary_union(
        [shapely.Polygon(one.rings[0]) for one in held.shapes if one.kind in ("casting", "gate", "runner", "well")]
    )
    for key in held.keys:
        foot = shapely.Point(key.at_mm).buffer(key.wide_mm / 2.0)
        assert foot.distance(metal) > 3.0
        assert abs(key.at_mm[0]) + key.wide_mm / 2.0 < held.flask.long_mm / 2.0
    assert held.weights.flask_kg == 0.0
    assert any(one.code == "band-the-block" for one in held.findings)
    assert any(name.startswith("Key") for name, _ in held.formers)
    assert "bead of core glue" in " ".join(step.words() for step in held.steps)


def test_green_sand_is_not_left_without_its_flask(bar: manifold3d.Manifold) -> None:
    with pytest.raises(UserFault, match="does not stand without a flask"):
        mould_of(in_mould(bar, "green-sand"), RigChoices(closing="boxless"))


@pytest.mark.parametrize("choices", [RigChoices(), RigChoices(count=2, cup="cut")])
def test_trap_and_basin_are_of_one_body_with_the_runner(set_bar: Results, choices: RigChoices) -> None:
    plain = mould_of(set_bar, choices)
    made = mould_of(set_bar, RigChoices(count=choices.count, cup=choices.cup, basin="offset", runner_end="whirl"))
    assert made.gating is not None and plain.gating is not None and made.runner is not None
    solid = closed_solid(made.gating)
    assert solid is not None and len(solid.decompose()) == 1
    assert len(made.runner.traps) == choices.count
    # the traps at least are more metal, and none of it stands in a casting
    assert made.weights.gating_kg > plain.weights.gating_kg
    whole = shapely.unary_union([shapely.Polygon(one.rings[0]) for one in made.shapes if one.kind == "casting"])
    for at in made.runner.traps:
        assert whole.distance(shapely.Point(at).buffer(made.runner.trap_mm / 2.0)) > 3.0
    for name, mesh in made.formers:
        assert closed_solid(mesh) is not None and mesh.volume > 0.0, name


def test_the_runner_enters_a_trap_along_its_side() -> None:
    """The line's own edge touches the circle's: metal whirls."""
    line = np.array([[0.0, 0.0, 0.0], [50.0, 0.0, 0.0]])
    at = trap_at(line, shapely.box(0.0, 10.0, 50.0, 60.0), 40.0, 16.0)
    assert at[0] == pytest.approx(50.0) and at[1] == pytest.approx(-12.0)


def test_a_basin_is_closed_and_has_a_step_before_the_sprue() -> None:
    made = basin_former(20.0, 60.0, 25.0, 2.2)
    assert made.status() == manifold3d.Error.NoError and len(made.decompose()) == 1
    low = made.bounding_box()[2]
    assert low < -10.0  # the deep end
    at_sprue = made ^ manifold3d.Manifold.cylinder(60.0, 5.0, 5.0).translate([0.0, 0.0, -30.0])
    assert at_sprue.bounding_box()[2] > -1.0  # not under the sprue


def test_a_key_draws() -> None:
    made = key_former()
    low, high = made.slice(0.5).area(), made.slice(made.bounding_box()[5] - 0.5).area()
    assert float(high) < 0.7 * float(low)


def test_sections_are_replaced_by_nothing_else(set_bar: Results) -> None:
    """A trap and an offset basin leave sprue, gates and runner as they were."""
    plain, made = (mould_of(set_bar, one) for one in (RigChoices(), RigChoices(basin="offset", runner_end="whirl")))
    assert plain.runner is not None and made.runner is not None
    assert replace(made.runner, lines=(), traps=(), trap_mm=0.0) == replace(plain.runner, lines=())
    assert made.sprue is not None and plain.sprue is not None and made.sprue.foot_mm == plain.sprue.foot_mm
