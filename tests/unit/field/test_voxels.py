"""Solids as cells: volumes by hand, and places by their numbers."""

import manifold3d
import numpy as np
import pytest

from pounce.field.cells import cells_round
from pounce.field.voxels import filled
from tests.conftest import box, mesh_of


def test_a_box_off_the_grid_fills_what_it_fills() -> None:
    mesh = mesh_of(box(10, 7, 5).translate([0.3, 0.25, 0.4]))
    cells = cells_round(np.array([-2.0, -2.0, -2.0]), np.array([14.0, 12.0, 10.0]), 1.0)
    shares = filled(mesh, cells)
    # up the columns it is met exactly, across to half a column a side
    assert float(shares.sum()) == pytest.approx(350.0, rel=0.08)
    assert float(shares.max()) == pytest.approx(1.0, abs=1e-5) and float(shares.min()) == 0.0
    inside = cells.at(np.array([[5.0, 4.0, 3.0]]))[0]
    assert float(shares.ravel()[inside]) == pytest.approx(1.0, abs=1e-5)
    assert np.linalg.norm(cells.middles(np.array([inside]))[0] - [5.0, 4.0, 3.0]) < 0.9


def test_a_ball_holds_its_volume() -> None:
    ball = mesh_of(manifold3d.Manifold.sphere(12.0, 96))
    cells = cells_round(np.full(3, -14.0), np.full(3, 14.0), 1.0)
    assert float(filled(ball, cells).sum()) == pytest.approx(ball.volume, rel=0.01)
    assert cells.count == np.prod(cells.shape) and cells.cell_mm3 == 1.0


def test_points_outside_count_to_the_nearest_cell() -> None:
    cells = cells_round(np.zeros(3), np.array([4.0, 3.0, 2.0]), 1.0)
    assert cells.shape == (2, 3, 4)
    assert cells.at(np.array([[-9.0, -9.0, -9.0], [99.0, 99.0, 99.0]])).tolist() == [0, 23]
