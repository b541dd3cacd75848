"""Sand by weight and the push on a box, against hand values."""

import manifold3d
import msgspec
import pytest

from pounce.job import edits
from pounce.job.job import Job
from pounce.metals.pouring import liquid_density
from pounce.metals.tables import mixes, mould
from pounce.rig.flasks import SAMPLE, Flask
from pounce.rig.flow import G
from pounce.rig.values import RigChoices, RigResult
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.stops import CORES
from tests.conftest import box, model_of
from tests.unit.rig.helpers import mould_of, worked


@pytest.fixture(scope="module")
def plate() -> manifold3d.Manifold:
    """A plate of 200 x 100 x 20."""
    return box(200, 100, 20)


def in_mould(solid: manifold3d.Manifold, kind: str, own: tuple[Flask, ...] = SAMPLE) -> RigResult:
    """Its mould in another sand."""
    model = model_of(solid)
    job = edits.set_mould(with_model(Job(name="Plate"), model), kind).job
    return mould_of(Pipeline().run(job, model, until=CORES), own=own)


def test_green_sand_takes_its_water_and_facing(plate: manifold3d.Manifold) -> None:
    """4 % of the sand (common practice: 3 to 5), and facing as thick as the table says all over the pattern."""
    made = mould_of(worked(plate))
    x, w = made.mixing, made.weights
    whole = w.cope_sand_kg + w.drag_sand_kg
    assert x.facing_kg + x.backing_kg == pytest.approx(whole)
    assert x.water_kg == pytest.approx(0.04 * whole)
    # 200 x 100 x 20 grown by 1.3 % has 0.0533 m2; 12 mm of it at 1600 kg/m3 are about 1.02 kg
    assert x.facing_kg == pytest.approx(1.02, rel=0.06)


@pytest.mark.parametrize(("kind", "mix"), [("resin-sand", "resin-set"), ("silicate-sand", "silicate-gassed")])
def test_bonded_sand_takes_its_binder_by_weight(plate: manifold3d.Manifold, kind: str, mix: str) -> None:
    x = in_mould(plate, kind).mixing
    assert mould(kind).mix == mix and x.facing_kg == 0.0 and x.water_kg == 0.0
    assert x.binder_kg == pytest.approx(x.backing_kg * mixes()[mix].binder_part.value / 100.0)
    part = mixes()[mix].catalyst_part
    assert x.catalyst_kg == pytest.approx(0.0 if part is None else x.binder_kg * part.value / 100.0)
    assert x.work_min > 0.0 and x.strip_min > 0.0


def test_silicate_lies_where_the_trade_has_it() -> None:
    """30 to 80 g of silicate to a kilogram of sand: common practice without source."""
    assert 30.0 <= 10.0 * mixes()["silicate-gassed"].binder_part.value <= 80.0


def test_the_push_on_a_box_is_what_a_hand_works_out(plate: manifold3d.Manifold) -> None:
    """The side of 200 by 20 under its head: rho g h A, h to the middle of the side."""
    made = mould_of(worked(plate), RigChoices(inside_mm=(600.0, 400.0), cope_mm=100.0, drag_mm=100.0))
    rho = liquid_density("aluminium-silicon").value
    head = made.sprue.high_mm + made.sprue.cup_high_mm  # type: ignore[union-attr]
    long, high = 200.0 * 1.013, made.up_mm + made.down_mm
    middle = (made.up_mm - made.down_mm) / 2.0
    hand = rho * G * 1e-9 * (head - middle) * long * high
    assert made.push.side_n == pytest.approx(hand, rel=0.02)
    assert made.push.pressure_kpa == pytest.approx(rho * G * 1e-6 * (head + made.down_mm), rel=1e-6)
    # bow of 600 x 200 x 18 under it, E 6000 MPa: 5 F L^3 / (384 E I)
    inertia = 200.0 * 18.0**3 / 12.0
    assert made.push.bow_mm == pytest.approx(5.0 * made.push.side_n * 600.0**3 / (384.0 * 6000.0 * inertia), rel=1e-6)
    assert made.push.battens == 0


SNAP = (Flask("snap", "Snap flask", "box", 300.0, 220.0, 75.0, 75.0, 4.0, snap=True),)


def test_a_snap_flask_holds_nothing_down_and_leaves_a_jacket(plate: manifold3d.Manifold) -> None:
    """Common practice: it is opened and taken off the closed mould, and a jacket holds the sides."""
    stays = mould_of(worked(plate), own=(msgspec.structs.replace(SNAP[0], snap=False),))
    off = mould_of(worked(plate), own=SNAP)
    assert off.own and (stays.stands, off.stands) == ("flask", "jacket")
    # half of its 4 kg lay on the cope
    assert stays.weights.cope_kg - off.weights.cope_kg == pytest.approx(2.0)
    # one and a half times the lift, which the sand alone does not answer
    assert off.weights.add_kg == pytest.approx(1.5 * off.weights.lift_n / G - off.weights.cope_sand_kg)
    assert (stays.weights.add_kg, off.weights.add_kg > 0.5) == (0.0, True)
    told = next(one for one in off.findings if one.code == "snap-jacket")
    assert told.figures["deep_mm"] == 150.0 and told.figures["side_kg"] == pytest.approx(off.push.side_n / G)
    closing = next(step.words() for step in off.steps if step.words().startswith("Close"))
    assert closing.index("lift it off") < closing.index("jacket") < closing.index("on the cope")
    assert "snap-jacket" not in {one.code for one in stays.findings}


def test_sand_that_has_set_needs_no_jacket(plate: manifold3d.Manifold) -> None:
    off = in_mould(plate, "resin-sand", SNAP)
    assert off.stands == "block" and not off.keys
    codes = {one.code for one in off.findings}
    assert "band-the-block" in codes and "snap-jacket" not in codes
    assert "two bands" in next(step.words() for step in off.steps if step.words().startswith("Close"))
