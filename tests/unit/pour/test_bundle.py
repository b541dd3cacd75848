"""One file of the whole bench; own weights on the cope; the own pace of ramming."""

from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from pounce.base.errors import UserFault
from pounce.metals.melt import melt
from pounce.pour.bundle import export_bench, import_bench
from pounce.pour.pace import rammed_pace
from pounce.pour.things import Crucible, Things, own_things, weights_for, write_things
from pounce.pour.values import PourChoices, Step
from pounce.rig.flasks import Flask, own_flasks, write_flasks
from tests.unit.pour.made import pour_result

NOON = datetime(2026, 11, 30, 12, 0, tzinfo=UTC)


def test_a_whole_bench_is_carried_over(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    write_things(Things((Crucible("mine", "Mine", 1.5),), weights_kg=(7.0,)))
    write_flasks((Flask("shed", "Shed flask", "box", 300.0, 220.0, 75.0, 75.0, 4.0),))
    mine = own_things(), own_flasks()
    out = export_bench(tmp_path / "bench.json")
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "another"))
    assert (own_things(), own_flasks()) != mine
    import_bench(out)
    assert (own_things(), own_flasks()) == mine
    # a file that names only some leaves the rest
    (tmp_path / "part.json").write_text('{"things": {"weights_kg": [3.5]}}', encoding="utf-8")
    import_bench(tmp_path / "part.json")
    assert own_things().weights_kg == (3.5,) and own_things().crucibles == mine[0].crucibles
    for text, said in (("[]", "no bench"), ('{"schema": "other/1"}', "another kind"), ("{", "no bench")):
        (tmp_path / "bad.json").write_text(text, encoding="utf-8")
        with pytest.raises(UserFault, match=said):
            import_bench(tmp_path / "bad.json")
    with pytest.raises(UserFault, match="cannot be written"):
        export_bench(tmp_path / "no" / "folder" / "bench.json")


def test_the_fewest_own_weights_that_hold_the_cope_down() -> None:
    own = (2.5, 5.0, 5.0, 10.0, 10.0)
    assert weights_for(own, 9.0) == (10.0,) and weights_for(own, 12.0) == (10.0, 2.5)
    assert weights_for(own, 4.0) == (5.0,) and weights_for(own, 32.5) == (10.0, 10.0, 5.0, 5.0, 2.5)
    assert weights_for(own, 40.0) == () and weights_for((), 1.0) == ()
    with pytest.raises(UserFault, match="weights"):
        write_things(Things(weights_kg=(0.0,)))


def test_the_pace_of_ramming_is_what_was_really_done() -> None:
    besides = melt().work.ram_half.value
    steps = [one for one in pour_result().steps if one.litres > 0.0]
    assert [one.id for one in steps] == ["drag-1", "cope-1"]
    done = {one.id: (NOON, NOON + timedelta(minutes=besides + 1.1 * one.litres)) for one in steps}
    assert rammed_pace(pour_result().steps, done) == pytest.approx(1.1)
    # one that runs, and one only ticked off, tell nothing
    assert rammed_pace(steps, {"drag-1": (NOON, None), "cope-1": (NOON, NOON + timedelta(seconds=5))}) is None
    assert rammed_pace((Step("wait", "Wait", 5.0, ()),), {"wait": (NOON, NOON + timedelta(minutes=5))}) is None
    # taken, the plan follows it
    slow = pour_result(PourChoices(ram_min_l=1.6))
    usual = melt().work.ram_litre.value
    longer = sum(one.step.minutes for one in slow.placed) - sum(one.step.minutes for one in pour_result().placed)
    assert longer == pytest.approx((1.6 - usual) * sum(one.litres for one in steps))
