"""Sets of numbers against numpy's, and closed shells."""

import manifold3d
import numpy as np
import pytest

from pounce.solid import boolean
from pounce.solid.closed import runs_cancel
from pounce.solid.evenodd import outline_of, simpler
from pounce.solid.mesh import Mesh
from pounce.solid.sets import distinct, is_among
from tests.conftest import mesh_of


@pytest.mark.parametrize("count", [0, 1, 7, 5000])
def test_they_are_numpys(count: int) -> None:
    dice = np.random.default_rng(count)
    numbers, pool = dice.integers(-50, 10**12, count), dice.integers(-50, 50, count // 2)
    few = dice.integers(0, 40, (count, 3))
    assert distinct(numbers).tolist() == np.unique(numbers).tolist()
    assert distinct(few).tolist() == np.unique(few).tolist()
    assert (is_among(few, pool) == np.isin(few, pool)).all() and is_among(few, pool).shape == few.shape


def test_a_shell_closes_where_every_edge_runs_both_ways() -> None:
    mesh = mesh_of(manifold3d.Manifold.sphere(10, 24) - manifold3d.Manifold.cube([3, 3, 30], True))
    same = np.arange(len(mesh.vertices))
    assert runs_cancel(mesh.faces, same)
    for k in range(0, len(mesh.faces), 37):
        assert not runs_cancel(np.delete(mesh.faces, k, axis=0), same)
        turned = mesh.faces.copy()
        turned[k] = turned[k][::-1]
        assert not runs_cancel(turned, same)
    # doubled faces cancel with their own backs, corners made one stay one
    assert runs_cancel(np.concatenate([mesh.faces, mesh.faces[:3], mesh.faces[:3, ::-1]]), same)
    loose = Mesh.of(mesh.corners.reshape(-1, 3), np.arange(3 * len(mesh.faces)).reshape(-1, 3))
    assert not runs_cancel(loose.faces, np.arange(len(loose.vertices)))
    solid = boolean.closed_solid(loose)
    assert solid is not None and solid.volume() == pytest.approx(mesh.volume)


def test_loops_make_one_shape_and_simplifying_leaves_it_sound() -> None:
    square = np.array([[0.0, 0], [10, 0], [10, 10], [0, 10]])
    shape = outline_of([square, 0.5 * square + 2.0, square[:3]])
    assert shape.area == pytest.approx(100.0 - 25.0) and shape.is_valid
    comb = np.concatenate(
        [[[x, 0.0], [x + 0.4, 9.0], [x + 0.5, 0.1]] for x in range(30)] + [[[30.0, -1.0], [0.0, -1.0]]]
    )
    for within in (0.01, 0.3, 2.0, 8.0):
        assert simpler(outline_of([comb]), within).is_valid
