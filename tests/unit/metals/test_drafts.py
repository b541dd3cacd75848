"""The table of drafts: taller walls ask for less, inside for more, rough moulds for more; nothing drawn asks for
none.
"""

import itertools
import math

import pytest

from pounce.metals import tables
from pounce.metals.drafts import asked_deg, drafts, range_deg, rows_of

WOOD = tables.pattern_kind("wood")


def test_a_taller_wall_asks_for_no_more_and_an_inside_for_no_less() -> None:
    heights = [5.0, 15.0, 40.0, 80.0, 150.0, 400.0, 2000.0]
    for mould in tables.moulds():
        outside = [asked_deg(height, False, mould, 2.0) for height in heights]
        inside = [asked_deg(height, True, mould, 2.0) for height in heights]
        assert all(a >= b for a, b in itertools.pairwise(outside))
        assert all(a <= b for a, b in zip(outside, inside, strict=True))


def test_figures_are_quarters_of_a_degree_and_never_under_the_least() -> None:
    least = drafts().least.value
    for height in (1.0, 33.0, 700.0):
        for usual in (0.25, 1.0, 1.5, 3.0):
            found = asked_deg(height, False, "green-sand", usual)
            assert found >= least and (found == least or (4.0 * found) % 1.0 == pytest.approx(0.0))


def test_a_row_holds_up_to_and_with_its_height() -> None:
    row, following = drafts().height.rows[:2]
    at, over = (
        asked_deg(row.upto, False, "green-sand", drafts().height.base),
        asked_deg(row.upto + 0.5, False, "green-sand", drafts().height.base),
    )
    assert at == pytest.approx(row.deg * drafts().mould["green-sand"].value, abs=0.13)
    assert over == pytest.approx(following.deg * drafts().mould["green-sand"].value, abs=0.13)


@pytest.mark.parametrize(("deep", "across"), [(44.0, 6.5), (30.0, 4.0), (90.0, 12.0), (60.0, 3.0)])
def test_two_walls_of_a_slot_leave_sand_between_them(deep: float, across: float) -> None:
    """Together they take no more than their share of it, but where even the least lean does (common practice)."""
    table = drafts()
    found = asked_deg(deep, True, "green-sand", 2.0, across)
    assert found < asked_deg(deep, True, "green-sand", 2.0)
    taken = 2.0 * deep * math.tan(math.radians(found))
    assert taken <= table.slot.value * across + 1e-9 or found == table.least.value
    assert asked_deg(deep, True, "green-sand", 2.0, 20.0 * deep) == asked_deg(deep, True, "green-sand", 2.0)


def test_what_is_not_drawn_asks_for_no_draft() -> None:
    burned = tables.pattern_kind("foam-burned-out")
    assert range_deg("loose-sand", burned) == (0.0, 0.0)
    assert asked_deg(10.0, True, "loose-sand", 0.0) == 0.0


def test_the_range_spans_the_rows_and_the_rows_all_heights() -> None:
    low, high = range_deg("green-sand", WOOD)
    rows = rows_of("green-sand", WOOD)
    assert low == min(min(out, inner) for _, out, inner in rows)
    assert high == max(max(out, inner) for _, out, inner in rows)
    assert len(rows) == len(drafts().height.rows) + 1
    assert rows[0][0].startswith("up to") and rows[-1][0].startswith("over")
