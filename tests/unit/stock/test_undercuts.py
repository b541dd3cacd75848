"""Undercuts filled by `--add fill@...`: carried on to the joint, ceilings straight, walls that lean back with draft.
Volumes by hand.
"""

import manifold3d as m3
import numpy as np
import pytest
import trimesh

from pounce.base.finding import Severity
from pounce.draw.reachability import reach_along
from pounce.job import edits
from pounce.job.changes import made
from pounce.job.job import Job
from pounce.parting.changes import AskFor
from pounce.parting.values import Kind
from pounce.route.pipeline import Pipeline
from pounce.route.places import place_findings
from pounce.route.stops import PARTING, STOCK
from pounce.stock.values import Fill
from tests.conftest import mesh_of, model_of
from tests.unit.stock.helpers import lost, stocked

M = m3.Manifold
UP = np.array([0.0, 0.0, 1.0])


def locked_mm2(solid_mesh: object, turn: float = 1.0) -> float:
    reach = reach_along(solid_mesh, UP * turn)  # type: ignore[arg-type]
    mesh = solid_mesh
    return float(mesh.areas[~reach.up & ~reach.down].sum())  # type: ignore[attr-defined]


def test_a_notch_in_a_wall_is_filled_down_to_the_joint() -> None:
    """Block 60 x 40 x 50 with a slot 10 deep, 12 high and 30 wide in its side: 10 x 12 x 30."""
    solid = M.cube([60, 40, 50]) - M.cube([10, 30, 12]).translate([50, 5, 20])
    results = stocked(solid, Fill((55.0, 20.0, 32.0)), height=0.0)
    line = results.need(STOCK).lines[0]
    assert line.name == "Undercut filled" and not line.trouble
    assert line.added_mm3 == pytest.approx(10 * 12 * 30, rel=1e-3)
    assert results.need(STOCK).cut_away == (), "nobody machines it off again"
    mesh = results.need(STOCK).mesh
    made = trimesh.Trimesh(mesh.vertices, mesh.faces)
    assert made.is_watertight and made.body_count == 1
    assert lost(solid, mesh) < 1e-3
    assert locked_mm2(mesh_of(solid)) > 300.0 and locked_mm2(mesh) < 1.0


def test_an_overhang_is_carried_to_the_joint_and_no_further() -> None:
    """A head 60 wide on a stem 20 wide, parted at the foot: under each side 20 x 40 x 30 of sand is filled."""
    solid = M.cube([60, 40, 10]).translate([0, 0, 30]) + M.cube([20, 40, 31]).translate([20, 0, 0])
    results = stocked(solid, Fill((10.0, 20.0, 30.0)), Fill((50.0, 20.0, 30.0)), height=0.0)
    lines = results.need(STOCK).lines
    assert sum(line.added_mm3 for line in lines) == pytest.approx(2 * 20 * 40 * 30, rel=1e-3)
    assert results.need(STOCK).mesh.bounds[0, 2] == pytest.approx(0.0, abs=1e-6)


def test_what_hangs_over_a_floor_is_closed_down_to_it() -> None:
    """A lower leg half as long as the upper one: closed between them, and from there on down to the joint."""
    solid = M.cube([10, 40, 40]) + M.cube([60, 40, 10]).translate([0, 0, 30]) + M.cube([30, 40, 10])
    results = stocked(solid, Fill((20.0, 20.0, 30.0)), height=0.0)
    line, mesh = results.need(STOCK).lines[0], results.need(STOCK).mesh
    assert line.added_mm3 == pytest.approx(20 * 20 * 40 + 30 * 30 * 40, rel=1e-3)
    assert lost(solid, mesh) < 1e-3 and locked_mm2(mesh) < 1.0


