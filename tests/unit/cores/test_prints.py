"""Core prints against the seats that they stand in."""

from dataclasses import replace

import manifold3d as m3
import numpy as np
import pytest

from pounce.base.errors import UserFault
from pounce.cores.prints import Wanted, _beyond, _outline_of, print_for_opening, table_clearance, table_length, way_of
from pounce.cores.values import STEEPEST_DEG, WIDEST
from pounce.job import core_edits, edits
from pounce.job.job import Job
from pounce.metals.tables import limits
from pounce.parting.joint import flat_joint
from pounce.route.pipeline import Pipeline
from pounce.route.stops import CORES
from pounce.solid.hollow import Opening, hollow_of
from tests.conftest import box, mesh_of, model_of
from tests.unit.cores.helpers import SIDES, M, block, cored, cup, solid_of
from tests.unit.pattern.helpers import distances


def test_core_prints_stand_off_the_mould_by_their_clearance() -> None:
    """By VTK's own distances: points on the core's prints lie the clearance off the pattern's surface, all round."""
    results = cored(block(30.0), height=0.0)
    found = results.need(CORES)
    core = found.cores[0]
    on_print = np.flatnonzero(core.mesh.tags.print >= 0)
    middles = core.mesh.corners[on_print].mean(axis=1)
    one = core.prints[0]
    beyond = np.array([max(float((p - q.at_mm) @ q.axis) for q in core.prints) for p in middles])
    side = (np.abs(core.mesh.normals[on_print] @ one.axis) < 0.1) & (beyond > 2.0) & (beyond < one.length_mm - 3.0)
    assert side.sum() > 20
    assert distances(found.mesh, middles[side]) == pytest.approx(one.clearance_mm, abs=0.03)


def test_upright_prints_taper_and_the_cope_finds_its_seat() -> None:
    """A bore along the draw, pointed at: 5 degrees below, 10 above (common practice)."""
    solid = M.cylinder(60, 30, 30, SIDES, True) - M.cylinder(80, 12, 12, SIDES, True)
    job = edits.set_height(edits.set_draw(Job(), (0.0, 0.0, 1.0)).job, 0.0).job
    job = core_edits.set_hollow(job, (12.0, 0.0, 5.0), "core").job
    results = Pipeline().run(job, model_of(solid), until=CORES)
    core = results.need(CORES).cores[0]
    kinds = {one.kind: one for one in core.prints}
    assert set(kinds) == {"drag", "cope"}
    assert (kinds["drag"].taper_deg, kinds["cope"].taper_deg) == (5.0, 10.0)
    pattern = kinds["cope"].pattern
    assert pattern is not None
    high = pattern.vertices[:, 2].max()
    top = pattern.vertices[np.abs(pattern.vertices[:, 2] - high) < 1e-6]
    radius = float(np.linalg.norm(top[:, :2], axis=1).max())
    assert radius == pytest.approx(12.0 - kinds["cope"].length_mm * np.tan(np.radians(10.0)), abs=0.05)
    assert any(f.code.startswith("core-sag") and "stands" in f.words() for f in results.need(CORES).findings)


def test_a_blind_core_gets_one_print_that_outweighs_it() -> None:
    core = cored(cup(), (0.0, 1.0, 0.0), 0.0).need(CORES).cores[0]
    assert len(core.prints) == 1
    assert core.prints[0].length_mm >= 0.8 * core.prints[0].width_mm
    assert not core.loads.tips


UP = np.array([0.0, 0.0, 1.0])


def opening_of(solid: m3.Manifold, radius: float, *, upright: bool = False) -> Opening:
    """The opening on the high side of a round bore."""
    mesh = mesh_of(solid)
    axis = 2 if upright else 0
    others = [k for k in range(3) if k != axis]
    away = np.linalg.norm(mesh.corners[..., others], axis=2)
    wall = np.isclose(away, radius, atol=1e-6).all(axis=1) & (np.abs(mesh.normals[:, axis]) < 0.5)
    found = hollow_of(mesh, np.flatnonzero(wall))
    return max(found.openings, key=lambda one: float(one.centre[axis]))


@pytest.mark.parametrize(("level", "kind"), [(0.0, "side"), (14.0, "tail"), (-14.0, "tail")])
def test_what_kind_an_opening_gets_hangs_on_the_joint(level: float, kind: str) -> None:
    opening = opening_of(block(20.0), 10.0)
    joint = flat_joint(UP, level)
    found, axis = way_of(opening, joint)
    assert found == kind and axis == pytest.approx([1.0, 0.0, 0.0])
    made = print_for_opening(opening, joint, Wanted(), keyed=False)
    assert made.kind == kind and made.pattern is not None and made.core is not None
    if kind == "tail":  # drawn on to the joint, so that its half still draws
        reach = made.pattern.bounds[:, 2]
        assert reach[0] - 1e-6 <= level <= reach[1] + 1e-6


