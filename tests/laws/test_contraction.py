"""The arithmetic of contraction, and the tables against a reference library."""

import mendeleev
import pytest
from hypothesis import given
from hypothesis import strategies as st

from pounce.base.errors import UserFault
from pounce.metals import contraction, tables
from pounce.metals.method import MethodChoices, resolve


@pytest.mark.parametrize(
    ("rule", "percent"), [("1/8", 1.0417), ("5/32", 1.3021), ("3/16", 1.5625), ("1/4", 2.0833), ("5/16", 2.6042)]
)
def test_old_rules_are_arithmetic(rule: str, percent: float) -> None:
    """Inch in a foot: common practice; the per cent is arithmetic."""
    assert contraction.rule_percent(rule) == pytest.approx(percent, abs=5e-5)
    assert contraction.nearest_rule(1.0 + percent / 100.0)[0] == rule


def test_stated_on_casting_and_on_pattern() -> None:
    """100 mm wanted at 1 %: 101 when stated on the casting, 101.0101 when stated on the pattern."""
    assert 100 * contraction.factor(1.0) == pytest.approx(101.0)
    assert 100 * contraction.factor(1.0, "pattern") == pytest.approx(101.010101, abs=1e-6)


def test_practice_long_foam_pattern() -> None:
    """Common practice: an aluminium casting from an 1810 mm pattern measured 1790 mm, inside the table's range."""
    seen = contraction.percent(1810 / 1790)
    low, high = tables.metal("aluminium-silicon").contraction.low, tables.metal("aluminium-silicon").contraction.high
    assert low < seen < high


def test_a_metal_pattern_carries_both_contractions() -> None:
    method = resolve(MethodChoices(metal="grey-iron", pattern="metal-from-master", master_metal="aluminium-silicon"))
    assert method.factor == pytest.approx(1.010 * 1.012)


@given(st.floats(0.0, 10.0), st.sampled_from(["casting", "pattern"]))
def test_factor_and_percent_are_inverse(value: float, stated: contraction.Stated) -> None:
    assert contraction.percent(contraction.factor(value, stated), stated) == pytest.approx(value, abs=1e-9)
    other: contraction.Stated = "pattern" if stated == "casting" else "casting"
    if value <= 9.0:
        again = contraction.restate(contraction.restate(value, stated, other), other, stated)
        assert again == pytest.approx(value, abs=1e-9)


@pytest.mark.parametrize("value", [-0.1, 10.1, float("nan")])
def test_impossible_contractions_are_refused(value: float) -> None:
    with pytest.raises(UserFault, match="outside 0 to 10"):
        contraction.factor(value)


@pytest.mark.parametrize(("metal", "symbol"), [("aluminium", "Al"), ("copper", "Cu"), ("silver", "Ag")])
def test_pure_metals_agree_with_the_mendeleev_package(metal: str, symbol: str) -> None:
    """Package `mendeleev`: density within 1 % and melting point within 5 K of the table's liquidus."""
    element = mendeleev.element(symbol)
    table = tables.metal(metal)
    assert table.density.value == pytest.approx(element.density * 1000.0, rel=0.01)
    assert table.liquidus.value + 273.15 == pytest.approx(element.melting_point, abs=5.0)


def test_every_figure_is_in_range_and_has_a_source() -> None:
    figures = [
        (name, figure)
        for table in (tables.metals(), tables.moulds(), tables.pattern_kinds(), {"limits": tables.limits()})
        for thing in table.values()
        for name, figure in (
            thing.items() if isinstance(thing, dict) else ((k, getattr(thing, k)) for k in thing.__struct_fields__)
        )
        if isinstance(figure, tables.Figure)
    ]
    assert len(figures) > 130
    for name, figure in figures:
        assert figure.low <= figure.value <= figure.high, name
        assert figure.source in tables.sources(), name
        assert figure.unit, name


def test_all_metals_moulds_and_patterns_of_the_contract_are_there() -> None:
    assert len(tables.metals()) == 17
    assert set(tables.moulds()) == {"green-sand", "oil-sand", "resin-sand", "silicate-sand", "loose-sand", "fine-clay"}
    assert set(tables.pattern_kinds()) == {
        "printed-filament", "printed-resin", "wood", "foam-drawn", "foam-burned-out", "original-part", "metal-from-master",
    }  # fmt: skip


def test_every_metal_is_liquid_at_its_usual_pouring_heat() -> None:
    """The low end of pewter's range (from memory) is pasty, below its liquidus; its usual heat is not."""
    for name, metal in tables.metals().items():
        assert metal.solidus.value <= metal.liquidus.value <= metal.pouring.value, name