def test_a_slot_under_an_arm_is_closed_to_the_edges_of_what_shuts_it_in() -> None:
    """An arm over a plate, on a hub 2 higher than the plate: along a joint that follows the part the slot between them
    is filled as it is, 2 x 6 x 20 less what the hub takes, in few triangles.
    """
    hub = M.cylinder(12, 14, 14, 64).translate([0, 0, 4.9])
    solid = M.cube([40, 80, 5]).translate([-20, -40, 0]) + hub + M.cube([90, 20, 8]).translate([0, -10, 7])
    results = stocked(solid, Fill((18.0, 0.0, 7.0)))
    line, mesh = results.need(STOCK).lines[0], results.need(STOCK).mesh
    assert results.need(PARTING).kind == "natural" and not line.trouble
    slot = M.cube([20, 20, 2]).translate([0, -10, 5]) - hub
    assert line.added_mm3 == pytest.approx(slot.volume(), rel=1e-3)
    assert locked_mm2(mesh) < 1.0 and len(mesh.faces) < 1000


def test_a_wall_that_leans_back_comes_out_with_draft() -> None:
    """A cup-like block 40 wide at the joint and wider by 4 degrees upward: filled, it is 40 + 2 x 30 (tan 4 + tan d)
    there.

    Both sides are one place, for they are alike; each of 60 in length: (tan 4 + tan d) x 30^2 / 2 x 60, ends left as
    they are.
    """
    lean = float(np.tan(np.radians(4.0)))
    profile = m3.CrossSection([[(-20, 0), (20, 0), (20 + 30 * lean, 30), (-20 - 30 * lean, 30)]])
    solid = M.extrude(profile, 60).rotate([90, 0, 0])
    results = stocked(solid, Fill((20.0 + 15 * lean, -30.0, 15.0)), height=0.0)
    line = results.need(STOCK).lines[0]
    degrees = line.figures["draft_deg"]
    assert degrees >= 1.0
    by_hand = (lean + np.tan(np.radians(degrees))) * 30**2 / 2 * 60 * 2
    assert line.added_mm3 == pytest.approx(by_hand, rel=2e-3)
    mesh = results.need(STOCK).mesh
    side = (mesh.normals[:, 0] > 0.7) & (mesh.areas > 50.0)
    assert np.degrees(np.arcsin(mesh.normals[side, 2])).min() == pytest.approx(degrees, abs=0.02)
    assert lost(solid, mesh) < 1e-3


def test_a_round_that_leans_back_gets_one_skirt() -> None:
    """A cone wider upward, radius 20 to 24 over 40, parted at its foot: out to 24 + 40 tan d at the joint, a frustum
    by hand.
    """
    solid = M.cylinder(40, 20, 24, 96)
    results = stocked(solid, Fill((22.0, 0.0, 20.0)), height=0.0)
    line = results.need(STOCK).lines[0]
    foot = 24 + 40 * np.tan(np.radians(line.figures["draft_deg"]))
    whole = np.pi * 40 / 3 * (foot**2 + foot * 24 + 24**2)
    polygon = 96 / (2 * np.pi) * np.sin(2 * np.pi / 96)  # of 96 sides
    part = solid.volume()
    assert part + line.added_mm3 == pytest.approx(whole * polygon, rel=2e-3)
    mesh = results.need(STOCK).mesh
    assert trimesh.Trimesh(mesh.vertices, mesh.faces).is_watertight


def test_the_wish_at_draw_fills_an_undercut_and_original_parts_say_filler() -> None:
    solid = M.cube([60, 40, 50]) - M.cube([10, 30, 12]).translate([50, 5, 20])
    job = edits.set_height(edits.set_draw(Job(), (0.0, 0.0, 1.0)).job, 0.0).job
    results = Pipeline().run(job, model_of(solid), until=PARTING)
    region = next(one for one in results.need(PARTING).regions if one.kind is Kind.HOLLOW or one.kind is Kind.FACE)
    job = made(AskFor("fill", region.centre_mm), job).job
    results = Pipeline().run(edits.set_pattern_kind(job, "original-part").job, model_of(solid), until=STOCK)
    line = results.need(STOCK).lines[0]
    assert "in filler" in line.about_words() and line.added_mm3 == pytest.approx(3600, rel=1e-3)
    clean = stocked(M.cube([60, 40, 50]), Fill((30.0, 20.0, 50.0)), height=0.0).need(STOCK).lines[0]
    assert "Only round holes, grooves, undercuts and gaps" in clean.trouble
    assert all(f.severity is not Severity.STOP for f in STOCK.findings(results))


