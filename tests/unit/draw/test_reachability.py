"""What can leave along the draw, against rays of another library and shapes that are plain to see."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.draw.reachability import quarters, reach_along, sagittas, sides, together, weights
from pounce.solid.mesh import Mesh
from tests.conftest import box, law, mesh_of
from tests.shapes import SHAPES
from tests.unit.solid.vtk_tree import met_along, vtk_tree

M = m3.Manifold
UP = np.array([0.0, 0.0, 1.0])


@pytest.mark.parametrize("side", [1, 2, 3, 7, 24])
def test_pieces_of_a_triangle_are_equal_and_cover_it(side: int) -> None:
    found = weights(side)
    assert found.shape == (side * side, 3, 3)
    assert found.sum(axis=2) == pytest.approx(np.ones((side * side, 3)))
    corners = np.einsum("skw,wc->skc", found, np.array([[0.0, 0], [6, 0], [0, 4]]))
    one, two = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    areas = 0.5 * np.abs(one[:, 0] * two[:, 1] - one[:, 1] * two[:, 0])
    assert areas == pytest.approx(np.full(side * side, 12.0 / side**2))
    assert found.min() >= -1e-12


@pytest.mark.parametrize("side", [2, 8, 12])
def test_four_pieces_lie_in_each_of_half_the_side(side: int) -> None:
    four, small, large = quarters(side), weights(side), weights(side // 2)
    assert sorted(four.ravel().tolist()) == list(range(side * side))
    assert small.mean(axis=1)[four].mean(axis=1) == pytest.approx(large.mean(axis=1))
    assert small[four].min(axis=(1, 2)) == pytest.approx(large.min(axis=1))
    assert small[four].max(axis=(1, 2)) == pytest.approx(large.max(axis=1))


def test_pieces_put_together_keep_every_answer_where_it_was() -> None:
    side = 24
    middles = weights(side).mean(axis=1)
    codes = np.stack([(middles[:, 0] > at).astype(np.int64) + 2 * (middles[:, 1] > 0.5) for at in (0.3, 0.61)])
    found = list(together(codes, side))
    assert sum(len(face) for face, _, _ in found) < 0.25 * codes.size
    for face in (0, 1):
        covered = np.zeros(side * side, np.int64)
        for row, shape, code in found:
            for corners, own in zip(shape[row == face], code[row == face], strict=True):
                # a point lies in a triangle when it is a mean of its corners with no share under nought
                inside = (np.linalg.solve(corners.T, middles.T) > 0.0).all(axis=0)
                assert (codes[face][inside] == own).all()
                covered += inside
        assert (covered == 1).all()


def test_larger_faces_are_asked_at_more_places() -> None:
    found = sides(np.array([1.0, 4.0, 1e-9, 1000.0]))
    assert (np.diff(found[[2, 0, 1, 3]]) >= 0).all() and found.min() == 1
    assert sides(np.zeros(3)).tolist() == [1, 1, 1]


def test_a_block_leaves_both_ways_by_its_walls() -> None:
    reach = reach_along(mesh_of(box(30, 20, 10)), UP)
    assert reach.up[reach.slope > 0.5].all() and not reach.down[reach.slope > 0.5].any()
    assert reach.down[reach.slope < -0.5].all() and not reach.up[reach.slope < -0.5].any()
    walls = np.abs(reach.slope) < 0.5
    assert reach.up[walls].all() and reach.down[walls].all()
    assert not reach.mixed.any()


def test_a_cross_bore_leaves_no_way() -> None:
    mesh = mesh_of(box(40, 40, 30) - M.cylinder(60, 5, 5, 48).rotate([0, 90, 0]).translate([-5, 20, 15]))
    reach = reach_along(mesh, UP)
    bore = np.isclose(np.hypot(mesh.corners[..., 1] - 20, mesh.corners[..., 2] - 15), 5.0, atol=1e-6).all(axis=1)
    bore &= np.abs(mesh.normals[:, 0]) < 0.5
    assert not (reach.up | reach.down)[bore].any()


@law(4, 40)
def test_pieces_agree_with_rays_of_another_library(seed: int) -> None:
    """Lumps of balls and bars, their faces asked at their middles: blocked where a ray of VTK meets anything."""
    noise = np.random.default_rng(seed)
    parts = [M.sphere(float(noise.uniform(5, 11)), 20).translate(noise.uniform(-12, 12, 3).tolist()) for _ in range(4)]
    parts.append(box(30, 4, 4).rotate(noise.uniform(0, 180, 3).tolist()))
    mesh = mesh_of(m3.Manifold.batch_boolean(parts, m3.OpType.Add))
    reach = reach_along(mesh, UP)
    other = vtk_tree(mesh)
    chosen = noise.choice(np.flatnonzero(~reach.mixed & (np.abs(reach.slope) > 0.2)), 60, replace=False)
    for face in chosen.tolist():
        way = 1.0 if reach.slope[face] > 0.0 else -1.0
        start = mesh.corners[face].mean(axis=0) + mesh.normals[face] * 1e-3 * mesh.diagonal
        met = len(met_along(other, start, start + UP * way * 200.0))
        assert bool(reach.up[face] if way > 0 else reach.down[face]) == (met == 0)


def test_turned_with_its_draw_a_part_is_judged_the_same() -> None:
    plain = mesh_of(SHAPES["mug"]())
    turn = np.array([[0.0, 0, 1], [1, 0, 0], [0, 1, 0]])
    turned = Mesh.of(plain.vertices @ turn.T, plain.faces)
    one, two = reach_along(plain, UP), reach_along(turned, turn @ UP)
    share = plain.areas / plain.area
    assert float(share[one.up != two.up].sum()) < 2e-3 and float(share[one.down != two.down].sum()) < 2e-3


def test_coarse_facets_of_a_round_wall_do_not_lock_each_other() -> None:
    """A cylinder of twelve sides leaning by half a facet's bend: its own edges stand before its own facets."""
    coarse = mesh_of(M.cylinder(40, 15, 15, 12).rotate([0.2, 0, 0]))
    reach = reach_along(coarse, UP)
    walls = np.abs(reach.slope) < 0.1
    assert (reach.up | reach.down)[walls].all()
    assert sagittas(coarse, reach.slope)[walls].max() > 0.0
    crease = mesh_of(box(30, 30, 30))
    assert (sagittas(crease, crease.normals[:, 2]) == 0.0).all()  # an edge is no curve


def test_a_face_hidden_in_part_is_told_in_pieces() -> None:
    """A table's foot under its top: the ledge is open beside the top and shut under it."""
    mesh = mesh_of(box(60, 40, 5) + box(10, 10, 30).translate([5, 5, 0]) + box(30, 40, 5).translate([0, 0, 30]))
    reach = reach_along(mesh, UP)
    ledge = (reach.slope > 0.9) & (mesh.corners[..., 2].max(axis=1) < 6.0)
    shown = np.isin(reach.piece_face, np.flatnonzero(ledge))
    sizes = 0.5 * np.linalg.norm(
        np.cross(
            reach.piece_corners[:, 1] - reach.piece_corners[:, 0], reach.piece_corners[:, 2] - reach.piece_corners[:, 0]
        ),
        axis=1,
    )
    open_mm2 = float(sizes[shown & reach.piece_up].sum() + mesh.areas[ledge & ~reach.mixed & reach.up].sum())
    assert open_mm2 == pytest.approx(30 * 40, rel=0.02)
