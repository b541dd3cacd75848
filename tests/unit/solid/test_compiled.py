"""The compiled fits against scipy's least squares and numpy's, and what is gathered against a look at every face."""

import manifold3d
import numpy as np
import pytest
from scipy.optimize import least_squares
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from pounce.solid.features.compiled import (
    ball_through,
    circle_through,
    cylinder_through,
    fitted,
    lying_on,
    ring_round,
    sloped_through,
    spread_from,
    squared_off,
    strays_on,
)
from pounce.solid.features.facets import facets_of
from pounce.solid.features.patches import bends_of, flat_groups
from pounce.solid.features.rounds import LEAN, Rounds
from pounce.solid.features.shapes import Shape, refined
from pounce.solid.frame import across, unit
from pounce.solid.tree import LEAF, build
from tests.conftest import mesh_of

AXIS = unit((0.3, -0.5, 0.8))


def round_points(slope: float, noise: float, seed: int = 1) -> np.ndarray:
    """Points on a cylinder or cone about a slanted axis."""
    dice = np.random.default_rng(seed)
    u, v = across(AXIS)
    turn, height = dice.uniform(0.0, 4.0, 400), dice.uniform(-12.0, 12.0, 400)
    radius = 9.0 + slope * height + dice.normal(0.0, noise, 400)
    return np.asarray(
        np.array([5.0, -3.0, 20.0])
        + np.outer(radius * np.cos(turn), u)
        + np.outer(radius * np.sin(turn), v)
        + np.outer(height, AXIS)
    )


@pytest.mark.parametrize("slope", [0.0, 0.2])
def test_a_fit_is_as_close_as_scipys(slope: float) -> None:
    points = round_points(slope, 0.05)
    kind = "cone" if slope else "cylinder"
    u, _ = across(AXIS)
    start = Shape(kind, unit(AXIS + 0.02 * u), points.mean(axis=0), 8.0, 0.9 * slope)
    found = refined(start, points, 20)

    def off(x: np.ndarray) -> np.ndarray:
        return Shape(kind, unit(x[:3]), x[3:6], x[6], x[7] if slope else 0.0).off(points)

    best = least_squares(off, [*start.axis, *start.centre, start.radius, start.slope], xtol=1e-12, ftol=1e-12)
    assert squared_off(0, found.figures, points) == pytest.approx(2.0 * best.cost, rel=1e-5)
    assert abs(float(found.axis @ AXIS)) > 0.99999 and found.slope == pytest.approx(slope, abs=3e-3)


def test_points_without_noise_give_the_shape_itself() -> None:
    middle = np.array([5.0, -3.0, 20.0])
    made = cylinder_through(round_points(0.0, 0.0), AXIS)
    aside = made[3:6] - middle - AXIS * float((made[3:6] - middle) @ AXIS)
    assert made[6] == pytest.approx(9.0) and np.linalg.norm(aside) < 1e-9
    cone = sloped_through(round_points(0.25, 0.0), AXIS, 0.25)
    assert Shape("cone", cone[:3], cone[3:6], cone[6], cone[7]).off(round_points(0.25, 0.0, 2)) == pytest.approx(
        0.0, abs=1e-8
    )
    turn = np.linspace(0.0, 2.0, 9)
    assert circle_through(3.0 + 4.0 * np.cos(turn), 1.0 + 4.0 * np.sin(turn)) == pytest.approx([3.0, 1.0, 4.0])


def test_a_ball_is_numpys_least_squares() -> None:
    dice = np.random.default_rng(3)
    ways = dice.normal(size=(200, 3))
    points = (
        np.array([2.0, 3.0, -4.0]) + 7.0 * ways / np.linalg.norm(ways, axis=1)[:, None] + dice.normal(0, 0.05, (200, 3))
    )
    system = np.column_stack([2.0 * points, np.ones(len(points))])
    x = np.linalg.lstsq(system, (points**2).sum(axis=1), rcond=None)[0]
    found = ball_through(points)
    assert found[3:6] == pytest.approx(x[:3]) and found[6] == pytest.approx(np.sqrt(x[3] + x[:3] @ x[:3]))


