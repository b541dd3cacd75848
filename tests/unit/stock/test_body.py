"""The body that additions work on: what is joined and cut carries its line, and nothing is lost on the way."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.base.errors import UserFault
from pounce.solid.boolean import closed_solid
from pounce.solid.mesh import Mesh
from pounce.stock.body import body_of, joined_to, simplified, solid_of, standing_off
from tests.conftest import box, mesh_of

M = m3.Manifold


def test_faces_of_one_flat_patch_are_one_face_of_the_part() -> None:
    fine = mesh_of(box(20, 20, 20).refine(4))
    body = body_of(fine)
    assert len(np.unique(body.tags.face)) == 6
    for face in np.unique(body.tags.face):
        normals = fine.normals[body.tags.face == face]
        assert (normals @ fine.normals[face]).min() > 1.0 - 1e-9
    assert (body.tags.line == -1).all()


def test_an_open_shell_takes_nothing() -> None:
    cube = mesh_of(box(20, 20, 20))
    opened = body_of(Mesh.of(cube.vertices, cube.faces[1:]))
    with pytest.raises(UserFault, match="shell is open"):
        solid_of(opened)
    with pytest.raises(UserFault, match="came out open"):
        joined_to(body_of(cube), [opened], 0)


def test_what_is_joined_carries_its_line_and_the_rest_its_face() -> None:
    body = body_of(mesh_of(box(40, 30, 10)))
    bosses = [mesh_of(M.cylinder(8, 4, 4, 32).translate([x, 15, 9.9])) for x in (10, 30)]
    made = joined_to(body, bosses, 3)
    added = made.tags.line == 3
    assert made.volume == pytest.approx(40 * 30 * 10 + 2 * 7.9 * 0.5 * 32 * 16 * np.sin(2 * np.pi / 32), rel=1e-6)
    assert (made.corners[added][..., 2] > 9.99).all()
    assert (made.corners[~added][..., 2] < 10.01).all()
    assert (made.tags.face[~added] >= 0).all() and (made.tags.face[added] == -1).all()


def test_what_is_cut_carries_its_line() -> None:
    body = body_of(mesh_of(box(40, 30, 10)))
    made = joined_to(body, [mesh_of(M.cylinder(20, 4, 4, 32).translate([20, 15, -5]))], 1, cut=True)
    wall = made.tags.line == 1
    assert np.hypot(made.corners[wall][..., 0] - 20, made.corners[wall][..., 1] - 15).max() <= 4.0 + 1e-9
    assert closed_solid(made) is not None
    assert made.volume == pytest.approx(12000 - 10 * 0.5 * 32 * 16 * np.sin(2 * np.pi / 32), rel=1e-6)


def test_lines_of_earlier_tools_stay_told() -> None:
    body = body_of(mesh_of(box(40, 30, 10)))
    one = joined_to(body, [mesh_of(box(5, 5, 15).translate([5, 5, 0]))], 0)
    two = joined_to(one, [mesh_of(box(5, 5, 20).translate([25, 5, 0]))], 1)
    assert set(np.unique(two.tags.line)) == {-1, 0, 1}
    assert two.corners[two.tags.line == 0][..., 0].max() <= 10.0 + 1e-6
    assert two.corners[two.tags.line == 1][..., 0].min() >= 25.0 - 1e-6


def test_simplifying_merges_flats_and_moves_nothing() -> None:
    fine = body_of(mesh_of((box(30, 20, 10) - M.cylinder(30, 4, 4, 24).translate([15, 10, -5])).refine(3)))
    less = simplified(fine)
    assert len(less.faces) < len(fine.faces) / 3
    assert less.volume == pytest.approx(fine.volume, rel=1e-9)
    assert less.bounds == pytest.approx(fine.bounds)
    assert set(np.unique(less.tags.face)) == set(np.unique(fine.tags.face))


def test_filler_stands_off_by_how_far_its_faces_were_moved() -> None:
    part = mesh_of(box(40, 30, 10))
    body = body_of(part)
    top = body.normals[:, 2] > 0.5
    raised = np.array(body.vertices)
    raised[np.unique(body.faces[top])] += [0.0, 0.0, 0.7]
    moved = Mesh.of(raised, body.faces, body.tags)
    off = standing_off(part, moved)
    assert off[raised[:, 2] > 10.0] == pytest.approx(np.full(4, 0.7))
    assert off[raised[:, 2] < 5.0] == pytest.approx(np.zeros(4))
