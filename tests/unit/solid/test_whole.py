"""Bores that cross, and rounds that holes pierce, are told whole: against the cylinders that the solids were made
from.
"""

import manifold3d as m3
import numpy as np
import pytest

from pounce.solid.features.find import features_of
from pounce.solid.features.values import Feature
from tests.conftest import law, mesh_of

M = m3.Manifold


def rounds(solid: m3.Manifold) -> list[Feature]:
    return [one for one in features_of(mesh_of(solid)) if one.kind != "plane"]


@law(5, 80)
def test_a_bore_that_another_crosses_is_one_bore_and_no_fillet(seed: int) -> None:
    rng = np.random.default_rng(seed)
    wide = float(rng.uniform(14, 24))
    narrow = float(rng.uniform(0.4, 0.94)) * wide
    sides = rng.choice([48, 64, 96], 2)
    solid = M.cube([100, 80, 70], True) - M.cylinder(120, wide, wide, int(sides[0]), True)
    solid -= M.cylinder(120, narrow, narrow, int(sides[1]), True).rotate([90, 0, 0])
    found = rounds(solid)
    along = [one for one in found if abs(one.axis[2]) > 0.99]
    mouths = [one for one in found if abs(one.axis[1]) > 0.99]
    assert {one.kind for one in found} == {"bore"}
    assert len(along) == 1 and along[0].radius_mm == pytest.approx(wide, abs=0.05) and along[0].full
    # two mouths, one a side: two bores in line are not one long one
    assert len(mouths) == 2 and all(one.radius_mm == pytest.approx(narrow, abs=0.05) and one.full for one in mouths)


def test_nail_holes_in_a_round_face_are_holes_and_leave_it_round() -> None:
    round_bar = M.cylinder(60, 40, 40, 128)
    for turn in range(0, 360, 60):
        round_bar -= M.cylinder(30, 2, 2, 24).rotate([0, 90, 0]).translate([25, 0, 30]).rotate([0, 0, turn])
    found = rounds(round_bar)
    holes = [one for one in found if one.kind == "bore"]
    assert len(holes) == 6 and all(2.0 * one.radius_mm == pytest.approx(4.0, abs=1e-3) for one in holes)
    # 15 mm deep on the axis, a sagitta of 2 mm at r 40 less at the sides
    assert all(one.length_mm == pytest.approx(15.0, abs=0.06) for one in holes)
    assert [one.kind for one in found if one.radius_mm > 30.0] == ["boss"]
    ball = M.sphere(40, 96)
    for turn in range(0, 360, 60):
        ball -= M.cylinder(30, 2, 2, 16).rotate([0, 60, 0]).translate([20, 0, 8]).rotate([0, 0, turn])
    assert sum(one.kind == "bore" for one in rounds(ball)) == 6


def test_what_looks_alike_stays_apart() -> None:
    """Corners of a pocket have axes of their own; bores in line in two lugs are two; a corner that is broken off
    stays a corner.
    """
    corner = m3.CrossSection.square([40.0, 30.0], True).offset(6.0, m3.JoinType.Round, 2.0, 64)
    pocket = M.cube([80, 70, 30], True) - M.extrude(corner, 40).translate([0, 0, -5])
    assert [one.kind for one in rounds(pocket)] == ["fillet"] * 4
    yoke = M.cube([80, 30, 40], True) - M.cube([40, 40, 30], True).translate([0, 0, 10])
    yoke -= M.cylinder(100, 8, 8, 48, True).rotate([0, 90, 0]).translate([0, 0, 8])
    assert sum(one.kind == "bore" for one in rounds(yoke)) == 2


@pytest.mark.parametrize("tall", [1.5, 3.0, 6.0, 12.0])
def test_a_short_drafted_rim_in_noise_is_a_cone_and_no_ball(tall: float) -> None:
    """One band of facets lies on a ball and on a cone alike; corners 3 micrometres off, as files come."""
    solid = M.cylinder(tall, 50, 50 - tall * np.tan(np.radians(2)), 96) + M.cylinder(40, 20, 20, 96)
    noise = np.random.default_rng(1).normal(0, 0.003, (solid.num_vert(), 3))
    found = rounds(solid.warp_batch(lambda points: points + noise[: len(points)]))
    rim = next(one for one in found if one.radius_mm > 45.0)
    assert rim.kind == "cone" and rim.full
    assert rim.half_angle_deg == pytest.approx(2.0, abs=0.3)
    assert all(one.kind != "ball" for one in found)
    assert next(one for one in rounds(M.sphere(30, 64))).kind == "ball"
