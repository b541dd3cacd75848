"""Lines of Stock added, changed, moved and dropped."""

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from pounce.base.errors import UserFault
from pounce.job import stock_edits as edits
from pounce.job.job import Job
from pounce.stock.values import (
    FREE_ORDER,
    ORDER,
    Addition,
    Camber,
    Draft,
    Fill,
    Fillets,
    Finish,
    Lettering,
    Level,
    Machining,
    line_kind,
)

AT = (1.0, 2.0, 3.0)
KINDS: tuple[Addition, ...] = (
    Machining(AT),
    Fill(AT),
    Draft(),
    Fillets(),
    Lettering("A", AT),
    Level(AT),
    Camber(toward="+z"),
    Finish(),
)


@given(st.lists(st.sampled_from(KINDS), max_size=10))
def test_lines_stand_in_the_order_that_works_whatever_comes_first(lines: list[Addition]) -> None:
    job = Job()
    for line in lines:
        job = edits.add_line(job, line).job
    ranks = [ORDER[line_kind(line)] for line in job.stock.lines]
    assert ranks == sorted(ranks) and sorted(map(repr, job.stock.lines)) == sorted(map(repr, lines))


def test_of_one_kind_the_later_stands_behind() -> None:
    job = edits.add_line(edits.add_line(Job(), Fill(AT)).job, Fill((9.0, 9.0, 9.0))).job
    assert job.stock.lines == (Fill(AT), Fill((9.0, 9.0, 9.0)))


def test_a_line_is_changed_switched_and_dropped() -> None:
    job = edits.add_line(edits.add_line(Job(), Draft(1.5)).job, Fillets(3.0)).job
    assert edits.change_line(job, 0, degrees=2.5, how="half").job.stock.lines[0] == Draft(2.5, "half")
    off = edits.switch_line(job, 1, False)
    assert not off.job.stock.lines[1].on and off.label == "Leave out fillets"
    assert edits.switch_line(off.job, 1, True).job == job
    assert edits.drop_line(job, 0).job.stock.lines == (Fillets(3.0),)
    for index in (-1, 2):
        with pytest.raises(UserFault, match="no longer there"):
            edits.change_line(job, index, on=False)
    for changes in ({"how": "sideways"}, {"degrees": "two"}):
        with pytest.raises(UserFault, match="cannot be set"):
            edits.change_line(job, 0, **changes)


@pytest.mark.parametrize(("one", "two"), list(itertools.permutations(KINDS, 2)))
def test_only_those_change_places_whose_order_is_the_users(one: Addition, two: Addition) -> None:
    job = edits.add_line(edits.add_line(Job(), one).job, two).job
    first, second = (line_kind(line) for line in job.stock.lines)
    free = first in FREE_ORDER and second in FREE_ORDER
    assert edits.may_move(job, 0, 1) == edits.may_move(job, 1, -1) == free
    assert not edits.may_move(job, 0, -1) and not edits.may_move(job, 1, 1)
    if free:
        moved = edits.move_line(job, 0, 1).job
        assert moved.stock.lines == job.stock.lines[::-1]
        assert edits.move_line(moved, 1, -1).job == job
    else:
        with pytest.raises(UserFault, match="one order that works"):
            edits.move_line(job, 0, 1)


def test_contraction_along_an_axis() -> None:
    job = edits.set_axis(edits.set_axis(Job(), "y", hindered="core").job, "y", bed_percent=0.3).job
    assert (job.stock.axes[1].hindered, job.stock.axes[1].bed_percent) == ("core", 0.3)
    assert job.stock.axes[0] == job.stock.axes[2] == Job().stock.axes[0]
    with pytest.raises(UserFault):
        edits.set_axis(job, "x", hindered="mood")


def test_the_tables_choices() -> None:
    assert edits.set_stock(Job(), spin_axis="x").job.stock.spin_axis == "x"
    for changes in ({"other_metal": "cheese"}, {"spin_axis": "w"}):
        with pytest.raises(UserFault):
            edits.set_stock(Job(), **changes)


def test_a_wall_is_tapered_alone_unless_all_are() -> None:
    job = edits.taper_at(Job(), AT).job
    assert job.stock.lines == (Draft(only=(AT,)),)
    assert edits.taper_at(job, AT).job == job
    two = edits.taper_at(job, (4.0, 5.0, 6.0)).job
    assert len(two.stock.lines) == 1 and len(two.stock.lines[0].only) == 2  # type: ignore[union-attr]
    with pytest.raises(UserFault, match="every wall its draft already"):
        edits.taper_at(edits.add_line(Job(), Draft()).job, AT)
    assert edits.nothing_at(two, AT).job.stock.lines == (Draft(only=((4.0, 5.0, 6.0),)),)
    assert edits.nothing_at(job, AT).job.stock.lines == ()


def test_what_is_no_machining_is_said() -> None:
    job = edits.add_line(edits.add_line(Job(), Draft()).job, Machining(AT)).job
    assert edits.machining_at(job, 0) == Machining(AT)
    with pytest.raises(UserFault, match="no machining stock"):
        edits.machining_at(job, 1)
