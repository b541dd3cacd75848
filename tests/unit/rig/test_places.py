"""Where gates are cut, how wide, and the way of the metal to them, by plain geometry."""

import math

import manifold3d as m3
import numpy as np
import pytest
import shapely

from pounce.metals.pouring import pouring, pouring_of
from pounce.rig.places import Place, backed, chosen, clear_of, nearest_to, overhung, places_of
from pounce.rig.sections import Wanted, heads, sections_of
from pounce.rig.ways import reached, ring_of, trap_at, way_of
from tests.conftest import box, law
from tests.unit.rig.helpers import item_like

M = m3.Manifold
STRIP = 40.0


@pytest.mark.parametrize(("long", "wide", "high"), [(120.0, 60.0, 12.0), (50.0, 50.0, 30.0), (200.0, 30.0, 6.0)])
def test_places_lie_all_round_a_block_and_look_straight_out(long: float, wide: float, high: float) -> None:
    item = item_like(box(long, wide, high), 0.0)
    places = places_of(item, "snap-off", STRIP)
    assert len(places) > 20
    frame = shapely.box(-long / 2, -wide / 2, long / 2, wide / 2)
    for one in places:
        assert frame.exterior.distance(shapely.Point(one.at[:2])) < 1e-6
        assert math.hypot(*one.out) == pytest.approx(1.0)
        outside = shapely.Point(one.at[0] + one.out[0], one.at[1] + one.out[1])
        assert not frame.contains(outside)
        # all of it stands over the joint, which lies at its foot
        assert one.up_mm == pytest.approx(high, abs=1e-3) and one.down_mm == pytest.approx(0.0, abs=1e-3)
        assert one.wall_mm <= high + 1e-3
    assert [one.score for one in places] == sorted(one.score for one in places)


def test_a_joint_over_a_wider_plate_is_told_from_one_without_a_wall() -> None:
    """A boss parted over the plate that it stands on: outward of it lies the plate, not sand."""
    plate = box(120.0, 80.0, 10.0).translate([0.0, 0.0, -20.0])
    boss = M.cylinder(30.0, 12.0, 12.0, 64).translate([60.0, 40.0, -20.0])
    over = item_like(plate + boss, 0.0)
    assert overhung(over, STRIP) and not places_of(over, "snap-off", STRIP)
    assert not overhung(item_like(plate + boss, -15.0), STRIP)


@pytest.mark.parametrize(("level", "half"), [(-10.0, "drag"), (-20.0, "cope")])
def test_where_a_step_lies_in_the_joint_gates_run_to_its_wider_side(level: float, half: str) -> None:
    """A stepped pulley, or a boss parted level with the top of its plate: the plate takes the gate, in its half."""
    plate = box(120.0, 80.0, 10.0).translate([0.0, 0.0, -20.0])
    boss = M.cylinder(30.0, 12.0, 12.0, 64).translate([60.0, 40.0, -20.0 if half == "drag" else -45.0])
    item = item_like(plate + boss, level)
    places = places_of(item, "snap-off", STRIP)
    assert places and all(one.half_for(4.0, "cope") == half for one in places)
    assert all(max(abs(one.at[0]) - 60.0, abs(one.at[1]) - 40.0) == pytest.approx(0.0, abs=0.3) for one in places)


def test_no_gate_is_cut_where_no_sand_is_outward() -> None:
    """Into the notch of a U, 20 mm wide, no gate with forty millimetres of sand before it goes."""
    notched = box(100.0, 80.0, 15.0) - box(20.0, 60.0, 15.0).translate([40.0, 20.0, 0.0])
    inside = shapely.box(-11.0, -19.0, 11.0, 32.0)
    places = places_of(item_like(notched, 0.0), "snap-off", STRIP)
    assert places and not [one for one in places if inside.contains(shapely.Point(one.at[:2]))]


def test_ribbons_keep_off_the_thick_end_and_gates_that_feed_seek_it() -> None:
    lump = box(100.0, 40.0, 10.0) + M.cylinder(50.0, 20.0, 20.0, 64).translate([110.0, 20.0, 0.0])
    item = item_like(lump, 0.0)
    snap, feed = (places_of(item, school, STRIP)[0] for school in ("snap-off", "feeding"))  # type: ignore[arg-type]
    assert feed.wall_mm > snap.wall_mm and feed.at[0] > snap.at[0]


def place(x: float, y: float, out: tuple[float, float] = (0.0, -1.0), **more: float) -> Place:
    given = {"wall_mm": 10.0, "depth_mm": 30.0, "up_mm": 10.0, "down_mm": 0.0, "score": 0.0} | more
    return Place((x, y, 0.0), out, **given)


def test_a_wide_gate_wants_metal_behind_all_of_it() -> None:
    outline = shapely.box(-20.0, 0.0, 20.0, 40.0)
    assert backed(outline, place(0.0, 0.0), 30.0) and not backed(outline, place(14.0, 0.0), 30.0)
    assert backed(outline, place(14.0, 0.0), 8.0)


def test_a_half_takes_a_gate_its_wall_is_thicker_than() -> None:
    split = place(0.0, 0.0, up_mm=10.0, down_mm=5.0)
    assert split.half_for(6.0, "cope") == "cope" and split.half_for(4.0, "drag") == "drag"
    assert split.half_for(6.0, "drag") == "cope", "the other half, where the wanted one is too thin"
    assert split.half_for(9.0, "cope") is None


