"""How the search for feeders and chills goes on from one run to the next."""

import numpy as np
import pytest

from pounce.feeding import cures
from pounce.feeding.cures import _idle, _More, _more, _Search
from pounce.freeze.heats import Poured
from pounce.freeze.spots import Spot
from pounce.freeze.values import Mould, Round
from tests.conftest import box, mesh_of


def spot(x: float, liquid: float = 1000.0) -> Spot:
    return Spot((x, 0.0, 0.0), 10.0, 5.0, liquid, 0, None, 1)


def search() -> _Search:
    return _Search(None, None, None, 40.0, 2.0, [], [], [], [], None)  # type: ignore[arg-type]


def goes(monkeypatch: pytest.MonkeyPatch, answers: list[_More]) -> tuple[int, list[float]]:
    """How many places were looked at, and which were given up."""
    asked: list[Spot] = []

    def another(_search: _Search, _made: object, one: Spot) -> _More:
        asked.append(one)
        return answers[len(asked) - 1]

    monkeypatch.setattr(cures, "_another", another)
    own = search()
    _more(own, None, [spot(100.0 * k) for k in range(len(answers))])  # type: ignore[arg-type]
    return len(asked), [float(one[0]) for one in own.given_up]


def test_chills_are_laid_together_and_feeders_one_at_a_time(monkeypatch: pytest.MonkeyPatch) -> None:
    feed, chill, nothing = _More.FEED, _More.CHILL, _More.NOTHING
    assert goes(monkeypatch, [feed, chill]) == (1, [])
    assert goes(monkeypatch, [chill, chill, feed, chill]) == (3, [])
    # what is at the end of its means is left, unless something was laid that may help it yet
    assert goes(monkeypatch, [nothing, chill, nothing]) == (3, [0.0])


def test_a_feeder_that_fed_nothing_is_told_from_one_that_did() -> None:
    own, at = search(), (0.0, 0.0)
    own.rounds.append(Round((*at, 5.0), 20.0, 24.0, 12.0, 2.0, True, 0.0))
    own.fed.append((spot(0.0, 1000.0), at))
    assert _idle(own, spot(3.0, 990.0)) == [at]
    assert not _idle(own, spot(3.0, 500.0))  # it feeds, though not enough
    assert not _idle(own, spot(50.0, 990.0))  # another place


def test_metal_for_nothing_is_taken_back_when_a_chill_is_laid(monkeypatch: pytest.MonkeyPatch) -> None:
    own = search()
    own.rounds.append(Round((0.0, 0.0, 5.0), 20.0, 24.0, 12.0, 2.0, True, 0.0))
    own.fed.append((spot(0.0), own.rounds[0].on_mm))
    monkeypatch.setattr(cures, "_under", lambda _one, _spot: False)
    monkeypatch.setattr(cures, "_feeder_for", lambda *_: pytest.fail("a second feeder was asked for"))
    monkeypatch.setattr(cures, "_chill_for", lambda *_: None)
    assert cures._another(own, None, spot(0.0)) is _More.NOTHING and len(own.rounds) == 1  # type: ignore[arg-type]
    monkeypatch.setattr(cures, "_chill_for", lambda *_: np.zeros(3))
    keeps = Round((70.0, 0.0, 5.0), 20.0, 24.0, 12.0, 2.0, True, 0.0)
    own.rounds.append(keeps)
    numbered: list[int] = []
    another = cures._another

    def counted(own: _Search, made: object, one: Spot) -> _More:
        numbered.append(len(own.rounds))
        return another(own, made, one)  # type: ignore[arg-type]

    monkeypatch.setattr(cures, "_another", counted)
    own.fed.append((spot(100.0), (300.0, 0.0)))
    _more(own, None, [spot(0.0), spot(100.0)])  # type: ignore[arg-type]
    # not before all places are looked at, for the grid knows feeders by their number
    assert numbered == [2, 2] and own.rounds == [keeps] and len(own.chills) == 2


def test_a_place_told_by_the_whole_mould_is_seen_to_though_the_casting_alone_hardly_shows_it(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    casting = mesh_of(box(60.0, 40.0, 20.0))
    mould = Mould((casting,), None, (), (), (), 60.0, (80.0, 60.0), 40.0, tight=True)
    laid: list[Spot] = []

    def run(own: _Search) -> None:
        own.runs += 1

    def more(own: _Search, _made: object, left: list[Spot]) -> None:
        laid.extend(left)
        own.rounds.append(Round((0.0, 0.0, 5.0), 20.0, 24.0, 12.0, 2.0, True, 0.0))

    monkeypatch.setattr(_Search, "run", run)
    monkeypatch.setattr(cures, "counted", lambda _made, _law: ((), 0.0))
    monkeypatch.setattr(cures, "_too_short", lambda *_: {})
    monkeypatch.setattr(cures, "_trimmed", lambda *_: False)
    monkeypatch.setattr(cures, "_more", more)
    poured = Poured("aluminium-silicon", "green-sand", 735.0)
    found = cures.cured(mould, poured, None, lambda _share: None, told=(spot(0.0),))  # type: ignore[arg-type]
    assert laid == [spot(0.0)] and found.proved and found.runs == 2 and len(found.rounds) == 1
    # what is machined away needs none
    laid.clear()
    found = cures.cured(
        mould,
        poured,
        None,
        lambda _share: None,
        spared=((0.0, 0.0, 0.0),),
        told=(spot(0.0),),  # type: ignore[arg-type]
    )
    assert not laid and found.runs == 1 and not found.rounds
