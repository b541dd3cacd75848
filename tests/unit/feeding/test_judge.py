"""The metal's law of feeding, and what a last place may leave."""

import pytest

from pounce.feeding.judge import law_of, lump, modulus_mm, void_of
from pounce.freeze.heats import Poured, chvorinov
from pounce.freeze.spots import Spot
from pounce.metals.heat import heat
from pounce.metals.method import MethodChoices, resolve
from pounce.metals.tables import metal


def law(name: str, **more: object):  # type: ignore[no-untyped-def] # noqa: ANN201
    return law_of(resolve(MethodChoices(metal=name)), Poured(name, "green-sand", metal(name).pouring.value), **more)  # type: ignore[arg-type]


def spot(seconds: float, mm3: float, cut: float = 0.0) -> Spot:
    return Spot((0.0, 0.0, 0.0), seconds, cut, mm3, 0, None, 1)


def test_the_hole_is_a_share_of_what_shrinks() -> None:
    one = law("aluminium-silicon")
    low, high = void_of(spot(60.0, 10_000.0), one)
    share = metal("aluminium-silicon").freezing_shrinkage.value / 100.0
    assert 0.0 <= low <= high <= share * 10_000.0
    assert void_of(spot(60.0, 20_000.0), one)[1] == pytest.approx(2.0 * high)


def test_grey_iron_feeds_itself_with_carbon_enough_in_a_mould_that_holds() -> None:
    assert law("grey-iron").reason
    lean = heat().none["grey-iron"].carbon
    assert lean is not None
    assert law("grey-iron", carbon_pct=lean.value + 0.1).reason
    for worse in ({"carbon_pct": lean.value - 0.3}, {"rigid": False}):
        found = law("grey-iron", **worse)
        assert not found.reason and found.shrinks >= law("grey-iron").shrinks


def test_steel_always_wants_feeding() -> None:
    assert law("carbon-steel").reason == ""


@pytest.mark.parametrize("seconds", [10.0, 60.0, 600.0])
def test_a_modulus_by_its_time_goes_as_its_root(seconds: float) -> None:
    one = law("aluminium-silicon")
    assert modulus_mm(4.0 * seconds, one) == pytest.approx(2.0 * modulus_mm(seconds, one))
    slab = Poured("aluminium-silicon", "green-sand", metal("aluminium-silicon").pouring.value)
    # a compact body sets in four fifths of a slab's time of its modulus
    assert modulus_mm(seconds, one) ** 2 * chvorinov(slab) * 0.8 == pytest.approx(seconds, rel=0.02)


def test_a_lump_is_told_from_a_run_of_wall() -> None:
    one = law("aluminium-silicon")
    m = modulus_mm(100.0, one)
    assert lump(spot(100.0, 200.0 * m**3, cut=20.0), one)
    assert not lump(spot(100.0, 5000.0 * m**3, cut=20.0), one)
