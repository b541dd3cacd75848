"""The hollow of a groove round the outside, closed by its ring."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.base.errors import UserFault
from pounce.solid.features.find import feature_numbers, features_of
from pounce.solid.ringed import groove_of, ring_hollow
from tests.conftest import box, mesh_of
from tests.unit.solid.test_groove import SIDES, M, pulley


def test_the_hollow_of_a_groove_is_its_ring() -> None:
    mesh = mesh_of(pulley())
    features = features_of(mesh)
    groove = groove_of(mesh, features, feature_numbers(mesh, features), np.array([30.0, 0.0, 17.0]))
    assert groove is not None
    found = ring_hollow(mesh, groove)
    assert len(found.openings) == 1 and found.openings[0].ring
    assert found.volume_mm3 == pytest.approx(found.mesh.volume) == pytest.approx(groove.ring_mm3, rel=5e-3)
    assert found.volume_mm3 == pytest.approx(M.cylinder(34, 40, 40, SIDES).volume() - mesh.volume, rel=1e-9)
    # its mouth is the band from rim to rim, which looks outward
    band = mesh.vertices[found.openings[0].caps]
    assert np.hypot(band[..., 0], band[..., 1]) == pytest.approx(np.full(band.shape[:2], 40.0))
    beyond = found.openings[0].beyond(band.reshape(-1, 3), 2.0)
    assert np.hypot(beyond[:, 0], beyond[:, 1]) == pytest.approx(np.full(len(beyond), 42.0))


def test_a_hole_into_the_groove_keeps_the_ring_from_closing() -> None:
    bored = mesh_of(pulley() - M.cylinder(60, 2, 2, 24).rotate([0, 90, 0]).translate([0, 0, 17]))
    features = features_of(bored)
    groove = groove_of(bored, features, feature_numbers(bored, features), np.array([0.0, 30.0, 17.0]))
    assert groove is not None and groove.floor_mm == pytest.approx(30.0, abs=0.05)
    ring = M.cylinder(34, 40, 40, SIDES).volume() - pulley().volume()
    assert groove.ring_mm3 == pytest.approx(ring, rel=0.01)  # the sand of the groove itself, not of the hole
    with pytest.raises(UserFault, match="Other hollows run into this groove"):
        ring_hollow(bored, groove)


def test_a_round_without_features_is_told_by_what_hangs_together() -> None:
    mesh = mesh_of(pulley())
    none = np.full(len(mesh.faces), -1, np.int64)
    found = groove_of(mesh, (), none, np.array([30.0, 0.0, 17.0]))
    assert found is not None and found.wide_mm == pytest.approx(14.0)
    block = mesh_of(box(30, 30, 30))
    assert groove_of(block, (), np.full(12, -1, np.int64), np.array([30.0, 15, 15])) is None


def test_the_hub_within_is_not_the_floor_of_a_rims_groove() -> None:
    """A pulley with spokes, its hub no taller than the groove is wide: the ring ends at the rim's own floor."""
    rim = M.revolve(m3.CrossSection([[(50, -12), (62, -12), (62, -9), (54, 0), (62, 9), (62, 12), (50, 12)]]), SIDES)
    wheel = rim + M.cylinder(16, 16, 16, SIDES, True)
    for turn in range(5):
        wheel += box(40, 8, 8).translate([12, -4, -4]).rotate([0, 0, 72 * turn])
    mesh = mesh_of(wheel)
    features = features_of(mesh)
    groove = groove_of(mesh, features, feature_numbers(mesh, features), np.array([58.0, 0.0, 4.5]))
    assert groove is not None and groove.floor_mm == pytest.approx(54.0, rel=1e-3)
    hollow = ring_hollow(mesh, groove)
    # a triangle of 8 by 18, its middle 8/3 in from the rim, carried once round (Pappus)
    assert hollow.volume_mm3 == pytest.approx(2.0 * np.pi * (62.0 - 8.0 / 3.0) * 72.0, rel=5e-3)
