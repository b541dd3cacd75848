"""Gates and runners as solids: contact by hand, overlap, sections."""

import math
from dataclasses import replace

import manifold3d
import numpy as np
import pytest

from pounce.metals.pouring import pouring_of
from pounce.rig.sections import Sections, Wanted, sections_of
from pounce.rig.solids import Cutting, bars, contact, gating_of, link, rooted, slot, sprue_solids
from tests.conftest import box

WANTED = Wanted(
    pouring_of("aluminium-silicon"), 2420.0, 1.4, 75.0, 28.0, 28.0, 1.0, 8.0, 3.5, 60.0, None, "snap-off", "set-on"
)


def sections(**changes: object) -> Sections:
    """Sections of a usual casting, with some figures said outright."""
    return replace(sections_of(WANTED), **changes)  # type: ignore[arg-type]


def test_contact_of_a_turned_cube() -> None:
    """A bar of 10 by 6 driven into a cube turned 27 degrees, square to its face: 60 mm2."""
    cube = manifold3d.Manifold.cube([40.0, 40.0, 40.0], True).rotate([0.0, 0.0, 27.0])
    bar = manifold3d.Manifold.cube([30.0, 10.0, 6.0], True).translate([30.0, 0.0, 0.0]).rotate([0.0, 0.0, 27.0])
    assert contact(bar, cube) == pytest.approx(60.0, rel=1e-9)


@pytest.mark.parametrize("turn", [0.0, 17.0, 45.0, 83.0])
def test_a_gate_is_rooted_until_it_meets_metal(turn: float) -> None:
    """In a round casting a straight mouth leaves a gap at its edges until it goes deeper."""
    s = sections(gate_wide=30.0, gate_thick=5.0)
    drum = manifold3d.Manifold.cylinder(40.0, 40.0, 40.0, 128).translate([0.0, 0.0, -20.0])
    out = np.array([np.cos(np.radians(turn)), np.sin(np.radians(turn))])
    cutting = Cutting(np.array([*(40.0 * out), 0.0]), np.array([*(60.0 * out), 0.0]), out, 0, "cope")
    piece, area = rooted(cutting, s, drum, 80.0)
    section = (30.0 - 5.0 * math.tan(math.radians(10.0))) * 5.0
    assert area >= 0.9 * section and contact(slot(cutting, s, 0.0), drum) < area
    assert float((piece ^ drum).volume()) > 0.0


def test_a_gate_never_goes_through_a_thin_wall() -> None:
    """A tube with a wall of 4 mm: what is left of the gate when the tube is taken away lies outside of it."""
    s = sections(gate_wide=24.0, gate_thick=3.0)
    tube = manifold3d.Manifold.cylinder(40.0, 40.0, 40.0, 128) - manifold3d.Manifold.cylinder(40.0, 36.0, 36.0, 128)
    tube = tube.translate([0.0, 0.0, -20.0])
    cutting = Cutting(np.array([40.0, 0.0, 0.0]), np.array([60.0, 0.0, 0.0]), np.array([1.0, 0.0]), 0, "cope")
    piece, _ = rooted(cutting, s, tube, 4.0)
    room = manifold3d.Manifold.cylinder(80.0, 35.9, 35.9, 128).translate([0.0, 0.0, -40.0])
    assert float((piece ^ room).volume()) == pytest.approx(0.0, abs=1e-6)


def test_gate_and_runner_of_other_halves_are_one_body() -> None:
    """They meet in a plane only; a link that reaches into both makes them one, whatever the turn."""
    s = sections()
    block = box(40, 40, 40).translate([-20.0, -20.0, -20.0])
    for turn in (0.0, 30.0, 77.0):
        c, w = np.cos(np.radians(turn)), np.sin(np.radians(turn))
        out = np.array([c, w])
        casting = block.rotate([0.0, 0.0, turn])
        cutting = Cutting(np.array([20.0 * c, 20.0 * w, 0.0]), np.array([40.0 * c, 40.0 * w, 0.0]), out, 0, "cope")
        line = np.array(
            [[40.0 * c + 40.0 * w, 40.0 * w - 40.0 * c, 0.0], [40.0 * c - 40.0 * w, 40.0 * w + 40.0 * c, 0.0]]
        )
        pieces = [
            rooted(cutting, s, casting, 40.0)[0],
            link(cutting, s),
            *bars(line, s.runner_wide, s.runner_high, "drag"),
        ]
        gating = gating_of(pieces, [casting])
        assert len(gating.decompose()) == 1
        assert float((gating ^ casting).volume()) == pytest.approx(0.0, abs=1e-6)
        both = manifold3d.Manifold.batch_boolean([casting, *pieces], manifold3d.OpType.Add)
        assert float(both.volume()) == pytest.approx(float(casting.volume() + gating.volume()), rel=1e-9)


def test_a_runner_has_the_section_it_was_given() -> None:
    line = np.array([[0.0, 0.0, 0.0], [100.0, 0.0, 0.0]])
    (bar,) = bars(line, 20.0, 12.0, "drag")
    across = bar.rotate([0.0, 90.0, 0.0]).slice(-50.0)
    lean = 12.0 * math.tan(math.radians(10.0))
    assert float(across.area()) == pytest.approx((20.0 - lean) * 12.0, rel=1e-6)
    assert bar.bounding_box()[2] == pytest.approx(-12.0) and bar.bounding_box()[5] == pytest.approx(0.0)


def test_the_sprue_tapers_from_its_top_to_its_foot() -> None:
    s = sections()
    sprue, well, cup = sprue_solids((10.0, -5.0), s, False)
    assert cup is None and s.top > s.foot and float((sprue ^ well).volume()) > 0.0
    top = sprue.slice(s.sprue_high - 1e-6).area()
    assert float(top) == pytest.approx(math.pi / 4.0 * s.top**2, rel=0.01)


def test_light_metal_is_choked_at_the_foot_and_iron_at_the_gates() -> None:
    """Campbell's 0.5 m/s for aluminium (from memory) holds at the gates; in iron they are the narrowest place."""
    light = sections_of(WANTED)
    foot = math.pi / 4.0 * light.foot**2
    assert foot * light.choke.speed_m_s / light.gates_mm2 <= 0.5
    iron = sections_of(replace(WANTED, group=pouring_of("grey-iron"), density=6950.0, mass_kg=4.0))
    assert iron.gates_mm2 < math.pi / 4.0 * iron.foot**2
    assert (light.gate_half, light.runner_half) == ("cope", "drag")
    assert (iron.gate_half, iron.runner_half) == ("drag", "cope")


def test_a_cup_in_the_cope_costs_head() -> None:
    assert sections_of(replace(WANTED, cup="cut")).choke.head_mm < sections_of(WANTED).choke.head_mm


def test_gates_that_feed_are_thicker() -> None:
    assert sections_of(replace(WANTED, school="feeding")).gate_thick > sections_of(WANTED).gate_thick


def test_thin_long_walls_get_a_gate_more() -> None:
    thin = replace(WANTED, wall_mm=4.0, far_mm=200.0)
    near = replace(thin, far_mm=50.0)
    assert sections_of(thin).apart and not sections_of(near).apart
    assert sections_of(thin).gates == sections_of(near).gates + 1
