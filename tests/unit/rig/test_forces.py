"""Lift of metal against the cope, by hand: rho g times head times area."""

import manifold3d
import numpy as np
import pytest

from pounce.rig.forces import casting_lift, halves_mm3, lift_n
from pounce.rig.item import item_of
from tests.conftest import box, mesh_of
from tests.unit.rig.helpers import item_like, joint_at

RHO, G = 2420.0, 9.80665


def test_a_plate_under_the_joint() -> None:
    """200 by 100, its top in the joint, head 100: 47.46 N."""
    item = item_like(box(200, 100, 20), 20.0)
    assert casting_lift(item, item.metal_mesh, 100.0, RHO) == pytest.approx(RHO * G * 0.1 * 0.02, rel=1e-6)


def test_the_same_plate_in_the_cope() -> None:
    """20 of the head stand beside it: four fifths of that."""
    item = item_like(box(200, 100, 20), 0.0)
    assert casting_lift(item, item.metal_mesh, 100.0, RHO) == pytest.approx(RHO * G * 0.08 * 0.02, rel=1e-6)


def test_half_a_ball_in_the_cope() -> None:
    """rho g (h pi r2 - 2/3 pi r3): 12.43 N for r = 50 under 100."""
    ball = manifold3d.Manifold.sphere(50.0, 256).trim_by_plane([0.0, 0.0, 1.0], 0.0)
    item = item_like(ball, 0.0)
    exact = RHO * G * (0.1 * np.pi * 0.05**2 - 2.0 / 3.0 * np.pi * 0.05**3)
    assert exact == pytest.approx(12.43, abs=0.01)
    assert casting_lift(item, item.metal_mesh, 100.0, RHO) == pytest.approx(exact, rel=1e-3)


def test_a_cored_bush_pushes_by_its_metal_only() -> None:
    """A bush 60 wide and 40 high on the joint with a core of 30 through it: its ring of metal under 60 of head; what
    the core pushes is the core's own.
    """
    outer = manifold3d.Manifold.cylinder(40.0, 30.0, 30.0, 128)
    bore = manifold3d.Manifold.cylinder(60.0, 15.0, 15.0, 128).translate([0.0, 0.0, -10.0])
    whole = outer + bore
    item = item_of(mesh_of(outer - bore), mesh_of(whole), (mesh_of(bore),), joint_at(0.0), (1.0, 1.0, 1.0))
    ring = float((outer - bore).volume()) / 40.0 * 1e-6
    assert casting_lift(item, mesh_of(item.whole), 100.0, RHO) == pytest.approx(RHO * G * 0.06 * ring, rel=1e-6)


def test_an_inner_roof_pushes_its_core_and_not_the_cope() -> None:
    """A room of 30 inside a block: its floor looks up, but there the core stands."""
    block = box(80, 80, 60)
    room = box(30, 30, 30).translate([25.0, 25.0, 15.0])
    item = item_of(mesh_of(block - room), mesh_of(block), (mesh_of(room),), joint_at(0.0), (1.0, 1.0, 1.0))
    top = RHO * G * 0.04 * 0.08 * 0.08
    assert casting_lift(item, mesh_of(item.whole), 100.0, RHO) == pytest.approx(top, rel=1e-6)


def test_no_face_above_the_metal_is_pushed() -> None:
    corners = np.array([[[0.0, 0.0, 120.0], [10.0, 0.0, 120.0], [0.0, 10.0, 120.0]]])
    assert lift_n(corners, 100.0, RHO) == 0.0


def test_halves_add_up() -> None:
    above, below = halves_mm3(box(10, 10, 10).translate([0.0, 0.0, -4.0]))
    assert (above, below) == (pytest.approx(600.0), pytest.approx(400.0))
