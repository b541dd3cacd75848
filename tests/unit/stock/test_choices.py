"""The choices of Stock: what they take, and where their usual figures come from."""

import pytest

from pounce.base.errors import UserFault
from pounce.metals.tables import grades, limits, metals
from pounce.stock import choices
from pounce.stock.parse import parse_addition
from pounce.stock.values import StockChoices


def test_tolerances_are_the_grades_of_the_standard() -> None:
    """ISO 8062-3:2007 knows DCTG 1 to 16, formerly CT1 to CT16 (from memory); the table may hold those a caster
    uses.
    """
    options = choices.TOLERANCE.options()
    assert set(options) - {""} == set(grades()["tolerance"].grades)
    assert options[""] == "the sand's usual"
    assert all("ISO 8062" in name for key, name in options.items() if key)
    for grade in ("CT10", "CT13", "CT14"):  # named in the help
        assert grade in options and grade in choices.TOLERANCE.help


def test_the_other_metal_is_any_of_the_table_or_none() -> None:
    assert set(choices.OTHER_METAL.options()) == {"", *metals()}
    assert choices.OTHER_METAL.read("none") == ""


def test_stock_left_is_the_tables_and_within_its_range() -> None:
    figure = limits()["stock_left"]
    assert choices.LEFT.usual == figure.value == StockChoices().stock_left_mm
    assert choices.LEFT.source == figure.source
    assert choices.LEFT.low <= figure.low and figure.high <= choices.LEFT.high


@pytest.mark.parametrize("value", [-5.0, 0.0, 0.35, 5.0])
def test_a_printers_shrinkage_goes_either_way(value: float) -> None:
    assert choices.PRINT_SHRINK.checked(value) == value


@pytest.mark.parametrize("value", [-5.01, 7.0, float("nan"), float("inf")])
def test_but_not_everywhere(value: float) -> None:
    with pytest.raises(UserFault, match="cannot be used"):
        choices.PRINT_SHRINK.checked(value)


def test_every_form_that_the_help_shows_can_be_given() -> None:
    for form in choices.ADD.forms.split(", "):
        word = form.replace("X,Y,Z", "1,2,3").replace("DEG", "2").replace("[:F]", "").replace("[:R]", ":3")
        word = word.replace("WORDS", "A 1").replace("[:2]", ":2")
        assert parse_addition(word) is not None, word
