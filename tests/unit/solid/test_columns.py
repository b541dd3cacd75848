"""The part as columns and as seen along the draw, against shapes whose heights are known."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.solid.columns import columns_grid, columns_of
from pounce.solid.plan import plan_of
from tests.conftest import box, mesh_of

M = m3.Manifold
SHELF = box(40, 30, 4) + box(40, 30, 6).translate([0, 0, 14]) + box(4, 30, 20)


def test_heights_of_top_bottom_and_the_lowest_stretch() -> None:
    """A shelf: two boards 4 and 6 thick on a wall of 4; between them the lowest stretch ends at 4."""
    mesh = mesh_of(SHELF)
    plan = plan_of(mesh.corners, 80, 2)
    assert plan.covered.sum() * plan.step**2 == pytest.approx(40.0 * 30.0, rel=0.03)
    assert np.nanmax(plan.top) == pytest.approx(20.0) and np.nanmin(plan.bottom) == pytest.approx(0.0)
    far = plan.under[plan.covered & np.isclose(plan.under, 4.0)]
    assert len(far) / plan.covered.sum() == pytest.approx(0.9, abs=0.03)
    assert np.isnan(plan.top[~plan.covered]).all()
    middle = plan.cells(np.array([[20.0, 15.0, 0.0]]))[0]
    assert middle == pytest.approx((np.array(plan.shape[::-1]) - 1) / 2.0, abs=0.5)


def test_stretches_are_as_many_and_as_long_as_the_boards() -> None:
    mesh = mesh_of(SHELF)
    plan = plan_of(mesh.corners, 80, 2)
    columns = columns_of(mesh.corners, plan)
    count = np.diff(columns.start)
    assert set(count[plan.covered.ravel()]) == {1, 2} and (count[~plan.covered.ravel()] == 0).all()
    thick = columns.high - columns.low
    assert sorted(set(np.round(thick, 6))) == [4.0, 6.0, 20.0]
    assert thick.sum() * plan.step**2 == pytest.approx(mesh.volume, rel=0.03)


def test_cells_hold_the_volume_of_a_ball() -> None:
    """4/3 pi r3, the facets' own loss and a cell's share at the surface apart."""
    grid = columns_grid(mesh_of(M.sphere(15, 96)), 0.5)
    assert grid.held.sum() * grid.step**3 == pytest.approx(4.0 / 3.0 * np.pi * 15.0**3, rel=0.01)
    assert not grid.held[0].any() and not grid.held[:, 0].any() and not grid.held[:, :, -1].any()


def test_bodies_that_overlap_count_once() -> None:
    """Two boxes side by side in one surface, one within the other: the stretch is the outer one's."""
    outer, inner = mesh_of(box(20, 20, 10)), mesh_of(box(10, 10, 4).translate([5, 5, 3]))
    corners = np.concatenate([outer.corners, inner.corners])
    plan = plan_of(corners, 40, 2)
    columns = columns_of(corners, plan)
    assert np.diff(columns.start).max() == 1
    assert columns.high - columns.low == pytest.approx(10.0)
