"""What hangs together, against the parts of a graph as scipy finds them."""

import numpy as np
import pytest
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from pounce.solid.clumps import hung_together, within_reach


@pytest.mark.parametrize(("count", "ties"), [(1, 0), (5, 0), (40, 25), (3000, 1800), (3000, 9000)])
def test_they_are_the_parts_of_the_graph(count: int, ties: int) -> None:
    dice = np.random.default_rng(ties)
    pairs = dice.integers(0, count, (ties, 2))
    graph = coo_matrix((np.ones(ties, np.int8), (pairs[:, 0], pairs[:, 1])), shape=(count, count))
    assert hung_together(pairs, count).tolist() == connected_components(graph, directed=False)[1].tolist()


def test_a_chain_of_any_order_is_one() -> None:
    pairs = np.random.default_rng(3).permutation(np.stack([np.arange(999), np.arange(1, 1000)], axis=1))
    assert not hung_together(pairs, 1000).any()
    assert hung_together(pairs[:-1], 1000).max() == 1


@pytest.mark.parametrize("reach", [0.02, 0.045, 0.06, 0.3, 5.0])
def test_what_is_reached_is_what_the_pairs_say(reach: float) -> None:
    points = np.random.default_rng(8).random((4000, 3)) * [1.0, 1.0, 0.4]
    label = hung_together(cKDTree(points).query_pairs(reach, output_type="ndarray"), len(points))
    for start in (0, 17, 3999):
        assert (within_reach(points, start, reach) == (label == label[start])).all()
