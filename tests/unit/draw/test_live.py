"""Live turning: representatives say within a few per cent what the whole part says on release."""

import numpy as np
import pytest

from pounce.draw.live import CLEAN, LOCKED, TIGHT, live_look, representatives, snapped
from pounce.draw.reachability import reach_along
from pounce.parting.joint import flat_joint
from pounce.parting.states import judged_at
from pounce.parting.values import State
from pounce.solid.mesh import areas_of
from tests.conftest import box, mesh_of
from tests.shapes import SHAPES


def test_each_stands_for_its_share_of_the_surface() -> None:
    mesh = mesh_of(SHAPES["bracket"]())
    found = representatives(mesh, 2000)
    assert found.share * len(found.points) == pytest.approx(mesh.area)
    assert np.linalg.norm(found.normals, axis=1) == pytest.approx(np.ones(len(found.points)))
    off = np.abs(np.einsum("ij,ij->i", found.points - mesh.bounds.mean(axis=0), found.normals))
    assert np.isfinite(off).all()


@pytest.mark.parametrize("name", ["mug", "bush", "wheel", "bracket"])
@pytest.mark.parametrize("way", [(0.0, 0.0, 1.0), (1.0, 0.0, 0.0)])
def test_areas_are_those_of_the_whole_part(name: str, way: tuple[float, ...]) -> None:
    mesh = mesh_of(SHAPES[name]())
    direction = np.array(way)
    found = live_look(mesh, representatives(mesh), direction, 1.5)
    judged = judged_at(
        mesh,
        reach_along(mesh, direction),
        flat_joint(direction, found.height_mm),
        np.full(len(mesh.faces), 1.5),
        2e-3 * float(np.ptp(mesh.vertices @ direction)),
    )
    sizes = areas_of(judged.corners)
    for state, area in (
        (State.CLEAN, found.clean_mm2),
        (State.TIGHT, found.tight_mm2),
        (State.LOCKED, found.locked_mm2),
    ):
        assert area == pytest.approx(float(sizes[judged.state == state].sum()), abs=0.05 * mesh.area)
    assert found.clean_mm2 + found.tight_mm2 + found.locked_mm2 == pytest.approx(mesh.area)
    assert set(np.unique(found.state)) <= {CLEAN, TIGHT, LOCKED}


@pytest.mark.parametrize(("deg", "snaps"), [(0.0, True), (3.9, True), (4.1, False), (45.0, False)])
def test_it_snaps_to_an_own_axis_within_four_degrees(deg: float, snaps: bool) -> None:
    t = np.radians(deg)
    direction = np.array([np.sin(t), 0.0, -np.cos(t)])
    found = snapped(direction)
    assert (found.tolist() == [0.0, 0.0, -1.0]) == snaps
    if not snaps:
        assert found is direction


def test_the_same_hand_says_the_same_twice() -> None:
    mesh = mesh_of(box(30, 20, 10))
    among = representatives(mesh, 500)
    one, two = (live_look(mesh, among, np.array([0.3, 0.1, 0.9]), 2.0) for _ in range(2))
    assert (one.state == two.state).all() and one.height_mm == two.height_mm