def test_of_a_flange_and_the_bore_behind_its_neck_the_place_pointed_at_is_filled() -> None:
    """Long triangles of a bore reach farther than the short ones of the neck: by their middles the bore was nearer,
    and a pump's inside was filled. Between flange and foot lies a ring of 20 over 10, 20 high.
    """
    solid = M.cylinder(40, 10, 10, 96) + M.cylinder(10, 20, 20, 96) + M.cylinder(10, 20, 20, 96).translate([0, 0, 30])
    solid -= M.cylinder(30, 9, 9, 24).translate([0, 0, 5]) + M.cylinder(60, 2, 2, 24).translate([0, 0, -5])
    results = stocked(solid, Fill((10.0, 0.0, 20.0)), height=0.0)
    line = results.need(STOCK).lines[0]
    ring = 96.0 / 2.0 * np.sin(2.0 * np.pi / 96.0) * (20.0**2 - 10.0**2) * 20.0
    assert not line.trouble and line.added_mm3 == pytest.approx(ring, rel=0.05)


def test_rounds_that_close_in_behind_are_offered_to_be_filled_under() -> None:
    """The eyes of an owl stand a little out of its head: their rims lock along the way it looks. A plan had no cure."""
    solid = M.sphere(22, 64).scale([1, 0.9, 0.9])
    for x in (-9, 9):
        solid += M.sphere(7, 40).translate([x, -17, 4])
    job, model = edits.set_draw(Job(), (0.0, 1.0, 0.0)).job, model_of(solid)
    results = Pipeline().run(job, model, until=STOCK)
    said = next(one for one in place_findings(results) if one.code == "locked")
    assert results.need(PARTING).regions[said.region or 0].kind is Kind.ROUND
    fill = next(one for one in said.remedies if one.id == "fill")
    assert fill.text == "Fill under it" and isinstance(fill.change, AskFor)
    filled = Pipeline().run(made(fill.change, job).job, model, until=STOCK).need(STOCK)
    reach = [reach_along(mesh, np.array([0.0, 1.0, 0.0])) for mesh in (mesh_of(solid), filled.mesh)]
    before, after = (
        float(mesh.areas[~one.up & ~one.down].sum())
        for mesh, one in zip((mesh_of(solid), filled.mesh), reach, strict=True)
    )
    assert before > 10.0 and after < 0.1 * before and 0.0 < filled.added_mm3 < 0.01 * solid.volume()


def test_under_a_knob_on_a_cap_it_is_filled_to_the_cap_and_not_into_its_inside() -> None:
    """A ball of 32 on a square cap with walls of 6: between the ball's waist and the cap's top there are a cylinder's
    16^2 pi x 12 less the lower half of the ball over it; the inside, through which the joint runs, stays as it was.
    """
    cap = M.cube([80, 80, 30], True).translate([0, 0, 15]) - M.cube([68, 68, 24], True).translate([0, 0, 12])
    solid = cap + M.sphere(16, 96).translate([0, 0, 42])
    results = stocked(solid, Fill((15.0, 0.0, 36.0)), height=0.0)
    line, mesh = results.need(STOCK).lines[0], results.need(STOCK).mesh
    under = np.pi * 16**2 * 12 - np.pi * 12 * (3 * 16**2 - 12**2) / 3
    assert line.name == "Undercut filled" and not line.trouble
    # leaned by its draft it is a little more
    assert 0.97 * under < line.added_mm3 < 1.25 * under
    inside = M(m3.Mesh(mesh.vertices.astype(np.float32), mesh.faces.astype(np.uint32)))
    assert (inside ^ M.cube([67, 67, 23], True).translate([0, 0, 11])).volume() < 1e-3
    made = trimesh.Trimesh(mesh.vertices, mesh.faces)
    assert made.is_watertight and made.body_count == 1
