"""The arithmetic of contraction, and the tables against a reference library."""

import math
import re
from pathlib import Path

import mendeleev
import pytest
from hypothesis import given
from hypothesis import strategies as st

from pounce.base.errors import UserFault
from pounce.base.finding import Severity
from pounce.metals import contraction, drafts, margins, tables
from pounce.metals.method import MethodChoices, resolve


@pytest.mark.parametrize(
    ("rule", "percent"), [("1/8", 1.0417), ("5/32", 1.3021), ("3/16", 1.5625), ("1/4", 2.0833), ("5/16", 2.6042)]
)
def test_old_rules_are_arithmetic(rule: str, percent: float) -> None:
    """Inch in a foot: common practice; the per cent is arithmetic."""
    assert contraction.rule_percent(rule) == pytest.approx(percent, abs=5e-5)
    assert contraction.nearest_rule(1.0 + percent / 100.0)[0] == rule


def test_stated_on_casting_and_on_pattern() -> None:
    """100 mm wanted at 1 %: 101.0101 stated on the pattern, as trade handbooks work the standard (x 100/(100 - S));
    101 on the casting.
    """
    assert 100 * contraction.factor(1.0) == pytest.approx(100.0 * 100.0 / 99.0)
    assert 100 * contraction.factor(1.0, "casting") == pytest.approx(101.0)
    assert 100 * contraction.factor(1.0, "pattern") == pytest.approx(101.010101, abs=1e-6)


def test_practice_long_foam_pattern() -> None:
    """Common practice: an aluminium casting from an 1810 mm pattern measured 1790 mm, inside the table's range."""
    seen = contraction.percent(1810 / 1790)
    low, high = tables.metal("aluminium-silicon").contraction.low, tables.metal("aluminium-silicon").contraction.high
    assert low < seen < high


def test_a_metal_pattern_carries_both_contractions() -> None:
    method = resolve(MethodChoices(metal="grey-iron", pattern="metal-from-master", master_metal="aluminium-silicon"))
    assert method.factor == pytest.approx(100 / 99.0 * 100 / 98.8)
    assert method.rammed_factor == pytest.approx(100 / 99.0)


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
    assert {"aluminium-silicon", "grey-iron", "gunmetal", "sterling-silver", "pewter"} <= set(tables.metals())
    assert set(tables.moulds()) == {"green-sand", "oil-sand", "resin-sand", "silicate-sand", "loose-sand", "fine-clay"}
    assert set(tables.pattern_kinds()) == {
        "printed-filament",
        "printed-resin",
        "wood",
        "foam-drawn",
        "foam-burned-out",
        "foam-dug-out",
        "original-part",
        "metal-from-master",
    }


def test_every_metal_is_liquid_at_its_usual_pouring_heat() -> None:
    for name, metal in tables.metals().items():
        assert metal.solidus.value <= metal.liquidus.value < metal.pouring.low <= metal.pouring.high, name


@pytest.mark.parametrize(
    ("metal", "rule", "percent"),
    [("zinc-aluminium", "5/32", 1.2853), ("hard-lead", "1/16", 0.5181), ("aluminium", "13/64", 1.6645)],
)
def test_rules_agree_with_their_metals_own_per_cent(metal: str, rule: str, percent: float) -> None:
    """r inches in a foot are 100 r / (12 + r) per cent of the pattern: worked by hand."""
    table = tables.metal(metal)
    assert table.rule is not None and table.rule.inch_in_a_foot == rule
    assert contraction.percent(1.0 + contraction.rule_percent(rule) / 100.0) == pytest.approx(percent, abs=5e-5)


def test_every_rule_lies_near_its_metals_contraction() -> None:
    """Within a quarter of a per cent: half the step between the rules that were engraved (1/16 in. in a foot is 0.52
    %).
    """
    for name, table in tables.metals().items():
        if table.rule is not None:
            own = contraction.percent(1.0 + contraction.rule_percent(table.rule.inch_in_a_foot) / 100.0)
            assert abs(own - table.contraction.value) < 0.26, name


def test_metals_outside_the_standard_do_not_cite_it() -> None:
    for name in ("aluminium", "silicon-bronze", "hard-lead", "silver", "sterling-silver"):
        assert tables.metal(name).contraction.source != "en-12890", name
    assert tables.metal("silicon-bronze").density.value == 8360.0


@pytest.mark.parametrize(
    ("content", "said"),
    [
        ({"source": "nowhere", "value": 1.0, "low": 0.0, "high": 2.0, "unit": "mm"}, "no source 'nowhere'"),
        ({"source": "en-12890", "value": 1.0, "low": 1.5, "high": 2.0, "unit": "mm"}, "outside 1.5 to 2.0"),
        ({"source": "en-12890", "value": 1.0, "low": 0.5, "high": 2.0, "unit": " "}, "no unit"),
        ({"cautions": ["nothing"]}, "no caution 'nothing'"),
    ],
)
def test_a_table_that_cannot_stand_does_not_load(content: dict[str, object], said: str) -> None:
    with pytest.raises(ValueError, match=said):
        tables.checked("somewhere", {"deep": content})


