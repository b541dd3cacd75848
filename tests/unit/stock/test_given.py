"""Thin walls and filler as maps, and the legs of a U."""

from pathlib import Path

import manifold3d as m3
import numpy as np
import pytest

from pounce.solid.features.find import features_of
from pounce.solid.mesh import Mesh
from pounce.stock.values import Draft
from tests.conftest import box
from tests.unit.stock.helpers import stocked

STEP = Path(__file__).parents[2] / "data" / "plate-with-bore.step"


def test_thin_walls_are_marked_where_they_are() -> None:
    """A 1.5 mm fin on a block of 20: aluminium-silicon runs at 3, so the fin's two sides are thin and the block is
    not.
    """
    solid = box(60, 40, 20) + box(60, 1.5, 40).translate([0, 20, 10])
    stock = stocked(solid).stock
    assert stock is not None
    middle = stock.mesh.corners.mean(axis=1)
    fin = (middle[:, 2] > 20.01) & (np.abs(stock.mesh.normals[:, 1]) > 0.9)
    assert stock.thin[fin].all()
    assert not stock.thin[(np.abs(stock.mesh.normals[:, 2]) > 0.9) & (middle[:, 2] < 20.01)].any()
    assert stock.thin_mm2 == pytest.approx(2.0 * 60.0 * 30.0, rel=0.03)


def test_filler_is_thickest_at_the_parting_and_nothing_at_the_far_end() -> None:
    """2 degrees over 20 mm: tan 2 x 20 = 0.698 mm at the joint, none 20 mm off it."""
    stock = stocked(box(50, 50, 40), Draft(2.0), height=20.0, pattern_kind="original-part").stock
    assert stock is not None
    depth = np.array(stock.filler_mm)
    z = stock.mesh.vertices[:, 2]
    assert depth[np.abs(z - 20.0) < 1e-6] == pytest.approx(20.0 * np.tan(np.radians(2.0)), abs=1e-3)
    assert np.abs(depth[(z < 1e-6) | (z > 40.0 - 1e-6)]).max() < 1e-6


@pytest.mark.parametrize("noise_mm", [0.0, 0.001, 0.002, 0.004])
def test_bores_are_told_on_a_mesh_with_noise(noise_mm: float) -> None:
    """A blind bore of 12 and a through one of 8, their corners off by a normal spread: one feature each, six flat
    faces and the floor.
    """
    solid = box(60, 40, 30) - m3.Manifold.cylinder(20, 6, 6, 40).translate([20, 20, 15])
    raw = (solid - m3.Manifold.cylinder(60, 4, 4, 32, True).translate([45, 20, 0])).to_mesh64()
    vertices = np.asarray(raw.vert_properties)[:, :3]
    mesh = Mesh.of(
        vertices + np.random.default_rng(3).normal(0.0, noise_mm, vertices.shape), np.asarray(raw.tri_verts, np.int64)
    )
    found = features_of(mesh)
    assert [f.kind for f in found].count("plane") == 7
    rounds = sorted((f for f in found if f.kind != "plane"), key=lambda f: f.radius_mm)
    assert [(f.kind, f.through) for f in rounds] == [("bore", True), ("bore", False)]
    assert [f.radius_mm for f in rounds] == pytest.approx([4.0, 6.0], abs=0.01)
    assert all(f.misfit_mm < max(1.5 * noise_mm, 1e-6) for f in rounds)
