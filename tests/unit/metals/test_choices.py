"""The choices of Metal: their usual values, what they list, and what they refuse."""

import pytest

from pounce.base.errors import UserFault
from pounce.metals import choices, tables
from pounce.metals.contraction import factor
from pounce.metals.method import MethodChoices


def test_each_lists_its_table() -> None:
    assert set(choices.METAL.options()) == set(choices.MASTER.options()) == set(tables.metals())
    assert set(choices.MOULD.options()) == set(tables.moulds())
    assert set(choices.PATTERN.options()) == set(tables.pattern_kinds())
    assert choices.METAL.options()["grey-iron"] == tables.metal("grey-iron").name


def test_usual_values_are_those_of_a_new_job() -> None:
    new = MethodChoices()
    assert (choices.METAL.usual, choices.MOULD.usual, choices.PATTERN.usual) == (new.metal, new.mould, new.pattern)
    assert choices.STATED.usual == new.stated


def test_both_statements_are_explained_by_what_they_do() -> None:
    assert set(choices.STATED.options()) == {"pattern", "casting"}
    assert factor(2.0, "pattern") == pytest.approx(100 / 98) and factor(2.0, "casting") == pytest.approx(1.02)
    assert "100/(100" in choices.STATED.help and "+ S)/100" in choices.STATED.help


@pytest.mark.parametrize(("row", "value"), [(choices.CONTRACTION, 10.1), (choices.DRAFT, 15.1), (choices.DRAFT, -0.1)])
def test_figures_outside_are_refused(row, value: float) -> None:  # type: ignore[no-untyped-def] # noqa: ANN001
    with pytest.raises(UserFault, match="cannot be used"):
        row.checked(value)


def test_the_range_holds_every_contraction_of_the_table() -> None:
    for metal in tables.metals().values():
        assert choices.CONTRACTION.low <= metal.contraction.low <= metal.contraction.high <= choices.CONTRACTION.high