def test_no_figure_stands_in_the_tables_unused() -> None:
    """`bore_under` once stood there while help promised what it says. Names may be put together: their parts then
    stand in the code.
    """
    rooms = Path(tables.__file__).parents[1]
    code = "\n".join(one.read_text(encoding="utf-8") for one in rooms.rglob("*.py"))
    made = re.findall(r'limits\(\)\[\s*f"([^"]+)"', code)
    patterns = [re.compile(re.sub(r"\\{.*?\\}", "[a-z_]+", re.escape(one))) for one in made]
    unused = [
        name
        for name in tables.limits()
        if f'"{name.removesuffix("_set")}"' not in code and not any(one.fullmatch(name) for one in patterns)
    ]
    assert unused == [] and len(patterns) >= 3


def test_sizes_sold_rise_and_have_a_source() -> None:
    """Dowels by the millimetre: 3 to 6, then even ones (common practice)."""
    assert tables.series()["dowels"].sizes == (3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0)
    assert set(tables.series()["bed_dowels"].sizes) <= set(tables.series()["dowels"].sizes)


def test_every_table_is_looked_through() -> None:
    for name in tables.TABLES:
        tables.checked(name, tables.read(name))


@pytest.mark.parametrize(
    ("height", "inside", "mould", "usual", "asked"),
    [
        (8.0, False, "green-sand", 2.0, 3.0),
        (30.0, False, "green-sand", 2.0, 2.0),
        (30.0, True, "green-sand", 2.0, 4.0),
        (120.0, False, "green-sand", 2.0, 1.5),
        (120.0, False, "resin-sand", 2.0, 1.25),
        (50.019, False, "green-sand", 2.0, 2.0),
        (30.0, False, "green-sand", 1.0, 1.0),
        (30.0, True, "green-sand", 0.0, 0.0),
    ],
)
def test_draft_by_height_and_side(height: float, inside: bool, mould: str, usual: float, asked: float) -> None:
    assert drafts.asked_deg(height, inside, mould, usual) == asked


def test_a_wall_of_120_mm_wants_about_three_millimetres() -> None:
    """EN 12890 (from memory): 3 mm of taper for walls of 80 to 180 mm in clay-bonded sand; 2 degrees would be 4.2."""
    taper = 120.0 * math.tan(math.radians(drafts.asked_deg(120.0, False, "green-sand", 2.0)))
    assert 2.7 < taper < 3.3


def test_an_own_draft_overrides_height_and_side() -> None:
    method = resolve(MethodChoices(draft_deg=1.0))
    assert {method.draft_for(h, i) for h in (5.0, 60.0, 500.0) for i in (False, True)} == {1.0}


def test_sand_round_the_pattern_grows_with_mass_and_metal() -> None:
    """Common practice without source: 25 to 40 mm on small work, more for iron."""
    small, large = (margins.sand_round("aluminium-silicon", kg) for kg in (0.3, 20.0))
    assert 25.0 <= small.beside_mm <= 30.0 < large.beside_mm
    assert margins.sand_round("grey-iron", 0.3).beside_mm > small.beside_mm
    assert {margins.group_of(one) for one in tables.metals()} == {"light", "copper", "iron"}


def test_cautions_start_with_metal_and_damp_and_leave_none_out() -> None:
    brass = resolve(MethodChoices(metal="yellow-brass", mould="resin-sand", pattern="printed-resin"))
    assert brass.cautions[0].startswith("Molten metal on damp sand")
    for word in ("Zinc", "lead", "silica", "isocyanate", "formaldehyde", "sulphur", "Uncured print resin", "heavy"):
        assert any(word in text for text in brass.cautions), word
    said = [f.words() for f in brass.findings if f.code == "caution"]
    assert tuple(said) == brass.cautions


@pytest.mark.parametrize(
    ("choices", "code", "stops"),
    [
        ({"metal": "magnesium"}, "magnesium-in-damp-sand", True),
        ({"metal": "carbon-steel", "mould": "fine-clay"}, "steel-burns-mould", False),
        ({"metal": "carbon-steel", "mould": "oil-sand"}, "steel-burns-mould", False),
        ({"metal": "pewter", "pattern": "foam-burned-out", "mould": "loose-sand"}, "foam-does-not-burn", True),
        ({"pattern": "foam-burned-out", "mould": "green-sand"}, "foam-in-damp-sand", False),
    ],
)
def test_what_does_not_go_together_is_said(choices: dict[str, str], code: str, stops: bool) -> None:
    found = {f.code: f for f in resolve(MethodChoices(**choices)).findings}  # type: ignore[arg-type]
    assert (found[code].severity is Severity.STOP) == stops
    usual = resolve(MethodChoices(metal="grey-iron", pattern="foam-burned-out", mould="silicate-sand")).findings
    assert all(f.code == "caution" for f in usual)


def test_flour_cores_have_both_schools() -> None:
    words = tables.baking_words(tables.mix("flour-molasses"))
    assert "150 to 200" in words and "107" in words and "weigh" in words
