"""Geometry against formulas and against another library."""

import manifold3d
import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st

from pounce.solid import boolean, rounds
from pounce.solid.frame import across, axis_name, turn_to_z, unit
from pounce.solid.mesh import Mesh, edges, joined, merged_vertices
from pounce.solid.picture import render, standing_view
from pounce.solid.sample import spread
from pounce.solid.section import cut
from pounce.solid.shading import corner_normals
from pounce.solid.tree import build
from pounce.solid.weld import near_vertices_merged
from tests.conftest import box, mesh_of

BALL = manifold3d.Manifold.sphere(20, 96)
LUMP = mesh_of((BALL + box(30, 8, 8)) - manifold3d.Manifold.cylinder(80, 5, 5, 48, True).rotate([40, 20, 0]))
directions = st.tuples(*[st.floats(-1, 1)] * 3).filter(lambda v: np.linalg.norm(v) > 0.05)


def test_measures_of_a_box() -> None:
    mesh = mesh_of(box(10, 20, 30).translate([100, -50, 7]))
    assert mesh.volume == pytest.approx(6000.0)
    assert mesh.area == pytest.approx(2200.0)
    assert mesh.centre_of_mass == pytest.approx([105, -40, 22])
    assert mesh.size == pytest.approx([10, 20, 30])
    assert mesh.diagonal == pytest.approx(np.sqrt(1400))


def test_measures_agree_with_trimesh() -> None:
    other = trimesh.Trimesh(LUMP.vertices, LUMP.faces, process=False)
    assert LUMP.volume == pytest.approx(other.volume)
    assert LUMP.area == pytest.approx(other.area)
    assert LUMP.centre_of_mass == pytest.approx(other.center_mass, abs=1e-6)


def test_arrays_cannot_be_written_to() -> None:
    with pytest.raises(ValueError, match="read-only"):
        LUMP.vertices[0, 0] = 1.0


def test_edges_of_closed_open_and_misturned_shells() -> None:
    cube = mesh_of(box(1, 1, 1))
    table = edges(cube.faces, 8)
    assert (len(table.pairs), len(table.open_ends), table.crowded, table.misturned) == (18, 0, 0, 0)
    opened = edges(cube.faces[1:], 8)
    assert len(opened.open_ends) == 3
    turned = np.array(cube.faces)
    turned[0] = turned[0][::-1]
    assert edges(turned, 8).misturned == 3
    assert edges(np.concatenate([cube.faces, cube.faces[:1]]), 8).crowded == 3


def test_corners_that_belong_together_are_merged_exactly_or_within_a_tolerance() -> None:
    soup = LUMP.corners.reshape(-1, 3)
    faces = np.arange(len(soup)).reshape(-1, 3)
    vertices, index = merged_vertices(soup, faces, 0.0)
    assert len(vertices) == len(LUMP.vertices)
    assert np.allclose(vertices[index], LUMP.corners)
    noisy = soup + np.random.default_rng(2).normal(scale=1e-7, size=soup.shape)
    near, index = near_vertices_merged(noisy, faces, 1e-3)
    # none is missed where a line of the grid runs between two copies
    assert len(near) == len(LUMP.vertices)
    assert np.abs(near[index] - LUMP.corners).max() < 1e-6


@given(directions)
def test_frames_are_square(direction: tuple[float, float, float]) -> None:
    d = unit(direction)
    u, v = across(d)
    assert np.cross(u, v) == pytest.approx(d, abs=1e-12)
    assert turn_to_z(d) @ d == pytest.approx([0, 0, 1], abs=1e-12)


def test_names_of_axes() -> None:
    assert axis_name(unit((0, 0, -2))) == "-z"
    assert axis_name(unit((1, 1, 0))) is None
    with pytest.raises(ValueError, match="length"):
        unit((0, 0, 0))


