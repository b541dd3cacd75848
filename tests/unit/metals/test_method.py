"""From the choices to contraction, draft and what does not go together."""

import pytest

from pounce.base.errors import UserFault
from pounce.base.finding import Severity
from pounce.metals import tables
from pounce.metals.changes import SetMould, SetPatternKind
from pounce.metals.method import MethodChoices, cautions_of, resolve


def codes(**choices: object) -> dict[str, Severity]:
    return {one.code: one.severity for one in resolve(MethodChoices(**choices)).findings}  # type: ignore[arg-type]


def test_the_pattern_is_larger_by_the_tables_contraction() -> None:
    """Aluminium-silicon 1.2 % (common practice), stated on the pattern: 100 / 98.8."""
    found = resolve(MethodChoices())
    assert found.contraction_percent == tables.metal("aluminium-silicon").contraction.value
    assert found.factor == pytest.approx(100.0 / (100.0 - found.contraction_percent))
    assert found.factor == found.casting_factor == found.rammed_factor and not found.own_contraction


def test_stated_on_the_casting_it_is_another_figure_and_the_same_pattern() -> None:
    one, other = resolve(MethodChoices()), resolve(MethodChoices(stated="casting"))
    assert other.contraction_percent > one.contraction_percent
    assert other.factor == pytest.approx(one.factor)
    own = resolve(MethodChoices(contraction_percent=1.2, stated="casting"))
    assert own.factor == pytest.approx(1.012) and own.own_contraction


def test_a_metal_pattern_carries_both_contractions() -> None:
    found = resolve(MethodChoices(metal="grey-iron", pattern="metal-from-master", master_metal="aluminium-silicon"))
    iron, alu = (tables.metal(key).contraction.value for key in ("grey-iron", "aluminium-silicon"))
    assert found.factor == pytest.approx(100 / (100 - iron) * 100 / (100 - alu))
    assert found.rammed_factor == pytest.approx(100 / (100 - iron))
    assert "two-contractions" in {one.code for one in found.findings}


def test_an_original_serves_as_it_is() -> None:
    found = resolve(MethodChoices(pattern="original-part"))
    assert found.factor == 1.0 and found.casting_factor > 1.0
    assert codes(pattern="original-part")["original-makes-smaller"] is Severity.WARN


def test_an_own_contraction_outside_the_range_is_said_and_taken() -> None:
    figure = tables.metal("aluminium-silicon").contraction
    assert "contraction-outside-range" not in codes(contraction_percent=figure.high)
    assert codes(contraction_percent=figure.high + 0.5)["contraction-outside-range"] is Severity.WARN
    with pytest.raises(UserFault):
        resolve(MethodChoices(contraction_percent=60.0))


def test_draft_goes_by_height_and_side_unless_it_is_the_users() -> None:
    table, own = resolve(MethodChoices()), resolve(MethodChoices(draft_deg=2.5))
    assert table.draft_for(20.0, True) >= table.draft_for(20.0, False)
    assert table.draft_for(20.0, False) >= table.draft_for(200.0, False)
    assert own.draft_for(20.0, True) == own.draft_for(200.0, False) == 2.5
    assert own.draft_range_deg == (2.5, 2.5)
    low, high = table.draft_range_deg
    assert low < high and low <= table.draft_for(50.0, False) <= high


def test_foam_that_burns_out_asks_for_no_draft() -> None:
    found = resolve(MethodChoices(pattern="foam-burned-out", mould="loose-sand"))
    assert found.required_draft_deg == 0.0 and found.draft_for(50.0, True) == 0.0


@pytest.mark.parametrize(
    ("choices", "code", "change"),
    [
        ({"mould": "loose-sand"}, "loose-sand-holds-nothing", SetMould("green-sand")),
        ({"metal": "carbon-steel", "mould": "oil-sand"}, "steel-burns-mould", SetMould("silicate-sand")),
        ({"pattern": "foam-dug-out"}, "digs-out-of-soft-sand", SetMould("silicate-sand")),
        (
            {"metal": "pewter", "pattern": "foam-burned-out", "mould": "loose-sand"},
            "foam-does-not-burn",
            SetPatternKind("foam-drawn"),
        ),
        ({"pattern": "foam-burned-out", "mould": "green-sand"}, "foam-in-damp-sand", SetMould("loose-sand")),
    ],
)
def test_what_does_not_go_together_has_a_way_out(choices: dict[str, str], code: str, change: object) -> None:
    found = {one.code: one for one in resolve(MethodChoices(**choices)).findings}  # type: ignore[arg-type]
    assert found[code].remedies[0].change == change
    # and taking it leaves nothing of the kind
    cured = dict(choices)
    if isinstance(change, SetMould):
        cured["mould"] = change.mould
    else:
        assert isinstance(change, SetPatternKind)
        cured["pattern"] = change.pattern
    assert code not in codes(**cured)


def test_magnesium_in_damp_sand_is_stopped_and_has_no_button() -> None:
    found = {one.code: one for one in resolve(MethodChoices(metal="magnesium")).findings}
    assert found["magnesium-in-damp-sand"].severity is Severity.STOP
    assert not found["magnesium-in-damp-sand"].remedies


def test_mass_is_volume_by_density() -> None:
    found = resolve(MethodChoices(metal="grey-iron"))
    assert found.mass_kg(1e6) == pytest.approx(found.metal.density.value / 1000.0)


def test_cautions_stand_once_and_damp_first() -> None:
    metal, mould = tables.metal("aluminium-silicon"), tables.mould("green-sand")
    words = cautions_of(metal, mould, mould)
    assert len(words) == len(set(words)) >= 2
    assert words[0] == tables.cautions()["damp"].text


@pytest.mark.parametrize("field", ["metal", "mould", "pattern", "master_metal"])
def test_an_unknown_id_is_said(field: str) -> None:
    with pytest.raises(UserFault, match="nonesuch"):
        resolve(MethodChoices(**({"pattern": "metal-from-master"} | {field: "nonesuch"})))  # type: ignore[arg-type]
