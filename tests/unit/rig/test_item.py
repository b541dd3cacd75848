"""One casting in the mould's frame."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.base.errors import UserFault
from pounce.rig.item import item_of, kept_item, placed, turned_point
from pounce.solid.mesh import Mesh
from tests.conftest import box, mesh_of
from tests.unit.rig.helpers import item_like, joint_at

M = m3.Manifold
PART = (box(60, 40, 20) + M.cylinder(35, 8, 8, 48).translate([15, 20, 0])).translate([100.0, -30.0, 7.0])


def test_its_silhouette_stands_in_the_middle_and_its_joint_at_nought() -> None:
    item = item_like(PART, 17.0)
    x0, y0, x1, y1 = item.plan.bounds
    assert (x0 + x1, y0 + y1) == pytest.approx((0.0, 0.0), abs=1e-6)
    assert (x1 - x0, y1 - y0) == pytest.approx((60.0, 40.0), abs=0.3)
    assert (item.up_mm, item.down_mm) == pytest.approx((25.0, 10.0))
    assert item.halves_mm3 == pytest.approx((60 * 40 * 10 + item.metal.volume() - 48000, 24000.0), rel=1e-6)


def test_at_pattern_size_it_is_larger() -> None:
    mesh = mesh_of(PART)
    one = item_of(mesh, mesh, (), joint_at(17.0), (1.012, 1.012, 1.012))
    assert float(one.metal.volume()) == pytest.approx(mesh.volume * 1.012**3)
    assert one.up_mm == pytest.approx(25.0 * 1.012)


def test_the_metals_outline_is_cut_at_the_joint() -> None:
    """A cup mouth down: at the joint its rim is a ring, seen from above it is a disc."""
    cup = M.cylinder(30, 25, 25, 64) - M.cylinder(25, 20, 20, 64)
    item = item_like(cup, 0.0)
    section = 0.5 * 64 * np.sin(2 * np.pi / 64)
    assert item.outline.area == pytest.approx(section * (25**2 - 20**2), rel=0.02)
    assert item.metal_plan.area == pytest.approx(section * 25**2, rel=0.01)


@pytest.mark.parametrize("turn", [0.0, 30.0, 90.0, -145.0])
def test_points_go_where_shapes_go(turn: float) -> None:
    item = item_like(PART, 17.0)
    at = (12.0, -7.0)
    corner = np.array(item.plan.exterior.coords[3])
    moved = turned_point(corner, at, turn)
    shape = placed(item.plan, at, turn)
    assert np.array(shape.exterior.coords[3]) == pytest.approx(moved)
    assert shape.area == pytest.approx(item.plan.area)


def test_it_is_made_once_for_as_long_as_nothing_changes() -> None:
    mesh = mesh_of(PART)
    one = kept_item(mesh, mesh, (), joint_at(17.0), (1.0, 1.0, 1.0))
    assert kept_item(mesh, mesh, (), joint_at(17.0), (1.0, 1.0, 1.0)) is one
    assert kept_item(mesh, mesh, (), joint_at(16.0), (1.0, 1.0, 1.0)) is not one
    assert kept_item(mesh, mesh, (), joint_at(16.0), (1.01, 1.0, 1.0)).up_mm == pytest.approx(26.0)


def test_an_open_shell_is_said() -> None:
    mesh = mesh_of(PART)
    opened = Mesh.of(mesh.vertices, mesh.faces[1:])
    with pytest.raises(UserFault, match="shell is open"):
        item_of(opened, mesh, (), joint_at(17.0), (1.0, 1.0, 1.0))
