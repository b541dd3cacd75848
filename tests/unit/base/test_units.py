"""Units at the doors: factors by definition, and figures as a reader sees them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from pounce.base import units

NB = "\u00a0"


@given(st.floats(-1e6, 1e6), st.sampled_from(sorted(units.MM_PER)))
def test_there_and_back_is_the_same_length(value: float, unit: str) -> None:
    assert units.from_mm(units.to_mm(value, unit), unit) == pytest.approx(value, rel=1e-12, abs=1e-12)


def test_the_inch_is_25_4_mm() -> None:
    """The international inch, 1959, by definition."""
    assert units.to_mm(1.0, "in") == 25.4
    with pytest.raises(KeyError):
        units.to_mm(1.0, "ell")


@pytest.mark.parametrize(
    ("value", "digits", "said"),
    [(1.0, 2, "1"), (1.25, 1, "1.2"), (-0.001, 2, "0"), (0.0, 0, "0"), (100.0, 0, "100"), (0.105, 3, "0.105")],
)
def test_figures_carry_no_needless_noughts_and_no_minus_nought(value: float, digits: int, said: str) -> None:
    assert units.plain(value, digits) == said


def test_small_lengths_keep_the_digits_that_tell() -> None:
    assert units.length(0.15) == f"0.15{NB}mm"
    assert units.length(0.052) == f"0.052{NB}mm"
    assert units.length(12.34) == f"12.3{NB}mm"
    assert units.length(25.4, "in") == f"1{NB}in"
    assert units.length(0.254, "in") == f"0.01{NB}in"


def test_a_length_is_not_said_to_be_under_a_limit_that_reads_the_same() -> None:
    """3.98 reads 4.0 as the limit does."""
    assert not units.less_as_shown(3.98, 4.0)
    assert units.less_as_shown(3.94, 4.0)


@pytest.mark.parametrize(
    ("key", "value", "said"),
    [
        ("depth_mm", 3.0, f"3{NB}mm"),
        ("cut_fine_mm", 0.1234, f"0.123{NB}mm"),
        ("area_mm2", 1234.0, f"12.3{NB}cm²"),
        ("gas_mm3", 250_000.0, f"250{NB}cm³"),
        ("least_draft_deg", 1.25, "1.25°"),
        ("moisture_percent", 8.0, f"8{NB}%"),
        ("lift_n", 12.34, f"12.3{NB}N"),
        ("lift_n", 123.4, f"123{NB}N"),
        ("pressure_kpa", 2.06, f"2.1{NB}kPa"),
        ("stress_mpa", 0.0512, f"0.051{NB}MPa"),
        ("all_hours", 1.5, f"1{NB}h{NB}30"),
        ("all_hours", 0.25, f"15{NB}min"),
        ("stuff_litres", 0.25, f"0.2{NB}l"),
        ("slender_ratio", 12.0, "12"),
        ("stuff_kg", 0.05, f"50.0{NB}g"),
        ("stuff_kg", 2500.0, f"2.5{NB}t"),
        ("holes", 3.0, "3"),
    ],
)
def test_a_figure_is_said_by_the_unit_its_key_ends_in(key: str, value: float, said: str) -> None:
    assert units.quantity(key, value) == said


def test_areas_and_volumes_in_inches() -> None:
    """One square inch is 645.16 mm2, one cubic inch 16387.064 mm3, exactly."""
    assert units.area(645.16 * 3.0, "in") == f"3.0{NB}sq in"
    assert units.volume(16387.064 * 2.0, "in") == f"2.0{NB}cu in"
    assert units.area(0.0) == f"0{NB}cm²"
