"""What hangs together, against the parts of a graph as scipy finds them."""

import numpy as np
import pytest
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from pounce.solid.clumps import within_reach


@pytest.mark.parametrize("reach", [0.02, 0.045, 0.06, 0.3, 5.0])
def test_what_is_reached_is_what_the_pairs_say(reach: float) -> None:
    points = np.random.default_rng(8).random((4000, 3)) * [1.0, 1.0, 0.4]
    pairs = cKDTree(points).query_pairs(reach, output_type="ndarray")
    graph = coo_matrix((np.ones(len(pairs), np.int8), (pairs[:, 0], pairs[:, 1])), shape=(4000, 4000))
    label = connected_components(graph, directed=False)[1]
    for start in (0, 17, 3999):
        assert (within_reach(points, start, reach) == (label == label[start])).all()


def test_one_point_reaches_itself() -> None:
    assert within_reach(np.zeros((1, 3)), 0, 1.0).tolist() == [True]
