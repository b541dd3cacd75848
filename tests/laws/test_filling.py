"""Filling against closed forms and what must be by symmetry."""

import math

import numpy as np
import pytest

from pounce.field.cells import Cells
from pounce.field.fronts import ways_of
from pounce.freeze.filling import Fronts, filling, temperature
from pounce.freeze.heats import Poured, substances
from pounce.freeze.values import Laid, Stuff
from pounce.metals.heat import heat

ALLOY = Poured("aluminium-silicon", "green-sand", 720.0)


def laid(metal: np.ndarray, step: float) -> Laid:
    kinds = np.where(metal, Stuff.METAL, Stuff.SAND).astype(np.int8)
    ones, none = np.ones(metal.shape, np.float32), np.zeros(metal.shape, np.int8)
    return Laid(Cells(np.zeros(3), step, metal.shape), kinds, ones, metal.astype(np.int8), none)


def strip(long: int, thick: int = 4, wide: int = 20) -> np.ndarray:
    out = np.zeros((thick + 4, wide + 4, long + 4), np.bool_)
    out[2:-2, 2:-2, 2:-2] = True
    return out


def test_a_strip_runs_as_far_as_the_closed_form_says() -> None:
    """A strip 4 mm thick and 20 wide at 0.3 m/s: its front loses loss (T - T0)/(1/h + sqrt(pi x/v)/b) to the sand along
    its skin, and stands still at a quarter solid. Integrated by hand in fine steps.
    """
    metal, step, speed = strip(600), 1.0, 300.0
    grid = laid(metal, step)
    gates = np.full(metal.shape, -1, np.int32)
    gates[2:-2, 2:-2, 2] = 0
    made = filling(grid, gates, ALLOY, speed * 4.0 * 20.0 / 1e3)
    alloy, sand = substances(ALLOY)[:2]
    c, b = heat().common, math.sqrt(sand.conducts * sand.solid_heat)
    enthalpy, x, dx = alloy.enthalpy(720.0), 0.0, 0.1
    thick = 4.0 * 20.0 / (2.0 * 24.0) * 1e-3  # section over its round, m
    while enthalpy > (1.0 - c.choke_solid.value) * alloy.freezing:
        x += dx
        resists = 1.0 / c.front_film.value + math.sqrt(math.pi * x / speed) / b
        flux = (temperature(alloy, enthalpy) - sand.start_c) / resists
        enthalpy -= c.front_loss.value * flux * (dx / speed) / thick
    ran = 600.0 - made.short_mm3 / (4.0 * 20.0)
    assert made.short and ran == pytest.approx(x, rel=0.02)
    # hotter metal runs further; what fills is found
    hot = filling(grid, gates, Poured("aluminium-silicon", "green-sand", 760.0), speed * 80.0 / 1e3)
    assert hot.short_mm3 < made.short_mm3 and math.isfinite(made.fills_c) and made.fills_c > 760.0
    enough = filling(grid, gates, Poured("aluminium-silicon", "green-sand", made.fills_c), speed * 80.0 / 1e3)
    assert not enough.short


def test_two_gates_meet_in_the_middle_and_a_ring_on_its_far_side() -> None:
    metal = strip(201)
    gates = np.full(metal.shape, -1, np.int32)
    gates[2:-2, 2:-2, 2], gates[2:-2, 2:-2, -3] = 0, 1
    made = filling(laid(metal, 1.0), gates, ALLOY, 20.0)
    assert made.meets and made.meets[0].at_mm[0] == pytest.approx(102.5, abs=4.0)
    y, x = np.meshgrid(np.arange(84) - 41.5, np.arange(84) - 41.5, indexing="ij")
    flat = np.hypot(x, y)
    ring = np.zeros((6, 84, 84), np.bool_)
    ring[1:5] = (flat < 38.0) & (flat > 28.0)
    at = np.full(ring.shape, -1, np.int32)
    at[1:5, 40:44, 72:] = np.where(ring[1:5, 40:44, 72:], 0, -1)
    found = filling(laid(ring, 1.0), at, ALLOY, 20.0)
    assert [one for one in found.meets if one.at_mm[0] < 16.0 and abs(one.at_mm[1] - 42.0) < 5.0]
    # the far side is the last that is told of in time too
    assert max(found.ends, key=lambda one: one.far_mm).far_mm == pytest.approx(math.pi * 31.0, rel=0.15)


def test_a_sill_holds_and_a_pit_fills_from_its_floor() -> None:
    """A trough with a wall across it: behind the wall nothing comes until the near side stands as high, and then the
    floor fills first.
    """
    metal = np.zeros((14, 6, 40), np.bool_)
    metal[2:12, 2:4, 2:38] = True
    metal[2:8, 2:4, 19:21] = False
    gates = np.full(metal.shape, -1, np.int32)
    gates[2, 2:4, 2] = 0
    made = filling(laid(metal, 1.0), gates, ALLOY, 1.0)
    before = made.arrival_s
    assert before[2, 2, 30] > before[7, 2, 5] and before[2, 2, 30] < before[8, 2, 30] < before[11, 2, 30]
    assert before[np.isfinite(before)].max() * 1e3 == pytest.approx(metal.sum() - 1.0)


def test_a_wall_that_is_thicker_keeps_its_heat() -> None:
    cold = []
    for thick in (3, 6, 10):
        metal = strip(120, thick)
        gates = np.full(metal.shape, -1, np.int32)
        gates[2:-2, 2:-2, 2] = 0
        ways = ways_of(metal, np.ones(metal.shape), gates, Cells(np.zeros(3), 1.0, metal.shape))
        fronts = Fronts(laid(metal, 1.0), ways, ALLOY, 300.0 * thick * 20.0)
        cold.append(float(fronts.heats(720.0).min()))
    assert cold == sorted(cold)
