"""The whole stop on a boss that stands on a plate: what wants feeding, what cures it, what choices change."""

from typing import Any

import manifold3d
import msgspec
import numpy as np
import pytest

from pounce.base.errors import UserFault
from pounce.base.finding import Finding
from pounce.base.progress import silent
from pounce.feeding.changes import MoreGates, PourAt, PourCool, SetFeeding
from pounce.feeding.mould import STANDING, mould_of
from pounce.feeding.naming import name_at
from pounce.feeding.values import FreezeChoices, FreezeResult
from pounce.job import edits, freeze_edits, rig_edits
from pounce.job.changes import made, take_remedy
from pounce.job.job import Job
from pounce.metals.tables import metal
from pounce.rig.hands import to_part
from pounce.rig.values import RigResult
from pounce.route.fed import fed
from pounce.route.freeze import freeze_keys, freeze_summary
from pounce.route.keys import keys
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import FREEZE, MOULD, PART, STOCK
from tests.conftest import box, model_of

LINE = Pipeline()
# Small parts on a coarse grid: the judgement is the same, and the suite is quick.
COARSE = FreezeChoices(cells=60_000)


def boss() -> manifold3d.Manifold:
    return box(110, 70, 8) + manifold3d.Manifold.cylinder(24.0, 11.0, 11.0, 48).translate([40.0, 35.0, 0.0])


def job_of(solid: manifold3d.Manifold, metal_id: str = "aluminium-silicon", **more: Any) -> tuple[Job, Any]:
    model = model_of(solid)
    job = edits.set_metal(with_model(Job(name="Bossed plate"), model), metal_id).job
    return msgspec.structs.replace(job, freeze=msgspec.structs.replace(COARSE, **more)), model


def worked(job: Job, model: Any) -> Results:
    return LINE.run(job, model, silent)


def codes(made: FreezeResult) -> list[str]:
    return [one.code for one in made.findings]


def said(made: FreezeResult, code: str) -> Finding:
    return next(one for one in made.findings if one.code == code)


@pytest.fixture(scope="module")
def bare() -> Results:
    return worked(*job_of(boss()))


def test_the_boss_wants_a_feeder_and_one_press_sets_what_was_proved(bare: Results) -> None:
    first = bare.need(FREEZE)
    place = first.wanting[0]
    assert place.name.startswith("the boss") and place.fed_by in ("gates", "") and place.lies in ("within", "opens")
    assert 0.0 < first.void_mm3[0] < first.void_mm3[1] and first.energy_error < 1e-4
    finding = said(first, "hollow-1")
    assert "sets last" in finding.words() and "may draw hollow" in finding.words()
    assert first.cure is not None and first.cure.proved and first.cure.runs <= 10
    remedy = finding.remedies[0]
    assert isinstance(remedy.change, SetFeeding) and isinstance(finding.remedies[1].change, PourCool)
    _, model = job_of(boss())
    after = fed(LINE, bare.job, model, silent)
    done, mould = after.need(FREEZE), after.need(MOULD)
    assert not done.wanting and done.void_mm3 == (0.0, 0.0) and all(one.holds for one in done.feeders)
    assert "feeder-1-holds" in codes(done)
    # the mould is really laid out with it, and pours more
    assert len(mould.feeders) == 1 and mould.weights.feeders_kg > 0.0
    assert mould.weights.poured_kg > bare.need(MOULD).weights.poured_kg
    assert mould.flask.cope_mm >= mould.feeders[0].foot_mm[2] + after.job.rig.feeders[0].high_mm
    assert any("feeder" in step.words() for step in mould.steps)
    assert take_remedy(bare.job, remedy).job.rig.feeders


def test_a_feeder_that_is_too_small_is_said_and_made_wider(bare: Results) -> None:
    job = freeze_edits.feeder_word(bare.job, "40,35,0:12:10:14").job
    _, model = job_of(boss())
    made = worked(job, model).need(FREEZE)
    short = said(made, "feeder-1-short")
    assert "before the" in short.words() and not made.feeders[0].holds
    cure = next(one.change for one in short.remedies if isinstance(one.change, SetFeeding))
    assert cure.feeders[0].wide_mm > 12.0


def test_the_other_school_takes_the_hole_and_says_its_price(bare: Results) -> None:
    job = made(PourCool(), bare.job).job
    cool = worked(job, job_of(boss())[1]).need(FREEZE)
    assert not cool.wanting and cool.cure is None
    assert "poured-cool" in codes(cool) and "may be hollow" in said(cool, "poured-cool").words()


