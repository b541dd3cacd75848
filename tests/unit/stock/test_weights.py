"""Mass, inertia and thick places against formulas and against another library."""

import manifold3d as m3
import numpy as np
import pytest
import trimesh

from pounce.stock.weights import bulks_of, inertia, weight_of
from tests.conftest import box, law, mesh_of

M = m3.Manifold


def test_a_box_about_its_middle_and_about_a_corner() -> None:
    """m (b2 + c2) / 12 about the middle, m (b2 + c2) / 3 about a corner."""
    mesh = mesh_of(box(10, 20, 30).translate([100, 0, -50]))
    whole = 10 * 20 * 30
    about = inertia(mesh, mesh.centre_of_mass)
    assert np.diag(about) == pytest.approx([whole * s / 12 for s in (400 + 900, 100 + 900, 100 + 400)])
    assert about - np.diag(np.diag(about)) == pytest.approx(np.zeros((3, 3)), abs=1e-6 * whole)
    corner = inertia(mesh, np.array([100.0, 0, -50]))
    assert np.diag(corner) == pytest.approx([whole * s / 3 for s in (400 + 900, 100 + 900, 100 + 400)])


@law(4, 60)
def test_any_solid_as_another_library_says(seed: int) -> None:
    noise = np.random.default_rng(seed)
    solid = m3.Manifold.batch_boolean(
        [
            M.cylinder(*noise.uniform(3, 20, 3).tolist(), 20)
            .rotate(noise.uniform(0, 360, 3).tolist())
            .translate(noise.uniform(-15, 15, 3).tolist())
            for _ in range(4)
        ],
        m3.OpType.Add,
    )
    mesh = mesh_of(solid)
    other = trimesh.Trimesh(mesh.vertices, mesh.faces, process=False)
    assert inertia(mesh, mesh.centre_of_mass) == pytest.approx(other.moment_inertia, rel=1e-6, abs=1e-6)


def test_a_flywheel_in_kilograms() -> None:
    """A ring of iron: m (R2 + r2) / 2 about its axis, to its own facets."""
    ring = M.cylinder(20, 100, 100, 360) - M.cylinder(30, 80, 80, 360).translate([0, 0, -5])
    found = weight_of(mesh_of(ring), 7200.0, 2, None)
    mass = np.pi * (0.1**2 - 0.08**2) * 0.02 * 7200.0
    assert found.mass_kg == pytest.approx(mass, rel=1e-3)
    assert found.inertia_kgm2 == pytest.approx(mass * (0.1**2 + 0.08**2) / 2, rel=1e-3)
    assert found.middle_mm == pytest.approx((0.0, 0.0, 10.0), abs=1e-6)
    # Steiner: about an axis 50 mm off it
    off = weight_of(mesh_of(ring), 7200.0, 2, (50.0, 0.0, 0.0))
    assert off.inertia_kgm2 == pytest.approx(found.inertia_kgm2 + found.mass_kg * 0.05**2)


@pytest.mark.parametrize("ball", [14.0, 20.0])
def test_a_ball_on_a_plate_is_thick_beside_it(ball: float) -> None:
    solid = box(120, 60, 6) + M.sphere(ball / 2, 48).translate([60, 30, 3])
    bulks = bulks_of(mesh_of(solid))
    assert bulks[0].diameter_mm == pytest.approx(ball, rel=0.03)
    assert bulks[0].beside_mm == pytest.approx(6.0, rel=0.06)
    assert bulks[0].ratio == pytest.approx(ball / 6.0, rel=0.08)
    assert np.array(bulks[0].at_mm) == pytest.approx([60, 30, 3], abs=1.0)


def test_an_even_plate_has_no_place_thicker_than_its_neighbour() -> None:
    assert all(bulk.ratio < 1.1 for bulk in bulks_of(mesh_of(box(120, 60, 6))))


def test_one_ridge_is_one_place() -> None:
    """The whole rim of a wheel is as thick all round: it is told once, not at every spoke."""
    rim = M.cylinder(16, 80, 80, 96) - M.cylinder(20, 66, 66, 96).translate([0, 0, -2])
    web = M.cylinder(4, 70, 70, 96).translate([0, 0, 6])
    thick = [bulk for bulk in bulks_of(mesh_of(rim + web)) if bulk.ratio > 2.0]
    assert len(thick) == 1
    assert thick[0].diameter_mm == pytest.approx(14.0, rel=0.1) and thick[0].beside_mm == pytest.approx(4.0, rel=0.1)
