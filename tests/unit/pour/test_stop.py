"""The pour of a plain block: right metal, window, order, list and cautions, and what it says when something is
wrong.
"""

import itertools
from dataclasses import replace
from pathlib import Path

import msgspec
import pytest

from pounce.base.errors import UserFault
from pounce.base.finding import Severity
from pounce.feeding.values import FreezeChoices
from pounce.job import file
from pounce.job.changes import take_remedy
from pounce.job.job import Job
from pounce.metals.melt import melt
from pounce.metals.method import MethodChoices
from pounce.pour.things import Crucible, Furnace, Things, write_things
from pounce.pour.values import Kind, PourChoices, PourResult
from pounce.rig.values import RigChoices
from pounce.route.pour import pour_keys, pour_summary
from pounce.route.stops import FREEZE, METAL, MOULD, POUR
from tests.unit.pour.made import block, pour_result, results_of


def ids(made: PourResult) -> list[str]:
    return [one.step.id for one in made.placed]


def codes(made: PourResult) -> set[str]:
    return {one.code for one in made.findings}


def test_one_mould_of_aluminium() -> None:
    results = results_of(PourChoices())
    made, rig, heat = results.need(POUR), results.need(MOULD), results.need(FREEZE)
    assert made.poured_kg == pytest.approx(rig.weights.poured_kg) and made.fills == 1
    assert made.charged.kg > 1.1 * made.poured_kg
    # heat and pour are judged at one temperature
    assert made.first.mould.aim_c == heat.pour_c and made.first.at_c == heat.pour_c
    assert made.first.mould.low_c < made.first.mould.aim_c < made.lift_c < made.most_c
    assert made.open_min * 60.0 > heat.solid_s and not codes(made)
    order = ids(made)
    for earlier, later in (("temper", "drag-1"), ("drag-1", "cope-1"), ("cope-1", "draw-1"), ("close-1", "weight-1")):
        assert order.index(earlier) < order.index(later)
    assert order[-3:] == ["pour", "open", "shake"] and "core-mix" not in order
    assert made.before_min > made.furnace.melt_min and made.after_min > made.open_min
    # one pair of hands: no two of its steps at once
    hands = sorted((one.start, one.end) for one in made.placed if one.step.kind is Kind.HANDS)
    assert all(b[0] >= a[1] - 1e-6 for a, b in itertools.pairwise(hands))
    # nothing on the list is generic filler: no cores, no weight on the cope, no foam
    listed = {one.id for one in made.checks}
    assert {"charge", "tools", "floor", "way", "dress", "cup", "ingots", "near"} <= listed
    assert not listed & {"cores", "foam", "second", "clay", "refill", "pieces"}
    assert any("tablets" in one for one in made.cautions)  # of what the metal is treated with
    assert len(made.wrong) == 3 and any("damp" in one for one in made.cautions)
    assert not any("zinc" in one.lower() or "foam" in one.lower() for one in made.cautions)


def test_several_moulds_cool_as_they_are_poured() -> None:
    made = pour_result(PourChoices(moulds=4))
    at = [one.at_c for one in made.turns]
    assert at == sorted(at, reverse=True) and len(set(at)) == 4 and made.fills == 1
    assert made.turns[0].after_s == melt().group["light"].carry.value
    lid = pour_result(PourChoices(moulds=4, carried="lid"))
    assert lid.last.at_c > made.last.at_c and lid.lift_c < made.lift_c
    # three and more are told together
    assert "Ram the drag of all four moulds" in {one.step.text for one in made.placed}
    assert "drag-2" in ids(pour_result(PourChoices(moulds=2)))


def test_a_mould_in_two_goes_stops_the_plan_and_the_larger_crucible_cures_it() -> None:
    job, _ = block()
    pour = PourChoices(crucible="ladle")
    made = pour_result(pour, rig=RigChoices(count=2))
    (stop,) = [one for one in made.findings if one.severity is Severity.STOP]
    assert stop.code == "two-goes" and "cold shut" in stop.words("mm")
    cured = take_remedy(msgspec.structs.replace(job, pour=pour), stop.remedies[0]).job.pour
    assert cured.crucible not in ("", "ladle")
    assert "two-goes" not in codes(pour_result(cured, rig=RigChoices(count=2)))


def test_moulds_that_one_fill_does_not_hold_are_refilled() -> None:
    made = pour_result(PourChoices(moulds=6, crucible="half-litre"))
    assert made.fills > 1 and {one.fill for one in made.turns} == set(range(1, made.fills + 1))
    order = ids(made)
    assert order.index("pour") < order.index("melt-2") < order.index("pour-2") < order.index("open")
    assert "refill" in {one.id for one in made.checks}
    first = [turn for turn in made.turns if turn.after_s == made.first.after_s]
    assert len(first) == made.fills and all(one.mould.aim_c <= one.at_c <= one.mould.high_c for one in first)