def test_iron_and_pewter_say_why_they_want_none() -> None:
    for metal_id in ("grey-iron", "pewter"):
        found = worked(*job_of(boss(), metal_id)).need(FREEZE)
        assert found.reason and "feeds-itself" in codes(found) and not found.wanting


def test_a_measured_time_scales_every_second(bare: Results) -> None:
    job = freeze_edits.set_freeze(bare.job, "x", measured_s=2.0 * bare.need(FREEZE).solid_s).job
    slow = worked(job, job_of(boss())[1]).need(FREEZE)
    one = bare.need(FREEZE)
    assert slow.scaled == pytest.approx(2.0) and slow.solid_s == pytest.approx(2.0 * one.solid_s)
    assert slow.places[0].seconds == pytest.approx(2.0 * one.places[0].seconds)
    assert [name for name, _ in slow.order] == [name for name, _ in one.order]
    # sand that conducts better freezes it sooner
    quick = worked(freeze_edits.set_freeze(bare.job, "x", sand_conducts=2.0).job, job_of(boss())[1]).need(FREEZE)
    assert quick.solid_s < 0.8 * one.solid_s


def test_metal_too_cold_is_refused_and_metal_near_it_stops_short(bare: Results) -> None:
    cold = freeze_edits.set_freeze(bare.job, "x", pour_c=600.0).job
    results = worked(cold, job_of(boss())[1])
    assert "no longer liquid" in results.faults["freeze"].what and "hotter" in results.faults["freeze"].try_this
    thin = box(300, 60, 3) + box(20, 60, 20)
    job, model = job_of(thin)
    short = worked(freeze_edits.set_freeze(job, "x", pour_c=620.0).job, model).need(FREEZE)
    finding = said(short, "stops-short")
    assert short.fill.short and finding.severity == "stop" and short.fill.fills_c is not None
    assert short.fill.fills_c > 620.0
    changes = [one.change for one in finding.remedies]
    hot = next(one for one in changes if isinstance(one, PourAt))
    assert made(hot, job).job.freeze.pour_c == hot.pour_c and any(isinstance(one, MoreGates) for one in changes)
    full = worked(made(hot, job).job, model).need(FREEZE)
    assert not full.fill.short and "fills" in codes(full)


def test_places_go_from_mould_to_part_and_back(bare: Results) -> None:
    rig: RigResult = bare.need(MOULD)
    whole = mould_of(rig)
    high = whole.castings[0].vertices[int(np.argmax(whole.castings[0].vertices[:, 2]))]
    at = np.array(to_part(rig, rig.castings[0], high))
    box_of = bare.need(PART).mesh.bounds
    assert (at >= box_of[0] - 0.1).all() and (at <= box_of[1] + 0.1).all()
    assert np.linalg.det(STANDING) == pytest.approx(1.0) and (STANDING @ [1.0, 0.0, 0.0] == [0.0, 0.0, 1.0]).all()
    name = name_at(np.array([40.0, 35.0, 10.0]), bare.need(STOCK).features, box_of)
    assert name.startswith("the boss Ø 22")
    assert name_at(np.array([109.0, 2.0, 4.0]), (), box_of) in ("the right end", "the near end")


def test_the_keys_of_the_contract(bare: Results) -> None:
    keys = freeze_keys(bare)
    assert keys["schema"] == "pounce.freeze/1"
    assert set(keys) >= {
        "cells",
        "spacing_mm",
        "solid_s",
        "energy_error",
        "places",
        "feeders",
        "necks",
        "gates",
        "fill",
    }
    place = keys["places"][0]
    assert set(place) >= {"at_mm", "seconds", "volume_mm3", "fed_by", "in_stock"}
    assert set(keys["fill"]) >= {"seconds", "coldest_c", "short", "last"} and keys["fill"]["last"]
    summary = freeze_summary(bare)
    assert summary is not None and summary["wanting"] == len(bare.need(FREEZE).wanting)


@pytest.mark.parametrize(
    ("word", "says"),
    [
        ("here:20", "says no feeder"),
        ("1,2,3", "can be made"),
        ("1,2,3:0.2", "can be made"),
        ("1,2:20", "says no feeder"),
    ],
)
def test_words_of_a_feeder_that_make_no_sense_are_refused(word: str, says: str) -> None:
    with pytest.raises(UserFault, match=says):
        freeze_edits.feeder_word(Job(), word)
    with pytest.raises(UserFault, match="no chill"):
        freeze_edits.chill_word(Job(), word)


