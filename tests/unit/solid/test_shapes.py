"""Least-squares shapes: those that points were taken from come back, also askew and in noise."""

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from pounce.solid.features import shapes

TURN = Rotation.from_euler("xyz", [20.0, 35.0, 50.0], degrees=True).as_matrix()
SHIFT = np.array([12.0, -7.0, 30.0])


def _round(radius: float, slope: float = 0.0, turned: float = 2.0 * np.pi, noise: float = 0.0) -> np.ndarray:
    """Points on a cylinder or cone about z, 40 high, some of the way round."""
    random = np.random.default_rng(4)
    angle, height = random.uniform(0.0, turned, 400), random.uniform(-20.0, 20.0, 400)
    out = radius + slope * height + random.normal(0.0, noise, 400)
    return np.stack([out * np.cos(angle), out * np.sin(angle), height], axis=1)


@pytest.mark.parametrize("turned", [2.0 * np.pi, 1.2])
def test_a_cylinder_comes_back_also_from_an_arc(turned: float) -> None:
    points = _round(9.0, turned=turned) @ TURN.T + SHIFT
    found = shapes.cylinder(points, TURN[:, 2])
    assert found is not None and found.radius == pytest.approx(9.0, abs=1e-9)
    assert np.abs(found.off(points)).max() < 1e-9
    line = found.centre - SHIFT
    assert np.linalg.norm(line - (line @ TURN[:, 2]) * TURN[:, 2]) < 1e-9


def test_a_guess_that_leans_is_stood_up() -> None:
    """The axis two degrees off: Gauss-Newton brings it back to a hundredth of a degree."""
    points = _round(9.0) @ TURN.T + SHIFT
    off = Rotation.from_euler("x", 2.0, degrees=True).as_matrix()
    guess = shapes.cylinder(points, TURN @ off[:, 2])
    assert guess is not None
    found = shapes.refined(guess, points)
    assert np.degrees(np.arccos(min(1.0, abs(float(found.axis @ TURN[:, 2]))))) < 0.01
    assert found.radius == pytest.approx(9.0, abs=1e-4)


def test_noise_is_averaged() -> None:
    """400 points with 0.05 mm of noise tell a radius to 0.05 / sqrt(400) times three."""
    found = shapes.cylinder(_round(9.0, noise=0.05), np.array([0.0, 0.0, 1.0]))
    assert found is not None and found.radius == pytest.approx(9.0, abs=3.0 * 0.05 / 20.0)


@pytest.mark.parametrize("slope", [0.1, -0.4])
def test_a_cone_comes_back_with_its_slope(slope: float) -> None:
    points = _round(15.0, slope)
    found = shapes.cone(points, np.array([0.0, 0.0, 1.0]), slope)
    assert found is not None
    best = shapes.refined(found, points)
    assert best.slope == pytest.approx(slope, abs=1e-6)
    at_nought = best.radius - best.slope * float(best.centre[2])
    assert at_nought == pytest.approx(15.0, abs=1e-5)


def test_a_ball_and_a_ring_come_back() -> None:
    random = np.random.default_rng(2)
    way = random.normal(size=(300, 3))
    way /= np.linalg.norm(way, axis=1)[:, None]
    ball = shapes.ball(way * 7.0 + SHIFT)
    assert ball is not None and ball.radius == pytest.approx(7.0) and ball.centre == pytest.approx(SHIFT)
    turn, arc = random.uniform(0, 2 * np.pi, 300), random.uniform(0, 2 * np.pi, 300)
    out = 20.0 + 3.0 * np.cos(arc)
    points = np.stack([out * np.cos(turn), out * np.sin(turn), 3.0 * np.sin(arc)], axis=1)
    ring = shapes.ring(points, np.array([0.0, 0.0, 1.0]), np.zeros(3))
    assert ring is not None and (ring.radius, ring.ring) == pytest.approx((20.0, 3.0))
    assert np.abs(ring.off(points)).max() < 1e-9


def test_normals_look_away_from_the_axis_by_one() -> None:
    points = _round(15.0, 0.3)
    found = shapes.refined(shapes.cone(points, np.array([0.0, 0.0, 1.0]), 0.3), points)  # type: ignore[arg-type]
    normals = found.outward(points)
    assert np.linalg.norm(normals, axis=1) == pytest.approx(1.0)
    moved = points + 0.01 * normals
    assert found.off(moved) == pytest.approx(0.01, abs=1e-6)


def test_points_on_a_line_or_in_a_plane_are_no_round() -> None:
    line = np.stack([np.linspace(0, 9, 20), np.zeros(20), np.zeros(20)], axis=1)
    assert shapes.circle(line[:, 0], line[:, 1]) is None
    assert shapes.cylinder(line, np.array([0.0, 0.0, 1.0])) is None
    flat = np.random.default_rng(1).uniform(size=(50, 3)) * [1.0, 1.0, 0.0]
    assert shapes.ball(flat) is None
