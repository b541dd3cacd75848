"""Cures that were tried, loose pieces, wishes, and what the sand must hold."""

from dataclasses import replace
from typing import Any

import manifold3d
import numpy as np
import pytest

from pounce.base.finding import Finding, Remedy
from pounce.draw.changes import SetDraw
from pounce.job import edits
from pounce.job.changes import take_remedy
from pounce.job.job import Job
from pounce.metals.changes import SetMould
from pounce.metals.method import MethodChoices, resolve
from pounce.parting.columngrid import column_grid
from pounce.parting.joint import flat_joint
from pounce.parting.sand import fine_detail, pockets
from pounce.route.build import build
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results, Stop
from pounce.route.stops import PARTING, PATTERN, PROOF, stop_of
from pounce.solid import boolean
from pounce.solid.mesh import Mesh
from pounce.solid.tags import NONE
from tests.conftest import box, mesh_of, model_of
from tests.worked import UNPOURED

M = manifold3d.Manifold
UP = (edits.set_draw, (0.0, 0.0, 1.0))


def run(solid: manifold3d.Manifold, *steps: tuple[object, ...], last: Stop[Any] = PARTING) -> Results:
    model = model_of(solid)
    job = with_model(Job(), model)
    for make, *arguments in steps:
        job = make(job, *arguments).job  # type: ignore[operator]
    return Pipeline().run(job, model, until=last)


def found(results: Results, stop: str, code: str) -> Finding:
    return next(f for f in stop_of(stop).findings(results) if f.code == code)


def remedy(finding: Finding, key: str) -> Remedy:
    return next(r for r in finding.remedies if r.id == key)


def bossed() -> manifold3d.Manifold:
    """A drafted block with a round boss standing off its right side, under which the sand of the cope is held."""
    points = [
        [x * (40 - (z == 40) * 2), y * (30 - (z == 40) * 2), z] for x in (-1, 1) for y in (-1, 1) for z in (0, 40)
    ]
    return M.hull_points(np.array(points, float)) + M.cylinder(20, 6, 6, 64).rotate([0, 90, 0]).translate([30, 0, 22])


@pytest.mark.parametrize("keyed", ["pin", "dovetail"])
def test_a_boss_becomes_a_loose_piece_drawn_sideways(keyed: str) -> None:
    before = run(bossed(), UP)
    cure = remedy(found(before, "draw", "locked"), "loose-piece")
    after = run(bossed(), UP, (take_remedy, cure), (edits.set_keyed, keyed), last=PATTERN)
    assert before.parting is not None and after.parting is not None and after.pattern is not None
    assert before.parting.locked_mm2 > 300.0
    assert after.parting.locked_mm2 == 0.0
    assert after.parting.trial.torn_mm3 < 0.01 * before.parting.trial.torn_mm3
    piece = after.parting.loose[0]
    assert np.allclose(piece.way, (-1, 0, 0), atol=1e-9)  # into the block, straight off its side
    main, loose = after.pattern.pieces
    assert loose.role == "loose-piece"
    for made in (main, loose):
        assert boolean.closed_solid(made.mesh) is not None
    # together they are the pattern, but for the lean of the cut, the pin's hole or the dovetail's clearance
    whole = after.part.volume_mm3 * after.pattern.factor**3  # type: ignore[union-attr]
    assert main.volume_mm3 + loose.volume_mm3 == pytest.approx(whole, rel=0.005)
    # nothing of the boss is left on the main pattern
    assert main.mesh.bounds[1][0] < 41.0
    back = run(
        bossed(), UP, (take_remedy, cure), (take_remedy, remedy(found(after, "draw", "loose-piece"), "no-loose"))
    )
    assert back.job == before.job


