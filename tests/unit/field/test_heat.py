"""Heat between cells against plain explicit steps written anew, on grids of all substances at random."""

import numpy as np
import pytest

from pounce.field import heat
from pounce.field.arrays import Field
from pounce.field.cells import Cells
from pounce.field.heat import Asked, Substance, cooled

METAL = Substance(150.0, 2.6e6, 2.9e6, 1.0e9, 580.0, 620.0, 700.0, melts=True)
SAND = Substance(0.7, 1.7e6, 1.7e6, 0.0, 0.0, 0.0, 25.0)
CORE = Substance(0.5, 1.6e6, 1.6e6, 0.0, 0.0, 0.0, 25.0)
CHILL = Substance(45.0, 3.8e6, 3.8e6, 0.0, 0.0, 0.0, 25.0, melts=True, film=1000.0)
AIR = Substance(1.0, 1.0, 1.0, 0.0, 0.0, 0.0, 25.0, film=12.0, stays=True)
ALL = (METAL, SAND, CORE, CHILL, AIR)
STEP_MM = 4.0


def temperature(held: Field, one: Substance) -> Field:
    setting = np.clip(held, 0.0, one.freezing if one.latent else 0.0)
    above = np.maximum(held - (one.freezing if one.latent else 0.0), 0.0)
    slope = (one.liquidus_c - one.solidus_c) / one.freezing if one.latent else 0.0
    return np.asarray(
        one.solidus_c + np.minimum(held, 0.0) / one.solid_heat + setting * slope + above / one.liquid_heat
    )


def plainly(kinds: np.ndarray, seconds: float, steps: int) -> Field:
    """(nz, ny, nx) temperatures after ``seconds`` in so many explicit steps, in double precision."""
    h = STEP_MM * 1e-3
    start = np.array([one.start_c for one in ALL])[kinds]
    held = np.array([one.enthalpy(one.start_c) if one.melts else one.start_c * one.solid_heat for one in ALL])[kinds]
    t = start.copy()
    for _ in range(steps):
        gained = np.zeros(kinds.shape)
        for axis in range(3):
            low = tuple(slice(None, -1) if k == axis else slice(None) for k in range(3))
            high = tuple(slice(1, None) if k == axis else slice(None) for k in range(3))
            for a, one in enumerate(ALL):
                for b, other in enumerate(ALL):
                    films = [film for film in (one.film, other.film) if film > 0.0 and a != b]
                    resists = h / 2.0 / one.conducts + h / 2.0 / other.conducts + sum(1.0 / film for film in films)
                    both = (kinds[low] == a) & (kinds[high] == b)
                    # sand passes nothing to the air: what it loses there is little
                    if {a, b} == {1, 4} or {a, b} == {2, 4}:
                        continue
                    flow = np.where(both, (t[high] - t[low]) / resists / h, 0.0)
                    gained[low] += flow
                    gained[high] -= flow
        held += gained * seconds / steps
        for k, one in enumerate(ALL):
            if not one.stays:
                t = np.where(kinds == k, temperature(held, one) if one.melts else held / one.solid_heat, t)
    return t


@pytest.mark.parametrize("seed", [1, 2])
def test_it_cools_as_plain_explicit_steps_do(seed: int, monkeypatch: pytest.MonkeyPatch) -> None:
    """Metal with a chill and a core in sand, cut at random, air on top; most of it plain sand, as in a flask."""
    turn = np.random.default_rng(seed)
    kinds = np.ones((14, 13, 15), np.int8)
    low = turn.integers(3, 5, 3)
    kinds[tuple(slice(int(v), int(v) + 5) for v in low)] = 0
    kinds[int(low[0]) + 2, int(low[1]) + 2, int(low[2]) : int(low[2]) + 3] = 2
    kinds[int(low[0]) + 1, int(low[1]) - 1, int(low[2]) : int(low[2]) + 2] = 3
    kinds[-1] = 4
    kinds[-5:-1, int(low[1]) + 2, int(low[2]) + 2] = 0  # a feeder to the air
    # metal and sand are worked in turns: in small turns, so that what is compared is the flow
    monkeypatch.setattr(heat, "FIRST", 0.01)
    monkeypatch.setattr(heat, "MOST_STEPS", 2000)
    made = cooled(
        Asked(
            Cells(np.zeros(3), STEP_MM, kinds.shape),
            kinds,
            ALL,
            np.ones(kinds.shape, np.float32),
            until_s=20.0,
            growth=0.001,
        )
    )
    told = plainly(kinds, 20.0, 700)
    off = np.abs(made.end_c - told)
    assert made.ran_s == 20.0 and off.max() < 2.0 and off[kinds == 0].max() < 1.0
    assert made.energy_error < 1e-4


def test_only_what_freezes_has_times() -> None:
    kinds = np.ones((9, 9, 9), np.int8)
    kinds[3:6, 3:6, 3:6] = 0
    kinds[2, 3:6, 3:6] = 3
    made = cooled(Asked(Cells(np.zeros(3), STEP_MM, kinds.shape), kinds, ALL, np.ones(kinds.shape, np.float32)))
    assert np.isfinite(made.solid_s[kinds == 0]).all() and np.isnan(made.solid_s[kinds != 0]).all()
    assert (made.near_s[kinds == 0] <= made.solid_s[kinds == 0]).all()
