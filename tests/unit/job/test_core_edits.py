"""What becomes of hollows, and the figures of their cores."""

import pytest

from pounce.base.errors import UserFault
from pounce.cores.values import HOWS, HollowChoice
from pounce.job import core_edits as edits
from pounce.job.job import Job
from pounce.stock.values import Fill

AT, OFF = (1.0, 2.0, 3.0), (9.0, 9.0, 9.0)


@pytest.mark.parametrize("make", list(HOWS))
def test_a_hollow_is_decided_once(make: str) -> None:
    job = edits.set_hollow(Job(), AT, make).job
    assert [(one.at_mm, one.make) for one in job.cores.hollows] == [(AT, make)]
    assert (job.parting.loose == (AT,)) == (make == "loose")
    again = edits.set_hollow(edits.set_hollow(job, OFF, "core").job, AT, "core").job
    assert [one.at_mm for one in again.cores.hollows] == [AT, OFF]
    assert edits.set_hollow(job, AT, "").job.cores.hollows == ()


def test_another_way_keeps_its_figures() -> None:
    job = edits.change_at(edits.set_hollow(Job(), AT, "core").job, AT, side_mm=25.0).job
    back = edits.set_hollow(edits.set_hollow(job, AT, "sand").job, AT, "core").job
    assert back.cores.hollows[0].side_mm == 25.0


def test_filled_instead_it_is_a_line_of_stock() -> None:
    job = edits.fill_instead(edits.set_hollow(Job(), AT, "core").job, AT).job
    assert job.cores.hollows == () and job.stock.lines == (Fill(at_mm=AT),)


def test_figures_of_one_that_is_made_with_all_others() -> None:
    job = edits.set_cores(Job(), every=True).job
    assert edits.change_at(job, AT, box="half").job.cores.hollows == (HollowChoice(AT, box="half"),)


@pytest.mark.parametrize("changes", [{"side_mm": "long"}, {"box": "paper"}, {"make": "luck"}])
def test_values_that_cannot_be(changes: dict[str, object]) -> None:
    job = edits.set_hollow(Job(), AT, "core").job
    with pytest.raises(UserFault, match="cannot be set"):
        edits.change_hollow(job, 0, **changes)
    with pytest.raises(UserFault, match="no longer there"):
        edits.change_hollow(job, 1, side_mm=20.0)


def test_the_sand_of_all_cores() -> None:
    edit = edits.set_cores(Job(), mix="core-oil")
    assert edit.job.cores.mix == "core-oil" and edit.label == "Core sand"
    assert edits.set_cores(Job(), on_end=True).label == "Stand the mould on end"
    for changes in ({"mix": "honey"}, {"longest_mm": "long"}):
        with pytest.raises(UserFault):
            edits.set_cores(Job(), **changes)
    with pytest.raises(UserFault, match="no way to make a hollow"):
        edits.set_hollow(Job(), AT, "luck")