def test_a_slanting_blind_hole_is_cured_by_tilting_the_draw() -> None:
    """A blind hole that slants by 7 degrees holds sand under its leaning wall; drawn along the hole it does not."""
    hole = M.cylinder(80, 6, 6, 64).rotate([0, 7, 0]).translate([0, 0, 6])
    plate = M.hull_points(
        np.array([[x * (40 - z), y * (30 - z), z] for x in (-1, 1) for y in (-1, 1) for z in (0, 20)], float)
    )
    results = run(plate - hole, UP)
    cure = remedy(found(results, "draw", "locked"), "tilt-draw")
    assert "cured" in cure.text
    assert isinstance(cure.change, SetDraw)
    turned = np.array(cure.change.direction, float)
    assert turned[0] > 0.0
    assert np.degrees(np.arccos(turned[2])) == pytest.approx(7.0, abs=2.0)
    cured = run(plate - hole, UP, (take_remedy, cure))
    assert cured.parting is not None and results.parting is not None
    assert cured.parting.locked_any_mm2 < 0.1 * results.parting.locked_any_mm2


def test_a_slanting_through_hole_wants_a_joint_that_follows_it() -> None:
    hole = M.cylinder(80, 6, 6, 64, True).rotate([0, 4, 0]).translate([0, 0, 10])
    plate = M.hull_points(
        np.array([[x * (40 - z), y * (30 - z), z] for x in (-1, 1) for y in (-1, 1) for z in (0, 20)], float)
    )
    results = run(plate - hole, UP, (edits.set_height, 0.0))
    cure = remedy(found(results, "draw", "locked"), "parting-natural")
    cured = run(plate - hole, UP, (take_remedy, cure))
    assert cured.parting is not None and results.parting is not None
    assert cured.parting.locked_mm2 < 0.1 * results.parting.locked_mm2


def test_moving_the_joint_is_offered_with_how_much_it_frees() -> None:
    results = run(M.sphere(20, 96), UP, (edits.set_height, 9.0))
    cure = remedy(found(results, "draw", "locked"), "move-parting")
    assert "cured" in cure.text
    cured = run(M.sphere(20, 96), UP, (take_remedy, cure))
    assert cured.parting is not None and cured.parting.locked_mm2 < 1.0


def test_a_wish_settles_its_place_and_can_be_taken_back() -> None:
    block = box(60, 40, 30) - M.cylinder(100, 5, 5, 64, True).rotate([90, 0, 0]).translate([30, 20, 15])
    results = run(block, UP)
    hole = found(results, "draw", "locked")
    wished = run(block, UP, (take_remedy, remedy(hole, "fill")), last=PROOF)
    kept = found(wished, "draw", "locked")
    assert kept.informational and kept.cured_by == "filling, line 1 of Stock"
    assert [type(line).__name__ for line in wished.job.stock.lines] == ["Fill"]
    again = run(block, UP, (take_remedy, remedy(hole, "fill")), (take_remedy, remedy(kept, "unwish")))
    assert again.job.stock.lines == ()


def test_hanging_sand_deeper_than_half_its_width_is_said_and_cured_by_turning_the_mould() -> None:
    """A cup with its mouth up: the cope's sand hangs in it, 36 deep and some 40 wide. Limits: 0.5 hanging, 1
    standing.
    """
    cup = M.cylinder(40, 20, 26, 96) - M.cylinder(40, 17, 23, 96).translate([0, 0, 4])
    results = run(cup, UP)
    slender = found(results, "parting", "slender-sand")
    assert slender.figures["depth_mm"] == pytest.approx(36.0, abs=1.0)
    assert 34.0 < slender.figures["width_mm"] < 46.0
    turned = run(cup, UP, (take_remedy, remedy(slender, "turn-over")))
    assert not [f for f in PARTING.findings(turned) if f.code == "slender-sand"]


