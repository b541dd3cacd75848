"""The records of the stops: each whole, in an order that its needs allow, and told once."""

import inspect
from collections.abc import Callable

import pytest

from pounce.job import edits
from pounce.job.job import Job
from pounce.route.keys import keys
from pounce.route.results import Results, Stop
from pounce.route.stops import CORES, PART, ids, steps, stops
from tests.worked import BEARING, demo

# What changes the result of a stop that hangs on nothing but the job.
CHANGED: dict[str, Callable[[Job], Job]] = {"metal": lambda job: edits.set_mould(job, "oil-sand").job}


@pytest.mark.parametrize("stop", steps(), ids=lambda stop: stop.id)
def test_a_stop_stands_behind_all_that_it_needs(stop: Stop[object]) -> None:
    order = list(steps())
    at = order.index(stop)
    for need in (*stop.needs, *stop.keyed_by):
        assert order.index(need) < at, (stop.id, need.id)
    assert stop.version >= 1 and stop.title
    assert len(inspect.signature(stop.run).parameters) == 1


@pytest.mark.parametrize("stop", stops(), ids=lambda stop: stop.id)
def test_a_stop_of_the_route_has_a_view_findings_and_keys(stop: Stop[object]) -> None:
    results, model = demo(BEARING)
    assert stop.shown and ":" in stop.view
    module, _, name = stop.view.partition(":")
    assert module.startswith("pounce.bench.stops.") and name
    for finding in stop.findings(results):
        assert finding.code and finding.words()
    assert isinstance(stop.check(results, model), dict)
    if stop.keys is not None:
        found = stop.keys(results)
        assert str(found["schema"]).startswith("pounce.")


def test_ids_are_told_once_and_in_order() -> None:
    assert list(ids()) == [stop.id for stop in stops()]
    every = [stop.id for stop in steps()]
    assert len(every) == len(set(every)) and set(ids()) <= set(every)
    assert every[0] == PART.id


def test_a_key_hangs_on_all_that_a_result_is_made_of() -> None:
    """What a stop needs is in its key, or in the key of something that is."""
    for stop in steps():
        if stop.hangs_on_all:
            continue
        reached: set[str] = set()
        front = list(stop.keyed_by)
        while front:
            one = front.pop()
            if one.id not in reached:
                reached.add(one.id)
                front += list(one.keyed_by)
                if one.hangs_on_all:
                    reached |= {step.id for step in steps()[: steps().index(one)]}
        job = demo(BEARING)[0].job
        for need in stop.needs:  # or it reads itself what that is made of
            other = CHANGED.get(need.id)
            told = other is not None and keys(other(job))[stop.id] != keys(job)[stop.id]
            assert need.id in reached or told, (stop.id, need.id)


def test_no_result_no_findings() -> None:
    empty = Results(demo(BEARING)[0].job)
    for stop in stops():
        assert stop.findings(empty) == ()
    assert CORES.findings(empty) == ()
