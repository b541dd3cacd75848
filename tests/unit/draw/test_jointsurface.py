"""The joint's surface over a part, where a part gives it hardly anything to hold on to."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.draw.jointsurface import CELLS, COARSE, joint_surface_of
from pounce.solid.mesh import edges
from tests.conftest import box, mesh_of
from tests.shapes import SHAPES


@pytest.mark.parametrize("high", [1.0, 12.0])
def test_needles_that_cover_no_cell_are_parted_at_their_middle(high: float) -> None:
    """Two hairs, ten centimetres apart: no cell of the grid is under metal, and no rim says where the joint lies."""
    hairs = box(1e-3, 1e-3, high) + box(1e-3, 1e-3, high).translate([100.0, 73.0, 0.0])
    mesh = mesh_of(hairs)
    surface = joint_surface_of(mesh, edges(mesh.faces, len(mesh.vertices)))
    assert not surface.plan.covered.any()
    assert surface.flat and surface.level_mm == pytest.approx(high / 2.0) and surface.relief_mm == 0.0
    assert np.isfinite(surface.height).all()


def test_a_tilted_disc_is_followed_round_its_rim() -> None:
    """The rim of a thin disc rises by its width times the sine of its tilt."""
    disc = m3.Manifold.cylinder(2.0, 30.0, 30.0, 96).rotate([20.0, 0.0, 0.0])
    mesh = mesh_of(disc)
    surface = joint_surface_of(mesh, edges(mesh.faces, len(mesh.vertices)))
    assert not surface.flat
    assert surface.relief_mm == pytest.approx(60.0 * np.sin(np.radians(20.0)), rel=0.12)


@pytest.mark.parametrize("cells", [COARSE, CELLS])
@pytest.mark.parametrize("name", ["horn", "bracket", "mug"])
def test_what_a_draw_is_compared_by_hangs_on_the_rim_alone(name: str, cells: int) -> None:
    """Eased creases and the way through the part change no figure of it, so they are left out there."""
    mesh = mesh_of(SHAPES[name]().rotate([24.0, 11.0, 0.0]))
    whole, beside = (
        joint_surface_of(mesh, edges(mesh.faces, len(mesh.vertices)), cells, beside_only=only) for only in (False, True)
    )
    assert not whole.flat and whole.relief_mm > 0.0
    figures = [(one.relief_mm, one.missed, one.slope_deg, one.level_mm, one.windows) for one in (whole, beside)]
    assert figures[0] == figures[1]
    assert np.array_equal(whole.free[whole.rim], beside.free[beside.rim])
    assert not np.array_equal(whole.height, beside.height)


def cap(hole: float = 0.0, foot: float = 0.0) -> m3.Manifold:
    """A post's cap: four upright sides 20 high under a pyramid, hollow to a point inside; a ``hole`` in its tip, and
    feet so high under its rim.
    """
    outside = m3.Manifold.hull_points([(x, y, z) for z in (0, 20) for x in (-30, 30) for y in (-30, 30)] + [(0, 0, 40)])
    inside = m3.Manifold.hull_points([(x, y, -1) for x in (-26, 26) for y in (-26, 26)] + [(0, 0, 36)])
    solid = outside - inside
    if hole:
        solid -= m3.Manifold.cylinder(60.0, hole, hole, 48)
    if foot:
        solid += box(4.0, 4.0, foot + 2.0).translate([-30.0, -30.0, -foot])
    return solid


@pytest.mark.parametrize(("turned", "end"), [(False, 0.0), (True, 0.0)])
def test_upright_sides_are_parted_at_the_end_that_all_of_their_rim_reaches(turned: bool, end: float) -> None:
    """So all of the part lies to one side, on a plain board, in place of half way up its sides."""
    solid = cap().rotate([180.0, 0.0, 0.0]) if turned else cap()
    mesh = mesh_of(solid)
    surface = joint_surface_of(mesh, edges(mesh.faces, len(mesh.vertices)))
    assert surface.flat and surface.level_mm == pytest.approx(end, abs=1e-9)
    assert np.allclose(surface.free[surface.rim], end, atol=1e-9)


@pytest.mark.parametrize("solid", [cap(hole=6.0), cap(foot=5.0)], ids=["a hole in its tip", "a foot under its rim"])
def test_a_rim_that_does_not_reach_the_end_everywhere_is_parted_as_before(solid: m3.Manifold) -> None:
    mesh = mesh_of(solid)
    surface = joint_surface_of(mesh, edges(mesh.faces, len(mesh.vertices)))
    low, high = mesh.bounds[:, 2]
    assert low + 1.0 < surface.level_mm < high - 1.0


def test_a_window_held_elsewhere_leaves_the_ground_at_the_end() -> None:
    """A ring of a trough, open below: both its rims reach the end, and the window alone is moved by hand."""
    trough = [(10, 0), (12, 0), (12, 19), (20, 28), (28, 19), (28, 0), (30, 0), (30, 20), (20, 31), (10, 20)]
    mesh = mesh_of(m3.Manifold.revolve(m3.CrossSection([trough]), 96))
    table = edges(mesh.faces, len(mesh.vertices))
    whole, moved = (joint_surface_of(mesh, table, nudges=nudges) for nudges in ((), ((1, 12.0),)))
    assert whole.windows == 1 and not whole.windows_differ and whole.level_mm == pytest.approx(0.0, abs=1e-9)
    assert moved.windows_differ and moved.level_mm == pytest.approx(0.0, abs=1e-9)