def test_sand_set_by_a_binder_holds_what_damp_sand_does_not() -> None:
    """The same cup: 36 deep over some 40 wide is 0.9, more than the 0.5 that green sand holds hanging and less than
    1.5 of set sand (from memory).
    """
    cup = M.cylinder(40, 20, 26, 96) - M.cylinder(40, 17, 23, 96).translate([0, 0, 4])
    for mould, said in (("green-sand", 1), ("oil-sand", 1), ("resin-sand", 0), ("silicate-sand", 0)):
        results = run(cup, UP, (edits.set_mould, mould))
        assert len([f for f in PARTING.findings(results) if f.code == "slender-sand"]) == said, mould


@pytest.mark.parametrize(("wide", "cures"), [(3.0, ["cast-solid"]), (6.0, ["core", "cast-solid"]), (9.0, ["core"])])
def test_a_slot_too_narrow_for_a_core_is_cast_solid_and_cut(wide: float, cures: list[str]) -> None:
    """A core three millimetres thick breaks as the sand itself would (common practice)."""
    block = box(90.0, 60.0, 40.0) - box(60.0, wide, 30.0).translate([15.0, 30.0 - wide / 2.0, 10.0])
    slender = found(run(block, UP), "parting", "slender-sand")
    assert slender.figures["width_mm"] == pytest.approx(wide, abs=1.0)
    assert [one.id for one in slender.remedies if one.id in ("core", "cast-solid")] == cures
    assert all(one.change is not None for one in slender.remedies), "each can be pressed"


@pytest.mark.parametrize(("deep", "first"), [(20.0, "set-sand"), (34.0, "core")])
def test_where_many_slots_stand_slender_sand_that_sets_holds_them_all_at_once(deep: float, first: str) -> None:
    """Four slots of 10: 20 deep in the drag is 2, more than the 1 of green sand and less than the 3 of set sand (from
    memory); 34 deep is 3.4.
    """
    block = box(90.0, 60.0, 40.0)
    for x in (10.0, 28.0, 46.0, 64.0):
        block -= box(10.0, 50.0, 50.0).translate([x, 5.0, 40.0 - deep])
    over = run(block, (edits.set_draw, (0.0, 0.0, -1.0)))
    said = [f for f in PARTING.findings(over) if f.code == "slender-sand"]
    assert len(said) == 4 and {f.remedies[0].id for f in said} == {first}
    sand = [one.change for one in said[0].remedies if one.id == "set-sand"]
    assert sand == ([SetMould("silicate-sand")] if first == "set-sand" else [])


def test_a_slot_is_measured_to_its_width_and_depth() -> None:
    plate = box(100, 80, 40) - box(10, 80, 30).translate([30, 0, 20])
    joint = flat_joint(np.array([0.0, 0.0, 1.0]), 0.0)
    mesh = mesh_of(plate)
    slot = pockets(column_grid(mesh, joint, None), joint, mesh)[0]
    assert slot.half == "cope"
    assert slot.depth_mm == pytest.approx(20.0, abs=0.5)
    assert slot.width_mm == pytest.approx(10.0, abs=1e-6)


def test_thin_strips_sharp_edges_and_fine_ribs_are_found() -> None:
    thin = box(100, 80, 20) - box(3, 30, 20).translate([50, 0, 0])
    assert found(run(thin, UP), "parting", "thin-strip").figures["width_mm"] == pytest.approx(3.0, abs=0.6)
    vee = M.hull_points(np.array([[x, y, z] for y in (-1, 61) for x, z in ((20, 31), (30, 31), (25, 10))], float))
    sharp = found(run(box(60, 60, 30) - vee, UP), "parting", "sharp-sand")
    assert sharp.figures["sharpest_deg"] == pytest.approx(2 * np.degrees(np.arctan(5 / 21)), abs=0.2)
    ribs = box(60, 40, 10)
    for k in range(8):
        ribs += box(0.6, 30, 6).translate([8 + 6 * k, 5, 10])
    fine = found(run(ribs, UP), "parting", "finer-than-sand")
    assert fine.figures["width_mm"] == pytest.approx(0.6, abs=0.05)


