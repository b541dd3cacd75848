"""Locked area over the height of a flat joint, against a cut of every triangle at every height."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from pounce.draw.scan import Pieces, below, locked_at, scan


def random_pieces(seed: int, count: int = 60, level: int = 8) -> Pieces:
    noise = np.random.default_rng(seed)
    heights = noise.uniform(-20, 30, (count, 3))
    heights[:level] = heights[:level, :1]  # level faces
    up, down = noise.random(count) < 0.6, noise.random(count) < 0.6
    return Pieces(heights, noise.uniform(0.1, 5.0, count), up, down)


@given(
    corners=st.lists(st.tuples(st.integers(-40, 40), st.integers(-40, 40)), min_size=3, max_size=3, unique=True),
    at=st.integers(-45, 45),
)
def test_the_area_under_a_height_is_what_a_cut_leaves(corners: list[tuple[int, int]], at: int) -> None:
    triangle = shapely.Polygon(corners)
    if triangle.area < 1e-6:
        return
    heights = np.array([[float(y) for _, y in corners]])
    if np.ptp(heights) == 0.0:
        return
    wanted = triangle.intersection(shapely.box(-100, -100, 100, at)).area
    assert below(heights, np.array([triangle.area]), float(at))[0] == pytest.approx(wanted, abs=1e-7)


def test_level_faces_count_as_under_once_passed() -> None:
    heights, area = np.full((1, 3), 5.0), np.array([2.0])
    assert [float(below(heights, area, at)[0]) for at in (4.9, 5.0, 5.1)] == [0.0, 0.0, 2.0]


@pytest.mark.parametrize("seed", range(8))
def test_the_scan_is_the_locked_area_at_each_of_its_heights(seed: int) -> None:
    pieces = random_pieces(seed)
    heights, locked = scan(pieces)
    assert (np.diff(heights) >= 0.0).all()
    for at, value in zip(heights, locked, strict=True):
        under = below(pieces.heights, pieces.areas, float(at) + 1e-9)
        over = pieces.areas - under
        wanted = float((np.where(pieces.up, 0.0, over) + np.where(pieces.down, 0.0, under)).sum())
        level = pieces.heights.max(axis=1) - pieces.heights.min(axis=1) < 1e-9
        here = level & (np.abs(pieces.heights[:, 0] - at) < 1e-6)
        assert value == pytest.approx(wanted, abs=float(pieces.areas[here].sum()) + 1e-6)


@pytest.mark.parametrize("seed", range(8))
def test_no_height_locks_less_than_the_least_of_the_scan(seed: int) -> None:
    pieces = random_pieces(seed, level=0)
    _, locked = scan(pieces)
    for at in np.linspace(pieces.heights.min() - 1, pieces.heights.max() + 1, 400):
        assert locked_at(pieces, float(at), 0.0) >= locked.min() - 1e-6


def test_what_leaves_neither_way_locks_at_any_height() -> None:
    pieces = Pieces(
        np.array([[0.0, 1, 2], [0.0, 1, 2]]), np.array([3.0, 4.0]), np.array([False, True]), np.array([False, True])
    )
    assert scan(pieces)[1].tolist() == [3.0]
    assert locked_at(pieces, 1.0, 0.0) == 3.0


def test_a_level_face_in_the_joint_takes_its_free_side() -> None:
    top = Pieces(np.full((1, 3), 10.0), np.array([6.0]), np.array([True]), np.array([False]))
    assert locked_at(top, 10.0, 0.01) == 0.0
    assert locked_at(top, 9.0, 0.01) == 0.0  # under the joint of nothing: it lies above and leaves up
    assert locked_at(top, 11.0, 0.01) == 6.0


@pytest.mark.parametrize("seed", range(5))
def test_points_are_level_pieces(seed: int) -> None:
    noise = np.random.default_rng(seed)
    # some at the very same height, as on a level face
    heights = np.round(noise.uniform(-20.0, 20.0, 300), seed % 3)
    areas, up, down = noise.uniform(0.1, 5.0, 300), noise.random(300) < 0.5, noise.random(300) < 0.5
    points, faces = Pieces(heights, areas, up, down), Pieces(np.repeat(heights[:, None], 3, axis=1), areas, up, down)
    for one, other in zip(scan(points), scan(faces), strict=True):
        assert np.array_equal(one, other)
    for at in (-21.0, -3.0, float(heights[7]), 11.5, 21.0):
        for slack in (0.0, 0.5):
            assert locked_at(points, at, slack) == locked_at(faces, at, slack)
