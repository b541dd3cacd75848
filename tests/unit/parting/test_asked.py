"""What draft is asked of a wall: by its height on its own side of the joint, and by what stands against it."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.draw.reachability import reach_along
from pounce.metals.method import Method, MethodChoices, resolve
from pounce.parting.asked import asked_draft
from pounce.parting.joint import flat_joint
from pounce.solid.mesh import Mesh
from tests.conftest import box, mesh_of

M = m3.Manifold
UP = np.array([0.0, 0.0, 1.0])
SPLIT = MethodChoices()


def asked(mesh: Mesh, height: float, method: Method) -> np.ndarray:
    return asked_draft(mesh, reach_along(mesh, UP), flat_joint(UP, height), method)


def walls(mesh: Mesh, way: tuple[float, float, float]) -> np.ndarray:
    """Faces that look that way."""
    return np.asarray(mesh.normals @ np.array(way) > 0.99)


@pytest.mark.parametrize("tall", [6.0, 25.0, 80.0, 240.0])
def test_an_outer_wall_is_asked_by_its_height(tall: float) -> None:
    method = resolve(SPLIT)
    mesh = mesh_of(box(60.0, 40.0, tall))
    out = asked(mesh, 0.0, method)
    for way in ((1.0, 0.0, 0.0), (-1.0, 0.0, 0.0), (0.0, 1.0, 0.0)):
        assert out[walls(mesh, way)] == pytest.approx(method.draft_for(tall, False))


@pytest.mark.parametrize("height", [10.0, 25.0, 45.0])
def test_a_wall_through_the_joint_is_two_walls(height: float) -> None:
    """Each half has its own height, and the lower the wall the more it is asked, or as much."""
    method = resolve(SPLIT)
    lower, upper = box(60.0, 40.0, height), box(50.0, 30.0, 60.0 - height).translate([5.0, 5.0, height])
    mesh = mesh_of(lower + upper)
    out = asked(mesh, height, method)
    side, middle = walls(mesh, (1.0, 0.0, 0.0)), mesh.corners.mean(axis=1)[:, 2]
    assert out[side & (middle > height)] == pytest.approx(method.draft_for(60.0 - height, False))
    assert out[side & (middle < height)] == pytest.approx(method.draft_for(height, False))


def test_walls_that_face_one_another_across_sand_are_asked_more() -> None:
    """Sand held in a pocket shrinks onto nothing and has to let go on two sides (common practice)."""
    method = resolve(SPLIT)
    deep = 30.0
    mesh = mesh_of(box(90.0, 60.0, 40.0) - box(30.0, 30.0, deep).translate([30.0, 15.0, 40.0 - deep]))
    out = asked(mesh, 0.0, method)
    middle = mesh.corners.mean(axis=1)
    within = (np.abs(middle[:, 0] - 45.0) < 16.0) & (np.abs(middle[:, 1] - 30.0) < 16.0)
    upright = np.abs(mesh.normals[:, 2]) < 0.01
    assert out[upright & within] == pytest.approx(method.draft_for(deep, True))
    assert out[upright & ~within] == pytest.approx(method.draft_for(40.0, False))
    assert method.draft_for(deep, True) > method.draft_for(deep, False)


def test_deep_fins_are_asked_for_what_the_gap_between_them_leaves() -> None:
    method = resolve(SPLIT)
    deep, gap = 40.0, 7.0
    fins = sum((box(4.0, 60.0, deep).translate([k * (4.0 + gap), 0.0, 0.0]) for k in range(4)), box(37.0, 60.0, 5.0))
    mesh = mesh_of(fins.translate([0.0, 0.0, -5.0]))
    out = asked(mesh, -5.0, method)
    middle = mesh.corners.mean(axis=1)
    upright = (np.abs(mesh.normals[:, 0]) > 0.99) & (middle[:, 2] > 0.0)
    between = upright & (middle[:, 0] > 1.0) & (middle[:, 0] < 36.0)
    assert between.any() and out[between] == pytest.approx(method.draft_for(deep - 5.0, True, gap))
    assert 2.0 * (deep - 5.0) * np.tan(np.radians(out[between].max())) < 0.5 * gap
    # the outermost look at nothing
    assert out[upright & ~between] == pytest.approx(method.draft_for(deep, False))


@pytest.mark.parametrize(("gap", "long"), [(3.0, 20.0), (3.0, 30.0), (5.0, 20.0)])
def test_a_boss_that_stands_close_to_one_end_of_a_long_wall_leaves_sand_between_them(gap: float, long: float) -> None:
    """Most of the wall looks at nothing, and by the mean of it the boss is far off: the two grew together."""
    method = resolve(SPLIT)
    deep = 50.0
    wall, boss = box(120.0, 10.0, deep), box(long, 20.0, deep).translate([95.0 - long, 10.0 + gap, 0.0])
    mesh = mesh_of(wall + boss + box(120.0, 60.0, 5.0).translate([0.0, 0.0, -5.0]))
    out = asked(mesh, -5.0, method)
    middle = mesh.corners.mean(axis=1)
    side = walls(mesh, (0.0, 1.0, 0.0)) & (np.abs(middle[:, 1] - 10.0) < 0.1)
    against = walls(mesh, (0.0, -1.0, 0.0)) & (np.abs(middle[:, 1] - 10.0 - gap) < 0.1)
    assert side.any() and against.any() and out[side].max() < method.draft_for(deep + 5.0, False)
    taken = (deep + 5.0) * (np.tan(np.radians(out[side].max())) + np.tan(np.radians(out[against].max())))
    assert taken < 0.7 * gap, "sand stands between them at the bottom too"


def test_own_figures_go_before_the_table_everywhere() -> None:
    method = resolve(MethodChoices(draft_deg=2.5))
    mesh = mesh_of(box(90.0, 60.0, 40.0) - box(30.0, 30.0, 30.0).translate([30.0, 15.0, 10.0]))
    assert asked(mesh, 0.0, method) == pytest.approx(2.5)


def test_level_faces_and_slopes_are_asked_the_usual() -> None:
    """What leans by more than thirty degrees is no wall: it draws anyway."""
    method = resolve(SPLIT)
    mesh = mesh_of(M.cylinder(10.0, 40.0, 10.0, 48))
    slope = np.abs(mesh.normals[:, 2]) > 0.1
    assert asked(mesh, 0.0, method)[slope] == pytest.approx(method.required_draft_deg)
