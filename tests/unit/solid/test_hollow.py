"""Hollows cut out of parts against the bores they were drilled with."""

import manifold3d
import numpy as np
import pytest

from pounce.base.errors import UserFault
from pounce.solid.features.patches import bends_of
from pounce.solid.hollow import capped, filled, hollow_of, loop_frame, regions, rims
from pounce.solid.mesh import Mesh, edges
from pounce.solid.sky import openness
from pounce.solid.tags import FaceTags
from tests.conftest import box, mesh_of

M = manifold3d.Manifold
SIDES = 48


def prism(radius: float, high: float) -> float:
    """Volume of a regular prism of SIDES by the radius of its corners."""
    return 0.5 * SIDES * radius**2 * np.sin(2 * np.pi / SIDES) * high


def whole(solid: manifold3d.Manifold) -> Mesh:
    mesh = mesh_of(solid)
    return mesh.tagged(FaceTags.own(len(mesh.faces)))


def hollows(mesh: Mesh, seeds: np.ndarray) -> list[np.ndarray]:
    return regions(mesh, bends_of(mesh), openness(mesh, np.ones(len(mesh.faces), bool)), seeds)


def wall_of(mesh: Mesh, radius: float) -> np.ndarray:
    """Faces of a wall of this radius about x."""
    away = np.hypot(mesh.corners[..., 1], mesh.corners[..., 2])
    return np.isclose(away, radius, atol=1e-6).all(axis=1) & (np.abs(mesh.normals[:, 0]) < 0.5)


def bored(low: float, high: float, *radii: tuple[float, float, float]) -> Mesh:
    """A block from low to high along x with bores (from, to, radius) about x."""
    solid = box(high - low, 40, 40).translate([low, -20, -20])
    for start, end, radius in radii:
        solid -= M.cylinder(end - start, radius, radius, SIDES).rotate([0, 90, 0]).translate([start, 0, 0])
    return whole(solid)


def test_a_through_bore_has_two_openings_and_is_filled_to_the_block() -> None:
    mesh = bored(0, 60, (-1, 61, 8))
    (faces,) = hollows(mesh, wall_of(mesh, 8.0))
    found = hollow_of(mesh, faces)
    assert len(found.openings) == 2
    assert found.volume_mm3 == pytest.approx(prism(8, 60))
    ways = sorted(float(one.normal[0]) for one in found.openings)
    assert ways == pytest.approx([-1.0, 1.0])
    assert found.open_mm2 == pytest.approx(2 * prism(8, 1))
    assert [one.reach_mm for one in found.openings] == [pytest.approx((0.0, 0.0), abs=1e-9)] * 2
    solid = filled(mesh, [found])
    assert solid.volume == pytest.approx(60 * 40 * 40)
    assert len(edges(solid.faces, len(solid.vertices)).open_ends) == 0
    # what is left of the part keeps its tags, the caps have none
    assert (solid.tags.face == -1).sum() == sum(len(one.caps) for one in found.openings)


def test_a_stepped_bore_is_one_hollow_to_its_outer_rims() -> None:
    mesh = bored(0, 60, (-1, 61, 6), (-1, 20, 10))
    (faces,) = hollows(mesh, wall_of(mesh, 6.0))
    found = hollow_of(mesh, faces)
    assert found.volume_mm3 == pytest.approx(prism(6, 40) + prism(10, 20))
    sizes = sorted(one.area_mm2 for one in found.openings)
    assert sizes == pytest.approx([prism(6, 1), prism(10, 1)])