def test_feeders_and_chills_are_set_changed_and_taken_away() -> None:
    job = freeze_edits.feeder_word(Job(), "1,2,3:30").job
    job = freeze_edits.feeder_word(job, "4,5,6:40:30:50:sleeve").job
    job = freeze_edits.chill_word(job, "1,2,3:20:10").job
    one, two = job.rig.feeders
    assert one.high_mm == pytest.approx(36.0) and one.neck_mm < 30.0 and two.sleeve and two.neck_mm == 30.0
    job = freeze_edits.change_feeder(job, 0, wide_mm=34.0).job
    assert job.rig.feeders[0].wide_mm == 34.0
    assert freeze_edits.drop_feeder(job, 0).job.rig.feeders == (two,)
    assert freeze_edits.drop_chill(job, 0).job.rig.chills == ()
    assert freeze_edits.feeder_word(job, "none").job.rig.feeders == ()
    assert freeze_edits.feeder_word(job, "found").job == job


def test_a_feeder_that_no_metal_is_under_is_left_out_and_said(bare: Results) -> None:
    job = freeze_edits.feeder_word(bare.job, "-300,0,0:20").job
    results = worked(job, job_of(boss())[1])
    mould = results.need(MOULD)
    finding = next(one for one in mould.findings if one.code == "feeder-left-out")
    assert not mould.feeders and finding.remedies
    assert take_remedy(job, finding.remedies[0]).job.rig.feeders == ()


def test_a_mould_on_end_is_frozen_as_it_stands_and_shown_as_it_lies() -> None:
    bush = manifold3d.Manifold.cylinder(160.0, 20.0, 20.0, 48) - manifold3d.Manifold.cylinder(160.0, 9.0, 9.0, 48)
    job, model = job_of(bush)
    job = edits.set_draw(job, edits.parse_draw("+x")).job
    job = msgspec.structs.replace(job, cores=msgspec.structs.replace(job.cores, every=True, on_end=True))
    results = worked(job, model)
    mould = results.need(MOULD)
    assert mould.on_end
    made_ = results.need(FREEZE)
    low, step = made_.picture.cells.low, made_.picture.cells.step
    high = low + np.array(made_.picture.cells.shape[::-1]) * step
    assert high[0] - low[0] > 150.0  # it lies along the pins
    for place in made_.places:
        assert (np.array(place.at_mm) > low - step).all() and (np.array(place.at_mm) < high + step).all()


def test_every_metal_has_its_heat_and_pure_ones_agree_with_a_package() -> None:
    """mendeleev (from the package registry) carries heats of fusion and conductivities of the elements."""
    from mendeleev import element  # noqa: PLC0415  heavy, and only here

    from pounce.metals.heat import heat  # noqa: PLC0415
    from pounce.metals.tables import metals  # noqa: PLC0415

    assert set(heat().metal) == set(metals())
    for metal_id, symbol in (("aluminium", "Al"), ("copper", "Cu"), ("silver", "Ag")):
        one = element(symbol)
        told = float(one.fusion_heat) * 1e3 / float(one.atomic_weight)
        assert heat().metal[metal_id].latent.value == pytest.approx(told, rel=0.08)
    assert metal("copper").liquidus.value > 1000.0 and rig_edits.set_rig(Job(), "x").job == Job()


def test_iron_feeds_itself_only_with_carbon_enough_in_a_hard_mould() -> None:
    """Its swelling makes good what it shrinks: common practice from a carbon equivalent of about 4.1 on."""
    job, model = job_of(boss(), "grey-iron")
    lean = worked(freeze_edits.set_freeze(job, "x", carbon_pct=3.4).job, model).need(FREEZE)
    soft = worked(freeze_edits.set_freeze(job, "x", walls="soft").job, model).need(FREEZE)
    rich = worked(freeze_edits.set_freeze(job, "x", carbon_pct=4.3).job, model).need(FREEZE)
    assert rich.reason and not rich.wanting and "feeds-itself" in codes(rich)
    for one in (lean, soft):
        assert not one.reason and one.wanting and one.wanting[0].void_mm3[1] > 0.0
    assert soft.wanting[0].void_mm3[1] > lean.wanting[0].void_mm3[1]


