"""Rings on turned surfaces: fillets of lathe work told from their profile."""

import manifold3d
import numpy as np
import pytest

from pounce.solid.features.patches import bends_of, flat_groups
from pounce.solid.features.turned import own_axes, turned_rings
from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Mesh
from tests.conftest import box, mesh_of


def filleted(radius: float, steps: int, sides: int = 64) -> manifold3d.Manifold:
    """A disc of 40 with a hub of 15, and an inside corner of ``radius`` between them."""
    turn = np.linspace(0.0, np.pi / 2, steps + 1)
    corner = [(15 + radius - radius * np.sin(t), 8 + radius - radius * np.cos(t)) for t in turn]
    profile = [(0, 0), (40, 0), (40, 8), *corner, (15, 30), (0, 30)]
    return manifold3d.CrossSection([profile]).revolve(sides)


def standing(solid: manifold3d.Manifold, way: tuple[float, float, float], at: tuple[float, float, float]) -> Mesh:
    mesh = mesh_of(solid)
    return Mesh.of(mesh.vertices @ turn_to_z(np.array(way)) + np.array(at), mesh.faces)


def curved_of(mesh: Mesh) -> np.ndarray:
    return np.asarray(np.abs(np.abs(mesh.normals).max(axis=1) - 1.0) > 1e-9)


@pytest.mark.parametrize("radius", [3.0, 6.0])
@pytest.mark.parametrize("steps", [4, 8])
@pytest.mark.parametrize("way", [(0.0, 0.0, 1.0), (0.6, 0.0, 0.8)])
def test_a_fillet_of_lathe_work_is_an_arc_of_its_radius(
    radius: float, steps: int, way: tuple[float, float, float]
) -> None:
    at = np.array([5.0, -9.0, 2.0])
    mesh = standing(filleted(radius, steps), way, tuple(at))
    axis = np.array(way)
    found = turned_rings(mesh, [(axis, at)], np.ones(len(mesh.faces), bool), 0.01)
    assert len(found) == 1
    ring = found[0].shape
    assert ring.kind == "ring" and ring.ring == pytest.approx(radius, rel=1e-6)
    assert ring.radius == pytest.approx(15.0 + radius)
    assert (ring.centre - at) @ axis == pytest.approx(8.0 + radius)
    assert found[0].misfit_mm < 0.01
    # its faces are the bands of the arc and no others
    middle = mesh.corners[found[0].faces].mean(axis=1) - at
    height = middle @ axis
    assert height.min() > 8.0 and height.max() < 8.0 + radius
    assert len(found[0].faces) == 2 * 64 * steps


def test_the_axis_is_where_pairs_of_normals_meet() -> None:
    mesh = standing(filleted(5.0, 6), (0.0, 0.0, 1.0), (31.0, 17.0, 0.0))
    found = own_axes(mesh, flat_groups(mesh, bends_of(mesh)), curved_of(mesh))
    assert found
    axis, place = found[0]
    assert axis.tolist() == [0.0, 0.0, 1.0]
    assert place == pytest.approx([31.0, 17.0, 0.0], abs=2e-4 * mesh.diagonal)


def test_blocks_have_no_axis_and_cones_no_ring() -> None:
    block = mesh_of(box(30, 20, 10))
    assert own_axes(block, flat_groups(block, bends_of(block)), np.ones(12, bool)) == []
    cone = mesh_of(manifold3d.CrossSection([[(0, 0), (30, 0), (25, 10), (18, 20), (0, 20)]]).revolve(64))
    up = np.array([0.0, 0.0, 1.0])
    assert turned_rings(cone, [(up, np.zeros(3))], np.ones(len(cone.faces), bool), 0.01) == []


def test_uneven_steps_are_no_arc() -> None:
    """A chamfer in three unequal cuts on one circle by chance."""
    at = np.radians([0.0, 4.0, 60.0, 90.0])
    corner = [(15 + 6 - 6 * np.sin(t), 8 + 6 - 6 * np.cos(t)) for t in at]
    profile = [(0, 0), (40, 0), (40, 8), *corner, (15, 30), (0, 30)]
    mesh = mesh_of(manifold3d.CrossSection([profile]).revolve(64))
    up = np.array([0.0, 0.0, 1.0])
    assert turned_rings(mesh, [(up, np.zeros(3))], np.ones(len(mesh.faces), bool), 0.01) == []