@given(directions)
def test_the_nearest_hit_agrees_with_plain_arithmetic(direction: tuple[float, float, float]) -> None:
    d = unit(direction)
    origins, _ = spread(LUMP, 24)
    origins = origins - d * 90.0
    distance, face = build(LUMP).nearest(origins, np.broadcast_to(d, origins.shape))
    for origin, found, hit in zip(origins, distance, face, strict=True):
        expected = _plain_hits(LUMP, origin, d)
        if len(expected) and np.isfinite(found):
            # along an edge that two share rounding may take the ray from either in plain arithmetic
            assert _plain_hits(LUMP, origin, d, 1e-9).min() - 1e-7 <= found <= expected.min() + 1e-7
            assert hit >= 0
        elif len(expected) != np.isfinite(found):
            # the ray grazes an edge: one of the two sees it
            assert np.isfinite(found) or expected.size <= 2


def _plain_hits(mesh: Mesh, origin: np.ndarray, d: np.ndarray, slack: float = 0.0) -> np.ndarray:
    """All distances at which a ray meets the triangles: solve o + t d = a + u e + v f for each."""
    a = mesh.corners[:, 0]
    e, f = mesh.corners[:, 1] - a, mesh.corners[:, 2] - a
    system = np.stack([e, f, np.broadcast_to(-d, e.shape)], axis=2)
    firm = np.abs(np.linalg.det(system)) > 1e-9
    u, v, t = np.linalg.solve(system[firm], (origin - a[firm])[:, :, None])[:, :, 0].T
    return t[(u >= -slack) & (v >= -slack) & (u + v <= 1 + slack) & (t > 0)]


def test_covered_and_blocked_say_the_same_along_z() -> None:
    points, faces = spread(LUMP, 3000)
    origins = points + LUMP.normals[faces] * 1e-3
    tree = build(LUMP)
    for way in (1, -1):
        ways = np.full(len(origins), way, np.int64)
        other = tree.blocked(origins, np.array([0.0, 0.0, float(way)]))
        assert (tree.covered(origins, ways) != other).mean() < 0.002


@pytest.mark.parametrize("count", [0, 1, 3, 4, 5, 63, 64, 65])
def test_trees_of_any_size_find_the_one_triangle_above(count: int) -> None:
    """One wall across the ray among many beside it, at every shape of the tree."""
    beside = [[[10 + k, 0, 0], [10 + k, 1, 0], [10 + k, 0, 1]] for k in range(count)]
    corners = np.array([*beside, [[-1, -1, 5], [2, -1, 5], [-1, 2, 5]]], float)
    mesh = Mesh.of(corners.reshape(-1, 3), np.arange(3 * len(corners)).reshape(-1, 3))
    distance, face = build(mesh).nearest(np.zeros((1, 3)), np.array([[0.0, 0.0, 1.0]]))
    assert distance[0] == pytest.approx(5.0)
    assert face[0] == count
    assert build(mesh).blocked(np.zeros((1, 3)), np.array([0.0, 0.0, 1.0])).all()
    assert not build(mesh).blocked(np.zeros((1, 3)), np.array([0.0, 0.0, -1.0])).any()


def test_an_empty_mesh_blocks_nothing() -> None:
    empty = build(Mesh.of(np.zeros((0, 3)), np.zeros((0, 3), int)))
    assert not empty.blocked(np.zeros((2, 3)), np.array([0.0, 0.0, 1.0])).any()


@given(directions, st.floats(0.3, 7.7))
def test_sections_close_and_have_the_area_another_library_finds(
    direction: tuple[float, float, float], offset: float
) -> None:
    """Shoelace area of the loops against manifold3d's own slice."""
    d = unit(direction)
    u, v = across(d)
    found = cut(LUMP, u, v, offset)
    assert found.open_loops == 0
    area = sum(float((p[:-1, 0] * p[1:, 1] - p[1:, 0] * p[:-1, 1]).sum()) / 2 for p in found.loops)
    matrix = np.concatenate([turn_to_z(d), np.zeros((3, 1))], axis=1)
    solid = boolean.closed_solid(LUMP)
    assert solid is not None
    assert abs(area) == pytest.approx(solid.transform(matrix).slice(offset).area(), rel=1e-6, abs=1e-6)


def test_a_section_of_a_tube_has_its_hole_the_other_way_round() -> None:
    tube = mesh_of(manifold3d.Manifold.cylinder(10, 9, 9, 256) - manifold3d.Manifold.cylinder(30, 4, 4, 256, True))
    loops = cut(tube, np.array([1.0, 0, 0]), np.array([0, 1.0, 0]), 5.0).loops
    areas = sorted(float((p[:-1, 0] * p[1:, 1] - p[1:, 0] * p[:-1, 1]).sum()) / 2 for p in loops)
    assert [abs(a) for a in areas] == pytest.approx(sorted([np.pi * 16, np.pi * 81], reverse=areas[0] < -100), rel=1e-3)
    assert areas[0] * areas[1] < 0


