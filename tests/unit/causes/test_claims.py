"""To which cause a finding belongs: the first rule that claims it."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.base.finding import Finding, Severity
from pounce.causes.claims import FOLLOWS_LOCKS, Claims
from pounce.causes.values import Claim, Rule
from pounce.job import edits
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.parting.values import Kind, State
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import CORES, PARTING, STOCK
from pounce.stock.values import Fill
from tests.conftest import model_of
from tests.shapes import SHAPES
from tests.worked import UNPOURED

M = m3.Manifold

NOBODY = Claims(None, None, None)


def said(code: str, severity: Severity = Severity.WARN, **more: object) -> Finding:
    return Finding(code, severity, "Something is found.", **more)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("code", "rule"),
    [
        ("walls-drag", Rule.DRAFT),
        ("askew", Rule.DRAFT),
        ("thin-wall", Rule.THIN),
        ("holes-into-hollows", Rule.HOLES),
        ("joint-steep", Rule.JOINT),
        ("finer-than-sand", Rule.FINE),
        ("corners-sharp", Rule.FINE),
        ("no-room-for-dowels", Rule.FITTINGS),
        ("fronts-meet-cold", Rule.COLD),
        ("gates-fast", Rule.GATE),
        ("hollow-3", Rule.HOT),
        ("feeder-2", Rule.HOT),
    ],
)
def test_alike_findings_of_several_stops_share_a_rule(code: str, rule: Rule) -> None:
    assert NOBODY.of(said(code)) == Claim(rule)


def test_what_nobody_claims_stands_for_itself() -> None:
    """Two findings of one code are one cause, two of different codes are two."""
    one, other = NOBODY.of(said("never-heard-of")), NOBODY.of(said("nor-of-this"))
    assert one == Claim(Rule.OTHER, "never-heard-of") == NOBODY.of(said("never-heard-of")) and one != other


def test_what_stops_the_work_is_told_alone_whatever_it_is_about() -> None:
    for more in ({}, {"region": 0}, {"core": 2}, {"feature": 1}):
        assert NOBODY.of(said("walls-drag", Severity.STOP, **more)) == Claim(Rule.STOPS, "walls-drag")
    assert NOBODY.of(said("shell-open", Severity.STOP)) == Claim(Rule.SHELL), "an open shell is one cause"


def test_cores_and_features_keep_theirs_apart() -> None:
    assert NOBODY.of(said("core-floats", core=1)) != NOBODY.of(said("core-floats", core=2))
    assert NOBODY.of(said("core-floats", core=1)) == NOBODY.of(said("core-sags", core=1)) == Claim(Rule.CORE, "1")
    assert NOBODY.of(said("no-stock", feature=4)) == Claim(Rule.STOCK)


def test_sand_that_nothing_explains_has_a_rule_of_its_own() -> None:
    at = (0.0, 0.0, 0.0)
    assert NOBODY.of(said("slender-sand", place_mm=at)) == Claim(Rule.SLENDER)
    assert NOBODY.of(said("thin-strip", place_mm=at)) == Claim(Rule.JOINT)
    assert NOBODY.of(said("sand-tears", place_mm=at)) == Claim(Rule.JOINT) and "sand-tears" in FOLLOWS_LOCKS


def worked(name: str, draw: tuple[float, float, float]) -> Results:
    model = model_of(SHAPES[name](), name=name)
    job = edits.set_draw(with_model(Job(), model), draw).job
    return Pipeline().run(job, model, until=CORES)


@pytest.fixture(scope="module")
def bracket() -> Results:
    """Drawn so that its holes lie across."""
    return worked("bracket", (1.0, 0.0, 0.0))


def claims_of(results: Results) -> Claims:
    cores = results.need(CORES)
    return Claims(results.need(PARTING), cores.mesh, cores)


def test_small_round_holes_are_one_cause_however_many(bracket: Results) -> None:
    claims = claims_of(bracket)
    regions = bracket.need(PARTING).regions
    small = [k for k, one in enumerate(regions) if one.kind in (Kind.HOLE, Kind.BORE) and 0.0 < one.diameter_mm < 10.0]
    assert small, "the bracket has four holes of 8 mm"
    assert {claims.of(said("locked", region=k)) for k in small} == {Claim(Rule.HOLES)}


@pytest.mark.parametrize(("wide", "small"), [(11.9, True), (12.0, True), (14.0, False)])
def test_a_hole_counts_as_small_where_the_usual_filling_takes_it(wide: float, small: bool) -> None:
    """Else *fill and drill it* would do nothing: over the limit it is a wall to lean, as any other."""
    plate = M.cube([60, 40, 12]) - M.cylinder(30, wide / 2, wide / 2, 96).translate([30, 20, -5])
    model = model_of(plate)
    job = edits.set_draw(with_model(Job(), model), (0.0, 0.0, 1.0)).job
    results = Pipeline().run(job, model, until=CORES)
    (hole,) = (k for k, one in enumerate(results.need(PARTING).regions) if one.kind in (Kind.HOLE, Kind.BORE))
    assert claims_of(results).of(said("drags", region=hole)).rule is (Rule.HOLES if small else Rule.DRAFT)
    filled = Pipeline().run(add_line(job, Fill()).job, model, until=CORES).need(STOCK)
    assert (filled.added_mm3 > 1000.0) is small


def test_a_place_that_locks_is_an_undercut_and_one_that_drags_wants_draft() -> None:
    results = worked("bracket", (0.0, 0.0, 1.0))
    claims, regions = claims_of(results), results.need(PARTING).regions
    for k, one in enumerate(regions):
        claim = claims.of(said("place", region=k))
        if claim.rule is Rule.UNDERCUT:
            assert one.state is State.LOCKED
        elif claim.rule is Rule.DRAFT:
            assert one.state is State.TIGHT
        else:
            assert claim.rule in (Rule.HOLES, Rule.HOLLOW)
    assert {claims.of(said("place", region=k)).rule for k in range(len(regions))} >= {Rule.DRAFT}


def test_the_inside_of_a_mug_is_one_hollow_for_everything_said_of_it() -> None:
    results = worked("mug", (1.0, 0.0, 0.0))
    claims, cores = claims_of(results), results.need(CORES)
    (number,) = [k for k, one in enumerate(cores.offers) if one.openings == 1]
    claim = claims.of(said("locked", hollow=number))
    assert claim.rule is Rule.HOLLOW
    assert claims.of(said("slender-sand", place_mm=cores.offers[number].at_mm)) == claim


def test_a_hollow_wider_than_its_mouth_is_no_hole_to_drill() -> None:
    """A knob's inside, 48 mm wide behind a mouth of 10 mm, against a plain blind hole of 10 mm in the same place."""
    outer = [(0, 0), (9, 0), (9, 20), (27, 32), (30, 42), (27, 52), (16, 59), (0, 61)]
    knob = M.revolve(m3.CrossSection([np.array(outer, float)]), 64)
    belly = [(0, -1), (5, -1), (5, 22), (22, 36), (24, 42), (20, 50), (0, 56)]
    hollow = knob - M.revolve(m3.CrossSection([np.array(belly, float)]), 64)
    drilled = knob - M.cylinder(41, 5, 5, 64).translate([0, 0, -1])
    for solid, rule in ((hollow, Rule.HOLLOW), (drilled, Rule.HOLES)):
        model = model_of(solid, name="knob")
        job = edits.set_draw(with_model(Job(), model), (1.0, 0.0, 0.0)).job
        causes = Pipeline(light=True).run(job, model, skip=UNPOURED).causes
        assert causes is not None and causes.open[0].rule is rule
        assert ("fill" in {one.id for one in causes.open[0].remedies}) == (rule is Rule.HOLES)


def test_a_hollow_that_only_its_set_screw_locks_is_a_hole_to_drill() -> None:
    """One cause, and not a core as well for what is free once the hole is filled."""
    collar = M.cylinder(40, 25, 25, 96, True) - M.cylinder(80, 10, 10, 96, True)
    model = model_of(collar - M.cylinder(60, 2.5, 2.5, 48).rotate([-90, 0, 0]))
    job = edits.set_height(edits.set_draw(with_model(Job(), model), (0.0, 0.0, 1.0)).job, 0.0).job
    results = Pipeline().run(job, model, skip=UNPOURED)
    assert results.causes is not None
    assert Rule.HOLLOW not in {cause.rule for cause in results.causes.open}
    (hole,) = [cause for cause in results.causes.open if cause.rule is Rule.HOLES]
    assert hole.text.startswith("One hole") and "holds sand" in hole.text
