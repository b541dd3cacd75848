"""The runner from the sprue to a casting: straight, or the shortest way round what stands between."""

import numpy as np
import shapely
from scipy.sparse import csr_array
from scipy.sparse.csgraph import dijkstra
from shapely.geometry.base import BaseGeometry

from pounce.solid.mesh import Floats

# What stands in the way is drawn this coarsely, mm, and its corners are thinned until they are no more than so many.
COARSE_MM, CORNER_MM, MOST_CORNERS, TOUCHES_MM = 0.5, 1.0, 90, 0.05


def trunk(start: Floats, end: Floats, barred: BaseGeometry) -> Floats | None:
    """(k, 2) from ``start`` to ``end`` outside ``barred``; None where there is no way round."""
    straight = shapely.LineString([start, end])
    barred = _opened(barred.simplify(COARSE_MM), start, end)
    if barred.is_empty or (not straight.crosses(barred) and not straight.within(barred)):
        return np.array([start, end])
    points = np.vstack([start, end, _corners(barred)])
    count = len(points)
    i, j = np.triu_indices(count, 1)
    lines = shapely.linestrings(np.stack([points[i], points[j]], axis=1))
    # a hair smaller, so that what only touches it is free: one quick test instead of two slow ones
    inner = barred.buffer(-TOUCHES_MM)
    shapely.prepare(inner)
    free = ~shapely.intersects(inner, lines)
    far = np.linalg.norm(points[i] - points[j], axis=1)
    graph = csr_array((far[free], (i[free], j[free])), shape=(count, count))
    reach, before = dijkstra(graph, directed=False, indices=0, return_predecessors=True)
    if not np.isfinite(reach[1]):
        return None
    path, at = [1], 1
    while at != 0:
        at = int(before[at])
        path.append(at)
    return points[path[::-1]]


def _corners(barred: BaseGeometry) -> Floats:
    """Corners just outside what bars the way, as coarse as it takes to be few: thinned by no more than they were moved
    out.
    """
    off = CORNER_MM
    while True:
        corners = shapely.get_coordinates(barred.buffer(off, join_style="mitre").simplify(0.9 * off))
        if len(corners) <= MOST_CORNERS:
            return np.asarray(corners)
        off *= 2.0


def _opened(barred: BaseGeometry, start: Floats, end: Floats) -> BaseGeometry:
    """What bars the way, less what the ends themselves stand in."""
    for point in (start, end):
        spot = shapely.Point(point)
        if barred.contains(spot):
            barred = barred.difference(spot.buffer(barred.boundary.distance(spot) + 1.0))
    return barred
