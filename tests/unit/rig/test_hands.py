"""Gates put by hand, text that they keep off, and a head that is asked for."""

import dataclasses

import msgspec
import numpy as np
import pytest
import shapely

from pounce.base.errors import UserFault
from pounce.base.finding import Finding
from pounce.base.progress import silent
from pounce.job import edits, rig_edits
from pounce.job.changes import take_remedy
from pounce.job.choose import choose
from pounce.job.job import Job
from pounce.rig.choices import GATE_AT, GATES
from pounce.rig.flasks import SAMPLE
from pounce.rig.flow import G
from pounce.rig.hands import feeders_by_hand, from_part, gates_by_hand, put_at, slid, stood_at, to_part
from pounce.rig.stop import rig_stop
from pounce.rig.values import FeederChoice, RigChoices, RigResult
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import CORES
from tests.conftest import box, model_of, some
from tests.unit.rig.helpers import given_of, mould_of, worked

# Along, across, high, mm.
PLATE = (120.0, 80.0, 20.0)


@pytest.fixture(scope="module")
def plate() -> Results:
    return worked(box(*PLATE))


def put(results: Results, *gates_mm: tuple[float, float, float], count: int = 1) -> RigResult:
    """The mould with gates put by hand."""
    choices = RigChoices(count=count, gates_mm=gates_mm)
    return rig_stop(choices, (dataclasses.replace(given_of(results, count), gates_mm=gates_mm),), SAMPLE, silent)


def on_part(mould: RigResult) -> list[tuple[float, float]]:
    """Where the gates of each casting meet its part."""
    return [to_part(mould, mould.castings[one.casting], np.array(one.at_mm))[:2] for one in mould.gates]


def found(mould: RigResult, code: str) -> list[Finding]:
    return [one for one in mould.findings if one.code == code]


@some("spot", [(0.0, 33.0), (70.0, 80.0), (120.0, 55.0), (47.0, 0.0)], 2)
def test_a_gate_stands_where_it_was_put(plate: Results, spot: tuple[float, float]) -> None:
    """Of each casting, however it is turned, and each of them gets one."""
    made = put(plate, (*spot, 0.0), count=2)
    assert [one.casting for one in made.gates] == [0, 1] and made.pinned
    for at in on_part(made):
        assert at == pytest.approx(spot, abs=0.02)
    assert not found(made, "gate-put-off")
    # it leaves square to that side, and its contact is all of its mouth
    for gate in made.gates:
        assert gate.contact_mm2 > 0.85 * gate.section_mm2


def test_a_gate_put_off_the_outline_is_moved_and_told(plate: Results) -> None:
    """The middle of the plate is 40 mm from the nearest of its sides."""
    made = put(plate, (60.0, 40.0, 0.0))
    (told,) = found(made, "gate-put-off")
    assert told.figures["off_mm"] == pytest.approx(40.0 * 1.0125, rel=0.01) and not told.informational
    job = rig_edits.put_gates(Job(), ((60.0, 40.0, 0.0),)).job
    assert take_remedy(job, told.remedies[0]).job.rig.gates_mm == ()


def test_two_gates_put_at_one_place_stand_beside_one_another(plate: Results) -> None:
    made = put(plate, (60.0, 0.0, 0.0), (61.0, 0.0, 0.0))
    a, b = on_part(made)
    assert np.hypot(a[0] - b[0], a[1] - b[1]) > made.gates[0].wide_mm
    assert found(made, "gate-put-off")


def test_a_hand_slides_a_gate_along_its_casting(plate: Results) -> None:
    """Where it is let go is where the next mould cuts it, through the turns of both."""
    before = mould_of(plate, RigChoices(count=2))
    assert gates_by_hand(before) == (0, 1)
    gate = before.gates[1]
    along = np.array([-np.sin(np.radians(gate.way_deg)), np.cos(np.radians(gate.way_deg))])
    to = np.array(gate.at_mm[:2]) + 9.0 * along + 3.0  # off the outline by a shaking hand
    spot = slid(before, 1, (float(to[0]), float(to[1])))
    metal = shapely.unary_union(
        [shapely.Polygon(one.rings[0]) for one in before.shapes if one.kind == "casting" and one.casting == 1]
    )
    assert metal.exterior.distance(shapely.Point(spot)) < 1e-6
    (place,) = put_at(before, 1, (float(to[0]), float(to[1])))
    assert from_part(before, before.castings[1], np.array(place))[:2] == pytest.approx(spot, abs=1e-6)
    after = put(plate, place, count=2)
    assert on_part(after)[0] == pytest.approx(place[:2], abs=0.05)


def fed(results: Results, *feeders: FeederChoice) -> RigResult:
    """Two castings, each with these feeders."""
    choices = RigChoices(count=2, feeders=feeders)
    return rig_stop(choices, (dataclasses.replace(given_of(results, 2), feeders=feeders),), SAMPLE, silent)


def test_a_hand_moves_a_feeder_over_its_casting(plate: Results) -> None:
    """It stands on the metal under it, and so does its fellow on the casting beside it; over sand it goes nowhere."""
    job = Job(rig=RigChoices(feeders=(FeederChoice((30.0, 40.0, 0.0), 30.0, 36.0, 24.0),)))
    before = fed(plate, *job.rig.feeders)
    assert feeders_by_hand(before) == (0, 1)
    second = before.feeders[1]
    to = (second.foot_mm[0] + 7.0, second.foot_mm[1] - 4.0)
    place = stood_at(before, 1, to)
    assert place is not None and place[2] == pytest.approx(0.0, abs=1e-6), "on the plate, which is rammed back up"
    moved = rig_edits.put_feeder(job, second.number, place).job
    assert moved.rig.feeders[0].wide_mm == 30.0
    after = fed(plate, *moved.rig.feeders)
    for one in after.feeders:
        there = to_part(after, after.castings[one.casting], np.array(one.foot_mm))
        assert there == pytest.approx(place, abs=0.02)
    x, y = before.castings[1].at_mm
    assert stood_at(before, 1, (x + 500.0, y)) is None


