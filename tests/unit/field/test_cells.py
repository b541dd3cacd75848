"""The grid of cubes."""

import numpy as np
import pytest

from pounce.field.cells import Cells, cells_round
from tests.conftest import law


@law(10, 100)
def test_a_cell_holds_its_own_middle(seed: int) -> None:
    dice = np.random.default_rng(seed)
    shape = tuple(int(n) for n in dice.integers(1, 9, 3))
    cells = Cells(dice.uniform(-50.0, 50.0, 3), float(dice.uniform(0.2, 7.0)), shape)  # type: ignore[arg-type]
    numbers = np.arange(cells.count)
    middles = cells.middles(numbers)
    assert cells.at(middles).tolist() == numbers.tolist()
    # anywhere within half a cell is the same cell, and outside the nearest counts
    aside = middles + dice.uniform(-0.49, 0.49, middles.shape) * cells.step
    assert cells.at(aside).tolist() == numbers.tolist()
    assert cells.at(np.array([[-1e6, -1e6, -1e6], [1e6, 1e6, 1e6]])).tolist() == [0, cells.count - 1]
    assert cells.cell_mm3 * cells.count == pytest.approx(float(np.prod(shape)) * cells.step**3)


@law(10, 100)
def test_cells_round_a_box_hold_it_in_their_middle(seed: int) -> None:
    dice = np.random.default_rng(seed)
    low = dice.uniform(-30.0, 30.0, 3)
    high = low + dice.uniform(0.1, 40.0, 3)
    step = float(dice.uniform(0.3, 6.0))
    cells = cells_round(low, high, step)
    size = np.array(cells.shape[::-1]) * step
    assert (cells.low <= low + 1e-9).all() and (cells.low + size >= high - 1e-9).all()
    assert cells.low + size / 2.0 == pytest.approx((low + high) / 2.0)
    assert (size - (high - low) < step + 1e-9).all(), "and not a layer more"


def test_a_box_of_whole_cells_takes_no_more() -> None:
    cells = cells_round(np.zeros(3), np.array([3.0, 2.0, 1.0]), 0.5)
    assert cells.shape == (2, 4, 6) and cells.low == pytest.approx(np.zeros(3))
