"""Inside corners filled and outside edges eased."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.route.stops import STOCK
from pounce.solid.boolean import closed_solid
from pounce.stock.body import body_of
from pounce.stock.fillets import corner_chains, rounded
from pounce.stock.values import Fillets
from tests.conftest import law, mesh_of
from tests.unit.stock.helpers import change, is_closed, lost, section_area, stocked

M = m3.Manifold
BLOCK = M.cube([60, 40, 30])


def corner(r: float, steps: int = 8) -> float:
    """Area of a corner less its arc of chords."""
    return r * r * (1.0 - 0.5 * steps * np.sin(np.pi / (2 * steps)))


def test_an_inside_corner_is_filled_to_its_radius() -> None:
    angle = M.cube([40, 30, 10]) + M.cube([10, 30, 40])
    assert change(stocked(angle, Fillets(radius_mm=5.0), height=0.0)) == pytest.approx(30 * corner(5.0), rel=2e-3)


def test_outside_edges_are_eased_but_not_at_the_joint() -> None:
    results = stocked(BLOCK, Fillets(radius_mm=0.0, ease_mm=2.0), height=0.0)
    eased = 2 * (60 + 40) * corner(2.0) + 4 * 30 * corner(2.0)
    assert -results.need(STOCK).added_mm3 == pytest.approx(eased, rel=0.05)
    assert section_area(results.need(STOCK).mesh, 1e-4) == pytest.approx(60 * 40 - 4 * corner(2.0), rel=1e-3)


@pytest.mark.parametrize("radius", [2.0, 4.0, 8.0])
def test_the_arc_of_a_fillet_has_its_radius(radius: float) -> None:
    """Every corner of the new face lies on the cylinder that touches both walls."""
    angle = M.cube([60, 30, 10]) + M.cube([10, 30, 60])
    mesh = stocked(angle, Fillets(radius_mm=radius), height=0.0).need(STOCK).mesh
    arc = (mesh.tags.line == 0) & (np.abs(mesh.normals[:, 1]) < 0.1)
    points = mesh.corners[arc].reshape(-1, 3)
    away = np.hypot(points[:, 0] - (10 + radius), points[:, 2] - (10 + radius))
    assert away == pytest.approx(np.full(len(away), radius), abs=0.01)


def test_a_corner_with_no_room_gets_what_fits_and_says_so() -> None:
    """A step of three millimetres takes no fillet of eight."""
    step = M.cube([60, 30, 10]) + M.cube([10, 30, 13])
    found = rounded(body_of(mesh_of(step)), 8.0, True, np.zeros(len(mesh_of(step).faces), bool), 0)
    assert found.chains == 1 and 1.0 < found.least_mm <= 3.0
    assert closed_solid(found.body) is not None


def test_a_ring_of_corners_is_one_chain_that_closes() -> None:
    boss = M.cube([60, 60, 10]) + M.cylinder(30, 12, 12, 64).translate([30, 30, 0])
    body = body_of(mesh_of(boss))
    chains = corner_chains(body, True, np.zeros(len(body.faces), bool))
    assert len(chains) == 1 and chains[0].closed and chains[0].count == 64
    assert np.linalg.norm(chains[0].points[0] - chains[0].points[-1]) < 1e-9
    # straight ones only between planes
    assert all(one.count == 1 for one in corner_chains(body, True, np.zeros(len(body.faces), bool), straight=True))


def test_edges_of_a_block_are_chains_of_its_twelve_edges() -> None:
    body = body_of(mesh_of(BLOCK))
    chains = corner_chains(body, False, np.zeros(12, bool))
    long = sorted(float(np.linalg.norm(np.diff(chain.points, axis=0), axis=1).sum()) for chain in chains)
    assert sum(long) == pytest.approx(4 * (60 + 40 + 30))
    assert corner_chains(body, True, np.zeros(12, bool)) == []


def test_barred_faces_and_held_corners_keep_their_edges() -> None:
    angle = M.cube([60, 30, 10]) + M.cube([10, 30, 60])
    body = body_of(mesh_of(angle))
    none = np.zeros(len(body.faces), bool)
    assert len(corner_chains(body, True, none)) == 1
    assert corner_chains(body, True, ~none) == []
    assert corner_chains(body, True, none, held=np.ones(len(body.vertices), bool)) == []


@law(4, 60)
def test_fillets_only_add_and_easing_only_takes(seed: int) -> None:
    noise = np.random.default_rng(seed)
    solid = M.cube([50, 40, 12])
    for _ in range(3):
        size = noise.uniform(8, 20, 3).tolist()
        solid += M.cube(size).translate([*noise.uniform(0, 28, 2).tolist(), 8.0])
    before = float(solid.volume())
    filled = stocked(solid, Fillets(radius_mm=float(noise.uniform(1, 4))), height=0.0).need(STOCK)
    eased = stocked(solid, Fillets(radius_mm=0.0, ease_mm=float(noise.uniform(0.5, 1.5))), height=0.0).need(STOCK)
    assert filled.mesh.volume >= before * (1 - 1e-9) and eased.mesh.volume <= before * (1 + 1e-9)
    assert lost(solid, filled.mesh) < 1e-5 * before
    assert is_closed(filled.mesh) and is_closed(eased.mesh)