def test_gates_are_put_by_word_and_let_go_of_by_number() -> None:
    job = choose(choose(Job(), "mould", GATE_AT, "10,20,0").job, "mould", GATE_AT, "30,20.004,0").job
    assert job.rig.gates_mm == ((10.0, 20.0, 0.0), (30.0, 20.0, 0.0))
    assert choose(job, "mould", GATE_AT, "none").job.rig.gates_mm == ()
    more, fewer = (choose(job, "mould", GATES, n).job.rig for n in (3, 1))
    assert (more.gates, more.gates_mm) == (3, job.rig.gates_mm) and fewer.gates_mm == ()
    assert rig_edits.arrange_anew(job).job.rig.gates_mm == ()
    with pytest.raises(UserFault, match="is no place for a gate"):
        choose(job, "mould", GATE_AT, "left side")


@pytest.fixture(scope="module")
def lettered() -> Results:
    """A block with text all along the side that its gate takes when there is none."""
    solid = box(100.0, 30.0, 40.0)
    for k in range(9):  # nine bars that stand out of one long side, as letters do
        solid = solid + box(4.0, 1.5, 30.0).translate([8.0 + 10.0 * k, -1.4, 5.0])
    model = model_of(solid)
    job = edits.set_metal(with_model(Job(name="Sign"), model), "aluminium-silicon").job
    job = edits.set_height(edits.set_draw(job, (0.0, 0.0, 1.0)).job, 20.0).job
    return Pipeline().run(job, model, until=CORES)


def test_gates_keep_off_text_and_tell_where_they_were_put_on_it(lettered: Results) -> None:
    free = mould_of(lettered)
    for at in on_part(free):
        assert at[1] > 1.0 and not found(free, "gate-on-mark")
    by_hand = put(lettered, (51.0, -1.4, 20.0))
    assert on_part(by_hand)[0][1] < 1.0
    (told,) = found(by_hand, "gate-on-mark")
    assert "must stay as it is cast" in told.text and told.remedies


def test_a_head_that_is_asked_for_extends_the_sprue(plate: Results) -> None:
    """Hydrostatics: the plate's top pushes with rho g A for each metre more, and so does what is cut over the joint."""
    plain, tall = mould_of(plate), mould_of(plate, RigChoices(head_mm=180.0))
    assert tall.flask == plain.flask and plain.extension_mm == 0.0
    sprue, flow = tall.sprue, tall.flow
    assert sprue is not None and sprue.high_mm + sprue.cup_high_mm == 180.0
    assert tall.extension_mm == pytest.approx(180.0 - 25.0 - tall.flask.cope_mm)
    assert flow.head_mm > plain.flow.head_mm + tall.extension_mm - 1e-6
    more = 180.0 - (plain.flask.cope_mm + 25.0)
    top = PLATE[0] * PLATE[1] * 1.0125**2 * 1e-6  # m2, at the size that is rammed
    least = 2400.0 * G * top * more / 1000.0
    assert least * 0.97 < tall.weights.lift_metal_n - plain.weights.lift_metal_n < least * 1.25
    # the sand of the cope is what it was, but for the gating's other sections
    assert tall.weights.cope_sand_kg == pytest.approx(plain.weights.cope_sand_kg, rel=0.01)
    assert found(tall, "sprue-extended") and "tin without its bottom" in " ".join(one.words() for one in tall.steps)
    # it is stood on the closed mould: a cope is laid on its back before
    said = [one.words() for one in tall.steps]
    at = [
        next(k for k, words in enumerate(said) if mark in words) for mark in ("on its back", "Close on", "tin without")
    ]
    assert at == sorted(at) and "set the cup on" not in said[at[1]] and "set the cup on" in said[at[2]]
    low = mould_of(plate, RigChoices(head_mm=60.0))
    (told,) = found(low, "head-by-cope")
    assert low.extension_mm == 0.0
    assert take_remedy(rig_edits.set_head(Job(), 60.0).job, told.remedies[0]).job.rig.head_mm is None


def test_a_head_and_a_cup_in_the_cope_exclude_one_another() -> None:
    cut = rig_edits.set_cup(Job(), "cut").job
    tall = rig_edits.set_head(cut, 200.0).job
    assert (tall.rig.cup, tall.rig.head_mm) == ("set-on", 200.0)
    again = rig_edits.set_cup(tall, "cut").job
    assert (again.rig.cup, again.rig.head_mm) == ("cut", None)


def test_a_cope_too_low_for_its_casting_is_cured_by_a_head() -> None:
    """The fault names a head, and with that head the same cope is poured."""
    model = model_of(box(60.0, 40.0, 120.0))
    job = edits.set_metal(with_model(Job(name="Post"), model), "aluminium-silicon").job
    job = edits.set_height(edits.set_draw(job, (0.0, 0.0, 1.0)).job, 60.0).job
    post = Pipeline().run(job, model, until=CORES)
    low = RigChoices(inside_mm=(300.0, 240.0), cope_mm=40.0, drag_mm=120.0)
    with pytest.raises(UserFault, match="ask for a head of") as fault:
        mould_of(post, low)
    asked = float(fault.value.try_this.split("head of ")[1].split(" mm")[0])
    made = mould_of(post, msgspec.structs.replace(low, head_mm=asked))
    assert made.extension_mm > 0.0
