"""The mould in a section: sand that cannot leave, of outlines whose sand is known."""

import numpy as np
import pytest

from pounce.parting.insection import joint_line, locked_sand, side_of
from pounce.parting.joint import flat_joint

UP, ALONG = np.array([0.0, 0.0, 1.0]), np.array([1.0, 0.0, 0.0])


def ring(*points: tuple[float, float]) -> np.ndarray:
    """A closed outline."""
    return np.array([*points, points[0]])


def flat(height: float) -> np.ndarray:
    return np.array([[-500.0, height], [500.0, height]])


def area(strips: np.ndarray, cope: bool) -> float:
    own = strips[strips[:, 4] == float(cope)]
    return float(((own[:, 1] - own[:, 0]) * (own[:, 3] - own[:, 2])).sum())


@pytest.mark.parametrize("height", [0.0, 4.0, 10.0])
def test_a_convex_outline_holds_only_the_sand_on_the_wrong_side(height: float) -> None:
    """A trapezium that narrows upward: parted at its foot nothing is held; parted higher, the sand beside its foot is
    in the drag and free, and so is that of the cope.
    """
    outline = ring((-20.0, 0.0), (20.0, 0.0), (14.0, 10.0), (-14.0, 10.0))
    strips = locked_sand((outline,), flat(height))
    # under a wall that leans out as it goes down sand lies over metal in the drag
    wedge = 2.0 * 0.5 * height * (6.0 * height / 10.0)
    assert area(strips, True) == 0.0 and area(strips, False) == pytest.approx(wedge, rel=0.02, abs=0.05)


@pytest.mark.parametrize(("wide", "stem", "tall"), [(30.0, 8.0, 12.0), (50.0, 30.0, 5.0)])
def test_sand_under_a_cap_stands_in_the_cope(wide: float, stem: float, tall: float) -> None:
    s, w = stem / 2.0, wide / 2.0
    cap = ring((-s, 0.0), (s, 0.0), (s, tall), (w, tall), (w, tall + 6.0), (-w, tall + 6.0), (-w, tall), (-s, tall))
    under = locked_sand((cap,), flat(0.0))
    assert area(under, True) == pytest.approx((wide - stem) * tall, rel=0.02) and area(under, False) == 0.0
    # parted at the cap's lower side it draws both ways
    assert len(locked_sand((cap,), flat(tall))) == 0
    # turned over the same sand stands in the drag
    over = locked_sand((cap * [1.0, -1.0],), flat(0.0))
    assert area(over, False) == pytest.approx((wide - stem) * tall, rel=0.02) and area(over, True) == 0.0


def test_a_hole_across_the_cut_is_divided_at_the_joint() -> None:
    """A square hole 10 by 10 in a block: of it the joint leaves 7 to the cope and 3 to the drag, all of it held."""
    block = ring((-20.0, 0.0), (20.0, 0.0), (20.0, 20.0), (-20.0, 20.0))
    hole = ring((-5.0, 5.0), (5.0, 5.0), (5.0, 15.0), (-5.0, 15.0))
    strips = locked_sand((block, hole), flat(8.0))
    assert area(strips, True) == pytest.approx(10.0 * 7.0, rel=0.02)
    assert area(strips, False) == pytest.approx(10.0 * 3.0, rel=0.02)
    assert strips[:, 2].min() == pytest.approx(5.0) and strips[:, 3].max() == pytest.approx(15.0)


def test_nothing_cut_holds_nothing() -> None:
    assert locked_sand((), flat(0.0)).shape == (0, 5)


@pytest.mark.parametrize("height", [-3.0, 12.5])
def test_a_flat_joint_is_one_straight_line_beyond_the_part(height: float) -> None:
    line = joint_line(flat_joint(UP, height), ALONG, np.array([0.0, 1.0, 0.0]), 4.0, -10.0, 30.0)
    assert line.shape == (2, 2) and line[:, 1] == pytest.approx([height, height])
    assert line[0, 0] < -10.0 - 30.0 and line[1, 0] > 30.0 + 30.0


@pytest.mark.parametrize("above", [True, False])
def test_a_side_is_closed_and_holds_what_lies_on_it(above: bool) -> None:
    line = np.array([[-10.0, 1.0], [0.0, 3.0], [10.0, 2.0]])
    side = side_of(line, above, 50.0)
    assert (side[0] == side[-1]).all()
    x, y = side[:-1].T
    size = 0.5 * abs(float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))))
    under = 0.5 * (1.0 + 3.0) * 10.0 + 0.5 * (3.0 + 2.0) * 10.0  # between the line and nought
    by_hand = 20.0 * (3.0 + 50.0) - under if above else under - 20.0 * (1.0 - 50.0)
    assert size == pytest.approx(by_hand)