def test_slow_moulds_get_cold_metal_and_it_says_so() -> None:
    made = pour_result(PourChoices(moulds=3, between_s=90.0))
    assert made.last.cold and "last-cold" in codes(made)
    (cold,) = [one for one in made.findings if one.code == "last-cold"]
    assert {one.id for one in cold.remedies} >= {"under-lid", "fewer-moulds"}
    far = pour_result(PourChoices(carry_s=120.0))
    assert "lift-hot" in codes(far) and far.lift_c > far.most_c


def test_a_mould_that_fills_only_over_the_metals_range_says_so() -> None:
    """The limit is the metal's own: it does not move with what the mould asks."""
    method = results_of(PourChoices()).need(METAL)
    hottest = method.metal.pouring.high
    made = pour_result(freeze=FreezeChoices(cells=80_000, pour_c=hottest + 40.0))
    assert {"over-range", "lift-hot"} <= codes(made)
    assert made.most_c == pour_result().most_c == hottest + melt().group["light"].lift_over.value


def test_own_readings_take_the_place_of_the_reckoning() -> None:
    made = pour_result(PourChoices(fall_from_c=760.0, fall_to_c=740.0, fall_s=60.0))
    slow = pour_result(PourChoices(fall_from_c=760.0, fall_to_c=755.0, fall_s=60.0))
    assert made.pot.own and made.pot.falls_k_min == pytest.approx(20.0, rel=0.3)
    assert slow.lift_c < made.lift_c
    with pytest.raises(UserFault, match="do not fall"):
        pour_result(PourChoices(fall_from_c=700.0, fall_to_c=740.0, fall_s=60.0))


def test_media_and_cores_have_steps_of_their_own() -> None:
    resin = pour_result(method=MethodChoices(mould="resin-sand"))
    order = ids(resin)
    assert order.index("mix-drag-1") < order.index("drag-1") < order.index("strip-drag-1") < order.index("mix-cope-1")
    assert {limit.first for limit in resin.limits} >= {"mix-drag-1", "mix-cope-1", "treat"} and "temper" not in order
    slow = pour_result(PourChoices(ram_min_l=9.0), method=MethodChoices(mould="resin-sand"))
    assert any(code.startswith("keeps-mix-") for code in codes(slow))
    foam = pour_result(method=MethodChoices(mould="loose-sand", pattern="foam-burned-out"))
    assert {"coat-1", "dry-1", "bury-1"} <= set(ids(foam)) and "draw-1" not in ids(foam)
    assert "foam" in {one.id for one in foam.checks} and "styrene" in " ".join(foam.cautions)
    clay = pour_result(method=MethodChoices(mould="fine-clay", metal="pewter"))
    assert "clay-1" in ids(clay) and "clay" in {one.id for one in clay.checks}
    assert any("lead" not in one.lower() for one in clay.cautions)


def test_own_things_are_used_and_missed(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    write_things(
        Things(
            (Crucible("only", "Only pot", 3.0),), (Furnace("cool", "Cool ring", "electric", 1.0, 0.5, hottest_c=400.0),)
        )
    )
    made = pour_result()
    assert made.pot.id == "only" and "furnace-cool" in codes(made)
    for bad, word in ((PourChoices(furnace="sun"), "furnace"), (PourChoices(ingot="pig"), "ingot")):
        with pytest.raises(UserFault, match=f"no {word}"):
            pour_result(bad)


def test_two_jobs_from_one_melt_are_poured_thinnest_first(tmp_path: Path) -> None:
    job, model = block()
    other = tmp_path / "other.pounce"
    file.save(other, msgspec.structs.replace(job, name="Thick one"), model, None)
    made = pour_result(PourChoices(jobs=(str(other),)))
    assert {one.mould.name for one in made.turns} == {"Block", "Thick one"}
    assert made.poured_kg == pytest.approx(2.0 * pour_result().poured_kg)
    file.save(
        other, msgspec.structs.replace(job, name="Iron one", method=MethodChoices(metal="grey-iron")), model, None
    )
    with pytest.raises(UserFault, match="another metal"):
        pour_result(PourChoices(jobs=(str(other),), charge="scrap"))
    other.unlink()
    with pytest.raises(UserFault, match="not where it was"):
        pour_result(PourChoices(jobs=(str(other),)))


def test_keys_say_the_same() -> None:
    results = results_of(PourChoices(moulds=2))
    made, keys = results.need(POUR), pour_keys(results)
    assert keys["schema"] == "pounce.pour/1" and keys["charge_kg"] == made.charged.kg
    assert keys["window_c"] == [made.first.mould.low_c, made.first.mould.high_c]
    assert keys["moulds_c"] == [one.at_c for one in made.turns] and keys["open_after_min"] == made.open_min
    steps = keys["steps"]
    assert isinstance(steps, list) and [one["id"] for one in steps] == ids(made)
    known = {one["id"] for one in steps}
    assert all(set(one["after"]) <= known for one in steps)
    summary = pour_summary(results)
    assert summary is not None and summary["lift_c"] == made.lift_c
    assert pour_summary(replace(results, found={})) is None
    assert Job().pour == PourChoices()
