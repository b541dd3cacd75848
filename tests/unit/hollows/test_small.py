"""Small holes that run into a hollow, by what each of them must be."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.hollows.small import holes_into
from pounce.metals.tables import limits
from pounce.solid.features.find import feature_numbers, features_of
from pounce.solid.hollow import hollow_of
from tests.conftest import mesh_of
from tests.unit.hollows.test_find import ALONG, SIDES, UP, inside

M = m3.Manifold
UNDER = limits()["bore_solid"].value


def across(radius: float, *at: float) -> m3.Manifold:
    """A hole along y, from one side to x = y = 0."""
    return M.cylinder(60, radius, radius, 48).rotate([-90, 0, 0]).translate([0.0, 0.0, *at])


def collar(*tools: m3.Manifold, bore: float = 14.0, long: float = 60.0) -> m3.Manifold:
    """A collar, bored along x."""
    out = M.cylinder(long, 25, 25, SIDES, True) - M.cylinder(80, bore, bore, SIDES, True)
    for tool in tools:
        out -= tool
    return out.rotate([0, 90, 0])


@pytest.mark.parametrize(("radius", "small"), [(2.5, True), (UNDER / 2.0, True), (UNDER / 2.0 + 0.5, False)])
def test_a_set_screw_in_the_wall_of_a_bore(radius: float, small: bool) -> None:
    """Up to the width that is cast solid and drilled, with a hundredth for facets."""
    (found,) = inside(collar(across(radius, 5.0)), UP)
    assert len(found.holes) == small and found.hollow is not None and len(found.hollow.openings) == 3
    assert not found.only_holes, "the bore locks by itself"


def test_a_bore_that_is_free_but_for_its_set_screw() -> None:
    """Along the bore nothing but the hole across it locks, where the sand in the bore stands."""
    (short,) = inside(collar(across(2.5, 0.0), bore=10.0, long=40.0), ALONG)
    assert short.only_holes and short.locks and len(short.holes) == 1
    (deep,) = inside(collar(across(2.5, 0.0), bore=10.0, long=60.0), ALONG)
    assert deep.slender and not deep.only_holes and len(deep.holes) == 1


def test_one_plain_hole_runs_into_nothing() -> None:
    (found,) = inside(collar(bore=5.0), UP)
    assert found.holes == () and not found.only_holes


def test_drillings_that_meet_are_all_holes() -> None:
    """Two ways of 8 mm that cross in a block: nothing is left of the hollow without them."""
    block = M.cube([60, 60, 40], True) - M.cylinder(80, 4, 4, 48, True).rotate([0, 90, 0])
    (found,) = inside(block - M.cylinder(80, 4, 4, 48, True).rotate([90, 0, 0]), UP)
    assert len(found.holes) >= 2


def test_the_only_way_out_of_a_chamber_is_no_hole_to_fill() -> None:
    """A ball of a hollow with one hole to it: filled, nothing could be set in it."""
    hollow = M.sphere(18, 64) + M.cylinder(60, 4, 4, 48)
    mesh = mesh_of(M.cube([60, 60, 60], True) - hollow)
    features = features_of(mesh)
    number = feature_numbers(mesh, features)
    faces = np.flatnonzero(np.linalg.norm(mesh.corners, axis=2).max(axis=1) < 31.0)
    faces = faces[np.abs(mesh.normals[faces] @ UP) < 0.9999]
    assert holes_into(mesh, number, features, faces, hollow_of(mesh, faces)) == ()
