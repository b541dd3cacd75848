"""Hollows of solids whose volumes, walls and mouths are known by formula."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.draw.reachability import reach_along
from pounce.hollows.find import Found, Given, hollows_in
from pounce.hollows.stop import place_on
from pounce.parting.joint import flat_joint
from pounce.solid.features.find import feature_numbers, features_of
from pounce.solid.hollow import Opening
from pounce.solid.pick import nearest_face
from tests.conftest import box, law, mesh_of
from tests.shapes import bell

M = m3.Manifold
SIDES = 96
UP, ALONG = np.array([0.0, 0.0, 1.0]), np.array([1.0, 0.0, 0.0])


def inside(solid: m3.Manifold, direction: np.ndarray, *pointed: tuple[float, float, float]) -> list[Found]:
    """Its hollows along a draw."""
    mesh = mesh_of(solid)
    features = features_of(mesh)
    given = Given(
        mesh,
        feature_numbers(mesh, features),
        features,
        reach_along(mesh, direction),
        direction,
        flat_joint(direction, float((mesh.vertices @ direction).mean())),
    )
    return hollows_in(given, pointed)


def round_mm2(radius: float) -> float:
    """The area of a circle of so many sides."""
    return SIDES / 2.0 * np.sin(2.0 * np.pi / SIDES) * radius**2


def mug(radius: float, deep: float, wall: float) -> m3.Manifold:
    outer = M.cylinder(deep + wall, radius + wall, radius + wall, SIDES)
    return outer - M.cylinder(deep + 1.0, radius, radius, SIDES).translate([0.0, 0.0, wall])


@pytest.mark.parametrize(("radius", "deep"), [(10.0, 40.0), (18.0, 50.0)])
def test_the_inside_of_a_mug_on_its_side_locks_and_has_one_mouth(radius: float, deep: float) -> None:
    (found,) = inside(mug(radius, deep, 4.0), ALONG)
    assert found.hollow is not None and found.locks and not found.is_bore and found.pointed == -1
    (mouth,) = found.hollow.openings
    assert mouth.area_mm2 == pytest.approx(round_mm2(radius), rel=1e-6)
    assert mouth.normal == pytest.approx([0.0, 0.0, 1.0], abs=1e-9)
    assert found.hollow.volume_mm3 == pytest.approx(round_mm2(radius) * deep, rel=1e-6)
    ring = 2.0 * SIDES * radius * np.sin(np.pi / SIDES) * deep
    assert found.hollow.wall_mm2 == pytest.approx(ring + round_mm2(radius), rel=1e-6)
    assert found.width_mm == pytest.approx(2.0 * radius, rel=2e-3)


@pytest.mark.parametrize(("radius", "thin"), [(3.0, True), (14.0, False)])
def test_a_bore_across_the_draw_goes_straight_through(radius: float, thin: bool) -> None:
    """A narrow one is better cast solid and drilled than cored."""
    long = 60.0
    solid = box(40.0, 50.0, long) - M.cylinder(long + 2.0, radius, radius, SIDES).translate([20.0, 25.0, -1.0])
    (found,) = inside(solid, ALONG)
    assert found.hollow is not None and found.is_bore and found.locks and found.too_thin is thin
    assert found.hollow.volume_mm3 == pytest.approx(round_mm2(radius) * long, rel=1e-6)
    assert sorted(float(one.normal[2]) for one in found.hollow.openings) == pytest.approx([-1.0, 1.0])
    assert found.hollow.open_mm2 == pytest.approx(2.0 * round_mm2(radius), rel=1e-6)


def test_what_draws_is_no_hollow_until_it_is_pointed_at() -> None:
    """The same bore along the draw: it draws as it stands, and is given when somebody asks for it."""
    solid = box(60.0, 60.0, 20.0) - M.cylinder(22.0, 12.0, 12.0, SIDES).translate([30.0, 30.0, -1.0])
    assert inside(solid, UP) == []
    wall = (42.0, 30.0, 10.0)
    (found,) = inside(solid, UP, wall)
    assert found.pointed == 0 and found.hollow is not None and not found.locks
    assert found.hollow.volume_mm3 == pytest.approx(round_mm2(12.0) * 20.0, rel=1e-6)
    # one wider than deep has more mouth than wall: it is an opening in a plate, and no core is made of it
    plate = box(60.0, 60.0, 12.0) - M.cylinder(14.0, 16.0, 16.0, SIDES).translate([30.0, 30.0, -1.0])
    assert not [one for one in inside(plate, UP, (46.0, 30.0, 6.0)) if one.hollow is not None]


def test_crossing_bores_are_one_hollow_with_four_mouths() -> None:
    """Two cylinders of one radius that cross at right angles share 16 r^3 / 3 (Archimedes)."""
    radius, side = 8.0, 60.0
    rod = M.cylinder(side + 2.0, radius, radius, SIDES, True)
    solid = M.cube([side, side, side], True) - rod.rotate([90.0, 0.0, 0.0]) - rod.rotate([0.0, 90.0, 0.0])
    (found,) = [one for one in inside(solid, UP) if one.hollow is not None]
    assert found.hollow is not None and len(found.hollow.openings) == 4 and not found.is_bore
    whole = 2.0 * np.pi * radius**2 * side - 16.0 * radius**3 / 3.0
    assert found.hollow.volume_mm3 == pytest.approx(whole, rel=5e-3)


def test_outsides_are_no_hollows() -> None:
    """A block has none; an undercut round a mushroom's stem sees the sky and is none either."""
    assert inside(box(30.0, 20.0, 10.0), UP) == []
    mushroom = M.cylinder(30.0, 8.0, 8.0, SIDES) + M.cylinder(6.0, 26.0, 26.0, SIDES).translate([0.0, 0.0, 30.0])
    assert all(not one.worth(mesh_of(mushroom)) for one in inside(mushroom, UP) if one.hollow is None)


