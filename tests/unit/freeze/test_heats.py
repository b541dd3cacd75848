"""Substances of a mould by the tables, and the constant of Chvorinov's rule."""

import math

import pytest

from pounce.base.errors import UserFault
from pounce.freeze.heats import Poured, chvorinov, substances
from pounce.freeze.values import Stuff
from pounce.metals.heat import heat
from pounce.metals.tables import metal, metals

ALU = Poured("aluminium-silicon", "green-sand", 720.0)


@pytest.mark.parametrize("name", sorted(set(metals()) & set(heat().metal)))
def test_every_metal_of_the_table_can_be_poured_at_its_usual_heat(name: str) -> None:
    found = substances(Poured(name, "green-sand", metal(name).pouring.value))
    one, sand = found[Stuff.METAL], found[Stuff.SAND]
    assert one.liquidus_c == metal(name).liquidus.value and one.solidus_c == metal(name).solidus.value
    assert one.latent > 0.0 and one.liquid_heat > 0.0 and one.conducts > sand.conducts
    assert 0.01 < chvorinov(Poured(name, "green-sand", metal(name).pouring.value)) < 20.0


def test_metal_that_is_no_longer_liquid_is_not_poured() -> None:
    with pytest.raises(UserFault, match="no longer liquid"):
        substances(Poured("aluminium-silicon", "green-sand", metal("aluminium-silicon").liquidus.value))


def test_chvorinovs_constant_by_hand() -> None:
    """B = pi/4 (rho H / (T - T0))^2 / (k rho c) with the table's own figures, s/mm2."""
    one, sand = substances(ALU)[:2]
    middle = (one.liquidus_c + one.solidus_c) / 2
    gives = one.latent + (720.0 - one.liquidus_c) * one.liquid_heat + (one.liquidus_c - one.solidus_c) * one.solid_heat
    by_hand = math.pi / 4 * (gives / (middle - sand.start_c)) ** 2 / (sand.conducts * sand.solid_heat) / 1e6
    assert chvorinov(ALU) == pytest.approx(by_hand)


def test_hotter_metal_sets_later_and_sand_that_conducts_better_sooner() -> None:
    assert chvorinov(Poured("aluminium-silicon", "green-sand", 760.0)) > chvorinov(ALU)
    assert chvorinov(Poured("aluminium-silicon", "green-sand", 720.0, sand_conducts=3.0)) < chvorinov(ALU)


def test_own_figures_go_before_the_tables() -> None:
    own = substances(Poured("aluminium-silicon", "green-sand", 720.0, 1.1, 1200.0))[Stuff.SAND]
    assert own.conducts == 1.1
    plain = substances(ALU)[Stuff.SAND]
    assert own.solid_heat / plain.solid_heat == pytest.approx(1200.0 / heat().sand["green-sand"].heat.value, rel=1e-6)
