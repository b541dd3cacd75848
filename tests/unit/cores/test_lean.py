"""Draft on the walls of a hollow."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.cores.lean import leaned, wants_draft
from pounce.cores.values import HollowChoice
from pounce.route.stops import CORES
from pounce.solid.hollow import Hollow, hollow_of
from tests.conftest import mesh_of
from tests.unit.cores.helpers import M, cored


def test_a_square_core_leans_in_its_box_unless_told_not_to() -> None:
    square = M.cube([80, 50, 50], True) - M.cube([100, 20, 20], True)
    core = cored(square, height=0.0).need(CORES).cores[0]
    # four walls of 80 x 10 beside the joint lose 80 x 10 x 10 tan(1 degree) / 2 each
    assert core.draft_mm3 == pytest.approx(4 * 80 * 10 * 10 * np.tan(np.radians(1.0)) / 2.0, rel=1e-3)
    box = core.boxes[0]
    own = core.mesh.tags.print < 0
    lean = np.degrees(np.arcsin(np.abs(core.mesh.normals[own] @ box.pull)))
    ends = np.abs(core.mesh.normals[own][:, 0]) > 0.99
    assert float(lean[~ends].min()) > 0.99
    place = core.place_mm
    straight = cored(square, height=0.0, hollows=(HollowChoice(place, draft_deg=0.0),)).need(CORES).cores[0]
    assert straight.draft_mm3 == 0.0 and straight.hollow.volume == pytest.approx(80 * 400, rel=1e-9)
    refused = cored(square, height=0.0, hollows=(HollowChoice(place, draft_deg=-3.0),)).need(CORES)
    assert not refused.cores and any("draft of -3" in one.words() for one in refused.findings)


def square() -> m3.Manifold:
    return M.cube([80, 50, 50], True) - M.cube([100, 20, 20], True)


def hollow(solid: m3.Manifold, half: float) -> Hollow:
    mesh = mesh_of(solid)
    inside = (np.abs(mesh.corners[..., 1]) < half + 1e-6).all(axis=1)
    inside &= (np.abs(mesh.corners[..., 2]) < half + 1e-6).all(axis=1) & (np.abs(mesh.normals[:, 0]) < 0.5)
    return hollow_of(mesh, np.flatnonzero(inside))


UP = np.array([0.0, 0.0, 1.0])


def test_upright_walls_want_draft_and_leaning_ones_do_not() -> None:
    plain = hollow(square(), 10.0)
    assert wants_draft(plain, UP, 1.0)
    assert not wants_draft(plain, np.array([0.0, 1.0, 1.0]) / np.sqrt(2.0), 1.0)  # on its edge every wall leans


@pytest.mark.parametrize("degrees", [0.5, 1.0, 3.0])
def test_draft_is_taken_from_the_core(degrees: float) -> None:
    plain = hollow(square(), 10.0)
    found = leaned(plain, UP, 0.0, degrees)
    assert found is not None
    # four walls beside the joint of 80 by 10 lose a wedge of 10 tan a each
    assert found.added_mm3 == pytest.approx(4 * 80 * 10 * 10 * np.tan(np.radians(degrees)) / 2.0, rel=1e-3)
    assert found.hollow.volume_mm3 == pytest.approx(plain.volume_mm3 - found.added_mm3)
    assert len(found.hollow.openings) == 2
    for one, other in zip(found.hollow.openings, plain.openings, strict=True):
        assert one.area_mm2 < other.area_mm2
        assert float(one.normal @ other.normal) == pytest.approx(1.0)
        assert float((one.centre - other.centre) @ other.normal) == pytest.approx(0.0, abs=1e-6)


def test_a_lean_that_would_eat_the_core_is_given_up() -> None:
    narrow = M.cube([80, 50, 50], True) - M.cube([100, 4, 40], True)
    mesh = mesh_of(narrow)
    inside = (np.abs(mesh.corners[..., 1]) < 2.001).all(axis=1) & (np.abs(mesh.corners[..., 2]) < 20.001).all(axis=1)
    inside &= np.abs(mesh.normals[:, 0]) < 0.5
    assert leaned(hollow_of(mesh, np.flatnonzero(inside)), UP, 0.0, 5.0) is None
