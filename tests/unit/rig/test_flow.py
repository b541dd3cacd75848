"""Hydraulics of the pour against worked examples and hand values."""

import math

import pytest

from pounce.rig import flow


def test_the_textbook_sprue() -> None:
    """Groover, worked example (from memory): 20 cm high, foot 2.5 cm2, cavity 1560 cm3: 198 cm/s, 495 cm3/s, 3.2 s."""
    speed = flow.free_speed(200.0)
    assert speed == pytest.approx(1.98, abs=0.005)
    flow_cm3 = speed * 100.0 * 2.5
    assert flow_cm3 == pytest.approx(495.0, abs=1.0)
    assert 1560.0 / flow_cm3 == pytest.approx(3.2, abs=0.06)


def test_the_choke_is_the_same_law_turned_round() -> None:
    """The section that lets 1560 cm3 of anything through in 3.15 s under 20 cm without loss is 2.5 cm2."""
    found = flow.choke(1.56, 1000.0, 1560.0 / 495.2, 200.0, 1.0)
    assert found.section_mm2 == pytest.approx(250.0, rel=2e-3)
    assert found.flow_mm3_s == pytest.approx(495.2e3, rel=1e-3)


def test_a_casting_of_aluminium_by_hand() -> None:
    """1.4 kg at 2420 kg/m3 in 3.5 s; cope 75 and basin 25 over the joint, 28 up and 28 down."""
    head = flow.effective_head(100.0, 28.0, 56.0)
    assert head == pytest.approx(93.0)
    found = flow.choke(1.4, 2420.0, 3.5, head, 0.8)
    assert found.speed_m_s / 0.8 == pytest.approx(1.351, abs=1e-3)
    assert found.section_mm2 == pytest.approx(153.0, abs=0.2)
    foot = flow.diameter(found.section_mm2)
    assert foot == pytest.approx(13.96, abs=0.01)
    assert flow.taper(foot, 100.0, 25.0) == pytest.approx(foot * math.sqrt(2.0))


@pytest.mark.parametrize(
    ("above", "whole", "head"), [(0.0, 50.0, 100.0), (50.0, 50.0, 75.0), (25.0, 50.0, 93.75), (10.0, 0.0, 100.0)]
)
def test_effective_heads(above: float, whole: float, head: float) -> None:
    """Top gate h, bottom gate h - c/2, between them h - p2/(2c): handbooks of casting practice, from memory."""
    assert flow.effective_head(100.0, above, whole) == pytest.approx(head)


def test_a_runner_has_its_section() -> None:
    """225 mm2, 1.2 times as wide as high, sides leaning 10 degrees: 14.83 high, by hand."""
    wide, high = flow.trapezium(225.0, 1.2, 10.0)
    assert high == pytest.approx(14.83, abs=0.01)
    narrow = wide - 2.0 * high * math.tan(math.radians(10.0))
    assert (wide + narrow) / 2.0 * high == pytest.approx(225.0)


@pytest.mark.parametrize(("fill", "head"), [(0.0, 100.0), (3.0, 0.0)])
def test_a_choke_needs_time_and_head(fill: float, head: float) -> None:
    with pytest.raises(ValueError, match="head and a time"):
        flow.choke(1.0, 2420.0, fill, head, 0.8)