def test_a_tail_under_a_slot_too_narrow_to_lean_leans_by_its_print_down_to_the_joint() -> None:
    """Its own sides would meet; the tail stood upright for as far as the slot is tall, and dragged."""
    plate = box(20, 60, 100).translate([-10, -30, 0]) - box(40, 10, 40).translate([-20, -5, 40])
    mesh = mesh_of(plate)
    middle = mesh.corners.mean(axis=1)
    slot = (np.abs(middle[:, 1]) < 5.001) & (middle[:, 2] > 39.9) & (middle[:, 2] < 80.1)
    hollow = hollow_of(mesh, np.flatnonzero(slot & (np.abs(mesh.normals[:, 0]) < 0.5)))
    opening = max(hollow.openings, key=lambda one: float(one.centre[0]))
    made = print_for_opening(opening, flat_joint(UP, 0.0), Wanted(), keyed=False)
    assert made.kind == "tail" and made.pattern is not None and made.core is not None
    for mesh in (made.pattern, made.core):
        side = (np.abs(mesh.normals[:, 1]) > 0.5) & (mesh.corners[..., 0].max(axis=1) > 10.5) & (mesh.areas > 1e-3)
        assert side.any() and np.degrees(np.arcsin(mesh.normals[side, 2])).min() > made.taper_deg - 1e-6


def test_an_upright_opening_gets_a_cope_print_and_turned_a_drag_print() -> None:
    solid = M.cylinder(60, 30, 30, SIDES, True) - M.cylinder(80, 12, 12, SIDES, True)
    opening = opening_of(solid, 12.0, upright=True)
    assert way_of(opening, flat_joint(UP, 0.0))[0] == "cope"
    assert way_of(opening, replace(flat_joint(UP, 0.0), turned=True))[0] == "drag"


@pytest.mark.parametrize("width", [2.0, 10.0, 25.0, 60.0, 400.0])
def test_lengths_and_clearances_by_the_table(width: float) -> None:
    """Half to one diameter, never under the least or over the most; clearance from its least to its most at 100 mm."""
    least, most = limits()["print_least"].value, limits()["print_most"].value
    for kind in ("side", "tail", "cope", "drag"):
        long = table_length(kind, width)
        assert least <= long <= most + 0.5 and (2.0 * long) % 1.0 == 0.0
        assert table_length(kind, 2.0 * width) >= long
    figure = limits()["print_clearance"]
    assert figure.low <= table_clearance(width) <= figure.high
    assert table_clearance(100.0) == table_clearance(400.0) == figure.high


@pytest.mark.parametrize(
    ("wanted", "said"),
    [
        (Wanted(length_mm=0.5), "print of 0.5 mm"),
        (Wanted(length_mm=9999.0), "cannot be used"),
        (Wanted(taper_deg=STEEPEST_DEG + 1.0), "taper"),
        (Wanted(clearance_mm=9.0), "clearance"),
        (Wanted(clearance_mm=-0.1), "clearance"),
        (Wanted(wide=WIDEST + 0.1), "times as wide"),
    ],
)
def test_figures_that_cannot_be_are_refused(wanted: Wanted, said: str) -> None:
    with pytest.raises(UserFault, match=said):
        print_for_opening(opening_of(block(20.0), 10.0), flat_joint(UP, 0.0), wanted, keyed=False)


def test_a_wide_print_balances_on_a_neck_of_its_hollow() -> None:
    opening, joint = opening_of(block(20.0), 10.0), flat_joint(UP, 0.0)
    plain = print_for_opening(opening, joint, Wanted(length_mm=20.0), keyed=False)
    wide = print_for_opening(opening, joint, Wanted(length_mm=20.0, wide=1.5), keyed=False)
    assert wide.width_mm == pytest.approx(1.5 * plain.width_mm, rel=1e-6)
    assert wide.bearing_mm2[0] == pytest.approx(1.5 * plain.bearing_mm2[0], rel=0.02)
    assert wide.core is not None and plain.core is not None
    assert wide.core.volume == pytest.approx(1.5**2 * plain.core.volume, rel=0.1)


def test_a_key_leaves_a_flat_that_both_share() -> None:
    opening, joint = opening_of(block(30.0), 15.0), flat_joint(UP, 0.0)
    plain, keyed = (print_for_opening(opening, joint, Wanted(), keyed=one) for one in (False, True))
    for one in ("pattern", "core"):
        before, after = getattr(plain, one), getattr(keyed, one)
        high = [float(mesh.vertices[mesh.vertices[:, 0] > 45.0][:, 2].max()) for mesh in (before, after)]
        assert after.volume < before.volume and high[1] < high[0] - 1.0
    assert keyed.pattern is not None and keyed.core is not None
    outer = keyed.pattern.corners[keyed.pattern.corners[..., 0].min(axis=1) > 41.0].reshape(-1, 3)
    inner = keyed.core.corners[keyed.core.corners[..., 0].min(axis=1) > 41.0].reshape(-1, 3)
    assert outer[:, 2].max() - inner[:, 2].max() == pytest.approx(keyed.clearance_mm, abs=1e-6)