def test_what_is_no_round_gives_none() -> None:
    line = np.outer(np.arange(6.0), [1.0, 2.0, 3.0])
    assert np.isnan(circle_through(line[:, 0].copy(), line[:, 1].copy())).all()
    flat = np.column_stack([np.random.default_rng(1).random((9, 2)), np.zeros(9)])
    assert np.isnan(ball_through(flat)[6])
    assert np.isnan(cylinder_through(line, unit((0.0, 0.0, 1.0)))[6])
    assert np.isnan(sloped_through(line, unit((0.0, 1.0, 0.0)), 0.1)[6])
    # too little to tell: it stays what it was
    start = np.array([0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 2.0, 0.0])
    assert fitted(start, False, np.array([[1.0, 0.0, 0.0]] * 3), 5)[6] > 0.0


@pytest.fixture(scope="module")
def rounds() -> Rounds:
    m = manifold3d.Manifold
    mesh = mesh_of(
        m.cube([60, 40, 20])
        - m.cylinder(30, 8, 8, 64).translate([20, 20, -5])
        + m.sphere(9, 48).translate([45, 20, 20])
    )
    bends = bends_of(mesh)
    return Rounds(facets_of(mesh, bends, flat_groups(mesh, bends)), 0.002)


def test_what_is_spread_over_is_what_lies_on_it_and_hangs_together(rounds: Rounds) -> None:
    mesh, every = rounds.mesh, np.arange(len(rounds.mesh.faces))
    bore = Shape("cylinder", np.array([0.0, 0.0, 1.0]), np.array([20.0, 20.0, 10.0]), 8.0)
    ball = Shape("ball", np.array([0.0, 0.0, 1.0]), np.array([45.0, 20.0, 20.0]), 9.0)
    free = np.ones(len(every), bool)
    for shape in (bore, ball):
        plain = (np.abs(shape.off(mesh.corners.reshape(-1, 3))) < 0.002).reshape(-1, 3).all(axis=1)
        facing = np.einsum("ij,ij->i", shape.outward(rounds.middles), mesh.normals)
        on = plain & (np.abs(facing) > LEAN)
        assert on.sum() > 50
        assert (
            lying_on(shape.number, shape.figures, every, mesh.corners, rounds.middles, mesh.normals, 0.002, LEAN) == on
        ).all()
        both = rounds.pairs[on[rounds.pairs].all(axis=1)]
        graph = coo_array((np.ones(len(both)), (both[:, 0], both[:, 1])), shape=(len(every),) * 2)
        label = connected_components(graph, directed=False)[1]
        seed = int(np.flatnonzero(on)[0])
        by = (free, rounds.first, rounds.beside, mesh.corners, rounds.middles, mesh.normals)
        found = spread_from(shape.number, shape.figures, seed, *by, 0.002, LEAN)
        assert found.tolist() == np.flatnonzero(on & (label == label[seed])).tolist()
        turn = -1.0 if shape is bore else 1.0
        if shape is bore:
            tree = build(mesh)
            by = (free, mesh.corners, mesh.normals, tree.boxes, tree.order, LEAF)
            strays = strays_on(shape.figures, *by, 0.002, 0.002, 0.95, turn)
            assert strays.tolist() == np.flatnonzero(plain & (turn * facing > 0.95)).tolist()


def test_the_faces_round_a_seed_begin_with_it_and_stop_in_time(rounds: Rounds) -> None:
    seed = int(np.flatnonzero(rounds.free)[0])
    found = ring_round(seed, rounds.free, rounds.first, rounds.beside, rounds.group, 16, 288)
    assert found[0] == seed and len(set(found.tolist())) == len(found) <= 288 + 64
    assert rounds.free[found].all() and len(np.unique(rounds.group[found])) >= 3
