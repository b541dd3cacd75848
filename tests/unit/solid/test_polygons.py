"""Outlines cut into triangles: all of the area, none of the holes, turned as they run."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from pounce.solid.mesh import areas_of
from pounce.solid.polygons import bulged, spanned, triangulated


def _flat(points: np.ndarray) -> np.ndarray:
    return np.column_stack([points, np.zeros(len(points))])


@given(st.integers(0, 500))
def test_the_triangles_of_a_star_make_its_area(seed: int) -> None:
    """Corners at random radii round a middle make a plain outline; shapely gives its area."""
    random = np.random.default_rng(seed)
    count = int(random.integers(3, 40))
    angle = np.sort(random.uniform(0.0, 2.0 * np.pi, count)) + np.arange(count) * 1e-3
    outline = np.stack([np.cos(angle), np.sin(angle)], axis=1) * random.uniform(2.0, 9.0, count)[:, None]
    shape = shapely.Polygon(outline)
    if not shape.is_valid or shape.exterior.is_ccw is False:
        return
    found = triangulated([outline])
    assert len(found) == count - 2
    assert areas_of(_flat(outline)[found]).sum() == pytest.approx(shape.area, rel=1e-9)


def test_a_hole_is_left_out() -> None:
    outer = np.array([[0.0, 0.0], [10.0, 0.0], [10.0, 10.0], [0.0, 10.0]])
    hole = np.array([[2.0, 2.0], [2.0, 4.0], [4.0, 4.0], [4.0, 2.0]])
    found = triangulated([outer, hole])
    assert areas_of(_flat(np.concatenate([outer, hole]))[found]).sum() == pytest.approx(100.0 - 4.0)


def test_a_loop_in_space_is_spanned_as_it_runs() -> None:
    """A rim bent out of its plane: n - 2 faces, all looking the way the loop turns."""
    angle = np.linspace(0.0, 2.0 * np.pi, 24, endpoint=False)
    rim = np.stack([5.0 * np.cos(angle), 3.0 * np.sin(angle), 0.3 * np.sin(3.0 * angle)], axis=1)
    found = spanned(rim)
    assert found.shape == (22, 3)
    corners = rim[found]
    normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    assert (normals[:, 2] > 0.0).all()
    turned = rim[::-1]
    other = turned[spanned(turned)]
    assert (np.cross(other[:, 1] - other[:, 0], other[:, 2] - other[:, 0])[:, 2] < 0.0).all()


def test_a_loop_that_folds_over_itself_is_fanned_out_so_that_it_closes_all_the_same() -> None:
    bow = np.array([[0.0, 0.0, 0.0], [4.0, 4.0, 0.0], [4.0, 0.0, 0.0], [0.0, 4.1, 0.0]])
    assert len(spanned(bow)) == 2
    line = np.array([[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [2.0, 0.0, 0.0]])
    assert spanned(line).tolist() == [[0, 1, 2]]


def test_a_rim_over_a_ridge_is_cut_up_along_it() -> None:
    """A circle on a roof of two planes: upward the cap is the roof, downward its valleys are bridged."""
    turn = np.linspace(0.0, 2.0 * np.pi, 32, endpoint=False)
    flat = 10.0 * np.column_stack([np.cos(turn), np.sin(turn)])
    heights = -0.1 * np.abs(flat[:, 1])
    points = np.column_stack([flat, heights])
    plain = triangulated([flat])
    volume = {}
    for up in (True, False):
        cut = bulged(flat, heights, plain, up)
        assert len(cut) == 30 and len(np.unique(cut)) == 32
        a, b, c = (flat[cut[:, k]] for k in range(3))
        turned = (b - a)[:, 0] * (c - a)[:, 1] - (b - a)[:, 1] * (c - a)[:, 0]
        assert turned.min() > 0.0 and turned.sum() / 2.0 == pytest.approx(16.0 * 100.0 * np.sin(2.0 * np.pi / 32.0))
        volume[up] = float((turned / 6.0 * heights[cut].sum(axis=1)).sum())
        way = np.cross(points[cut[:, 1]] - points[cut[:, 0]], points[cut[:, 2]] - points[cut[:, 0]])
        way /= np.linalg.norm(way, axis=1)[:, None]
        if up:  # two planes and nothing else
            assert np.abs(np.abs(way[:, 1]) - 0.1 / np.sqrt(1.01)).max() < 1e-9
    assert volume[True] > volume[False] + 50.0
