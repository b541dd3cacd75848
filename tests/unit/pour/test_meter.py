"""Lines of a meter, the curve with its arrest, what it asks for, and a core that dries."""

import random

import pytest

from pounce.pour.devices.standins import CoreShape, MeltShape
from pounce.pour.meter import Curve, Say, Unit, advice, arrest, sample_of, slope, steady

LIQUIDUS, SOLIDUS, LIFT, MOST = 615.0, 555.0, 759.0, 785.0
MELT = MeltShape("aluminium-silicon", 1.5, 0.75)


@pytest.mark.parametrize(
    ("line", "value", "weight", "unit"),
    [
        ("T 734.2 C", 734.2, False, Unit.C),
        ("734.2C", 734.2, False, Unit.C),
        ("TEMP: 1350.0 °F", 732.2222, False, Unit.F),
        ("T=1007.35 K", 734.2, False, Unit.K),
        ("W 812,4 g", 812.4, True, Unit.G),
        ("0.8124 kg\r\n", 812.4, True, Unit.KG),
    ],
)
def test_lines_of_usual_meters_are_understood(line: str, value: float, weight: bool, unit: Unit) -> None:
    found = sample_of(line)
    assert found is not None and found.value == pytest.approx(value, abs=1e-3)
    assert (found.weight, found.unit) == (weight, unit)


@pytest.mark.parametrize(
    "line", ["", "T 73", "T 7#4.2 C", "OL C", "T 9999 C", "-300 C", "T 734.2 C W 3 g", "1e9 C", "\x00"]
)
def test_noise_is_no_reading(line: str) -> None:
    assert sample_of(line) is None


def test_a_jump_that_no_melt_makes_is_held_back_until_it_is_said_again() -> None:
    curve = Curve()
    assert curve.add(0.0, 700.0) and curve.add(0.5, 701.0)
    assert not curve.add(1.0, 70.1) and curve.now == pytest.approx(700.5)  # half a line
    assert curve.add(1.5, 702.0)
    # a probe that was put in hot metal is believed at the second reading
    assert not curve.add(2.0, 300.0) and curve.add(2.5, 301.0)
    assert not curve.add(2.5, 301.0)  # no later than the last
    assert curve.add(3.0, 650.0, sure=True)  # what somebody read himself


def warmed(until_s: float, noise: float = 0.4, step_s: float = 0.5) -> Curve:
    curve, chance = Curve(), random.Random(3)
    k = 0.0
    while k < until_s:
        curve.add(k, MELT.at(k) + chance.gauss(0.0, noise))
        k += step_s
    return curve


def test_the_arrest_lies_at_the_liquidus_and_before_the_melt_is_through() -> None:
    curve = warmed(2200.0)
    found = arrest(curve, SOLIDUS, LIQUIDUS)
    assert found is not None and found.at_c == pytest.approx(LIQUIDUS, abs=3.0)
    assert found.end_s - found.begin_s > 60.0
    # none in metal that is still solid, and none in water that only warms
    assert arrest(warmed(900.0), SOLIDUS, LIQUIDUS) is None
    plain = Curve()
    for k in range(400):
        plain.add(float(k), 400.0 + k)
    assert arrest(plain, SOLIDUS, LIQUIDUS) is None


def test_what_a_melt_asks_for_as_it_warms_and_falls() -> None:
    seen: dict[Say, float] = {}
    lifted = 2270.0
    shape = MeltShape("aluminium-silicon", 1.5, 0.75, lifted)
    curve = Curve()
    for k in range(0, 2700, 2):
        curve.add(float(k), shape.at(float(k)))
        seen.setdefault(advice(curve, LIQUIDUS, LIFT, MOST).say, float(k))
    assert list(seen) == [Say.COLD, Say.MELTING, Say.WARMING, Say.LIFT, Say.FALLING]
    # the forecast is right to the half minute, five minutes ahead
    ahead = Curve()
    hot = next(k for k in range(3000) if MELT.at(float(k)) >= LIFT)
    for k in range(hot - 500, hot - 300):
        ahead.add(float(k), MELT.at(float(k)))
    told = advice(ahead, LIQUIDUS, LIFT, MOST)
    assert told.say is Say.WARMING and told.in_min == pytest.approx(5.0, abs=0.5)
    over = Curve()
    over.add(0.0, MOST + 5.0)
    assert advice(over, LIQUIDUS, LIFT, MOST).say is Say.HOT and advice(Curve(), 1.0, 2.0, 3.0).say is Say.NONE


def test_the_slope_is_that_of_the_line_also_by_hand() -> None:
    assert slope(warmed(600.0)) == pytest.approx(MELT.at(601.0) - MELT.at(600.0), rel=0.15)
    hand = Curve()
    for minute, c in ((0, 640.0), (2, 680.0), (4, 720.0), (5, 740.0)):
        hand.add(60.0 * minute, c)
    assert slope(hand) == pytest.approx(20.0 / 60.0, rel=0.05)
    assert slope(Curve()) is None


def test_a_core_is_dry_when_two_weighings_agree() -> None:
    core, curve, dry_at = CoreShape(), Curve(), None
    for minute in range(0, 300):
        for second in (0.0, 20.0, 40.0):
            curve.add(60.0 * minute + second, core.at(60.0 * minute + second))
        if dry_at is None and steady(curve):
            dry_at = minute
    assert dry_at is not None and 75 < dry_at < 200
    # what it still holds then is under four thousandths of its weight
    dry = core.grams * 0.95
    assert (core.at(60.0 * dry_at) - dry) / dry < 0.004
