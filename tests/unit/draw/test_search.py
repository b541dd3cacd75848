"""The direction search on parts whose answer a pattern maker would not argue about."""

import manifold3d
import numpy as np
import pytest

from pounce.base.errors import Cancelled
from pounce.base.progress import silent
from pounce.draw.live import live_look, representatives, snapped
from pounce.draw.search import search
from pounce.draw.ways import ways_of
from pounce.solid.frame import half_sphere, unit
from pounce.solid.mesh import Mesh, edges
from tests.conftest import box, mesh_of

M = manifold3d.Manifold


def best(solid: manifold3d.Manifold) -> np.ndarray:
    return np.array(search(mesh_of(solid), silent)[0].direction)


def turn(noise: np.random.Generator) -> list[float]:
    return (noise.random(3) * 360.0).tolist()


@pytest.mark.parametrize("seed", range(3))
def test_a_drafted_disc_is_drawn_off_its_flat_back_however_it_lies(seed: int) -> None:
    disc = M.cylinder(8, 30, 29, 96)
    angles = turn(np.random.default_rng(seed))
    found = search(mesh_of(disc.rotate(angles)), silent)[0]
    axis = mesh_of(M.cylinder(10, 1, 1, 8).rotate(angles)).centre_of_mass
    assert float(np.array(found.direction) @ unit(axis)) > 0.9999  # and the right way up: the back lies down
    assert found.flat_back
    assert found.why.startswith("Whole on its flat back")


@pytest.mark.parametrize("seed", range(3))
def test_a_tube_is_split_along_its_axis(seed: int) -> None:
    tube = M.cylinder(80, 20, 20, 96) - M.cylinder(80, 14, 14, 96)
    angles = turn(np.random.default_rng(100 + seed))
    axis = unit(mesh_of(M.cylinder(10, 1, 1, 8).rotate(angles)).centre_of_mass)
    found = search(mesh_of(tube.rotate(angles)), silent)[0]
    assert abs(float(np.array(found.direction) @ axis)) < 0.02
    assert found.cores == 1


def test_a_box_lies_low_and_wide_on_its_largest_face() -> None:
    assert abs(best(box(80, 60, 15))[2]) == 1.0
    assert abs(best(box(80, 12, 60))[1]) == 1.0


@pytest.mark.parametrize("upright", [(90.0, 0.0, 0.0), (0.0, 0.0, 0.0)])
def test_a_part_with_draft_is_drawn_the_way_it_was_drafted_for(upright: tuple[float, float, float]) -> None:
    """A flanged bar: its ends and the faces of its flange lean by three degrees from one plane through its axis, and
    are square to the plane across it.
    """
    bar = M.cylinder(150, 20, 20, 64, True).rotate([0, 90, 0])
    bar += M.cylinder(16, 32, 32, 64, True).rotate([0, 90, 0]).translate([-30, 0, 0])
    for at, side in ((-75.0, -1.0), (75.0, 1.0), (-38.0, -1.0), (-22.0, 1.0)):
        for half in (1.0, -1.0):
            lean = np.array([side, 0.0, half * np.tan(np.radians(3.0))])
            reach = box(200, 200, 100).translate([-100, -100, 0 if half > 0 else -100])
            beyond = reach - reach.trim_by_plane((-lean).tolist(), -side * at)
            if abs(at) < 70.0:
                ring = M.cylinder(40, 60, 60, 64) - M.cylinder(60, 20, 20, 64, True)
                beyond ^= ring.rotate([0, 90, 0]).translate([at if side > 0 else at - 40, 0, 0])
            bar -= beyond
    found = best(bar.rotate(upright))
    meant = mesh_of(M.cylinder(10, 1, 1, 8).rotate(upright)).centre_of_mass
    assert abs(float(found @ unit(meant))) > 0.999


def test_the_candidates_say_why_and_what_they_cost() -> None:
    found = search(mesh_of(M.sphere(20, 64) - M.cylinder(60, 5, 5, 48, True)), silent)
    assert len(found) >= 3
    assert all(one.why and one.cost for one in found)
    assert [one.score for one in found] == sorted(one.score for one in found)


def test_a_given_draw_is_looked_at_first_and_a_second_one_costs_no_search() -> None:
    mesh = mesh_of(box(30, 20, 10))
    given = unit([0.0, 0.3, 1.0])
    assert np.allclose(search(mesh, silent, given)[0].direction, given)
    said: list[str] = []
    other = unit([0.1, 0.0, 1.0])
    assert np.allclose(search(mesh, lambda _, text: said.append(text), other)[0].direction, other)
    assert said == ["Draws compared"]


def test_the_search_can_be_cancelled() -> None:
    def stop(fraction: float, _: str) -> None:
        if fraction > 0.2:
            raise Cancelled

    with pytest.raises(Cancelled):
        search(mesh_of(M.sphere(20, 64)), stop)


def test_ways_hold_the_axis_of_a_slanting_round_and_the_normal_of_a_slanting_flat() -> None:
    solid = (M.cube([40, 40, 20], True) - M.cylinder(60, 8, 8, 64, True)).rotate([20, 35, 10])
    mesh = mesh_of(solid)
    axis = unit(mesh_of(M.cylinder(10, 1, 1, 8).rotate([20, 35, 10])).centre_of_mass)
    ways = ways_of(mesh, edges(mesh.faces, len(mesh.vertices)), 20)
    named = [way for way, word in zip(ways.directions, ways.source, strict=True) if word in ("flat face", "round face")]
    assert max(abs(float(way @ axis)) for way in named) > 0.99999
    assert np.allclose(np.linalg.norm(half_sphere(50), axis=1), 1.0)


def test_live_turning_agrees_with_the_whole_judgement() -> None:
    solid = M.sphere(30, 64) - M.cylinder(80, 8, 8, 48, True).rotate([90, 0, 0])
    mesh = mesh_of(solid)
    among = representatives(mesh)
    found = live_look(mesh, among, np.array([0.0, 0.0, 1.0]), 2.0)
    assert found.clean_mm2 + found.tight_mm2 + found.locked_mm2 == pytest.approx(mesh.area, rel=1e-9)
    bore = float(mesh.areas[np.hypot(mesh.corners.mean(axis=1)[:, 0], mesh.corners.mean(axis=1)[:, 2]) < 8.1].sum())
    assert found.locked_mm2 == pytest.approx(bore, rel=0.05)


def test_the_hand_snaps_to_an_own_axis() -> None:
    assert snapped(unit([0.03, 0.02, 1.0])).tolist() == [0.0, 0.0, 1.0]
    free = unit([0.3, 0.0, 1.0])
    assert snapped(free) is free


def test_an_empty_look_at_a_flat_sheet_does_not_fail() -> None:
    sheet = Mesh.of(np.array([[0, 0, 0], [10, 0, 0], [0, 10, 0]], float), np.array([[0, 1, 2]]))
    assert search(sheet, silent)