def test_the_step_down_to_a_flat_leans_and_so_does_the_end() -> None:
    """An upright lens of 4 mm over every flat dragged: half of all plans with a side core were told so."""
    made = print_for_opening(opening_of(block(30.0), 15.0), flat_joint(UP, 0.0), Wanted(), keyed=True)
    assert made.pattern is not None
    mesh = made.pattern
    over = (mesh.corners[..., 2].min(axis=1) > -1e-6) & (mesh.corners[..., 0].min(axis=1) > 40.0 - 1e-6)
    ahead = over & (mesh.normals[:, 0] > 0.5) & (mesh.areas > 1e-6)
    lean = np.degrees(np.arcsin(mesh.normals[ahead, 2]))
    assert lean == pytest.approx(np.full(ahead.sum(), made.taper_deg), abs=1e-3)
    step = ahead & (mesh.corners[..., 0].max(axis=1) < 41.0)
    assert mesh.areas[step].sum() > 20.0, "the lens over the flat"


def test_a_core_print_lies_within_its_seat() -> None:
    for level in (0.0, 14.0):
        made = print_for_opening(opening_of(block(20.0), 10.0), flat_joint(UP, level), Wanted(), keyed=True)
        assert made.pattern is not None and made.core is not None
        beyond = box(200, 200, 200).translate([40.05, -100, -100])
        left = (solid_of(made.core) ^ beyond) - solid_of(made.pattern)
        assert float(left.volume()) < 1e-6
        assert made.beyond(made.pattern.vertices).max() >= made.length_mm


def test_beside_a_notch_a_print_leans_inward_all_round() -> None:
    """A mouth between two lumps: made smaller about its middle the print would lean outward beside them, and lock."""
    bed = M.cube([120, 80, 50], True) - M.cube([100, 60, 60], True).translate([0, 0, 10])
    for y in (-30.0, 30.0):
        bed += M.cylinder(45, 14, 14, SIDES).translate([0, y, -20])
    mesh = mesh_of(bed)
    middle = mesh.corners.mean(axis=1)
    inside = (np.abs(middle) < [50.001, 30.001, 25.0]).all(axis=1) & (middle[:, 2] > -20.001)
    hollow = hollow_of(mesh, np.flatnonzero(inside & (np.abs(mesh.normals[:, 2] - 1.0) + middle[:, 2] < 24.9)))
    made = print_for_opening(hollow.openings[0], flat_joint(np.array([0.0, 0.0, 1.0]), 0.0), Wanted(), False)
    for mesh in (made.pattern, made.core):
        beyond = (mesh.corners[:, :, 2].min(axis=1) > 25.0 - 1e-6) & (mesh.areas > 1e-2)
        slope = np.degrees(np.arcsin(np.clip(mesh.normals[beyond, 2], -1.0, 1.0)))
        assert float(slope.min()) > made.taper_deg - 0.2 and solid_of(mesh).genus() == 0
    top = made.pattern.vertices[:, 2].max()
    lean = made.length_mm * np.tan(np.radians(made.taper_deg))
    # each straight side stands in by the lean, the notches' sides by as much the other way
    wide = solid_of(made.pattern).slice(float(top) - 0.01).bounds()
    assert wide[2] - wide[0] == pytest.approx(100 - 2 * lean, abs=0.1)
    assert wide[3] - wide[1] == pytest.approx(60 - 2 * lean, abs=0.1)


def test_a_flat_on_a_print_leaves_no_film_at_the_rim() -> None:
    """What is cut off beyond a level: the rest has the faces of the level and of the flat, and none inside."""
    made = _beyond(M.cube([20, 20, 20]), 8.0, np.array([-1.0, 0.0, -0.1]), -16.0)
    mesh = mesh_of(made)
    planes = np.column_stack([mesh.normals, (mesh.normals * mesh.corners[:, 0]).sum(axis=1)])
    assert len(made.decompose()) == 1 and made.genus() == 0 and len(np.unique(planes.round(6), axis=0)) == 8
    assert float(made.volume()) == pytest.approx(8000.0 - 20.0 * 12.0 * (4.0 + 1.4), rel=1e-9)
    assert (mesh.areas > 1.0).all()


def test_a_rim_that_turns_back_along_itself_gives_a_plain_outline() -> None:
    """A rim runs in and out again round a sliver of a face: drawn up with leaned sides that was a slit in the print."""
    plain = np.array([[0, 0], [40, 0], [40, 30], [0, 30]], float)
    spurred = np.array([[0, 0], [40, 0], [40, 0.27], [40, 0.001], [40.0, 5.0], [40, 0], [40, 30], [0, 30]], float)
    outline = _outline_of(spurred)
    assert outline.equals(_outline_of(plain)) and len(outline.exterior.coords) <= 6
    # a corner as sharp as one of two degrees is a corner
    assert len(_outline_of(np.array([[0, 0], [60, 0], [0, 2]], float)).exterior.coords) == 4
