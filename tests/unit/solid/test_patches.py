"""Flat patches, bends and noise of meshes whose making is known."""

import manifold3d
import numpy as np
import pytest

from pounce.solid.features.patches import GRAIN, bends_of, flat_groups, grouped, noise_of, tilts
from pounce.solid.mesh import Mesh
from tests.conftest import box, mesh_of

M = manifold3d.Manifold


def test_a_cube_bends_a_quarter_round_at_its_twelve_edges() -> None:
    mesh = mesh_of(box(10, 20, 30))
    bends = bends_of(mesh)
    assert len(bends.pairs) == 18
    assert sorted(np.round(bends.bend_deg).tolist()) == [0.0] * 6 + [90.0] * 12
    assert not bends.concave[bends.bend_deg > 1.0].any()
    ends = mesh.vertices[bends.ends]
    long = np.linalg.norm(ends[:, 0] - ends[:, 1], axis=1)[bends.bend_deg > 1.0]
    assert sorted(np.round(long)) == [10.0] * 4 + [20.0] * 4 + [30.0] * 4


def test_an_inside_corner_is_concave() -> None:
    mesh = mesh_of(box(30, 30, 10) + box(10, 30, 30))
    bends = bends_of(mesh)
    inside = bends.concave & (bends.bend_deg > 1.0)
    ends = mesh.vertices[bends.ends[inside]]
    assert len(ends) >= 1
    assert (ends[..., 0] == 10.0).all() and (ends[..., 2] == 10.0).all()


@pytest.mark.parametrize("deg", [1.0, 7.5, 30.0, 89.0])
def test_the_bend_of_a_roof_is_twice_its_slope(deg: float) -> None:
    high = 10.0 * np.tan(np.radians(deg))
    roof = Mesh.of([[-10, 0, 0], [0, 0, high], [0, 10, high], [10, 5, 0]], [[0, 1, 2], [1, 3, 2]])
    bends = bends_of(roof)
    one, two = roof.normals
    assert bends.bend_deg[0] == pytest.approx(np.degrees(np.arccos(one @ two)), abs=1e-6)


def test_flat_patches_are_the_faces_of_the_solid() -> None:
    fine = mesh_of(box(10, 20, 30).refine(5).rotate([20, 30, 40]))
    group = flat_groups(fine, bends_of(fine))
    assert len(np.unique(group)) == 6
    for number in np.unique(group):
        normals = fine.normals[group == number]
        assert (normals @ normals[0]).min() > 1.0 - 1e-9
    sizes = np.bincount(group, fine.areas)
    assert sorted(sizes) == pytest.approx(sorted([200.0, 300.0, 600.0] * 2))


def test_a_fine_curve_does_not_creep_into_one_patch() -> None:
    """A cylinder of four thousand facets: each bends by 0.09 degrees, the whole goes round."""
    mesh = mesh_of(M.cylinder(20, 50, 50, 4000))
    group = flat_groups(mesh, bends_of(mesh))
    wall = np.abs(mesh.normals[:, 2]) < 0.5
    sizes = np.bincount(group[wall])
    assert sizes.max() <= 4


def test_noise_of_an_exact_mesh_is_its_rounding_and_of_a_scan_its_own() -> None:
    ball = mesh_of(M.sphere(30, 64).refine(2))
    exact = noise_of(ball, bends_of(ball))
    assert exact <= 3e-4 * ball.diagonal
    plate = mesh_of(box(60, 60, 10).refine(40))
    assert noise_of(plate, bends_of(plate)) == pytest.approx(GRAIN * plate.diagonal)
    shaken = Mesh.of(plate.vertices + np.random.default_rng(2).normal(0, 0.003, plate.vertices.shape), plate.faces)
    found = noise_of(shaken, bends_of(shaken))
    assert 2 * 0.003 < found < 8 * 0.003


def test_coarse_figures_far_from_the_origin_count_as_noise() -> None:
    near = mesh_of(box(10, 10, 10))
    far = Mesh.of(near.vertices + 1e6, near.faces)
    assert noise_of(far, bends_of(far)) > 0.1 > noise_of(near, bends_of(near))


def test_slender_triangles_may_be_tilted_more() -> None:
    mesh = Mesh.of([[0, 0, 0], [10, 0, 0], [0, 10, 0], [5, 0.001, 0]], [[0, 1, 2], [0, 1, 3]])
    wide, slender = tilts(mesh, 0.001)
    assert wide == pytest.approx(np.degrees(np.arctan(0.001 / (10 / np.sqrt(2)))))
    assert slender == pytest.approx(45.0)


def test_groups_of_pairs() -> None:
    group = grouped(6, np.array([[0, 2], [2, 4], [1, 5]]))
    assert group[0] == group[2] == group[4]
    assert group[1] == group[5]
    assert len({int(group[0]), int(group[1]), int(group[3])}) == 3


def test_a_flat_face_beside_a_fine_ball_is_one_patch() -> None:
    """Facets of a fine ball were taken for noise, and with that the flat top crept over them: it fell apart into 104
    triangles, each a face of its own to be pointed at.
    """
    solid = M.cube([80, 80, 30], True) + M.sphere(16, 96).translate([0, 0, 27])
    mesh = mesh_of(solid)
    bends = bends_of(mesh)
    top = np.abs(mesh.corners[:, :, 2] - 15.0).max(axis=1) < 1e-6
    assert len(np.unique(flat_groups(mesh, bends, noise_of(mesh, bends))[top])) == 1
