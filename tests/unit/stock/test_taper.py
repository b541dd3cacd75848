"""Draft on the walls of analytic solids."""

from typing import Any

import manifold3d as m3
import numpy as np
import pytest

from pounce.route.stops import STOCK
from pounce.solid.tree import tree_of
from pounce.stock import taper
from pounce.stock.values import Draft, Machining, WallDraft
from tests.unit.stock.helpers import change, is_closed, lost, polygon_area, section_area, stocked, tan

M = m3.Manifold
BLOCK = M.cube([60, 40, 30])


def test_a_drafted_cylinder_is_a_frustum() -> None:
    """V = h/3 (A1 + A2 + sqrt(A1 A2)), exact for the polygon that the cylinder is."""
    sides, h, r, a = 64, 40.0, 20.0, 2.0
    wide = r + h * tan(a) / np.cos(np.pi / sides)  # facets move by h tan a, corners by that over cos(pi/n)
    one, two = polygon_area(r, sides), polygon_area(wide, sides)
    results = stocked(M.cylinder(h, r, r, sides), Draft(degrees=a), height=0.0)
    assert change(results) == pytest.approx(h / 3 * (one + two + np.sqrt(one * two)) - one * h, rel=1e-6)
    # the end far from the parting keeps its size
    assert section_area(results.need(STOCK).mesh, h - 1e-6) == pytest.approx(one, rel=1e-5)


@pytest.mark.parametrize(("how", "foot", "top"), [("add", 1.0, 0.0), ("take", 0.0, -1.0), ("half", 0.5, -0.5)])
def test_draft_added_taken_and_half(how: str, foot: float, top: float) -> None:
    move = 30 * tan(1.5)
    mesh = stocked(BLOCK, Draft(degrees=1.5, how=how), height=0.0).need(STOCK).mesh  # type: ignore[arg-type]
    for height, share in ((1e-6, foot), (30 - 1e-6, top)):
        assert section_area(mesh, height) == pytest.approx((60 + 2 * move * share) * (40 + 2 * move * share), rel=1e-6)


def test_both_halves_agree_at_the_parting() -> None:
    """The shallow half takes the deep half's section at the joint."""
    mesh = stocked(BLOCK, Draft(degrees=2.0), height=20.0).need(STOCK).mesh
    at = (60 + 2 * 20 * tan(2.0)) * (40 + 2 * 20 * tan(2.0))
    for height in (20 - 1e-6, 20 + 1e-6):
        assert section_area(mesh, height) == pytest.approx(at, rel=1e-6)
    for height in (1e-6, 30 - 1e-6):
        assert section_area(mesh, height) == pytest.approx(60 * 40, rel=1e-6)


@pytest.mark.parametrize("up", [True, False])
def test_pockets_widen_toward_the_side_their_sand_leaves_by(up: bool) -> None:
    hollow = BLOCK - M.cube([40, 20, 20]).translate([10, 10, 10 if up else 0])
    mesh = stocked(hollow, Draft(degrees=2.0), height=0.0).need(STOCK).mesh
    mouth, deep = (30 - 1e-6, 10 + 1e-6) if up else (1e-6, 20 - 1e-6)
    outer = lambda z: (60 + 2 * (30 - z) * tan(2.0)) * (40 + 2 * (30 - z) * tan(2.0))  # noqa: E731
    inner = lambda z: outer(z) - section_area(mesh, z)  # noqa: E731
    assert inner(mouth) == pytest.approx(40 * 20, rel=1e-5)
    assert inner(deep) == pytest.approx((40 - 40 * tan(2.0)) * (20 - 40 * tan(2.0)), rel=1e-5)


def test_a_slot_too_narrow_to_lean_still_only_gains_metal() -> None:
    """Two walls 1.5 mm apart and 60 mm deep close as a V; no metal is lost and the solid stays closed."""
    part = M.cube([80, 40, 60]) - M.cube([60, 1.5, 60]).translate([10, 20, 2])
    results = stocked(part, Draft(degrees=2.0), height=0.0)
    stock = results.need(STOCK)
    assert is_closed(stock.mesh)
    assert lost(part, stock.mesh) < 1e-4 * part.volume()
    assert stock.added_mm3 > 0.0


