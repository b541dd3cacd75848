"""Stock on an upright face that a slot along the joint divides goes on both halves of it: one cut machines them together."""

import manifold3d as m3
import pytest

from pounce.stock.values import Machining
from tests.unit.stock.helpers import stocked

M = m3.Manifold


def test_a_clamp_face_that_the_joint_divides_gets_its_stock_above_and_below() -> None:
    """A block 60 x 40 x 50, slotted 6 wide right across at half its height but for a web: two faces of 40 x 22 in one plane."""
    solid = M.cube([60, 40, 50], True) - M.cube([40, 60, 6], True).translate([20, 0, 0])
    line = stocked(solid, Machining((30.0, 0.0, 15.0), own_mm=2.0), height=0.0).need("stock").lines[0]
    assert line.added_mm3 == pytest.approx(2 * 2 * 40 * 22, rel=1e-4)
    assert "both sides of the joint" in line.about_words()


def test_a_face_in_the_same_plane_on_the_same_side_is_left() -> None:
    """Parted at the foot, both faces lie above the joint: only the one that was pointed at."""
    solid = M.cube([60, 40, 50], True) - M.cube([40, 60, 6], True).translate([20, 0, 0])
    line = stocked(solid, Machining((30.0, 0.0, 15.0), own_mm=2.0), height=-25.0).need("stock").lines[0]
    assert line.added_mm3 == pytest.approx(2 * 40 * 22, rel=1e-4)
    assert "both sides" not in line.about_words()