def test_two_bores_are_two_hollows_the_larger_first() -> None:
    solid = box(60, 80, 40).translate([0, -40, -20])
    for y, radius in ((-20, 5), (20, 9)):
        solid -= M.cylinder(62, radius, radius, SIDES).rotate([0, 90, 0]).translate([-1, y, 0])
    mesh = whole(solid)
    away = np.hypot(np.abs(mesh.corners[..., 1]) - 20.0, mesh.corners[..., 2])
    seeds = (away < 9.5).all(axis=1) & (np.abs(mesh.normals[:, 0]) < 0.5)
    found = [hollow_of(mesh, faces) for faces in hollows(mesh, seeds)]
    assert [one.volume_mm3 for one in found] == pytest.approx([prism(9, 60), prism(5, 60)])
    assert filled(mesh, found).volume == pytest.approx(60 * 80 * 40)


def test_a_dent_and_a_room_without_a_door_are_no_hollows() -> None:
    dent = whole(box(60, 60, 40) - M.sphere(20, SIDES).translate([30, 30, 52]))
    shell = np.linalg.norm(dent.corners - [30.0, 30, 52], axis=2).max(axis=1) < 20.001
    with pytest.raises(UserFault, match="wider than it is deep"):
        hollow_of(dent, np.flatnonzero(shell))
    room = whole(box(60, 60, 60) - box(20, 20, 20).translate([20, 20, 20]))
    inner = (np.abs(room.corners - 30.0) < 10.001).all(axis=(1, 2))
    with pytest.raises(UserFault, match="no way out"):
        hollow_of(room, np.flatnonzero(inner))


def test_an_open_channel_is_an_undercut_not_a_hollow() -> None:
    """A slot along the side of a block, all its length: its rim does not close it within itself."""
    mesh = whole(box(60, 40, 40) - box(70, 6, 10).translate([-5, 36, 15]))
    slot = (mesh.corners[..., 1] >= 34.0).all(axis=1) & (mesh.corners[..., 2] > 14.9).all(axis=1)
    slot &= (mesh.corners[..., 2] < 25.1).all(axis=1) & (np.abs(mesh.normals[:, 0]) < 0.5)
    slot &= mesh.corners[..., 1].min(axis=1) < 40.0 - 1e-6
    with pytest.raises(UserFault):
        hollow_of(mesh, np.flatnonzero(slot))


def test_loops_that_touch_are_parted() -> None:
    """Two triangles of the patch meet in one corner: its rim is two loops."""
    patch = np.array([[0, 1, 2], [0, 3, 4]])
    found = rims(patch)
    assert sorted(len(loop) for loop in found) == [3, 3]
    assert all(0 in loop for loop in found)


@pytest.mark.parametrize("turned", [1, -1])
def test_frame_of_a_loop(turned: int) -> None:
    square = np.array([[0.0, 0, 5], [4, 0, 5], [4, 3, 5], [0, 3, 5]])[::turned]
    centre, normal, area = loop_frame(square)
    assert centre == pytest.approx([2, 1.5, 5])
    assert normal == pytest.approx([0, 0, turned])
    assert area == pytest.approx(12.0)


def test_a_cap_leaves_out_an_island() -> None:
    """A square rim with a square island in its plane, the other way round."""
    outer = np.array([[0.0, 0, 0], [10, 0, 0], [10, 10, 0], [0, 10, 0]])
    inner = np.array([[3.0, 3, 0], [3, 6, 0], [6, 6, 0], [6, 3, 0]])
    mesh = Mesh.of(np.concatenate([outer, inner]), np.array([[0, 1, 2]]))
    found = capped(mesh, [np.arange(4), np.arange(4, 8)])
    assert found.area_mm2 == pytest.approx(100.0 - 9.0)
    assert len(found.loops) == 2 and found.reach_mm == pytest.approx((0.0, 0.0))
    assert found.beyond(outer, 2.5)[:, 2] == pytest.approx(np.full(4, 2.5 * np.sign(found.normal[2])))


def test_a_rim_that_folds_is_said() -> None:
    eight = np.array([[0.0, 0, 0], [10, 10, 0], [10, 0, 0], [0, 10, 0]])
    with pytest.raises(UserFault, match="folds over itself"):
        capped(Mesh.of(eight, np.array([[0, 1, 2]])), [np.arange(4)])
