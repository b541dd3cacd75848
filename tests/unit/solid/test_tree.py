"""Rays against a look at every triangle and against another library's tree."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from pounce.solid.mesh import Mesh
from pounce.solid.tree import build, tree_of
from tests.conftest import mesh_of
from tests.shapes import SHAPES
from tests.unit.solid.vtk_tree import met_along, vtk_tree

HORN = mesh_of(SHAPES["horn"]())
OFF = np.array([0.0137, 0.0291, 0.0173])  # no ray along an edge
TREE = build(HORN)
OTHER = vtk_tree(HORN)


def every(mesh: Mesh, o: np.ndarray, d: np.ndarray) -> np.ndarray:
    """Distances at which a ray meets the triangles, by planes and half planes; grazing an edge may count."""
    a, b, c = mesh.corners[:, 0], mesh.corners[:, 1], mesh.corners[:, 2]
    normal = np.cross(b - a, c - a)
    way = normal @ d
    across = np.abs(way) > 1e-9 * np.linalg.norm(normal, axis=1)  # the others stand edge on
    t = np.einsum("ij,ij->i", a - o, normal) / np.where(across, way, 1.0)
    at = o + t[:, None] * d
    inside = np.ones(len(a), bool)
    for p, q in ((a, b), (b, c), (c, a)):
        side = np.einsum("ij,ij->i", np.cross(q - p, at - p), normal)
        inside &= side >= -1e-9 * np.einsum("ij,ij->i", normal, normal)
    return np.sort(t[inside & (t > 0.0) & across])


@given(o=st.tuples(*[st.floats(-70, 70)] * 3), d=st.tuples(*[st.integers(-50, 50)] * 3).filter(any))
def test_the_nearest_hit_is_the_nearest_of_all(o: tuple[float, ...], d: tuple[int, ...]) -> None:
    origin, way = np.array(o) + OFF, np.array(d) / np.linalg.norm(d)
    all_of = every(HORN, origin, way)
    distance, face = TREE.nearest(origin[None], way[None])
    if len(all_of):
        assert distance[0] == pytest.approx(all_of[0], abs=1e-6)
        hit = origin + distance[0] * way
        corners = HORN.corners[face[0]]
        assert abs(float((hit - corners[0]) @ HORN.normals[face[0]])) < 1e-6
    else:
        assert distance[0] == np.inf and face[0] == -1
    assert bool(TREE.blocked(origin[None], way)[0]) == bool(len(all_of))


@pytest.mark.parametrize("seed", range(4))
def test_hits_agree_with_another_library(seed: int) -> None:
    noise = np.random.default_rng(seed)
    ends = noise.normal(size=(100, 2, 3))
    ends *= 60.0 / np.linalg.norm(ends, axis=2)[:, :, None]
    ends += HORN.bounds.mean(axis=0)
    ways = (ends[:, 1] - ends[:, 0]) / np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1)[:, None]
    distance, _ = TREE.nearest(ends[:, 0], ways)
    met = 0
    for k in range(100):
        points = met_along(OTHER, ends[k, 0], ends[k, 1])
        if len(points):
            met += 1
            assert distance[k] == pytest.approx(np.linalg.norm(points - ends[k, 0], axis=1).min(), abs=1e-4)
        else:
            assert distance[k] == np.inf
    assert met > 10


def test_straight_above_and_below_as_rays_say() -> None:
    noise = np.random.default_rng(5)
    origins = noise.uniform(HORN.bounds[0], HORN.bounds[1], (400, 3))
    ways = np.where(noise.random(400) < 0.5, 1, -1)
    found = TREE.covered(origins, ways)
    rays = TREE.blocked(origins, np.outer(ways, [0.0, 0.0, 1.0]))
    assert (found == rays).all() and found.any() and not found.all()


def test_one_direction_serves_all_origins() -> None:
    noise = np.random.default_rng(6)
    origins = noise.uniform(HORN.bounds[0] - 20, HORN.bounds[1] + 20, (300, 3))
    way = np.array([0.6, 0.0, 0.8])
    assert (TREE.blocked(origins, way) == TREE.blocked(origins, np.tile(way, (300, 1)))).all()


def test_boxes_hold_what_is_under_them() -> None:
    for count in (1, 3, 4, 5, 8, 9, 33, 1000):
        mesh = Mesh.of(HORN.vertices, HORN.faces[:count])
        tree = build(mesh)
        assert sorted(tree.order.tolist()) == list(range(count))
        low, high = mesh.corners.reshape(-1, 3).min(axis=0), mesh.corners.reshape(-1, 3).max(axis=0)
        assert tree.boxes[1, :3] == pytest.approx(low) and tree.boxes[1, 3:] == pytest.approx(high)
        for node in range(1, tree.first):
            for child in (2 * node, 2 * node + 1):
                if np.isinf(tree.boxes[child, 0]):
                    continue  # nothing is under it
                assert (tree.boxes[child, :3] >= tree.boxes[node, :3]).all()
                assert (tree.boxes[child, 3:] <= tree.boxes[node, 3:]).all()


def test_a_mesh_keeps_its_tree() -> None:
    one = mesh_of(SHAPES["bush"]())
    assert tree_of(one) is tree_of(one)
    assert tree_of(mesh_of(SHAPES["bush"]())) is not tree_of(one)


def test_the_nearest_of_rays_all_round_is_the_nearest_of_each() -> None:
    """From within and from without, where some rays or all meet nothing."""
    mesh = mesh_of(SHAPES["bracket"]())
    dice = np.random.default_rng(11)
    origins = mesh.bounds[0] - 20.0 + dice.random((60, 3)) * (mesh.size + 40.0)
    ways = dice.normal(size=(50, 3))
    ways = ways[ways @ [1.0, 0.4, 0.2] > 0.0]
    tree = tree_of(mesh)
    far, face = (
        each.reshape(60, -1) for each in tree.nearest(np.repeat(origins, len(ways), 0), np.tile(ways, (60, 1)))
    )
    distance, hit, way = tree.nearest_round(origins, ways)
    assert np.array_equal(distance, far.min(axis=1)) and np.isinf(distance).any() and np.isfinite(distance).any()
    met = np.isfinite(distance)
    assert np.array_equal(way[met], far[met].argmin(axis=1)) and (way[~met] == -1).all() and (hit[~met] == -1).all()
    assert np.array_equal(hit[met], face[met, way[met]])
