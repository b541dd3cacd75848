"""Shapes grown over facets, and axes told once."""

import manifold3d
import numpy as np
import pytest

from pounce.solid.features.facets import facets_of
from pounce.solid.features.patches import bends_of, flat_groups
from pounce.solid.features.rounds import Grown, Rounds, axes_of, crossed
from pounce.solid.features.shapes import Shape
from pounce.solid.mesh import Mesh
from tests.conftest import box, mesh_of

M = manifold3d.Manifold
UP = np.array([0.0, 0.0, 1.0])


def rounds_of(mesh: Mesh, near: float = 0.01) -> Rounds:
    bends = bends_of(mesh)
    return Rounds(facets_of(mesh, bends, flat_groups(mesh, bends)), near)


@pytest.mark.parametrize("sides", [16, 48, 160])
def test_each_round_is_grown_over_all_its_facets_and_no_others(sides: int) -> None:
    solid = box(80, 50, 12) - M.cylinder(20, 7, 7, sides).translate([20, 25, -4])
    solid += M.cylinder(30, 10, 7, sides).translate([55, 25, 0])
    mesh = mesh_of(solid)
    found = rounds_of(mesh).all()
    by = {one.shape.kind: one for one in found}
    assert set(by) == {"cylinder", "cone"}
    assert by["cylinder"].shape.radius == pytest.approx(7.0, abs=1e-3)
    assert abs(by["cone"].shape.slope) == pytest.approx(0.1, abs=1e-3)
    bore = np.hypot(mesh.corners[..., 0] - 20, mesh.corners[..., 1] - 25)
    wall = np.flatnonzero(np.isclose(bore, 7.0, atol=1e-6).all(axis=1) & (np.abs(mesh.normals[:, 2]) < 0.5))
    assert set(by["cylinder"].faces.tolist()) == set(wall.tolist())
    assert by["cylinder"].misfit_mm < 1e-3


def test_a_ball_is_grown_from_any_of_its_facets() -> None:
    mesh = mesh_of(M.sphere(15, 32))
    found = rounds_of(mesh).all()
    assert [one.shape.kind for one in found] == ["ball"]
    assert found[0].shape.radius == pytest.approx(15.0) and found[0].shape.centre == pytest.approx([0, 0, 0], abs=1e-6)
    assert len(found[0].faces) == len(mesh.faces)


def test_flats_are_not_free() -> None:
    mesh = mesh_of(box(30, 20, 10))
    rounds = rounds_of(mesh)
    assert not rounds.free.any() and rounds.all() == []


def test_a_ring_of_faces_goes_outward_from_its_seed() -> None:
    mesh = mesh_of(M.cylinder(20, 10, 10, 48))
    rounds = rounds_of(mesh)
    seed = int(np.flatnonzero(rounds.free)[0])
    near = rounds.ring_of(seed)
    assert near[0] == seed
    angle = np.arctan2(rounds.middles[near, 1], rounds.middles[near, 0])
    away = np.abs((angle - angle[0] + np.pi) % (2 * np.pi) - np.pi)
    # whole facets at a time: never one further round before all nearer ones on its side
    assert away[-1] == pytest.approx(away.max(), abs=0.2)
    assert rounds.free[near].all()


def test_guesses_hold_the_shape_itself() -> None:
    mesh = mesh_of(M.cylinder(20, 10, 10, 48))
    rounds = rounds_of(mesh)
    seed = int(np.flatnonzero(rounds.free)[0])
    guesses = rounds.guesses(rounds.ring_of(seed))
    best = next(shape for shape in guesses if shape.kind == "cylinder")
    assert best.radius == pytest.approx(10.0, abs=1e-6)
    wall = np.flatnonzero(rounds.free)
    assert rounds.fits(best, wall, 0.01).all()
    inside_out = Shape(best.kind, best.axis, best.centre, best.radius + 1.0, best.slope)
    assert not rounds.fits(inside_out, wall, 0.01).any()


def test_crossed_is_numpys_cross() -> None:
    noise = np.random.default_rng(1)
    for one, two in noise.normal(size=(50, 2, 3)):
        way, size = crossed(one, two)
        assert way == pytest.approx(np.cross(one, two))
        assert size == pytest.approx(float(np.linalg.norm(np.cross(one, two))))


def test_each_axis_is_told_once() -> None:
    def grown(kind: str, axis: tuple[float, float, float], at: tuple[float, float, float], count: int) -> Grown:
        return Grown(Shape(kind, np.array(axis), np.array(at), 5.0), np.arange(count), 0.0)

    found = axes_of(
        [
            grown("cylinder", (0, 0, 1), (0, 0, 0), 10),
            grown("cone", (0, 0, -1), (0, 0, 30), 40),  # the same line
            grown("cylinder", (0, 0, 1), (20, 0, 0), 5),
            grown("cylinder", (1, 0, 0), (0, 0, 0), 3),
            grown("ball", (0, 1, 0), (0, 0, 0), 90),  # a ball has none
        ],
        8,
    )
    assert len(found) == 3
    assert abs(float(found[0][0] @ UP)) == 1.0  # that of the most faces first