@law(8, 80)
def test_chosen_gates_stand_apart_by_their_width_and_sand(seed: int) -> None:
    dice = np.random.default_rng(seed)
    size = dice.uniform(60.0, 200.0, 2)
    item = item_like(box(float(size[0]), float(size[1]), 12.0), 0.0)
    places = places_of(item, "snap-off", STRIP)
    wide, count, apart = float(dice.uniform(6.0, 20.0)), int(dice.integers(1, 6)), bool(dice.integers(2))
    gates = chosen(item, places, count, wide, apart)
    assert 1 <= len(gates) <= count
    at = np.array([one.at[:2] for one in gates])
    gaps = np.linalg.norm(at[:, None] - at[None], axis=2)[~np.eye(len(at), dtype=bool)]
    assert not len(gaps) or gaps.min() >= wide + pouring().common.gates_between.value - 1e-9
    # put by hand at the same places, they stay there
    again = nearest_to(tuple((float(x), float(y)) for x, y in at), item, places, wide)
    assert [one.at for one in again] == [one.at for one in gates]
    assert clear_of(np.zeros((0, 3, 3)), gates, wide, 5.0) == gates


@pytest.mark.parametrize(("high", "keeps"), [((0.0, 8.0), False), ((9.0, 14.0), True)])
def test_marks_count_only_on_the_wall_at_the_joint(high: tuple[float, float], keeps: bool) -> None:
    """A letter from the joint up is in the way of a gate 6 thick; one that begins over it is not."""
    low, top = high
    face = np.array([[[-3.0, -0.5, low], [3.0, -0.5, low], [0.0, -0.5, top]]])
    assert bool(clear_of(face, (place(0.0, 0.0),), 10.0, 6.0)) is keeps
    assert clear_of(face, (place(15.0, 0.0),), 10.0, 6.0), "beside its mouth it is in nobody's way"


@pytest.mark.parametrize("cup", ["set-on", "cut"])
def test_heads_by_hand(cup: str) -> None:
    """A cup set on gives its 25 mm more; one that is cut gives none, and takes them off the sprue."""
    head, high, basin = heads(75.0, cup)  # type: ignore[arg-type]
    assert (head, high, basin) == ((100.0, 75.0, 25.0) if cup == "set-on" else (75.0, 50.0, 25.0))
    if cup == "set-on":
        assert heads(75.0, "set-on", 160.0) == (160.0, 135.0, 25.0)
        assert heads(75.0, "set-on", 90.0) == (100.0, 75.0, 25.0), "never less than the cope gives"


@pytest.mark.parametrize("mass", [0.3, 1.4, 6.0])
def test_the_gates_of_a_light_metal_pass_what_the_sprue_brings_under_its_limit(mass: float) -> None:
    group = pouring_of("aluminium-silicon")
    s = sections_of(Wanted(group, 2420.0, mass, 75.0, 15.0, 10.0, 1.0, 8.0, 3.0, 50.0, None, "snap-off", "set-on"))
    flow = math.pi / 4.0 * s.foot**2 * s.choke.speed_m_s
    assert flow / s.gates_mm2 <= group.gate_speed.value
    # sections of falling metal go as one over the root of the height over them
    assert (s.top / s.foot) ** 2 >= math.sqrt(100.0 / 25.0) - 1e-9
    assert s.gate_thick <= 0.8 * 8.0 and s.gate_wide >= 2.0 * s.gate_thick
    twice = sections_of(Wanted(group, 2420.0, mass, 75.0, 15.0, 10.0, 1.0, 8.0, 3.0, 50.0, 2, "snap-off", "set-on"))
    assert twice.gates == 2 and twice.gates_mm2 >= 0.85 * s.gates_mm2


def test_the_way_goes_round_at_its_distance_and_meets_every_gate() -> None:
    item = item_like(box(120.0, 60.0, 12.0), 0.0)
    places = places_of(item, "snap-off", STRIP)
    gates = chosen(item, places, 3, 10.0, False)
    way = way_of(item, gates, 10.0, 14.0, 12.0, 20.0, 25.0)
    assert way is not None and len(way.meets) == 3
    assert way.ring.distance(item.plan) == pytest.approx(12.0 + 7.0, abs=0.3)
    for gate in gates:
        met = shapely.Point(way.out(gate))
        assert way.ring.distance(met) < 1e-6
        assert met.distance(shapely.Point(gate.at[:2])) >= 12.0 + 7.0 - 0.3
    arc, back = way.arc(True), way.arc(False)
    long = float(np.linalg.norm(np.diff(arc, axis=0), axis=1).sum())
    assert long == pytest.approx(way.end - way.start + way.lead_mm + way.overrun_mm, rel=1e-6)
    assert shapely.LineString(back).length == pytest.approx(long, rel=1e-6)
    assert set(reached(item, ring_of(item, 14.0, 12.0), gates, 60.0)) == set(gates)


def test_a_trap_lies_on_the_side_away_from_the_casting() -> None:
    """The runner enters along its side, so that the metal whirls."""
    plan = shapely.box(-50.0, 0.0, 50.0, 40.0)
    line = np.array([[-40.0, -20.0], [0.0, -20.0], [40.0, -20.0]])
    at = trap_at(line, plan, 36.0, 14.0)
    assert at == pytest.approx([40.0, -20.0 - (36.0 - 14.0) / 2.0])
