"""Charts of many pours, what differs between two, and what one change would do."""

from datetime import UTC, datetime, timedelta

import msgspec
import pytest

from pounce.base.errors import UserFault
from pounce.feeding.changes import MoreGates
from pounce.job.changes import made
from pounce.job.log_edits import chosen_of, pair_word, revision_of
from pounce.logbook.compare import differs_of
from pounce.logbook.season import season_of
from pounce.logbook.values import Casting, Defect, Measure, Outcome, PairKind, Pour
from pounce.pour.run import Did, Reading, Run
from pounce.pour.values import PourChoices
from pounce.rig.values import RigChoices
from pounce.route import entry
from pounce.route.log import chosen, effects, ways_of
from tests.unit.logbook.made import BEGIN
from tests.unit.pour.made import block, results_of

NOW = datetime(2026, 9, 5, 14, 0, tzinfo=UTC)


def test_charts_hold_what_was_weighed_timed_and_seen() -> None:
    size = Measure("Length", 121.6, 120.4)
    sinks = (Defect("sink"), Defect("sink"))
    two = (Casting(1, kg=0.7, measures=(size,)), Casting(2, kg=0.7, defects=sinks))
    wrong = (Defect("lap", cause="two-goes"), Defect("fin", fault=False))
    timed = {"ram": 30.0, "melt": 40.0}
    pours = (
        Pour("b", BEGIN, "B", metal="gunmetal", mould="green-sand", poured_kg=2.0, minutes=timed, castings=two),
        Pour("a", BEGIN, "A", castings=(Casting(1, Outcome.SCRAP, defects=wrong),)),
    )
    made = season_of(pours)
    assert [one.name for one in made.metals] == ["Tin bronze, green sand"] or made.metals[0].name.endswith("green sand")
    assert made.metals[0].low is not None and made.metals[0].first == 0.8
    assert [(one.value, one.said) for one in made.yields] == [(pytest.approx(70.0), "70 %")]
    assert [(one.value, one.said) for one in made.times] == [(35.0, "35 min")] and made.times[0].name.endswith(", B")
    # a casting with two of a kind counts once, what is no fault not at all, a settled cause by its name
    assert {one.name: one.value for one in made.wrongs} == {"Sunk face": 1.0, "Poured in two goes": 1.0}
    assert season_of(()).metals == season_of(()).wrongs == ()


def test_an_entry_knows_what_the_card_and_the_meter_know() -> None:
    results = results_of(PourChoices(moulds=2))
    bare = entry.new_pour(results, Run("Block"), NOW)
    assert (bare.metal, bare.mould, bare.charge, bare.read_by, bare.poured_c) == (
        "aluminium-silicon",
        "green-sand",
        "ingot",
        "",
        None,
    )
    assert len(bare.castings) == 2 and bare.planned_c is not None and bare.at == NOW and bare.furnace_kw
    begun, ended = NOW - timedelta(minutes=4), NOW - timedelta(minutes=3)
    run = Run(
        "Block",
        {
            "melt": Did(NOW - timedelta(minutes=50), NOW, "Melt", NOW - timedelta(minutes=8)),
            "pour": Did(begun, ended, "Pour", ended),
            "open": Did(ended, ended, "Open"),
        },
        {},
        (
            Reading(NOW - timedelta(minutes=6), 762.0, "meter"),
            Reading(begun, 731.4, "meter"),
            Reading(NOW, 610.0, "meter"),
        ),
    )
    made = entry.new_pour(results, run, NOW)
    assert (made.at, made.poured_c, made.lift_c, made.read_by) == (begun, 731.0, 762.0, "meter")
    assert made.minutes == {"melt": 42.0, "pour": 1.0} and made.melt_min == 42.0
    assert made.revision == revision_of(results.job) and made.poured_kg == pytest.approx(bare.poured_kg)


def test_only_what_changes_a_casting_is_a_change() -> None:
    job, _ = block()
    assert chosen(job) == {}
    gates = msgspec.structs.replace(job, rig=RigChoices(gates=2), pour=PourChoices(at="15:30", furnace="kiln"))
    assert chosen(gates) == {"Mould: Gates to a casting": "2"}
    (one,) = differs_of(chosen(job), chosen(gates))
    assert (one.name, one.was, one.now) == ("Mould: Gates to a casting", "the usual", "2")
    assert revision_of(gates) != revision_of(job) == revision_of(msgspec.structs.replace(job, name="Other"))
    assert chosen_of(job, ()) == {}


