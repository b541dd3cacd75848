"""What bears on a core, against worked examples of textbooks and closed forms."""

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from pounce.cores import mechanics


def test_the_two_worked_examples_of_lift() -> None:
    """Groover, Fundamentals of Modern Manufacturing, core buoyancy (from memory): 1875 cm3 of sand core (1.6 g/cm3)
    in lead of 11.3 g/cm3 is driven up by 178.4 N; a core of 20 kg in an aluminium-copper alloy of 2.81 by 148.4
    N.
    """
    assert mechanics.lift_n(1.875e6, 1.875e6, 11300.0, 1600.0) == pytest.approx(178.4, abs=0.1)
    volume = 20.0 / 1600.0 * 1e9
    assert mechanics.lift_n(volume, volume, 2810.0, 1600.0) == pytest.approx(148.4, abs=0.1)


def test_sag_agrees_with_the_beam_equation() -> None:
    """E I w'''' = q integrated by scipy, on two ends and held at one."""
    load, span, area, stiff = 5.0, 300.0, 700.0, 900.0
    rigid, even = stiff * mechanics.second_moment_mm4(area), load / span

    def end(slope: float, moment: float, shear: float) -> np.ndarray:
        def rate(_: float, y: np.ndarray) -> list[float]:
            return [y[1], y[2], y[3], even / rigid]

        return solve_ivp(rate, (0.0, span), [0.0, slope, moment, shear], rtol=1e-10, atol=1e-14).y[:, -1]

    held = end(0.0, even * span**2 / 2.0 / rigid, -even * span / rigid)
    assert mechanics.sag_mm(load, span, area, stiff, one_end=True) == pytest.approx(abs(held[0]), rel=1e-6)
    base, per = end(0.0, 0.0, -even * span / 2.0 / rigid), end(1.0, 0.0, -even * span / 2.0 / rigid)
    slope = -base[0] / (per[0] - base[0])

    def middle() -> float:
        def rate(_: float, y: np.ndarray) -> list[float]:
            return [y[1], y[2], y[3], even / rigid]

        start = [0.0, slope, 0.0, -even * span / 2.0 / rigid]
        return float(solve_ivp(rate, (0.0, span / 2.0), start, rtol=1e-10, atol=1e-14).y[0, -1])

    assert mechanics.sag_mm(load, span, area, stiff) == pytest.approx(abs(middle()), rel=1e-5)


def test_bending_stress_of_a_round_bar() -> None:
    """A bar of 20 mm, 10 N evenly over 200 mm on two ends: M = 250 N mm, W = pi 20^3 / 32 = 785.4 mm3, 0.318 MPa."""
    area = np.pi * 100.0
    assert mechanics.stress_mpa(10.0, 200.0, area) == pytest.approx(250.0 / 785.398, rel=1e-5)
    assert mechanics.stress_mpa(10.0, 200.0, area, one_end=True) == pytest.approx(4.0 * 250.0 / 785.398, rel=1e-5)


def test_a_blind_print_balances_what_hangs_out() -> None:
    length = mechanics.blind_print_mm(50_000.0, 30.0, 700.0, 1.3)
    assert 700.0 * length * length / 2.0 == pytest.approx(1.3 * 50_000.0 * 30.0)


def test_the_print_for_a_play_is_the_one_whose_play_it_is() -> None:
    assert mechanics.tip_play_mm(0.3, 60.0, mechanics.print_for_play_mm(0.3, 60.0, 1.1)) == pytest.approx(1.1)
    assert mechanics.print_for_play_mm(0.3, 60.0, 0.3) == float("inf")


def test_prints_and_chaplets_carry_their_load() -> None:
    length = mechanics.print_for(100.0, 40.0, 100.0, 1.5)
    assert mechanics.pressure_kpa(100.0, 2.0 * 40.0 * length, 1.5) == pytest.approx(100.0)
    head = mechanics.chaplet_head_mm(50.0, 100.0)
    assert np.pi / 4.0 * head**2 * 0.1 == pytest.approx(50.0)
    assert mechanics.pressure_kpa(1.0, 0.0, 1.5) == float("inf")
