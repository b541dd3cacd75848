"""Joints that follow the part, and the trial draw, against what geometry alone says."""

import manifold3d
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from pounce.base.progress import silent
from pounce.draw.reachability import reach_along
from pounce.draw.stop import draw_stop
from pounce.draw.values import DrawChoices, DrawResult
from pounce.metals.method import MethodChoices, resolve
from pounce.part.model import PartChoices, PartResult
from pounce.part.stop import part_stop
from pounce.parting.stop import parting_stop
from pounce.parting.surface import split_along
from pounce.parting.values import PartingChoices, PartingResult
from pounce.solid import boolean
from pounce.solid.frame import unit
from tests.conftest import box, law, mesh_of, model_of

Z = (0.0, 0.0, 1.0)
M = manifold3d.Manifold
Made = tuple[PartResult, DrawResult, PartingResult]


def made(solid: manifold3d.Manifold, draw: tuple[float, float, float] | None = Z, **choices: object) -> Made:
    part = part_stop(PartChoices(), model_of(solid), silent)
    drawn = draw_stop(DrawChoices(direction=draw), part, silent)
    return part, drawn, parting_stop(PartingChoices(**choices), part, resolve(MethodChoices()), drawn, silent)


def sine_bar(amplitude: float, long: float = 120.0, radius: float = 8.0) -> manifold3d.Manifold:
    """A round bar whose axis follows one wave of a sine, sheared along z so that its sides stay where they are."""
    bar = M.cylinder(long, radius, radius, 48).rotate([0, 90, 0]).refine_to_length(2.0)

    def bend(p: np.ndarray) -> np.ndarray:
        return np.column_stack([p[:, 0], p[:, 1], p[:, 2] + amplitude * np.sin(2 * np.pi * p[:, 0] / long)])

    return bar.warp_batch(bend)


@pytest.mark.parametrize("amplitude", [4.0, 9.0, 15.0])
def test_a_bar_on_a_sine_path_is_parted_along_exactly_twice_the_amplitude(amplitude: float) -> None:
    part, _, parting = made(sine_bar(amplitude))
    assert parting.kind == "natural"
    assert parting.relief_mm == pytest.approx(2 * amplitude, rel=0.004)
    assert parting.locked_mm2 < 1e-3 * part.area_mm2
    assert len(parting.outline) == 1
    line = parting.outline[0]
    assert np.allclose(line[0], line[-1])
    # the line lies on the sine itself along both sides of the bar
    sides = line[(line[:, 0] > 8) & (line[:, 0] < 112)]
    assert np.abs(sides[:, 2] - amplitude * np.sin(2 * np.pi * sides[:, 0] / 120.0)).max() < 0.6


@pytest.mark.parametrize(
    "solid",
    [
        sine_bar(12.0),
        M.cube([80, 60, 6], True).rotate([0, 12, 7]),
        M.cylinder(40, 20, 26, 96) - M.cylinder(40, 17, 23, 96).translate([0, 0, 4]),
        M.sphere(30, 64) + M.sphere(20, 64).translate([30, 0, 12]),
    ],
    ids=["sine bar", "tilted plate", "cup", "two balls"],
)
def test_a_split_along_the_joint_keeps_the_volume_in_two_closed_halves(solid: manifold3d.Manifold) -> None:
    part, _, parting = made(solid, kind="natural")
    whole = boolean.closed_solid(part.mesh)
    assert whole is not None
    halves = split_along(whole, parting.joint, part.mesh.diagonal)
    assert sum(half.volume() for half in halves) == pytest.approx(part.volume_mm3, rel=1e-4)
    for half in halves:
        assert boolean.closed_solid(boolean.as_mesh(half, part.mesh.tags)) is not None


def test_steps_are_level_terraces_with_a_steep_edge_between() -> None:
    solid = box(40, 40, 10) + box(40, 40, 10).translate([40, 0, 14]) + box(4, 40, 24).translate([38, 0, 0])
    _, _, parting = made(solid, kind="stepped")
    assert parting.joint.free is not None and parting.joint.air is not None
    levels = parting.joint.free[parting.joint.air]
    spread = np.histogram(levels, bins=60)[0]
    assert np.sort(spread)[-3:].sum() > 0.6 * len(levels)


def test_a_window_gets_a_joint_of_its_own() -> None:
    """A slanting plate with a hole: the ground outside slants along, the hole's own joint lies where the hole is."""
    plate = (M.cube([90, 50, 6], True) - M.cylinder(20, 9, 9, 64, True).translate([25, 0, 0])).rotate([0, 10, 0])
    _, _, parting = made(plate, kind="natural")
    assert parting.windows == 1
    assert parting.locked_mm2 < 30.0
    held = made(plate, kind="natural", nudges=((1, -4.5),))[2]
    assert held.joint.air is not None and held.joint.free is not None
    u, v = held.joint.flat_points(np.array([[24.5, 0.0, -4.4]]))[0, :2]
    assert held.joint.at(np.array([u, v]), free=True) == pytest.approx(-4.5, abs=0.05)


