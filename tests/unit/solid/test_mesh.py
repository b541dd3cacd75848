"""What is measured on a mesh, against trimesh and by formula; and the edge table."""

import manifold3d as m3
import numpy as np
import pytest
import trimesh

from pounce.solid.mesh import Mesh, areas_of, edges, merged_vertices
from pounce.solid.pick import nearest_face, on_plane, touching
from pounce.solid.rim import rim_loops, rim_of, shell
from tests.conftest import box, mesh_of

LUMP = mesh_of(
    box(40, 30, 20) + m3.Manifold.sphere(14, 40).translate([20, 15, 20]) - box(8, 40, 8).translate([5, -5, 5])
)


def test_volume_middle_area_and_bounds_are_the_librarys() -> None:
    other = trimesh.Trimesh(LUMP.vertices, LUMP.faces, process=False)
    assert LUMP.volume == pytest.approx(other.volume) and LUMP.area == pytest.approx(other.area)
    assert LUMP.centre_of_mass == pytest.approx(other.center_mass) and LUMP.bounds == pytest.approx(other.bounds)
    assert LUMP.normals == pytest.approx(other.face_normals, abs=1e-9)
    assert areas_of(LUMP.corners) == pytest.approx(other.area_faces)


def test_arrays_cannot_be_written_to() -> None:
    for array in (LUMP.vertices, LUMP.faces, LUMP.corners, LUMP.areas, LUMP.tags.face):
        with pytest.raises(ValueError, match="read-only"):
            array[0] = 0


def test_scaled_and_moved_by_formula() -> None:
    assert LUMP.scaled(2.0).volume == pytest.approx(8.0 * LUMP.volume)
    assert LUMP.scaled(np.array([1.0, 2.0, 3.0])).volume == pytest.approx(6.0 * LUMP.volume)
    turn = np.array([[0.0, -1.0, 0.0], [1.0, 0.0, 0.0], [0.0, 0.0, 1.0]])
    moved = LUMP.moved(turn, np.array([5.0, 0.0, 0.0]))
    assert moved.centre_of_mass == pytest.approx(turn @ LUMP.centre_of_mass + [5.0, 0.0, 0.0])
    assert moved.volume == pytest.approx(LUMP.volume)


def test_the_edge_table_counts_what_is_open_crowded_and_turned() -> None:
    """Euler: a closed genus-nought mesh has 3/2 m edges; less a face, three open ones; a face turned, three
    misturned.
    """
    cube = mesh_of(box(1, 1, 1))
    whole = edges(cube.faces, 8)
    assert len(whole.pairs) == 18 and len(whole.open_ends) == 0 and whole.crowded == whole.misturned == 0
    assert len(edges(cube.faces[1:], 8).open_ends) == 3
    turned = cube.faces.copy()
    turned[0] = turned[0][::-1]
    assert edges(turned, 8).misturned == 3
    assert edges(np.concatenate([cube.faces, cube.faces[:1]]), 8).crowded == 3


def test_vertices_nearer_than_a_tolerance_become_one() -> None:
    points = np.array([[0.0, 0.0, 0.0], [1e-9, 0.0, 0.0], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])
    vertices, faces = merged_vertices(points, np.array([[0, 2, 3], [1, 2, 3]]), 1e-6)
    assert len(vertices) == 3 and (faces[0] == faces[1]).all()
    exact, kept = merged_vertices(points, np.array([[0, 2, 3], [1, 2, 3]]), 0.0)
    assert len(exact) == 4 and not (kept[0] == kept[1]).all()


def test_the_nearest_face_is_the_one_pointed_at() -> None:
    """Points a hair off the middle of each face find it, or one in the same plane that they lie on."""
    for index in range(0, len(LUMP.faces), 7):
        at = LUMP.corners[index].mean(axis=0)
        found = nearest_face(LUMP, (float(at[0]), float(at[1]), float(at[2])))
        points = trimesh.triangles.closest_point(LUMP.corners, np.repeat(at[None], len(LUMP.faces), axis=0))
        far = np.linalg.norm(points - at, axis=1)
        assert far[found] <= far.min() + 1e-6 and float(LUMP.normals[found] @ LUMP.normals[index]) > 0.99


def test_faces_in_a_plane_that_hang_together() -> None:
    """Two posts on a plate: their tops lie in one plane and do not hang together."""
    posts = mesh_of(box(40, 10, 5) + box(5, 10, 20) + box(5, 10, 20).translate([35, 0, 0]))
    top = on_plane(posts, np.array([0.0, 0.0, 1.0]), 20.0, 1e-6)
    assert posts.areas[top].sum() == pytest.approx(100.0)
    left = touching(posts, top, posts.corners[:, :, 0].max(axis=1) < 10.0)
    assert posts.areas[left].sum() == pytest.approx(50.0)


def test_the_rim_of_a_patch_and_the_solid_over_it() -> None:
    """The top of the posts: two rims of four corners; lifted by 3, a solid of the area times 3."""
    posts = mesh_of(box(40, 10, 5) + box(5, 10, 20) + box(5, 10, 20).translate([35, 0, 0]))
    top = posts.faces[on_plane(posts, np.array([0.0, 0.0, 1.0]), 20.0, 1e-6)]
    loops, opened = rim_loops(top)
    assert opened == 0 and len(loops) == 2 and len(rim_of(top)) == sum(len(loop) for loop in loops)
    up = np.array([0.0, 0.0, 3.0])
    made = shell(top, posts.vertices + up, posts.vertices)
    assert made.volume == pytest.approx(300.0)
    assert len(edges(made.faces, len(made.vertices)).open_ends) == 0
    assert isinstance(made, Mesh)
