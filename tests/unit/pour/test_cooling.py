"""Newton's cooling against its closed form, and the wait until the mould is opened."""

import math

import pytest

from pounce.metals.melt import melt, melt_group
from pounce.metals.tables import metal
from pounce.pour.cooling import before, cooled, fall_of, measured_fall, open_after_s, rate_of
from pounce.pour.things import Crucible

POT = Crucible("pot", "Pot", 1.0)


def test_newton_is_the_closed_form_and_its_inverse() -> None:
    room = melt().common.room.value
    assert cooled(740.0, 60.0, 0.001) == pytest.approx(room + (740.0 - room) * math.exp(-0.06))
    assert before(cooled(740.0, 60.0, 0.001), 60.0, 0.001) == pytest.approx(740.0)
    # steps add up: what falls in two halves falls in one whole
    assert cooled(cooled(740.0, 25.0, 0.002), 35.0, 0.002) == pytest.approx(cooled(740.0, 60.0, 0.002))
    # integrated in small steps, dT/dt = -k (T - T0)
    temperature = 740.0
    for _ in range(6000):
        temperature -= 0.01 * 0.001 * (temperature - room)
    assert cooled(740.0, 60.0, 0.001) == pytest.approx(temperature, abs=0.05)


def test_two_readings_give_the_crucible_back() -> None:
    for kg in (0.8, 1.9):
        own = fall_of(POT, "aluminium-silicon", 740.0, False)
        k = own.rate(kg, "aluminium-silicon")
        fell = cooled(760.0, 90.0, k)
        assert rate_of(760.0, fell, 90.0) == pytest.approx(k)
        told = measured_fall(760.0, fell, 90.0, kg, POT, "aluminium-silicon")
        # measured with so much metal, it holds for less of it too
        assert told.gives_w_k == pytest.approx(own.gives_w_k)
        assert told.rate(0.3, "aluminium-silicon") == pytest.approx(own.rate(0.3, "aluminium-silicon"))


def test_small_hot_open_pots_fall_fastest() -> None:
    def k(pot: Crucible, metal_id: str, at_c: float, kg: float, lid: bool = False) -> float:
        return fall_of(pot, metal_id, at_c, lid).rate(kg, metal_id)

    large = Crucible("large", "Large", 6.0)
    assert k(POT, "aluminium-silicon", 740.0, 1.5) > 1.5 * k(large, "aluminium-silicon", 740.0, 9.0)
    assert k(POT, "silicon-bronze", 1150.0, 4.0) > k(POT, "silicon-bronze", 900.0, 4.0)
    assert k(POT, "aluminium-silicon", 740.0, 1.5, True) < k(POT, "aluminium-silicon", 740.0, 1.5)
    assert k(POT, "aluminium-silicon", 740.0, 0.4) > k(POT, "aluminium-silicon", 740.0, 1.5)
    # common practice: a litre of aluminium falls about a degree a second once it is out of the fire
    assert k(POT, "aluminium-silicon", 740.0, 1.9) * 720.0 == pytest.approx(1.0, rel=0.5)


@pytest.mark.parametrize("metal_id", ["aluminium-silicon", "grey-iron", "silicon-bronze", "pewter"])
def test_the_mould_is_opened_long_after_it_is_solid(metal_id: str) -> None:
    alloy = metal(metal_id)
    waits = [open_after_s(alloy, metal_id, alloy.pouring.value, solid) for solid in (20.0, 100.0, 400.0)]
    assert waits == sorted(waits) and all(wait >= 60.0 * melt().common.open_least.value for wait in waits)
    # time goes with the square of the section, as freezing does
    assert waits[2] == pytest.approx(4.0 * waits[1], rel=1e-6) and waits[2] > 2.5 * 400.0
    # by hand: heat left over heat gone, at the coolest drive, squared
    group = melt_group(metal_id)
    assert group.open.value < alloy.solidus.value