def test_what_one_change_would_do_is_worked_out() -> None:
    job, _ = block()
    results = results_of(PourChoices())
    after = results_of(PourChoices(), rig=made(MoreGates(2), job).job.rig)
    done = {one.name: one for one in effects(results, after)}
    assert done["Speed in the gates"].was.endswith("m/s") and done["Fills of the crucible"].was == "one"
    assert any(one.differs for one in done.values())
    ways = ways_of(results)
    assert {"gate-speed", "thin-cool", "hot-tear"} <= set(ways) and ways["thin-cool"][1].startswith("Pour at ")


@pytest.mark.parametrize(
    ("call", "word", "why"),
    [
        (entry.with_casting, "1:good", "says no casting"),
        (entry.with_casting, "0:sound", "cannot be a casting"),
        (entry.with_defect, "1:rust", "nothing that is seen"),
        (entry.with_defect, "1:sink:nowhere", "nothing that is where"),
        (entry.with_defect, "x:sink", "says no defect"),
        (entry.left_out, "1:Length", "no measure"),
        (lambda pour, word: entry.with_fields(pour, [word]), "colour=red", "has no 'colour'"),
        (lambda pour, word: entry.with_fields(pour, [word]), "poured-c=hot", "cannot be kept"),
        (lambda pour, word: entry.with_fields(pour, [word]), "moisture-percent=60", "mud"),
        (lambda pour, word: entry.with_fields(pour, [word]), "poured-kg=-1", "cannot be"),
        (lambda pour, word: entry.with_measure(pour, word, (), 0.1), "Length", "says no measure"),
        (lambda pour, word: entry.with_measure(pour, word, (), 0.1), "Length=100", "no size 'Length'"),
        (lambda pour, word: entry.with_measure(pour, word, (), 0.1), "Length=100/140", "cannot be right"),
    ],
)
def test_words_that_say_nothing_are_one_sentence(call, word: str, why: str) -> None:  # noqa: ANN001
    with pytest.raises(UserFault, match=why):
        call(Pour("a", BEGIN, "j"), word)
    with pytest.raises(UserFault, match="is no date"):
        entry.utc("yesterday")


def test_words_of_an_entry_are_read() -> None:
    pour = entry.with_casting(Pour("a", BEGIN, "j"), "2:scrap:0.4")
    pour = entry.with_measure(pour, "2:Width=59.4/60.2x3@0.05", (), 0.1)
    pour = entry.with_defect(pour, "2:sink:thick:cut:1,2,3")
    pour = entry.with_fields(pour, ["core-dry=true", "sand-uses=4", "weather=dry, 12 C", "charge=scrap"])
    (casting,) = pour.castings
    assert (casting.number, casting.outcome, casting.kg) == (2, Outcome.SCRAP, 0.4)
    assert casting.measures[0] == Measure("Width", 60.2, 59.4, 59.4, repeats=3, resolution_mm=0.05, pattern_read=True)
    assert casting.defects[0].at_mm == (1.0, 2.0, 3.0)
    assert (pour.core_dry, pour.sand_uses, pour.weather, pour.charge) == (True, 4, "dry, 12 C", "scrap")
    assert entry.with_fields(pour, ["core-dry=none", "weather="]).weather == ""
    assert entry.left_out(pour, "2:Width").castings[0].measures[0].left_out
    assert entry.left_out(entry.left_out(pour, "2:Width"), "2:Width") == pour


def test_sizes_are_said_in_words() -> None:
    job, _ = block()
    pair = pair_word(job, "Boss=diameter:1,2,3").job.log.pairs[0]
    assert (pair.name, pair.kind, pair.a_mm) == ("Boss", PairKind.DIAMETER, (1.0, 2.0, 3.0))
    both = pair_word(pair_word(job, "Boss=diameter:1,2,3").job, "Across=faces:0,0,0:9,0,0").job
    assert len(both.log.pairs) == 2 and pair_word(both, "none").job.log.pairs == ()
    for word, why in (
        ("Boss", "says no size"),
        ("=faces:0,0,0:1,1,1", "says no size"),
        ("B=faces:0,0,0", "says no size"),
    ):
        with pytest.raises(UserFault, match=why):
            pair_word(job, word)
    with pytest.raises(UserFault, match="already"):
        pair_word(both, "Boss=diameter:1,2,3")