def test_what_lies_on_a_core_print_is_no_detail_of_the_casting() -> None:
    """A print that leans inward leaves a hair of room beside a face that was leaned outward: no sand is lost there."""
    block = mesh_of(box(60, 40, 20) - box(0.4, 30, 8).translate([30, 5, 12]))
    method = resolve(MethodChoices())
    _, slit = fine_detail(block, method)
    assert slit is not None and slit.size == pytest.approx(0.4, abs=0.02)
    beside = (np.abs(block.corners.mean(axis=1)[:, 0] - 30.2) < 0.5) & (np.abs(block.normals[:, 0]) > 0.9)
    for side in (1.0, -1.0):  # of two walls that face each other one on a print is enough
        one = beside & (block.normals[:, 0] * side > 0.0)
        assert one.any()
        printed = block.tagged(block.tags.changed(print=np.where(one, 0, NONE)))
        assert fine_detail(printed, method)[1] is None


@pytest.mark.parametrize(
    ("how", "role"), [("follow-board", "follow-board"), ("false-pattern", "false-pattern"), ("cut-down", "template")]
)
def test_a_shaped_joint_brings_what_it_is_moulded_on(how: str, role: str, tmp_path: object) -> None:
    wavy = (
        M.cube([90, 40, 8], True)
        .refine_to_length(3.0)
        .warp_batch(lambda p: np.column_stack([p[:, 0], p[:, 1], p[:, 2] + 6 * np.sin(p[:, 0] / 15.0)]))
    )
    model = model_of(wavy)
    job = with_model(Job(), model)
    for make, *arguments in (UP, (edits.set_moulded, how)):
        job = make(job, *arguments).job
    results = Pipeline().run(job, model)
    manifest = build(results, model, tmp_path / "out")  # type: ignore[operator]
    roles = {entry["role"]: entry for entry in manifest["files"]}
    assert {"pattern", role, "sheet"} <= set(roles)
    pattern = results.need(PATTERN)
    if how == "follow-board":
        board = pattern.pieces[1]
        block, part = boolean.closed_solid(board.mesh), boolean.closed_solid(pattern.pieces[0].mesh)
        assert block is not None and part is not None
        assert (block ^ part).volume() < 1e-6 * part.volume()  # the pattern lies in it with room
        assert manifest["files"][1]["closed"]
        # it carries the pattern: moved down by a hair more than its clearance it meets the board
        assert (block ^ part.translate([0, 0, -0.6])).volume() > 0.0 or (
            block ^ part.translate([0, 0, 0.6])
        ).volume() > 0.0
    if how == "false-pattern":
        assert 0.2 < pattern.pieces[1].volume_mm3 / pattern.pieces[0].volume_mm3 < 0.8


def test_an_upright_coarse_cylinder_has_no_rounded_rim_however_it_is_turned() -> None:
    """Its walls waver about upright by rounding alone; a rim is rounded only where it turns from up to down."""
    hub = M.cylinder(30, 18, 18, 20).rotate([33, -21, 70])
    axis = np.array(hub.to_mesh64().vert_properties)[:, :3].mean(axis=0)
    results = run(hub, (edits.set_draw, tuple(axis.tolist())), (edits.set_joint, "natural"))
    assert results.parting is not None and results.parting.rim_below_mm == 0.0


def test_an_open_shell_says_that_its_sand_is_not_worked_out() -> None:
    whole = mesh_of(M.sphere(20, 32))
    model = model_of(M.sphere(20, 32))
    body = replace(model.bodies[0], mesh=Mesh.of(whole.vertices, whole.faces[30:]), closed=False)
    job = with_model(Job(), replace(model, bodies=(body,)))
    results = Pipeline().run(job, replace(model, bodies=(body,)), skip=UNPOURED)
    codes = {finding.code for finding in PARTING.findings(results)}
    assert "shell-open" in codes
    assert not codes & {"sand-tears", "slender-sand", "finer-than-sand", "thin-strip", "nothing-tears"}
