"""Columns over a part against formulas and against another library's rays."""

import manifold3d
import numpy as np
import pytest

from pounce.solid.plan import mark_segments, plan_of
from tests.conftest import box, mesh_of
from tests.unit.solid.vtk_tree import met_along, vtk_tree

M = manifold3d.Manifold


def test_a_hill_a_roof_and_what_hangs_over() -> None:
    """A table: a top of 10 on four legs; under it is air."""
    legs = [box(10, 10, 30).translate([x, y, 0]) for x in (0, 50) for y in (0, 30)]
    table = M.batch_boolean([box(60, 40, 10).translate([0, 0, 30]), *legs], manifold3d.OpType.Add)
    plan = plan_of(mesh_of(table).corners, 60, 2)
    assert plan.step == pytest.approx(1.0)
    ny, nx = plan.shape
    assert (nx, ny) == (64, 44)
    x = plan.low[0] + plan.step * np.arange(nx)
    y = plan.low[1] + plan.step * np.arange(ny)
    over = ((x > 0) & (x < 60))[None] & ((y > 0) & (y < 40))[:, None]
    leg = (((x > 0) & (x < 10)) | ((x > 50) & (x < 60)))[None] & (((y > 0) & (y < 10)) | ((y > 30) & (y < 40)))[:, None]
    assert (plan.covered == over).all()
    assert np.isnan(plan.top[~over]).all() and np.isnan(plan.under[~over]).all()
    assert (plan.top[over] == 40.0).all()
    assert (plan.bottom[leg] == 0.0).all() and (plan.bottom[over & ~leg] == 30.0).all()
    # the lowest stretch of material goes through to the top everywhere here
    assert (plan.under[over] == 40.0).all()


def test_under_is_the_top_of_the_lowest_stretch() -> None:
    stack = M.compose([box(20, 20, 5), box(20, 20, 5).translate([0, 0, 12])])
    plan = plan_of(mesh_of(stack).corners, 20, 1)
    assert (plan.under[plan.covered] == 5.0).all()
    assert (plan.top[plan.covered] == 17.0).all()


def test_places_in_cells() -> None:
    plan = plan_of(mesh_of(box(20, 10, 5)).corners, 40, 3)
    j, i = 7, 13
    at = plan.low + plan.step * np.array([i, j])
    assert plan.cells(np.array([[*at, 99.0]]))[0] == pytest.approx([i, j])
    assert plan.cells(at[None])[0] == pytest.approx([i, j])


@pytest.mark.parametrize("seed", range(4))
def test_heights_agree_with_rays_of_another_library(seed: int) -> None:
    noise = np.random.default_rng(seed)
    lump = M.batch_boolean(
        [M.sphere(float(noise.uniform(5, 12)), 24).translate(list(noise.uniform(-12, 12, 3))) for _ in range(5)],
        manifold3d.OpType.Add,
    )
    mesh = mesh_of(lump)
    plan = plan_of(mesh.corners, 40, 1)
    other = vtk_tree(mesh)
    rows, columns = np.nonzero(plan.covered)
    chosen = noise.choice(len(rows), 60, replace=False)
    x = plan.low[0] + plan.step * columns[chosen]
    y = plan.low[1] + plan.step * rows[chosen]
    for k in range(60):
        met = met_along(other, np.array([x[k], y[k], -100.0]), np.array([x[k], y[k], 100.0]))
        z = np.unique(np.round(met[:, 2], 7))
        assert len(z) >= 2
        here = rows[chosen[k]], columns[chosen[k]]
        assert plan.bottom[here] == pytest.approx(z[0], abs=1e-6)
        assert plan.top[here] == pytest.approx(z[-1], abs=1e-6)
        assert plan.under[here] == pytest.approx(z[1], abs=1e-6)


def test_segments_mark_every_column_they_cross() -> None:
    low, step = np.array([0.0, 0.0]), 1.0
    least, most = np.full((10, 10), np.inf), np.full((10, 10), -np.inf)
    segments = [[[1.0, 2.0, 0.0], [8.0, 2.0, 7.0]], [[1.0, 2.0, 3.0], [20.0, 2.0, 3.0]]]
    mark_segments(np.array(segments), low, step, least, most)
    marked = np.isfinite(least)
    assert set(np.flatnonzero(marked.any(axis=1))) == {2}
    assert set(np.flatnonzero(marked[2])) == set(range(1, 10))
    for i in range(1, 9):
        assert least[2, i] == pytest.approx(min(i - 1.0, 3.0), abs=0.51)
        assert most[2, i] == pytest.approx(max(i - 1.0, 3.0), abs=0.51)
