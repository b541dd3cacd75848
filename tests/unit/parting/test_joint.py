"""The joint as a plane and as a height over the plan."""

from dataclasses import replace

import numpy as np
import pytest

from pounce.parting.joint import Joint, flat_joint
from pounce.parting.surface import below, relief_block, split_along
from pounce.solid.boolean import closed_solid
from pounce.solid.frame import across
from tests.conftest import box, mesh_of

UP = np.array([0.0, 0.0, 1.0])
WAYS = [UP, np.array([1.0, 0.0, 0.0]), np.array([0.48, -0.6, 0.64])]


def shaped(heights: np.ndarray, low: tuple[float, float] = (0.0, 0.0), step: float = 10.0) -> Joint:
    u, v = across(UP)
    return Joint(UP, u, v, 0.0, np.array(low), step, heights, heights, np.zeros(heights.shape, bool))


@pytest.mark.parametrize("way", WAYS)
def test_heights_over_a_plane(way: np.ndarray) -> None:
    joint = flat_joint(way, 7.0)
    points = np.random.default_rng(1).normal(size=(50, 3)) * 20
    assert joint.level and joint.range_mm() == (7.0, 7.0)
    assert joint.above(points) == pytest.approx(points @ way - 7.0)
    flat = joint.flat_points(points)
    assert np.linalg.norm(flat, axis=1) == pytest.approx(np.linalg.norm(points, axis=1))


def test_which_half_lies_above() -> None:
    joint = flat_joint(UP, 0.0)
    turned = replace(joint, turned=True)
    assert (joint.half(True), joint.half(False)) == ("cope", "drag")
    assert (turned.half(True), turned.half(False)) == ("drag", "cope")
    assert joint.up.tolist() == [0.0, 0.0, 1.0] and turned.up.tolist() == [0.0, 0.0, -1.0]


def test_between_nodes_it_is_the_plane_of_its_triangle() -> None:
    heights = np.array([[0.0, 10.0, 20.0], [0.0, 10.0, 30.0]])
    joint = shaped(heights)
    at = joint.at(
        np.array([[0.0, 0.0], [5.0, 0.0], [10.0, 10.0], [20.0, 10.0], [17.0, 5.0], [-50.0, 0.0], [99.0, 99.0]])
    )
    assert at[:4] == pytest.approx([0.0, 5.0, 10.0, 30.0])
    # lower triangle of the second square: 10 + 0.7 * 10 + 0.5 * 10
    assert at[4] == pytest.approx(22.0)
    assert at[5] == pytest.approx(0.0) and at[6] == pytest.approx(30.0)  # beyond the border: the border's own
    assert joint.range_mm() == (0.0, 30.0) and not joint.level


def test_scaled_about_the_origin() -> None:
    joint = shaped(np.array([[0.0, 10.0], [5.0, 2.0]]), (3.0, -4.0))
    bigger = joint.scaled(1.02)
    points = np.random.default_rng(2).uniform(-5, 15, (40, 3))
    assert bigger.above(points * 1.02) == pytest.approx(1.02 * joint.above(points))
    assert flat_joint(UP, 10.0).scaled(1.5).height_mm == 15.0


def test_a_relief_is_a_closed_block_of_its_own_volume() -> None:
    noise = np.random.default_rng(3)
    heights = noise.uniform(0, 10, (6, 9))
    vertices, faces = relief_block(heights, np.array([-20.0, 5.0]), 4.0, -7.0)
    from pounce.solid.mesh import Mesh  # noqa: PLC0415

    mesh = Mesh.of(vertices, faces)
    assert closed_solid(mesh) is not None
    mean = [
        (heights[j, i] + heights[j, i + 1] + heights[j + 1, i + 1]) / 6.0
        + (heights[j, i] + heights[j + 1, i + 1] + heights[j + 1, i]) / 6.0
        for j in range(5)
        for i in range(8)
    ]
    assert mesh.volume == pytest.approx(16.0 * (sum(mean) + 7.0 * 40))
    wider, more = relief_block(heights, np.array([-20.0, 5.0]), 4.0, -7.0, border_mm=3.0)
    assert Mesh.of(wider, more).size[:2] == pytest.approx(mesh.size[:2] + 6.0)


@pytest.mark.parametrize("height", [3.0, 12.0])
def test_a_part_split_along_a_joint_is_whole_again(height: float) -> None:
    solid = closed_solid(mesh_of(box(30, 20, 20)))
    over, under = split_along(solid, flat_joint(UP, height), 50.0)
    assert (under.volume(), over.volume()) == pytest.approx((600 * height, 600 * (20 - height)))
    waved = shaped(height + np.random.default_rng(4).uniform(-1, 1, (8, 8)), (-20.0, -20.0))
    over, under = split_along(solid, waved, 50.0)
    assert over.volume() + under.volume() == pytest.approx(12000.0)
    assert under.volume() == pytest.approx(600 * height, rel=0.15)


def test_a_plane_has_no_solid_under_it() -> None:
    with pytest.raises(ValueError, match="flat joint is a plane"):
        below(flat_joint(UP, 0.0), -10.0)