def test_a_rounded_rim_is_parted_below_its_top() -> None:
    """A ring of round wire on a cone: its line is where the wire points outward most, half a wire under its top."""
    wire = M.revolve(manifold3d.CrossSection.circle(3.0, 48).translate([30.0, 0.0]), 128)
    _, _, parting = made(wire)
    assert parting.rim_below_mm == pytest.approx(3.0, abs=0.4)


# --- a theorem, and two judges of our own against each other ---------------------------------------------------------


@given(st.integers(0, 10**6))
def test_a_convex_body_has_nothing_locked_for_any_draw(seed: int) -> None:
    noise = np.random.default_rng(seed)
    body = mesh_of(M.hull_points(noise.normal(size=(int(noise.integers(8, 60)), 3)) * noise.uniform(5, 40, 3)))
    reach = reach_along(body, unit(noise.normal(size=3)))
    assert not reach.mixed.any()
    assert (reach.up | reach.down).all()


@given(st.integers(0, 10**6))
def test_reach_agrees_with_brute_force_rays(seed: int) -> None:
    """Every sample of every face against every triangle by Moeller and Trumbore's test, written here afresh."""
    noise = np.random.default_rng(seed)
    solid = M.cube((noise.random(3) * 20 + 10).tolist(), True)
    for _ in range(3):
        ball = M.sphere(float(noise.uniform(3, 8)), 10).translate((noise.random(3) * 20 - 10).tolist())
        solid = solid - ball if noise.random() < 0.6 else solid + ball
    mesh = mesh_of(solid.rotate((noise.random(3) * 360).tolist()))
    way = unit(noise.normal(size=3))
    reach = reach_along(mesh, way)
    clear = ~reach.mixed & (np.abs(reach.slope) > 0.02) & (mesh.areas > 1e-4 * mesh.area)
    for face in np.flatnonzero(clear)[:40]:
        point = mesh.corners[face].mean(axis=0) + mesh.normals[face] * 2e-5 * mesh.diagonal
        for open_way, sign in ((reach.up[face], 1.0), (reach.down[face], -1.0)):
            facing = sign * reach.slope[face] > 0
            assert bool(open_way) == bool(facing and not _hits(mesh.corners, point, sign * way))


def _hits(corners: np.ndarray, origin: np.ndarray, way: np.ndarray) -> bool:
    one, two = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    p = np.cross(way, two)
    det = np.einsum("ij,ij->i", one, p)
    safe = np.where(np.abs(det) > 1e-12, det, np.inf)
    t = origin - corners[:, 0]
    u = np.einsum("ij,ij->i", t, p) / safe
    q = np.cross(t, one)
    v = q @ way / safe
    far = np.einsum("ij,ij->i", two, q) / safe
    return bool(((u >= 0) & (v >= 0) & (u + v <= 1) & (far > 0)).any())


def test_a_revolved_profile_locks_what_its_one_dimensional_integral_says() -> None:
    """A bobbin drawn along its axis: of the waist's surface everything inside the flange's radius is shaded from above.

    With the joint at the foot all of the waist below the upper flange locks: integral of 2 pi r ds over it.
    """
    z = np.linspace(10.0, 50.0, 81)
    r = 20.0 - 8.0 * np.sin(np.pi * (z - 10.0) / 40.0)
    profile = np.array([[0, 0], [24, 0], [24, 10], *np.column_stack([r, z]).tolist(), [24, 50], [24, 60], [0, 60]])
    part, _, parting = made(M.revolve(manifold3d.CrossSection([profile]), 360), kind="flat", height_mm=0.0)
    waist = float((np.pi * (r[1:] + r[:-1]) * np.hypot(np.diff(r), np.diff(z))).sum())
    ring = np.pi * (24.0**2 - 20.0**2)  # the under side of the upper flange, and the upper side of the lower one
    # both flanges shade the waist; the lower flange's upper face sees the upper flange straight above it
    assert parting.locked_any_mm2 == pytest.approx(waist + 2 * ring, rel=0.01)
    assert part.area_mm2 > parting.locked_mm2 >= parting.locked_any_mm2 - 1e-6


def test_a_cap_shaped_pocket_in_a_flat_back_goes_to_the_other_half() -> None:
    """A spherical cap cut into the underside of a block that is drawn upward with its joint at the foot of the
    block: shut in all round at the joint, it is rammed with the half below. With the joint over it, it locks.
    """
    radius, deep = 15.0, 6.0
    block = box(60, 60, 30) - M.sphere(radius, 256).translate([30, 30, deep - radius])
    _, _, parting = made(block, kind="flat", height_mm=0.0)
    assert parting.locked_mm2 < 1.0
    _, _, parting = made(block, kind="flat", height_mm=30.0)
    assert parting.locked_mm2 < 1.0
    _, _, roofed = made(block + box(60, 60, 4).translate([0, 0, -4]), kind="flat", height_mm=-4.0)
    # shut in between roof and floor it leaves by no joint: cap and floor under it
    assert roofed.locked_mm2 == pytest.approx(np.pi * deep * (4 * radius - deep), rel=0.02)


