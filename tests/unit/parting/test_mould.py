"""The mould as blocks of sand, and solids split along a joint: nothing is lost or doubled."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.base.errors import UserFault
from pounce.draw.jointsurface import joint_surface_of
from pounce.parting.joint import Joint, flat_joint
from pounce.parting.mould import blocks_of
from pounce.parting.surface import below, relief_block, shaped_joint, split_along
from pounce.solid import boolean
from pounce.solid.mesh import Mesh, edges
from tests.conftest import box, law, mesh_of

M = m3.Manifold
UP = np.array([0.0, 0.0, 1.0])
EYE = np.array([500.0, -500.0, 400.0])


def tilted_disc() -> m3.Manifold:
    """A disc whose rim no plane across the draw meets."""
    return M.cylinder(4.0, 30.0, 30.0, 64).rotate([18.0, 0.0, 0.0])


def following(mesh: Mesh) -> Joint:
    return shaped_joint(UP, joint_surface_of(mesh, edges(mesh.faces, len(mesh.vertices))))


@pytest.mark.parametrize("height", [5.0, 10.0, 16.0])
@pytest.mark.parametrize("halves", [True, False])
def test_blocks_and_pattern_fill_the_box_but_for_the_corner(height: float, halves: bool) -> None:
    """The quarter of the cope before the eye is cut away: what is left is three quarters of the cope's sand."""
    mesh = mesh_of(box(60.0, 60.0, 20.0).translate([-30.0, -30.0, 0.0]))
    made = blocks_of(mesh, flat_joint(UP, height), halves, EYE)
    drag, cope = made.drag, made.cope
    size = drag.size
    assert drag.volume == pytest.approx(float(size[0] * size[1] * size[2]) - 3600.0 * height, rel=1e-9)
    high = float(cope.bounds[1, 2] - height)
    whole = float(size[0] * size[1]) * high - 3600.0 * (20.0 - height)
    assert cope.volume == pytest.approx(0.75 * whole, rel=1e-9)
    parts = [one for one in (made.upper, made.lower) if one is not None]
    assert len(parts) == (2 if halves else 1)
    assert sum(one.volume for one in parts) == pytest.approx(mesh.volume, rel=1e-9)


def test_an_open_shell_has_no_mould() -> None:
    mesh = mesh_of(box(10.0, 10.0, 10.0))
    broken = Mesh.of(mesh.vertices, mesh.faces[1:])
    with pytest.raises(UserFault, match="shell is open"):
        blocks_of(broken, flat_joint(UP, 5.0), True, EYE)


def test_along_a_joint_that_follows_both_halves_are_the_whole() -> None:
    solid = tilted_disc()
    mesh = mesh_of(solid)
    joint = following(mesh)
    assert not joint.level
    over, under = split_along(solid, joint, mesh.diagonal)
    assert float(over.volume() + under.volume()) == pytest.approx(float(solid.volume()), rel=1e-6)
    assert float((over ^ under).volume()) < 1e-6 * float(solid.volume())
    # each half lies on its own side of the joint
    for half, sign in ((over, 1.0), (under, -1.0)):
        middles = boolean.bare_mesh(half).corners.mean(axis=1)
        assert float((sign * joint.above(middles)).min()) > -0.3


def test_a_flat_joint_has_no_block() -> None:
    with pytest.raises(ValueError, match="plane"):
        below(flat_joint(UP, 3.0), -10.0)


@law(6, 60)
def test_a_relief_block_holds_what_lies_under_its_heights(seed: int) -> None:
    """The integral of the heights over their triangles, less the floor; closed, and carried on at its border."""
    dice = np.random.default_rng(seed)
    ny, nx = (int(n) for n in dice.integers(3, 12, 2))
    heights, step, floor = dice.uniform(0.0, 9.0, (ny, nx)), float(dice.uniform(0.5, 4.0)), -5.0
    low = dice.uniform(-20.0, 20.0, 2)
    a, b, c, d = heights[:-1, :-1], heights[:-1, 1:], heights[1:, 1:], heights[1:, :-1]
    by_hand = float(((a + b + c) / 3.0 + (a + c + d) / 3.0).sum()) * step**2 / 2.0 - floor * step**2 * (ny - 1) * (
        nx - 1
    )
    solid = boolean.closed_solid(Mesh.of(*relief_block(heights, low, step, floor)))
    assert solid is not None and float(solid.volume()) == pytest.approx(by_hand, rel=1e-9)
    border = float(dice.uniform(1.0, 10.0))
    wider = boolean.closed_solid(Mesh.of(*relief_block(heights, low, step, floor, border)))
    assert wider is not None
    x0, y0, _, x1, y1, _ = wider.bounding_box()
    assert (x1 - x0, y1 - y0) == pytest.approx((step * (nx - 1) + 2.0 * border, step * (ny - 1) + 2.0 * border))
    assert float(wider.volume()) > by_hand
