"""Plane cuts against a library's, areas by the shoelace rule, and loops that always close."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.solid.frame import across
from pounce.solid.section import chained, cut, loops_where
from tests.conftest import box, mesh_of

M = m3.Manifold
HOLE = M.cylinder(60, 5, 5, 32, True).translate([12, 10, 0])
SOLID = box(40, 30, 20) + M.sphere(14, 48).translate([20, 15, 20]) - HOLE
LUMP = mesh_of(SOLID)


def _area(loop: np.ndarray) -> float:
    x, y = loop[:-1].T
    return 0.5 * float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum())


@pytest.mark.parametrize("normal", [(0.0, 0.0, 1.0), (1.0, 0.0, 0.0), (0.3, -0.5, 0.81)])
def test_the_area_cut_is_the_librarys(normal: tuple[float, float, float]) -> None:
    way = np.array(normal) / np.linalg.norm(normal)
    u, v = across(way)
    middle = float(LUMP.bounds.mean(axis=0) @ way) + 0.123
    found = cut(LUMP, u, v, middle)
    assert found.open_loops == 0
    turned = SOLID.transform(np.column_stack([np.stack([u, v, way]), np.zeros(3)]))
    expected = turned.slice(middle).area()
    # material lies on the left: outlines count up, holes down
    assert sum(_area(loop) for loop in found.loops) == pytest.approx(expected, rel=1e-6)


def test_a_cut_through_corners_closes_all_the_same() -> None:
    """The plane z = 20 runs through the box's own upper face, and corners in it count as above."""
    found = cut(LUMP, np.array([1.0, 0.0, 0.0]), np.array([0.0, 1.0, 0.0]), 20.0)
    assert found.open_loops == 0 and found.loops


def test_a_plane_beside_the_part_cuts_nothing() -> None:
    found = cut(LUMP, np.array([1.0, 0.0, 0.0]), np.array([0.0, 1.0, 0.0]), 500.0)
    assert found.loops == () and len(found.points) == 0 and found.open_loops == 0


def test_lines_where_a_height_is_nought_lie_there() -> None:
    """The height over the cone z = distance from an axis: every point of the line is on it."""
    height = LUMP.vertices[:, 2] - np.hypot(LUMP.vertices[:, 0] - 20.0, LUMP.vertices[:, 1] - 15.0)
    lines = loops_where(LUMP.vertices, LUMP.faces, height)
    assert lines and all(np.allclose(line[0], line[-1]) for line in lines)


def test_segments_are_chained_in_their_order_and_open_ones_counted() -> None:
    segments = np.array([[[1.0, 0.0], [2.0, 0.0]], [[0.0, 0.0], [1.0, 0.0]], [[5.0, 5.0], [6.0, 5.0]]])
    lines, opened = chained(segments, np.array([1, 0, 7]), np.array([2, 1, 8]))
    assert opened == 2
    assert sorted(len(line) for line in lines) == [2, 3]
    assert next(line for line in lines if len(line) == 3).tolist() == [[0.0, 0.0], [1.0, 0.0], [2.0, 0.0]]