@law(6, 60)
def test_the_part_and_its_hollow_fill_the_plain_block(seed: int) -> None:
    """A blind hole of any place, width and depth across the draw: block = part + hollow."""
    dice = np.random.default_rng(seed)
    size = dice.uniform(40.0, 90.0, 3)
    radius = float(dice.uniform(5.0, 0.3 * min(size[1], size[2])))
    deep = float(dice.uniform(1.5 * radius, 0.8 * size[0]))
    at = [float(dice.uniform(radius + 3.0, side - radius - 3.0)) for side in size[1:]]
    hole = M.cylinder(deep + 1.0, radius, radius, SIDES).rotate([0.0, 90.0, 0.0]).translate([-1.0, *at])
    solid = box(*size.tolist()) - hole
    deepest = max(inside(solid, UP), key=lambda one: one.area_mm2)
    assert deepest.hollow is not None and len(deepest.hollow.openings) == 1
    assert float(solid.volume()) + deepest.hollow.volume_mm3 == pytest.approx(float(np.prod(size)), rel=1e-6)


def test_a_place_on_a_hollow_leads_back_to_it() -> None:
    solid = mug(12.0, 40.0, 4.0)
    mesh = mesh_of(solid)
    (found,) = inside(solid, ALONG)
    place = place_on(mesh, found.faces)
    assert nearest_face(mesh, place) in found.faces.tolist()
    (again,) = inside(solid, ALONG, place)
    assert again.pointed == 0 and again.faces.tolist() == found.faces.tolist()


def test_the_shoulders_of_a_bore_with_bearing_seats_belong_to_it() -> None:
    """A hub, bored 40 with seats of 62 and 54: single triangles of its shoulders see the sky, and each was a mouth."""
    hub = M.cylinder(12, 70, 70, 128) + M.cylinder(60, 40, 40, 128) - M.cylinder(200, 20, 20, SIDES, True)
    hub -= M.cylinder(18, 27, 27, SIDES).translate([0, 0, 44]) + M.cylinder(16, 31, 31, SIDES).translate([0, 0, -1])
    for turn in range(5):
        hub -= M.cylinder(60, 6.5, 6.5, 32, True).translate([56, 0, 0]).rotate([0, 0, 72 * turn])
    found = inside(hub, np.array([0.0, 1.0, 0.0]))[0]
    assert found.hollow is not None and found.is_bore and found.width_mm == pytest.approx(62.0, rel=2e-3)
    seats = round_mm2(20.0) * 29.0 + round_mm2(27.0) * 16.0 + round_mm2(31.0) * 15.0
    assert found.hollow.volume_mm3 == pytest.approx(seats, rel=1e-6)


def within(found: Found) -> Opening:
    assert found.hollow is not None
    (mouth,) = found.hollow.openings
    return mouth


def test_the_flare_of_a_bell_on_its_side_is_of_its_hollow_out_to_the_rim() -> None:
    """Its outer walls see most of the sky and lock all the same: a print within them held their sand."""
    mouth = within(max(inside(bell(), ALONG), key=lambda one: one.area_mm2))
    assert mouth.normal == pytest.approx([0.0, 0.0, -1.0], abs=1e-9)
    assert mouth.area_mm2 == pytest.approx(round_mm2(53.0), rel=1e-6) and mouth.centre[2] == pytest.approx(0.0)


def test_the_rim_of_a_hollow_pointed_at_does_not_run_to_and_fro_over_a_flare() -> None:
    """Along the draw nothing of it locks: where it ends is told by the sky that a few rays a facet see."""
    mouth = within(max(inside(bell(), UP, (-24.7, -23.9, 50.0)), key=lambda one: one.area_mm2))
    assert mouth.normal == pytest.approx([0.0, 0.0, -1.0], abs=1e-9) and max(mouth.reach_mm) < 1e-6


@pytest.mark.parametrize("beak", [0.0, 6.0])
def test_the_lip_of_a_vase_over_its_neck_is_of_its_hollow(beak: float) -> None:
    """Beyond a neck as sharp as an edge the lip flares: on its side it locks, and no print stands in it. An outside
    that locks under a ``beak`` at the rim is none of it.
    """
    outer = [(0, 0), (40, 0), (60, 70), (54, 100), (62 + beak, 112), (62, 114)]
    inner = [(57, 114), (48, 100), (53, 70), (36, 8), (0, 8)]
    vase = M.revolve(m3.CrossSection([outer + inner]), SIDES)
    mouth = within(max(inside(vase, ALONG), key=lambda one: one.area_mm2))
    assert mouth.normal == pytest.approx([0.0, 0.0, 1.0], abs=1e-9) and mouth.centre[2] == pytest.approx(114.0)
    assert mouth.area_mm2 == pytest.approx(round_mm2(57.0), rel=1e-6)
