"""Stock on an upright face that a slot along the joint divides goes on both halves of it: one cut machines them
together.
"""

import manifold3d as m3
import numpy as np
import pytest

from pounce.route.stops import STOCK
from pounce.stock.values import Machining
from tests.unit.stock.helpers import stocked

M = m3.Manifold


def test_a_clamp_face_that_the_joint_divides_gets_its_stock_above_and_below() -> None:
    """A block 60 x 40 x 50, slotted 6 wide right across at half its height but for a web: two faces of 40 x 22 in
    one plane.
    """
    solid = M.cube([60, 40, 50], True) - M.cube([40, 60, 6], True).translate([20, 0, 0])
    line = stocked(solid, Machining((30.0, 0.0, 15.0), own_mm=2.0), height=0.0).need(STOCK).lines[0]
    assert line.added_mm3 == pytest.approx(2 * 2 * 40 * 22, rel=1e-4)
    assert "both sides of the joint" in line.about_words()


def test_a_face_in_the_same_plane_on_the_same_side_is_left() -> None:
    """Parted at the foot, both faces lie above the joint: only the one that was pointed at."""
    solid = M.cube([60, 40, 50], True) - M.cube([40, 60, 6], True).translate([20, 0, 0])
    line = stocked(solid, Machining((30.0, 0.0, 15.0), own_mm=2.0), height=-25.0).need(STOCK).lines[0]
    assert line.added_mm3 == pytest.approx(2 * 40 * 22, rel=1e-4)
    assert "both sides" not in line.about_words()


@pytest.mark.parametrize("lean", [0.0, 2.0])
@pytest.mark.parametrize("tall", [3.0, 6.0])
def test_stock_on_a_short_rim_in_noise_has_no_notch(tall: float, lean: float) -> None:
    """By hand pi (52^2 - 50^2) h at 2 mm a side; corners 3 micrometres off once left a facet or two without any."""
    solid = M.cylinder(tall, 50, 50 - tall * np.tan(np.radians(lean)), 96)
    solid = solid + M.cylinder(40, 20, 20, 96) - M.cylinder(90, 8, 8, 64, True)
    noise = np.random.default_rng(1).normal(0, 0.003, (solid.num_vert(), 3))
    line = (
        stocked(solid.warp_batch(lambda p: p + noise[: len(p)]), Machining((50.0, 0.0, tall / 2), own_mm=2.0))
        .need(STOCK)
        .lines[0]
    )
    assert line.name == "Boss left large" and not line.trouble
    assert line.added_mm3 == pytest.approx(np.pi * (52**2 - 50**2) * tall, rel=4e-3)