def test_own_metal_changes_the_seconds(bare: Results) -> None:
    """More heat to give off takes longer, in nearly the square (Chvorinov)."""
    one, model = bare.need(FREEZE), job_of(boss())[1]
    hot = worked(freeze_edits.set_freeze(bare.job, "x", latent_kj_kg=500.0).job, model).need(FREEZE)
    assert hot.solid_s > 1.25 * one.solid_s
    slow = worked(freeze_edits.set_freeze(bare.job, "x", metal_conducts=20.0).job, model).need(FREEZE)
    assert slow.solid_s > one.solid_s


def test_a_compact_casting_wants_a_feeder_though_most_of_it_sets_together() -> None:
    """A cube is all last place: half of its metal sets hardly before its middle."""
    job, model = job_of(box(45, 45, 45))
    first = worked(job, model).need(FREEZE)
    assert first.wanting and first.cure is not None and first.cure.proved and first.cure.feeders
    assert first.wanting[0].seconds < 1.35 * first.middle_s
    # one on top would leave the gate no room: the metal runs in through it
    assert first.cure.feeders[0].gate
    after = fed(LINE, job, model, silent).need(FREEZE)
    assert not after.wanting and after.feeders and all(one.holds for one in after.feeders)


def test_a_quick_look_comes_first_and_names_the_same_place() -> None:
    """It is told to whoever looks, tries nothing, and is not kept."""
    job, model = job_of(boss(), cells=400_000)
    seen: list[tuple[str, str, object]] = []
    made = Pipeline().run(job, model, silent, early=lambda *early: seen.append(early)).need(FREEZE)
    (stop, key, rough), *more = seen
    assert (stop, key) == ("freeze", keys(job)["freeze"]) and not more and isinstance(rough, FreezeResult)
    assert rough.rough and not made.rough and rough.cells < 0.5 * made.cells
    assert rough.cure is None and all(not one.remedies for one in rough.findings if one.code.startswith("hollow"))
    assert rough.wanting[0].name == made.wanting[0].name
    assert rough.wanting[0].seconds == pytest.approx(made.wanting[0].seconds, rel=0.12)


def test_feeders_are_taken_to_a_former_that_the_bench_has(bare: Results) -> None:
    first = bare.need(FREEZE).cure
    assert first is not None
    wide = first.feeders[0].wide_mm
    model = job_of(boss())[1]
    own = freeze_edits.formers_word(bare.job, f"10, {wide + 3:g}, 90").job
    made_ = worked(own, model).need(FREEZE).cure
    assert made_ is not None and made_.feeders[0].wide_mm == wide + 3
    far = worked(freeze_edits.formers_word(bare.job, "90").job, model).need(FREEZE).cure
    assert far is not None and far.feeders[0].wide_mm == wide  # none near: one is printed
    assert freeze_edits.formers_word(own, "none").job.freeze.formers == ()
    for word in ("wide", "2,400"):
        with pytest.raises(UserFault, match="says no formers"):
            freeze_edits.formers_word(own, word)


def test_pouring_cool_with_feeders_set_is_said(bare: Results) -> None:
    job = freeze_edits.feeder_word(bare.job, "40,35,0:34:24:40").job
    cool = worked(made(PourCool(), job).job, job_of(boss())[1]).need(FREEZE)
    finding = next(one for one in cool.findings if one.code in ("cool-with-feeders", "poured-cool"))
    change = finding.remedies[0].change
    assert isinstance(change, SetFeeding) and not made(change, job).job.rig.feeders


def test_the_gates_slow_down_as_the_metal_rises_and_their_way_stays_open(bare: Results) -> None:
    """Under a head h - p in the end, h at first: Torricelli."""
    one, rig = bare.need(FREEZE), bare.need(MOULD)
    first, last = one.fill.gates_m_s
    assert rig.sprue is not None
    head = rig.sprue.high_mm + rig.sprue.cup_high_mm
    assert last / first == pytest.approx(((head - rig.up_mm) / head) ** 0.5)
    assert last <= rig.flow.gate_speed_m_s <= first
    for gate in one.gates:
        assert 0.0 < gate.way_s <= gate.seconds


def test_words_of_a_feeder_say_how_it_stands() -> None:
    job, _ = job_of(boss())
    one = freeze_edits.feeder_word(job, "40,35,24:34:24:40:sleeve:blind").job.rig.feeders[0]
    assert one.sleeve and not one.open and not one.gate and one.high_mm == 40.0
    other = freeze_edits.feeder_word(job, "110,35,4:30:gate").job.rig.feeders[0]
    assert other.gate and other.open and not other.sleeve
