"""What is weighed of a mould, by hand and by the law of Torricelli."""

import math

import pytest

from pounce.metals.pouring import liquid_density, pouring
from pounce.rig.values import RigChoices, RigResult
from tests.conftest import box
from tests.unit.rig.helpers import mould_of, worked

BLOCK = worked(box(90, 60, 25))


@pytest.fixture(scope="module")
def mould() -> RigResult:
    return mould_of(BLOCK)


def test_metal_is_castings_gating_and_cup(mould: RigResult) -> None:
    w = mould.weights
    rho = liquid_density("aluminium-silicon").value * 1e-9
    assert w.castings_kg == pytest.approx(BLOCK.stock.cast.mass_kg if BLOCK.stock is not None else 0.0, rel=0.02)
    assert w.gating_kg == pytest.approx(mould.gating.volume * rho - w.feeders_kg, rel=1e-6)
    assert w.poured_kg == pytest.approx(w.castings_kg + w.gating_kg + w.feeders_kg + w.cup_kg)
    assert w.metal_yield == pytest.approx(w.castings_kg / w.poured_kg)


def test_sand_fills_what_metal_leaves_of_the_flask(mould: RigResult) -> None:
    """Cope and drag together: the flask's room less pattern and gating, by the mould's density."""
    f, w = mould.flask, mould.weights
    assert BLOCK.metal is not None
    density = BLOCK.metal.mould.density.value * 1e-9
    room = f.long_mm * f.wide_mm * (f.cope_mm + f.drag_mm)
    taken = mould.gating.volume + 90 * 60 * 25 * BLOCK.metal.factor**3
    assert w.cope_sand_kg + w.drag_sand_kg == pytest.approx((room - taken) * density, rel=0.03)


def test_two_castings_weigh_twice_as_much_and_share_the_cup(mould: RigResult) -> None:
    two = mould_of(BLOCK, RigChoices(count=2)).weights
    assert two.castings_kg == pytest.approx(2 * mould.weights.castings_kg)
    assert two.metal_yield > mould.weights.metal_yield - 0.1


def test_the_choke_passes_what_fills_the_mould(mould: RigResult) -> None:
    """Q = A c sqrt(2 g h) (Torricelli); t = V / Q."""
    flow = mould.flow
    rho = liquid_density("aluminium-silicon").value
    choke = min(math.pi / 4 * mould.sprue.foot_mm**2, sum(g.wide_mm * g.thick_mm for g in mould.gates))
    speed = pouring().common.loss.value * math.sqrt(2 * 9.81 * flow.head_mm / 1000.0)
    litres = (mould.weights.castings_kg + mould.weights.gating_kg) / rho
    assert flow.fill_s == pytest.approx(litres / (choke * 1e-6 * speed), rel=0.02)