def test_a_wall_of_its_own_draft_and_one_left_alone() -> None:
    line = Draft(degrees=2.0, walls=(WallDraft((60.0, 20.0, 15.0), 0.0), WallDraft((30.0, 40.0, 15.0), 4.0)))
    mesh = stocked(BLOCK, line, height=0.0).need(STOCK).mesh
    low, high = mesh.bounds
    assert high[0] == pytest.approx(60.0, abs=1e-6) and high[1] == pytest.approx(40 + 30 * tan(4.0), abs=1e-6)
    assert low.tolist() == pytest.approx([-30 * tan(2.0), -30 * tan(2.0), 0.0], abs=1e-6)


def test_machined_faces_get_draft_by_adding_only() -> None:
    lines = (Machining((60.0, 20.0, 15.0), own_mm=1.0), Draft(degrees=2.0, how="take"))
    mesh = stocked(BLOCK, *lines, height=0.0).need(STOCK).mesh
    low, high = mesh.bounds
    assert high[0] == pytest.approx(61.0 + 30 * tan(2.0), abs=1e-3)
    assert lost(M.cube([1.0, 30, 28]).translate([60.0, 5, 1]), mesh) < 1e-3  # nowhere under the finished size
    assert low[0] == pytest.approx(0.0, abs=1e-6)


def test_a_wall_with_feet_far_from_the_joint_leans_as_one_plane() -> None:
    """What lies between the feet holds sand; left upright, or moved once more for a facet that its neighbour had
    turned, it stood half a millimetre out of its wall. A boss beside them cuts the wall into many triangles.
    """
    foot = M.cube([10, 12, 8])
    solid = M.cube([90, 70, 60]) + M.cylinder(8, 18, 18, 96).rotate([0, -90, 0]).translate([0, 35, 34])
    for y in (-3, 61):
        solid += foot.translate([-3, y, 0])
    results = stocked(solid, Draft(degrees=2.0), draw=(0.0, 1.0, 0.0), height=35.0)
    mesh = results.need(STOCK).mesh
    wall = (mesh.normals[:, 0] < -0.99) & (np.abs(mesh.corners[:, :, 0]) < 1.5).all(axis=1)
    points = mesh.corners[wall].reshape(-1, 3)
    assert float(mesh.areas[wall].sum()) > 2000.0
    assert -points[:, 0] == pytest.approx((35.0 - np.abs(points[:, 1] - 35.0)) * tan(2.0), abs=2e-3)


@pytest.mark.parametrize("folds", range(8))
def test_a_face_that_the_joint_runs_through_leans_alike_on_both_sides(
    monkeypatch: pytest.MonkeyPatch, folds: int
) -> None:
    """A wall that would fold is left to wedges: with it the same face across the joint, for they share vertices there
    and it was torn between where one half moved and where the other stayed.
    """
    attempt, calls = taper._attempt, []

    def folding(*given: Any) -> Any:
        calls.append(given)
        return (given[0].body, np.array([folds])) if len(calls) == 1 else attempt(*given)

    monkeypatch.setattr(taper, "_attempt", folding)
    mesh = stocked(BLOCK, Draft(degrees=2.0), height=15.0).need(STOCK).mesh
    assert is_closed(mesh) and calls
    for place, way, at in (([30, -60, 0], [0, 1, 0], 60.0), ([-60, 20, 0], [1, 0, 0], 60.0)):
        levels = np.arange(0.5, 30.0, 1.0)
        starts = np.array(place, float) + np.outer(levels, [0.0, 0.0, 1.0])
        far, _ = tree_of(mesh).nearest(starts, np.tile(np.array(way, float), (len(levels), 1)))
        assert at - far == pytest.approx((15.0 - np.abs(levels - 15.0)) * tan(2.0), abs=2e-3)
