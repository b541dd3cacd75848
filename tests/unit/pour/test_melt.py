"""Heat and losses of a melt, by hand and against the table; the efficiency of a furnace from two melts."""

from pathlib import Path

import pytest

from pounce.base.errors import UserFault
from pounce.metals.heat import heat
from pounce.metals.melt import heat_to, melt, melt_group
from pounce.metals.tables import metal, metals
from pounce.pour.things import (
    SAMPLE,
    Crucible,
    Furnace,
    Ingot,
    OneMelt,
    Printer,
    Sand,
    Things,
    checked,
    efficiency,
    own_things,
    read_things,
    write_things,
)


@pytest.mark.parametrize(
    ("metal_id", "to_c", "by_hand_kj"),
    [
        # worked by hand from the tables' figures: solid, freezing range in the mean, latent, liquid (J/kg, over 1000)
        ("aluminium-silicon", 740.0, (1060 * 535 + 0.5 * (1060 + 1120) * 60 + 390e3 + 1120 * 125) / 1e3),
        ("grey-iron", 1365.0, (740 * 1130 + 0.5 * (740 + 850) * 50 + 230e3 + 850 * 165) / 1e3),
        ("pewter", 300.0, (240 * 224 + 0.5 * (240 + 260) * 51 + 62e3 + 260 * 5) / 1e3),
    ],
)
def test_the_heat_to_melt_is_what_is_worked_by_hand(metal_id: str, to_c: float, by_hand_kj: float) -> None:
    own = heat().metal[metal_id]
    figures = (own.solid_heat.value, own.liquid_heat.value, own.latent.value)
    expected = {"aluminium-silicon": (1060, 1120, 390), "grey-iron": (740, 850, 230), "pewter": (240, 260, 62)}
    assert figures == pytest.approx(expected[metal_id], rel=0.12)  # the hand's round figures
    assert heat_to(metal(metal_id), metal_id, to_c) / 1e3 == pytest.approx(by_hand_kj, rel=0.1)


def test_aluminium_wants_about_a_megajoule_a_kilogram() -> None:
    """Common practice: some 0.3 kWh melts and superheats a kilogram of aluminium; iron takes a little more."""
    assert heat_to(metal("aluminium-silicon"), "aluminium-silicon", 740.0) / 3.6e6 == pytest.approx(0.32, abs=0.04)
    assert heat_to(metal("grey-iron"), "grey-iron", 1400.0) / 3.6e6 == pytest.approx(0.37, abs=0.05)


def test_every_metal_melts_in_one_group_and_loses_more_the_finer_it_is() -> None:
    named = [one for group in melt().group.values() for one in group.metals]
    assert sorted(named) == sorted(metals())
    for metal_id in metals():
        group = melt_group(metal_id)
        losses = [group.loss(charge).value for charge in ("ingot", "scrap", "turnings")]
        assert 0.0 < losses[0] < losses[1] < losses[2] <= 30.0
        assert group.open.value < metal(metal_id).solidus.value
    with pytest.raises(KeyError):
        melt_group("unobtainium")


def test_two_melts_tell_the_furnace() -> None:
    """A furnace of 3 kW that gives 30 % to the metal and is warm after 12 minutes is found again from its melts."""
    to_c = metal("aluminium-silicon").pouring.value
    melts = []
    for kg in (1.0, 2.5):
        heat_kj = kg * heat_to(metal("aluminium-silicon"), "aluminium-silicon", to_c) / 1e3
        melts.append(OneMelt("aluminium-silicon", kg, 12.0 + heat_kj / (3.0 * 0.3) / 60.0))
    share, warm, learned = efficiency(Furnace("kiln", "Kiln", "electric", 3.0, 2.0, melts=tuple(melts)))
    assert learned and share == pytest.approx(0.3) and warm == pytest.approx(12.0)
    # melts alike tell nothing, nor one alone, nor a larger one that was quicker
    for few in ((melts[0],), (melts[0], melts[0]), (melts[1], OneMelt("aluminium-silicon", 1.0, 300.0))):
        alone = efficiency(Furnace("kiln", "Kiln", "electric", 3.0, 2.0, 20.0, melts=few))
        assert alone == (melt().common.efficiency.value, 20.0, False)


def test_a_crucible_of_a_litre_holds_what_its_metal_weighs() -> None:
    pot = Crucible("pot", "Pot", 1.0, fill=0.8)
    assert pot.holds_kg("aluminium-silicon") == pytest.approx(0.8 * 2.42, rel=1e-6)  # liquid, kg/l
    wide, high = pot.inside_mm
    assert 3.14159265 / 4.0 * wide**2 * high == pytest.approx(1e6, rel=1e-6)
    assert high / wide == pytest.approx(melt().common.slender.value)
    assert 0.5 < pot.empty_kg < 2.5
    assert Ingot("bar", "Bar", 100.0).kg("copper") == pytest.approx(0.894)


def test_own_things_are_kept_checked_and_carried_over(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    assert own_things() == SAMPLE
    mine = Things(
        (Crucible("mine", "Mine", 1.5),),
        SAMPLE.furnaces,
        (Ingot("pig", "Pig", 200.0, 2),),
        (4.0,),
        (Printer("big", "Big", 300.0, 300.0, 400.0),),
        (Sand("old", "Old green", 0.9, 1100.0),),
    )
    write_things(mine)
    assert own_things() == mine
    other = write_things(mine, tmp_path / "carried.json")
    assert read_things(other) == mine
    other.write_text("{}")
    assert read_things(other, 1) == SAMPLE  # what is missing is the sample's
    other.write_text("[")
    with pytest.raises(UserFault, match="cannot be read"):
        read_things(other, 2)
    for bad in (
        Things((Crucible("", "No id", 1.0),)),
        Things((Crucible("a", "Tiny", 0.001),)),
        Things((Crucible("a", "Of tin", 1.0, "tin"),)),
        Things((Crucible("a", "A", 1.0), Crucible("a", "B", 2.0))),
        Things(furnaces=(Furnace("f", "F", "electric", 0.0, 1.0),)),
        Things(furnaces=(Furnace("f", "F", "electric", 3.0, 1.0, melts=(OneMelt("lead-gold", 1.0, 9.0),)),)),
        Things(ingots=(Ingot("i", "I", 0.0),)),
        Things(printers=(Printer("p", "P", 5.0, 200.0, 200.0),)),
        Things(sands=(Sand("s", "S", 0.0, 1000.0),)),
        Things(sands=(Sand("s", "S", 0.8, 1000.0), Sand("s", "T", 0.9, 1000.0))),
    ):
        with pytest.raises(UserFault):
            checked(bad)
