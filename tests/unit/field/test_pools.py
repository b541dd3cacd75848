"""Pools along a line, where everything can be said by hand."""

import numpy as np

from pounce.field.pools import pools_of

X = np.arange(60)


def line(*hills: tuple[int, int, float]) -> np.ndarray:
    """Times along x: a level of 30 with hills (middle, half width, top)."""
    out = np.full(60, 30.0)
    for middle, wide, top in hills:
        out = np.maximum(out, top - (top - 30.0) * np.abs(X - middle) / wide)
    return out.reshape(1, 1, 60)


def test_two_pools_are_cut_off_from_a_feeder_where_the_web_sets() -> None:
    times = line((10, 6, 100.0), (30, 6, 80.0), (50, 8, 120.0))
    feeds = np.zeros(times.shape, np.int8)
    feeds[0, 0, 42:] = 2
    found = pools_of(times, feeds, np.ones(times.shape), late=0.0)
    assert [(one.cell, one.peak_s, one.cut_s, one.fed_by, one.meets) for one in found] == [
        (10, 100.0, 30.0, 2, 42),
        (30, 80.0, 30.0, 2, 42),
    ]
    # the web is shared between them, each cell to the pool it drains to
    assert sum(one.cells for one in found) == 42.0


def test_what_is_open_to_the_end_is_fed() -> None:
    times = (X * 1.0 + 10.0).reshape(1, 1, 60)
    feeds = np.zeros(times.shape, np.int8)
    feeds[0, 0, 50:] = 1
    assert pools_of(times, feeds, np.ones(times.shape)) == ()


def test_a_neck_that_sets_first_cuts_off_a_hill_that_stands_out() -> None:
    times = line((20, 10, 100.0), (45, 10, 100.0))
    times[0, 0, 33] = 20.0
    feeds = np.zeros(times.shape, np.int8)
    feeds[0, 0, 34:] = 3
    found = pools_of(times, feeds, np.ones(times.shape), late=0.0)
    assert len(found) == 1 and found[0].cell == 20 and found[0].cut_s == 20.0 and found[0].cells == 33.0


def test_ripples_of_the_grid_are_one_pool_and_nothing_fed_it() -> None:
    times = line((20, 15, 100.0))
    times[0, 0, 18] = 97.5
    found = pools_of(times, np.zeros(times.shape, np.int8), np.ones(times.shape), late=0.0)
    assert len(found) == 1 and found[0].cut_s == 0.0 and found[0].fed_by == 0 and found[0].cells == 60.0


def test_of_a_pool_that_nothing_feeds_only_what_sets_late_is_left_to_shrink() -> None:
    times = line((20, 15, 100.0))
    found = pools_of(times, np.zeros(times.shape, np.int8), np.ones(times.shape))
    assert found[0].cells == float((times >= 50.0).sum())
