"""High points of the metal."""

import manifold3d
import numpy as np
import pytest

from pounce.rig.vents import high_points, peaks_of
from tests.conftest import box
from tests.unit.rig.helpers import item_like


def test_two_bosses_are_two_high_points_and_the_plate_none() -> None:
    plate = box(120, 60, 10)
    one = manifold3d.Manifold.cylinder(30.0, 10.0, 10.0, 48).translate([20.0, 30.0, 0.0])
    two = manifold3d.Manifold.cylinder(20.0, 8.0, 8.0, 48).translate([95.0, 30.0, 0.0])
    points = high_points(item_like(plate + one + two, 0.0))
    assert points[:, 2].tolist() == pytest.approx([30.0, 20.0])
    assert points[:, :2] == pytest.approx(np.array([[-40.0, 0.0], [35.0, 0.0]]), abs=3.0)


def test_a_flat_top_has_one_in_its_middle() -> None:
    (point,) = high_points(item_like(box(80, 50, 20), 0.0)).tolist()
    assert point == pytest.approx([0.0, 0.0, 20.0], abs=2.0)


def test_a_ripple_is_no_high_point() -> None:
    """A hill with a dent of half a millimetre is one; with one of three it is two."""
    x = np.linspace(-20.0, 20.0, 41)
    hill = np.tile(20.0 - np.abs(np.abs(x) - 10.0) * 0.05, (9, 1))
    assert len(peaks_of(hill)) == 1
    assert len(peaks_of(20.0 - (np.abs(np.abs(np.tile(x, (9, 1))) - 10.0)) * 0.3)) == 2


def test_nothing_has_no_high_point() -> None:
    assert peaks_of(np.full((4, 4), -np.inf)) == []