# --- the trial draw ---------------------------------------------------------------------------------------------------


def test_sand_in_a_cross_bore_tears_with_its_own_volume() -> None:
    solid = M.cube([40, 40, 40], True) - M.cylinder(60, 8, 8, 128, True).rotate([90, 0, 0])
    _, _, parting = made(solid, kind="flat", height_mm=0.0)
    assert parting.trial.torn_mm3 == pytest.approx(np.pi * 64 * 40, rel=0.01)
    halves = {torn.half: torn for torn in parting.trial.places}
    assert halves["cope"].volume_mm3 == pytest.approx(halves["drag"].volume_mm3, rel=0.01)
    assert halves["cope"].clear_mm == pytest.approx(8.0, rel=0.02)
    # the curve: over a half round of radius r the sand gone at lift L is the integral of min(L, sqrt(r2 - x2))
    x = (np.arange(20000) + 0.5) / 20000 * 16.0 - 8.0
    lift = float(parting.trial.lifts_mm[3])
    meant = float(np.minimum(lift, np.sqrt(64.0 - x**2)).mean() * 16.0 * 40.0)
    assert parting.trial.cope_mm3[3] == pytest.approx(meant, rel=0.02)


def test_a_ball_parted_off_its_middle_tears_the_ring_beside_it() -> None:
    """Sand between the sphere and its own cylinder, from the equator up to the joint: pi h^3 / 3."""
    _, _, parting = made(M.sphere(30, 256), kind="flat", height_mm=10.0)
    assert parting.trial.torn_mm3 == pytest.approx(np.pi * 1000 / 3, rel=0.02)


@law(4, 60)
def test_something_tears_exactly_where_something_locks(seed: int) -> None:
    noise = np.random.default_rng(seed)
    solid = M.cube((noise.random(3) * 30 + 20).tolist(), True)
    for _ in range(int(noise.integers(1, 4))):
        tool = M.cylinder(120, float(noise.uniform(2, 6)), -1.0, 40, True).rotate(
            (noise.integers(0, 2, 3) * 90.0).tolist()
        )
        tool = tool.translate((noise.random(3) * 16 - 8).tolist())
        solid = solid - tool
    part, _, parting = made(solid, kind="flat")
    locks = parting.locked_mm2 > 2e-3 * part.area_mm2
    tears = parting.trial.torn_mm3 > 1e-4 * part.volume_mm3
    assert locks == tears


def test_hands_askew_press_only_walls_with_less_draft_than_the_tilt() -> None:
    """A frustum of 5 degrees leaves clean at 2 degrees askew; one of 0.5 degrees does not, and rapping helps."""
    steep = made(M.cylinder(40, 30, 30 - 40 * np.tan(np.radians(5.0)), 128), kind="flat", height_mm=0.0)[2]
    assert all(tilted.pressed_mm3 == 0.0 for tilted in steep.trial.tilted)
    weak = M.cylinder(40, 30, 30 - 40 * np.tan(np.radians(0.5)), 128)
    plain = made(weak, kind="flat", height_mm=0.0, rap_mm=0.0)[2].trial.tilted[0]
    rapped = made(weak, kind="flat", height_mm=0.0, rap_mm=0.5)[2].trial.tilted[0]
    assert plain.pressed_mm3 > rapped.pressed_mm3
    assert plain.allowed_deg < 1.0 < rapped.allowed_deg


@pytest.mark.parametrize(("amplitude", "sides"), [(4.0, 4), (6.0, 4), (9.0, 4), (6.0, 3)])
def test_the_line_of_a_bar_with_edges_does_not_stray_where_its_end_faces_are_divided(
    amplitude: float, sides: int
) -> None:
    """A diamond on a sine of amplitude 6 rises and falls 12; its line once ran up the first rib beside the end, to
    14.2.
    """
    turns = np.arange(sides) * 2 * np.pi / sides
    section = manifold3d.CrossSection([np.stack([8 * np.cos(turns), 8 * np.sin(turns)], axis=1)])
    bar = M.extrude(section, 120.0, 120).rotate([0, 90, 0])
    bar = bar.warp_batch(
        lambda p: p + np.stack([0 * p[:, 0], 0 * p[:, 0], amplitude * np.sin(2 * np.pi * p[:, 0] / 120)], 1)
    )
    _, _, parting = made(bar)
    # corners of a triangle lie at the height of its flat: never more than the sine itself
    assert parting.relief_mm == pytest.approx(2 * amplitude, rel=0.01)
    assert parting.locked_mm2 < 1e-6
