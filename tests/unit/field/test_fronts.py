"""Ways through a mould: lengths against another library's shortest paths, order of filling against water's."""

import numpy as np
import pytest
from scipy.sparse import coo_array
from scipy.sparse.csgraph import dijkstra

from pounce.field.cells import Cells
from pounce.field.fronts import Ways, ways_of


def ways(metal: np.ndarray, gates: dict[tuple[int, int, int], int], step: float = 2.0) -> Ways:
    at = np.full(metal.shape, -1, np.int32)
    for cell, number in gates.items():
        at[cell] = number
    return ways_of(metal, np.ones(metal.shape), at, Cells(np.zeros(3), step, metal.shape))


def by_dijkstra(metal: np.ndarray, starts: list[tuple[int, int, int]]) -> np.ndarray:
    """The same by scipy, over the 26 neighbours."""
    shape = metal.shape
    number = np.arange(metal.size).reshape(shape)
    rows, columns, weights = [], [], []
    for dk in (0, 1):
        for dj in (-1, 0, 1):
            for di in (-1, 0, 1):
                if (dk, dj, di) <= (0, 0, 0):
                    continue
                a = tuple(slice(max(-d, 0), n - max(d, 0)) for d, n in zip((dk, dj, di), shape, strict=True))
                b = tuple(slice(max(d, 0), n - max(-d, 0)) for d, n in zip((dk, dj, di), shape, strict=True))
                both = metal[a] & metal[b]
                rows.append(number[a][both])
                columns.append(number[b][both])
                weights.append(np.full(int(both.sum()), np.sqrt(dk * dk + dj * dj + di * di)))
    graph = coo_array((np.concatenate(weights), (np.concatenate(rows), np.concatenate(columns))), (metal.size,) * 2)
    found = dijkstra(graph.tocsr(), directed=False, indices=[number[one] for one in starts])
    return np.asarray(found.min(axis=0)).reshape(shape)


@pytest.mark.parametrize("seed", range(6))
def test_lengths_are_the_shortest_there_are(seed: int) -> None:
    noise = np.random.default_rng(seed)
    metal = noise.random((7, 11, 9)) < 0.7
    metal[3, 5, 4] = metal[0, 0, 0] = True
    found = ways(metal, {(3, 5, 4): 0, (0, 0, 0): 1})
    wanted = by_dijkstra(metal, [(3, 5, 4), (0, 0, 0)]) * 2.0
    assert found.far_mm[metal] == pytest.approx(wanted[metal])
    assert np.isinf(found.far_mm[~metal]).all() and (found.gate[~metal] == -1).all()
    reached = np.isfinite(found.far_mm)
    one, two = (by_dijkstra(metal, [cell]) * 2.0 for cell in ((3, 5, 4), (0, 0, 0)))
    assert (found.gate[reached & (one < two - 1e-9)] == 0).all()
    assert (found.gate[reached & (two < one - 1e-9)] == 1).all()


def test_metal_seeks_its_level() -> None:
    """Two wells joined at their feet: both fill alike, the one at the gate never far ahead."""
    metal = np.zeros((12, 3, 9), bool)
    metal[:, 1, 1] = metal[:, 1, 7] = True
    metal[0, 1, 1:8] = True
    found = ways(metal, {(0, 1, 1): 0}, 1.0)
    left, right = found.before_mm3[1:, 1, 1], found.before_mm3[1:, 1, 7]
    assert (np.diff(left) > 0).all() and (np.diff(right) > 0).all()
    assert np.abs(left - right).max() <= 3.0
    assert found.before_mm3[metal].max() == metal.sum() - 1


def test_what_is_filled_before_counts_every_cell_once() -> None:
    noise = np.random.default_rng(9)
    metal = np.pad(noise.random((5, 8, 8)) < 0.8, 1)
    metal[1, 4, 4] = True
    found = ways(metal, {(1, 4, 4): 0}, 1.0)
    got_in = np.isfinite(found.before_mm3)
    assert sorted(found.before_mm3[got_in].tolist()) == list(range(int(got_in.sum())))


def test_stretches_hold_all_that_is_reached_and_hang_together() -> None:
    metal = np.zeros((5, 24, 24), bool)
    metal[1:4, 2:22, 2:22] = True
    metal[1:4, 8:16, 8:16] = False
    found = ways(metal, {(2, 12, 3): 4})
    assert sum(one.mm3 for one in found.stretches) == pytest.approx(metal.sum() * 8.0)
    assert (found.of[metal] >= 0).all() and (found.of[~metal] == -1).all()
    ends = [one for one in found.stretches if one.ends]
    assert ends and all(one.gates == (4,) for one in ends)
    for k, one in enumerate(found.stretches):
        assert all(found.stretches[b].far_mm < one.far_mm for b in one.before)
        assert (one.before == ()) == (one.far_mm < 3.1 * 2.0) or one.before
        assert found.of.ravel()[one.cell] == k
    # the far side of the ring is the last
    assert max(found.stretches, key=lambda one: one.far_mm).ends


def test_without_a_gate_in_metal_nothing_is_reached() -> None:
    metal = np.zeros((3, 3, 3), bool)
    metal[1, 1, 1] = True
    found = ways(metal, {(0, 0, 0): 0})
    assert found.stretches == () and np.isinf(found.far_mm).all()
