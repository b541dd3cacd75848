"""Grooves of turned parts against the measures that they were turned to."""

import manifold3d
import numpy as np
import pytest

from pounce.solid.frame import turn_to_z
from pounce.solid.groove import Groove, groove_at, ring_of, turned_about
from pounce.solid.mesh import Mesh
from tests.conftest import box, mesh_of

M = manifold3d.Manifold
SIDES = 96
# A regular polygon's area over its circle's, by the corners.
SHARE = SIDES * np.sin(2 * np.pi / SIDES) / (2 * np.pi)
UP = np.array([0.0, 0.0, 1.0])
WAYS = [UP, np.array([1.0, 0.0, 0.0]), np.array([0.48, -0.6, 0.64])]


def pulley() -> manifold3d.Manifold:
    """Two rims of 40 at 8 to 20 and 24 to 36, a floor of 30 between, a wall sloping up to either."""
    profile = [(0, 0), (40, 0), (40, 10), (30, 14), (30, 20), (40, 24), (40, 34), (0, 34)]
    return manifold3d.CrossSection([profile]).revolve(SIDES)


def standing(solid: manifold3d.Manifold, way: np.ndarray, at: tuple[float, float, float]) -> Mesh:
    """The solid with its axis along ``way``, its foot's middle at ``at``."""
    mesh = mesh_of(solid)
    return Mesh.of(mesh.vertices @ turn_to_z(way) + np.array(at), mesh.faces)


@pytest.mark.parametrize("way", WAYS, ids=["up", "lying", "askew"])
def test_a_pulleys_groove_is_told_by_its_measures(way: np.ndarray) -> None:
    at = (11.0, -5.0, 70.0)
    mesh = standing(pulley(), way, at)
    place = np.array(at) + way * 17.0 + 30.0 * turn_to_z(way)[0]
    found = groove_at(mesh, np.array(at), way, place)
    assert found is not None
    assert (found.low_mm, found.high_mm) == pytest.approx((10.0, 24.0), abs=1e-6)
    assert found.wide_mm == pytest.approx(14.0)
    assert found.rim_mm == pytest.approx(40.0, rel=2e-3)
    assert found.floor_mm == pytest.approx(30.0, abs=0.05)
    assert found.neck_mm == pytest.approx(17.0, abs=1e-6)
    # by hand: the ring of 40 over 30, 6 high, and twice the ring over a cone from 40 to 30, 4 high
    straight = np.pi * (40**2 - 30**2) * 6
    sloped = np.pi * (40**2 * 4 - 4 / 3 * (40**2 + 40 * 30 + 30**2))
    assert found.ring_mm3 == pytest.approx((straight + 2 * sloped) * SHARE, rel=5e-3)
    assert found.level(5.0) == pytest.approx(float(np.array(at) @ way) + 5.0)
    assert found.holds(place[None])[0]
    assert not found.holds((np.array(at) + way * 5.0 + 39.0 * turn_to_z(way)[0])[None])[0]
    assert not found.holds((np.array(at) + way * 17.0)[None])[0]  # its hub


def test_no_groove_where_a_rim_is_broken_or_missing() -> None:
    whole = pulley()
    centre, place = np.zeros(3), np.array([30.0, 0.0, 17.0])
    assert groove_at(mesh_of(whole), centre, UP, place) is not None
    notched = whole - box(30, 30, 12).translate([5, 5, 23])
    assert groove_at(mesh_of(notched), centre, UP, place) is None
    spool = mesh_of(M.cylinder(34, 40, 40, SIDES))
    assert groove_at(spool, centre, UP, np.array([40.0, 0, 17])) is None
    step = mesh_of(M.cylinder(10, 40, 40, SIDES) + M.cylinder(34, 30, 30, SIDES))
    assert groove_at(step, centre, UP, np.array([30.0, 0, 20])) is None


@pytest.mark.parametrize("way", WAYS, ids=["up", "lying", "askew"])
def test_the_axis_is_where_the_normals_meet(way: np.ndarray) -> None:
    at = np.array([11.0, -5.0, 70.0])
    mesh = standing(pulley(), way, tuple(at))
    wall = np.flatnonzero(np.abs(mesh.normals @ way) < 0.99)
    found = turned_about(mesh, wall, way)
    assert found is not None
    off = found - at
    assert np.linalg.norm(off - way * float(off @ way)) < 1e-6


def test_a_square_or_half_a_round_is_turned_about_nothing() -> None:
    square = mesh_of(box(40, 30, 20))
    assert turned_about(square, np.flatnonzero(np.abs(square.normals[:, 2]) < 0.5), UP) is None
    half = mesh_of(M.cylinder(20, 20, 20, SIDES) ^ box(100, 50, 30).translate([-50, 0, -5]))
    wall = np.flatnonzero(np.abs(half.normals[:, 2]) < 0.5)
    assert turned_about(half, wall, UP) is None
    flat = np.flatnonzero(np.abs(half.normals[:, 2]) > 0.5)
    assert turned_about(half, flat, UP) is None  # flats look along it


def test_the_ring_that_fills_it_fits_both_rims_and_is_rooted() -> None:
    mesh = mesh_of(pulley())
    found = groove_at(mesh, np.zeros(3), UP, np.array([30.0, 0.0, 17.0]))
    assert found is not None
    ring = ring_of(mesh, found)
    assert ring is not None
    raw = manifold3d.Mesh64(np.array(ring.vertices, order="C"), np.array(ring.faces, np.uint64, order="C"))
    filled = pulley() + M(raw)
    plain = M.cylinder(34, 40, 40, SIDES)
    # filled it is the plain roller, to its own facets
    assert filled.volume() == pytest.approx(plain.volume(), rel=1e-6)
    assert filled.decompose().__len__() == 1
    assert (filled - plain).volume() < 1e-6 * plain.volume()


def test_rims_of_few_corners_take_no_ring() -> None:
    six = mesh_of(manifold3d.CrossSection([[(0, 0), (40, 0), (30, 10), (40, 20), (0, 20)]]).revolve(6))
    groove = Groove(np.zeros(3), UP, 0.0, 20.0, 40.0, 30.0, 1.0, 10.0)
    assert ring_of(six, groove) is None
