"""The parting line: closed loops between what leaves up and what leaves down."""

import manifold3d as m3
import numpy as np
import pytest
import shapely

from pounce.draw.reachability import reach_along
from pounce.parting.joint import flat_joint
from pounce.parting.line import outline_of
from pounce.solid.boolean import closed_solid
from tests.conftest import box, mesh_of
from tests.worked import FINIAL, demo

M = m3.Manifold
UP = np.array([0.0, 0.0, 1.0])


@pytest.mark.parametrize("height", [2.0, 10.0, 18.0])
def test_a_flat_joints_line_is_the_parts_section(height: float) -> None:
    solid = (M.cylinder(20, 30, 20, 64) - M.cylinder(40, 6, 6, 48).translate([5, 0, -5])).translate([3, -7, 0])
    mesh = mesh_of(solid)
    loops = outline_of(mesh, reach_along(mesh, UP), flat_joint(UP, height))
    assert len(loops) == 2
    for loop in loops:
        assert loop[0] == pytest.approx(loop[-1])
        assert loop[:, 2] == pytest.approx(np.full(len(loop), height))
    shapes = [shapely.Polygon(loop[:, :2]) for loop in loops]
    whole = shapes[0].symmetric_difference(shapes[1])
    cut = closed_solid(mesh)
    assert cut is not None
    assert whole.area == pytest.approx(float(cut.slice(height).area()), rel=1e-6)


def test_at_a_flat_back_it_is_taken_a_hair_inside() -> None:
    mesh = mesh_of(box(40, 30, 10))
    reach = reach_along(mesh, UP)
    (loop,) = outline_of(mesh, reach, flat_joint(UP, 0.0), inside_mm=0.01)
    assert loop[:, 2] == pytest.approx(np.zeros(len(loop)))
    assert np.ptp(loop[:, :2], axis=0) == pytest.approx([40.0, 30.0])


def test_a_line_that_follows_the_part_closes_and_lies_on_it() -> None:
    results, _ = demo(FINIAL)
    assert results.parting is not None and results.part is not None
    mesh = results.part.mesh
    loops = outline_of(mesh, reach_along(mesh, results.parting.joint.direction), results.parting.joint)
    assert loops
    from tests.unit.pattern.helpers import distances  # noqa: PLC0415

    for loop in loops:
        assert loop[0] == pytest.approx(loop[-1], abs=1e-9)
        assert np.abs(distances(mesh, loop)).max() < 1e-4 * mesh.diagonal
    longest = max(float(np.linalg.norm(np.diff(loop, axis=0), axis=1).sum()) for loop in loops)
    assert longest > mesh.size.max()
