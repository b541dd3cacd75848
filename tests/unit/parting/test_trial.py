"""The trial draw and what the sand must hold, of shapes whose sand is known by formula."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.draw.jointsurface import joint_surface_of
from pounce.draw.reachability import reach_along
from pounce.metals.method import MethodChoices, resolve
from pounce.parting.columngrid import ColumnGrid, column_grid
from pounce.parting.joint import Joint, flat_joint
from pounce.parting.sand import bridges, fine_detail, pockets, sharp_sand
from pounce.parting.states import judged_at
from pounce.parting.surface import shaped_joint
from pounce.parting.trial import trial_of
from pounce.parting.values import State, Trial
from pounce.solid.mesh import Mesh, edges
from tests.conftest import box, law, mesh_of

M = m3.Manifold
UP = np.array([0.0, 0.0, 1.0])


def grid_of(solid: m3.Manifold, height: float) -> tuple[ColumnGrid, Joint, Mesh]:
    joint, mesh = flat_joint(UP, height), mesh_of(solid)
    return column_grid(mesh, joint, None), joint, mesh


def drawn(solid: m3.Manifold, height: float, rap_mm: float = 0.0, tilt_deg: float = 2.0) -> Trial:
    """Drawn along +z with a flat joint at this height."""
    mesh, joint = mesh_of(solid), flat_joint(UP, height)
    judged = judged_at(mesh, reach_along(mesh, UP), joint, np.full(len(mesh.faces), 1.5), 1e-4 * mesh.diagonal)
    deep = float(np.abs(mesh.vertices[:, 2] - height).max())
    return trial_of(mesh, joint, judged, column_grid(mesh, joint, None), deep, rap_mm, tilt_deg)


def mushroom(stem: float, cap: float, tall: float, thick: float = 6.0) -> m3.Manifold:
    return M.cylinder(tall, stem, stem, 96) + M.cylinder(thick, cap, cap, 96).translate([0.0, 0.0, tall])


@pytest.mark.parametrize(("stem", "cap", "tall"), [(6.0, 20.0, 12.0), (10.0, 30.0, 25.0), (5.0, 9.0, 4.0)])
def test_the_sand_under_a_cap_tears_to_its_last_grain(stem: float, cap: float, tall: float) -> None:
    """pi (R^2 - r^2) h stands between the joint and the cap, and by a lift l of it min(l, h) over every place."""
    made = drawn(mushroom(stem, cap, tall), 0.0)
    ring = np.pi * (cap**2 - stem**2)
    assert made.torn_mm3 == pytest.approx(ring * tall, rel=0.03)
    assert made.drag_mm3[-1] == 0.0
    by_hand = ring * np.minimum(made.lifts_mm, tall)
    assert made.cope_mm3 == pytest.approx(by_hand, rel=0.03)
    (place,) = made.places
    assert place.half == "cope" and place.above and place.clear_mm == pytest.approx(tall, rel=0.02)
    assert place.volume_mm3 == pytest.approx(ring * tall, rel=0.03)
    x, y, z = place.at_mm
    assert stem < np.hypot(x, y) < cap and 0.0 < z < tall
    # what is drawn of it lies in it, and comes loose no later than the cap has passed
    flat = np.hypot(made.grains[:, 0], made.grains[:, 1])
    assert ((flat > 0.9 * stem) & (flat < 1.05 * cap)).all() and (made.grain_lift <= tall + 1e-6).all()


def test_turned_over_it_tears_in_the_drag_as_much() -> None:
    solid = mushroom(6.0, 20.0, 12.0)
    up, down = drawn(solid, 0.0), drawn(solid.rotate([180.0, 0.0, 0.0]), 0.0)
    assert down.drag_mm3[-1] == pytest.approx(up.cope_mm3[-1], rel=1e-6) and down.cope_mm3[-1] == 0.0


@pytest.mark.parametrize("height", [0.0, 5.0, 10.0])
def test_what_draws_tears_nothing(height: float) -> None:
    cone = M.cylinder(10.0, 20.0, 18.0, 64)
    made = drawn(cone if height == 0.0 else cone + M.cylinder(height, 19.0, 20.0, 64).translate([0, 0, -height]), 0.0)
    assert made.torn_mm3 == 0.0 and not made.places and len(made.grains) == 0


@pytest.mark.parametrize("tall", [10.0, 40.0])
def test_askew_a_straight_wall_presses_and_a_drafted_one_does_not(tall: float) -> None:
    """To first order the side of a block presses by depth (tilt r / depth) at its foot; draft of the tilt's own sine
    takes it away, and rapping so much of it.
    """
    block = box(60.0, 60.0, tall).translate([-30.0, -30.0, 0.0])
    (plain,) = [one for one in drawn(block, 0.0).tilted if one.deepest_mm > 0.0] or [None]
    assert plain is not None
    lean = 1.0 - np.tan(np.radians(5.0)) * tall / 30.0
    leaned = M.extrude(m3.CrossSection.square((60, 60), True), tall, 0, 0, (lean, lean))
    assert all(one.deepest_mm < 0.2 * plain.deepest_mm for one in drawn(leaned, 0.0).tilted)
    rapped = drawn(block, 0.0, rap_mm=0.4).tilted
    assert max(one.deepest_mm for one in rapped) == pytest.approx(max(plain.deepest_mm - 0.4, 0.0), abs=1e-6)
    # twice the tilt presses twice as much
    twice = max(one.deepest_mm for one in drawn(block, 0.0, tilt_deg=4.0).tilted)
    assert twice == pytest.approx(2.0 * plain.deepest_mm, rel=1e-9)


@pytest.mark.parametrize(("wide", "deep"), [(8.0, 12.0), (14.0, 20.0)])
def test_a_slot_is_a_pocket_of_its_own_width_and_depth(wide: float, deep: float) -> None:
    """Sand that hangs in a slot of the part; turned over it stands in the drag, and is as slender."""
    plate = box(100.0, 80.0, 40.0) - box(wide, 50.0, deep).translate([46.0, 15.0, 40.0 - deep])
    for solid, height, half in ((plate, 0.0, "cope"), (plate.rotate([180.0, 0.0, 0.0]), 0.0, "drag")):
        found = pockets(*grid_of(solid, height))
        assert found[0].half == half
        assert found[0].depth_mm == pytest.approx(deep, abs=0.6) and found[0].width_mm == pytest.approx(wide, abs=1e-6)
        assert found[0].ratio == pytest.approx(deep / wide, rel=0.05)


@pytest.mark.parametrize(("size", "turn"), [(100.0, 0.0), (240.0, 0.0), (240.0, 30.0)])
def test_the_width_of_a_slot_does_not_hang_on_how_fine_the_columns_are(size: float, turn: float) -> None:
    """A grate of 240 mm has columns of a millimetre: its leaning slots of 6 mm were told as 4.3."""
    slot = m3.CrossSection.square((40.0, 6.0), True)
    tool = M.extrude(slot, 10.0, 0, 0, (0.95, 4.0 / 6.0)).rotate([180.0, 0.0, 0.0]).translate([0.0, 0.0, 10.0])
    plate = box(size, size, 30.0).translate([-size / 2.0, -size / 2.0, -20.0]) - tool.rotate([0.0, 0.0, turn])
    (found,) = pockets(*grid_of(plate, -20.0))
    assert found.depth_mm == pytest.approx(10.0, abs=1.0)
    assert found.width_mm == pytest.approx(5.0, abs=0.15), "half way down, between its leaning walls"


def test_a_shallow_dip_and_an_open_step_are_no_pockets() -> None:
    dip = box(100.0, 80.0, 40.0) - box(60.0, 50.0, 4.0).translate([20.0, 15.0, 36.0])
    assert pockets(*grid_of(dip, 0.0)) == ()
    step = box(100.0, 80.0, 40.0) - box(50.0, 80.0, 25.0).translate([50.0, 0.0, 15.0])
    assert pockets(*grid_of(step, 0.0)) == ()


def test_the_crotch_of_two_pipes_is_no_pocket() -> None:
    """A Y of three flanged pipes: the sand in its filleted crotch and beside its flanges leans on what lies before."""
    arms = M()
    for turn in (0.0, 137.0, 223.0):
        arms += (
            box(38.0, 70.0, 20.0).translate([-19.0, 0.0, 0.0]) + box(64.0, 8.0, 20.0).translate([-32.0, 62.0, 0.0])
        ).rotate([0.0, 0.0, turn])
    assert pockets(*grid_of(arms, 0.0)) == ()


@pytest.mark.parametrize(("long", "slender"), [(40.0, True), (7.0, False)])
def test_sand_that_is_open_along_a_side_is_held_there(long: float, slender: bool) -> None:
    """Between two teeth 8 mm apart that stand out by 7, sand leans on what lies before it; between fins it does not."""
    comb = box(60.0, 20.0, 25.0)
    for x in (10.0, 22.0, 34.0):
        comb += box(4.0, long, 25.0).translate([x, 20.0, 0.0])
    assert bool(pockets(*grid_of(comb, 0.0))) is slender


def test_the_corner_of_a_letters_counter_is_no_slit() -> None:
    """A capital A, 70 mm tall and 14 thick: the tip of its triangle was told as sand 14 mm deep and 0.95 wide."""
    outer = [
        (30.0, 0.0),
        (7.0, 70.0),
        (-7.0, 70.0),
        (-30.0, 0.0),
        (-18.0, 0.0),
        (-12.0, 18.0),
        (12.0, 18.0),
        (18.0, 0.0),
    ]
    letter = M.extrude(m3.CrossSection([outer, [(-8.5, 28.0), (0.0, 54.0), (8.5, 28.0)]]), 14.0)
    assert pockets(*grid_of(letter, 0.0)) == ()
    ribs, slits = fine_detail(mesh_of(letter), resolve(MethodChoices()))
    assert ribs is None and slits is None


@pytest.mark.parametrize("gap", [2.0, 4.0])
def test_a_narrow_strip_between_two_parts_is_a_bridge(gap: float) -> None:
    """As wide and as long as the gap, and none where the gap is wider than sand holds."""
    pair = box(50.0, 60.0, 12.0) + box(50.0, 60.0, 12.0).translate([50.0 + gap, 0.0, 0.0])
    (strip,) = bridges(grid_of(pair, 6.0)[0])
    assert strip.size == pytest.approx(gap, abs=0.9) and strip.extent == pytest.approx(60.0, rel=0.2)
    assert 49.0 < strip.at_mm[0] < 51.0 + gap
    wide = box(50.0, 60.0, 12.0) + box(50.0, 60.0, 12.0).translate([70.0, 0.0, 0.0])
    assert bridges(grid_of(wide, 6.0)[0]) == ()
    # sand that has set holds a narrower one
    assert (bridges(grid_of(pair, 6.0)[0], "set") == ()) == (gap >= 4.0)


@law(6, 60)
def test_a_groove_leaves_an_edge_of_sand_as_sharp_as_itself(seed: int) -> None:
    dice = np.random.default_rng(seed)
    angle, deep, long = float(dice.uniform(15.0, 45.0)), float(dice.uniform(6.0, 18.0)), float(dice.uniform(30.0, 80.0))
    half = deep * np.tan(np.radians(angle / 2.0))
    corners = [
        [x, y, z]
        for y in (-1.0, long + 1.0)
        for x, z in ((-half * 1.1, 30.0 + 0.1 * deep), (half * 1.1, 30.0 + 0.1 * deep), (0.0, 30.0 - deep))
    ]
    block = box(80.0, long, 30.0).translate([-40.0, 0.0, 0.0]) - M.hull_points(np.array(corners))
    found = sharp_sand(mesh_of(block), 0.2)
    assert found is not None
    assert found.size == pytest.approx(angle, abs=0.1) and found.extent == pytest.approx(long, rel=1e-6)
    assert sharp_sand(mesh_of(box(80.0, long, 30.0)), 0.2) is None


@pytest.mark.parametrize("thick", [1.0, 2.5, 5.0])
def test_a_joint_that_steps_up_in_a_wall_hands_no_sand_to_the_other_half(thick: float) -> None:
    """A box open below, parted along its rim: the joint climbs 18 mm in the wall to the floor over the sand. Its
    pattern is wider, so columns lie between the joint's nodes: those beside the wall are of the sand in the box.
    """
    inner = box(60 - 2 * thick, 40 - 2 * thick, 18).translate([thick - 30, thick - 20, 0])
    part, pattern = (box(60 + d, 40 + d, 20).translate([-30 - d / 2, -20 - d / 2, 0]) - inner for d in (0.0, 0.7))
    mesh, other = mesh_of(part), mesh_of(pattern)
    joint = shaped_joint(UP, joint_surface_of(mesh, edges(mesh.faces, len(mesh.vertices))))
    grid = column_grid(other, joint, None)
    inside = (np.abs(grid.places) < [30.0 - thick, 20.0 - thick]).all(axis=2)
    assert (grid.joint[inside] >= 18.0 - 1e-9).all() and grid.material[inside].all()
    judged = judged_at(other, reach_along(other, UP), joint, np.zeros(len(other.faces)), 1e-4 * other.diagonal)
    made = trial_of(other, joint, judged, grid, 20.0, 0.0, 0.0)
    assert judged.areas_by_state[State.LOCKED] == 0.0 and made.torn_mm3 == 0.0
