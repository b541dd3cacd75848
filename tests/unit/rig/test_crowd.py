"""Thin castings that share one pour: so many fill, one more stops short (coins in pewter, common practice)."""

import manifold3d as m3
import pytest

from pounce.base.finding import Severity
from pounce.job.changes import made, take_remedy
from pounce.job.rig_edits import set_count
from pounce.rig.changes import FewerCastings
from pounce.rig.values import RigChoices, RigResult
from pounce.route.results import Results
from tests.conftest import box
from tests.unit.rig.helpers import mould_of, worked

M = m3.Manifold


@pytest.fixture(scope="module")
def coin() -> Results:
    """A medal of 50 by 2.5 in pewter."""
    return worked(M.cylinder(2.5, 25, 24.5, 64), "pewter")


def short(mould: RigResult) -> list[float]:
    return [one.figures["short_mm3"] for one in mould.findings if one.code == "stops-short"]


def test_eight_stop_short_where_fewer_fill(coin: Results) -> None:
    eight = mould_of(coin, RigChoices(count=8))
    (found,) = [one for one in eight.findings if one.code == "stops-short"]
    assert found.severity is Severity.STOP and "Eight castings share the metal" in found.words()
    change = found.remedies[0].change
    assert isinstance(change, FewerCastings) and 1 <= change.count < 8
    job = take_remedy(set_count(coin.job, 8).job, found.remedies[0]).job
    assert job.rig.count == change.count and job == made(change, set_count(coin.job, 8).job).job
    assert short(mould_of(coin, RigChoices(count=change.count))) == []
    # one more than that does not fill, and more of each is left the more there are
    more = [sum(short(mould_of(coin, RigChoices(count=n)))) for n in (change.count + 1, 8)]
    assert 0.0 < more[0] <= more[1]


def test_one_alone_and_thick_ones_are_not_asked(coin: Results) -> None:
    assert short(mould_of(coin, RigChoices(count=1))) == []
    assert short(mould_of(worked(box(40, 30, 20)), RigChoices(count=4))) == []


@pytest.mark.parametrize("thick", [1.5, 2.0])
def test_a_coin_thinner_than_the_thinnest_gate_takes_one_of_its_own_wall(thick: float) -> None:
    mould = mould_of(worked(M.cylinder(thick, 25, 24.8, 64), "pewter"))
    assert mould.gates
    for gate in mould.gates:
        assert gate.thick_mm == pytest.approx(0.8 * thick, abs=0.06)
        assert gate.wide_mm >= 2.0 * gate.thick_mm