@pytest.mark.parametrize(("radius", "sides"), [(3.0, 24), (11.0, 200)])
def test_a_bore_is_recognised_with_its_diameter(radius: float, sides: int) -> None:
    plate = mesh_of(
        box(60, 40, 12) - manifold3d.Manifold.cylinder(40, radius, radius, sides, True).translate([22, 18, 0])
    )
    wall = np.flatnonzero(
        (np.abs(plate.normals[:, 2]) < 1e-6)
        & (np.hypot(*(plate.corners.mean(axis=1)[:, :2] - [22, 18]).T) < radius + 0.1)
    )
    found = rounds.fit(plate, wall)
    assert found is not None
    assert found.radius_mm == pytest.approx(radius, abs=1e-5)
    assert abs(found.axis[2]) == pytest.approx(1.0)
    assert found.hollow and found.turned_deg > 300
    assert rounds.fit(plate, np.flatnonzero(plate.normals[:, 2] > 0.9)) is None


def test_samples_lie_on_the_surface_in_proportion_to_its_area() -> None:
    cube = mesh_of(box(10, 10, 40))
    points, faces = spread(cube, 9000)
    tall = np.abs(cube.normals[faces, 2]) < 0.5
    assert tall.mean() == pytest.approx(1600 / 1800, abs=0.01)
    off = np.einsum("ij,ij->i", points - cube.corners[faces, 0], cube.normals[faces])
    assert np.abs(off).max() < 1e-9
    assert np.array_equal(points, spread(cube, 9000)[0])


def test_corner_normals_are_smooth_on_a_ball_and_sharp_on_a_cube() -> None:
    ball = mesh_of(manifold3d.Manifold.sphere(10, 64))
    outward = ball.corners / np.linalg.norm(ball.corners, axis=2, keepdims=True)
    assert np.einsum("ijk,ijk->ij", corner_normals(ball), outward).min() > 0.99
    cube = mesh_of(box(1, 1, 1))
    assert corner_normals(cube) == pytest.approx(np.repeat(cube.normals[:, None], 3, axis=1))


def test_joining_keeps_every_triangle_and_its_tags() -> None:
    both = joined([mesh_of(box(1, 1, 1)), LUMP])
    assert len(both.faces) == 12 + len(LUMP.faces)
    assert both.volume == pytest.approx(1 + LUMP.volume)
    assert both.tags.face[12:].tolist() == LUMP.tags.face.tolist()


def test_a_broken_shell_is_no_solid() -> None:
    assert boolean.closed_solid(Mesh.of(LUMP.vertices, LUMP.faces[1:])) is None
    assert boolean.closed_solid(Mesh.of(np.full((3, 3), np.nan), np.array([[0, 1, 2]]))) is None
    assert boolean.closed_solid(Mesh.of(np.zeros((0, 3)), np.zeros((0, 3), int))) is None


def test_the_picture_shows_the_outline_of_the_part() -> None:
    """A ball fills pi r^2 pixels and is round; paper stays paper."""
    ball = mesh_of(BALL)
    view = standing_view(ball, np.array([0.0, 0.0, 1.0]), 200, 160)
    picture = render(ball, view, background=None)
    covered = picture[:, :, 3] > 128
    assert picture.shape == (160, 200, 4)
    assert covered.sum() == pytest.approx(np.pi * (20 * view.scale) ** 2, rel=0.03)
    assert not covered[0].any() and not covered[:, 0].any()


def test_lines_are_hidden_behind_the_part() -> None:
    ball = mesh_of(BALL)
    view = standing_view(ball, np.array([0.0, 0.0, 1.0]), 200, 160)
    away = view.turn[2]
    line = np.stack([view.turn[0] * -5, view.turn[0] * 5])
    plain = render(ball, view)
    before, behind = (render(ball, view, lines=(line + away * k)[None]) for k in (21.0, -21.0))
    assert (before != plain).any()
    assert np.array_equal(behind, plain)
