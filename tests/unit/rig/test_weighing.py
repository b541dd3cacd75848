"""What is weighed of a mould, by hand and by the law of Torricelli."""

import math

import pytest

from pounce.metals.pouring import liquid_density, pouring
from pounce.rig.values import RigChoices, RigResult
from pounce.route.results import Results
from tests.conftest import box
from tests.unit.rig.helpers import mould_of, worked


@pytest.fixture(scope="module")
def block() -> Results:
    return worked(box(90, 60, 25))


@pytest.fixture(scope="module")
def mould(block: Results) -> RigResult:
    return mould_of(block)


def test_metal_is_castings_gating_and_cup(block: Results, mould: RigResult) -> None:
    w = mould.weights
    rho = liquid_density("aluminium-silicon").value * 1e-9
    assert w.castings_kg == pytest.approx(block.stock.cast.mass_kg if block.stock is not None else 0.0, rel=0.02)
    assert w.gating_kg == pytest.approx(mould.gating.volume * rho - w.feeders_kg, rel=1e-6)
    assert w.poured_kg == pytest.approx(w.castings_kg + w.gating_kg + w.feeders_kg + w.cup_kg)
    assert w.metal_yield == pytest.approx(w.castings_kg / w.poured_kg)


def test_sand_fills_what_metal_leaves_of_the_flask(block: Results, mould: RigResult) -> None:
    """Cope and drag together: the flask's room less pattern and gating, by the mould's density."""
    f, w = mould.flask, mould.weights
    assert block.metal is not None
    density = block.metal.mould.density.value * 1e-9
    room = f.long_mm * f.wide_mm * (f.cope_mm + f.drag_mm)
    taken = mould.gating.volume + 90 * 60 * 25 * block.metal.factor**3
    assert w.cope_sand_kg + w.drag_sand_kg == pytest.approx((room - taken) * density, rel=0.03)


def test_two_castings_weigh_twice_as_much_and_share_the_cup(block: Results, mould: RigResult) -> None:
    two = mould_of(block, RigChoices(count=2)).weights
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


def test_the_closed_mould_is_carried_whole_and_two_carry_a_heavy_one(block: Results, mould: RigResult) -> None:
    """Common practice: over 25 kg no half is lifted, and no closed mould carried, by one alone."""
    w, limit = mould.weights, pouring().common.heavy.value
    assert limit == 25.0 and w.closed_kg == pytest.approx(w.cope_kg + w.drag_kg + w.cores_kg)
    told = {one.code: one for one in mould.findings}
    assert w.closed_kg < limit and "heavy-half" not in told
    for cope, half in ((100.0, False), (320.0, True)):
        large = mould_of(block, RigChoices(inside_mm=(400.0, 300.0), cope_mm=cope, drag_mm=90.0))
        (heavy,) = (one for one in large.findings if one.code == "heavy-half")
        heaviest = max(large.weights.cope_kg, large.weights.drag_kg)
        assert (heaviest > limit) is half
        assert heavy.figures["half_kg"] == pytest.approx(heaviest if half else large.weights.closed_kg)
        assert heavy.words().startswith("A half of this mould" if half else "Closed the mould weighs")


def test_the_steps_say_out_of_which_half_the_pattern_is_drawn(block: Results, mould: RigResult) -> None:
    opened = next(step.words() for step in mould.steps if "lay it on its back" in step.words())
    assert "draw the pattern out of the drag." in opened and mould.up_mm < 0.1, "its flat back lies in the joint"
    two = mould_of(block, RigChoices(count=2))
    assert "draw two patterns out of the drag." in " ".join(step.words() for step in two.steps)
