"""Substances of a mould by the tables, and the constant of Chvorinov's rule."""

import math

import numpy as np
import pytest

from pounce.base.errors import UserFault
from pounce.freeze.heats import Poured, chvorinov, frozen, sand_mm, substances
from pounce.freeze.lay import laid, spacing
from pounce.freeze.values import Mould, Stuff
from pounce.metals.heat import heat
from pounce.metals.tables import metal, metals
from tests.conftest import box, mesh_of

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


@pytest.mark.parametrize("metal_id", ["aluminium-silicon", "grey-iron", "silicon-bronze"])
def test_the_sand_that_is_laid_takes_the_heat_of_the_thickest_casting(metal_id: str) -> None:
    """Heat balance of a plate: sand so thick beside it, warmed to where the metal is solid, holds what it gives."""
    poured = Poured(metal_id, "green-sand", metal(metal_id).pouring.value)
    one, sand = substances(poured)[:2]
    for modulus in (2.0, 10.0, 50.0, 400.0):
        holds = sand.solid_heat * (one.solidus_c - sand.start_c) * sand_mm(poured, modulus, 40.0)
        assert holds > 1.2 * one.enthalpy(poured.pour_c) * modulus
    assert sand_mm(poured, 1.0, 40.0) >= 12.0 and sand_mm(poured, 6.0, 40.0) <= 40.0


def test_a_casting_of_half_a_ton_sets_as_a_small_one_does() -> None:
    """Similarity: cubes set in times as the squares of their sides, whatever their size (t / M^2 is one figure)."""
    took = []
    for side in (20.0, 600.0):
        cube = mesh_of(box(side, side, side))
        wide = 10.0 * side
        mould = Mould((cube,), None, (), (), (), wide, (wide, wide), wide, tight=True)
        sand = sand_mm(ALU, side / 6.0, 40.0)
        made = frozen(laid(mould, spacing(mould, sand, 20_000), sand), ALU, lambda _share, _at: None)
        assert np.isfinite(made.solid_s[made.laid.casting > 0]).all()
        took.append(made.ran_s / side**2)
    assert took[1] == pytest.approx(took[0], rel=0.25)


def test_a_casting_that_takes_no_cell_is_told_beside_its_gates() -> None:
    """Gates fill cells of their own, the casting is a leaf between them."""
    leaf, gate = mesh_of(box(20.0, 20.0, 1e-4)), mesh_of(box(6.0, 6.0, 6.0).translate([20.0, 7.0, -3.0]))
    mould = Mould((leaf,), gate, (), (), (), 60.0, (60.0, 60.0), 60.0, tight=True)
    with pytest.raises(UserFault, match="thinner all over than a cell"):
        frozen(laid(mould, 1.0, 12.0), ALU, lambda _share, _at: None)


def test_a_flask_that_is_warmed_through_is_told() -> None:
    """A block of 300 mm in a flask with 10 mm of sand about it: all heat stays in the box, and it never sets."""
    cube = mesh_of(box(300.0, 300.0, 300.0).translate([-150.0, -150.0, -300.0]))
    tight = Mould((cube,), None, (), (), (), 10.0, (160.0, 160.0), 310.0)
    with pytest.raises(UserFault, match="warmed through before the casting is solid"):
        frozen(laid(tight, 20.0, 60.0), ALU, lambda _share, _at: None)
    roomy = Mould((cube,), None, (), (), (), 400.0, (600.0, 600.0), 700.0)
    sand = sand_mm(ALU, 50.0, 60.0)
    assert np.isfinite(frozen(laid(roomy, 20.0, sand), ALU, lambda _share, _at: None).ran_s)
