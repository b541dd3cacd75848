"""The pipeline over the stops: what is run, what is kept, what is told of progress, and how faults and cancelling
pass through.
"""

import itertools

import pytest

from pounce.base.errors import Cancelled, UserFault
from pounce.job import edits
from pounce.job.core_edits import set_cores
from pounce.job.job import Job
from pounce.route.keys import keys
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results, stop_keys, there
from pounce.route.stops import CORES, DRAW, METAL, PART, PARTING, PATTERN, STOCK, STOPS, steps, stop_of
from tests.conftest import box, model_of

BLOCK = model_of(box(60, 40, 20))


def test_without_a_model_only_metal_is_worked() -> None:
    results = Pipeline().run(Job(), None)
    assert set(results.found) == {"metal"} and not results.faults
    with pytest.raises(UserFault, match="not worked out yet"):
        results.need(PART)
    with pytest.raises(UserFault, match="not worked out yet"):
        there(results.part)


def test_until_stops_there_and_nothing_is_worked_twice() -> None:
    line, seen = Pipeline(), []
    first = line.run(Job(), BLOCK, watch=lambda stop, _key, _result, _fault: seen.append(stop), until=PARTING)
    assert list(first.found) == ["part", "metal", "draw", "parting"] == seen
    again = line.run(Job(), BLOCK)
    assert again.need(DRAW) is first.need(DRAW) and list(again.found) == [one.id for one in steps()]
    # another metal leaves part, draw and joint as they are
    iron = line.run(edits.set_metal(Job(), "grey-iron").job, BLOCK)
    assert iron.need(PARTING) is first.need(PARTING) and iron.need(STOCK) is not again.need(STOCK)
    assert line.known(Job()).need(PATTERN) is again.need(PATTERN)


def test_keys_hang_on_what_each_stop_reads() -> None:
    base = keys(Job())

    def changed(job: Job) -> set[str]:
        return {name for name, key in keys(job).items() if key != base[name]}

    after = {
        "cores",
        "setting",
        "pattern",
        "rammed",
        "rammed-draw",
        "rammed-parting",
        "proof",
        "mould",
        "freeze",
        "pour",
        "logbook",
        "causes",
    }
    assert changed(edits.set_metal(Job(), "grey-iron").job) == {"metal", "hollows", "stock", *after}
    assert changed(edits.set_height(Job(), 3.0).job) == {"parting", "hollows", "stock", *after}
    assert changed(edits.set_dowels(Job(), "none").job) == {"pattern", "logbook", "causes"}
    assert changed(edits.set_draft(Job(), 3.0).job) == {"metal", "parting", "hollows", "stock", *after}
    assert changed(set_cores(Job(), every=True).job) == {"hollows", "stock", *after}
    assert changed(set_cores(Job(), longest_mm=99.0).job) == after
    assert changed(edits.set_scale(Job(), 1.0).job) == {"logbook", "causes"}
    assert changed(edits.rename(Job(), "Other").job) == {"logbook", "causes"}


def test_a_fault_leaves_out_what_needs_it_and_is_raised_by_it() -> None:
    job = edits.set_height(Job(), 500.0).job
    told = []
    results = Pipeline().run(job, BLOCK, watch=lambda stop, _key, _result, fault: told.append((stop, fault)))
    assert set(results.faults) == {"parting"} and set(results.found) == {"part", "metal", "draw", "logbook"}
    assert next(fault for stop, fault in told if stop == "parting") is results.faults["parting"]
    for stop in (PARTING, STOCK, PATTERN):
        with pytest.raises(UserFault, match="misses the part"):
            results.need(stop)
    assert results.get(STOCK) is None and STOCK.findings(results) == ()


def test_progress_never_goes_back_and_is_shared_by_what_stops_took() -> None:
    line, at = Pipeline(), []
    line.run(Job(), BLOCK, progress=lambda share, _text: at.append(share))
    assert all(b >= a - 1e-12 for a, b in itertools.pairwise(at))
    assert at[-1] == pytest.approx(1.0) and set(line.took) >= {"draw", "stock", "pattern"}
    shares = line._shares(list(steps()))
    assert shares["part"][0] == 0.0 and shares["causes"][1] == pytest.approx(1.0)
    whole = sum(line.took[stop.id] for stop in steps())
    assert shares["draw"][1] - shares["draw"][0] == pytest.approx(line.took["draw"] / whole)


def test_cancelling_passes_through_and_keeps_what_was_done() -> None:
    line = Pipeline()

    def cancel(_share: float, _text: str) -> None:
        if line.holds(keys(Job())["draw"]):
            raise Cancelled

    with pytest.raises(Cancelled):
        line.run(Job(), BLOCK, progress=cancel)
    assert line.holds(keys(Job())["draw"]) and not line.holds(keys(Job())["pattern"])


def test_records_say_their_parts_of_a_check() -> None:
    results = Pipeline().run(Job(), BLOCK)
    said = {key for stop in STOPS for key in stop.check(results, BLOCK)}
    assert {"part", "metal", "draw", "parting", "stock", "cores", "make", "faces", "trial", "sand_round_mm"} <= said
    assert stop_of("cores") is CORES and stop_of("metal") is METAL
    with pytest.raises(KeyError):
        stop_of("nothing")
    content = stop_keys(CORES, results)
    assert next(iter(content)) == "schema" and list(content)[-1] == "findings"
    with pytest.raises(UserFault):
        stop_keys(CORES, Results(Job()))
