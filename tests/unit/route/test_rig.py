"""The mould as plain values."""

import json

import pytest

from pounce.route.results import Results
from pounce.route.rig import results_boards, rig_keys, rig_of, rig_papers, rig_summary
from pounce.route.stops import MOULD
from tests.worked import BEARING, BUSH, FRAME, demo


@pytest.mark.parametrize("stem", [BEARING, BUSH, FRAME])
def test_keys_hold_the_moulds_own_figures(stem: str) -> None:
    results, _ = demo(stem)
    rig = results.need(MOULD)
    keys = rig_keys(results)
    assert keys["schema"] == "pounce.rig/1"
    assert json.loads(json.dumps(keys)) == keys
    summary = rig_summary(results)
    assert summary is not None and summary["flask"] == rig.flask.id
    assert summary["inside_mm"] == [rig.flask.long_mm, rig.flask.wide_mm]
    assert keys["flask"]["id"] == rig.flask.id  # type: ignore[index, call-overload]
    assert len(keys["steps"]) == len(rig.steps)  # type: ignore[arg-type]
    mass = keys["mass_kg"]
    assert isinstance(mass, dict) and mass["total"] == pytest.approx(rig.weights.poured_kg)


def test_papers_go_with_the_mould() -> None:
    results, _ = demo(BEARING)
    names = [paper.file for paper in rig_papers(results)]
    assert names[0] == "mould-plan.pdf"
    assert ("flask-boards.csv" in names) == results_boards(results) == bool(results.need(MOULD).boards)


def test_without_a_mould_there_is_nothing() -> None:
    empty = Results(demo(BEARING)[0].job)
    assert rig_of(empty) is None and rig_summary(empty) is None and rig_papers(empty) == ()
    assert not results_boards(empty)
